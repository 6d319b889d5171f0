package api

import (
	"context"
	"mime"
	"net/http"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/sheets"

	"github.com/danielgtaylor/huma/v2"
)

// filesPrefix is before the addresses to which files are sent.
const filesPrefix = "/files"

// SheetFile is embedded in the input of what takes a table from a file.
type SheetFile struct {
	OfKind
	Name    string `query:"name" required:"true" maxLength:"200" doc:"of the file"`
	Columns string `query:"columns" maxLength:"5000" doc:"the field of each column, with commas; empty: matched by name"`
	RawBody []byte `contentType:"application/octet-stream"`
}

// incoming reads the file: a table, or of open invoices e-invoices, too.
func (in *SheetFile) incoming(a *app.App) (registry.Incoming, string, error) {
	if in.Kind == receivables.OpenInvoices {
		header, rows, is, err := a.Formats.Read(in.RawBody)
		if err != nil {
			return registry.Incoming{}, "", app.InField("file", err)
		}
		if is {
			asked := registry.Incoming{Kind: in.Kind, Name: in.Name, Header: header, Rows: rows, Point: true,
				Cell: func(text string) (string, bool) { return text, false }}
			return asked, "Each e-invoice is a row: what it says is still to be paid is taken over.", nil
		}
	}
	table, err := sheets.Read(in.RawBody)
	if err != nil {
		return registry.Incoming{}, "", app.InField("file", err)
	}
	asked := registry.Incoming{Kind: in.Kind, Name: in.Name, Header: table.Header, Rows: table.Rows, Point: table.Point, Cell: sheets.Cell}
	if in.Columns != "" {
		asked.Columns = strings.Split(in.Columns, ",")
	}
	return asked, table.Notice, nil
}

func large(o *huma.Operation) { o.MaxBodyBytes = fileLimit }

// registerPictures registers what is kept with records: pictures, and files of steps.
func (s *server) registerPictures(api huma.API) {
	guarded(s, api, http.MethodPut, filesPrefix+"/steps/{id}", "setStepFile", "Keep what was got of a step of an onboarding",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Name    string `query:"name" required:"true" maxLength:"200" doc:"of the file"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[nothing], error) {
			return &answer[nothing]{}, setup.SetStepFile(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Name, in.RawBody)
		}, large)
	operation(s, api, http.MethodDelete, "/steps/{id}/file", "removeStepFile", "Take the file of a step away",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, setup.SetStepFile(ctx, s.app, app.Request{Actor: actor}, in.ID, "", nil)
		})
	operationRaw(s, api, "/steps/{id}/file", "readStepFile", "What was got of a step, as a download",
		func(ctx context.Context, actor app.Actor, in *ByID) (*download, error) {
			return kept(setup.StepFile(ctx, s.app, actor, in.ID))
		})
	guarded(s, api, http.MethodPut, filesPrefix+"/pictures/{id}", "setPicture", "Choose one of the firm's pictures",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[nothing], error) {
			return &answer[nothing]{}, setup.SetPicture(ctx, s.app, app.Request{Actor: actor}, in.ID, in.RawBody)
		}, large)
	guarded(s, api, http.MethodPut, filesPrefix+"/enclosures/{id}", "setEnclosureFile", "Choose the file of an enclosure",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Name    string `query:"name" required:"true" maxLength:"200" doc:"of the file"`
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[nothing], error) {
			return &answer[nothing]{}, setup.SetEnclosureFile(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Name, in.RawBody)
		}, large)
	operationRaw(s, api, "/enclosures/{id}/file", "readEnclosureFile", "The file of an enclosure, as a download",
		func(ctx context.Context, actor app.Actor, in *ByID) (*download, error) {
			return kept(setup.EnclosureFile(ctx, s.app, actor, in.ID))
		})
	operationRaw(s, api, "/pictures/{named}", "readPicture", "One of the firm's pictures",
		func(ctx context.Context, actor app.Actor, in *struct {
			Named string `path:"named" maxLength:"64" doc:"its digest, or the number of its record"`
		}) (*download, error) {
			content, err := setup.Picture(ctx, s.app, actor, in.Named)
			return &download{"image/png", "attachment; filename=picture.png", content}, err
		})
}

// kept is a file under the name with which it was kept, as a download.
func kept(name, mediaType string, content []byte, err error) (*download, error) {
	return &download{mediaType, mime.FormatMediaType("attachment", map[string]string{"filename": name}), content}, err
}

func (s *server) registerFiles(api huma.API) {
	s.registerPictures(api)
	guarded(s, api, http.MethodPost, filesPrefix+"/{kind}/check", "checkImport", "What an import would do; nothing is taken",
		func(ctx context.Context, actor app.Actor, in *SheetFile) (*answer[*registry.ImportCheck], error) {
			asked, notice, err := in.incoming(s.app)
			if err != nil {
				return nil, err
			}
			check, err := registry.CheckImport(ctx, s.app, actor, asked)
			if err != nil {
				return nil, err
			}
			check.Notice = notice
			return &answer[*registry.ImportCheck]{check}, nil
		}, large)
	guarded(s, api, http.MethodPost, filesPrefix+"/{kind}", "import", "Take all rows of a file, or none",
		func(ctx context.Context, actor app.Actor, in *struct {
			SheetFile
		}) (*answer[registry.Imported], error) {
			asked, _, err := in.incoming(s.app)
			if err != nil {
				return nil, err
			}
			done, err := registry.Import(ctx, s.app, app.Request{Actor: actor}, asked)
			return &answer[registry.Imported]{done}, err
		}, large)
	operation(s, api, http.MethodGet, "/imports", "listImports", "What was imported",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]registry.ImportRow, error) {
			return registry.Imports(ctx, s.app, actor)
		})
	operation(s, api, http.MethodDelete, "/imports/{id}", "undoImport", "Take back an import",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, registry.UndoImport(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	guarded(s, api, http.MethodPut, filesPrefix+"/logo", "setLogo", "Set the firm's logo",
		func(ctx context.Context, actor app.Actor, in *struct {
			RawBody []byte `contentType:"application/octet-stream"`
		}) (*answer[nothing], error) {
			return &answer[nothing]{}, setup.SetLogo(ctx, s.app, app.Request{Actor: actor}, in.RawBody)
		}, large)
	operation(s, api, http.MethodDelete, "/firm/logo", "removeLogo", "Take the firm's logo away",
		func(ctx context.Context, actor app.Actor, _ *nothing) (nothing, error) {
			return nothing{}, setup.SetLogo(ctx, s.app, app.Request{Actor: actor}, nil)
		})
	operationRaw(s, api, "/firm/logo", "readLogo", "The firm's logo",
		func(ctx context.Context, _ app.Actor, _ *nothing) (*download, error) {
			content, err := setup.Logo(ctx, s.app)
			if err == nil && content == nil {
				err = app.Refuse(app.NotFound, "The firm has no logo yet.")
			}
			return &download{"image/png", "attachment; filename=logo.png", content}, err
		})
	operationRaw(s, api, "/records/{kind}/export", "exportRecords", "Records of a kind as CSV or XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			OfKind
			Form string `query:"form" enum:"csv,xlsx" default:"csv"`
		}) (*download, error) {
			if err := mayTouch(actor, in.Kind, false); err != nil {
				return nil, err
			}
			return s.exported(ctx, actor, in.Kind, in.Form)
		})
}

// download is a file as an answer.
type download struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

func (s *server) exported(ctx context.Context, actor app.Actor, kind, form string) (*download, error) {
	header, rows, err := registry.Export(ctx, s.app, actor, kind)
	if err != nil {
		return nil, err
	}
	return written(kind, form, header, rows)
}
