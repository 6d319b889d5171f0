package timekeeping_test

import (
	"slices"
	"strings"
	"testing"

	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

func file(kind, header string, rows ...string) registry.Incoming {
	in := registry.Incoming{Kind: kind, Name: "file.csv", Header: strings.Split(header, ";"),
		Cell: func(cell string) (string, bool) { return cell, strings.HasPrefix(cell, "=") }}
	for _, row := range rows {
		in.Rows = append(in.Rows, strings.Split(row, ";"))
	}
	return in
}

func TestTimeIsReadFromAFileWithADryRun(t *testing.T) {
	a := apptest.Firm(t)
	const header = "Date;Person;Engagement;Service;Worked;Billed as;Text;Colour"
	bad := file("time", header, "2026-11-30;SS;1;Work;1:30;no charge;levels;red", "soon;SS;1;Work;1;;;", "2026-11-30;SS;Nowhere;Work;1;;;",
		"2026-11-30;SS;1;Work;;;;", "2026-11-30;SS;1;Work;1;gratis;;", "2026-11-30;;1;Work;1;;;")
	check, err := registry.CheckImport(t.Context(), a, apptest.Admin.Actor, bad)
	if err != nil || check.Good != 1 || len(check.Bad) != 5 || check.Columns[7].Field != "" {
		t.Fatalf("%+v, %v", check, err)
	}
	for i, want := range []struct{ column, says string }{{"Date", "soon"}, {"Engagement", "no engagement"}, {"", "No time is given"},
		{"Billed as", "not a way to bill"}, {"", "Person is missing"}} {
		if b := check.Bad[i]; b.Column != want.column || !strings.Contains(b.Reason, want.says) || b.Row != i+3 {
			t.Errorf("%+v, want %+v", b, want)
		}
	}
	if got := listed(t, a, apptest.Admin.Actor, timekeeping.Filter{}); got != "" {
		t.Errorf("a dry run took %s", got)
	}
	if _, err := registry.Import(t.Context(), a, apptest.Admin, bad); err == nil ||
		!strings.HasPrefix(err.Error(), "Row 3 can't be taken, so nothing was") {
		t.Errorf("%v", err)
	}
	done, err := registry.Import(t.Context(), a, apptest.Admin,
		file("time", header, "2026-11-30;SS;1;Work;1:30;no charge;levels;", "2026-11-30;Sam Staff;Survey;W;90m;;mosaic;"))
	if err != nil || done.Rows != 2 || done.Many != "time entries" {
		t.Fatalf("%+v, %v", done, err)
	}
	if got := listed(t, a, apptest.Admin.Actor, timekeeping.Filter{}); got != "Survey/90 Survey/90" {
		t.Errorf("%s", got)
	}
	apptest.Whole(t, a)
	long := file("time", header, "2026-11-30;SS;1;Work;1:30;;"+strings.Repeat("x", 2001)+";")
	if check, err := registry.CheckImport(t.Context(), a, apptest.Admin.Actor, long); err != nil || len(check.Bad) != 1 ||
		!strings.Contains(check.Bad[0].Reason, "of at most 2000") {
		t.Errorf("a text of 2,001 characters: %+v, %v", check, err)
	}
	must(t, registry.UndoImport(t.Context(), a, apptest.Admin, done.ID))
	if got := listed(t, a, apptest.Admin.Actor, timekeeping.Filter{}); got != "" {
		t.Errorf("taken back, there is %s", got)
	}
	apptest.Whole(t, a)
}

func TestWhatIsWrittenToAFileIsReadAgain(t *testing.T) {
	for _, mark := range []string{".", ","} {
		a := apptest.Firm(t)
		_, err := recorded(t, a, func(in *timekeeping.TypedEntry) {
			in.Started, in.Ended, in.Worked, in.NotBillable, in.Expected = "9:15", "10:40", "", "0:10", "2:00"
			in.Markup, in.PerHour, in.Hold, in.Note, in.Reference, in.Treatment = "12.5", "140.50", "2026-12-24", "ours", "PO 7",
				wip.OutOfScope
		})
		must(t, err)
		_, err = recorded(t, a, func(in *timekeeping.TypedEntry) { in.Flat, in.Worked = "1250.75", "" })
		must(t, err)
		in := bought("123", share(apptest.Survey, ""))
		in.Tax, in.Shares[0].Markup, in.PaidBy, in.Supplier = "23", "7.5", "person", "Ferries"
		buy(t, a, in)
		km := bought("", share(0, ""))
		km.CategoryID, km.Units = mileage, "12.5"
		buy(t, a, km)
		apptest.Set(t, a, "firm", 1, "decimal_mark", mark)
		for _, expenses := range []bool{false, true} {
			kind := map[bool]string{false: "time", true: "expenses"}[expenses]
			written := exported(t, a, expenses)
			in := registry.Incoming{Kind: kind, Name: "again.csv", Header: written[0], Rows: written[1:],
				Cell: func(cell string) (string, bool) { return cell, false }}
			if _, err := registry.Import(t.Context(), a, apptest.Admin, in); err != nil {
				t.Fatalf("%s, with %s: %v", kind, mark, err)
			}
			again := exported(t, a, expenses)
			for _, row := range written[1:] {
				twice := 0
				for _, r := range again[1:] {
					if slices.Equal(r, row) {
						twice++
					}
				}
				if twice != 2 {
					t.Errorf("%s, with %s: %v comes out of %v", kind, mark, row, again)
				}
			}
		}
		apptest.Whole(t, a)
	}
}

func exported(t *testing.T, a *app.App, expenses bool) [][]string {
	t.Helper()
	header, rows, err := timekeeping.Export(t.Context(), a, apptest.Admin.Actor, timekeeping.Filter{Expenses: expenses})
	must(t, err)
	return append([][]string{header}, rows...)
}

func TestWhoSeesNoValuesWritesNone(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	blind := apptest.Staff.Actor
	blind.SeesRates = false
	header, rows, err := timekeeping.Export(t.Context(), a, blind, timekeeping.Filter{})
	if err != nil || rows[0][slices.Index(header, "Value")] != "" {
		t.Errorf("%v, %v", rows, err)
	}
}
