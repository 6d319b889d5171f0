package e2e

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// unopened gives the amounts of the rail, the tally, the board, the foot of lists and what is owed that nothing explains.
const unopened = `[...document.querySelectorAll(
	".rail_rail-fact b, .tally_tally dd, .wip_board-facts .figure, tfoot td, tfoot th, .owed tbody td")].filter(e =>
	/^([A-Z]{3} )?−?[0-9,]+[.][0-9]{2}$/m.test(e.innerText) && !e.querySelector("[data-explain]") && !e.closest("[data-explain]")).map(e => e.innerText)`

// What explains itself on a page, and the last step of what is open.
const (
	explained = `[...document.querySelectorAll("header [data-explain], main [data-explain]")].filter(e => e.checkVisibility()).slice(0, 30)`
	lastStep  = `[...document.querySelectorAll(".ant-popover .explain_steps > .explain_step-result .figure")].find(e => e.checkVisibility())`
)

// press presses the figure of a place, and says whether it is there.
const press = "(figure => figure?.click() === undefined && figure !== null)(document.querySelector(`[data-place=\"${%v}\"]`))"

var isAmount = regexp.MustCompile(`^(?:[A-Z]{3} )?(−?[0-9,]+(?:\.[0-9]{2})?)(?: \+)?$`)

// amountIn reads an amount without its currency; a margin is none. On a bill it stands in the client's form.
func amountIn(text string) (units float64, ok bool) {
	if comma := len(text) - 3; comma > 0 && text[comma] == ',' {
		text = strings.ReplaceAll(text[:comma], ".", ",") + "." + text[comma+1:]
	}
	found := isAmount.FindStringSubmatch(text)
	if found == nil {
		return 0, false
	}
	units, err := strconv.ParseFloat(strings.NewReplacer(",", "", "−", "-").Replace(found[1]), 64)
	return units, err == nil
}

// Every amount that is computed opens, and its last step is the amount; the rail rounds to whole units. In short it is every third
// of a page.
func TestEveryComputedAmountOpensIntoItself(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/account")
	p.choose("How you read hours", "4:12") // so that they look like no amount
	p.until(`document.querySelector("[data-testid=rail-time] b").innerText.includes(":")`)
	opened, step := 0, 1
	if testing.Short() {
		step = 3
	}
	for _, at := range []string{"/pricing", "/pricing/11", "/pricing/4", "/time?person=3&week=2026-11-23", "/time/people",
		"/time/list?from=2026-11-01", "/time/expenses?from=any", "/wip", "/wip/board", "/billing", "/billing?show=register", "/billing/262", "/billing/29", "/billing/53",
		"/receivables", "/receivables?show=payments", "/receivables?show=funds", "/receivables?show=deposits", "/receivables?show=transfers",
		"/receivables?show=journal", "/clients", "/clients/1", "/engagements/2"} {
		p.goTo(at)
		p.until(`document.querySelector("main .tally_sum dd, main .wip_board, main h1") && document.querySelector("[data-testid=rail-wip] b").innerText !== ""`)
		p.still()
		if bare := js[[]string](p, unopened); len(bare) > 0 {
			t.Errorf("%s: nothing explains %q", at, bare)
		}
		for i, said := range js[[]string](p, explained+`.map((e, i) => (e.dataset.place = i, e.innerText))`) {
			amount, ok := amountIn(said)
			if !ok || i%step != 0 || i < 4 && at != "/pricing" { // the rail is everywhere the same
				continue
			}
			if !js[bool](p, press, i) {
				continue // what was drawn meanwhile has taken its place
			}
			opened++
			p.until(lastStep)
			if last, ok := amountIn(js[string](p, lastStep+".innerText")); !ok || last != amount && (i >= 4 || math.Round(last) != amount) {
				t.Errorf("%s: %s ends in %.2f", at, said, last)
			}
			js[bool](p, press, i)
			p.until("!" + lastStep)
		}
	}
	if opened < 120/step {
		t.Errorf("only %d amounts were opened", opened)
	}
}
