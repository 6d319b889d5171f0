// Package apptest makes a small firm for tests of acts: two clients, three
// engagements, one administrator and one member of staff.
package apptest

import (
	"context"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/tax"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// The people of the firm, by their numbers.
var (
	Admin = app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
	Staff = app.Request{Actor: app.Actor{PersonID: 2, Role: app.Staff}}
	Lead  = app.Request{Actor: app.Actor{PersonID: 3, Role: app.Lead}}
)

// The engagements: Survey and Advice are of one client, which is billed on one
// invoice; Study is of another.
const (
	Survey int64 = iota + 1
	Advice
	Study
)

// Today is the business date of the firm.
var Today = day.Of(2026, 12, 1)

// Firm opens a fresh firm in a folder of the test's own.
func Firm(t testing.TB) *app.App {
	t.Helper()
	data, err := store.Open(t.Context(), t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { data.Close() })
	a := &app.App{Store: data, Clock: app.PinnedClock{Date: Today}, Render: func(doc invoice.Document) ([]byte, error) { return []byte(doc.Number), nil }}
	from := day.Of(2026, 1, 1)
	must(t, setup.Establish(t.Context(), a, setup.Foundation{
		Firm:     store.Firm{Name: "Firm", Currency: "EUR", TimeZone: "UTC", DecimalMark: ".", IncrementMinutes: 6, Rounding: worktime.Up, Terms: "30d", TaxCodeID: 1},
		Entities: []store.IssuingEntity{{Name: "Firm", LegalName: "Firm Ltd", Address: "Street"}},
		Series:   []store.Series{{EntityID: 1, Kind: "invoice", Prefix: "N", FirstNumber: 1, NextNumber: 1}},
		Codes:    []store.TaxCode{{Code: "S", Name: "VAT", Category: tax.StandardRated}},
		Rates:    []store.TaxRate{{TaxCodeID: 1, FromDay: from, Percent: 23_0000}},
	}))
	hash, err := setup.HashPassword("open sesame")
	must(t, err)
	for _, p := range []store.Person{{Name: "Ada Admin", Initials: "AA", Mail: "ada@firm.example", Role: "administrator"},
		{Name: "Sam Staff", Initials: "SS", Mail: "sam@firm.example", Role: "staff"}, {Name: "Lea Lead", Initials: "LL", Mail: "lea@firm.example", Role: "lead"},
		{Name: "Olga Owner", Initials: "OO", Mail: "olga@firm.example", Role: "owner"}} {
		p.EntityID, p.WeeklyMinutes, p.Active, p.PasswordHash = 1, 2400, true, hash
		add(t, a, p)
	}
	add(t, a, store.Service{Code: "W", Name: "Work", Active: true})
	for i, combined := range []bool{true, false} {
		add(t, a, store.Client{Code: []string{"A", "B"}[i], Name: []string{"Alder", "Birch"}[i], InvoiceName: "Client", Currency: "EUR", Combined: combined, Active: true})
	}
	for i, e := range []store.Engagement{{Name: "Survey", ClientID: 1, LeadID: 3}, {Name: "Advice", ClientID: 1, LeadID: 1}, {Name: "Study", ClientID: 2, LeadID: 1}} {
		e.Code, e.EntityID, e.Currency, e.Arrangement, e.Billable, e.OpenedDay, e.Active = []string{"1", "2", "3"}[i], 1, "EUR", "hourly", true, from, true
		add(t, a, e)
	}
	perHour, client := money.Rate(100_0000), int64(2)
	add(t, a, store.Rate{Kind: "bill", Level: rate.Firm, Currency: "EUR", FromDay: from, PerHour: &perHour})
	negotiated := money.Rate(80_0000)
	add(t, a, store.Rate{Kind: "bill", Level: rate.Client, ClientID: &client, Currency: "EUR", FromDay: from, PerHour: &negotiated})
	return a
}

func add[T setup.Record](t testing.TB, a *app.App, record T) {
	t.Helper()
	_, err := setup.Add(t.Context(), a, app.Request{}, "a record", record)
	must(t, err)
}

// Typed is an entry of the staff's, as typed.
func Typed(engagementID int64, iso, worked string) timekeeping.TypedEntry {
	on, err := day.Parse(iso)
	if err != nil {
		panic(err)
	}
	return timekeeping.TypedEntry{PersonID: 2, EngagementID: engagementID, ServiceID: 1, Day: on, Worked: worked, Treatment: wip.Billable, Text: "work"}
}

// Record records an entry of the staff's.
func Record(t testing.TB, a *app.App, engagementID int64, iso, worked string) *timekeeping.Entry {
	t.Helper()
	entry, err := timekeeping.Record(t.Context(), a, Staff, Typed(engagementID, iso, worked))
	must(t, err)
	return entry
}

// Whole fails the test unless everything adds up.
func Whole(t testing.TB, a *app.App) {
	t.Helper()
	breaches, err := a.Store.Check(a.Store.Read(context.Background()))
	must(t, err)
	for _, breach := range breaches {
		t.Error(breach)
	}
	if t.Failed() {
		t.FailNow()
	}
}

func must(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}
