package demo

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// firstDay is a Monday: three months and a week of time until Today.
var firstDay = day.Of(2026, 8, 24)

const seed = 20261201

// Seed makes the firm in a folder that has no data yet, with what an app has of
// the outside world: how documents are drawn, who keeps cards. It is made beside and
// moved there at the end, so that a seed that was cut short leaves nothing.
func Seed(ctx context.Context, folder string, outside app.App) error {
	if err := os.MkdirAll(filepath.Dir(folder), 0o700); err != nil {
		return err
	}
	scratch, err := os.MkdirTemp(filepath.Dir(folder), ".seeding-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(scratch)
	data, err := store.Open(ctx, scratch)
	if err != nil {
		return err
	}
	if err := data.Unsynced(ctx); err != nil {
		return errors.Join(err, data.Close())
	}
	outside.Store = data
	s := &seeder{ctx: ctx, app: &outside, random: rand.New(rand.NewPCG(seed, seed)), newer: rand.New(rand.NewPCG(seed, seed+1)),
		bought: buying(), named: map[string]int64{}}
	if err := errors.Join(s.all(), data.Close()); err != nil {
		return fmt.Errorf("make the demo firm: %w", err)
	}
	if err := os.Remove(folder); err != nil && !os.IsNotExist(err) {
		return fmt.Errorf("%s has something else in it: choose another folder: %w", folder, err)
	}
	return os.Rename(scratch, folder)
}

type seeder struct {
	ctx         context.Context
	app         *app.App
	random      *rand.Rand
	engagements []int64
	laterWork   []int64
	named       map[string]int64 // later engagements by their names
	phases      []int64          // of the survey, on which time is recorded
	goneClient  int64
	newer       *rand.Rand // for the later work, so that it leaves the first as it is
	bought      *rand.Rand // likewise
	made        []madeProposal
	admin       app.Request
	year        *treasurer
}

func (s *seeder) all() error {
	s.at(yearStart, 9)
	for _, step := range []func() error{s.firm, s.people, s.prices, s.clients, s.later, s.lateTerms, s.documents, s.budgets, s.months} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// at sets both clocks: the business date, and an instant on that day.
func (s *seeder) at(on day.Day, hour int) {
	s.app.Clock = app.PinnedClock{Date: on, At: on.Time().Add(time.Duration(hour) * time.Hour)}
}

// add makes a record of fields and values in turn, and gives its number.
func (s *seeder) add(kind string, values ...string) (int64, error) {
	typed := map[string]string{}
	for pair := range slices.Chunk(values, 2) {
		if pair[1] != "" {
			typed[pair[0]] = pair[1]
		}
	}
	added, err := registry.AddRecord(s.ctx, s.app, s.admin, kind, typed)
	if err != nil {
		return 0, fmt.Errorf("%s %v: %w", kind, values, err)
	}
	return added.ID, nil
}

// set changes fields of a record, fields and values in turn.
func (s *seeder) set(kind string, id int64, values ...string) error {
	for pair := range slices.Chunk(values, 2) {
		sheet, err := registry.Read(s.ctx, s.app, s.admin.Actor, kind, id)
		if err == nil {
			_, err = registry.SetField(s.ctx, s.app, s.admin, kind, []registry.ExpectedVersion{{ID: id, Version: sheet.Version}},
				registry.Change{Field: pair[0], Value: pair[1]})
		}
		if err != nil {
			return fmt.Errorf("%s of %s %d: %w", pair[0], kind, id, err)
		}
	}
	return nil
}

// adds makes several records of a kind.
func (s *seeder) adds(kind string, records ...[]string) error {
	for _, values := range records {
		if _, err := s.add(kind, values...); err != nil {
			return err
		}
	}
	return nil
}

func (s *seeder) firm() error {
	admin := people[0]
	begun := setup.Start{Firm: "Skerrow Coastal", Currency: "EUR", TimeZone: "Europe/Dublin", Mark: "point", TaxName: "VAT",
		TaxPercent: "23",
		Name:       admin.name, Mail: mail(admin), Password: Password}
	if _, err := setup.Begin(s.ctx, s.app, begun); err != nil {
		return err
	}
	s.admin = app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator, Proved: true}}
	records := []error{
		s.set("firm", 1, "address", "14 Weir Quay\nEnnisfarne\nEF1 2SC", "web", "skerrow.example", "tax_registrations", "VAT IE 0000000 X",
			"opening_text", "For work on coast and harbour:", "closing_text", "Thank you for working with us."),
		s.set("entities", 1, "legal_name", "Skerrow Coastal Ltd", "address", "14 Weir Quay\nEnnisfarne\nEF1 2SC", "tax_number",
			"VAT IE 0000000 X", "mail", "accounts@skerrow.example",
			"bank_name", "Harbourside Credit", "iban", "IE89 DEMO 0000 0000 0000 01", "bic", "DEMOIE00"),
		s.set("series", 1, "prefix", "SC", "first_number", "801"),
		s.adds("entities", []string{"name", "Skerrow Marine", "legal_name", "Skerrow Marine Ecology Ltd", "address", "2 Slip Lane\nVarray",
			"tax_number", "VAT IE 1111111 Y", "iban", "IE57 DEMO 1111 1111 1111 11"}),
		s.adds("series", []string{"entity", "Skerrow Marine", "kind", "invoice", "prefix", "SM"}),
		s.adds("tax-codes", []string{"code", "R", "name", "VAT"},
			[]string{"code", "AE", "name", "VAT", "category", "AE", "notice", "Reverse charge: the recipient accounts for the tax.",
				"places",
				"NO GB JP US"},
			[]string{"code", "X", "name", "VAT", "category", "E", "notice", "Exempt from VAT."}),
		s.adds("tax-rates", []string{"code", "R", "from", "2026-01-01", "percent", "13.5"},
			[]string{"code", "AE", "from", "2026-01-01", "percent", "0"}, []string{"code", "X", "from", "2026-01-01", "percent", "0"}),
		s.adds("offices", []string{"name", "Ennisfarne", "address", "14 Weir Quay, Ennisfarne"},
			[]string{"name", "Varray", "address", "2 Slip Lane, Varray"}),
		s.adds("own-fields", []string{"name", "Survey area", "subject", "engagement", "form", "choice", "choices",
			"harbour\nopen coast\nestuary"}, []string{"name", "Board meets", "subject", "client"}),
	}
	for _, h := range holidays {
		records = append(records, s.adds("holidays", []string{"day", h[0], "name", h[1]}))
	}
	for _, currency := range slices.Sorted(maps.Keys(courses)) {
		records = append(records, s.adds("exchange-rates",
			[]string{"currency", string(currency), "day", yearStart.String(), "rate", courses[currency][0], "source",
				"invented for the demo"}))
		for i, rate := range courses[currency] {
			records = append(records, s.adds("exchange-rates",
				[]string{"currency", string(currency), "day", day.Of(2026, 8, 1).AddMonths(i).String(), "rate", rate, "source",
					"invented for the demo"}))
		}
	}
	return errors.Join(records...)
}

func mail(p person) string {
	first, _, _ := strings.Cut(strings.ToLower(p.name), " ")
	return first + "@skerrow.example"
}

func (s *seeder) people() error {
	for _, g := range grades {
		if _, err := s.add("grades", "name", g.name); err != nil {
			return err
		}
	}
	for i, p := range people {
		if i == 0 {
			if err := s.set("people", 1, "grade", p.grade, "weekly", fmt.Sprint(p.hours), "office", p.office); err != nil {
				return err
			}
			continue
		}
		id, err := s.add("people", "name", p.name, "initials", p.initials, "mail", mail(p), "role", string(p.role), "grade", p.grade,
			"weekly",
			fmt.Sprint(p.hours), "office", p.office)
		if err != nil {
			return err
		}
		link, err := identity.Invite(s.ctx, s.app, s.admin, id)
		if err != nil {
			return err
		}
		if _, err := identity.Accept(s.ctx, s.app, link.Secret, Password); err != nil {
			return err
		}
	}
	return errors.Join(s.set("people", 4, "sees_rates", "yes"), // Mila prices, too
		s.set("people", 9, "stand_in", "IO", "stand_in_from", "2026-12-14", "stand_in_to", "2026-12-23"))
}

// prices are services and rates on every level: the firm's, grades', people's, a
// client's, an engagement's; some changed in the year.
func (s *seeder) prices() error {
	for i, v := range services {
		if _, err := s.add("services", "code", fmt.Sprintf("S%02d", i+1), "name", v.name, "kind", v.kind, "price", v.price, "unit", v.unit,
			"activity_code", v.code); err != nil {
			return err
		}
	}
	rates := [][]string{{"per_hour", "110"}, {"per_hour", "135", "currency", "USD"}, {"per_hour", "1450", "currency", "NOK"},
		{"per_hour", "19500", "currency", "JPY"}, {"kind", "cost", "per_hour", "40"}}
	for _, g := range grades {
		rates = append(rates, []string{"grade", g.name, "kind", "cost", "per_hour", g.cost})
		if g.bill != "" {
			rates = append(rates, []string{"grade", g.name, "per_hour", g.bill})
		}
	}
	for _, p := range people {
		if p.perHour != "" {
			rates = append(rates, []string{"person", p.initials, "per_hour", p.perHour})
		}
	}
	rates = append(rates, []string{"person", "TB", "per_hour", "134.50", "from", "2026-10-01"},
		[]string{"grade", "Technician", "per_hour", "88", "from", "2026-10-01"},
		[]string{"grade", "Hydrographer", "kind", "cost", "per_hour", "48", "from", "2026-07-01"})
	if err := s.adds("rate-cards", []string{"name", "Public bodies 2026"}); err != nil {
		return err
	}
	for _, of := range [][2]string{{"Principal", "150"}, {"Marine ecologist", "112"}, {"Coastal engineer", "115"}, {"Planner", "108"}} {
		rates = append(rates, []string{"card", "Public bodies 2026", "grade", of[0], "per_hour", of[1]})
	}
	for _, r := range rates {
		if _, err := s.add("rates", append([]string{"from", "2026-01-01"}, r...)...); err != nil {
			return err
		}
	}
	return errors.Join(s.adds("bundles", []string{"name", "Berth survey", "services", "S01\nS02\nS03"}),
		s.set("proposal-texts", 1, "text", terms), s.set("firm", 1, "fee_step", "50"))
}

const terms = `1. {firm} does the work described above for {client}, from {start}.
2. Prices are net of tax and hold for {term}.
3. Bills are due {payment_terms}.
4. At sea, the weather decides: a lost day moves, and costs nothing.
5. Either side may end recurring work with a month's notice, after the least term.`

func (s *seeder) clients() error {
	for i, c := range clients {
		combined := map[bool]string{true: "yes", false: "no"}[c.combined]
		id, err := s.add("clients", "code", fmt.Sprintf("C%03d", i+1), "name", c.name, "address", c.address, "mail",
			fmt.Sprintf("accounts@client%d.example", i+1),
			"currency", string(c.currency), "terms", c.terms, "combined", combined, "tax_code", c.taxCode, "onboarded", "yes")
		if err != nil {
			return err
		}
		if i < 6 {
			if _, err := s.add("contacts", "client", fmt.Sprintf("C%03d", i+1), "name", contacts[i], "mail",
				fmt.Sprintf("pay@client%d.example", i+1), "title", "Accounts"); err != nil {
				return err
			}
		}
		for _, e := range c.engagements {
			if err := s.engagement(id, fmt.Sprintf("C%03d", i+1), e); err != nil {
				return err
			}
		}
	}
	return s.adds("rates", []string{"client", "C002", "per_hour", "122.50", "from", "2026-01-01"},
		[]string{"engagement", "E004", "per_hour", "148", "from", "2026-10-01"},
		[]string{"client", "C008", "per_hour", "152", "currency", "USD", "from", "2026-01-01"},
		[]string{"engagement", "E001", "person", "IO", "per_hour", "168", "from", "2026-11-16"})
}

// contacts of the first clients.
var contacts = []string{"Orla Finnick", "Dev Marrin", "Sunniva Strand", "Hale Brannigan", "Wyn Osk", "Tova Brack"}

func (s *seeder) engagement(_ int64, client string, e engagement) error {
	arrangement := "hourly"
	if e.name == "Own time" {
		arrangement = "non_billable"
	}
	id, err := s.add("engagements", "client", client, "code", fmt.Sprintf("E%03d", len(s.engagements)+1), "name", e.name, "reference",
		e.reference,
		"arrangement", arrangement, "lead", e.lead, "opened", yearStart.String())
	s.engagements = append(s.engagements, id)
	return err
}

// responsible care for the later clients in turn.
var responsible = []string{"MO", "IO", "RT", "EF", "CR"}

// later makes the later clients and their engagements.
func (s *seeder) later() error {
	for i, c := range later {
		currency := c.currency
		if currency == "" {
			currency = "EUR"
		}
		onboarded := map[bool]string{true: "no", false: "yes"}[c.isNew]
		opened := map[bool]string{true: "2026-11-20", false: "2026-01-01"}[c.isNew]
		id, err := s.add("clients", "name", c.name, "currency", string(currency), "country", c.country, "industry", c.industry, "terms",
			c.terms,
			"tax_code", c.taxCode,
			"status", c.status, "responsible", responsible[i%len(responsible)], "opened", opened, "onboarded", onboarded, "mail",
			strings.ToLower(strings.Fields(c.name)[0])+"@client.example")
		if err != nil {
			return err
		}
		for _, w := range c.work {
			e, err := s.add("engagements", "client", c.name, "name", w.name, "arrangement", w.arrangement, "fee", w.fee, "lead", w.lead,
				"opened",
				yearStart.String(), "due", "2027-03-31",
				"fee_period", map[bool]string{true: "quarter"}[w.arrangement == "recurring"])
			if err != nil {
				return err
			}
			s.laterWork = append(s.laterWork, e)
			s.named[w.name] = e
		}
		if c.gone {
			s.goneClient = id
		}
	}
	return s.set("clients", 3, "rate_card", "Public bodies 2026")
}

// budgets are on some engagements: one nearly used up, one overrun, one renewed
// each month; the first has phases and tasks.
func (s *seeder) budgets() error {
	survey := "E001"
	phases := map[string]string{}
	for _, p := range [][]string{{"Field work", "", "2026-11-13", "done", "TB LM"}, {"Processing", "", "2026-12-11", "begun", "TB"},
		{"Report", "", "2027-01-15", "open", "IO"},
		{"Tide reduction", "Processing", "2026-12-04", "begun", "TB"}, {"Scour chart", "Processing", "2026-12-11", "open", "TB"}} {
		id, err := s.add("phases", "engagement", survey, "name", p[0], "parent", phases[p[1]], "due", p[2], "status", p[3], "people", p[4])
		if err != nil {
			return err
		}
		phases[p[0]] = fmt.Sprint(id)
		if p[0] != "Processing" && p[0] != "Scour chart" {
			s.phases = append(s.phases, id)
		}
	}
	if _, err := s.add("engagement-templates", "name", "Survey with report", "engagement", survey); err != nil {
		return err
	}
	return s.adds("budgets", []string{"engagement", survey, "measure", "hours", "hours", "340", "from", "2026-08-24"},
		[]string{"engagement", survey, "phase", phases["Processing"], "measure", "fees", "hours", "160", "per_hour", "130", "from",
			"2026-08-24"},
		[]string{"engagement", "E003", "measure", "fees", "amount", "12000", "renewal", "month", "from", "2026-09-01", "carries", "yes"},
		[]string{"engagement", "E005", "measure", "fees", "amount", "24000", "from", "2026-08-24"},
		[]string{"engagement", "E008", "measure", "hours", "hours", "120", "from", "2026-08-24", "people", "CR MO"},
		[]string{"engagement", "E011", "measure", "invoiced", "amount", "40000", "from", "2026-08-24"})
}
