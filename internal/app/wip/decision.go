package wip

import (
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	core "dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Decision is what is decided on unbilled work.
type Decision struct {
	Kind         string  `json:"kind" enum:"hold,release,write,write_off,no_charge,divide,move"`
	Until        day.Day `json:"until,omitempty" format:"date" doc:"of a hold; nothing: until somebody releases it"`
	To           string  `json:"to,omitempty" enum:"hours,rate,amount" doc:"what Value is"`
	Value        string  `json:"value,omitempty" maxLength:"30" doc:"as typed: 1:30, 120.00"`
	Stays        bool    `json:"stays,omitempty" doc:"what is written down stays unbilled in place of being lost"`
	EngagementID int64   `json:"engagementId,omitempty" doc:"to which it moves"`
	Reason       string  `json:"reason" maxLength:"500"`
}

// Taken is what a decision did, or would do.
type Taken struct {
	ActID   int64          `json:"actId" doc:"it can be undone by it"`
	Entries int            `json:"entries"`
	Before  []money.Amount `json:"before" doc:"to bill of them, one for each currency"`
	After   []money.Amount `json:"after"`
	Said    string         `json:"said"`
}

// Said are amounts in the words of a history.
func Said(sums []money.Amount) string {
	words := []string{}
	for _, sum := range sums {
		words = append(words, sum.String()+" "+string(sum.Currency))
	}
	return strings.Join(words, ", ")
}

// complete refuses a decision that does not say enough.
func (d *Decision) complete() error {
	if d.Reason = strings.TrimSpace(d.Reason); d.Reason == "" && (d.Kind == Write && !d.Stays || d.Kind == WriteOff || d.Kind == NoCharge) {
		return app.RefuseField("reason", "This gives money away: say why, for whoever looks at it later.")
	}
	if (d.Kind == Write || d.Kind == DivideIt) && d.Value == "" {
		return app.RefuseField("value", "Give hours like 1:30, a rate, or an amount.")
	}
	if d.Kind == DivideIt && d.To == "rate" {
		return app.RefuseField("to", "Work is divided by hours or by an amount.")
	}
	return nil
}

// words say what was decided, for the history.
func (t *taking) words(n int) string {
	of := entries(n)
	switch t.d.Kind {
	case Hold:
		if t.d.Until.IsZero() {
			return "Put " + of + " on hold"
		}
		return "Put " + of + " on hold until " + t.d.Until.Long()
	case Release:
		return "Released " + of
	case Write:
		switch {
		case t.up && !t.down:
			return "Wrote " + of + " up"
		case t.up:
			return "Wrote " + of + " down and up"
		case t.d.Stays:
			return "Took a part of " + of + ", the rest stays unbilled"
		}
		return "Wrote " + of + " down"
	case WriteOff:
		return "Wrote " + of + " off"
	case NoCharge:
		return "Put " + of + " at no charge"
	case DivideIt:
		return "Divided " + of
	}
	return "Moved " + of
}

// target reads what work is written to, in its currency.
func (d Decision) target(tx *store.DB, c money.Currency) (core.Target, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return core.Target{}, err
	}
	switch d.To {
	case "hours":
		minutes, err := worktime.ParseDuration(d.Value, firm.Mark())
		return core.Target{Minutes: &minutes}, app.InField("value", err)
	case "rate":
		n, err := money.ParseFixed(strings.TrimSuffix(strings.ReplaceAll(d.Value, " ", ""), "/h"), firm.Mark(), 4)
		if err == nil && n < 0 {
			err = refusal.Errorf("a rate is never negative")
		}
		rate := money.Rate(n)
		return core.Target{PerHour: &rate}, app.InField("value", err)
	}
	decimals, err := c.Decimals()
	if err != nil {
		return core.Target{}, err
	}
	n, err := money.ParseFixed(d.Value, firm.Mark(), decimals)
	if err == nil && n < 0 {
		err = refusal.Errorf("work is never worth less than nothing: write it off, or put it at no charge")
	}
	return core.Target{Amount: &money.Amount{Minor: n, Currency: c}}, app.InField("value", err)
}
