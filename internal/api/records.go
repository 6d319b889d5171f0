package api

import (
	"context"
	"net/http"
	"slices"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"

	"github.com/danielgtaylor/huma/v2"
)

// OfKind is embedded in the input of what concerns a kind of record.
type OfKind struct {
	Kind string `path:"kind" maxLength:"40" doc:"the kind of record"`
}

// records lets only those through who may read, or change, records of a kind.
func records[In, Out any](s *server, api huma.API, method, path, name, summary string, kind func(*In) string,
	act func(context.Context, app.Actor, *In) (Out, error)) {
	operation(s, api, method, path, name, summary, func(ctx context.Context, actor app.Actor, in *In) (out Out, err error) {
		if err := mayTouch(actor, kind(in), method != http.MethodGet); err != nil {
			return out, err
		}
		return act(ctx, actor, in)
	})
}

func mayTouch(actor app.Actor, kind string, change bool) error {
	roles, known := ofKind[kind]
	if !known {
		return app.Refuse(app.NotFound, "There is nothing of this kind.")
	}
	allowed := roles.read
	if change {
		allowed = roles.change
	}
	if !slices.Contains(allowed, actor.Role) {
		return errNotYours
	}
	return nil
}

type kindInput struct{ OfKind }

type recordInput struct {
	OfKind
	ByID
}

type seenInput struct {
	OfKind
	ByID
	VersionQuery
}

type listInput struct {
	OfKind
	Text     string `query:"text" maxLength:"100" doc:"all its words are in the name or code"`
	Of       int64  `query:"of" doc:"what they belong to; 0 for any"`
	Inactive bool   `query:"inactive" doc:"inactive ones too"`
	Most     int    `query:"most" minimum:"0" maximum:"10000" doc:"so many; 0 for all"`
}

type addInput struct {
	OfKind
	Body map[string]string `doc:"fields as typed; what is left out has its default"`
}

type setInput struct {
	OfKind
	Body struct {
		Records []registry.ExpectedVersion `json:"records" minItems:"1" maxItems:"1000"`
		registry.Change
	}
}

type retireInput struct {
	OfKind
	ByID
	VersionQuery
	Body struct {
		Active bool `json:"active"`
	}
}

func (s *server) registerRecords(api huma.API) {
	const one = "/records/{kind}/{id}"
	operation(s, api, http.MethodGet, "/records/{kind}/form", "describeKind", "What records of a kind say",
		func(ctx context.Context, actor app.Actor, in *kindInput) (*registry.Kind, error) {
			if err := mayTouch(actor, in.Kind, false); err != nil && !registry.OnlyFromFiles(in.Kind) {
				return nil, err
			}
			return registry.Describe(ctx, s.app, actor, in.Kind)
		})
	records(s, api, http.MethodGet, "/records/{kind}", "listRecords", "Records of a kind", func(in *listInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *listInput) ([]registry.RecordRow, error) {
			return registry.List(ctx, s.app, actor, in.Kind, registry.ListFilter{Text: in.Text, Of: in.Of, Inactive: in.Inactive, Most: in.Most})
		})
	operation(s, api, http.MethodGet, "/records/{kind}/options", "listOptions", "Records that can be chosen",
		func(ctx context.Context, actor app.Actor, in *struct {
			OfKind
			Of   int64  `query:"of" doc:"what they belong to; 0 for any"`
			Text string `query:"text" maxLength:"200" doc:"all its words are in the title or the key"`
			Has  string `query:"has" maxLength:"200" doc:"key or number of one that is among them in any case"`
			Most int    `query:"most" minimum:"0" maximum:"10000" doc:"so many; 0 for all"`
		}) ([]registry.RecordOption, error) {
			return registry.OptionsOf(ctx, s.app, actor, in.Kind, registry.Choosing{Of: in.Of, Text: in.Text, Has: in.Has, Most: in.Most})
		})
	records(s, api, http.MethodGet, one, "readRecord", "A record", func(in *recordInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *recordInput) (*registry.Sheet, error) {
			return registry.Read(ctx, s.app, actor, in.Kind, in.ID)
		})
	records(s, api, http.MethodGet, one+"/history", "recordHistory", "What was done to a record",
		func(in *recordInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *recordInput) ([]app.HistoryRow, error) {
			if _, err := registry.Read(ctx, s.app, actor, in.Kind, in.ID); err != nil {
				return nil, err
			}
			return s.app.History(ctx, actor, in.Kind, in.ID)
		})
	records(s, api, http.MethodPost, "/records/{kind}", "addRecord", "Make a record", func(in *addInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *addInput) (registry.Added, error) {
			return registry.AddRecord(ctx, s.app, app.Request{Actor: actor}, in.Kind, in.Body)
		})
	records(s, api, http.MethodPut, "/records/{kind}", "setField", "Change a field of records: all or none",
		func(in *setInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *setInput) (registry.Kept, error) {
			return registry.SetField(ctx, s.app, app.Request{Actor: actor}, in.Kind, in.Body.Records, in.Body.Change)
		})
	records(s, api, http.MethodPut, one+"/active", "retireRecord", "Make a record inactive, or take it back",
		func(in *retireInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *retireInput) (nothing, error) {
			return nothing{}, registry.SetActive(ctx, s.app, app.Request{Actor: actor}, in.Kind,
				registry.ExpectedVersion{ID: in.ID, Version: in.Version},
				in.Body.Active)
		})
	records(s, api, http.MethodDelete, one, "removeRecord", "Delete a record that nothing refers to",
		func(in *seenInput) string { return in.Kind },
		func(ctx context.Context, actor app.Actor, in *seenInput) (nothing, error) {
			return nothing{}, registry.Remove(ctx, s.app, app.Request{Actor: actor}, in.Kind, registry.ExpectedVersion{ID: in.ID, Version: in.Version})
		})
}
