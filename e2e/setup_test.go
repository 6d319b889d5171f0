package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// value is the JavaScript for the button of a value on a record's sheet.
const value = `[...document.querySelectorAll("button.form_value-shown")].filter(e => e.checkVisibility()).find(e => e.getAttribute("aria-label").startsWith(%v + ":"))`

// set types a value of the record that is open, in place.
func (p *page) set(label, text string) {
	p.Helper()
	p.until(value, label)
	p.still() // what was saved before has found its place
	p.clickOn(value, label)
	p.until(`document.activeElement.getAttribute("aria-label") === %v`, label)
	js[bool](p, "(document.activeElement.select?.(), true)")
	p.press(text + "\r")
}

// choose opens a choice by its label and takes one of its options.
func (p *page) choose(label, option string) {
	p.Helper()
	p.until(control, "field", label)
	p.clickOn("("+control+").closest('.ant-select')", "field", label)
	p.until(control, "option", option)
	p.still() // the list has found its place
	p.click("option", option)
}

// A new client with only a name, an engagement for it in three fields, and the
// terms that it inherits, overrides and gives back.
func TestAClientNeedsOnlyANameAndInheritsTheRest(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients?new=yes")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("Wester Ness Ferry\r")
	p.until(`document.querySelector("h1").innerText === "Wester Ness Ferry"`)
	p.until(`document.querySelector("[aria-label=Onboarding]").innerText.includes("Contract signed")`)

	p.until(value+`.innerText === "30d"`, "Payment terms")
	p.until(`document.querySelector(".desk_folio").innerText.includes("the default")`)
	p.set("Payment terms", "soon")
	p.reads(`Payment terms "soon" are not known: write receipt, 30 days`)
	p.press("\x1b")
	p.set("Payment terms", "eom + 15d")
	p.until(value+`.innerText === "eom+15d"`, "Payment terms")
	p.reads("Changed payment terms.")
	p.click("button", "Undo")
	p.until(value+`.innerText === "30d"`, "Payment terms")
	p.set("Payment terms", "14d")
	p.click("button", "Give back Payment terms")
	p.until(value+`.innerText === "30d"`, "Payment terms")

	p.click("button", "New engagement")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("Slipway review\r")
	p.until(`document.querySelector("h1").innerText === "Slipway review"`)
	p.reads("Wester Ness Ferry")
}

func TestARateIsAskedForAndChangesOnlyWhatIsReRated(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/rates")
	p.choose("Person", "Tomas Brandt")
	p.choose("Engagement", "Breakwater scour survey")
	p.until(`document.querySelector("[data-testid=hour-price]").innerText.includes("134.50")`)
	for _, want := range []string{"the person Tomas Brandt", "beats the grade Hydrographer", "beats the firm", "Costs the firm"} {
		if text := p.text("[data-testid=hour-price]"); !strings.Contains(text, want) {
			t.Errorf("the answer does not say %q: %s", want, text)
		}
	}

	// A rate of the engagement from November on changes no entry by itself.
	p.click("button", "New rate")
	p.until(`document.querySelector("#new-per_hour")`)
	p.choose("Engagement", "Breakwater scour survey")
	p.focus("field", "An hour")
	p.press("150")
	p.focus("field", "From")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("2026-11-01\r")
	p.until(`document.querySelector(".desk_folio h2").innerText.includes("Breakwater scour survey from 2026-11-01")`)
	p.goTo("/engagements/1")
	worth := func() int { // all of its work, also what is held
		p.until(`document.querySelector(".tally_tally")`)
		return cents(t, js[string](p, `[...document.querySelectorAll(".tally_sum")].find(s => s.innerText.includes("worth, net")).querySelector("dd, .figure, dt").innerText`))
	}
	before := worth()
	p.click("button", "Begin")
	p.until(`document.querySelector(".ant-dropdown-menu-item")`)
	p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(i => i.innerText.startsWith("Re-rate"))`)
	p.until(`/Re-rate [1-9]\d* entries/.test(document.querySelector("[aria-label='Re-rate'] .ant-btn-primary").innerText)`)
	sums := js[[]string](p, `[...document.querySelectorAll("[aria-label='Re-rate'] tfoot td")].slice(-2).map(e => e.innerText)`)
	difference := cents(t, sums[1]) - cents(t, sums[0])
	rows := js[[][]string](p, `[...document.querySelectorAll("[aria-label='Re-rate'] tbody tr")].map(r => [r.children[5].innerText, r.children[6].innerText])`)
	added := 0
	for _, row := range rows {
		added += cents(t, row[1]) - cents(t, row[0])
	}
	if difference == 0 || added != difference {
		t.Errorf("the entries differ by %d, their totals by %d", added, difference)
	}
	p.clickOn(`document.querySelector("[aria-label='Re-rate'] .ant-btn-primary")`)
	p.reads("Re-rated ")
	p.goTo("/engagements/1")
	p.until(`!document.querySelector("[aria-label='Re-rate']")`)
	if grown := worth() - before; grown != difference {
		t.Errorf("the work grew by %d, the preview said %d", grown, difference)
	}
}

func TestManyTasksAreChangedAtOnceAndABudgetSaysWhenItIsUsedUp(t *testing.T) {
	p := open(t)
	p.enter("lead")
	p.goTo("/engagements/1")
	p.until(`document.querySelector("[aria-label=Budgets] tbody tr")`)
	if text := p.text("[aria-label=Budgets] tbody tr"); !strings.Contains(text, "340.0\u202fh") || !strings.Contains(text, "Dec 2026") {
		t.Errorf("the budget reads %q", text)
	}
	p.clickOn(`document.querySelectorAll("[aria-label=Budgets] tbody tr td .explain_explained")[1]`)
	p.until(`document.querySelector(".ant-popover").innerText.includes("Lasts, at that pace")`)
	p.press("\x1b")
	p.click("checkbox", "Select Tide reduction")
	p.click("checkbox", "Select Scour chart")
	p.reads("2 selected:")
	p.focus("field", "Due date of all")
	p.press("+30d\r")
	p.until(`document.querySelector("[aria-label='Phases and tasks']").innerText.match(/31 Dec 2026/g)?.length === 2`)
	p.click("button", "Add a phase")
	p.press("Handover\r")
	p.until(`document.querySelector("[aria-label='Phases and tasks']").innerText.includes("Handover")`)
}

func TestAFileIsTriedTakenAndTakenBack(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/import?kind=clients")
	p.until(`document.querySelector(".set-up_known-columns")`)
	bad, good := filepath.Join(t.TempDir(), "bad.csv"), filepath.Join(t.TempDir(), "good.csv")
	write(t, bad, "Name in lists;Mail;Payment terms;Currency\nNorth Skerry Light;light@skerry.example;14d;EUR\nSouth Skerry "+
		"Light;nowhere;14d;EUR\nEast Skerry Light;;soon;EUR\nWest;;=1+1;EUR\n")
	write(t, good, "Name in lists;Post\nNorth Skerry Light;light@skerry.example\nSouth Skerry Light;\n")
	p.upload(bad)
	p.reads("separated by semicolons")
	for _, want := range []string{`"nowhere" is no mail address`, `payment terms "soon" are not known`, "This cell holds a formula."} {
		p.until(`document.body.innerText.toLowerCase().includes(%v)`, strings.ToLower(want))
	}
	if !js[bool](p, `document.querySelector(".tally_tally .ant-btn-primary").disabled`) {
		t.Error("a file with bad rows can be taken")
	}
	p.upload(good)
	p.until(`document.querySelector(".tally_tally").innerText.includes("Take 2 rows")`)
	p.choose("Post is", "Mail")
	p.until(`document.querySelector(".tally_tally").innerText.includes("Take 2 rows") && document.querySelector("[title='Mail']")`)
	p.click("button", "Take 2 rows")
	p.reads("Took 2 clients.")
	p.click("button", "Undo")
	p.until(`document.querySelector(".desk_folio").innerText.includes("taken back")`)
	p.goTo("/clients?text=skerry light")
	p.reads("Nothing here has")
}

func write(t *testing.T, path, text string) {
	t.Helper()
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		t.Fatal(err)
	}
}

func TestAnInvitedPersonChoosesAPasswordAndASecondFactor(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/people?new=yes")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("Nell Harrow\tnell@skerrow.example")
	p.press("\r")
	p.click("button", "Make a link to choose a password")
	p.proves("high-water-mark")
	p.until(`document.querySelector("input.form_copy")`)
	link := js[string](p, `document.querySelector("input.form_copy").value`)
	js[bool](p, `(fetch("/api/session", {method: "DELETE"}).then(() => { window.gone = true }), true)`)
	p.until("window.gone")
	p.goTo(strings.TrimPrefix(link, p.address))
	p.reads("Welcome, Nell Harrow")
	p.until(`document.activeElement.type === "password"`)
	p.press("short\r")
	p.reads("This password is too short")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("harbour lights at dusk\r")
	p.until("document.querySelector('.rail_rail-me')")
	p.goTo("/account")
	p.click("button", "Add one")
	p.until(`document.querySelector("input.form_copy")`)
	p.focus("field", "The code")
	p.press("000000\r")
	p.proves("harbour lights at dusk")
	p.reads("This code does not belong to the secret.")
}

// A folder without data: the first start makes the firm and its administrator.
func TestTheFirstStartMakesTheFirm(t *testing.T) {
	p := openOn(t, "serve", filepath.Join(t.TempDir(), "new"))
	p.goTo("/")
	p.reads("Begin with your firm")
	for _, typed := range [][2]string{{"Name of the firm", "Tern Surveys"}, {"Standard rate", "20"}, {"Your name", "Ada Tern"},
		{"Your mail address", "ada@tern.example"}, {"A password", "short"}, {"Set-up token", "guessed"}} {
		p.focus("field", typed[0])
		p.press(typed[1])
	}
	p.press("\r")
	p.reads("This is not the set-up token")
	p.focus("field", "Set-up token")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press(p.token + "\r")
	p.reads("This password is too short: take at least 12 characters.")
	p.focus("field", "A password")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("terns over the bar\r")
	p.until(`document.querySelector("h1").innerText === "Set-up of Tern Surveys"`)
	p.goTo("/start")
	p.goTo("/clients?new=yes")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("First client\r")
	p.until(`document.querySelector("h1").innerText === "First client"`)
}

func TestTermsOfADraftHoldForItAloneOrFromNowOn(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("Brannoch Oyster Growers")
	p.click("button", "30 days")
	p.until(`document.activeElement.getAttribute("aria-label") === "Payment terms"`)
	p.press("soon")
	p.click("button", "This invoice only")
	p.reads("are not known: write receipt")
	js[bool](p, `(document.querySelector("[aria-label='Payment terms']").focus(), document.activeElement.select(), true)`)
	p.press("14d")
	p.click("button", "This invoice only")
	p.until(`document.querySelector(".review_review-facts").innerText.includes("15 Dec 2026")`)
	p.click("button", "14 days")
	p.until(`document.activeElement.getAttribute("aria-label") === "Payment terms"`)
	p.press("eom")
	p.click("button", "From now on")
	p.until(`document.querySelector(".review_review-facts").innerText.includes("31 Dec 2026")`)
	p.goTo("/clients/6")
	p.until(value+`.innerText === "eom"`, "Payment terms")
}

func TestARateOfItsOwnIsTypedOnAnEntry(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/time?person=3")
	p.week()
	p.clickOn(cell, "3:2")
	p.press("1:30")
	p.click("button", "From and to, price")
	p.focus("field", "A rate of its own")
	p.press("140.50")
	p.until(`document.querySelector("[data-testid=live-worth]").innerText.includes("1.5\u202fh × 140.50")`)
	p.click("button", "Save this entry")
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Recorded 1.5\u202fh")`)
	p.until(`document.querySelector("#entry-perHour").value === "140.50"`)
}

func TestFindDoesWhatTheScreenCan(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/engagements/1")
	p.until(section, "Budgets")
	p.click("button", "Find")
	p.until(`document.activeElement.getAttribute("aria-label") === "Find"`)
	p.press("add a bud")
	p.until(`document.querySelector(".find_hit").innerText.includes("Add a budget")`)
	p.press("\r")
	p.until(`document.querySelector("[aria-label='New budget']")`)
}

func TestFindReachesEverythingByAPartOfItsName(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	for typed, want := range map[string]string{"calder": "Port of Calderwick", "C008": "Quillan Bay Desalination",
		"scour sur": "Breakwater scour survey", "TB": "Tomas Brandt", "1030": "SC1030", "new cl": "New client"} {
		p.click("button", "Find")
		p.until(`document.activeElement.getAttribute("aria-label") === "Find"`)
		p.press(typed)
		p.until(`[...document.querySelectorAll(".find_hit")].some(h => h.innerText.includes(%v))`, want)
		p.press("\x1b")
		p.until(`!document.querySelector(".find_find")?.checkVisibility()`)
	}
}

// Who is new is asked for what an hour is billed at and costs, where they are made.
func TestANewPersonIsAskedForRateAndCost(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/people")
	p.until(`document.querySelector(".list_list tbody tr")`)
	p.click("button", "New person")
	p.until(`document.querySelector("#new-name")`)
	p.press("Lio Marr\tlio@skerrow.example\r")
	p.until(`document.querySelector(".desk_folio h2")?.innerText.includes("Lio Marr")`)
	p.typeIn("It is billed at", "95")
	p.typeIn("It costs us", "40")
	p.click("button", "Keep the rates")
	// Both are there, and hold from ever.
	p.until(`document.querySelector("[aria-label='An hour of theirs']").innerText.split("1 Jan 2000").length === 3`)
	if said := p.text("[aria-label='An hour of theirs']"); !strings.Contains(said, "95.00 EUR") || !strings.Contains(said, "40.00 EUR") {
		t.Errorf("%s", said)
	}
}

// A rate that holds from a day gone by offers to value what is unbilled since then anew, all of it at once.
func TestARateThatIsDatedBackOffersReRating(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/rates")
	p.until(`document.querySelector("[aria-label='An hour of anybody, in the whole firm']")`)
	p.click("button", "Another from a day")
	p.typeIn("It is billed at", "400")
	p.typeIn("From", "1 nov")
	p.click("button", "Keep the rates")
	p.reads("Unbilled time since 1 Nov 2026 keeps the rate at which it was recorded.")
	p.click("link", "Re-rate it")
	p.until(`document.querySelector("[aria-label='At the rates that hold now']")?.checked || document.querySelector("input[name=rerate]")?.checked || document.querySelector(".desk_folio input[type=checkbox]:checked")`)
	p.until(`[...document.querySelectorAll(".tally_tally button")].some(b => /^Change [0-9]+ entries$/.test(b.innerText) && !b.disabled)`)
}
