package pricing

import (
	"context"
	"fmt"
	"strings"

	core "dorvet/core/pricing"
	"dorvet/core/wording"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

func profileText(layers []profile.Layer, name string) string {
	return profile.Stack(layers...).Text(name)
}

// Calendar is every bill that a tier would make, and how each total was made.
type Calendar struct {
	Tier  string                  `json:"tier"`
	Bills []PageBill              `json:"bills"`
	Net   string                  `json:"net"`
	Gross string                  `json:"gross"`
	Label string                  `json:"label"`
	Steps map[string]explain.Step `json:"steps" doc:"by the name of the total"`
}

// CalendarOf shows the bills of a tier, with no option or with every one.
func CalendarOf(ctx context.Context, a *app.App, actor app.Actor, id int64, tier int, everything bool) (*Calendar, error) {
	b, p, c, err := opening(a.Read(ctx, actor), a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	if tier < 0 || tier >= len(c.Offer.Tiers) {
		return nil, app.Refuse(app.NotFound, "There is no such tier.")
	}
	if p.State == core.Accepted {
		c.ShownFor = p.AnsweredDay
	}
	computed, err := b.price(c)
	if err != nil {
		return nil, app.InField("lines", err)
	}
	r := computed.none[tier]
	if everything {
		r = computed.all[tier]
	}
	sum, label := r.FirstYear, "First year"
	if r.WholeTerm != nil {
		sum, label = *r.WholeTerm, fmt.Sprintf("Whole term of %d months", c.Offer.TermMonths)
	}
	steps := stepsOf(c.Offer, r, computed.all[tier])
	if !b.costs {
		delete(steps, "earns")
		delete(steps, "cost")
	}
	return &Calendar{Tier: c.Offer.Tiers[tier].Name, Bills: billRows(c.Offer, r), Net: sum.Net.String(), Gross: sum.Gross.String(),
		Label: label, Steps: steps}, nil
}

func stepsOf(o core.Offer, r, all core.Result) map[string]explain.Step {
	steps := map[string]explain.Step{"acceptance": o.Explain("On acceptance", r.Acceptance),
		"once":   o.Explain("Everything billed once", r.Once),
		"yearly": o.Explain("Recurring, in the first year", r.Yearly), "firstYear": o.Explain("First year", r.FirstYear),
		"firstYearGross": o.ExplainGross("First year", r.FirstYear), "firstYearTax": o.ExplainTax("Tax of the first year", r.FirstYear),
		"firstYearAll": o.Explain("First year, with every option", all.FirstYear),
		"earns":        r.Earns.Explain(o), "cost": r.Earns.ExplainCost(o), "deposits": explainDeposits(o, r)}
	for _, each := range r.Recurring {
		steps[eachName(each.Frequency)] = explainEach(o, each)
	}
	if r.WholeTerm != nil {
		steps["wholeTerm"] = o.Explain("Whole term", *r.WholeTerm)
		steps["wholeTermGross"] = o.ExplainGross("Whole term", *r.WholeTerm)
		steps["wholeTermAll"] = o.Explain("Whole term, with every option", *all.WholeTerm)
	}
	return steps
}

func explainDeposits(o core.Offer, r core.Result) explain.Step {
	step := explain.Step{Label: "Deposits", Detail: "parts of later bills; asked without tax and held for the client",
		Figure: r.Deposits.String()}
	for _, bill := range r.Once.Bills {
		for _, c := range bill.Charges {
			if !c.Deposit.IsZero() {
				step.Steps = append(step.Steps, explain.Step{Label: o.Lines[c.Line].Description,
					Detail: fmt.Sprintf("%s %% of %s", o.Lines[c.Line].Rule.Deposit, c.Net), Figure: c.Deposit.String()})
			}
		}
	}
	return step
}

func explainEach(o core.Offer, each core.PerPeriod) explain.Step {
	step := explain.Step{Label: wording.Capital(each.Frequency.String()), Detail: timesOrNone(each.Times), Figure: each.Net.String()}
	for _, bill := range each.Bills {
		for _, c := range bill.Charges {
			step.Steps = append(step.Steps, explain.Step{Label: o.Lines[c.Line].Description, Figure: c.Net.String()})
		}
		if off := bill.Off(); !off.IsZero() {
			step.Steps = append(step.Steps, explain.Step{Label: "Discount", Figure: off.Neg().String()})
		}
	}
	return step
}

// timesOrNone says how often, if that is one number.
func timesOrNone(n int) string {
	if n == 0 {
		return "not all of its lines equally often"
	}
	return times(n)
}

// Fee answers which fee would give a margin.
type Fee struct {
	Fee    string `json:"fee" doc:"as it is typed"`
	Words  string `json:"words"`
	Now    string `json:"now,omitempty" doc:"the margin at present, in whole percent"`
	Worth  string `json:"worth,omitempty" doc:"the time at standard rates, as it is typed; of one line"`
	Margin string `json:"margin"`
}

// AskFee finds the price of a line with which a tier's expected time of one line
// (or, for no line, of the whole tier) leaves a margin.
func AskFee(ctx context.Context, a *app.App, actor app.Actor, id int64, tier, line int, marginTyped string) (*Fee, error) {
	b, p, c, err := opening(a.Read(ctx, actor), a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	if !b.costs {
		return nil, app.Refuse(app.Forbidden, "What work costs the firm is for administrators and owners, and for leads "+
			"whom they allow to "+
			"see it. Ask one of them for a fee with a margin.")
	}
	n, err := money.ParseFixed(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(marginTyped), "%")), b.mark, 4)
	if err != nil {
		return nil, app.InField("margin", err)
	}
	computed, err := b.price(c)
	if err := app.Unless(err, app.Refuse(app.Invalid, "There is no such tier."),
		func() bool { return !(tier < 0 || tier >= len(computed.none)) }); err != nil {
		return nil, err
	}
	cost, worth, words, err := costOf(c.Offer, computed.none[tier].Earns, line)
	if err != nil {
		return nil, err
	}
	step := int64(0)
	if b.firm.FeeStep != nil && p.Currency == b.firm.Currency {
		step = *b.firm.FeeStep
	}
	fee, err := core.FeeFor(cost, money.Percent(n), step)
	if err != nil {
		return nil, app.InField("margin", err)
	}
	found := &Fee{Fee: money.TypeFixed(fee.Minor, b.mark, b.decimals, b.decimals), Margin: money.Percent(n).String(),
		Words: fmt.Sprintf("%s %s for a cost of %s", fee, words, cost)}
	found.Now = marginNow(computed.none[tier].Earns, line)
	if !worth.IsZero() {
		found.Worth = money.TypeFixed(worth.Minor, b.mark, b.decimals, b.decimals)
	}
	return found, nil
}

// marginNow is the margin of a line, or of a tier (-1), as it is priced.
func marginNow(e core.Earning, line int) string {
	margin := e.Margin
	for _, l := range e.ByLine {
		if l.Line == line {
			margin = l.Margin
		}
	}
	if margin == nil {
		return ""
	}
	return rounded(*margin)
}

// costOf is the cost of a tier's time, or of one time of a line with what that
// time is worth at standard rates.
func costOf(o core.Offer, e core.Earning, line int) (cost, worth money.Amount, words string, err error) {
	if line < 0 {
		if e.Minutes == 0 {
			return e.Cost, worth, "", app.RefuseField("margin", "No time is expected in this tier yet: give expected hours on its lines.")
		}
		return e.Cost, worth, "in all", nil
	}
	for _, l := range e.ByLine {
		if l.Line == line {
			words = "each time"
			if o.Lines[line].Rule.IsOnce() {
				words = "once"
			}
			return l.Each, l.Worth, words, nil
		}
	}
	return cost, worth, "", app.RefuseField("margin", "This line has no expected time in the tier: give its hours first.")
}

// Reply answers a client's question; the answer is mailed and stands on the page.
func Reply(ctx context.Context, a *app.App, r app.Request, id, questionID, version int64, text string) (*Proposal, error) {
	return app.Do(ctx, a, r, "answer question", []any{id, questionID, version, text}, func(tx *app.Tx) (*Proposal, error) {
		p, err := visibleProposal(tx.DB, tx.Actor, id)
		if err != nil {
			return nil, err
		}
		q, err := store.Get[store.ProposalQuestion](tx.DB, questionID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "question"), func() bool { return q.ProposalID == p.ID }); err != nil {
			return nil, err
		}
		if q.Version != version {
			return nil, store.ErrStale
		}
		if text = strings.TrimSpace(text); text == "" {
			return nil, app.RefuseField("text", "Type the answer first.")
		}
		q.Answer, q.AnsweredAt, q.PersonID = text, &tx.Now, &tx.Actor.PersonID
		tx.Describe(nil, nil, "Answered %s: %s", q.Name, text)
		tx.LinkTo(ofProposal, p.ID)
		if err := store.Save(tx.DB, q); err != nil {
			return nil, err
		}
		if err := correspondence.Queue(tx, store.Mail{ClientID: &p.ClientID, ProposalID: &p.ID, ToName: q.Name, ToMail: q.Mail,
			Subject: "Your question about " + p.Title,
			Body:    fmt.Sprintf("Dear %s,\n\nyou asked: %s\n\n%s\n", q.Name, q.Text, text)}); err != nil {
			return nil, err
		}
		return one(tx.DB, tx.Today, tx.Actor, id)
	})
}
