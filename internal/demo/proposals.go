package demo

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"strings"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
)

// proposal is one of the demo: what it says, and what became of it when.
type proposal struct {
	begun, sent   string // days; nothing: not sent
	lead          int64
	client        string // by name; a new one is a prospect
	name, title   string
	until, starts string
	term          string
	pays          string
	discount      string
	suggested     int
	tiers         []string // name, note
	lines         [][]string
	became        func(s *seeder, id int64, secret string) error
	on            string // the day on which it became so
}

// The lines of a proposal: service, words under it, expected time, cells.
var berthLines = [][]string{
	{"Baseline survey and datum", "half as deposit on acceptance, the rest when the baseline is delivered", "64 h", "8400", "8400", "8400"},
	{"Repeat bathymetry", "each quarter, in arrears", "26 h", "", "6000", "6000"},
	{"Half-yearly spot check", "every 6 months, in advance", "12 h", "2900", "", ""},
	{"Storm call-out", "per call: first 2 at 1,450, then 1,200; by hand", "9 h", "optional 2", "optional 2", "3"},
	{"Silt forecast model", "each month, in advance, on the 1st", "5 h", "", "optional 780", "780"},
	{"Claim support", "open, priced when billed", "", "x", "x", "x"},
}

var proposals = []proposal{
	{begun: "2026-10-05", sent: "2026-10-06", lead: 5, client: "Brannoch Oyster Growers", name: "Brannoch 2026, spat survey",
		title: "Spat survey", until: "2026-11-05", term: "6", tiers: []string{"Two bays", "", "Four bays", ""},
		lines: [][]string{{"Spat collectors, placed and read", "on 1 Dec 2026", "30 Marine ecologist", "4200", "6900"},
			{"Monthly count", "each month, in arrears", "6 Technician", "540", "860"}}},
	{begun: "2026-10-12", sent: "2026-10-13", lead: 14, client: "Stennet Sound Pilots", name: "Pilots 2027, chart service",
		title: "Chart service 2027", until: "2026-11-12", term: "24", suggested: 2,
		tiers: []string{"Twice a year", "", "Each quarter", "with notices to pilots"},
		lines: [][]string{{"Chart edition", "each quarter, in advance, first one prorated", "14 Hydrographer", "", "2600"},
			{"Half-yearly chart", "every 6 months, in advance", "18 Hydrographer", "3100", ""}}},
	{begun: "2026-10-20", sent: "2026-10-22", lead: 5, client: "Saltmere Wetland Trust", name: "Saltmere 2027, breach watch",
		title: "Watching the breach", until: "2026-11-30", term: "12", suggested: 1, tiers: []string{"By drone", "", "By boat", ""},
		lines: [][]string{{"Flight and mosaic", "each month, in arrears", "9 Technician", "1150", ""},
			{"Survey by launch", "each month, in arrears", "16 Hydrographer", "", "2350"}},
		on: "2026-11-12", became: func(s *seeder, _ int64, secret string) error {
			return pricing.Decline(s.ctx, s.app, secret, "192.0.2.31", "The trustees put it off to the spring.")
		}},
	{begun: "2026-11-02", sent: "2026-11-03", lead: 2, client: "Halvick Ferries", name: "Halvick 2027, wash limits",
		title: "Wash limits for the new ferry", until: "2026-12-03", term: "12", pays: "now", suggested: 2,
		tiers: []string{"Measured once", "", "Measured and watched", "through the first year"},
		lines: [][]string{{"Trials and report", "30 % as deposit on acceptance, the rest when the report is accepted",
			"22 IO, 40 Hydrographer",
			"9800", "9800"},
			{"Wash watch", "each quarter, in arrears, on the 10th, first one prorated", "20 Technician", "", "2400"},
			{"Advice on timetables", "148 an hour; as worked", "16 IO", "optional", "optional"}},
		on: "2026-11-18", became: acceptedOnline},
	{begun: "2026-11-04", sent: "2026-11-05", lead: 9, client: "Corriehaven Parish", name: "Corriehaven 2027, sea wall care",
		title: "Care of the sea wall", until: "2026-12-05", term: "36", tiers: []string{"Proposal", ""}, discount: "5 %",
		lines: [][]string{{"Yearly inspection", "each year, in arrears, until the end of the term", "18 Coastal engineer, 6 Technician",
			"3900"},
			{"Flood night on call", "by hand", "", "optional 850"}},
		on: "2026-11-20", became: func(s *seeder, id int64, _ string) error {
			return s.recorded(id, "Clerk of the parish", "Signed letter of 19 Nov, in the parish folder", pricing.Chosen{Options: []int{1}})
		}},
	{begun: "2026-11-10", lead: 14, client: "Orrin Seaweed Farm", sent: "2026-11-11", name: "Orrin 2027, grid extension",
		title: "Extension of the mooring grid", until: "2026-12-11", term: "3", tiers: []string{"Proposal", ""},
		lines: [][]string{{"Grid design", "on acceptance", "24 Coastal engineer", "4600"}},
		on:    "2026-11-17", became: func(s *seeder, id int64, _ string) error {
			p, err := pricing.One(s.ctx, s.app, s.admin.Actor, id)
			if err != nil {
				return err
			}
			_, err = pricing.Withdraw(s.ctx, s.app, app.Request{Actor: s.admin.Actor, Reason: "the licence area changes"}, id, p.Version)
			return err
		}},
	{begun: "2026-11-16", lead: 5, client: "Merrow Bay School", name: "Merrow Bay 2026, slipway lesson",
		title: "Slipway and shore: a teaching survey", until: "2026-12-31", term: "", tiers: []string{"Proposal", ""},
		lines: [][]string{{"Teaching survey, two days", "on acceptance", "16 Marine ecologist", "1750"}},
		on:    "2026-11-27", became: func(s *seeder, id int64, _ string) error {
			return s.recorded(id, "E. Marsh, head teacher", "By telephone on 26 Nov, confirmed by mail", pricing.Chosen{})
		}},
	{begun: "2026-11-17", sent: "2026-11-19", lead: 2, client: "Ennisfarne Harbour Commission", name: "Ennisfarne 2027, tide gauges",
		title: "Tide gauge network", until: "2026-12-20", term: "24", suggested: 2,
		tiers: []string{"Two gauges", "", "Four gauges", "with daily checks"},
		lines: [][]string{{"Gauge, installed and levelled", "2,350 per gauge; half as deposit, the rest when the gauges run",
			"14 Technician",
			"2", "4"}, {"Readings and care", "each month, in advance, on the 1st", "7 Technician", "640", "1180"},
			{"Storm surge alerts", "each month, in advance, on the 1st", "2 Hydrographer", "optional 180", "180"}},
		on: "2026-11-24", became: func(s *seeder, _ int64, secret string) error {
			return errors.Join(pricing.MarkSeen(s.ctx, s.app, secret),
				pricing.AskQuestion(s.ctx, s.app, secret, "Could the two inner gauges wait until March?"))
		}},
	{begun: "2026-11-20", sent: "2026-11-23", lead: 5, client: "Isle of Varray Council", name: "Varray 2027, shoreline watch",
		title: "Shoreline watch", until: "2026-12-06", term: "12", suggested: 1,
		tiers: []string{"West shore", "", "All shores", "", "All shores and seals", ""},
		lines: [][]string{{"Walkover and photographs", "each quarter, in arrears", "10 Planner", "1400", "2900", "2900"},
			{"Seal count", "every 6 months, in arrears", "20 Marine ecologist", "", "optional 2600", "2600"}}},
	{begun: "2026-11-24", sent: "2026-11-25", lead: 2, client: "Quillan Bay Desalination", name: "Quillan Bay 2027, intake guard",
		title: "Intake guard", until: "2026-12-24", term: "12", pays: "no", tiers: []string{"Proposal", ""},
		lines: [][]string{{"Plume forecast", "each month, in arrears", "8 Hydrographer", "3400"},
			{"Call-out", "152 an hour; as worked", "10", "optional"}}},
	{begun: "2026-11-26", lead: 2, client: "Port of Calderwick", name: "Calderwick 2027, berth monitoring", title: "Berth monitoring 2027",
		until: "2026-12-31", term: "12", suggested: 2,
		tiers: []string{"Watch", "two surveys a year", "Core", "quarterly bathymetry", "Full reach", "with forecasting"},
		lines: berthLines},
	{begun: "2026-11-30", lead: 9, client: "Skerry Point Holdings", name: "Skerry Point, quay opinion", title: "Opinion on the old quay",
		until: "2026-12-30", term: "", tiers: []string{"Proposal", ""},
		lines: [][]string{{"Inspection and opinion", "on acceptance", "20 Coastal engineer", "3200"}}},
}

// proposalsOn does what happened to proposals on a day.
func (s *seeder) proposalsOn(on day.Day) error {
	for i := range proposals {
		p := &proposals[i]
		for _, step := range []struct {
			day string
			act func(*proposal, int) error
		}{{p.begun, s.begin}, {p.sent, s.sendOut}, {p.on, s.became}} {
			if step.day != on.String() {
				continue
			}
			s.at(on, 11)
			if err := step.act(p, i); err != nil {
				return fmt.Errorf("%s: %w", p.name, err)
			}
		}
	}
	return nil
}

func (s *seeder) as(lead int64) app.Request {
	return app.Request{Actor: app.Actor{PersonID: lead, Role: people[lead-1].role}}
}

func (s *seeder) begin(p *proposal, _ int) error {
	begun := pricing.Begun{Name: p.name}
	options, err := registry.OptionsOf(s.ctx, s.app, s.admin.Actor, "clients", registry.Choosing{})
	if err != nil {
		return err
	}
	for _, option := range options {
		if option.Title == p.client {
			begun.ClientID = option.ID
		}
	}
	if begun.ClientID == 0 {
		begun.Prospect = p.client
	}
	made, err := pricing.Begin(s.ctx, s.app, s.as(p.lead), begun)
	if err != nil {
		return err
	}
	s.made = append(s.made, madeProposal{p.name, made.ID, ""})
	view, err := pricing.One(s.ctx, s.app, s.admin.Actor, made.ID)
	if err != nil {
		return err
	}
	blank, err := pricing.FromCatalogue(s.ctx, s.app, s.admin.Actor, made.ID, 0)
	if err != nil {
		return err
	}
	_, err = pricing.Save(s.ctx, s.app, s.as(p.lead),
		pricing.Saving{ID: made.ID, Version: view.Version, Typed: p.typed(view.Grid.Typed, blank.TaxCode)})
	return err
}

// typed fills in what a proposal says.
func (p *proposal) typed(t pricing.TypedProposal, taxCode string) pricing.TypedProposal {
	t.Title, t.ValidUntil, t.Starts, t.Term, t.Suggested, t.Discount, t.Tiers = p.title, p.until, p.starts, p.term, p.suggested, p.discount,
		[]pricing.TypedTier{}
	if p.pays != "" {
		t.Pays = p.pays
	}
	for i := 0; i < len(p.tiers); i += 2 {
		t.Tiers = append(t.Tiers, pricing.TypedTier{Name: p.tiers[i], Note: p.tiers[i+1]})
	}
	for _, l := range p.lines {
		t.Lines = append(t.Lines, pricing.TypedLine{Description: l[0], Said: l[1], When: "by hand", Expected: l[2], Kind: "fixed",
			TaxCode: taxCode, Cells: l[3:]})
	}
	return t
}

// madeProposal remembers the number of a proposal and the secret of its link.
type madeProposal struct {
	name   string
	id     int64
	secret string
}

func (s *seeder) sendOut(p *proposal, _ int) error {
	for i := range s.made {
		m := &s.made[i]
		if m.name != p.name {
			continue
		}
		view, err := pricing.One(s.ctx, s.app, s.admin.Actor, m.id)
		if err != nil {
			return err
		}
		to := pricing.Sending{Version: view.Version, Name: "Office", Mail: "office@client.example", Mailed: true}
		if len(view.Contacts) > 0 {
			to.Name, to.Mail = view.Contacts[0].Name, view.Contacts[0].Mail
		}
		if _, err := pricing.Send(s.ctx, s.app, s.as(p.lead), m.id, to); err != nil {
			return err
		}
		if view, err = pricing.One(s.ctx, s.app, s.admin.Actor, m.id); err != nil {
			return err
		}
		to.Version, to.Mailed = view.Version, false
		out, err := pricing.Send(s.ctx, s.app, s.as(p.lead), m.id, to)
		_, m.secret, _ = strings.Cut(out.Link, "#")
		return err
	}
	return fmt.Errorf("it was never begun")
}

func (s *seeder) became(p *proposal, _ int) error {
	for _, m := range s.made {
		if m.name == p.name && p.became != nil {
			return p.became(s, m.id, m.secret)
		}
	}
	return nil
}

// recorded records an acceptance that was given elsewhere.
func (s *seeder) recorded(id int64, name, evidence string, chosen pricing.Chosen) error {
	p, err := pricing.One(s.ctx, s.app, s.admin.Actor, id)
	if err != nil {
		return err
	}
	_, err = pricing.Record(s.ctx, s.app, s.as(p.LeadID), id,
		pricing.ByHand{Version: p.Version, Name: name, Evidence: evidence, Day: s.app.Clock.Today(), Chosen: chosen})
	return err
}

var sixDigits = regexp.MustCompile(`\d{6}`)

// acceptedOnline signs as the client does: a card, the code by mail, a name.
func acceptedOnline(s *seeder, _ int64, secret string) error {
	code := ""
	s.app.Mail = func(_ context.Context, l letter.Letter) error {
		code = sixDigits.FindString(l.Body)
		return nil
	}
	defer func() { s.app.Mail = nil }()
	if err := errors.Join(pricing.MarkSeen(s.ctx, s.app, secret), pricing.SendCode(s.ctx, s.app, secret)); err != nil {
		return err
	}
	way, err := pricing.KeepPaymentMethod(s.ctx, s.app, secret,
		paymentmethod.GivenMethod{Kind: "card", Number: "9000 0000 0000 0019", Expires: "12/29", Code: "123", Holder: "Halvick Ferries"})
	if err != nil {
		return err
	}
	return pricing.Accept(s.ctx, s.app, secret, "192.0.2.17",
		pricing.Signing{Chosen: pricing.Chosen{Tier: 1, Options: []int{2}}, Name: "Hale Brannigan", Code: code, PaymentMethodID: way.ID})
}

// asked sends the questionnaire to the clients who are new; one has answered.
func (s *seeder) asked() error {
	for i, name := range []string{"Garrow Estuary Forum", "12 Fathom Dive Centre"} {
		options, err := registry.OptionsOf(s.ctx, s.app, s.admin.Actor, "clients", registry.Choosing{})
		if err != nil {
			return err
		}
		for _, option := range options {
			if option.Title != name {
				continue
			}
			sent, err := setup.AskClient(s.ctx, s.app, s.admin, setup.Asking{ClientID: option.ID, QuestionnaireID: 1, Name: "Office"})
			if err != nil || i > 0 {
				return err
			}
			_, secret, _ := strings.Cut(sent.Link, "#")
			answers := []string{"Garrow Estuary Forum CIC", "Forum Office, Garrow Pier", "", "GF 0000000", "GEF/27/1",
				"Runa Sheil, mornings"}
			if err := setup.AnswerQuestions(s.ctx, s.app, secret, answers); err != nil {
				return err
			}
		}
	}
	return nil
}
