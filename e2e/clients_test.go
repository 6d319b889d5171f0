package e2e

import (
	"bytes"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// section is the JavaScript for a section of an overview.
const section = `document.querySelector("section[aria-label='" + %v + "']")`

func TestWhatBelongsToAClientIsMadeInPlace(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients?text=garrow")
	p.until(`document.querySelectorAll(".desk_sheet tbody tr").length === 1`)
	p.click("link", "Garrow Estuary Forum")
	p.until(section, "Onboarding")

	p.click("button", "Add a contact")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("Tova Brack\r")
	p.until(section+`.innerText.includes("Tova Brack main") && !document.querySelector(".form_in-place")`, "Contacts")
	p.still()
	p.click("button", "Add a note")
	p.until(`document.querySelector("#new-text")`)
	p.focus("field", "Text")
	p.press("Meets on Mondays")
	p.click("button", "Make the note")
	p.until(section+`.innerText.includes("Meets on Mondays")`, "Notes")

	// A step keeps what was got of it, until it is taken away.
	letter := filepath.Join(t.TempDir(), "letter.pdf")
	if err := os.WriteFile(letter, []byte("%PDF-1.7\n%%EOF"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.upload(letter)
	p.until(section+`.innerText.includes("letter.pdf")`, "Onboarding")
	p.click("button", "take away")
	p.until("!"+section+`.innerText.includes("letter.pdf")`, "Onboarding")
	for _, step := range []string{"Contract signed", "Welcome call", "Billing contact known"} {
		p.click("checkbox", step+" done")
		p.until(section+`?.innerText.match(/done 1 Dec 2026/g)?.length > 0`, "Onboarding")
		p.still()
	}
	p.until(`!document.querySelector(".sentence_sentence").innerText.includes("Being onboarded")`)
	p.reads("Onboarding, all done") // what was done stays in sight

	p.click("button", "Make inactive")
	p.until(`document.querySelector(".desk_over").innerText.includes("inactive")`)
	p.goTo("/clients?text=garrow")
	p.reads("Nothing here has")
	p.goTo("/clients?text=garrow&standing=past")
	p.click("link", "Garrow Estuary Forum")
	p.click("button", "Take back")
	p.until(`!document.querySelector(".desk_over").innerText.includes("inactive")`)
}

func TestAnEngagementIsMadeFromATemplateAndLikeAnother(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients/4")
	p.click("button", "New engagement")
	p.choose("Template", "Survey with report")
	p.click("button", "Make it from the template")
	p.until(`document.querySelector("h1").innerText === "Survey with report"`)
	p.until(section+`.innerText.includes("Tide reduction")`, "Phases and tasks")
	p.until(section+`.innerText.includes("340.0\u202fh")`, "Budgets")
	if text := js[string](p, section+".innerText", "Budgets"); !strings.Contains(text, "no forecast") {
		t.Errorf("nothing is used of it yet, and the budgets read %q", text)
	}
	p.click("button", "Make another like it")
	p.focus("field", "Name")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("Survey of next year\r")
	p.until(`document.querySelector("h1").innerText === "Survey of next year"`)
	p.until(section+`.innerText.includes("Tide reduction")`, "Phases and tasks")
}

func TestABudgetIsAddedAndAContactMadeForAnEngagement(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/engagements/2")
	p.click("button", "Add a budget")
	p.focus("field", "Hours")
	p.press("500\r")
	p.until(section+`.innerText.includes("500.0\u202fh")`, "Budgets")
	if text := js[string](p, section+".innerText", "Budgets"); !strings.Contains(text, "421.57\u202fh") || !strings.Contains(text, "84 %") {
		t.Errorf("421.57 of 500 hours are 84 %%, the budget reads %q", text)
	}
	p.click("button", "Close")
	p.click("button", "Begin")
	p.until(`document.querySelector(".ant-dropdown-menu-item")`)
	p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(i => i.innerText === "Add a contact")`)
	p.focus("field", "Name")
	p.press("Dev Marrin\r")
	p.until(`!document.querySelector(".form_in-place")`)
	p.goTo("/clients/1")
	p.until(section+`.innerText.includes("Dev Marrin")`, "Contacts")
}

func TestLeadsAndStaffSeeOfTheSetUpOnlyWhatIsTheirs(t *testing.T) {
	p := look(t)
	p.enter("lead")
	p.goTo("/clients")
	p.until(`document.querySelectorAll(".desk_sheet tbody tr").length > 2`)
	text := p.text(".desk_desk")
	for _, no := range []string{"Owed", "Late", "New client", "Saltmere Wetland Trust"} {
		if strings.Contains(text, no) {
			t.Errorf("a lead sees %q", no)
		}
	}
	if rail := p.text(".rail_rail"); strings.Contains(rail, "Set-up") {
		t.Error("a lead is offered the set-up")
	}
	p.goTo("/set-up/rates")
	p.until(`location.pathname === "/set-up"`)
	if text := p.text("body"); strings.Contains(text, "78.00") || strings.Contains(text, "An hour") {
		t.Errorf("a lead reads rates: %s", text)
	}
	p.goTo("/engagements/4")
	p.reads("There is no such engagement")
	p.goTo("/engagements/1")
	p.until(`document.querySelector(".form_values")`)
	if js[bool](p, `[...document.querySelectorAll("button.form_value-shown")].length > 0`) {
		t.Error("a lead changes what was agreed")
	}
}

func TestSetUpFitsASmallScreen(t *testing.T) {
	p := look(t)
	p.size(1024, 768)
	p.signIn("administrator")
	for _, path := range []string{"/clients", "/clients/1", "/engagements/1", "/set-up", "/set-up/people", "/set-up/rates",
		"/set-up/import",
		"/account"} {
		p.goTo(path)
		p.until(`document.querySelector("h1")`)
		p.still()
		if over := js[int](p, "document.documentElement.scrollWidth - document.documentElement.clientWidth"); over > 0 {
			t.Errorf("%s is %d pixels too wide", path, over)
		}
	}
	p.goTo("/set-up/people?open=3")
	p.click("button", "Person in detail")
	p.until(value+`.checkVisibility()`, "Name")
	p.press("\x1b")
	p.until(`document.querySelector(".set-up_records").checkVisibility()`)
}

func TestALogoIsChosenAndTakenAway(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up")
	p.until(`document.querySelector("input[type=file]")`)
	var picture bytes.Buffer
	if err := png.Encode(&picture, image.NewGray(image.Rect(0, 0, 80, 30))); err != nil {
		t.Fatal(err)
	}
	path, wrong := filepath.Join(t.TempDir(), "logo.png"), filepath.Join(t.TempDir(), "logo.svg")
	write(t, path, picture.String())
	write(t, wrong, "<svg/>")
	p.upload(wrong)
	p.reads("This is neither a PNG nor a JPEG")
	p.upload(path)
	p.until(`document.querySelector(".set-up_logo img")?.naturalWidth === 80`)
	p.click("button", "Take it away")
	p.until(`!document.querySelector(".set-up_logo img")`)
}
