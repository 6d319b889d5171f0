package api

import (
	"context"
	"mime"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/app/setup"

	"github.com/danielgtaylor/huma/v2"
)

// Seen is embedded in the input of what changes a thing in the version that was
// seen.
type Seen struct {
	ByID
	Version int64 `query:"version" required:"true" doc:"the version that was last seen"`
}

func (s *server) registerPricing(api huma.API) {
	s.registerProposals(api)
	s.registerAsking(api)
	s.registerSending(api)
	s.registerProposalFiles(api)
	s.registerQuestionnaires(api)
	operation(s, api, http.MethodGet, "/engagements/{id}/plan", "readPlan", "The planned bills of an engagement",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]pricing.PlannedCharge, error) {
			return pricing.Plan(ctx, s.app, actor, in.ID)
		})
}

// registerProposals are drafts and their versions.
func (s *server) registerProposals(api huma.API) {
	operation(s, api, http.MethodGet, "/proposals", "listProposals", "Proposals, and what was won and lost",
		func(ctx context.Context, actor app.Actor, in *struct {
			ClientID int64 `query:"client" doc:"0 for all"`
		}) (*pricing.ProposalList, error) {
			return pricing.Desk(ctx, s.app, actor, in.ClientID)
		})
	operation(s, api, http.MethodPost, "/proposals", "beginProposal", "Begin a proposal",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body pricing.Begun
		}) (pricing.ProposalMade, error) {
			return pricing.Begin(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}", "readProposal", "A proposal in the editor",
		func(ctx context.Context, actor app.Actor, in *ByID) (*pricing.Proposal, error) {
			return pricing.One(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPut, "/proposals/{id}", "saveProposal", "Keep what was typed in a draft",
		func(ctx context.Context, actor app.Actor, in *struct {
			Seen
			Body pricing.TypedProposal
		}) (*pricing.Proposal, error) {
			return pricing.Save(ctx, s.app, app.Request{Actor: actor}, pricing.Saving{ID: in.ID, Version: in.Version, Typed: in.Body})
		})
	operation(s, api, http.MethodDelete, "/proposals/{id}", "deleteProposal", "Throw away a draft that was never sent",
		func(ctx context.Context, actor app.Actor, in *Seen) (nothing, error) {
			return nothing{}, pricing.Delete(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}/versions", "listVersions", "Earlier versions of a proposal",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]pricing.ProposalVersion, error) {
			return pricing.Versions(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/versions/{draft}", "restoreVersion", "Take an earlier version again",
		func(ctx context.Context, actor app.Actor, in *struct {
			Seen
			Draft int `path:"draft" minimum:"1"`
		}) (*pricing.Proposal, error) {
			return pricing.Restore(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version, in.Draft)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/copies", "copyProposal", "Make a new proposal from an old one",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body pricing.Copying
		}) (pricing.CopyMade, error) {
			return pricing.Copy(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}/history", "proposalHistory", "What was done to a proposal",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]app.HistoryRow, error) {
			return pricing.History(ctx, s.app, actor, in.ID)
		})
}

// registerAsking computes and keeps nothing.
func (s *server) registerAsking(api huma.API) {
	operation(s, api, http.MethodPost, "/proposals/{id}/price", "priceProposal", "What typed content comes to; nothing is kept",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body pricing.TypedProposal
		}) (*pricing.Grid, error) {
			return pricing.PriceTyped(ctx, s.app, actor, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/page", "previewPage", "The page as the client will see it",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Chosen *pricing.Chosen `json:"chosen,omitempty"`
			}
		}) (*pricing.Page, error) {
			return pricing.PreviewPage(ctx, s.app, actor, in.ID, in.Body.Chosen)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}/calendar", "readCalendar",
		"The bills that a tier would make, and how its totals were made",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Tier       int  `query:"tier" minimum:"0" maximum:"4"`
			Everything bool `query:"everything" doc:"with every option"`
		}) (*pricing.Calendar, error) {
			return pricing.CalendarOf(ctx, s.app, actor, in.ID, in.Tier, in.Everything)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}/fee", "askFee", "Which fee would give a margin",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Tier   int    `query:"tier" minimum:"0" maximum:"4"`
			Line   int    `query:"line" minimum:"-1" default:"-1" doc:"-1: the whole tier"`
			Margin string `query:"margin" required:"true" maxLength:"20"`
		}) (*pricing.Fee, error) {
			return pricing.AskFee(ctx, s.app, actor, in.ID, in.Tier, in.Line, in.Margin)
		})
	operation(s, api, http.MethodGet, "/proposals/{id}/line", "lineFromCatalogue", "A line as the catalogue has it",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			ServiceID int64 `query:"service" doc:"0: a line of one's own"`
		}) (*pricing.TypedLine, error) {
			return pricing.FromCatalogue(ctx, s.app, actor, in.ID, in.ServiceID)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/mail", "previewMail", "The mail as it would go out",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body pricing.Sending
		}) (*pricing.MailPreview, error) {
			return pricing.PreviewMail(ctx, s.app, actor, in.ID, in.Body)
		})
}

// registerSending is what goes out, and what comes back.
func (s *server) registerSending(api huma.API) {
	operation(s, api, http.MethodPost, "/proposals/{id}/sendings", "sendProposal", "Send a proposal, or make a link to it",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body pricing.Sending
		}) (pricing.SentOut, error) {
			return pricing.Send(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/withdrawal", "withdrawProposal", "Withdraw a proposal that is out",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Version int64  `json:"version"`
				Reason  string `json:"reason" maxLength:"1000"`
			}
		}) (*pricing.Proposal, error) {
			return pricing.Withdraw(ctx, s.app, app.Request{Actor: actor, Reason: in.Body.Reason}, in.ID, in.Body.Version)
		})
	operation(s, api, http.MethodDelete, "/proposals/{id}/links", "endLinks", "Make all links to a proposal stop working",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, pricing.EndLinks(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/acceptance", "recordAcceptance", "Record an acceptance that was given elsewhere",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body pricing.ByHand
		}) (*pricing.Proposal, error) {
			return pricing.Record(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/passings", "answerPassing", "Pass a proposal on as the client asks, or refuse to",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				PassingID int64 `json:"passingId"`
				Version   int64 `json:"version"`
				Yes       bool  `json:"yes"`
			}
		}) (*pricing.Proposal, error) {
			return pricing.AnswerPassing(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.PassingID, in.Body.Version, in.Body.Yes)
		})
	operation(s, api, http.MethodPost, "/proposals/{id}/answers", "answerQuestion", "Answer a client's question",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				QuestionID int64  `json:"questionId"`
				Version    int64  `json:"version"`
				Text       string `json:"text" maxLength:"10000"`
			}
		}) (*pricing.Proposal, error) {
			return pricing.Reply(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.QuestionID, in.Body.Version, in.Body.Text)
		})
}

// registerProposalFiles are documents that are uploaded or kept.
func (s *server) registerProposalFiles(api huma.API) {
	guarded(s, api, http.MethodPost, filesPrefix+"/proposals/{id}", "keepProposalFile", "Upload a document of terms, or evidence",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Name    string `query:"name" required:"true" maxLength:"200"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[pricing.KeptFile], error) {
			kept, err := pricing.KeepFile(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Name, in.RawBody)
			return &answer[pricing.KeptFile]{kept}, err
		}, large)
	operationRaw(s, api, "/proposals/{id}/files/{which}", "readProposalFile", "The document of terms, or the evidence of an acceptance",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Which string `path:"which" enum:"terms,evidence"`
		}) (*download, error) {
			return fileOf(pricing.FileFor(ctx, s.app, actor, in.ID, in.Which))
		})
	operationRaw(s, api, "/proposals/{id}/signed", "readSigned", "The signed copy of an accepted proposal",
		func(ctx context.Context, actor app.Actor, in *ByID) (*download, error) {
			return attached(pricing.SignedFor(ctx, s.app, actor, in.ID))
		})
}

// registerQuestionnaires are questions to clients, and their answers.
func (s *server) registerQuestionnaires(api huma.API) {
	operation(s, api, http.MethodPost, "/questionnaires/sendings", "askClient", "Send a questionnaire to a client, or make a link to it",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body setup.Asking
		}) (setup.AskedClient, error) {
			return setup.AskClient(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodGet, "/clients/{id}/questionnaires", "listQuestionnaires", "What a client was asked, and its answers",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]setup.AskedQuestions, error) {
			return setup.Questionnaires(ctx, s.app, actor, in.ID)
		})
}

// attached is a PDF as a download.
func attached(name string, content []byte, err error) (*download, error) {
	return &download{"application/pdf", mime.FormatMediaType("attachment", map[string]string{"filename": name}), content}, err
}

// fileOf is a kept file as a download.
func fileOf(f *pricing.File, err error) (*download, error) {
	if err != nil {
		return nil, err
	}
	return &download{f.MediaType, mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}), f.Content}, nil
}
