package pricing

import (
	"context"
	"fmt"
	"slices"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// ProposalList is the desk of proposals.
type ProposalList struct {
	Rows   []ProposalRow  `json:"rows"`
	Out    explain.Totals `json:"out" doc:"first year of those that can be answered, before tax"`
	Months []MonthWon     `json:"months" doc:"won and lost by month, the last twelve"`
}

// ProposalRow is a proposal on the desk.
type ProposalRow struct {
	ID         int64              `json:"id"`
	Number     string             `json:"number"`
	Name       string             `json:"name"`
	Title      string             `json:"title"`
	Client     string             `json:"client"`
	ClientID   int64              `json:"clientId"`
	Lead       string             `json:"lead"`
	LeadID     int64              `json:"leadId"`
	State      core.ProposalState `json:"state"`
	FirstYear  money.Amount       `json:"firstYear"`
	ValidUntil day.Day            `json:"validUntil"`
	DaysLeft   int                `json:"daysLeft" doc:"to answer, of those that are out"`
	SentDay    day.Day            `json:"sentDay"`
	SeenAt     *time.Time         `json:"seenAt,omitempty"`
	Answered   day.Day            `json:"answered"`
	Questions  int                `json:"questions" doc:"not answered yet"`
}

// MonthWon is what was accepted and declined in a month, in one currency.
type MonthWon struct {
	Month    day.Day      `json:"month" doc:"its first day"`
	Won      money.Amount `json:"won"`
	WonCount int          `json:"wonCount"`
	Lost     money.Amount `json:"lost"`
	LostAs   int          `json:"lostCount"`
}

// Desk lists the proposals that the actor may see; of one client, or all (0).
func Desk(ctx context.Context, a *app.App, actor app.Actor, clientID int64) (*ProposalList, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	rows, err := store.Proposals(tx, clientID)
	if err != nil {
		return nil, err
	}
	list := &ProposalList{Rows: []ProposalRow{}, Out: explain.Totals{}, Months: []MonthWon{}}
	for _, p := range rows {
		row := ProposalRow{ID: p.ID, Number: p.NumberText, Name: p.Name, Title: p.Title, Client: p.Client, ClientID: p.ClientID,
			Lead:   p.Lead,
			LeadID: p.LeadID, State: p.State.On(today, p.ValidUntil),
			FirstYear: money.Amount{Minor: p.FirstYear, Currency: p.Currency}, ValidUntil: p.ValidUntil, SentDay: p.SentDay,
			SeenAt:   p.SeenAt,
			Answered: p.AnsweredDay, Questions: p.Questions}
		if row.State.IsOut() {
			row.DaysLeft = int(p.ValidUntil - today)
			if err := list.Out.Add("Out, first year", explain.Step{Label: row.Client, Detail: row.Name}, row.FirstYear); err != nil {
				return nil, err
			}
		}
		list.Rows = append(list.Rows, row)
		list.count(row, today)
	}
	slices.SortFunc(list.Months, func(a, b MonthWon) int { return int(b.Month - a.Month) })
	return list, nil
}

// count adds an answered proposal to its month. What expired counts as lost on
// the day after its last.
func (l *ProposalList) count(r ProposalRow, today day.Day) {
	on := r.Answered
	if r.State == core.Expired {
		on = r.ValidUntil + 1
	}
	lost := r.State == core.Declined || r.State == core.Expired
	if (r.State != core.Accepted && !lost) || on < today.OnDayOfMonth(1).AddMonths(-11) {
		return
	}
	month := on.OnDayOfMonth(1)
	i := slices.IndexFunc(l.Months, func(m MonthWon) bool { return m.Month == month && m.Won.Currency == r.FirstYear.Currency })
	if i < 0 {
		l.Months = append(l.Months, MonthWon{Month: month, Won: money.Zero(r.FirstYear.Currency), Lost: money.Zero(r.FirstYear.Currency)})
		i = len(l.Months) - 1
	}
	m := &l.Months[i]
	if lost {
		m.LostAs++
		m.Lost.Minor += r.FirstYear.Minor
		return
	}
	m.WonCount++
	m.Won.Minor += r.FirstYear.Minor
}

// ProposalVersion is an earlier version of a proposal's content.
type ProposalVersion struct {
	Draft int       `json:"draft"`
	At    time.Time `json:"at"`
	Who   string    `json:"who"`
	Words string    `json:"words" doc:"what is different from the one before"`
}

// Versions lists the versions of a proposal, latest first.
func Versions(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]ProposalVersion, error) {
	tx := a.Read(ctx, actor)
	b, _, _, err := opening(tx, a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	drafts, err := store.DraftsOf(tx, id)
	if err != nil {
		return nil, err
	}
	versions := []ProposalVersion{}
	for i, d := range drafts {
		v := ProposalVersion{Draft: d.Draft, At: d.At, Words: "the first"}
		for _, person := range b.people {
			if person.ID == d.PersonID {
				v.Who = person.Name
			}
		}
		if i+1 < len(drafts) {
			if v.Words, err = b.compare(drafts[i+1], d); err != nil {
				return nil, err
			}
		}
		versions = append(versions, v)
	}
	return versions, nil
}

func (b *proposalContext) compare(was, is store.ProposalDraft) (string, error) {
	before, err := readContent(was.Content)
	if err != nil {
		return "", err
	}
	after, err := readContent(is.Content)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("changed: %s", changed(b.difference(before, after))), nil
}

// History is everything that was done to a proposal.
func History(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]app.HistoryRow, error) {
	if _, err := visibleProposal(a.Read(ctx, actor), actor, id); err != nil {
		return nil, err
	}
	return a.History(ctx, actor, ofProposal, id)
}

// PlannedCharge is an amount of an engagement's plan of bills.
type PlannedCharge struct {
	ID     int64        `json:"id"`
	Kind   string       `json:"kind" enum:"fixed,recurring,deposit"`
	Text   string       `json:"text"`
	Amount money.Amount `json:"amount"`
	Bill   day.Day      `json:"bill"`
	Event  string       `json:"event"`
	From   day.Day      `json:"from"`
	To     day.Day      `json:"to"`
	Open   bool         `json:"open"`
	ByHand bool         `json:"byHand"`
	Paused bool         `json:"paused"`
}

// Plan lists the planned bills of an engagement.
func Plan(ctx context.Context, a *app.App, actor app.Actor, engagementID int64) ([]PlannedCharge, error) {
	tx := a.Read(ctx, actor)
	if _, err := setup.EngagementSeen(tx, engagementID); err != nil {
		return nil, err
	}
	charges, err := store.ChargesOf(tx, engagementID)
	plan := []PlannedCharge{}
	for _, c := range charges {
		plan = append(plan, PlannedCharge{c.ID, c.Kind, c.Text, money.Amount{Minor: c.Amount, Currency: c.Currency}, c.BillDay, c.Event,
			c.FromDay, c.ToDay, c.Open, c.ByHand, c.Paused})
	}
	return plan, err
}
