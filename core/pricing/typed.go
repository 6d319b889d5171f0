package pricing

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/worktime"
)

var (
	outWords      = []string{"", "-", "–", "no", "not in it", "out", "n"}
	inWords       = []string{"x", "yes", "in", "included", "in it", "when billed", "y"}
	optionalWords = []string{"optional", "option", "opt", "o"}
	optionalPart  = regexp.MustCompile(`(?i)^(?:optional|option|opt|o)[\s,:]+(.+)$`)
	atPrice       = regexp.MustCompile(`(?i)^(.*?)\s*(?:@|\bat\b)\s*(.+)$`)
)

// ParseCell reads what is typed into a cell of a line: nothing or “-” is not in
// the tier, “x” is in it at the line's price, “optional” can be chosen. A number
// is the price of a fixed line (“8,400”) and the quantity of any other (“3”);
// “at 640” gives another price, “?” lets the client choose the quantity, as in
// “optional 2 ?”.
func ParseCell(typed string, l Line, mark money.Mark) (Cell, error) {
	text := strings.ToLower(strings.TrimSpace(typed))
	switch {
	case slices.Contains(outWords, text):
		return Cell{State: Out}, nil
	case slices.Contains(inWords, text):
		return Cell{State: In}, nil
	case slices.Contains(optionalWords, text):
		return Cell{State: Optional}, nil
	}
	c := Cell{State: In}
	if found := optionalPart.FindStringSubmatch(text); found != nil {
		c.State, text = Optional, strings.TrimSpace(found[1])
	}
	if l.Kind == Open {
		return c, refusal.Errorf("%q does not fit an open price: type x, optional or -", typed)
	}
	if rest, asks := strings.CutSuffix(text, "?"); asks {
		c.Asks, text = true, strings.TrimSpace(rest)
	}
	return c, c.readFigures(text, l, mark)
}

func (c *Cell) readFigures(text string, l Line, mark money.Mark) error {
	if found := atPrice.FindStringSubmatch(text); found != nil {
		if l.Kind == Bands {
			return refusal.Errorf("the price is in the bands of the line: type the quantity alone")
		}
		price, err := money.ParseFixed(found[2], mark, 4)
		if err != nil {
			return err
		}
		c.Price, text = new(money.Rate(price)), found[1]
	}
	for _, word := range []string{l.Unit, l.Unit + "s", "included", "hours", "h", "×", "x"} {
		text = strings.TrimSpace(strings.TrimSuffix(text, strings.ToLower(word)))
	}
	if text == "" {
		return nil
	}
	n, err := money.ParseFixed(text, mark, 4)
	switch {
	case err != nil:
		return refusal.Errorf("%q is not understood: type a price or quantity, x, optional, or - for not in it", text)
	case n < 0:
		return refusal.Errorf("%q is negative: give 0 or more, or a discount on the line", text)
	case l.Kind == Fixed && c.Price == nil && !c.Asks:
		c.Price = new(money.Rate(n))
	case n == 0:
		return refusal.Errorf("a quantity of 0 is not in the tier: type -")
	default:
		c.Quantity = n
	}
	return nil
}

// Typed is the cell as it is typed again.
func (c Cell) Typed(l Line, mark money.Mark, decimals int) string {
	if c.State == Out {
		return ""
	}
	parts := []string{}
	if c.State == Optional {
		parts = append(parts, "optional")
	}
	price := ""
	if c.Price != nil {
		price = money.TypeFixed(int64(*c.Price), mark, 4, decimals)
	}
	if c.Quantity != 0 {
		parts = append(parts, money.TypeFixed(c.Quantity, mark, 4, 0))
	}
	if price != "" && (l.Kind != Fixed || c.Quantity != 0) {
		price = "at " + price
	}
	if price != "" {
		parts = append(parts, price)
	}
	if c.Asks {
		parts = append(parts, "?")
	}
	if len(parts) == 0 {
		return "x"
	}
	return strings.Join(parts, " ")
}

var band = regexp.MustCompile(`(?i)^(?:(?:the )?(first|next)\s+([\d.,' ]*\d)(?:\s+\S+)?|(?:the )?rest|then|above|after that)\s*(?:at|@)?\s*([\d.,' ]*\d)$`)

// ParseBands reads graduated price bands: “first 10 at 40, next 40 at 35, rest at
// 30”.
func ParseBands(typed string, mark money.Mark) ([]Band, error) {
	bands, end := []Band{}, int64(0)
	for _, part := range splitParts(typed) {
		found := band.FindStringSubmatch(part)
		if found == nil {
			return nil, refusal.Errorf("“%s” is no price band: write, for example, “first 10 at 40, next 40 at 35, rest at 30”", part)
		}
		price, err := money.ParseFixed(found[3], mark, 4)
		if err != nil {
			return nil, err
		}
		b := Band{Price: money.Rate(price)}
		if found[2] != "" {
			size, err := money.ParseFixed(found[2], mark, 4)
			if err != nil {
				return nil, err
			}
			end += size
			b.UpTo = end
		}
		bands = append(bands, b)
	}
	return bands, nil
}

// splitParts splits at commas and semicolons that a space follows, so that a
// decimal comma stays.
func splitParts(typed string) []string {
	parts := []string{}
	for _, part := range strings.FieldsFunc(strings.ReplaceAll(strings.ReplaceAll(typed, ", ", "\n"), ";", "\n"),
		func(r rune) bool { return r == '\n' }) {
		if part = strings.TrimSpace(part); part != "" {
			parts = append(parts, part)
		}
	}
	return parts
}

// TypeBands writes bands as they are typed.
func TypeBands(bands []Band, mark money.Mark, decimals int) string {
	parts, end := []string{}, int64(0)
	for i, b := range bands {
		price := money.TypeFixed(int64(b.Price), mark, 4, decimals)
		switch {
		case b.UpTo == 0 && len(bands) == 2:
			parts = append(parts, "then "+price)
		case b.UpTo == 0:
			parts = append(parts, "rest at "+price)
		default:
			word := "next"
			if i == 0 {
				word = "first"
			}
			parts = append(parts, fmt.Sprintf("%s %s at %s", word, money.TypeFixed(b.UpTo-end, mark, 4, 0), price))
			end = b.UpTo
		}
	}
	return strings.Join(parts, ", ")
}

var (
	timeFirst = regexp.MustCompile(`^([\d.,:]+(?:\s?(?:h|m|min|hours))?)(?:\s+(.+))?$`)
	timeLast  = regexp.MustCompile(`^(.+?)\s+([\d.,:]+(?:\s?(?:h|m|min|hours))?)$`)
)

// ParseExpected reads expected time by person or grade: “8 AB, 40 Senior”
// or “64 h” of anybody. find knows initials and names of grades.
func ParseExpected(typed string, mark money.Mark, find func(string) (Worker, bool)) ([]Expected, error) {
	all := []Expected{}
	for _, part := range splitParts(typed) {
		who, amount := "", part
		if found := timeFirst.FindStringSubmatch(part); found != nil {
			amount, who = found[1], found[2]
		} else if found := timeLast.FindStringSubmatch(part); found != nil {
			who, amount = found[1], found[2]
		}
		minutes, err := expectedMinutes(amount, mark)
		if err != nil {
			return nil, err
		}
		e := Expected{Minutes: minutes}
		if who != "" {
			worker, known := find(who)
			if !known {
				return nil, refusal.Errorf("nobody and no grade is called %q: give initials or a grade, like “8 AB, 40 Senior”", who)
			}
			e.Worker = worker
		}
		all = append(all, e)
	}
	return all, nil
}

// expectedMinutes reads hours, which may be more than those of a day.
func expectedMinutes(text string, mark money.Mark) (int64, error) {
	minutes, err := worktime.ParseHours(strings.TrimSpace(strings.TrimSuffix(text, "hours")), mark)
	if err != nil || minutes == 0 || minutes > 100_000*60 {
		return 0, refusal.Errorf("%q is no time: type hours, like “64” or “8 AB, 40 Senior”", text)
	}
	return int64(minutes), nil
}

// TypeExpected writes expected time as it is typed; name gives initials or grade.
func TypeExpected(all []Expected, mark money.Mark, name func(Worker) string) string {
	parts := []string{}
	for _, e := range all {
		text := worktime.Clock(int(e.Minutes))
		if e.Minutes*100%60 == 0 { // hours with at most two decimals
			text = money.TypeFixed(e.Minutes*One/60, mark, 4, 0)
		}
		if who := name(e.Worker); who != "" {
			text += " " + who
		}
		parts = append(parts, text)
	}
	return strings.Join(parts, ", ")
}
