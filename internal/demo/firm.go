// Package demo makes Skerrow Coastal, an invented firm that surveys and advises
// on coasts and harbours. The same seed gives the same data, to the cent, and
// all of it is made through the same acts that people use.
package demo

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/tax"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Today is the business date to which the demo is pinned.
var Today = day.Of(2026, 12, 1)

// Password is everybody's in the demo.
const Password = "high-water"

var yearStart = day.Of(2026, 1, 1)

func foundation() setup.Foundation {
	return setup.Foundation{
		Firm: store.Firm{Name: "Skerrow Coastal", Currency: "EUR", TimeZone: "Europe/Dublin", DecimalMark: ".",
			IncrementMinutes: 6, Rounding: worktime.Up, Terms: "30d", TaxCodeID: 1},
		Entities: []store.IssuingEntity{{Name: "Skerrow Coastal", LegalName: "Skerrow Coastal Ltd", Address: "14 Weir Quay\nEnnisfarne\nEF1 2SC",
			TaxNumber: "VAT IE 0000000 X", Mail: "accounts@skerrow.example", BankName: "Harbourside Credit", IBAN: "IE00 DEMO 0000 0000 0000 00", BIC: "DEMOIE00"}},
		Series: []store.Series{{EntityID: 1, Kind: "invoice", Prefix: "SC", FirstNumber: 1001, NextNumber: 1001}},
		Codes: []store.TaxCode{
			{Code: "S", Name: "VAT", Category: tax.StandardRated},
			{Code: "R", Name: "VAT", Category: tax.StandardRated},
			{Code: "AE", Name: "VAT", Category: tax.ReverseCharge, Notice: "Reverse charge: the recipient accounts for the tax."},
		},
		Rates:    []store.TaxRate{{TaxCodeID: 1, FromDay: yearStart, Percent: 23_0000}, {TaxCodeID: 2, FromDay: yearStart, Percent: 13_5000}, {TaxCodeID: 3, FromDay: yearStart, Percent: 0}},
		Exchange: exchange(),
	}
}

// exchange is an invented course of the dollar, month by month.
func exchange() []store.ExchangeRate {
	rates := []store.ExchangeRate{}
	for i, r := range []money.ExchangeRate{91_450_000, 91_820_000, 92_110_000, 91_970_000, 92_340_000} {
		rates = append(rates, store.ExchangeRate{Currency: "USD", Day: day.Of(2026, 8, 1).AddMonths(i), Rate: r, Source: "invented for the demo"})
	}
	return rates
}

type person struct {
	name, initials string
	role           app.Role
	grade          int64
	perHour        money.Rate
	hours          int
}

var grades = []string{"Principal", "Hydrographer", "Marine ecologist", "Planner", "Office"}

var people = []person{
	{"Maren Oduya", "MO", app.Administrator, 5, 85_0000, 30},
	{"Ines Okafor", "IO", app.Lead, 1, 175_0000, 38},
	{"Tomas Brandt", "TB", app.Staff, 2, 130_0000, 38},
	{"Mila Silva", "MS", app.Staff, 4, 0, 32},
	{"Callum Reyes", "CR", app.Lead, 3, 138_0000, 38},
	{"Astrid Vane", "AV", app.Owner, 1, 0, 38},
}

// Accounts are the sign-ins, one for each role.
func Accounts() []struct {
	Role             app.Role
	Name, Mail, Pass string
} {
	accounts := []struct {
		Role             app.Role
		Name, Mail, Pass string
	}{}
	for _, i := range []int{0, 1, 2, 5} {
		accounts = append(accounts, struct {
			Role             app.Role
			Name, Mail, Pass string
		}{people[i].role, people[i].name, mail(people[i]), Password})
	}
	return accounts
}

var services = []string{"Field survey", "Data processing", "Reporting", "Advice", "Project management", "Office"}

type client struct {
	name, address string
	currency      money.Currency
	terms         string
	code          int64 // tax code, 0 for the firm's
	combined      bool
	engagements   []engagement
}

type engagement struct {
	name, reference string
	lead            int64
	services        []int64
	works           []string
}

var clients = []client{
	{"Ennisfarne Harbour Commission", "Pier Office, Harbour Road\nEnnisfarne", "EUR", "", 0, true, []engagement{
		{"Breakwater scour survey", "PO 4471", 2, []int64{1, 2, 3}, []string{"Scour hole multibeam, leg %d", "Tide gauge reduction, levels to datum", "Side-scan mosaic, line %d", "Method statement, divers", "Site induction and safety brief", "Scour depth chart, sheet %d"}},
		{"Dredge licence advice", "", 2, []int64{4, 3}, []string{"Licence conditions, call with the regulator", "Disposal site options, note %d", "Draft of the application, part %d"}}}},
	{"Port of Calderwick", "Dock Gate 2\nCalderwick", "EUR", "eom+15d", 0, false, []engagement{
		{"Berth 4 monitoring", "CAL-26-118", 2, []int64{1, 2}, []string{"Bathymetry of berth 4, run %d", "Difference chart against the last survey", "Tilt sensors, download and check"}},
		{"Sediment claim support", "", 5, []int64{4, 3}, []string{"Review of the sampling record, batch %d", "Statement for the claim, draft %d", "Meeting with counsel"}}}},
	{"Isle of Varray Council", "Council House\nVarray", "EUR", "", 2, true, []engagement{
		{"Ferry slip impact study", "IVC/77/26", 5, []int64{1, 2, 3}, []string{"Benthic grabs, station %d", "Otter and seal watch, day %d", "Impact tables, chapter %d"}},
		{"Shoreline management plan", "IVC/81/26", 5, []int64{3, 4}, []string{"Policy units, workshop %d", "Erosion lines, frontage %d", "Reply to the council's comments"}}}},
	{"Halvick Ferries", "Terminal Building\nHalvick", "EUR", "", 0, true, []engagement{
		{"Wake wash review", "", 2, []int64{2, 4}, []string{"Wash measurements, passage %d", "Speed and wash curves"}}}},
	{"Saltmere Wetland Trust", "The Old Sluice\nSaltmere", "EUR", "14d", 2, true, []engagement{
		{"Managed retreat options", "", 5, []int64{3, 4}, []string{"Breach option %d, water levels", "Habitat gain and loss, option %d", "Trustees' briefing"}}}},
	{"Brannoch Oyster Growers", "Slip Lane\nBrannoch", "EUR", "", 0, true, []engagement{
		{"Oyster bed siting", "", 5, []int64{1, 3}, []string{"Current meter, site %d", "Siltation note, site %d"}}}},
	{"Orrin Seaweed Farm", "Orrin Pier", "EUR", "receipt", 0, true, []engagement{
		{"Mooring field study", "", 2, []int64{1, 2}, []string{"Mooring loads, grid %d", "Anchor holding test %d"}}}},
	{"Quillan Bay Desalination", "Intake Road 1\nQuillan Bay", "USD", "45d", 3, true, []engagement{
		{"Intake siting study", "QBD-0031", 2, []int64{2, 3, 4}, []string{"Plume model, run %d", "Intake depth options, note %d", "Call with the plant team"}}}},
	{"Skerrow Coastal", "14 Weir Quay\nEnnisfarne", "EUR", "", 0, true, []engagement{
		{"Own time", "", 1, []int64{6}, []string{"Tender, section %d", "Training", "Kit and stores", "Staff meeting"}}}},
}

// rates stand on every level: the firm's, grades', people's, a client's, an
// engagement's; some changed in the year.
func rates() []store.Rate {
	bill := func(level rate.Level, from day.Day, currency money.Currency, perHour money.Rate) store.Rate {
		return store.Rate{Kind: "bill", Level: level, Currency: currency, FromDay: from, PerHour: &perHour}
	}
	october, id := day.Of(2026, 10, 1), func(n int64) *int64 { return &n }
	rows := []store.Rate{bill(rate.Firm, yearStart, "EUR", 110_0000), bill(rate.Firm, yearStart, "USD", 135_0000)}
	for grade, perHour := range map[int64]money.Rate{1: 170_0000, 2: 120_0000, 3: 125_0000, 4: 125_0000} {
		row := bill(rate.Grade, yearStart, "EUR", perHour)
		row.GradeID = id(grade)
		rows = append(rows, row)
	}
	for i, p := range people {
		if p.perHour != 0 {
			row := bill(rate.Person, yearStart, "EUR", p.perHour)
			row.PersonID = id(int64(i + 1))
			rows = append(rows, row)
		}
	}
	raised := bill(rate.Person, october, "EUR", 134_5000)
	raised.PersonID = id(3)
	calderwick := bill(rate.Client, yearStart, "EUR", 122_5000)
	calderwick.ClientID = id(2)
	claim := bill(rate.Engagement, october, "EUR", 148_0000)
	claim.EngagementID = id(4)
	intake := bill(rate.Client, yearStart, "USD", 152_0000)
	intake.ClientID = id(8)
	return append(rows, raised, calderwick, claim, intake)
}
