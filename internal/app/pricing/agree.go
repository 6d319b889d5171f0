package pricing

import (
	"encoding/json"
	"fmt"
	"slices"

	core "dorvet/core/pricing"

	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// plan is what an acceptance made.
type plan struct {
	engagements       []int64
	planned, deposits int64
}

// work is one engagement to be made: some of the chosen lines.
type work struct {
	name    string
	hourly  bool // billed as worked
	lines   []core.InTier
	charges []core.Charge
}

// agree makes what was agreed: a prospect becomes a client, and each piece of
// work an engagement with its plan, budget and rates.
func (b *proposalContext) agree(tx *app.Tx, p *store.Proposal, c Content, r core.Result) (plan, error) {
	made := plan{}
	if err := welcome(tx, p.ClientID); err != nil {
		return made, err
	}
	works := worksOf(c, r)
	if len(works) == 0 {
		return made, app.RefuseField("options", "Nothing is chosen: choose at least one service.")
	}
	for _, w := range works {
		id, code, err := b.engage(tx, p, c, r, w)
		if err != nil {
			return made, err
		}
		made.engagements = append(made.engagements, id)
		planned, deposits, err := b.charge(tx, p, c, id, w)
		if err != nil {
			return made, err
		}
		made.planned, made.deposits = made.planned+planned, made.deposits+deposits
		if err := b.allow(tx, c, r, w, code); err != nil {
			return made, err
		}
	}
	return made, nil
}

// welcome makes a prospect a client who is being onboarded.
func welcome(tx *app.Tx, clientID int64) error {
	status, err := store.StatusOf(tx.DB, clientID)
	if err != nil || status == nil || status.Name != "prospect" {
		return err
	}
	return setup.Onboard(tx, clientID)
}

// worksOf sorts the chosen lines by the engagement that they name; what is billed
// as worked is apart, because time is covered by a fee or it is not.
func worksOf(c Content, r core.Result) []work {
	works := []work{}
	for _, l := range r.Lines {
		if !l.Chosen {
			continue
		}
		name, hourly := c.Offer.Lines[l.Line].Work, l.AsWorked()
		if name == "" {
			name = c.ForClient()
		}
		i := slices.IndexFunc(works, func(w work) bool { return w.name == name && w.hourly == hourly })
		if i < 0 {
			works = append(works, work{name: name, hourly: hourly})
			i = len(works) - 1
		}
		works[i].lines = append(works[i].lines, l)
	}
	for _, bill := range r.Calendar {
		for _, charge := range bill.Charges {
			i := slices.IndexFunc(works, func(w work) bool {
				return slices.ContainsFunc(w.lines, func(l core.InTier) bool { return l.Line == charge.Line })
			})
			works[i].charges = append(works[i].charges, charge)
		}
	}
	return works
}

// engage makes one engagement.
func (b *proposalContext) engage(tx *app.Tx, p *store.Proposal, c Content, r core.Result, w work) (id int64, code string, err error) {
	client, err := store.Get[store.Client](tx.DB, p.ClientID)
	if err != nil {
		return 0, "", err
	}
	lead, err := store.Get[store.Person](tx.DB, p.LeadID)
	if err != nil {
		return 0, "", err
	}
	entity, err := store.Get[store.IssuingEntity](tx.DB, p.EntityID)
	if err != nil {
		return 0, "", err
	}
	name := w.name
	if w.hourly && slices.ContainsFunc(r.Lines, func(l core.InTier) bool { return l.Chosen && !l.AsWorked() }) {
		name += ", by the hour"
	}
	arrangement, fee, period := w.arrangement(c.Offer)
	typed := map[string]string{"client": client.Code, "name": name, "arrangement": arrangement, "lead": lead.Initials,
		"entity":   entity.Name,
		"currency": string(p.Currency), "opened": r.Start.String(),
		"fee_period": period, "stage": "not_started", "notes": "From the proposal " + p.NumberText}
	if arrangement != setup.Hourly && fee > 0 {
		typed["fee"] = money.TypeFixed(fee, b.mark, b.decimals, b.decimals)
	}
	if id, err = registry.Make(tx, "engagements", typed); err != nil {
		return 0, "", err
	}
	g, err := store.Get[store.Engagement](tx.DB, id)
	if err != nil {
		return 0, "", err
	}
	g.ProposalID = &p.ID
	if err := store.Save(tx.DB, g); err != nil {
		return 0, "", err
	}
	if percent := c.Offer.Discount.Percent; percent != 0 {
		if err := store.SetProfileValue(tx.DB, profile.Engagement, id, "discount", money.TypeFixed(int64(percent), money.Point, 4, 0),
			false); err != nil {
			return 0, "", err
		}
	}
	if err := keepPayment(tx.DB, id, c); err != nil {
		return 0, "", err
	}
	if cycle := w.cycle(); cycle != "" {
		if err := store.SetProfileValue(tx.DB, profile.Engagement, id, "cycle", cycle, false); err != nil {
			return 0, "", err
		}
	}
	if taxCode := w.taxCode(c.Offer); taxCode != "" {
		err = store.SetProfileValue(tx.DB, profile.Engagement, id, "tax_code", taxCode, false)
	}
	return id, g.Code, err
}

// arrangement says how the engagement is billed: by the hour, a recurring fee if
// there is one frequency and nothing else, else a fixed fee of everything.
func (w work) arrangement(o core.Offer) (arrangement string, fee int64, period string) {
	if w.hourly {
		return setup.Hourly, 0, ""
	}
	each, all := int64(0), int64(0)
	frequency, recurring := core.Frequency{}, true
	for _, l := range w.lines {
		f := core.Frequency{Every: l.Rule.Every, Unit: l.Rule.Unit}
		recurring = recurring && !l.Rule.IsOnce() && (frequency == core.Frequency{} || frequency == f)
		frequency, each = f, each+l.Priced.Net.Minor
	}
	for _, c := range w.charges {
		all += c.Net.Minor
	}
	if period = feePeriods[frequency]; recurring && period != "" {
		return setup.Recurring, each, period
	}
	return setup.FixedFee, all, ""
}

// cycle is how often hours are billed, where all lines say the same; nothing: as the client's work.
func (w work) cycle() string {
	first := w.lines[0].Rule
	for _, l := range w.lines {
		if !l.AsWorked() || l.Rule.When != core.Recurring || l.Rule.Every != first.Every || l.Rule.Unit != first.Unit {
			return ""
		}
	}
	return cycles[core.Frequency{Every: first.Every, Unit: first.Unit}]
}

var cycles = map[core.Frequency]string{{Every: 1, Unit: core.Month}: "month", {Every: 3, Unit: core.Month}: "quarter",
	{Every: 6, Unit: core.Month}: "half", {Every: 12, Unit: core.Month}: "year"}

var feePeriods = map[core.Frequency]string{{Every: 1, Unit: core.Month}: "month", {Every: 3, Unit: core.Month}: "quarter",
	{Every: 12, Unit: core.Month}: "year"}

// taxCode is the code of all lines, or nothing if they differ.
func (w work) taxCode(o core.Offer) string {
	code := o.Lines[w.lines[0].Line].TaxCode
	for _, l := range w.lines {
		if o.Lines[l.Line].TaxCode != code {
			return ""
		}
	}
	return code
}

// charge writes the plan: the lines as agreed, and every amount with its day.
func (b *proposalContext) charge(tx *app.Tx, p *store.Proposal, c Content, engagementID int64, w work) (planned, deposits int64,
	err error) {
	lines := []store.PlanLine{}
	for i, l := range w.lines {
		text, err := json.Marshal(struct {
			core.Line
			Net money.Amount `json:"net"`
		}{c.Offer.Lines[l.Line], l.Priced.Net})
		if err != nil {
			return 0, 0, err
		}
		lines = append(lines, store.PlanLine{EngagementID: engagementID, ProposalID: p.ID, Position: i, Content: string(text)})
	}
	charges := []store.Charge{}
	for i, charge := range w.charges {
		if charge.Estimate {
			continue
		}
		line := c.Offer.Lines[charge.Line]
		row := store.Charge{EngagementID: engagementID, ProposalID: &p.ID, Position: i, Kind: "fixed", Text: line.Description,
			Amount: charge.Net.Minor, Currency: p.Currency, TaxCodeID: b.codeIDs[line.TaxCode],
			BillDay: charge.Bill, Event: charge.Event, Open: charge.Open, ByHand: charge.Hand, Paused: charge.Paused, State: "planned"}
		if charge.Period != nil {
			row.Kind, row.FromDay, row.ToDay = "recurring", charge.Period.From, charge.Period.To
		}
		planned += row.Amount
		charges = append(charges, row)
		if !charge.Deposit.IsZero() {
			deposits += charge.Deposit.Minor
			row.Kind, row.Text, row.Amount, row.BillDay, row.Event, row.ByHand = "deposit", "Deposit: "+line.Description,
				charge.Deposit.Minor,
				tx.Today, "", false
			charges = append(charges, row)
		}
	}
	if err := store.Insert(tx.DB, lines); err != nil {
		return 0, 0, err
	}
	return planned, deposits, store.Insert(tx.DB, charges)
}

// allow makes the budget that the expected time gives, and the agreed rates of
// what is billed as worked.
func (b *proposalContext) allow(tx *app.Tx, c Content, r core.Result, w work, code string) error {
	minutes := int64(0)
	for _, part := range r.Earns.ByLine {
		if slices.ContainsFunc(w.lines, func(l core.InTier) bool { return l.Line == part.Line }) {
			minutes += part.Minutes
		}
	}
	from := r.Start.String()
	if minutes > 0 {
		typed := map[string]string{"engagement": code, "measure": "hours", "hours": b.typedHours(minutes), "from": from}
		if r.WholeTerm == nil && slices.ContainsFunc(w.lines, func(l core.InTier) bool { return !l.Rule.IsOnce() }) {
			typed["renewal"] = "year"
		}
		if _, err := registry.Make(tx, "budgets", typed); err != nil {
			return err
		}
	}
	if !w.hourly {
		return nil
	}
	rated := map[int64]bool{}
	for _, l := range w.lines {
		line := c.Offer.Lines[l.Line]
		if rated[line.ServiceID] {
			continue
		}
		rated[line.ServiceID] = true
		typed := map[string]string{"engagement": code, "per_hour": money.TypeFixed(int64(l.Priced.Price), b.mark, 4, 2),
			"currency": string(b.currency), "from": from}
		if line.ServiceID != 0 {
			service, err := store.Get[store.Service](tx.DB, line.ServiceID)
			if err != nil {
				return err
			}
			typed["service"] = service.Code
		}
		if _, err := registry.Make(tx, "rates", typed); err != nil {
			return err
		}
	}
	return nil
}

func (b *proposalContext) typedHours(minutes int64) string {
	n, err := money.MulDiv(minutes, core.One, 60)
	if err != nil {
		return fmt.Sprint(minutes / 60)
	}
	return money.TypeFixed(n, b.mark, 4, 0)
}
