package profile

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/core/worktime"
)

func layers() []Layer {
	return []Layer{
		{Firm, "", map[string]string{"terms": "30d", "tax_code": "S", "opening_text": "Dear client"}},
		{Place, "NO", map[string]string{"tax_code": "AE"}},
		{Client, "Port of Calderwick", map[string]string{"terms": "14d", "opening_text": ""}},
		{Engagement, "Berth 4 monitoring", map[string]string{"increment": "15"}},
	}
}

func ExampleProfile_Of() {
	fmt.Println(Stack(layers()...).Of("terms").Explain())
	// Output: {Payment terms from the client Port of Calderwick 14d [{in place of from the firm 30d []} {in place of the default 30d []}]}
}

func TestTheNearestValueHoldsAndNamesWhatItReplaced(t *testing.T) {
	p := Stack(layers()...)
	for _, c := range []struct{ name, value, from, inherited string }{
		{"terms", "14d", "from the client Port of Calderwick", "30d"},
		{"tax_code", "AE", "from the place NO", "AE"},
		{"increment", "15", "from the engagement Berth 4 monitoring", "15"},
		{"rounding", "up", "the default", "up"},
		{"opening_text", "", "from the client Port of Calderwick", "Dear client"},
	} {
		answer := p.Of(c.name)
		if answer.Won.Value != c.value || answer.Won.In() != c.from || answer.Inherited(Client).Value != c.inherited {
			t.Errorf("%s is %+v, inherited %q", c.name, answer.Won, answer.Inherited(Client).Value)
		}
	}
	if rule := p.Rule(); rule != (worktime.Rule{Increment: 15, Rounding: worktime.Up}) {
		t.Errorf("%+v", rule)
	}
	if !p.Of("terms").OwnOf(Client) || p.Of("terms").OwnOf(Engagement) {
		t.Error("whose the terms are")
	}
}

// A second, naive implementation: walk from the nearest layer outwards.
func TestGivingBackShowsWhatIsUnderneath(t *testing.T) {
	scopes := []Scope{Firm, Place, Client, Engagement}
	for range 5000 {
		stack := []Layer{}
		for i, scope := range scopes {
			values := map[string]string{}
			if rand.IntN(2) == 0 {
				values["terms"] = fmt.Sprintf("%dd", i)
			}
			stack = append(stack, Layer{scope, "", values})
		}
		want, under := "30d", "30d"
		for _, layer := range stack {
			if value, set := layer.Values["terms"]; set {
				want = value
				if layer.Scope != Engagement {
					under = value
				}
			}
		}
		answer := Stack(stack...).Of("terms")
		if answer.Won.Value != want || answer.Inherited(Engagement).Value != under {
			t.Fatalf("%+v: %+v", stack, answer)
		}
	}
}

func TestTypedValuesAreReadOrRefusedInWords(t *testing.T) {
	for _, c := range []struct{ name, typed, kept, problem string }{
		{"terms", "EOM + 15d", "eom+15d", ""},
		{"terms", "soon", "", "write receipt, 30 days"},
		{"terms", " ", "", "payment terms can't be empty"},
		{"cycle", "Every Quarter", "quarter", ""},
		{"cycle", "fortnight", "", "every month; every quarter"},
		{"discount", "12.5 %", "12.5", ""},
		{"discount", "101", "", "0 to 100 %"},
		{"discount", "-1", "", "0 to 100 %"},
		{"credit_limit", "20,000.00", "20000", ""},
		{"credit_limit", "", "", ""},
		{"increment", "15", "15", ""},
		{"increment", "6.5", "", "whole number"},
		{"attach", "No", "no", ""},
		{"closing_text", "  Kind regards ", "Kind regards", ""},
	} {
		item, _ := Named(c.name)
		kept, err := item.Parse(c.typed, money.Point)
		if kept != c.kept && c.problem == "" || (err == nil) != (c.problem == "") || err != nil &&
			!strings.Contains(err.Error(), c.problem) {
			t.Errorf("%s typed %q: %q, %v", c.name, c.typed, kept, err)
		}
	}
}

func TestEveryDefaultIsAValueThatCanBeTyped(t *testing.T) {
	for _, item := range Items {
		if item.Default == "" {
			continue
		}
		if kept, err := item.Parse(item.Default, money.Point); err != nil || kept != item.Default {
			t.Errorf("%s: %q, %v", item.Name, kept, err)
		}
	}
	if item, _ := Named("credit_limit"); item.On(Engagement) || !item.On(Client) {
		t.Error("a credit limit is the client's")
	}
}
