package invoices_test

import (
	"bytes"
	"image"
	"image/png"
	"strconv"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// A picture is kept under its name, stands above the lines by choice, and beside a line where
// the columns show it.
func TestPicturesAreChosenForAnInvoiceAndForALine(t *testing.T) {
	a := apptest.Firm(t)
	id := apptest.Add(t, a, "pictures", "name", "Lighthouse")
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Survey})
	line := drafts.LineTyped{Text: "Chart", Amount: "10", Picture: "Lighthouse"}
	_, err := drafts.AddLine(t.Context(), a, apptest.Admin, edit(inv), line)
	refused(t, err, "no picture called")
	refused(t, setup.SetPicture(t.Context(), a, apptest.Admin, id, []byte("words")), "neither a PNG nor a JPEG")
	var drawn bytes.Buffer
	must(t, png.Encode(&drawn, image.NewNRGBA(image.Rect(0, 0, 40, 20))))
	must(t, setup.SetPicture(t.Context(), a, apptest.Admin, id, drawn.Bytes()))
	content, err := setup.Picture(t.Context(), a, apptest.Staff.Actor, strconv.FormatInt(id, 10))
	if must(t, err); len(content) == 0 {
		t.Error("the picture can't be read")
	}
	inv = byHand(t, a, inv, line)
	if inv.Lines[0].Picture != "Lighthouse" || inv.Printed.Sections[0].Lines[0].Picture != "" {
		t.Errorf("before the column is shown: %+v", inv.Lines[0])
	}
	inv = chosen(t, a, inv, "columns", "hours picture", "invoice")
	inv = chosen(t, a, inv, "head_picture", "Lighthouse", "invoice")
	inv = chosen(t, a, inv, "head_lines", "Forty years\nof soundings\nand a third line", "invoice")
	digest := inv.Document.Look.Head
	if digest == "" || inv.Printed.Sections[0].Lines[0].Picture != digest || inv.Document.Look.Lines != "Forty years\nof soundings" {
		t.Errorf("%+v", inv.Document.Look)
	}
	issued := issue(t, a, inv)
	if issued.Document.Look.Head != digest {
		t.Error("the picture is not frozen with the invoice")
	}
}

// Fields of the firm's own group lines and stand in their texts; work over days prints both.
func TestOwnFieldsAndSpansArePrinted(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "own-fields", "subject", "entry", "name", "Vessel")
	for _, vessel := range []string{"Tern", "Kite", "Tern"} {
		in := apptest.Typed(apptest.Survey, "2026-11-10", "1:00")
		in.Own, in.Until, in.Text = map[string]string{"Vessel": vessel}, day.Of(2026, 11, 12), "Levels, *again*"
		apptest.RecordTyped(t, a, in)
	}
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Survey, Take: "all"})
	inv = chosen(t, a, inv, "line_text", "{own.Vessel} · {text} · {own.Captain}", "invoice")
	line := inv.Printed.Sections[0].Lines[0]
	if line.Text != "Tern · Levels, again" || line.Day != "10 Nov – 12 Nov" || !line.Runs[1].Strong {
		t.Errorf("%+v", line)
	}
	inv = chosen(t, a, inv, "layout", "own.Vessel", "invoice")
	lines := inv.Printed.Sections[0].Lines
	if len(lines) != 2 || lines[0].Text != "Tern" || lines[0].Amount != "200.00" || lines[1].Amount != "100.00" {
		t.Errorf("%+v", lines)
	}
	issue(t, a, inv)
}

// 40 km at 0.30 are 12.00: units, price and category stand on the line, on the draft and on
// paper; with a mark-up of 10 % each is 0.33.
func TestUnitsAndPriceStandOnLinesOfExpenses(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct{ markup, price, amount string }{{"", "0.30", "12.00"}, {"10", "0.33", "13.20"}} {
		expense(t, a, apptest.Survey, "", func(in *timekeeping.TypedPurchase) {
			in.CategoryID, in.Units, in.PerUnit, in.Text, in.Shares[0].Markup = 2, "40", "0.30", "To the harbour", c.markup
			in.Shares[0].Amount = ""
		})
		inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Survey, Take: "all"})
		line, printed := inv.Lines[0], inv.Printed.Sections[0].Lines[0]
		if line.Quantity != "40" || line.Unit != "km" || line.PerHour.String() != c.price || line.Category == "" {
			t.Errorf("on the draft: %+v", line)
		}
		if printed.Hours != "40 km" || printed.Rate != c.price || printed.Amount != c.amount || printed.Note != line.Category {
			t.Errorf("on paper: %+v", printed)
		}
		issue(t, a, inv)
	}
}
