package timekeeping

import (
	"cmp"
	"context"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/safetext"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Time and expenses are read from files and written to them with the same
// columns, so that what was written can be read again.

const (
	timeFile     = "time"
	expensesFile = "expenses"
)

func column(name, label, form string, needed bool, hint string) registry.Field {
	return registry.Field{Name: name, Label: label, Form: form, Needed: needed, Hint: hint}
}

var timeColumns = []registry.Field{
	column("day", "Date", registry.FormDay, true, ""), column("person", "Person", registry.FormRecord, true, "initials or name"),
	column("engagement", "Engagement", registry.FormRecord, true, "code or name"), column("phase", "Phase", registry.FormLine, false, ""),
	column("service", "Service", registry.FormRecord, true, "code or name"), column("started", "From", registry.FormLine, false, ""),
	column("ended", "To", registry.FormLine, false, ""),
	column("worked", "Worked", registry.FormHours, false, "1:30, 1.5 or 90m"),
	column("notBillable", "Not billable of it", registry.FormHours, false, ""),
	column("expected", "Expected", registry.FormHours, false, ""),
	column("treatment", "Billed as", registry.FormLine, false, "billable, outside the fee, no charge, not billable"),
	column("perHour", "Rate of its own", registry.FormRate, false, ""), column("markup", "Mark-up, %", registry.FormPercent, false, ""),
	column("flat", "Flat amount", registry.FormAmount, false, ""),
	column("hold", "On hold", registry.FormLine, false, "released, or the day of release"),
	column("text", "Text", registry.FormLine, false, ""),
	column("note", "Note", registry.FormLine, false, ""), column("reference", "Reference", registry.FormLine, false, ""),
}

var expenseColumns = []registry.Field{
	column("day", "Date", registry.FormDay, true, ""), column("person", "Person", registry.FormRecord, true, "initials or name"),
	column("category", "Category", registry.FormRecord, true, ""),
	column("engagement", "Engagement", registry.FormRecord, false, "code or name; empty: the firm's own cost"),
	column("units", "Units", registry.FormHours, false, ""), column("perUnit", "Price of a unit", registry.FormRate, false, ""),
	column("amount", "Amount", registry.FormAmount, false, "with tax"),
	column("tax", "Tax in it", registry.FormAmount, false, "that is got back"),
	column("currency", "Currency", registry.FormLine, false, "the firm's unless given"),
	column("markup", "Mark-up, %", registry.FormPercent, false, ""),
	column("treatment", "Billed as", registry.FormLine, false, "billable, no charge, not billable"),
	column("paidBy", "Paid by", registry.FormLine, false, "firm or person"), column("used", "Day of use", registry.FormDay, false, ""),
	column("supplier", "Supplier", registry.FormLine, false, ""),
	column("text", "Text", registry.FormLine, false, ""), column("note", "Note", registry.FormLine, false, ""),
	column("reference", "Reference", registry.FormLine, false, ""),
}

func init() {
	registry.ReadFromFiles(timeFile, registry.Reads{One: "time entry", Many: "time entries", About: "Time that was recorded elsewhere.",
		Fields: timeColumns, Take: takeTime,
		TakeBack: func(tx *app.Tx, id int64) error {
			row, err := changeable(tx, id, 0)
			if err != nil {
				return err
			}
			return takeAway(tx, &row.TimeEntry)
		}})
	registry.ReadFromFiles(expensesFile, registry.Reads{One: "expense", Many: "expenses",
		About: "Expenses that were recorded elsewhere, each a purchase of its own.", Fields: expenseColumns, Take: takeExpense,
		TakeBack: func(tx *app.Tx, id int64) error {
			p, shares, err := purchaseAt(tx, id, 0)
			if err != nil {
				return err
			}
			return dropPurchase(tx, p, shares)
		}})
}

// naming is a column that names a record of a kind.
type naming struct{ column, kind string }

// found are the numbers of the records that a row names.
func found(f *registry.Finder, values map[string]string, named ...naming) (map[string]int64, error) {
	ids := map[string]int64{}
	for _, n := range named {
		if values[n.column] == "" {
			continue
		}
		id, err := f.Find(n.kind, values[n.column])
		if err != nil {
			return nil, app.InField(n.column, err)
		}
		ids[n.column] = id
	}
	return ids, nil
}

// complete refuses a row without what is needed, or with a text that is longer than its
// kind.
func complete(values map[string]string, columns []registry.Field) error {
	for name, text := range values {
		most := safetext.MostOfLine
		if name == "note" {
			most = safetext.MostOfNote
		} else if name == "supplier" || name == "reference" {
			most = safetext.MostOfName
		}
		if err := safetext.Within(text, most); err != nil {
			return app.InField(name, err)
		}
	}
	for _, c := range columns {
		if c.Needed && values[c.Name] == "" {
			return app.RefuseField(c.Name, "%s is missing: give one.", c.Label)
		}
	}
	return nil
}

func takeTime(tx *app.Tx, f *registry.Finder, values map[string]string) (int64, error) {
	if err := complete(values, timeColumns); err != nil {
		return 0, err
	}
	ids, err := found(f, values, naming{"person", "people"}, naming{"engagement", "engagements"}, naming{"service", "services"})
	if err != nil {
		return 0, err
	}
	on, err := day.Parse(values["day"])
	if err != nil {
		return 0, app.InField("day", err)
	}
	treatment, err := treatmentSaid(values["treatment"])
	if err != nil {
		return 0, app.InField("treatment", err)
	}
	in := TypedEntry{PersonID: ids["person"], EngagementID: ids["engagement"], ServiceID: ids["service"], Day: on,
		Started: values["started"],
		Ended:   values["ended"],
		Worked:  values["worked"], NotBillable: values["notBillable"], Expected: values["expected"], Treatment: treatment,
		PerHour: values["perHour"], Markup: values["markup"],
		Flat: values["flat"], Hold: values["hold"], Text: values["text"], Note: values["note"], Reference: values["reference"]}
	if in.PhaseID, err = phaseNamed(tx, in.EngagementID, values["phase"]); err != nil {
		return 0, err
	}
	entry, err := record(tx, in)
	if err != nil {
		return 0, err
	}
	return entry.ID, nil
}

// phaseNamed is the phase of an engagement that a name means.
func phaseNamed(tx *app.Tx, engagementID int64, name string) (int64, error) {
	if name == "" {
		return 0, nil
	}
	phases, err := store.PhasesOf(tx.DB, engagementID)
	for _, p := range phases {
		if strings.EqualFold(p.Name, name) {
			return p.ID, nil
		}
	}
	if err != nil {
		return 0, err
	}
	return 0, app.RefuseField("phase", "There is no phase %q on this engagement: choose one that is there, or make it first.", name)
}

// treatmentSaid is a treatment by its name or in words; nothing is billable.
func treatmentSaid(text string) (wip.Treatment, error) {
	for treatment, words := range treatmentWords {
		if strings.EqualFold(text, words) {
			return treatment, nil
		}
	}
	return wip.ParseTreatment(cmp.Or(strings.ToLower(text), string(wip.Billable)))
}

func takeExpense(tx *app.Tx, f *registry.Finder, values map[string]string) (int64, error) {
	if err := complete(values, expenseColumns); err != nil {
		return 0, err
	}
	ids, err := found(f, values, naming{"person", "people"}, naming{"engagement", "engagements"}, naming{"category", "expense-categories"})
	if err != nil {
		return 0, err
	}
	treatment, err := treatmentSaid(values["treatment"])
	if err != nil {
		return 0, app.InField("treatment", err)
	}
	in := TypedPurchase{PersonID: ids["person"], CategoryID: ids["category"], Supplier: values["supplier"], Text: values["text"],
		Reference: values["reference"], Units: values["units"],
		PerUnit: values["perUnit"], Amount: values["amount"], Tax: values["tax"],
		Currency: money.Currency(strings.ToUpper(values["currency"])),
		PaidBy:   cmp.Or(strings.ToLower(values["paidBy"]), "firm"),
		Shares:   []TypedShare{{EngagementID: ids["engagement"], Note: values["note"], Treatment: treatment, Markup: values["markup"]}}}
	if in.PaidBy != "firm" && in.PaidBy != "person" {
		return 0, app.RefuseField("paidBy", "%q did not pay it: write firm or person.", values["paidBy"])
	}
	if in.Day, err = day.Parse(values["day"]); err != nil {
		return 0, app.InField("day", err)
	}
	if values["used"] != "" {
		if in.Shares[0].Day, err = day.Parse(values["used"]); err != nil {
			return 0, app.InField("used", err)
		}
	}
	p, err := recordPurchase(tx, in)
	if err != nil {
		return 0, outOfShare(err)
	}
	return p.ID, nil
}

// outOfShare names the column of a field of the only share.
func outOfShare(err error) error {
	if refusal, is := err.(*app.Refusal); is {
		if field, of := strings.CutPrefix(refusal.Field, "shares.0."); of {
			moved := *refusal
			moved.Field = map[string]string{"engagementId": "engagement", "day": "used"}[field]
			moved.Field = cmp.Or(moved.Field, field)
			return &moved
		}
	}
	return err
}

// MostExported is how many rows a file has at most.
const MostExported = 50_000

// Export is a table of what is sought, in the columns that are read again. Values
// are left out for those who may not see them.
func Export(ctx context.Context, a *app.App, actor app.Actor, s Filter) (header []string, rows [][]string, err error) {
	s.OldestFirst = true
	tx, f := s.in(a.Read(ctx, actor), actor, a.Clock.Today())
	ids, err := store.WorkIDs(tx, f, 0, MostExported+1)
	switch {
	case err != nil:
		return nil, nil, err
	case len(ids) > MostExported:
		return nil, nil, app.Refuse(app.Invalid, "There are more than %d rows: narrow the choice, then save it as files "+
			"one after the other.",
			MostExported)
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, nil, err
	}
	if s.Expenses {
		return exportExpenses(ctx, a, actor, firm, ids)
	}
	header = append(labels(timeColumns), "Client", "Billed, h", "Value", "Currency", "State", "Invoice")
	for chunk := range chunks(ids) {
		entries, err := store.EntriesByID(tx, chunk)
		if err != nil {
			return nil, nil, err
		}
		for i := range entries {
			rows = append(rows, timeRow(firm, actor, &entries[i]))
		}
	}
	return header, rows, nil
}

func labels(columns []registry.Field) []string {
	names := make([]string, len(columns))
	for i, c := range columns {
		names[i] = c.Label
	}
	return names
}

// chunks are numbers in parts that a query takes.
func chunks(ids []int64) func(func([]int64) bool) {
	return func(yield func([]int64) bool) {
		for len(ids) > 0 {
			n := min(len(ids), 5_000)
			if !yield(ids[:n]) {
				return
			}
			ids = ids[n:]
		}
	}
}

func timeRow(firm *store.Firm, actor app.Actor, r *store.EntryRow) []string {
	e := shown(r)
	e.conceal(actor)
	typed := map[string]string{"day": e.Day.String(), "person": e.Initials, "engagement": r.EngagementCode, "phase": e.Phase,
		"service": r.ServiceCode, "started": e.Started, "ended": e.Ended,
		"worked": worktime.Clock(e.Minutes), "treatment": treatmentWords[e.Treatment], "hold": e.Hold, "text": e.Text, "note": e.Note,
		"reference":   e.Reference,
		"notBillable": clockUnlessNone(e.NotBillable), "expected": clockUnlessNone(e.Expected)}
	if e.PerHour != nil {
		typed["perHour"] = money.TypeFixed(int64(*e.PerHour), firm.Mark(), 4, 2)
	}
	if e.Markup != nil {
		typed["markup"] = money.TypeFixed(int64(*e.Markup), firm.Mark(), 4, 0)
	}
	if e.Flat != nil {
		typed["flat"] = amountText(firm, e.Flat)
	}
	row := make([]string, len(timeColumns))
	for i, c := range timeColumns {
		row[i] = typed[c.Name]
	}
	return append(row, e.Client, worktime.Hours(e.Billed), amountText(firm, e.Value), string(r.Currency), string(e.Billing), e.Invoice)
}

func clockUnlessNone(minutes int) string {
	if minutes == 0 {
		return ""
	}
	return worktime.Clock(minutes)
}

func amountText(firm *store.Firm, a *money.Amount) string {
	if a == nil {
		return ""
	}
	decimals := decimalsOf(a.Currency)
	return money.TypeFixed(a.Minor, firm.Mark(), decimals, decimals)
}

// exportExpenses has a row for each expense. A share of a purchase has its cost as
// its amount, so that it reads as what it is.
func exportExpenses(ctx context.Context, a *app.App, actor app.Actor, firm *store.Firm, ids []int64) (header []string, rows [][]string,
	err error) {
	header = append(labels(expenseColumns), "Client", "Cost", "Value", "State", "Invoice")
	place := map[int64]int{}
	for i, id := range ids {
		place[id] = i
	}
	rows = make([][]string, len(ids))
	for chunk := range chunks(ids) {
		expenses, err := store.ExpensesByID(a.Read(ctx, actor), chunk)
		if err != nil {
			return nil, nil, err
		}
		for i := range expenses {
			rows[place[expenses[i].ID]] = expenseRow(firm, actor, &expenses[i])
		}
	}
	return header, rows, nil
}

func expenseRow(firm *store.Firm, actor app.Actor, r *store.ExpenseRow) []string {
	line := expenseLine(r, actor)
	typed := map[string]string{"day": r.PurchaseDay.String(), "person": r.Initials, "category": r.Category, "engagement": r.EngagementCode,
		"currency":  string(r.Currency),
		"treatment": treatmentWords[r.Treatment], "paidBy": r.PaidBy, "used": r.Day.String(), "supplier": r.Supplier, "text": line.Text,
		"note": r.Note, "reference": r.Reference,
		"amount": amountText(firm, &line.Cost)}
	if paid := r.Valued.Paid; paid != nil && !r.Valued.Shared {
		typed["amount"], typed["tax"] = amountText(firm, &paid.Amount), amountText(firm, &paid.Tax)
		if paid.PerUnit != nil {
			typed["amount"], typed["tax"] = "", ""
			typed["units"], typed["perUnit"] = money.TypeFixed(paid.Units, firm.Mark(), 4, 0),
				money.TypeFixed(int64(*paid.PerUnit), firm.Mark(), 4, 2)
		}
	}
	if actor.SeesValues() && r.Markup != 0 {
		typed["markup"] = money.TypeFixed(int64(r.Markup), firm.Mark(), 4, 0)
	}
	row := make([]string, len(expenseColumns))
	for i, c := range expenseColumns {
		row[i] = typed[c.Name]
	}
	return append(row, line.Client, amountText(firm, &line.Cost), amountText(firm, line.Value), string(line.Billing), line.Invoice)
}
