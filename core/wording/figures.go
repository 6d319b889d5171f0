package wording

import (
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
)

const (
	noBreak = "\u00a0"
	thin    = "\u202f" // and does not break either
)

// style is how a language writes numbers and days.
type style struct {
	decimal, group string
	least          int    // how many digits stand before the first group, where groups are made
	percent        string // between a number and its sign
	short          [12]string
	months         [12]string // standing alone
	numeric        bool       // days are written with numbers only
	ofYear         string     // between month and year: "noviembre de 2026"
}

var styles = map[Language]style{
	English: {decimal: ".", group: ",", least: 1, percent: noBreak,
		short: [12]string{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"},
		months: [12]string{"January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November",
			"December"}},
	German: {decimal: ",", group: ".", least: 1, percent: noBreak, numeric: true,
		months: [12]string{"Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November",
			"Dezember"}},
	French: {decimal: ",", group: thin, least: 1, percent: thin,
		short: [12]string{"janv.", "févr.", "mars", "avr.", "mai", "juin", "juil.", "août", "sept.", "oct.", "nov.", "déc."},
		months: [12]string{"janvier", "février", "mars", "avril", "mai", "juin", "juillet", "août", "septembre", "octobre", "novembre",
			"décembre"}},
	Spanish: {decimal: ",", group: ".", least: 2, percent: noBreak, ofYear: "de ",
		short: [12]string{"ene", "feb", "mar", "abr", "may", "jun", "jul", "ago", "sept", "oct", "nov", "dic"},
		months: [12]string{"enero", "febrero", "marzo", "abril", "mayo", "junio", "julio", "agosto", "septiembre", "octubre", "noviembre",
			"diciembre"}},
	Polish: {decimal: ",", group: noBreak, least: 2,
		short: [12]string{"sty", "lut", "mar", "kwi", "maj", "cze", "lip", "sie", "wrz", "paź", "lis", "gru"},
		months: [12]string{"styczeń", "luty", "marzec", "kwiecień", "maj", "czerwiec", "lipiec", "sierpień", "wrzesień", "październik",
			"listopad", "grudzień"}},
	Greek: {decimal: ",", group: ".", least: 1,
		short: [12]string{"Ιαν", "Φεβ", "Μαρ", "Απρ", "Μαΐ", "Ιουν", "Ιουλ", "Αυγ", "Σεπ", "Οκτ", "Νοε", "Δεκ"},
		months: [12]string{"Ιανουάριος", "Φεβρουάριος", "Μάρτιος", "Απρίλιος", "Μάιος", "Ιούνιος", "Ιούλιος", "Αύγουστος", "Σεπτέμβριος",
			"Οκτώβριος", "Νοέμβριος", "Δεκέμβριος"}},
}

func (w Words) style() style { return styles[w.Language.Known()] }

// Day is a day: 30 Nov 2026, 30.11.2026.
func (w Words) Day(d day.Day) string {
	t, s := d.Time(), w.style()
	if s.numeric {
		return t.Format("02.01.2006")
	}
	return strconv.Itoa(t.Day()) + " " + s.short[t.Month()-1] + " " + strconv.Itoa(t.Year())
}

// ShortDay is a day whose year is plain: 2 Nov, 02.11.
func (w Words) ShortDay(d day.Day) string {
	t, s := d.Time(), w.style()
	if s.numeric {
		return t.Format("02.01.")
	}
	return strconv.Itoa(t.Day()) + " " + s.short[t.Month()-1]
}

// Month is the month of a day: November 2026.
func (w Words) Month(d day.Day) string {
	t, s := d.Time(), w.style()
	return s.months[t.Month()-1] + " " + s.ofYear + strconv.Itoa(t.Year())
}

// Figure is an amount without its currency: 1,234.50, with U+2212 as minus sign.
func (w Words) Figure(a money.Amount) string { return w.local(a.String()) }

// Rate is a rate with at least two decimals.
func (w Words) Rate(r money.Rate) string { return w.local(r.String()) }

// Percent is a percentage with its sign: 12.5 %.
func (w Words) Percent(p money.Percent) string { return w.local(p.String()) + w.style().percent + "%" }

// Count is a quantity or a number of hours, kept with a point: 1.5.
func (w Words) Count(plain string) string { return w.local(plain) }

// Money is an amount with its currency, as a sentence has it.
func (w Words) Money(a money.Amount) string {
	if w.Language.Known() == English {
		return string(a.Currency) + noBreak + w.Figure(a)
	}
	return w.Figure(a) + noBreak + string(a.Currency)
}

// local writes a number, grouped and with a point as the core has it, as the
// language does.
func (w Words) local(english string) string {
	s := w.style()
	whole, fraction, has := strings.Cut(english, ".")
	if digits := strings.TrimPrefix(whole, "−"); len(digits) < 4+s.least && s.least > 1 {
		whole = strings.ReplaceAll(whole, ",", "")
	}
	whole = strings.ReplaceAll(whole, ",", s.group)
	if !has {
		return whole
	}
	return whole + s.decimal + fraction
}
