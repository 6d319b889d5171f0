package wording_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wording"

	"github.com/go-playground/locales"
	"github.com/go-playground/locales/de"
	"github.com/go-playground/locales/el"
	"github.com/go-playground/locales/en_GB"
	"github.com/go-playground/locales/es"
	"github.com/go-playground/locales/fr"
	"github.com/go-playground/locales/pl"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"
)

var cldr = map[wording.Language]locales.Translator{wording.English: en_GB.New(), wording.German: de.New(), wording.French: fr.New(),
	wording.Spanish: es.New(), wording.Polish: pl.New(), wording.Greek: el.New()}

// The library has an older CLDR, in which short Spanish months end with a point.
var newer = strings.NewReplacer("ene.", "ene", "feb.", "feb", "mar.", "mar", "abr.", "abr", "may.", "may", "jun.", "jun", "jul.", "jul",
	"ago.", "ago", "sept.", "sept", "oct.", "oct", "nov.", "nov", "dic.", "dic")

// Oracle: github.com/go-playground/locales, made from the Unicode CLDR.
func TestDaysAreWrittenAsTheCLDRHasThem(t *testing.T) {
	for _, l := range wording.Languages {
		w := wording.Words{Language: l}
		for d := day.Of(2026, 1, 1); d <= day.Of(2026, 12, 31); d++ {
			want := cldr[l].FmtDateMedium(d.Time())
			if l == wording.Spanish {
				want = newer.Replace(want)
			}
			if got := w.Day(d); got != want {
				t.Errorf("%s: %s is %q, not %q", l, d, got, want)
				break
			}
		}
	}
}

// Oracle: the same, for months that stand alone.
func TestMonthsAreNamedAsTheCLDRHasThem(t *testing.T) {
	for _, l := range []wording.Language{wording.English, wording.German, wording.French, wording.Spanish, wording.Polish} {
		for month := time.January; month <= time.December; month++ {
			got, want := wording.Words{Language: l}.Month(day.Of(2026, month, 1)), cldr[l].MonthWide(month)
			name, _, _ := strings.Cut(got, " ")
			// Polish has months in another case beside a day; alone they are named.
			if l != wording.Polish && name != want || l == wording.Polish && []rune(name)[0] != []rune(want)[0] {
				t.Errorf("%s: %q, not %q", l, got, want)
			}
		}
	}
	if got := (wording.Words{Language: wording.Spanish}).Month(day.Of(2026, 11, 1)); got != "noviembre de 2026" {
		t.Errorf("%q", got) // Source: CLDR, es, yMMMM
	}
}

// Oracle: golang.org/x/text/number, made from the Unicode CLDR; our minus sign is
// U+2212 in every language.
func TestAmountsAreGroupedAsTheCLDRHasThem(t *testing.T) {
	for _, l := range wording.Languages {
		printer, w := message.NewPrinter(language.Make(string(l))), wording.Words{Language: l}
		for _, minor := range []int64{0, 5, 99, 12345, 99999, 100000, 123450, 999999, 1234567, 123456789, -123456} {
			want := printer.Sprint(number.Decimal(float64(minor)/100, number.Scale(2)))
			if digits := strings.Trim(fmt.Sprint(minor/100), "-"); l == wording.Spanish || l == wording.Polish {
				if len(digits) == 4 { // CLDR: minimumGroupingDigits 2, which the library does not know
					want = strings.NewReplacer("1.", "1", "9.", "9", "1\u00a0", "1", "9\u00a0", "9").Replace(want)
				}
			}
			if l == wording.French { // since CLDR 34 the narrow space, which the library does not have yet
				want = strings.ReplaceAll(want, "\u00a0", "\u202f")
			}
			want = strings.Replace(want, "-", "−", 1)
			if got := w.Figure(money.Amount{Minor: minor, Currency: "EUR"}); got != want {
				t.Errorf("%s: %d is %q, not %q", l, minor, got, want)
			}
		}
	}
}

// Oracle: the same library, for percentages: French and German have a space there.
func TestPercentagesHaveTheirSpace(t *testing.T) {
	for l, want := range map[wording.Language]string{wording.English: "12.5\u00a0%", wording.German: "12,5\u00a0%",
		wording.French: "12,5\u202f%", wording.Spanish: "12,5\u00a0%", wording.Polish: "12,5%", wording.Greek: "12,5%"} {
		if got := (wording.Words{Language: l}).Percent(12_5000); got != want {
			t.Errorf("%s: %q, not %q", l, got, want)
		}
		if l == wording.English {
			continue // ours, as on the screen
		}
		if oracle := message.NewPrinter(language.Make(string(l))).Sprint(number.Percent(0.125, number.Scale(1))); oracle != want &&
			l != wording.French {
			t.Errorf("%s: the library has %q", l, oracle)
		}
	}
}

func TestMoneyInASentence(t *testing.T) {
	amount := money.Amount{Minor: 123450, Currency: "EUR"}
	for l, want := range map[wording.Language]string{wording.English: "EUR\u00a01,234.50", wording.German: "1.234,50\u00a0EUR",
		"sv": "EUR\u00a01,234.50"} {
		if got := (wording.Words{Language: l}).Money(amount); got != want {
			t.Errorf("%s: %q, not %q", l, got, want)
		}
	}
}

// In every language a label is there, fills in what the English one does, and is
// another word than the English one where the languages share none.
func TestEveryLabelIsInEveryLanguage(t *testing.T) {
	for _, label := range wording.Labels() {
		same := 0
		for _, l := range wording.Languages {
			text := wording.Standard(l, label)
			if strings.TrimSpace(text) == "" || strings.TrimSpace(text) != text {
				t.Errorf("%s in %s is %q", label, l, text)
			}
			if err := wording.Check(label, text); err != nil {
				t.Errorf("%s in %s: %v", label, l, err)
			}
			if text == wording.Standard(wording.English, label) {
				same++
			}
		}
		if same > 3 && strings.Contains(string(label), "_") && label != wording.SumOf {
			t.Errorf("%s is the same in %d languages", label, same)
		}
	}
}

func TestAFirmPutsItsOwnWordsInPlaceOfOurs(t *testing.T) {
	w := wording.Words{Language: wording.German, Own: map[wording.Label]string{wording.PayBy: "Zahlbar bis {day}: {amount}",
		wording.Due: "Zahlen bis"}}
	if got := w.Say(wording.PayBy, "amount", "5,00 EUR", "day", "30.11.2026"); got != "Zahlbar bis 30.11.2026: 5,00 EUR" {
		t.Errorf("%q", got)
	}
	if got := w.Say(wording.Due); got != "Zahlen bis" {
		t.Errorf("%q", got)
	}
	if got := w.Say(wording.Total); got != "Gesamtbetrag" {
		t.Errorf("%q", got)
	}
	for _, text := range []string{"Pay {amount}", "Pay {amount} by {day} at {bank}", "Pay"} {
		if wording.Check(wording.PayBy, text) == nil {
			t.Errorf("%q is taken", text)
		}
	}
	if err := wording.Check("nothing", "x"); err == nil {
		t.Error("a label that is not there is taken")
	}
}

func ExampleWords_Day() {
	for _, l := range []wording.Language{wording.English, wording.German, wording.Greek} {
		fmt.Println(wording.Words{Language: l}.Day(day.Of(2026, 11, 30)))
	}
	// Output:
	// 30 Nov 2026
	// 30.11.2026
	// 30 Νοε 2026
}
