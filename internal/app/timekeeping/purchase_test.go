package timekeeping_test

import (
	"bytes"
	"image"
	"image/png"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// The categories that a firm begins with.
const (
	travel     = 1
	mileage    = 2
	forClients = 7 // paid in the client's name
)

func share(engagement int64, amount string) timekeeping.TypedShare {
	return timekeeping.TypedShare{EngagementID: engagement, Amount: amount, Treatment: wip.Billable}
}

func bought(amount string, shares ...timekeeping.TypedShare) timekeeping.TypedPurchase {
	return timekeeping.TypedPurchase{PersonID: 2, CategoryID: travel, Day: day.Of(2026, 11, 20), Text: "Ferry", Amount: amount,
		PaidBy: "firm", Shares: shares}
}

func buy(t *testing.T, a *app.App, in timekeeping.TypedPurchase) *timekeeping.Purchase {
	t.Helper()
	p, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, in)
	must(t, err)
	return p
}

// Source: 250 − 80 = 170 and 175 − 65 = 110, common practice of split purchases.
func TestWhatIsLeftOverIsOfferedForTheNextShare(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		in   timekeeping.TypedPurchase
		left string
	}{
		{bought("250", share(apptest.Survey, "80")), "170.00"}, {bought("175", share(apptest.Survey, "65")), "110.00"},
		{bought("175", share(apptest.Survey, "65"), share(apptest.Study, "110")), "0.00"},
		{bought("175", share(apptest.Survey, "65"), share(apptest.Study, "")), "0.00"},
		{bought("100", share(apptest.Survey, "100.01")), "−0.01"},
	} {
		r, err := timekeeping.PreviewPurchase(t.Context(), a, apptest.Staff.Actor, c.in, 0)
		if err != nil || r.Left.String() != c.left {
			t.Errorf("%+v, %v; want %s left over", r, err, c.left)
		}
	}
}

func TestAPurchaseIsSharedOutAndAddsUp(t *testing.T) {
	a := apptest.Firm(t)
	in := bought("307.50", share(apptest.Survey, "80"), share(apptest.Study, "65"), share(0, ""))
	in.Tax, in.Shares[0].Day, in.Shares[1].Markup = "57.50", day.Of(2026, 11, 18), "10"
	p := buy(t, a, in)
	if p.Cost.String() != "250.00" || p.Shares[0].Day != day.Of(2026, 11, 18) || p.Shares[1].Day != in.Day ||
		p.Shares[1].Value.String() != "71.50" ||
		p.Shares[2].Cost.String() != "105.00" || p.Shares[2].Engagement != "The firm's own cost" || p.Shares[2].Billing != wip.Outside {
		t.Errorf("%+v", p)
	}
	apptest.Whole(t, a)
	for says, change := range map[string]func(*timekeeping.TypedPurchase){
		"5.00 of 250.00 is not shared out yet":    func(in *timekeeping.TypedPurchase) { in.Shares[2].Amount = "100" },
		"5.00 more than the 250.00 that there is": func(in *timekeeping.TypedPurchase) { in.Shares[2].Amount = "110" },
		"Two shares have no amount": func(in *timekeeping.TypedPurchase) {
			in.Shares[1].Amount, in.Shares[2].Amount = "",
				""
		},
		"tax of 400.00 does not fit in 307.50": func(in *timekeeping.TypedPurchase) { in.Tax = "400" },
		"Nothing was paid":                     func(in *timekeeping.TypedPurchase) { in.Amount = "0" },
		"a share of 0.00 is nothing to charge": func(in *timekeeping.TypedPurchase) {
			in.Shares[0].Amount, in.Shares[2].Amount = "0",
				"185"
		},
		"a share of −20.00 is nothing to charge": func(in *timekeeping.TypedPurchase) {
			in.Shares[0].Amount, in.Shares[2].Amount = "-20",
				"205"
		},
		"This category is not in use": func(in *timekeeping.TypedPurchase) { in.CategoryID = 99 },
	} {
		wrong := bought("307.50", share(apptest.Survey, "80"), share(apptest.Study, "65"), share(0, "105"))
		wrong.Tax = "57.50"
		change(&wrong)
		_, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, wrong)
		if err == nil {
			t.Errorf("taken, though %s", says)
			continue
		}
		refusal(t, err, fieldOf(err), capitalised(says))
	}
	apptest.Whole(t, a)
}

func capitalised(says string) string { return says[1:] } // a sentence begins with a capital

func TestUnitsAtThePriceOfTheCategory(t *testing.T) {
	a := apptest.Firm(t)
	in := bought("", share(apptest.Survey, ""))
	in.CategoryID, in.Units = mileage, "120.5"
	p := buy(t, a, in) // 120.5 km × 0.30
	if p.Cost.String() != "36.15" || p.Units != "120.5" || p.PerUnit.String() != "0.30" {
		t.Fatalf("%+v", p)
	}
	apptest.Set(t, a, "expense-categories", mileage, "per_unit", "0.38")
	in.Units = "100"
	in.Shares[0].ID = p.Shares[0].ID
	changed, err := timekeeping.ChangePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version, in)
	if err != nil || changed.Cost.String() != "30.00" {
		t.Errorf("the price of then stays: %+v, %v", changed, err)
	}
	if fresh := buy(t, a, in); fresh.Cost.String() != "38.00" {
		t.Errorf("%+v", fresh)
	}
	in.PerUnit = "0.5"
	if own := buy(t, a, in); own.Cost.String() != "50.00" {
		t.Errorf("%+v", own)
	}
	apptest.Whole(t, a)
}

func TestADisbursementHasNoMarkUp(t *testing.T) {
	a := apptest.Firm(t)
	in := bought("420", share(apptest.Survey, ""))
	in.CategoryID = forClients
	if p := buy(t, a, in); p.Shares[0].Value.String() != "420.00" {
		t.Errorf("%+v", p)
	}
	in.Shares[0].Markup = "5"
	_, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, in)
	refusal(t, err, "shares.0.amount", "in the client's name and has no mark-up")
}

func TestAPurchaseInAnotherCurrencyIsItsOwn(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "clients", "name", "Cedar", "code", "C", "currency", "USD")
	abroad := apptest.Add(t, a, "engagements", "client", "C", "name", "Abroad", "lead", "AA", "code", "4", "opened", "2026-01-01")
	_, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, bought("100", share(abroad, "")))
	refusal(t, err, "shares.0.engagementId", "is billed in USD and this purchase is in EUR")
	in := bought("100", share(abroad, ""))
	in.Currency = "USD"
	if p := buy(t, a, in); p.Shares[0].Value.Currency != money.Currency("USD") {
		t.Errorf("%+v", p)
	}
	in.Currency = "DOUBLOON"
	if _, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, in); err == nil {
		t.Error("paid in doubloons")
	}
}

func TestAPurchaseIsChangedShareByShareAndRemoved(t *testing.T) {
	a := apptest.Firm(t)
	p := buy(t, a, bought("100", share(apptest.Survey, "60"), share(apptest.Study, "40")))
	in := bought("120", share(apptest.Study, "90"), share(0, "30"))
	in.Shares[0].ID = p.Shares[1].ID
	changed, err := timekeeping.ChangePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version, in)
	if err != nil || len(changed.Shares) != 2 || changed.Shares[0].ID != p.Shares[1].ID || changed.Shares[0].Value.String() != "90.00" {
		t.Fatalf("%+v, %v", changed, err)
	}
	apptest.Whole(t, a)
	_, err = timekeeping.ChangePurchase(t.Context(), a, apptest.Admin, p.ID, p.Version, in)
	refusal(t, err, "", "Somebody else has changed this")
	_, err = timekeeping.ChangePurchase(t.Context(), a, apptest.Lead, p.ID, changed.Version, in)
	refusal(t, err, "", "somebody else's purchase")
	_, err = timekeeping.OnePurchase(t.Context(), a, apptest.Lead.Actor, p.ID)
	refusal(t, err, "", "somebody else's purchase")
	must(t, timekeeping.RemovePurchase(t.Context(), a, apptest.Staff, p.ID, changed.Version))
	if _, err := timekeeping.OnePurchase(t.Context(), a, apptest.Admin.Actor, p.ID); err == nil {
		t.Error("a removed purchase is there")
	}
	apptest.Whole(t, a)
}

func TestReceiptsAreTakenByContentAndSeenByWhoSeesThePurchase(t *testing.T) {
	a := apptest.Firm(t)
	var picture bytes.Buffer
	must(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 4, 4))))
	for name, content := range map[string][]byte{"receipt.png": []byte("<svg/>"), "receipt.pdf": []byte("MZ program"), "empty.png": {}} {
		_, err := timekeeping.KeepFile(t.Context(), a, apptest.Staff, name, content)
		refusal(t, err, "file", "neither a PDF nor a picture")
	}
	_, err := timekeeping.KeepFile(t.Context(), a, apptest.Staff, "large.pdf",
		append([]byte("%PDF-1.7"), make([]byte, app.MaxFileBytes)...))
	refusal(t, err, "file", "larger than 20 MB")
	file, err := timekeeping.KeepFile(t.Context(), a, apptest.Staff, "no matter.txt", picture.Bytes())
	if err != nil || file.MediaType != "image/png" {
		t.Fatalf("%+v, %v", file, err)
	}
	in := bought("10", share(apptest.Study, ""))
	in.Files = []timekeeping.AttachedFile{*file}
	p := buy(t, a, in)
	mediaType, content, err := timekeeping.File(t.Context(), a, apptest.Staff.Actor, file.Digest)
	if err != nil || mediaType != "image/png" || len(content) == 0 {
		t.Errorf("%s, %v", mediaType, err)
	}
	if _, _, err := timekeeping.File(t.Context(), a, apptest.Lead.Actor, file.Digest); err == nil {
		t.Error("a lead sees a receipt of another's engagement")
	}
	if seen, err := timekeeping.OnePurchase(t.Context(), a, apptest.Staff.Actor, p.ID); err != nil || len(seen.Files) != 1 ||
		seen.Files[0].Name != "no matter.txt" {
		t.Errorf("%+v, %v", seen, err)
	}
	in.Files[0].Digest = "00" + file.Digest[2:]
	_, err = timekeeping.RecordPurchase(t.Context(), a, apptest.Admin, in)
	refusal(t, err, "files", "is not there any more")
	apptest.Whole(t, a)
}

func TestABudgetOfExpensesCountsTheirCost(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "expenses", "amount", "100", "from", "2026-01-01", "people", "LL")
	in := bought("80", share(apptest.Survey, ""))
	in.Shares[0].Markup = "50"
	buy(t, a, in)
	told := func() int { return len(noticesOf(t, a, 3)) }
	if n := told(); n != 1 { // 80 of 100 is over 75 %
		t.Errorf("%d notices", n)
	}
	buy(t, a, bought("5", share(apptest.Survey, "")))
	if n := told(); n != 1 {
		t.Errorf("%d notices", n)
	}
	buy(t, a, bought("15", share(apptest.Survey, "")))
	if n := told(); n != 2 {
		t.Errorf("%d notices: reaching 100 %% counts", n)
	}
}

func TestAPurchaseOnAClosedEngagementCanStillBePutRight(t *testing.T) {
	a := apptest.Firm(t)
	p := buy(t, a, bought("100", share(apptest.Survey, "60"), share(apptest.Study, "40")))
	apptest.Set(t, a, "engagements", apptest.Survey, "closed", "2026-11-01")
	in := bought("110", share(apptest.Survey, "70"), share(apptest.Study, "40"))
	in.Shares[0].ID, in.Shares[1].ID = p.Shares[0].ID, p.Shares[1].ID
	if r, err := timekeeping.PreviewPurchase(t.Context(), a, apptest.Staff.Actor, in, p.ID); err != nil || r.Left.Minor != 0 {
		t.Errorf("%+v, %v", r, err)
	}
	if _, err := timekeeping.ChangePurchase(t.Context(), a, apptest.Staff, p.ID, p.Version, in); err != nil {
		t.Error(err)
	}
	in.Shares[1].EngagementID = apptest.Survey
	_, err := timekeeping.PreviewPurchase(t.Context(), a, apptest.Staff.Actor, in, p.ID)
	refusal(t, err, "shares.1.engagementId", "is closed to new time")
	_, err = timekeeping.PreviewPurchase(t.Context(), a, apptest.Lead.Actor, in, p.ID)
	refusal(t, err, "", "somebody else's purchase")
	apptest.Whole(t, a)
}

// 100.00 with 10 % on it are 110.00; at cost, 100.00 although the category has 7 %.
func TestAMarkUpThatIsNotTypedStaysAsItWas(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "expense-categories", travel, "markup", "7")
	for markup, value := range map[string]string{"10": "110.00", "0": "100.00", "": "107.00"} {
		in := bought("100", share(apptest.Survey, ""))
		in.Shares[0].Markup = markup
		p := buy(t, a, in)
		blind := apptest.Staff
		blind.Actor.SeesRates = false
		in.Shares[0].ID, in.Shares[0].Markup, in.Shares[0].Note = p.Shares[0].ID, "", "in other words"
		if changed, err := timekeeping.ChangePurchase(t.Context(), a, blind, p.ID, p.Version, in); err != nil ||
			changed.Shares[0].Value != nil {
			t.Fatalf("%+v, %v", changed, err)
		}
		now, err := timekeeping.OnePurchase(t.Context(), a, apptest.Admin.Actor, p.ID)
		if err != nil || now.Shares[0].Value.String() != value {
			t.Errorf("a mark-up of %q: %+v, %v", markup, now.Shares, err)
		}
	}
	apptest.Whole(t, a)
}

// Source: 250.00 − 80.00 used is 170.00 left, as for any stock.
func TestPurchasesThatAreNotUsedUpAreListed(t *testing.T) {
	a := apptest.Firm(t)
	buy(t, a, bought("250", share(apptest.Survey, "80"), share(0, "")))
	buy(t, a, bought("40", share(apptest.Survey, "")))
	old := bought("300", share(0, ""))
	old.Day = day.Of(2025, 6, 1)
	buy(t, a, old)
	for _, c := range []struct {
		who  app.Request
		want int
	}{{apptest.Admin, 1}, {apptest.Staff, 1}, {apptest.Lead, 0}} {
		left, err := timekeeping.PurchasesLeft(t.Context(), a, c.who.Actor)
		if err != nil || len(left) != c.want || c.want == 1 && (left[0].Left.String() != "170.00" || left[0].Used.String() != "80.00") {
			t.Errorf("%+v, %v", left, err)
		}
	}
}
