package api

import (
	"context"
	"io"
	"mime"
	"net/http"
	"path/filepath"

	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/runs"

	"github.com/danielgtaylor/huma/v2"
)

// ManyDrafts are drafts, or invoices, as they were last seen.
type ManyDrafts struct {
	Body struct {
		Edits []drafts.Edit `json:"edits" minItems:"1" maxItems:"10000"`
	}
}

func (s *server) registerRuns(api huma.API) {
	operation(s, api, http.MethodGet, "/runs", "listRuns", "Billing runs, the latest first",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]runs.Run, error) {
			return runs.Runs(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/runs/{id}", "readRun", "A billing run with its members",
		func(ctx context.Context, actor app.Actor, in *ByID) (*runs.Run, error) {
			return runs.OneRun(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodGet, "/runs/{id}/history", "runHistory", "What was done to a run",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]app.HistoryRow, error) {
			return s.app.History(ctx, actor, app.OfRun, in.ID)
		})
	operation(s, api, http.MethodPut, "/runs/{id}", "changeRun", "Change the days or text of a run; its drafts follow",
		func(ctx context.Context, actor app.Actor, in *struct {
			Edited
			Body runs.RunTyped
		}) (nothing, error) {
			return nothing{}, runs.ChangeRun(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version, in.Body)
		})
	operation(s, api, http.MethodDelete, "/runs/{id}", "deleteRun", "Delete a run; everything on its drafts is unbilled again",
		func(ctx context.Context, actor app.Actor, in *Edited) (nothing, error) {
			return nothing{}, runs.DeleteRun(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operation(s, api, http.MethodDelete, "/runs/{id}/members/{engagement}", "takeOutMember",
		"Take an engagement out of a run; what of it is on drafts is unbilled again",
		func(ctx context.Context, actor app.Actor, in *struct {
			Edited
			Engagement int64 `path:"engagement"`
		}) (nothing, error) {
			return nothing{}, runs.TakeOutMember(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version, in.Engagement)
		})
	s.registerApproval(api)
	s.registerJobs(api)
}

func (s *server) registerApproval(api huma.API) {
	operation(s, api, http.MethodPost, "/drafts/ask-approval", "askApproval", "Ask the leads of drafts for their approval",
		func(ctx context.Context, actor app.Actor, in *ManyDrafts) (nothing, error) {
			return nothing{}, issuing.AskApproval(ctx, s.app, app.Request{Actor: actor}, in.Body.Edits)
		})
	operation(s, api, http.MethodPost, "/drafts/approve", "approveDrafts", "Approve drafts",
		func(ctx context.Context, actor app.Actor, in *ManyDrafts) (nothing, error) {
			return nothing{}, issuing.Approve(ctx, s.app, app.Request{Actor: actor}, in.Body.Edits)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/send-back", "sendBack", "Send a draft back with a note",
		func(ctx context.Context, actor app.Actor, in *struct {
			Edited
			Body struct {
				Note string `json:"note" maxLength:"500"`
			}
		}) (nothing, error) {
			return nothing{}, issuing.SendBack(ctx, s.app, app.Request{Actor: actor}, in.edit(), in.Body.Note)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/findings", "settleFinding", "Mend a finding of a draft, or leave it as it is",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body struct {
				Code      string `json:"code" maxLength:"40"`
				SubjectID int64  `json:"subjectId"`
				Act       string `json:"act" maxLength:"40"`
			}
		}) (*drafts.Changed, error) {
			return issuing.ResolveFinding(ctx, s.app, r, in.edit(), in.Body.Code, in.Body.SubjectID, in.Body.Act)
		})
}

func (s *server) registerJobs(api huma.API) {
	operation(s, api, http.MethodPost, "/drafts/issue", "issueMany", "Issue drafts in the background, and hand them over if so asked",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Edits []drafts.Edit `json:"edits" minItems:"1" maxItems:"10000"`
				Send  bool          `json:"send,omitempty" doc:"hand over what was issued, as its profile says"`
			}
		}) (*app.Job, error) {
			if in.Body.Send {
				return delivery.BeginIssueAndSend(ctx, s.app, app.Request{Actor: actor}, in.Body.Edits)
			}
			return issuing.BeginIssue(ctx, s.app, app.Request{Actor: actor}, in.Body.Edits)
		})
	operation(s, api, http.MethodPost, "/invoices/reopen", "reopenMany", "Reopen invoices in the background",
		func(ctx context.Context, actor app.Actor, in *ManyDrafts) (*app.Job, error) {
			return issuing.BeginReopen(ctx, s.app, app.Request{Actor: actor}, in.Body.Edits)
		})
	operation(s, api, http.MethodPost, "/documents", "makeDocuments", "Make one file of the documents of many invoices",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				IDs  []int64 `json:"ids" minItems:"1" maxItems:"10000"`
				Form string  `json:"form" enum:"zip,pdf,post,cii,ledes,csv,xlsx,json"`
				Name string  `json:"name" maxLength:"100"`
			}
		}) (*app.Job, error) {
			return papers.BeginDocuments(ctx, s.app, app.Request{Actor: actor}, in.Body.IDs, in.Body.Form, in.Body.Name)
		})
	operation(s, api, http.MethodPost, "/documents/check", "checkDocuments", "What would be left out of a file of many invoices, and why",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				IDs  []int64 `json:"ids" minItems:"1" maxItems:"10000"`
				Form string  `json:"form" enum:"zip,pdf,post,cii,ledes,csv,xlsx,json"`
			}
		}) (*papers.FormCheck, error) {
			return papers.CheckForm(ctx, s.app, actor, in.Body.IDs, in.Body.Form)
		})
	operation(s, api, http.MethodGet, "/jobs/{id}", "readJob", "How far a job is",
		func(ctx context.Context, actor app.Actor, in *ByID) (*app.Job, error) {
			return s.app.Jobs.Read(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodDelete, "/jobs/{id}", "cancelJob", "Stop a job after the step that it is at",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, s.app.Jobs.Cancel(ctx, s.app, actor, in.ID)
		})
	operationRaw(s, api, "/jobs/{id}/file", "readMade", "The file that a job made",
		func(ctx context.Context, actor app.Actor, in *ByID) (*huma.StreamResponse, error) {
			name, file, err := papers.MadeFile(ctx, s.app, actor, in.ID)
			if err != nil {
				return nil, err
			}
			return &huma.StreamResponse{Body: func(out huma.Context) {
				defer file.Close()
				out.SetHeader("Content-Type", mediaTypes[filepath.Ext(name)])
				out.SetHeader("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
				_, _ = io.Copy(out.BodyWriter(), file) // whoever does not read on has gone
			}}, nil
		})
}

// mediaTypes of the files that invoices leave the house as.
var mediaTypes = map[string]string{".zip": "application/zip", ".pdf": "application/pdf", ".xml": "application/xml",
	".txt": "text/plain; charset=us-ascii", ".csv": "text/csv; charset=utf-8",
	".xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", ".json": "application/json"}
