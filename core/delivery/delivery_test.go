package delivery

import (
	"fmt"
	"slices"
	"testing"
)

// Source: the rules of this product: contacts of the engagement that receive it, else the client's, else its own address.
func TestWhoGetsADocument(t *testing.T) {
	client := Contact{Name: "Port", Mail: "office@port.example"}
	main := Contact{Name: "Ann", Mail: "ann@port.example", Copies: "book@port.example", Gets: []Kind{Invoice, Statement}}
	second := Contact{Name: "Cy", Mail: "cy@port.example", Gets: []Kind{Reminder}}
	there := Contact{Name: "Bo", Mail: "bo@port.example", EngagementID: 7, Gets: []Kind{Invoice}}
	again := Contact{Name: "Ann of 8", Mail: "ANN@port.example", Gets: []Kind{Invoice}}
	for name, c := range map[string]struct {
		kind     Kind
		on       []int64
		contacts []Contact
		want     []string
	}{
		"the engagement's before the client's": {Invoice, []int64{7}, []Contact{main, there}, []string{"bo@port.example"}},
		"of another engagement":                {Invoice, []int64{8}, []Contact{main, there}, []string{"ann@port.example"}},
		"of a credit note, who gets invoices":  {CreditNote, []int64{7}, []Contact{main, there}, []string{"bo@port.example"}},
		"who receives nothing of it":           {Reminder, []int64{7}, []Contact{main, there, second}, []string{"cy@port.example"}},
		"each address once":                    {Invoice, nil, []Contact{main, again}, []string{"ann@port.example"}},
		"the client itself":                    {Invoice, nil, []Contact{second}, []string{"office@port.example"}},
		"without an address":                   {Invoice, nil, []Contact{{Name: "Dee", Gets: []Kind{Invoice}}}, []string{"office@port.example"}},
	} {
		got := []string{}
		for _, a := range To(c.kind, c.on, c.contacts, client) {
			got = append(got, a.Mail)
		}
		if !slices.Equal(got, c.want) {
			t.Errorf("%s: %v", name, got)
		}
	}
	if got := To(Invoice, nil, nil, Contact{Name: "Port"}); len(got) != 0 {
		t.Errorf("somebody without an address gets it: %v", got)
	}
	typed, err := Typed(`"Ann, A." <ann@port.example>, bo@port.example`)
	if err != nil || len(typed) != 2 || typed[0].Name != "Ann, A." || typed[1].Mail != "bo@port.example" {
		t.Errorf("%+v, %v", typed, err)
	}
	if _, err := Typed("ann"); err == nil {
		t.Error("a word is an address")
	}
}

// Each call in each state: taken, or refused with what to do instead.
func TestWhatCanBeDoneToADelivery(t *testing.T) {
	takes := map[string]State{"queued call back": CalledBack, "queued post": Posted, "taken send again": Queued, "arrived send again": Queued,
		"failed send again": Queued, "called_back send again": Queued, "posted send again": Queued, "saved send again": Queued}
	for _, s := range []State{Queued, Taken, Arrived, Failed, CalledBack, Posted, Saved} {
		for _, c := range []Call{CallBack, Again, Stamp} {
			got, err := s.After(c)
			want, is := takes[fmt.Sprint(s, " ", c)]
			if is != (err == nil) || is && got != want {
				t.Errorf("%s, %s: %s, %v", s, c, got, err)
			}
		}
	}
}

func TestHowFarADocumentHasCome(t *testing.T) {
	for _, c := range []struct {
		steps []Step
		want  Standing
		out   bool
	}{
		{nil, Nowhere, false},
		{[]Step{{State: CalledBack}}, Nowhere, false},
		{[]Step{{State: Failed}, {State: CalledBack}}, "failed", false},
		{[]Step{{State: Failed}, {State: Queued}}, "queued", false},
		{[]Step{{State: Posted}, {State: Failed}}, "posted", true},
		{[]Step{{State: Taken}, {State: Arrived}}, "arrived", true},
		{[]Step{{State: Taken, Opened: true}, {State: Arrived}}, Opened, true},
		{[]Step{{State: Arrived, Opened: true, Fetched: true}, {State: Queued}}, Fetched, true},
	} {
		if got := Handed(c.steps); got != c.want || got.IsOut() != c.out {
			t.Errorf("%v: %q, %t", c.steps, got, got.IsOut())
		}
	}
	if Before.IsOut() {
		t.Error("what was never noted is known to be out")
	}
}
