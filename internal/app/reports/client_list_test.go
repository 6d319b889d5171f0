package reports_test

import (
	"slices"
	"strings"
	"testing"

	"dorvet/internal/app/registry"
	"dorvet/internal/app/reports"
	"dorvet/internal/apptest"
)

// A part of the clients is in the order that is asked for; what all of them come to stands with every part.
func TestClientsAreListedInParts(t *testing.T) {
	a := apptest.Firm(t)
	for _, name := range []string{"12 Quays", "3 Quays", "cedar", "Dogwood"} {
		apptest.Add(t, a, "clients", "name", name, "code", strings.ReplaceAll(name, " ", ""))
	}
	if err := registry.SetActive(t.Context(), a, apptest.Admin, "clients", registry.ExpectedVersion{ID: 6}, false); err != nil {
		t.Fatal(err)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-02", "2h")
	apptest.Record(t, a, apptest.Study, "2026-11-03", "1h")
	for _, c := range []struct {
		why    string
		f      reports.ClientFilter
		offset int
		names  []string
		total  int
		place  int
	}{
		{"by name, numbers by size", reports.ClientFilter{OpenID: 3}, 0, []string{"3 Quays", "12 Quays", "Alder"}, 5, 1},
		{"the next part", reports.ClientFilter{}, 3, []string{"Birch", "cedar"}, 5, -1},
		{"beyond the end", reports.ClientFilter{}, 9, nil, 5, -1},
		{"most to bill first", reports.ClientFilter{By: "unbilled", Down: true, OpenID: 2}, 0, []string{"Alder", "Birch", "3 Quays"}, 5, 1},
		{"words of name and code", reports.ClientFilter{Text: "QUAYS 12"}, 0, []string{"12 Quays"}, 1, -1},
		{"past ones", reports.ClientFilter{Standing: "past"}, 0, []string{"Dogwood"}, 1, -1},
		{"of a status that nobody has", reports.ClientFilter{Status: "gone"}, 0, nil, 0, -1},
	} {
		list, err := reports.Clients(t.Context(), a, apptest.Admin.Actor, c.f, c.offset, 3)
		if err != nil {
			t.Fatal(c.why, err)
		}
		var names []string
		for _, one := range list.Clients {
			names = append(names, one.Name)
		}
		if !slices.Equal(names, c.names) || list.Total != c.total || list.Place != c.place {
			t.Errorf("%s: %q of %d, at %d", c.why, names, list.Total, list.Place)
		}
		if list.Unbilled.String() != "280.00" {
			t.Errorf("%s: to bill to all %s", c.why, list.Unbilled)
		}
	}
	few, err := reports.Clients(t.Context(), a, apptest.Admin.Actor, reports.ClientFilter{Text: "birch"}, 0, 3)
	if err != nil || few.Among != 5 || len(few.ToBill) != 1 || few.ToBill[0].String() != "80.00" {
		t.Errorf("%+v, %v", few, err)
	}
	for _, wrong := range []reports.ClientFilter{{By: "moon"}, {Standing: "moon"}} {
		_, err := reports.Clients(t.Context(), a, apptest.Admin.Actor, wrong, 0, 3)
		if refused := apptest.RefusalOf(t, err); refused == nil || !strings.Contains(refused.Error(), "moon") {
			t.Errorf("%+v: %v", wrong, err)
		}
	}
}
