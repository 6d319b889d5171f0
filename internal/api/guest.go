package api

import (
	"context"
	"net/http"
	"time"

	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/pricing"
	"dorvet/internal/app/setup"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/httprate"
)

// What is open to people without an account, who hold a link. The secret of the
// link comes in a header, so that no log of addresses has it.

// Guest is embedded in the input of what a link opens.
type Guest struct {
	asking
	Secret string `header:"Link-Secret" required:"true" minLength:"20" maxLength:"100"`
}

// guests slows down who tries secrets, and who makes mails go out.
type guests struct{ address, link, seldom, documents *httprate.RateLimiter }

func newGuests() *guests {
	return &guests{httprate.NewRateLimiter(300, time.Minute), httprate.NewRateLimiter(120, time.Minute),
		httprate.NewRateLimiter(5, 10*time.Minute), httprate.NewRateLimiter(30, time.Minute)}
}

func (g *guests) full(in *Guest) bool {
	return g.address.OnLimit(in.writer, in.request, in.address) || g.link.OnLimit(in.writer, in.request, correspondence.Digest(in.Secret))
}

// often reports whether something that mails, or asks a bank, was done too often
// through a link.
func (g *guests) often(in *Guest, what string) bool {
	return g.seldom.OnLimit(in.writer, in.request, what+correspondence.Digest(in.Secret))
}

// guestInput is any input that embeds Guest.
type guestInput interface{ guest() *Guest }

func (g *Guest) guest() *Guest { return g }

// open registers an operation for who holds a link.
func open[In any, Out any](s *server, api huma.API, method, path, name, summary string, act func(context.Context, *In) (*Out, error)) {
	if !public[name] {
		panic("operation " + name + " is not among the public ones")
	}
	described := huma.Operation{OperationID: name, Method: method, Path: apiPrefix + "/public" + path, Summary: summary,
		MaxBodyBytes: publicLimit}
	if method != http.MethodGet && !onlyReads[name] {
		keyed(api, &described)
	}
	huma.Register(api, described,
		func(ctx context.Context, in *In) (*Out, error) {
			if err := tidy(in); err != nil {
				return nil, problem(ctx, err)
			}
			if s.guests.full(any(in).(guestInput).guest()) {
				return nil, huma.NewError(http.StatusTooManyRequests, "There were too many requests. Wait a minute, then try again.")
			}
			out, err := act(ctx, in)
			if err != nil {
				return nil, problem(ctx, err)
			}
			return out, nil
		})
}

// answered is an answer of JSON.
func answered[T any](body T, err error) (*answer[T], error) { return &answer[T]{body}, err }

// done answers nothing.
func done(err error) (*answer[nothing], error) { return &answer[nothing]{}, err }

// The inputs of guests; huma reads only exported types that are embedded.
type (
	guestChoosing struct {
		Guest
		Body struct {
			Chosen pricing.Chosen `json:"chosen"`
		}
	}
	guestSigning struct {
		Guest
		Body pricing.Signing
	}
	guestGiving struct {
		Guest
		Body paymentmethod.GivenMethod
	}
	guestSaying struct {
		Guest
		Body struct {
			Text string `json:"text" maxLength:"5000"`
		}
	}
	guestPassing struct {
		Guest
		Body struct {
			Name string `json:"name" maxLength:"200"`
			Mail string `json:"mail" maxLength:"200"`
			Word string `json:"word" maxLength:"2000"`
		}
	}
	guestAnswering struct {
		Guest
		Body struct {
			Answers []string `json:"answers" maxItems:"200"`
		}
	}
)

func (s *server) registerGuests(api huma.API) {
	open(s, api, http.MethodGet, "/proposal", "readClientPage", "A proposal, for who holds a link",
		func(ctx context.Context, in *Guest) (*answer[*pricing.Page], error) {
			return answered(pricing.ReadPage(ctx, s.app, in.Secret, nil))
		})
	open(s, api, http.MethodPost, "/proposal/figures", "chooseOnPage", "What a choice comes to; nothing is kept",
		func(ctx context.Context, in *guestChoosing) (*answer[*pricing.Page], error) {
			return answered(pricing.ReadPage(ctx, s.app, in.Secret, &in.Body.Chosen))
		})
	open(s, api, http.MethodPost, "/proposal/seen", "markSeen", "Note that the page was opened",
		func(ctx context.Context, in *Guest) (*answer[nothing], error) {
			return done(pricing.MarkSeen(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodPost, "/proposal/code", "sendCode", "Mail the one-time code that a signature needs",
		func(ctx context.Context, in *Guest) (*answer[nothing], error) {
			if s.guests.often(in, "code") {
				return nil, app.Refuse(app.Conflict,
					"Several codes were mailed already. Look at the latest mail, or try again in ten minutes.")
			}
			return done(pricing.SendCode(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodPost, "/proposal/way", "keepPaymentMethod", "Give a way of paying",
		func(ctx context.Context, in *guestGiving) (*answer[pricing.KeptPaymentMethod], error) {
			if s.guests.often(&in.Guest, "way") {
				return nil, app.Refuse(app.Conflict, "Several ways of paying were tried. Wait ten minutes, or go on without one, "+
					"if that is offered.")
			}
			return answered(pricing.KeepPaymentMethod(ctx, s.app, in.Secret, in.Body))
		})
	open(s, api, http.MethodPost, "/proposal/acceptance", "acceptProposal", "Accept and sign",
		func(ctx context.Context, in *guestSigning) (*answer[nothing], error) {
			return done(pricing.Accept(ctx, s.app, in.Secret, in.address, in.Body))
		})
	open(s, api, http.MethodPost, "/proposal/refusal", "declineProposal", "Decline, with a reason",
		func(ctx context.Context, in *guestSaying) (*answer[nothing], error) {
			return done(pricing.Decline(ctx, s.app, in.Secret, in.address, in.Body.Text))
		})
	open(s, api, http.MethodPost, "/proposal/questions", "askAboutProposal", "Ask a question",
		func(ctx context.Context, in *guestSaying) (*answer[nothing], error) {
			return done(pricing.AskQuestion(ctx, s.app, in.Secret, in.Body.Text))
		})
	s.registerPassing(api)
}

// registerPassing has what goes on to others, and what is taken along.
func (s *server) registerPassing(api huma.API) {
	open(s, api, http.MethodPost, "/proposal/passing", "passOn", "Pass the proposal on to who signs",
		func(ctx context.Context, in *guestPassing) (*answer[pricing.Passed], error) {
			if s.guests.often(&in.Guest, "pass") {
				return nil, app.Refuse(app.Conflict, "It was passed on several times already. Wait ten minutes, then go on.")
			}
			return answered(pricing.PassOn(ctx, s.app, in.Secret, in.Body.Name, in.Body.Mail, in.Body.Word))
		})
	open(s, api, http.MethodPost, "/proposal/newer", "mailNewer", "Mail a link to the version that has taken its place",
		func(ctx context.Context, in *Guest) (*answer[nothing], error) {
			if s.guests.often(in, "newer") {
				return nil, app.Refuse(app.Conflict, "The link was mailed already. Look at your mail.")
			}
			return done(pricing.MailNewer(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodGet, "/proposal/signed", "readSignedCopy", "The signed copy",
		func(ctx context.Context, in *Guest) (*download, error) {
			return attached(pricing.Signed(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodGet, "/proposal/terms", "readTermsFile", "The document of terms",
		func(ctx context.Context, in *Guest) (*download, error) {
			return fileOf(pricing.TermsFile(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodGet, "/questions", "readQuestions", "A questionnaire, for who holds a link",
		func(ctx context.Context, in *Guest) (*answer[*setup.QuestionPage], error) {
			return answered(setup.ReadQuestions(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodPost, "/questions", "answerQuestions", "Answer a questionnaire, once",
		func(ctx context.Context, in *guestAnswering) (*answer[nothing], error) {
			return done(setup.AnswerQuestions(ctx, s.app, in.Secret, in.Body.Answers))
		})
}
