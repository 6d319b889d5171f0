package registry

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
	Form    string           `json:"form" enum:"line,lines,choice,yes_no,percent,amount,number,minutes,terms,tax_code,rate_card,picture,enclosure,day,month_day,rate,record,records,hours,weekdays"`
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

// FieldOf reads and writes one field of a record of type T.
type FieldOf[T any] struct {
	Field
	Read  func(*Env, *T) (string, error)
	Write func(*Env, *T, string) error
	// link writes what stands in a table of its own, once the record has a number.
	Link func(e *Env, id int64, text string) error
}

// Required marks a field that can't be left empty.
func (f FieldOf[T]) Required() FieldOf[T] { f.Needed = true; return f }

// Listed marks a field that is a column of the list.
func (f FieldOf[T]) Listed() FieldOf[T] { f.Column = true; return f }

// Permanent marks a field that can't change once anything refers to the record.
func (f FieldOf[T]) Permanent() FieldOf[T] { f.Fixed = true; return f }

// Protected marks a field that asks for the password again, and is told to all administrators.
func (f FieldOf[T]) Protected() FieldOf[T] { f.Guarded = true; return f }

// Hinted says under a field what to type.
func (f FieldOf[T]) Hinted(text string) FieldOf[T] { f.Hint = text; return f }

// Group puts fields under a heading.
func Group[T any](name string, fields ...FieldOf[T]) []FieldOf[T] {
	for i := range fields {
		fields[i].Group = name
	}
	return fields
}

func plain[T any](name, label string, form profile.Form, at func(*T) *string) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: string(form)},
		Read:  func(_ *Env, t *T) (string, error) { return *at(t), nil },
		Write: func(_ *Env, t *T, text string) error {
			*at(t) = strings.TrimSpace(safetext.Lines(text))
			return safetext.Within(*at(t), safetext.MostOfNote)
		},
	}
}

// Line is one line of text; lines are several.
func Line[T any](name, label string, at func(*T) *string) FieldOf[T] {
	f := plain(name, label, profile.Line, at)
	f.Write = func(_ *Env, t *T, text string) error {
		*at(t) = strings.Join(strings.Fields(safetext.Line(text)), " ")
		return safetext.Within(*at(t), safetext.MostOfName)
	}
	return f
}

// Lines are several lines of text.
func Lines[T any](name, label string, at func(*T) *string) FieldOf[T] {
	return plain(name, label, profile.Lines, at)
}

// Choice is one of several values: pairs of a value and its words.
func Choice[T any](name, label string, at func(*T) *string, pairs ...string) FieldOf[T] {
	f := plain(name, label, profile.Choice, at)
	for pair := range slices.Chunk(pairs, 2) {
		f.Options = append(f.Options, profile.Option{Value: pair[0], Label: pair[1]})
	}
	item := profile.Item{Label: label, Form: profile.Choice, Options: f.Options, Optional: slices.Contains(pairs, "")}
	f.Write = func(e *Env, t *T, text string) (err error) {
		*at(t), err = item.Parse(text, e.Firm.Mark())
		return err
	}
	return f
}

// YesNo is a question.
func YesNo[T any](name, label string, at func(*T) *bool) FieldOf[T] {
	item := profile.Item{Label: label, Form: profile.YesNo}
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.YesNo)},
		Read: func(_ *Env, t *T) (string, error) {
			if *at(t) {
				return "yes", nil
			}
			return "no", nil
		},
		Write: func(e *Env, t *T, text string) error {
			value, err := item.Parse(text, e.Firm.Mark())
			*at(t) = value == "yes"
			return err
		},
	}
}

// DayOf is a date; nothing means that it is not known.
func DayOf[T any](name, label string, at func(*T) *day.Day) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: FormDay},
		Read:  func(_ *Env, t *T) (string, error) { return at(t).String(), nil },
		Write: func(e *Env, t *T, text string) (err error) {
			if *at(t) = 0; strings.TrimSpace(text) == "" {
				return nil
			}
			*at(t), err = day.ParseTyped(text, e.Today)
			return err
		},
	}
}

var monthDayPattern = regexp.MustCompile(`^\d{2}-\d{2}$`)

// MonthDay is a day of every year, such as 04-01.
func MonthDay[T any](name, label string, at func(*T) *string) FieldOf[T] {
	f := plain(name, label, profile.Line, at)
	f.Form, f.Hint = formMonthDay, "month and day, like 04-01"
	f.Write = func(_ *Env, t *T, text string) error {
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

// Whole is a whole number.
func Whole[T any, N int | int64](name, label string, at func(*T) *N) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Number)},
		Read:  func(_ *Env, t *T) (string, error) { return strconv.FormatInt(int64(*at(t)), 10), nil },
		Write: func(_ *Env, t *T, text string) error {
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

// DaysOf is a number of days that is counted on from a day.
func DaysOf[T any](name, label string, at func(*T) *int) FieldOf[T] {
	f := Whole(name, label, at)
	set := f.Write
	f.Write = func(e *Env, t *T, text string) error {
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

// RateOf is a rate or a price with up to four decimals; nothing means none.
func RateOf[T any](name, label string, at func(*T) **money.Rate) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: FormRate},
		Read: func(e *Env, t *T) (string, error) {
			if *at(t) == nil {
				return "", nil
			}
			return money.TypeFixed(int64(**at(t)), e.Firm.Mark(), 4, 2), nil
		},
		Write: func(e *Env, t *T, text string) error {
			if *at(t) = nil; strings.TrimSpace(text) == "" || strings.EqualFold(strings.TrimSpace(text), "none") {
				return nil
			}
			n, err := money.ParseFixed(text, e.Firm.Mark(), 4)
			if err == nil && n < 0 {
				err = refusal.Errorf("%q is negative: give a rate of 0 or more", text)
			}
			perHour := money.Rate(n)
			*at(t) = &perHour
			return err
		},
	}
}

// PercentOf is a percentage.
func PercentOf[T any](name, label string, at func(*T) *money.Percent) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Percent)},
		Read: func(e *Env, t *T) (string, error) {
			return money.TypeFixed(int64(*at(t)), e.Firm.Mark(), 4, 0), nil
		},
		Write: func(e *Env, t *T, text string) error {
			n, err := money.ParseFixed(strings.TrimSuffix(strings.TrimSpace(text), "%"), e.Firm.Mark(), 4)
			if err == nil && (n < 0 || n > 100_0000) {
				err = refusal.Errorf("%q is out of range: give 0 to 100 %%", text)
			}
			*at(t) = money.Percent(n)
			return err
		},
	}
}

// HoursOf is a number of hours, kept as minutes, not bound to one day; none is
// nothing.
func HoursOf[T any, N int | int64](name, label string, at func(*T) *N) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: FormHours, Hint: "hours, like 38 or 37.5"},
		Read: func(e *Env, t *T) (string, error) {
			if *at(t) == 0 {
				return "", nil
			}
			return strings.Replace(worktime.Hours(int(*at(t))), ".", e.Firm.DecimalMark, 1), nil
		},
		Write: func(e *Env, t *T, text string) error {
			minutes, err := worktime.ParseHours(text, e.Firm.Mark())
			*at(t) = N(minutes)
			return err
		},
	}
}

// CurrencyOf is an ISO 4217 code.
func CurrencyOf[T any](name, label string, at func(*T) *money.Currency) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: string(profile.Line), Hint: "three letters, like EUR"},
		Read:  func(_ *Env, t *T) (string, error) { return string(*at(t)), nil },
		Write: func(_ *Env, t *T, text string) error {
			*at(t) = money.Currency(strings.ToUpper(strings.TrimSpace(text)))
			_, err := at(t).Decimals()
			return err
		},
	}
}

// Ref names another record by its key or name; nothing means none.
func Ref[T any](name, label, of string, at func(*T) **int64) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: FormRecord, Of: of},
		Read: func(e *Env, t *T) (string, error) {
			if *at(t) == nil {
				return "", nil
			}
			return e.KeyOf(of, **at(t))
		},
		Write: func(e *Env, t *T, text string) error {
			if *at(t) = nil; strings.TrimSpace(text) == "" {
				return nil
			}
			id, err := e.Find(of, text)
			*at(t) = &id
			return err
		},
	}
}

// Must names another record and is never empty.
func Must[T any](name, label, of string, at func(*T) *int64) FieldOf[T] {
	f := Ref(name, label, of, func(t *T) **int64 {
		pointer := at(t)
		return &pointer
	})
	f.Needed = true
	f.Write = func(e *Env, t *T, text string) error {
		id, err := e.Find(of, text)
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
