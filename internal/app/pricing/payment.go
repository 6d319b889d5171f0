package pricing

import (
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// How bills of a proposal are paid, in the forms of the billing profile; empty is as the client's are.
var (
	dueIn  = profile.Item{Label: "Payment terms", Form: profile.Terms, Optional: true}
	paidIn = profile.Item{Label: "Paid in instalments", Form: profile.Schedule, Optional: true}
)

func (b *proposalContext) parsePayment(t TypedProposal, c *Content) (err error) {
	if c.DueIn, err = dueIn.Parse(t.DueIn, b.mark); err != nil {
		return app.InField("dueIn", err)
	}
	c.PaidIn, err = paidIn.Parse(t.PaidIn, b.mark)
	return app.InField("paidIn", err)
}

// dueInWords are payment terms as they are read, and typed again.
func dueInWords(kept string) string {
	terms, err := schedule.ParseTerms(kept)
	if err != nil || kept == "" {
		return kept
	}
	return terms.String()
}

// paymentWords say when a bill is due, and in which instalments it is paid: as the proposal says, else
// as the client's bills are.
func (b *proposalContext) paymentWords(clientID int64, c Content) (string, error) {
	p, err := profiles.Profile(b.tx, clientID, 0)
	if err != nil {
		return "", err
	}
	due, paid := c.DueIn, c.PaidIn
	if due == "" {
		due = p.Text("terms")
	}
	if paid == "" {
		paid = p.Text("schedule")
	}
	terms, err := schedule.ParseTerms(due)
	if err != nil || paid == "" {
		return terms.String(), err
	}
	plan, err := schedule.ParsePlan(paid, money.Point)
	return terms.String() + "; " + plan.Words(), err
}

// keepPayment gives an engagement how its bills are paid, where the proposal says it.
func keepPayment(tx *store.DB, engagementID int64, c Content) error {
	for item, value := range map[string]string{"terms": c.DueIn, "schedule": c.PaidIn} {
		if value == "" {
			continue
		}
		if err := store.SetProfileValue(tx, profile.Engagement, engagementID, item, value, false); err != nil {
			return err
		}
	}
	return nil
}
