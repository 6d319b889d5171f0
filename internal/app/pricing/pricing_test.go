package pricing_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"
)

const signer = "sig@client.example"

// begun is a firm with a draft for Alder: three tiers, with every kind of line.
func begun(t testing.TB) (*app.App, *pricing.Proposal) {
	t.Helper()
	a := apptest.Firm(t)
	apptest.Add(t, a, "contacts", "client", "A", "name", "Sig Ner", "mail", signer)
	apptest.Add(t, a, "rates", "kind", "cost", "per_hour", "50", "from", "2026-01-01")
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 1, Name: "Alder 2027"})
	if err != nil {
		t.Fatal(err)
	}
	return a, save(t, a, made.ID, grid)
}

// grid types the proposal of the rules' picture.
func grid(p *pricing.TypedProposal) {
	p.Title, p.Term, p.Suggested = "Berth monitoring 2027", "12", 2
	p.Tiers = []pricing.TypedTier{{Name: "Watch"}, {Name: "Core"}, {Name: "Full reach"}}
	line := func(description, kind, price, when, expected string, cells ...string) pricing.TypedLine {
		return pricing.TypedLine{Description: description, Kind: kind, Price: price, When: when, Expected: expected, TaxCode: "S",
			Cells: cells}
	}
	calls := line("Storm call-out", "bands", "", "by hand", "", "optional 2", "optional 2", "3")
	calls.Bands = "first 2 at 1,450, then 1,200"
	p.Lines = []pricing.TypedLine{
		line("Baseline survey", "fixed", "8,400", "half as deposit on acceptance, the rest when the baseline is delivered", "64", "x", "x",
			"x"),
		line("Repeat bathymetry", "fixed", "6000", "each quarter, in arrears", "26", "-", "x", "x"),
		calls,
		line("Silt forecast model", "fixed", "780", "each month, in advance, on the 1st", "", "", "optional", "x"),
		line("Advice", "hourly", "110", "as worked", "10", "", "optional", "x"),
		line("Claim support", "open", "", "by hand", "", "x", "x", "x"),
	}
}

func save(t testing.TB, a *app.App, id int64, change func(*pricing.TypedProposal)) *pricing.Proposal {
	t.Helper()
	p, err := pricing.One(t.Context(), a, apptest.Admin.Actor, id)
	if err != nil {
		t.Fatal(err)
	}
	change(&p.Grid.Typed)
	saved, err := pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: id, Version: p.Version, Typed: p.Grid.Typed})
	if err != nil {
		t.Fatal(err)
	}
	return saved
}

// sent mails the proposal and gives the secret of its link.
func sent(t testing.TB, a *app.App, p *pricing.Proposal) (secret string, mails *apptest.Letters) {
	t.Helper()
	mails = apptest.Mail(a)
	if _, err := pricing.Send(t.Context(), a, apptest.Admin, p.ID,
		pricing.Sending{Version: p.Version, Name: "Sig Ner", Mail: signer, Word: "As we said.", Mailed: true}); err != nil {
		t.Fatal(err)
	}
	deliver(t, a)
	return mails.Find(t, signer, `/proposal#(\S+)`), mails
}

func deliver(t testing.TB, a *app.App) {
	t.Helper()
	if err := correspondence.Deliver(t.Context(), a); err != nil {
		t.Fatal(err)
	}
}

func code(t testing.TB, a *app.App, secret string, mails *apptest.Letters) string {
	t.Helper()
	if err := pricing.SendCode(t.Context(), a, secret); err != nil {
		t.Fatal(err)
	}
	return mails.Find(t, signer, `code is (\d{6})`)
}

func refused(t testing.TB, err error, want string) {
	t.Helper()
	var refusal *app.Refusal
	if !errors.As(err, &refusal) || !strings.Contains(refusal.Sentence, want) {
		t.Errorf("%v, without %q", err, want)
	}
}

func total(t testing.TB, g pricing.Grid, label string) string {
	t.Helper()
	for _, row := range g.Totals {
		if row.Label == label {
			return strings.Join(row.Figures, " ")
		}
	}
	t.Fatalf("no row %q in %+v", label, g.Totals)
	return ""
}

// Source of the figures: the picture of the grid, added by hand; advice, 10 h at 110.
func TestTheGridAddsUpWhileItIsTyped(t *testing.T) {
	a, p := begun(t)
	// 12,500 + 33,360 + 1,100
	if got := total(t, p.Grid, "All 12 months, before tax (+ what is priced when billed)"); got != "8,400.00 + 32,400.00 + 46,960.00 +" {
		t.Errorf("first year %s", got)
	}
	if got := total(t, p.Grid, "with every option, before tax"); got != "11,300.00 45,760.00 46,960.00" {
		t.Errorf("with every option %s", got)
	}
	if got := p.Grid.Lines[2].Cells[2]; got.Main != "3 ×" || got.Under != "4,100.00" {
		t.Errorf("3 call-outs: %+v", got)
	}
	typed := p.Grid.Typed
	typed.Lines[1].Cells[0] = "3,000"
	g, err := pricing.PriceTyped(t.Context(), a, apptest.Admin.Actor, p.ID, typed)
	if err != nil || total(t, *g, "All 12 months, before tax (+ what is priced when billed)") != "20,400.00 + 32,400.00 + 46,960.00 +" {
		t.Errorf("typed and not kept: %v, %v", g, err)
	}
	if again, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID); err != nil || again.Version != p.Version ||
		again.Grid.Typed.Lines[1].Cells[0] != "" {
		t.Errorf("it was kept: %+v, %v", again, err)
	}
	typed.Lines[1].Cells[0], typed.Lines[1].When = "x", "every full moon"
	_, err = pricing.PriceTyped(t.Context(), a, apptest.Admin.Actor, p.ID, typed)
	refused(t, err, "every full moon")
	var refusal *app.Refusal
	if errors.As(err, &refusal); refusal.Field != "lines.1.when" {
		t.Errorf("in the field %s", refusal.Field)
	}
	// 64 + 4 × 26 h at 50 are 8,400.00; (32,400 − 8,400) / 32,400 is 74 %.
	if p.Grid.Tiers[1].Cost.Minor != 8400_00 || p.Grid.Tiers[1].Margin != "74" {
		t.Errorf("%+v", p.Grid.Tiers[1])
	}
	fee, err := pricing.AskFee(t.Context(), a, apptest.Admin.Actor, p.ID, 1, 1, "45 %") // 1,300 / 0.55
	if err != nil || fee.Fee != "2363.64" {
		t.Errorf("%+v, %v", fee, err)
	}
	calendar, err := pricing.CalendarOf(t.Context(), a, apptest.Admin.Actor, p.ID, 1, false)
	if err != nil || calendar.Net != "32,400.00" || len(calendar.Bills) != 7 || !calendar.Bills[0].Deposit ||
		calendar.Steps["firstYear"].Figure != "32,400.00" {
		t.Errorf("%+v, %v", calendar, err)
	}
}

func TestNothingIsSentUnfilled(t *testing.T) {
	a, p := begun(t)
	apptest.Mail(a)
	for field, change := range map[string]func(*pricing.TypedProposal){
		"terms":         func(p *pricing.TypedProposal) { p.Terms = "We work for {cleint}." },
		"mail":          func(p *pricing.TypedProposal) { p.Mail = "Dear {adress}" },
		"opening":       func(p *pricing.TypedProposal) { p.Opening = "At {address}" }, // the client has none
		"lines.0.price": func(p *pricing.TypedProposal) { p.Lines[0].Price = "" },
		"tiers.1":       func(p *pricing.TypedProposal) { p.Tiers[1].Name = "" },
		"validUntil":    func(p *pricing.TypedProposal) { p.ValidUntil = "2026-11-30" },
	} {
		was := p.Grid.Typed
		changed := save(t, a, p.ID, change)
		found := false
		for _, f := range changed.Grid.Findings {
			found = found || f.Where == field && f.Stops
		}
		_, err := pricing.Send(t.Context(), a, apptest.Admin, p.ID,
			pricing.Sending{Version: changed.Version, Name: "Sig", Mail: signer, Mailed: true})
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Field != field || !found {
			t.Errorf("%s: %v, found before %v", field, err, found)
		}
		save(t, a, p.ID, func(p *pricing.TypedProposal) { *p = was; grid(p) })
	}
	view, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	_, err := pricing.Send(t.Context(), a, apptest.Admin, p.ID,
		pricing.Sending{Version: view.Version, Name: "Sig", Mail: "nobody", Mailed: true})
	refused(t, err, "no mail address")
	if out, err := pricing.Send(t.Context(), a, apptest.Admin, p.ID,
		pricing.Sending{Version: view.Version, Name: "Sig", Mail: signer}); err != nil ||
		!strings.HasPrefix(out.Link, "http://firm.example/proposal#") {
		t.Errorf("put out without mailing: %+v, %v", out, err)
	}
}

func TestVersionsOfADraftCanBeTakenAgain(t *testing.T) {
	a, p := begun(t)
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(time.Hour)}
	second := save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Lines[0].Price, p.Lines[1].Cells[0] = "9,000", "x" })
	if second.Draft != 2 {
		t.Fatalf("version %d", second.Draft)
	}
	versions, err := pricing.Versions(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil || len(versions) != 2 || versions[0].Words != "changed: Baseline survey, price; Repeat bathymetry in Watch" ||
		versions[0].Who != "Ada Admin" {
		t.Errorf("%+v, %v", versions, err)
	}
	history, err := pricing.History(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil || !strings.Contains(history[0].After, `"Baseline survey, price":"9000.00"`) ||
		!strings.Contains(history[0].Before, "8400.00") {
		t.Errorf("%+v, %v", history[0], err)
	}
	back, err := pricing.Restore(t.Context(), a, apptest.Admin, p.ID, second.Version, 1)
	if err != nil || back.Grid.Typed.Lines[0].Price != "8400.00" {
		t.Errorf("%+v, %v", back, err)
	}
	_, err = pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: p.ID, Version: second.Version, Typed: second.Grid.Typed})
	refused(t, err, "Somebody else")
}

func TestANewProposalFromAnOldOneTakesThePricesOfToday(t *testing.T) {
	a := apptest.Firm(t)
	service := apptest.Add(t, a, "services", "name", "Chart", "kind", "fixed", "price", "120")
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 1})
	if err != nil {
		t.Fatal(err)
	}
	line, err := pricing.FromCatalogue(t.Context(), a, apptest.Admin.Actor, made.ID, service)
	if err != nil || line.Price != "120.00" || line.TaxCode != "S" || line.Description != "Chart" {
		t.Fatalf("%+v, %v", line, err)
	}
	save(t, a, made.ID, func(p *pricing.TypedProposal) { line.Cells = []string{"x"}; p.Lines = append(p.Lines, *line) })
	apptest.Set(t, a, "services", service, "price", "135")
	same, err := pricing.Copy(t.Context(), a, apptest.Admin, made.ID, pricing.Copying{})
	if err != nil || len(same.Differences) != 0 {
		t.Errorf("%+v, %v", same, err)
	}
	reread, err := pricing.Copy(t.Context(), a, apptest.Admin, made.ID, pricing.Copying{Reread: true, ClientID: 2})
	if err != nil || len(reread.Differences) != 1 || reread.Differences[0] != (pricing.Difference{Line: "Chart", Was: "120.00",
		Is: "135.00"}) {
		t.Errorf("%+v, %v", reread, err)
	}
	if p, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, reread.ID); p.ClientID != 2 || p.Grid.Typed.Lines[0].Price != "135.00" ||
		p.State != core.Draft {
		t.Errorf("%+v", p)
	}
}

func TestALeadSeesTheirOwnProposals(t *testing.T) {
	a, p := begun(t)
	if _, err := pricing.One(t.Context(), a, apptest.Lead.Actor, p.ID); err == nil {
		t.Error("another lead's proposal is seen")
	}
	made, err := pricing.Begin(t.Context(), a, apptest.Lead, pricing.Begun{ClientID: 2})
	if err != nil {
		t.Fatal(err)
	}
	list, err := pricing.Desk(t.Context(), a, apptest.Lead.Actor, 0)
	if err != nil || len(list.Rows) != 1 || list.Rows[0].ID != made.ID {
		t.Errorf("%+v, %v", list, err)
	}
}

func TestTheDeskCountsWhatIsOutWonAndLost(t *testing.T) {
	a, p := begun(t)
	secret, _ := sent(t, a, p)
	list, err := pricing.Desk(t.Context(), a, apptest.Admin.Actor, 0)
	if err != nil || len(list.Out) != 1 || list.Out[0].Minor != 32_400_00 || list.Rows[0].DaysLeft != 30 || len(list.Months) != 0 {
		t.Errorf("%+v, %v", list, err)
	}
	if err := pricing.AskQuestion(t.Context(), a, secret, "When?"); err != nil {
		t.Fatal(err)
	}
	if list, _ = pricing.Desk(t.Context(), a, apptest.Admin.Actor, 0); list.Rows[0].Questions != 1 {
		t.Errorf("%+v", list.Rows[0])
	}
	view, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	if _, err := pricing.Reply(t.Context(), a, apptest.Admin, p.ID, view.Questions[0].ID, view.Questions[0].Version,
		"In May."); err != nil {
		t.Fatal(err)
	}
	if page, err := pricing.ReadPage(t.Context(), a, secret, nil); err != nil || page.Asked[0].Answer != "In May." {
		t.Errorf("%+v, %v", page, err)
	}
	if err := pricing.Decline(t.Context(), a, secret, "", "too dear"); err != nil {
		t.Fatal(err)
	}
	list, err = pricing.Desk(t.Context(), a, apptest.Admin.Actor, 0)
	if err != nil || len(list.Out) != 0 || len(list.Months) != 1 || list.Months[0].LostAs != 1 || list.Months[0].Lost.Minor != 32_400_00 ||
		list.Months[0].Month != day.Of(2026, 12, 1) {
		t.Errorf("%+v, %v", list, err)
	}
	apptest.Whole(t, a)
}

func TestLinesThatShareARuleChangeTogether(t *testing.T) {
	a, p := begun(t)
	shared := save(t, a, p.ID, func(p *pricing.TypedProposal) {
		p.Lines[1].Shares, p.Lines[3].Shares = "surveys", "surveys"
		p.Lines[1].Said = "each quarter, in advance, on the 10th"
	})
	for _, i := range []int{1, 3} {
		if got := shared.Grid.Typed.Lines[i].When; got != "each quarter, in advance, on the 10th" {
			t.Errorf("line %d is billed %s", i, got)
		}
	}
	if got := shared.Grid.Typed.Lines[0].When; strings.HasPrefix(got, "each") {
		t.Errorf("a line alone is billed %s", got)
	}
}

func TestTheClientChoosesAQuantityWhereItIsAsked(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Lines[2].Cells[1] = "optional 2 ?" })
	secret, _ := sent(t, a, p)
	for quantity, want := range map[string]string{"2": "35,300.00", "3": "36,500.00"} { // 32,400 with 2 × 1,450, and 1,200 more
		page, err := pricing.ReadPage(t.Context(), a, secret,
			&pricing.Chosen{Tier: 1, Options: []int{2}, Quantities: map[string]string{"2": quantity}})
		if err != nil || page.Chosen.Net != want || page.Chosen.Rows[2].Label != "When it is done" {
			t.Errorf("%s call-outs: %+v, %v", quantity, page.Chosen, err)
		}
	}
	_, err := pricing.ReadPage(t.Context(), a, secret,
		&pricing.Chosen{Tier: 1, Options: []int{2}, Quantities: map[string]string{"2": "none"}})
	refused(t, err, "no quantity")
	// What is not an option, or not asked, can't be forced.
	page, err := pricing.ReadPage(t.Context(), a, secret,
		&pricing.Chosen{Tier: 1, Options: []int{0, 1, 99, -1}, Quantities: map[string]string{"1": "0.0001"}})
	if err != nil || page.Chosen.Net != "32,400.00" {
		t.Errorf("%+v, %v", page, err)
	}
}

// A proposal of hidden prices shows totals, and not a price of a line.
func TestPricesThatDoNotShowAreNotOnThePage(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Shows = "totals" })
	secret, _ := sent(t, a, p)
	page, err := pricing.ReadPage(t.Context(), a, secret, nil)
	if err != nil || page.Prices {
		t.Fatal(err)
	}
	for _, tier := range page.Tiers {
		for _, line := range tier.Lines {
			if line.Amount != "" || strings.Contains(line.When, "1,450") {
				t.Errorf("%s shows %q, %q", line.Description, line.Amount, line.When)
			}
		}
	}
}

func BenchmarkPriceAProposal(b *testing.B) {
	a, p := begun(b)
	for b.Loop() {
		if _, err := pricing.PriceTyped(b.Context(), a, apptest.Admin.Actor, p.ID, p.Grid.Typed); err != nil {
			b.Fatal(err)
		}
	}
}

// An administrator's proposal is led by who is responsible for the client, if
// that is a lead, and can be given to another; a lead keeps their own.
func TestAProposalIsLedBySomebody(t *testing.T) {
	a := apptest.Firm(t)
	begin := func(by app.Request) *pricing.Proposal {
		t.Helper()
		made, err := pricing.Begin(t.Context(), a, by, pricing.Begun{ClientID: 1})
		if err != nil {
			t.Fatal(err)
		}
		p, err := pricing.One(t.Context(), a, by.Actor, made.ID)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	if p := begin(apptest.Admin); p.Lead != "Ada Admin" {
		t.Errorf("without anybody responsible it is led by %s", p.Lead)
	}
	apptest.Set(t, a, "clients", 1, "responsible", "LL")
	p := begin(apptest.Admin)
	if p.Lead != "Lea Lead" || p.Grid.Typed.Lead != "LL" {
		t.Errorf("led by %s", p.Lead)
	}
	if p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Lead = "Ada Admin" }); p.LeadID != 1 || p.Grid.Typed.Lead != "AA" {
		t.Errorf("given to %s", p.Lead)
	}
	own := begin(apptest.Lead)
	own.Grid.Typed.Lead = "AA"
	_, err := pricing.Save(t.Context(), a, apptest.Lead, pricing.Saving{ID: own.ID, Version: own.Version, Typed: own.Grid.Typed})
	refused(t, err, "You would not see it any more")
	own.Grid.Typed.Lead = "XY"
	_, err = pricing.Save(t.Context(), a, apptest.Lead, pricing.Saving{ID: own.ID, Version: own.Version, Typed: own.Grid.Typed})
	refused(t, err, "Nobody here is called")
}

// Every field that can't be understood is named, with a sentence; nothing of it
// is kept.
func TestWhatCanNotBeUnderstoodNamesItsField(t *testing.T) {
	a, p := begun(t)
	for field, spoil := range map[string]func(*pricing.TypedProposal){
		"validUntil":       func(p *pricing.TypedProposal) { p.ValidUntil = "soon" },
		"starts":           func(p *pricing.TypedProposal) { p.Starts = "31 Feb 2027" },
		"term":             func(p *pricing.TypedProposal) { p.Term = "a while" },
		"discount":         func(p *pricing.TypedProposal) { p.Discount = "a lot" },
		"name":             func(p *pricing.TypedProposal) { p.Name = " " },
		"ways":             func(p *pricing.TypedProposal) { p.Pays, p.Ways = "now", nil },
		"lines.0.price":    func(p *pricing.TypedProposal) { p.Lines[0].Price = "8.4.0" },
		"lines.0.quantity": func(p *pricing.TypedProposal) { p.Lines[0].Quantity = "two" },
		"lines.0.taxCode":  func(p *pricing.TypedProposal) { p.Lines[0].TaxCode = "ZZ" },
		"lines.0.expected": func(p *pricing.TypedProposal) { p.Lines[0].Expected = "8 Nobody" },
		"lines.0.discount": func(p *pricing.TypedProposal) { p.Lines[0].Discount = "5 % off" },
		"lines.1.cells.2":  func(p *pricing.TypedProposal) { p.Lines[1].Cells[2] = "cheap" },
		"lines.2.bands":    func(p *pricing.TypedProposal) { p.Lines[2].Bands = "first 5 at 10" },
		"lines.5.when":     func(p *pricing.TypedProposal) { p.Lines[5].When = "on acceptance" }, // an open price
		"lines.3.when":     func(p *pricing.TypedProposal) { p.Lines[3].When = "as worked" },     // a fixed price
		"lines":            func(p *pricing.TypedProposal) { p.Discount = "9,000" },              // more than the first tier bills once
		"lines.4":          func(p *pricing.TypedProposal) { p.Lines[4].Cells = []string{"x"} },
		"suggested":        nil,
	} {
		if spoil == nil {
			continue
		}
		view, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
		if err != nil {
			t.Fatal(err)
		}
		typed := view.Grid.Typed
		spoil(&typed)
		_, err = pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: p.ID, Version: view.Version, Typed: typed})
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Field != field || !strings.HasSuffix(refusal.Sentence, ".") &&
			!strings.HasSuffix(refusal.Sentence, "?") {
			t.Errorf("%s: %v in %q", field, err, refusal)
		}
		if after, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID); after.Version != view.Version {
			t.Errorf("%s: it was kept", field)
		}
	}
}

// What is asked of a proposal that is over, or is somebody else's, is refused.
func TestActsAtTheWrongMoment(t *testing.T) {
	a, p := begun(t)
	_, err := pricing.Withdraw(t.Context(), a, apptest.Admin, p.ID, p.Version)
	refused(t, err, "not sent yet")
	secret, _ := sent(t, a, p)
	out, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil {
		t.Fatal(err)
	}
	_, err = pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: p.ID, Version: out.Version, Typed: out.Grid.Typed})
	refused(t, err, "withdraw it, or make a new version")
	refused(t, pricing.Delete(t.Context(), a, apptest.Admin, p.ID, out.Version), "it is out")
	refused(t, pricing.AskQuestion(t.Context(), a, secret, "  "), "Type your question")
	_, err = pricing.PassOn(t.Context(), a, secret, "", "x@client.example", "")
	refused(t, err, "Give a name")
	_, err = pricing.PassOn(t.Context(), a, secret, "Bo", "nowhere", "")
	refused(t, err, "no mail address")
	_, err = pricing.Reply(t.Context(), a, apptest.Admin, p.ID, 99, 0, "Yes.")
	refused(t, err, "no such question")
	for _, id := range []int64{p.ID, 99} {
		_, err = pricing.One(t.Context(), a, apptest.Staff.Actor, id)
		refused(t, err, "no such proposal")
	}
	_, err = pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{})
	refused(t, err, "For whom is it")
	apptest.Set(t, a, "clients", 2, "currency", "USD")
	_, err = pricing.Copy(t.Context(), a, apptest.Admin, p.ID, pricing.Copying{ClientID: 2})
	refused(t, err, "begin a new proposal")
	draft, err := pricing.Copy(t.Context(), a, apptest.Admin, p.ID, pricing.Copying{})
	if err != nil {
		t.Fatal(err)
	}
	if err := pricing.Delete(t.Context(), a, apptest.Admin, draft.ID, 0); err != nil {
		t.Error(err)
	}
	_, err = pricing.One(t.Context(), a, apptest.Admin.Actor, draft.ID)
	refused(t, err, "no such proposal")
	apptest.Whole(t, a)
}

// In another currency costs are converted by the recorded rate; without one the
// proposal says so instead of a wrong margin. Source: 50.00 EUR at 0.8 EUR a
// dollar are 62.50 dollars.
func TestMarginsOfAnotherCurrency(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "clients", "name", "Dollar", "code", "D", "currency", "USD")
	apptest.Add(t, a, "rates", "kind", "cost", "per_hour", "50", "from", "2026-01-01")
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 3})
	if err != nil {
		t.Fatal(err)
	}
	p, err := pricing.One(t.Context(), a, apptest.Admin.Actor, made.ID)
	if err != nil {
		t.Fatal(err)
	}
	typed := p.Grid.Typed
	typed.Lines = []pricing.TypedLine{{Description: "Opinion", Kind: "fixed", Price: "250", When: "on acceptance", TaxCode: "S",
		Expected: "1", Cells: []string{"x"}}}
	_, err = pricing.PriceTyped(t.Context(), a, apptest.Admin.Actor, made.ID, typed)
	refused(t, err, "no exchange rate of USD")
	apptest.Add(t, a, "exchange-rates", "currency", "USD", "day", "2026-11-01", "rate", "0.8", "source", "test")
	g, err := pricing.PriceTyped(t.Context(), a, apptest.Admin.Actor, made.ID, typed)
	if err != nil || g.Tiers[0].Cost.Minor != 62_50 || g.Tiers[0].Cost.Currency != "USD" || g.Tiers[0].Margin != "75" {
		t.Errorf("%+v, %v", g, err)
	}
}

// The number of a proposal is its entity's next; a new one from an old keeps the
// entity, and a start that is over is open again.
func TestNumbersAndStarts(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Starts = "2026-11-15" })
	if p.Number != "P1" || p.Grid.Assumed || p.Grid.Start.String() != "2026-11-15" {
		t.Errorf("%s starts %s, assumed %v", p.Number, p.Grid.Start, p.Grid.Assumed)
	}
	made, err := pricing.Copy(t.Context(), a, apptest.Admin, p.ID, pricing.Copying{})
	if err != nil {
		t.Fatal(err)
	}
	if next, err := pricing.One(t.Context(), a, apptest.Admin.Actor, made.ID); err != nil || next.Number != "P2" ||
		next.Grid.Typed.Starts != "" || !next.Grid.Assumed || next.Grid.Typed.ValidUntil != "2026-12-31" {
		t.Errorf("%+v, %v", next, err)
	}
	// The calendar of a start in the past begins there; what is due on acceptance is due today.
	calendar, err := pricing.CalendarOf(t.Context(), a, apptest.Admin.Actor, p.ID, 2, true)
	if err != nil || calendar.Bills[0].When != "1 Dec 2026" || calendar.Bills[1].When != "1 Dec 2026" || !calendar.Bills[0].Deposit {
		t.Errorf("%+v, %v", calendar.Bills[:3], err)
	}
}

// A price in a cell, said as one, is a price however its line is priced: the rate of an hourly
// line, never hours. The pages say it so when words under a line change how that is priced.
func TestAPriceInACellIsNeverHours(t *testing.T) {
	a, p := begun(t)
	for said, want := range map[string][2]string{"on acceptance": {"fixed", "140.00"}, "hourly": {"hourly", "at 140.00"}} {
		saved := save(t, a, p.ID, func(typed *pricing.TypedProposal) {
			typed.Lines = []pricing.TypedLine{{Description: "Advice", Kind: "fixed", Price: "120", When: "on acceptance", Said: said, Expected: "10",
				TaxCode: "S", Cells: []string{"x", "at 120", "at 140"}}}
		})
		l := saved.Grid.Typed.Lines[0]
		if l.Kind != want[0] || l.Price != "120.00" || !strings.Contains(l.Cells[2], want[1]) || strings.HasPrefix(l.Cells[2], "140.00 h") {
			t.Errorf("%s: %+v", said, l)
		}
	}
}
