package setup_test

import (
	"slices"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
)

// What can be chosen is found by its words; what is chosen is among it in any case.
func TestOptionsAreFoundByWhatIsTyped(t *testing.T) {
	a := apptest.Firm(t)
	for _, name := range []string{"Cedar", "Dogwood", "Elm", "Elm Court"} {
		apptest.Add(t, a, "clients", "name", name, "code", name[:1]+name[len(name)-1:])
	}
	for _, c := range []struct {
		why    string
		actor  app.Actor
		asked  registry.Choosing
		titles []string
	}{
		{"all of them, by name", apptest.Admin.Actor, registry.Choosing{}, []string{"Alder", "Birch", "Cedar", "Dogwood", "Elm", "Elm Court"}},
		{"so many", apptest.Admin.Actor, registry.Choosing{Most: 2}, []string{"Alder", "Birch"}},
		{"with the one that is chosen", apptest.Admin.Actor, registry.Choosing{Most: 2, Has: "Et"}, []string{"Alder", "Elm Court"}},
		{"by its number", apptest.Admin.Actor, registry.Choosing{Most: 1, Has: "2"}, []string{"Birch"}},
		{"in any case of letters", apptest.Admin.Actor, registry.Choosing{Text: "COURT elm", Most: 9}, []string{"Elm Court"}},
		{"beside what is chosen", apptest.Admin.Actor, registry.Choosing{Text: "dog", Has: "1", Most: 9}, []string{"Alder", "Dogwood"}},
		{"of a lead", apptest.Lead.Actor, registry.Choosing{Text: "ald", Most: 9}, []string{"Alder"}},
		{"not of a lead", apptest.Lead.Actor, registry.Choosing{Text: "cedar", Most: 9}, nil},
	} {
		options, err := registry.OptionsOf(t.Context(), a, c.actor, "clients", c.asked)
		var titles []string
		for _, o := range options {
			titles = append(titles, o.Title)
		}
		if err != nil || !slices.Equal(titles, c.titles) {
			t.Errorf("%s: %q in place of %q, %v", c.why, titles, c.titles, err)
		}
	}
	people, err := registry.OptionsOf(t.Context(), a, apptest.Admin.Actor, "people", registry.Choosing{Text: "sam", Most: 5})
	if err != nil || len(people) != 1 {
		t.Errorf("%v, %v", people, err)
	}
}
