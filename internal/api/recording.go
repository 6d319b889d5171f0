package api

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/sheets"

	"github.com/danielgtaylor/huma/v2"
)

// OfWeek is embedded in the input of what concerns a person's week.
type OfWeek struct {
	ByID
	Day isoDay `path:"day" format:"date" doc:"any day of the week"`
}

// SoughtQuery is embedded in the input of the lists of time and expenses: the one
// selector of all of them.
type SoughtQuery struct {
	Of          string `query:"of" enum:"time,expenses" default:"time"`
	From        isoDay `query:"from"`
	To          isoDay `query:"to"`
	People      string `query:"people" maxLength:"2000" doc:"numbers, with commas; nothing: all"`
	Clients     string `query:"clients" maxLength:"2000"`
	Engagements string `query:"engagements" maxLength:"2000"`
	Kinds       string `query:"kinds" maxLength:"2000" doc:"services, or categories of expenses"`
	States      string `query:"states" maxLength:"200" doc:"such as unbilled,on_draft; what is none is refused by name"`
	Text        string `query:"text" maxLength:"100"`
	OldestFirst bool   `query:"oldestFirst"`
}

// sought reads the selector.
func (q *SoughtQuery) sought() (timekeeping.Filter, error) {
	s := timekeeping.Filter{Expenses: q.Of == "expenses", Text: q.Text, OldestFirst: q.OldestFirst}
	for _, d := range []struct {
		field string
		typed isoDay
		into  *day.Day
	}{{"from", q.From, &s.From}, {"to", q.To, &s.To}} {
		if d.typed == "" {
			continue
		}
		var err error
		if *d.into, err = d.typed.day(d.field); err != nil {
			return s, err
		}
	}
	for _, l := range []struct {
		field, typed string
		into         *[]int64
	}{{"people", q.People, &s.People}, {"clients", q.Clients, &s.Clients}, {"engagements", q.Engagements, &s.Engagements},
		{"kinds", q.Kinds, &s.Kinds}} {
		for _, text := range splitList(l.typed) {
			id, err := strconv.ParseInt(text, 10, 64)
			if err != nil {
				return s, app.RefuseField(l.field, "%q is no number.", text)
			}
			*l.into = append(*l.into, id)
		}
	}
	for _, state := range splitList(q.States) {
		if !timekeeping.IsWorkState(state) {
			return s, app.RefuseField("states", "%q is no state of time or expenses.", state)
		}
		s.States = append(s.States, state)
	}
	return s, nil
}

func splitList(text string) []string {
	return strings.FieldsFunc(text, func(r rune) bool { return r == ',' })
}

// registerWeeks registers what is done with a week as a whole.
func (s *server) registerWeeks(api huma.API) {
	onWeek := func(method, path, name, summary string, act func(context.Context, app.Request, int64, day.Day) error) {
		operation(s, api, method, "/people/{id}/weeks/{day}"+path, name, summary,
			func(ctx context.Context, actor app.Actor, in *OfWeek) (nothing, error) {
				on, err := in.Day.day("day")
				if err != nil {
					return nothing{}, err
				}
				return nothing{}, act(ctx, app.Request{Actor: actor}, in.ID, on)
			})
	}
	onWeek(http.MethodPost, "/submitted", "submitWeek", "Hand a week in for approval",
		func(ctx context.Context, r app.Request, person int64, on day.Day) error {
			return timekeeping.Submit(ctx, s.app, r, person, on)
		})
	onWeek(http.MethodDelete, "/submitted", "takeBackWeek", "Open a submitted week again",
		func(ctx context.Context, r app.Request, person int64, on day.Day) error {
			return timekeeping.TakeBack(ctx, s.app, r, person, on)
		})
	onWeek(http.MethodPost, "/approved", "approveWeek", "Approve a submitted week",
		func(ctx context.Context, r app.Request, person int64, on day.Day) error {
			return timekeeping.Approve(ctx, s.app, r, person, on)
		})
	onWeek(http.MethodPost, "/reminder", "remindOfWeek", "Remind somebody of missing time",
		func(ctx context.Context, r app.Request, person int64, on day.Day) error {
			return timekeeping.Remind(ctx, s.app, r, person, on)
		})
	operation(s, api, http.MethodPost, "/people/{id}/weeks/{day}/sent-back", "sendBackWeek", "Send a week back with a reason",
		func(ctx context.Context, actor app.Actor, in *struct {
			OfWeek
			Body struct {
				Reason string `json:"reason" maxLength:"500"`
			}
		}) (nothing, error) {
			on, err := in.Day.day("day")
			if err != nil {
				return nothing{}, err
			}
			return nothing{}, timekeeping.SendBack(ctx, s.app, app.Request{Actor: actor}, in.ID, on, in.Body.Reason)
		})
	operation(s, api, http.MethodGet, "/people/{id}/weeks/{day}/history", "weekHistory", "What was done to a week as a whole",
		func(ctx context.Context, actor app.Actor, in *OfWeek) ([]app.HistoryRow, error) {
			on, err := in.Day.day("day")
			if err != nil {
				return nil, err
			}
			return timekeeping.WeekHistory(ctx, s.app, actor, in.ID, on)
		})
	operation(s, api, http.MethodGet, "/weeks/{day}", "listWeeks", "The weeks of all people: what is missing, what waits for approval",
		func(ctx context.Context, actor app.Actor, in *struct {
			Day isoDay `path:"day" format:"date" doc:"any day of the week"`
		}) (*timekeeping.Sheets, error) {
			on, err := in.Day.day("day")
			if err != nil {
				return nil, err
			}
			return timekeeping.SheetsOf(ctx, s.app, actor, on)
		})
}

// TimerBody is embedded in the input of what says what a timer is for.
type TimerBody struct{ Body timekeeping.TypedTimer }

func (s *server) registerTimers(api huma.API) {
	operation(s, api, http.MethodGet, "/timers", "listTimers", "One's own timers",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]timekeeping.Timer, error) {
			return timekeeping.Timers(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/timers", "startTimer", "Start a timer; the one that runs waits",
		func(ctx context.Context, actor app.Actor, in *struct {
			TimerBody
		}) (*timekeeping.Timer, error) {
			return timekeeping.StartTimer(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPut, "/timers/{id}", "changeTimer", "Say anew what a timer is for",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			TimerBody
		}) (*timekeeping.Timer, error) {
			return timekeeping.ChangeTimer(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/timers/{id}/pause", "pauseTimer", "Let a timer wait",
		func(ctx context.Context, actor app.Actor, in *ByID) (*timekeeping.Timer, error) {
			return timekeeping.PauseTimer(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodPost, "/timers/{id}/resume", "resumeTimer", "Let a timer run again; the one that runs waits",
		func(ctx context.Context, actor app.Actor, in *ByID) (*timekeeping.Timer, error) {
			return timekeeping.ResumeTimer(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodPost, "/timers/{id}/stop", "stopTimer", "Make entries of what a timer has counted",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
		}) ([]timekeeping.Entry, error) {
			return timekeeping.StopTimer(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodDelete, "/timers/{id}", "discardTimer", "Throw a timer away",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, timekeeping.DiscardTimer(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
}

func (s *server) registerWork(api huma.API) {
	operation(s, api, http.MethodGet, "/work", "listWork", "Entries or expenses that are sought, by page",
		func(ctx context.Context, actor app.Actor, in *struct {
			SoughtQuery
			Page
		}) (*timekeeping.WorkPage, error) {
			sought, err := in.sought()
			if err != nil {
				return nil, err
			}
			return timekeeping.Find(ctx, s.app, actor, sought, in.Offset, in.Limit)
		})
	operation(s, api, http.MethodGet, "/work/groups", "groupWork", "What is sought, by client or by person",
		func(ctx context.Context, actor app.Actor, in *struct {
			SoughtQuery
			By string `query:"by" enum:"client,person" default:"client"`
		}) ([]timekeeping.Group, error) {
			sought, err := in.sought()
			if err != nil {
				return nil, err
			}
			return timekeeping.Groups(ctx, s.app, actor, sought, in.By == "person")
		})
	operation(s, api, http.MethodGet, "/work/numbers", "numberWork", "The numbers of everything that is sought",
		func(ctx context.Context, actor app.Actor, in *SoughtQuery) ([]int64, error) {
			sought, err := in.sought()
			if err != nil {
				return nil, err
			}
			return timekeeping.Numbers(ctx, s.app, actor, sought)
		})
	operationRaw(s, api, "/work/export", "exportWork", "What is sought as CSV or XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			SoughtQuery
			Form string `query:"form" enum:"csv,xlsx" default:"csv"`
		}) (*download, error) {
			sought, err := in.sought()
			if err != nil {
				return nil, err
			}
			header, rows, err := timekeeping.Export(ctx, s.app, actor, sought)
			if err != nil {
				return nil, err
			}
			return written(in.Of, in.Form, header, rows)
		})
	s.registerBulk(api)
}

// registerBulk has changes of many entries as one act.
func (s *server) registerBulk(api huma.API) {
	bulk := func(path, name, summary string, act func(context.Context, app.Request, timekeeping.BulkChange) (*timekeeping.BulkChanged,
		error)) {
		operation(s, api, http.MethodPost, path, name, summary,
			func(ctx context.Context, actor app.Actor, in *struct{ Body timekeeping.BulkChange }) (*timekeeping.BulkChanged, error) {
				return act(ctx, app.Request{Actor: actor}, in.Body)
			})
	}
	bulk("/work/changes/preview", "previewTogether", "What a change of many entries would do",
		func(ctx context.Context, r app.Request, c timekeeping.BulkChange) (*timekeeping.BulkChanged, error) {
			return timekeeping.PreviewBulk(ctx, s.app, r.Actor, c)
		})
	bulk("/work/changes", "changeTogether", "Change many entries as one act",
		func(ctx context.Context, r app.Request, c timekeeping.BulkChange) (*timekeeping.BulkChanged, error) {
			return timekeeping.ChangeInBulk(ctx, s.app, r, c)
		})
	operation(s, api, http.MethodDelete, "/work/changes/{id}", "undoTogether", "Take such a change back",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, timekeeping.UndoTogether(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
}

// PurchaseBody is embedded in the input of what takes a purchase as typed.
type PurchaseBody struct{ Body timekeeping.TypedPurchase }

func (s *server) registerPurchases(api huma.API) {
	const one = "/purchases/{id}"
	operation(s, api, http.MethodPost, "/purchases/value", "valuePurchase", "What a purchase comes to as typed",
		func(ctx context.Context, actor app.Actor, in *struct {
			PurchaseBody
			Purchase int64 `query:"purchase" doc:"that would be changed, or 0"`
		}) (*timekeeping.Reckoning, error) {
			return timekeeping.PreviewPurchase(ctx, s.app, actor, in.Body, in.Purchase)
		})
	operation(s, api, http.MethodPost, "/purchases", "recordPurchase", "Record a purchase with its shares",
		func(ctx context.Context, actor app.Actor, in *struct {
			PurchaseBody
		}) (*timekeeping.Purchase, error) {
			return timekeeping.RecordPurchase(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodGet, "/purchases/left", "listPurchasesLeft", "Purchases that are not used up, with what is left",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]timekeeping.PurchaseLeft, error) {
			return timekeeping.PurchasesLeft(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, one, "readPurchase", "A purchase",
		func(ctx context.Context, actor app.Actor, in *ByID) (*timekeeping.Purchase, error) {
			return timekeeping.OnePurchase(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPut, one, "changePurchase", "Change a purchase",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			VersionQuery
			PurchaseBody
		}) (*timekeeping.Purchase, error) {
			return timekeeping.ChangePurchase(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version, in.Body)
		})
	operation(s, api, http.MethodDelete, one, "removePurchase", "Remove a purchase",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			VersionQuery
		}) (nothing, error) {
			return nothing{}, timekeeping.RemovePurchase(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operation(s, api, http.MethodGet, one+"/history", "purchaseHistory", "What was done to a purchase",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]app.HistoryRow, error) {
			return timekeeping.PurchaseHistory(ctx, s.app, actor, in.ID)
		})
	guarded(s, api, http.MethodPost, filesPrefix+"/receipts", "keepReceipt", "Keep a receipt, to be named by an entry or a purchase",
		func(ctx context.Context, actor app.Actor, in *struct {
			Name    string `query:"name" required:"true" maxLength:"200" doc:"of the file"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[*timekeeping.AttachedFile], error) {
			kept, err := timekeeping.KeepFile(ctx, s.app, app.Request{Actor: actor}, in.Name, in.RawBody)
			return &answer[*timekeeping.AttachedFile]{kept}, err
		}, large)
	operationRaw(s, api, "/receipts/{digest}", "readReceipt", "A receipt, as a download",
		func(ctx context.Context, actor app.Actor, in *struct {
			Digest string `path:"digest" pattern:"^[0-9a-f]{64}$"`
		}) (*download, error) {
			mediaType, content, err := timekeeping.File(ctx, s.app, actor, in.Digest)
			return &download{mediaType, fmt.Sprintf("attachment; filename=%q", "receipt-"+in.Digest[:8]), content}, err
		})
	operation(s, api, http.MethodGet, "/time-entries/{id}/files", "entryFiles", "What is attached to an entry",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]timekeeping.AttachedFile, error) {
			return timekeeping.EntryFiles(ctx, s.app, actor, in.ID)
		})
}

// written is a table as a file.
func written(name, form string, header []string, rows [][]string) (*download, error) {
	write, mediaType := sheets.CSV, "text/csv; charset=utf-8"
	if form == "xlsx" {
		write, mediaType = sheets.XLSX, "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
	}
	body, err := write(header, rows)
	return &download{mediaType, fmt.Sprintf("attachment; filename=%q", name+"."+form), body}, err
}
