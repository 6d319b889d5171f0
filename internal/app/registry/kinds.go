package registry

import (
	"context"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// rooms are the kinds of record, under the headings of the set-up. It is filled
// in init, because fields name other kinds.
var rooms []Room

// Room is a heading of the set-up with its kinds.
type Room struct {
	Name  string
	Kinds []AnyKind
}

var kinds = map[string]AnyKind{}

// RoomView is a heading of the set-up with its kinds and how many there are.
type RoomView struct {
	Name  string      `json:"name"`
	Kinds []KindCount `json:"kinds"`
}

// KindCount is a kind and how many records it has.
type KindCount struct {
	Name  string `json:"name"`
	Many  string `json:"many"`
	About string `json:"about"`
	Count int    `json:"count" doc:"active ones"`
	Files bool   `json:"files"`
}

// Index tells what is kept in the set-up, under its headings.
func Index(ctx context.Context, a *app.App, actor app.Actor) ([]RoomView, error) {
	tx, views := a.Read(ctx, actor), []RoomView{}
	for _, room := range rooms {
		if room.Name == "" {
			continue
		}
		view := RoomView{Name: room.Name, Kinds: []KindCount{}}
		for _, k := range room.Kinds {
			d := k.describe()
			n, err := store.CountActive(tx, d.Name, d.Retires)
			if err != nil {
				return nil, err
			}
			view.Kinds = append(view.Kinds, KindCount{d.Name, d.Many, d.About, int(n), d.Files})
		}
		views = append(views, view)
	}
	return views, nil
}

// KindNames are all kinds of record.
func KindNames() []string { return slices.Sorted(maps.Keys(kinds)) }

// Register says which kinds of record there are, under their headings.
func Register(all []Room) {
	rooms = all
	for _, room := range rooms {
		for _, k := range room.Kinds {
			kinds[k.describe().Name] = k
		}
	}
}

// KindOf is the kind of a name; an unknown one is a mistake of the program.
func KindOf(name string) AnyKind { return kinds[name] }

// MoneyOf is an amount in whole minor units of the record's currency; nothing
// means none.
func MoneyOf[T any](name, label string, at func(*T) **int64, currency func(*Env, *T) (money.Currency, error)) FieldOf[T] {
	decimals := func(e *Env, t *T) (int, error) {
		c, err := currency(e, t)
		if err != nil {
			return 0, err
		}
		return c.Decimals()
	}
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: "amount"},
		Read: func(e *Env, t *T) (string, error) {
			if *at(t) == nil {
				return "", nil
			}
			n, err := decimals(e, t)
			return money.TypeFixed(**at(t), e.Firm.Mark(), n, n), err
		},
		Write: func(e *Env, t *T, text string) error {
			if *at(t) = nil; strings.TrimSpace(text) == "" {
				return nil
			}
			places, err := decimals(e, t)
			if err != nil {
				return err
			}
			n, err := money.ParseFixed(text, e.Firm.Mark(), places)
			if err == nil && n < 0 {
				err = refusal.Errorf("%q is out of range: give an amount of 0 or more", text)
			}
			*at(t) = &n
			return err
		},
	}
}

// LinkedPeople are linked by a table of their own; they are typed by their initials.
func LinkedPeople[T any](name, label string, through store.PeopleLink) FieldOf[T] {
	return FieldOf[T]{
		Field: Field{Name: name, Label: label, Form: formRecords, Of: "people"},
		Read: func(e *Env, t *T) (string, error) {
			initials, err := store.Linked(e.Tx, through, any(t).(store.Editable).Head().ID)
			return strings.Join(initials, " "), err
		},
		Link: func(e *Env, id int64, text string) error {
			ids := []int64{}
			for _, word := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' || r == ';' }) {
				person, err := e.Find("people", word)
				if err != nil {
					return err
				}
				if !slices.Contains(ids, person) {
					ids = append(ids, person)
				}
			}
			return store.LinkPeople(e.Tx, through, id, ids)
		},
	}
}

var (
	codePattern    = regexp.MustCompile(`^[A-Za-z0-9]{1,20}$`)
	countedPattern = regexp.MustCompile(`^(.*?)(\d+)$`)
)

// CheckCode refuses a code that is not of letters and digits.
func CheckCode(code string) error {
	if !codePattern.MatchString(code) {
		return refusal.Errorf("%q can't be a code: use letters and digits, 20 at most", code)
	}
	return nil
}

// nextCode offers the code after the highest that ends in a number, as wide as
// that one.
func nextCode(codes []string, first string) string {
	next, highest := first, -1
	for _, code := range codes {
		if found := countedPattern.FindStringSubmatch(code); found != nil {
			if n, err := strconv.Atoi(found[2]); err == nil && n > highest {
				highest = n
				next = fmt.Sprintf("%s%0*d", found[1], len(found[2]), n+1)
			}
		}
	}
	return next
}

// FreshCode is the next code of a kind, by all that are there.
func FreshCode(e *Env, of, first string) (string, error) {
	if last := e.codes[of]; last != "" {
		e.codes[of] = nextCode([]string{last}, first)
		return e.codes[of], nil
	}
	codes, err := store.KeysTaken(e.Tx, of)
	if err != nil {
		return "", err
	}
	e.codes[of] = nextCode(codes, first)
	return e.codes[of], nil
}

// Concat puts groups of fields one after the other.
func Concat[T any](groups ...[]FieldOf[T]) []FieldOf[T] { return slices.Concat(groups...) }
