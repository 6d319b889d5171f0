package pricing

import (
	"fmt"
	"regexp"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/worktime"
)

var (
	openWords  = regexp.MustCompile(`(?i)^open(?:,? priced when billed)?$`)
	bandWords  = regexp.MustCompile(`(?i)^per (.+?): ?(.+)$`)
	perAt      = regexp.MustCompile(`(?i)^per (.+?) (?:at|@) ?([\d.,' ]+)$`)
	priceFirst = regexp.MustCompile(`(?i)^([\d.,' ]*\d) ?(?:per|an?|/) ?(.+)$`)
	hourlyAt   = regexp.MustCompile(`(?i)^(?:by the hour|hourly)(?:,? at ([\d.,' ]+))?$`)
)

// Say writes under a line how it is priced and when it is billed, as it can be
// typed again:
//
//	per call: first 2 at 1450.00, then 1200.00; by hand
//	640.00 per day; on acceptance
//	open, priced when billed
func (l Line) Say(mark money.Mark, decimals int) string {
	price := ""
	if l.Price != nil {
		price = money.TypeFixed(int64(*l.Price), mark, 4, decimals)
	}
	unit := l.Unit
	if unit == "" {
		unit = "unit"
	}
	switch {
	case l.Kind == Open:
		return "open, priced when billed"
	case l.Kind == Bands:
		return fmt.Sprintf("per %s: %s; %s", unit, TypeBands(l.Bands, mark, decimals), l.Rule)
	case l.Kind == PerUnit && price != "":
		return fmt.Sprintf("%s per %s; %s", price, unit, l.Rule)
	case l.Kind == PerUnit:
		return fmt.Sprintf("per %s; %s", unit, l.Rule)
	case l.Kind == Hourly && price != "":
		return fmt.Sprintf("%s an hour; %s", price, l.Rule)
	case l.Kind == Hourly:
		return fmt.Sprintf("hourly; %s", l.Rule)
	}
	return l.Rule.String()
}

// Hear reads what [Line.Say] writes, into the line. Without words for the price
// the line is priced as before, but a line that was open has a fixed price.
func (l *Line) Hear(typed string, mark money.Mark, today day.Day) error {
	price, rule, both := strings.Cut(typed, ";")
	price = strings.TrimSpace(price)
	if openWords.MatchString(price) {
		l.Kind, l.Rule = Open, Rule{When: ByHand}
		return nil
	}
	heard, err := l.hearPrice(price, mark)
	if err != nil {
		return err
	}
	switch {
	case !heard && both:
		return refusal.Errorf("“%s” is not understood: before the semicolon stands how it is priced, like “640 per day”, “120 an hour” or "+
			"“per call: first 2 at 1450, then 1200”", price)
	case !heard:
		rule = typed
		if l.Kind == Open || l.Kind == "" {
			l.Kind = Fixed
		}
	case strings.TrimSpace(rule) == "" && l.Rule.When == "" && l.Kind == Bands:
		rule = "by hand"
	case strings.TrimSpace(rule) == "" && l.Rule.When != "":
		return l.Rule.Check()
	}
	l.Rule, err = ParseRule(rule, today)
	return err
}

// hearPrice reads words for the price, if there are any.
func (l *Line) hearPrice(text string, mark money.Mark) (heard bool, err error) {
	if found := hourlyAt.FindStringSubmatch(text); found != nil {
		l.Kind, l.Unit = Hourly, ""
		return true, l.setPrice(found[1], mark)
	}
	if found := bandWords.FindStringSubmatch(text); found != nil {
		bands, err := ParseBands(found[2], mark)
		l.Kind, l.Unit, l.Bands, l.Price = Bands, named(found[1]), bands, nil
		return true, err
	}
	unit, price := "", ""
	if found := perAt.FindStringSubmatch(text); found != nil {
		unit, price = found[1], found[2]
	} else if found := priceFirst.FindStringSubmatch(text); found != nil {
		unit, price = found[2], found[1]
	} else if rest, is := strings.CutPrefix(strings.ToLower(text), "per "); is && l.Kind == PerUnit && rest == strings.ToLower(l.Unit) {
		return true, nil
	} else {
		return false, nil
	}
	l.Kind, l.Unit = PerUnit, named(unit)
	if l.Unit == "hour" {
		l.Kind, l.Unit = Hourly, ""
	}
	return true, l.setPrice(price, mark)
}

// named is a unit's name; “unit” says nothing.
func named(unit string) string {
	if unit = strings.TrimSpace(unit); unit == "unit" {
		return ""
	}
	return unit
}

func (l *Line) setPrice(text string, mark money.Mark) error {
	if strings.TrimSpace(text) == "" {
		return nil
	}
	n, err := money.ParseFixed(text, mark, 4)
	l.Price = new(money.Rate(n))
	return err
}

// ForClient says when a line is billed, and what a unit costs, without what is
// only for the firm: by whose hand, and whether it begins paused.
func (l Line) ForClient(decimals int) string {
	own := l
	own.Rule.Hand, own.Rule.Paused = false, false
	words := own.Rule.String()
	if l.Rule.When == ByHand {
		words = "billed when it is done"
		if l.Rule.Deposit != 0 {
			words = fmt.Sprintf("%s %% as deposit on acceptance, the rest when it is done", l.Rule.Deposit)
		}
	}
	switch {
	case l.Kind == Open:
		return "priced when billed"
	case l.Kind == Bands:
		return offered(l.Bands, decimals) + "; " + words
	case l.Kind == PerUnit && l.Price != nil:
		return fmt.Sprintf("%s per %s; %s", asRead(*l.Price, decimals), firstWord(l.Unit, "unit"), words)
	case l.Kind == Hourly && l.Price != nil:
		return fmt.Sprintf("%s an hour; %s", asRead(*l.Price, decimals), words)
	}
	return words
}

// Made says how an amount comes about, where it is not one price: 12 h × 110.00, 6 days × 540.00,
// 4,250.00 less 50.00.
func (l Line) Made(p Priced, decimals int) string {
	text := ""
	switch {
	case p.Kind == Hourly && p.Quantity != 0:
		text = fmt.Sprintf("%s h × %s", Quantity(p.Quantity), asRead(p.Price, decimals))
	case p.Kind == Hourly && p.Minutes != 0:
		text = fmt.Sprintf("%s h expected × %s", worktime.Hours(int(p.Minutes)), asRead(p.Price, decimals))
	case p.Kind == PerUnit && p.Quantity != 0 && p.Quantity != One:
		text = strings.TrimSpace(fmt.Sprintf("%s %s", Quantity(p.Quantity), l.Unit)) + " × " + asRead(p.Price, decimals)
	}
	if p.Discount.IsZero() {
		return text
	}
	return firstWord(text, p.Gross.String()) + " less " + p.Discount.String()
}

// offered are price bands as a client reads them.
func offered(bands []Band, decimals int) string {
	parts, end := []string{}, int64(0)
	for i, b := range bands {
		switch {
		case b.UpTo == 0:
			parts = append(parts, "then "+asRead(b.Price, decimals))
		case i == 0:
			parts = append(parts, fmt.Sprintf("first %s at %s", Quantity(b.UpTo), asRead(b.Price, decimals)))
		default:
			parts = append(parts, fmt.Sprintf("next %s at %s", Quantity(b.UpTo-end), asRead(b.Price, decimals)))
		}
		end = b.UpTo
	}
	return strings.Join(parts, ", ") + " each"
}

// asRead is a price with grouped thousands; without decimals where the currency
// has none.
func asRead(price money.Rate, decimals int) string {
	text := price.String()
	if decimals == 0 {
		text = strings.TrimSuffix(text, ".00")
	}
	return text
}

func firstWord(words ...string) string {
	for _, word := range words {
		if word != "" {
			return word
		}
	}
	return ""
}
