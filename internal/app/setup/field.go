package setup

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
	"dorvet/core/worktime"
)

// Field is one thing that a record says, as it is typed, shown, read from a
// file and written to one: always text.
type Field struct {
	Name    string           `json:"name"`
	Label   string           `json:"label"`
	Group   string           `json:"group"`
	Form    string           `json:"form" enum:"line,lines,choice,yes_no,percent,amount,number,minutes,terms,tax_code,rate_card,day,month_day,rate,record,records,hours,weekdays"`
	Of      string           `json:"of,omitempty" doc:"the kind of record that it names"`
	Hint    string           `json:"hint,omitempty"`
	Options []profile.Option `json:"options,omitempty"`
	Needed  bool             `json:"needed,omitempty"`
	Column  bool             `json:"column,omitempty" doc:"shown in the list of records"`
	Fixed   bool             `json:"fixed,omitempty" doc:"can't change once anything refers to the record"`
	Guarded bool             `json:"guarded,omitempty" doc:"asks for the password again, and is told to all administrators"`
	Default string           `json:"default,omitempty" doc:"what a new record has"`
	Set     bool             `json:"-"` // by the program; read only
}

// The forms besides those of the profile.
const (
	FormDay      = "day"
	FormRate     = "rate"
	FormRecord   = "record"
	FormHours    = "hours"
	FormPercent  = string(profile.Percent)
	FormAmount   = string(profile.Amount)
	FormLine     = string(profile.Line)
	formMonthDay = "month_day"
	formRecords  = "records"
	formWeekdays = "weekdays"
)

// field reads and writes one field of a record of type T.
type field[T any] struct {
	Field
	get func(*env, *T) (string, error)
	set func(*env, *T, string) error
	// link writes what stands in a table of its own, once the record has a number.
	link func(e *env, id int64, text string) error
}

// The ways of marking a field.
func (f field[T]) needed() field[T]          { f.Needed = true; return f }
func (f field[T]) column() field[T]          { f.Column = true; return f }
func (f field[T]) fixed() field[T]           { f.Fixed = true; return f }
func (f field[T]) guarded() field[T]         { f.Guarded = true; return f }
func (f field[T]) hint(text string) field[T] { f.Hint = text; return f }

// group puts fields under a heading.
func group[T any](name string, fields ...field[T]) []field[T] {
	for i := range fields {
		fields[i].Group = name
	}
	return fields
}

func plain[T any](name, label string, form profile.Form, at func(*T) *string) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: string(form)},
		get:   func(_ *env, t *T) (string, error) { return *at(t), nil },
		set: func(_ *env, t *T, text string) error {
			*at(t) = strings.TrimSpace(safetext.Lines(text))
			return safetext.Within(*at(t), safetext.MostOfNote)
		},
	}
}

// line is one line of text; lines are several.
func line[T any](name, label string, at func(*T) *string) field[T] {
	f := plain(name, label, profile.Line, at)
	f.set = func(_ *env, t *T, text string) error {
		*at(t) = strings.Join(strings.Fields(safetext.Line(text)), " ")
		return safetext.Within(*at(t), safetext.MostOfName)
	}
	return f
}

func lines[T any](name, label string, at func(*T) *string) field[T] {
	return plain(name, label, profile.Lines, at)
}

// choice is one of several values: pairs of a value and its words.
func choice[T any](name, label string, at func(*T) *string, pairs ...string) field[T] {
	f := plain(name, label, profile.Choice, at)
	for pair := range slices.Chunk(pairs, 2) {
		f.Options = append(f.Options, profile.Option{Value: pair[0], Label: pair[1]})
	}
	item := profile.Item{Label: label, Form: profile.Choice, Options: f.Options, Optional: slices.Contains(pairs, "")}
	f.set = func(e *env, t *T, text string) (err error) {
		*at(t), err = item.Parse(text, e.firm.Mark())
		return err
	}
	return f
}

func yesNo[T any](name, label string, at func(*T) *bool) field[T] {
	item := profile.Item{Label: label, Form: profile.YesNo}
	return field[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.YesNo)},
		get: func(_ *env, t *T) (string, error) {
			if *at(t) {
				return "yes", nil
			}
			return "no", nil
		},
		set: func(e *env, t *T, text string) error {
			value, err := item.Parse(text, e.firm.Mark())
			*at(t) = value == "yes"
			return err
		},
	}
}

// dayOf is a date; nothing means that it is not known.
func dayOf[T any](name, label string, at func(*T) *day.Day) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: FormDay},
		get:   func(_ *env, t *T) (string, error) { return at(t).String(), nil },
		set: func(e *env, t *T, text string) (err error) {
			if *at(t) = 0; strings.TrimSpace(text) == "" {
				return nil
			}
			*at(t), err = day.ParseTyped(text, e.today)
			return err
		},
	}
}

var monthDayPattern = regexp.MustCompile(`^\d{2}-\d{2}$`)

// monthDay is a day of every year, such as 04-01.
func monthDay[T any](name, label string, at func(*T) *string) field[T] {
	f := plain(name, label, profile.Line, at)
	f.Form, f.Hint = formMonthDay, "month and day, like 04-01"
	f.set = func(_ *env, t *T, text string) error {
		*at(t) = strings.TrimSpace(text)
		if *at(t) == "" {
			return nil
		}
		if _, err := day.Parse("2024-" + *at(t)); err != nil || !monthDayPattern.MatchString(*at(t)) {
			return refusal.Errorf("%q is no day of the year: write month and day, like 04-01", text)
		}
		return nil
	}
	return f
}

func whole[T any, N int | int64](name, label string, at func(*T) *N) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Number)},
		get:   func(_ *env, t *T) (string, error) { return strconv.FormatInt(int64(*at(t)), 10), nil },
		set: func(_ *env, t *T, text string) error {
			n, err := strconv.ParseInt(strings.TrimSpace(text), 10, 64)
			if err != nil || n < 0 || n > 999_999_999 {
				return refusal.Errorf("%q is not a whole number", text)
			}
			*at(t) = N(n)
			return nil
		},
	}
}

// mostDays is how many days can be counted on from another: ten years.
const mostDays = 3650

// daysOf is a number of days that is counted on from a day.
func daysOf[T any](name, label string, at func(*T) *int) field[T] {
	f := whole(name, label, at)
	set := f.set
	f.set = func(e *env, t *T, text string) error {
		if err := set(e, t, text); err != nil {
			return err
		}
		if *at(t) > mostDays {
			return refusal.Errorf("%q is out of range: give 0 to %d days", text, mostDays)
		}
		return nil
	}
	return f
}

// rateOf is a rate or a price with up to four decimals; nothing means none.
func rateOf[T any](name, label string, at func(*T) **money.Rate) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: FormRate},
		get: func(e *env, t *T) (string, error) {
			if *at(t) == nil {
				return "", nil
			}
			return money.TypeFixed(int64(**at(t)), e.firm.Mark(), 4, 2), nil
		},
		set: func(e *env, t *T, text string) error {
			if *at(t) = nil; strings.TrimSpace(text) == "" || strings.EqualFold(strings.TrimSpace(text), "none") {
				return nil
			}
			n, err := money.ParseFixed(text, e.firm.Mark(), 4)
			if err == nil && n < 0 {
				err = refusal.Errorf("%q is negative: give a rate of 0 or more", text)
			}
			perHour := money.Rate(n)
			*at(t) = &perHour
			return err
		},
	}
}

func percentOf[T any](name, label string, at func(*T) *money.Percent) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Percent)},
		get: func(e *env, t *T) (string, error) {
			return money.TypeFixed(int64(*at(t)), e.firm.Mark(), 4, 0), nil
		},
		set: func(e *env, t *T, text string) error {
			n, err := money.ParseFixed(strings.TrimSuffix(strings.TrimSpace(text), "%"), e.firm.Mark(), 4)
			if err == nil && (n < 0 || n > 100_0000) {
				err = refusal.Errorf("%q is out of range: give 0 to 100 %%", text)
			}
			*at(t) = money.Percent(n)
			return err
		},
	}
}

// hoursOf is a number of hours, kept as minutes, not bound to one day; none is
// nothing.
func hoursOf[T any, N int | int64](name, label string, at func(*T) *N) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: FormHours, Hint: "hours, like 38 or 37.5"},
		get: func(e *env, t *T) (string, error) {
			if *at(t) == 0 {
				return "", nil
			}
			return strings.Replace(worktime.Hours(int(*at(t))), ".", e.firm.DecimalMark, 1), nil
		},
		set: func(e *env, t *T, text string) error {
			if strings.TrimSpace(text) == "" {
				*at(t) = 0
				return nil
			}
			n, err := money.ParseFixed(strings.TrimSuffix(strings.TrimSpace(text), "h"), e.firm.Mark(), 4)
			if err != nil {
				return err
			}
			minutes, err := money.MulDiv(n, 60, 1_0000)
			if err == nil && (minutes < 0 || minutes > 60*1_000_000) {
				err = refusal.Errorf("%q is out of range: give hours, like 38 or 37.5", text)
			}
			*at(t) = N(minutes)
			return err
		},
	}
}

// currencyOf is an ISO 4217 code.
func currencyOf[T any](name, label string, at func(*T) *money.Currency) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Line), Hint: "three letters, like EUR"},
		get:   func(_ *env, t *T) (string, error) { return string(*at(t)), nil },
		set: func(_ *env, t *T, text string) error {
			*at(t) = money.Currency(strings.ToUpper(strings.TrimSpace(text)))
			_, err := at(t).Decimals()
			return err
		},
	}
}

// ref names another record by its key or name; nothing means none.
func ref[T any](name, label, of string, at func(*T) **int64) field[T] {
	return field[T]{
		Field: Field{Name: name, Label: label, Form: FormRecord, Of: of},
		get: func(e *env, t *T) (string, error) {
			if *at(t) == nil {
				return "", nil
			}
			return e.keyOf(of, **at(t))
		},
		set: func(e *env, t *T, text string) error {
			if *at(t) = nil; strings.TrimSpace(text) == "" {
				return nil
			}
			id, err := e.find(of, text)
			*at(t) = &id
			return err
		},
	}
}

// must names another record and is never empty.
func must[T any](name, label, of string, at func(*T) *int64) field[T] {
	f := ref(name, label, of, func(t *T) **int64 {
		pointer := at(t)
		return &pointer
	})
	f.Needed = true
	f.set = func(e *env, t *T, text string) error {
		id, err := e.find(of, text)
		if err == nil {
			*at(t) = id
		}
		return err
	}
	return f
}

// within is a label as it stands within a sentence: what is written in capitals stays so.
func within(label string) string {
	if first, size := utf8.DecodeRuneInString(label); len(label) > size {
		if second, _ := utf8.DecodeRuneInString(label[size:]); !unicode.IsUpper(second) {
			return string(unicode.ToLower(first)) + label[size:]
		}
	}
	return label
}
