package setup_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
)

func incoming(kind string, header string, rows ...string) registry.Incoming {
	in := registry.Incoming{Kind: kind, Name: "file.csv", Header: strings.Split(header, ","),
		Cell: func(cell string) (string, bool) { return cell, strings.HasPrefix(cell, "=") }}
	for _, row := range rows {
		in.Rows = append(in.Rows, strings.Split(row, ","))
	}
	return in
}

func count(t *testing.T, a *app.App, kind string) int {
	t.Helper()
	rows, err := registry.List(t.Context(), a, apptest.Admin.Actor, kind, registry.ListFilter{Inactive: true})
	if err != nil {
		t.Fatal(err)
	}
	return len(rows)
}

func TestADryRunNamesEveryBadRowAndTakesNothing(t *testing.T) {
	a := apptest.Firm(t)
	in := incoming("clients", "CODE,Name in lists,mail,Payment Terms,responsible,Post code",
		"K1,Larch,larch@trees.example,14d,LL,1", "K1,Maple,,,,2", "K3,,,,,3", "K4,Oak,nowhere,,,4", "K5,Pine,,soon,,5",
		"K6,Rowan,,,Nobody,6",
		"K7,=A1,,,,7", "A,Spruce,,,,8")
	check, err := registry.CheckImport(t.Context(), a, apptest.Admin.Actor, in)
	if err != nil {
		t.Fatal(err)
	}
	if fields := fmt.Sprint(check.Columns[0].Field, check.Columns[1].Field, check.Columns[3].Field,
		check.Columns[5].Field); fields != "codenameterms" {
		t.Errorf("%+v", check.Columns)
	}
	want := []struct {
		row          int
		column, says string
	}{{3, "", "another of the clients"}, {4, "", "Name in lists is missing"}, {5, "mail", "no mail address"},
		{6, "Payment Terms", "not known"},
		{7, "responsible", `There is no person "Nobody"`}, {8, "Name in lists", "formula"}, {9, "", "another of the clients"}}
	if check.Rows != 8 || check.Good != 1 || len(check.Bad) != len(want) {
		t.Fatalf("%+v", check)
	}
	for i, w := range want {
		if bad := check.Bad[i]; bad.Row != w.row || bad.Column != w.column || !strings.Contains(bad.Reason, w.says) {
			t.Errorf("%+v, want %+v", bad, w)
		}
	}
	if n := count(t, a, "clients"); n != 2 {
		t.Errorf("%d clients after a dry run", n)
	}
	_, err = registry.Import(t.Context(), a, apptest.Admin, in)
	if r := apptest.RefusalOf(t, err); r == nil || !strings.HasPrefix(r.Sentence, "Row 3 can't be taken, so nothing was") ||
		count(t, a, "clients") != 2 {
		t.Errorf("%v", err)
	}
}

func TestAnImportIsTakenWholeAndTakenBackAsOne(t *testing.T) {
	a := apptest.Firm(t)
	in := incoming("clients", "Name in lists,Payment terms,Post code", "Larch,14d,1", "Maple,,2")
	done, err := registry.Import(t.Context(), a, apptest.Admin, in)
	if err != nil || done.Rows != 2 || count(t, a, "clients") != 4 {
		t.Fatalf("%+v, %v", done, err)
	}
	rows, err := registry.List(t.Context(), a, apptest.Admin.Actor, "clients", registry.ListFilter{Text: "Larch"})
	if err != nil || valueOf(t, apptest.Sheet(t, a, "clients", rows[0].ID), "terms").Value != "14d" ||
		valueOf(t, apptest.Sheet(t, a, "clients", rows[0].ID), "onboarded").Value != "yes" {
		t.Errorf("%+v, %v", rows, err)
	}
	if err := registry.UndoImport(t.Context(), a, apptest.Admin, done.ID); err != nil || count(t, a, "clients") != 2 {
		t.Fatalf("%v", err)
	}
	if err := registry.UndoImport(t.Context(), a, apptest.Admin, done.ID); apptest.RefusalOf(t, err) == nil {
		t.Error("taken back twice")
	}
	again, err := registry.Import(t.Context(), a, apptest.Admin, in)
	if err != nil {
		t.Fatal(err)
	}
	apptest.Set(t, a, "clients", rows[0].ID, "web", "larch.example")
	if err := registry.UndoImport(t.Context(), a, apptest.Admin, again.ID); apptest.RefusalOf(t, err) == nil ||
		count(t, a, "clients") != 4 {
		t.Errorf("what was changed since is taken back: %v", err)
	}
	apptest.Whole(t, a)
}

// The columns that come out go in again: everything is exported, deleted as far
// as that goes, and read back the same.
func TestWhatIsExportedIsTakenAgain(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "own-fields", "name", "Board meets", "subject", "client")
	id := apptest.Add(t, a, "clients", "name", "Cedar & Söhne", "code", "Q7", "terms", "eom", "address", "Street 1\nTown", "country", "de",
		"opening_text", "= hello")
	apptest.Set(t, a, "clients", id, "own.Board meets", "Mondays")
	header, rows, err := registry.Export(t.Context(), a, apptest.Admin.Actor, "clients")
	if err != nil {
		t.Fatal(err)
	}
	i := slices.IndexFunc(rows, func(r []string) bool { return slices.Contains(r, "Q7") })
	if err := registry.Remove(t.Context(), a, apptest.Admin, "clients",
		registry.ExpectedVersion{ID: id, Version: apptest.Sheet(t, a, "clients", id).Version}); err != nil {
		t.Fatal(err)
	}
	in := registry.Incoming{Kind: "clients", Name: "again.csv", Header: header, Rows: [][]string{rows[i]},
		Cell: func(c string) (string, bool) { return c, false }}
	if _, err := registry.Import(t.Context(), a, apptest.Admin, in); err != nil {
		t.Fatal(err)
	}
	_, after, err := registry.Export(t.Context(), a, apptest.Admin.Actor, "clients")
	if err != nil {
		t.Fatal(err)
	}
	back := after[slices.IndexFunc(after, func(r []string) bool { return slices.Contains(r, "Q7") })]
	if !slices.Equal(back, rows[i]) {
		t.Errorf("%q came back as %q", rows[i], back)
	}
	for _, kind := range []string{"people", "contacts", "engagements", "rates", "services"} {
		header, rows, err := registry.Export(t.Context(), a, apptest.Admin.Actor, kind)
		if err != nil || len(header) < 5 {
			t.Errorf("%s: %v %v, %v", kind, header, rows, err)
		}
	}
}

func TestPeopleEngagementsContactsAndRatesAreRead(t *testing.T) {
	a := apptest.Firm(t)
	for _, in := range []registry.Incoming{
		incoming("people", "Name,Mail,Role,Hours a week", "Ivo Berg,ivo@firm.example,staff,37.5"),
		incoming("engagements", "Client,Name,Lead,Arrangement,Fee or cap", "Birch,Harbour plan,LL,fixed fee,12000"),
		incoming("contacts", "Client,Name,Mail", "A,Nia Orme,nia@alder.example"),
		incoming("rates", "Person,An hour,From", "IB,97.50,2026-01-01"),
	} {
		if done, err := registry.Import(t.Context(), a, apptest.Admin, in); err != nil || done.Rows != 1 {
			t.Errorf("%s: %+v, %v", in.Kind, done, err)
		}
	}
	price, err := setup.AskRate(t.Context(), a, apptest.Admin.Actor, setup.Asked{PersonID: 5, EngagementID: 4, Day: apptest.Today})
	if err != nil || price.Standard.PerHour != "97.50" || price.Billed.PerHour != "80.00" {
		t.Errorf("%+v, %v", price, err)
	}
}

// A spreadsheet keeps numbers with a point; a firm that types commas still reads
// them right.
func TestNumbersOfASpreadsheetAreReadWhateverTheMark(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "firm", 1, "decimal_mark", ",")
	in := incoming("rates", "Person,An hour,From", "SS,97.5,2026-01-01")
	in.Point = true
	if _, err := registry.Import(t.Context(), a, apptest.Admin, in); err != nil {
		t.Fatal(err)
	}
	price, err := setup.AskRate(t.Context(), a, apptest.Admin.Actor,
		setup.Asked{PersonID: 2, EngagementID: apptest.Survey, Day: apptest.Today})
	if err != nil || price.Billed.PerHour != "97.50" {
		t.Errorf("%+v, %v", price, err)
	}
}

func BenchmarkDryRunOf20000Clients(b *testing.B) {
	a := apptest.Firm(b)
	in := registry.Incoming{Kind: "clients", Name: "many.csv", Header: []string{"Name", "Mail", "Payment terms"},
		Cell: func(c string) (string, bool) { return c, false }}
	for i := range 20_000 {
		in.Rows = append(in.Rows, []string{fmt.Sprintf("Client %d", i), fmt.Sprintf("c%d@client.example", i), "14d"})
	}
	for b.Loop() {
		check, err := registry.CheckImport(b.Context(), a, apptest.Admin.Actor, in)
		if err != nil || check.Good != 20_000 {
			b.Fatalf("%d, %v", check.Good, err)
		}
	}
}
