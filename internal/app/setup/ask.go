package setup

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Asked is an hour of work about which somebody asks what it costs.
type Asked struct {
	PersonID     int64   `json:"personId" minimum:"1"`
	EngagementID int64   `json:"engagementId" minimum:"1"`
	ServiceID    int64   `json:"serviceId,omitempty"`
	PhaseID      int64   `json:"phaseId,omitempty"`
	Day          day.Day `json:"day" format:"date"`
}

// HourPrice answers: the rate that wins with those it beats, what anybody would
// pay, and what the hour costs the firm.
type HourPrice struct {
	Currency money.Currency `json:"currency"`
	Billed   RateAnswer     `json:"billed"`
	Standard RateAnswer     `json:"standard"`
	Cost     RateAnswer     `json:"cost"`
}

// RateAnswer is a rate that holds, and why.
type RateAnswer struct {
	PerHour string       `json:"perHour" doc:"empty where no rate holds"`
	Source  string       `json:"source"`
	Beaten  []BeatenRate `json:"beaten"`
	Steps   explain.Step `json:"steps"`
}

// BeatenRate is a rate that would hold if the winner were not there.
type BeatenRate struct {
	PerHour string  `json:"perHour"`
	Source  string  `json:"source"`
	From    day.Day `json:"from"`
}

// AskRate finds what an hour would cost, and why.
func AskRate(ctx context.Context, a *app.App, actor app.Actor, asked Asked) (*HourPrice, error) {
	tx := a.Read(ctx, actor)
	g, err := EngagementSeen(tx, asked.EngagementID)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	if asked.Day.IsZero() {
		asked.Day = a.Clock.Today()
	}
	subject := store.RateSubject{Kind: billing, Currency: g.Currency, ServiceID: asked.ServiceID, PersonID: asked.PersonID,
		EngagementID: g.ID, PhaseID: asked.PhaseID}
	rows, err := store.RatesFor(tx, subject)
	if err != nil {
		return nil, err
	}
	subject.Kind, subject.Currency = costing, firm.Currency
	costs, err := store.RatesFor(tx, subject)
	price := &HourPrice{Currency: g.Currency, Billed: answerOf(rate.Resolve(asked.Day, g.Currency, rows)),
		Standard: answerOf(rate.Standard(asked.Day, g.Currency, rows))}
	if !actor.SeesCosts() { // what people cost is for those who set it up, and for the owner
		price.Cost = RateAnswer{Beaten: []BeatenRate{}}
	} else {
		price.Cost = answerOf(rate.Resolve(asked.Day, firm.Currency, costs))
	}
	return price, err
}

func answerOf(r rate.Resolution) RateAnswer {
	answer := RateAnswer{Source: r.Source(), Beaten: []BeatenRate{}, Steps: r.Explain()}
	if perHour, ok := r.PerHour(); ok {
		answer.PerHour = perHour.String()
	}
	for _, row := range r.Beaten {
		answer.Beaten = append(answer.Beaten, BeatenRate{row.PerHour.String(), row.Source(), row.From})
	}
	return answer
}
