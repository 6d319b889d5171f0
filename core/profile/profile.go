// Package profile is how a client is billed: terms, tax, increments, delivery,
// reminders, limits, texts. Each value is set for the firm, and may be set anew
// for a place, a client and an engagement; the nearest one holds, and the answer
// says where it comes from and what it replaced.
//
//	firm 30d, client 14d, engagement nothing: 14d, from the client, in place of 30d
package profile

import (
	"fmt"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Scope is a layer on which values are set.
type Scope string

// The layers, each over the one before it. A place only proposes a tax code.
const (
	Dorvet     Scope = "default"
	Firm       Scope = "firm"
	Place      Scope = "place"
	Client     Scope = "client"
	Engagement Scope = "engagement"
	Invoice    Scope = "invoice" // a value of one invoice alone
)

// Layer is what was set on one layer. An empty text is a value like any other:
// it says "none" over what is inherited.
type Layer struct {
	Scope   Scope
	Subject string // whose it is, in words
	Values  map[string]string
}

// Source is a value and the layer that it was set on.
type Source struct {
	Scope   Scope  `json:"scope"`
	Subject string `json:"subject"`
	Value   string `json:"value"`
}

// Answer is the value that holds and those that it replaced, nearest first.
type Answer struct {
	Item   Item
	Won    Source
	Beaten []Source
}

// Profile is the layers over each other, the firm's first.
type Profile struct{ layers []Layer }

// Stack lays layers over each other, from the firm's to the nearest.
func Stack(layers ...Layer) Profile { return Profile{layers} }

// Of finds the value of an item. An unknown name is a mistake of the program.
func (p Profile) Of(name string) Answer {
	item, known := items[name]
	if !known {
		panic("there is no profile item " + name)
	}
	answer := Answer{Item: item, Won: Source{Dorvet, "", item.Default}}
	for _, layer := range p.layers {
		if value, set := layer.Values[name]; set {
			answer.Beaten = append([]Source{answer.Won}, answer.Beaten...)
			answer.Won = Source{layer.Scope, layer.Subject, value}
		}
	}
	return answer
}

// Text is the value of an item as it is kept.
func (p Profile) Text(name string) string { return p.Of(name).Won.Value }

// BillingTerms are the values that a draft took over, with where each was from.
type BillingTerms map[string]Source

// Choices are the values of every item that a draft takes over.
func (p Profile) Choices() BillingTerms {
	taken := BillingTerms{}
	for _, item := range Items {
		if item.OnInvoice {
			taken[item.Name] = p.Of(item.Name).Won
		}
	}
	return taken
}

// Of is the source of a choice. A draft that is older than the item has its
// default. An unknown name is a mistake of the program.
func (c BillingTerms) Of(name string) Source {
	item, known := items[name]
	if !known {
		panic("there is no profile item " + name)
	}
	if source, taken := c[name]; taken {
		return source
	}
	return Source{Dorvet, "", item.Default}
}

// Text is a choice's value as it is kept.
func (c BillingTerms) Text(name string) string { return c.Of(name).Value }

// Percent is the value of an item that is a percentage.
func (c BillingTerms) Percent(name string) money.Percent {
	n, _ := money.ParseFixed(c.Text(name), money.Point, 4) // [Item.Parse] has let it in
	return money.Percent(n)
}

// Amount is the value of an item that is an amount, in minor units of a
// currency; ok is false where nothing is set.
func (c BillingTerms) Amount(name string, in money.Currency) (minor int64, ok bool, err error) {
	text := c.Text(name)
	if text == "" {
		return 0, false, nil
	}
	decimals, err := in.Decimals()
	if err != nil {
		return 0, false, err
	}
	if minor, err = money.ParseFixed(text, money.Point, decimals); err != nil {
		return 0, false, refusal.Errorf("%s has %d decimals: %q can't be an amount in it", in, decimals, text)
	}
	return minor, true, nil
}

// OwnOf reports whether the value was set on a layer itself, not inherited.
func (a Answer) OwnOf(scope Scope) bool { return a.Won.Scope == scope }

// Inherited is what would hold if the layer's own value were given back.
func (a Answer) Inherited(scope Scope) Source {
	if a.Won.Scope == scope && len(a.Beaten) > 0 {
		return a.Beaten[0]
	}
	return a.Won
}

// In says where the value comes from, in words.
func (s Source) In() string {
	switch {
	case s.Scope == Dorvet:
		return "the default"
	case s.Scope == Firm:
		return "from the firm"
	case s.Scope == Invoice:
		return "on this invoice only"
	}
	return strings.TrimSpace(fmt.Sprintf("from the %s %s", s.Scope, s.Subject))
}

// Explain says which value holds and what it replaced.
func (a Answer) Explain() explain.Step {
	step := explain.Step{Label: a.Item.Label, Detail: a.Won.In(), Figure: shown(a.Won.Value)}
	for _, beaten := range a.Beaten {
		step.Steps = append(step.Steps, explain.Step{Label: "in place of", Detail: beaten.In(), Figure: shown(beaten.Value)})
	}
	return step
}

func shown(value string) string {
	if value == "" {
		return "none"
	}
	return value
}
