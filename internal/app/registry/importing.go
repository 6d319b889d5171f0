package registry

import (
	"context"
	"dorvet/core/profile"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Incoming is a table that was read from a file. Columns say for each column
// which field it is, or nothing to leave it out; without them they are matched
// by name.
type Incoming struct {
	Kind    string
	Name    string // of the file
	Header  []string
	Rows    [][]string
	Columns []string
	Point   bool // numbers have a decimal point whatever the firm types
	// Cell reads what stands in a cell, and tells one that a sheet would run.
	Cell func(string) (text string, formula bool)
}

// ImportCheck is what an import would do, found by doing it and taking it back.
type ImportCheck struct {
	Columns []ColumnMatch `json:"columns"`
	Fields  []Field       `json:"fields" doc:"what columns can be"`
	Rows    int           `json:"rows"`
	Good    int           `json:"good"`
	Bad     []BadRow      `json:"bad"`
	Notice  string        `json:"notice"`
}

// ColumnMatch is a column of the file and the field that it is.
type ColumnMatch struct {
	Header string `json:"header"`
	Field  string `json:"field" doc:"nothing: left out"`
	Sample string `json:"sample"`
}

// BadRow is a row that can't be taken.
type BadRow struct {
	Row    int    `json:"row" doc:"as a sheet counts it: the header is 1"`
	Column string `json:"column"`
	Value  string `json:"value"`
	Reason string `json:"reason"`
}

// errTakenBack ends the transaction of a dry run.
var errTakenBack = errors.New("a dry run is taken back")

// Reads is a kind of what files bring: records of the set-up, or what a later room
// adds with [ReadFromFiles].
type Reads struct {
	One, Many string
	About     string
	Fields    []Field
	// Take makes one of the values of a row and gives its number.
	Take func(tx *app.Tx, f *Finder, values map[string]string) (int64, error)
	// TakeBack removes what was made, if nothing has changed it since.
	TakeBack func(tx *app.Tx, id int64) error
}

// read are what later rooms read from files, by kind.
var read = map[string]Reads{}

// ReadFromFiles adds a kind of what files bring.
func ReadFromFiles(kind string, r Reads) { read[kind] = r }

// OnlyFromFiles reports whether a kind is no record of the set-up, but read from
// files all the same.
func OnlyFromFiles(kind string) bool { return read[kind].Take != nil }

// Finder finds the records that a file names.
type Finder struct{ e *Env }

// Find is the number of the record of a kind that a key or a name means.
func (f *Finder) Find(kind, text string) (int64, error) { return f.e.Find(kind, text) }

// readsOf is how a kind is read from files.
func readsOf(e *Env, name string) (Reads, error) {
	if r, there := read[name]; there {
		return r, nil
	}
	k, err := kindNamed(name)
	if err != nil {
		return Reads{}, err
	}
	fields, err := fieldsToRead(e, k)
	return Reads{Many: k.describe().Many, Fields: fields,
		Take: func(tx *app.Tx, f *Finder, values map[string]string) (int64, error) {
			r, err := AddTo(tx, f.e, k, withoutSteps(k, values))
			if err != nil {
				return 0, err
			}
			return r.head().ID, nil
		},
		TakeBack: func(tx *app.Tx, id int64) error { return remove(tx, e, k, ExpectedVersion{ID: id}) },
	}, err
}

// manyOf is what a kind is called.
func manyOf(name string) string {
	if r, there := read[name]; there {
		return r.Many
	}
	return kinds[name].describe().Many
}

// CheckImport tells what an import would do, and does nothing.
func CheckImport(ctx context.Context, a *app.App, actor app.Actor, in Incoming) (*ImportCheck, error) {
	check := &ImportCheck{Rows: len(in.Rows), Bad: []BadRow{}}
	actor.Proved = true // the password is asked for when it is done
	err := a.Store.Write(ctx, actor.Scope(), func(db *store.DB) error {
		tx := app.DryRun(db, a, actor)
		e, err := NewEnv(db, tx.Today, actor)
		if err != nil {
			return err
		}
		r, err := readsOf(e, in.Kind)
		if err != nil {
			return err
		}
		check.Fields = r.Fields
		columns := in.match(check.Fields)
		check.Columns = in.shown(columns)
		for i := range in.Rows {
			if err := ctx.Err(); err != nil {
				return err
			}
			if _, bad := in.take(tx, &Finder{e}, r, columns, i); bad != nil {
				check.Bad = append(check.Bad, *bad)
			}
		}
		return errTakenBack
	})
	check.Good = check.Rows - len(check.Bad)
	if errors.Is(err, errTakenBack) {
		err = nil
	}
	return check, err
}

// fieldsToRead are the fields that a file can fill.
func fieldsToRead(e *Env, k AnyKind) ([]Field, error) {
	if !k.describe().Files {
		return nil, app.Refuse(app.Invalid, "%s are not read from files.", k.describe().Many)
	}
	fields, err := AllFields(e, k)
	return slices.DeleteFunc(fields, func(f Field) bool { return f.Set }), err
}

// plainName is a name without case, spaces and signs.
func plainName(name string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, name)
}

// match finds the field of each column: as it was said, or else by name.
func (in *Incoming) match(fields []Field) []string {
	columns, taken := make([]string, len(in.Header)), map[string]bool{}
	for i, header := range in.Header {
		for _, f := range fields {
			said := i < len(in.Columns) && in.Columns[i] == f.Name
			named := in.Columns == nil && (plainName(header) == plainName(f.Label) || plainName(header) == plainName(f.Name))
			if (said || named) && !taken[f.Name] {
				columns[i], taken[f.Name] = f.Name, true
				break
			}
		}
	}
	return columns
}

func (in *Incoming) shown(columns []string) []ColumnMatch {
	matches := make([]ColumnMatch, len(columns))
	for i, field := range columns {
		matches[i] = ColumnMatch{Header: in.Header[i], Field: field}
		for _, row := range in.Rows {
			if matches[i].Sample = row[i]; row[i] != "" {
				break
			}
		}
	}
	return matches
}

// take makes what a row says, or says why it can't be made.
func (in *Incoming) take(tx *app.Tx, f *Finder, r Reads, columns []string, i int) (int64, *BadRow) {
	values, at := map[string]string{}, map[string]int{}
	for c, field := range columns {
		cell, formula := in.Cell(strings.TrimSpace(in.Rows[i][c]))
		if field == "" || cell == "" {
			continue
		}
		if formula {
			return 0, &BadRow{Row: i + 2, Column: in.Header[c], Value: cell,
				Reason: "This cell holds a formula. Put its value in place of it."}
		}
		values[field], at[field] = in.number(f.e, r.Fields, field, cell), c
	}
	made, err := r.Take(tx, f, values)
	if err == nil {
		return made, nil
	}
	bad := &BadRow{Row: i + 2, Reason: err.Error()}
	var refusal *app.Refusal
	if errors.As(err, &refusal) {
		if c, given := at[refusal.Field]; given {
			bad.Column, bad.Value = in.Header[c], in.Rows[i][c]
		}
	}
	return 0, bad
}

// withoutSteps leaves clients that are taken over without onboarding, unless the
// file says otherwise.
func withoutSteps(k AnyKind, values map[string]string) map[string]string {
	if k.describe().Name == "clients" && values["onboarded"] == "" {
		values["onboarded"] = "yes"
	}
	return values
}

var pointNumber = regexp.MustCompile(`^-?\d+\.\d+$`)

// number writes a number of a spreadsheet as the firm types it.
func (in *Incoming) number(e *Env, fields []Field, field, cell string) string {
	if in.Point && e.Firm.Mark() == money.Comma && pointNumber.MatchString(cell) {
		for _, f := range fields {
			if f.Name == field && slices.Contains([]string{FormRate, FormHours, FormPercent, FormAmount}, f.Form) {
				return strings.Replace(cell, ".", ",", 1)
			}
		}
	}
	return cell
}

// Imported is an import that was done.
type Imported struct {
	ID   int64  `json:"id"`
	Rows int    `json:"rows"`
	Many string `json:"many"`
}

// Import takes all rows of a table, or none.
func Import(ctx context.Context, a *app.App, r app.Request, in Incoming) (Imported, error) {
	return app.Do(ctx, a, r, "import", []any{in.Kind, in.Name, in.Header, in.Rows, in.Columns}, func(tx *app.Tx) (Imported, error) {
		e, err := Acting(tx)
		if err != nil {
			return Imported{}, err
		}
		r, err := readsOf(e, in.Kind)
		if err != nil {
			return Imported{}, err
		}
		columns, made := in.match(r.Fields), make([]int64, 0, len(in.Rows))
		for i := range in.Rows {
			if err := ctx.Err(); err != nil {
				return Imported{}, err
			}
			one, bad := in.take(tx, &Finder{e}, r, columns, i)
			if bad != nil {
				return Imported{}, app.Refuse(app.Invalid, "Row %d can't be taken, so nothing was: %s", bad.Row, bad.Reason)
			}
			made = append(made, one)
		}
		kept := store.Import{Kind: in.Kind, Name: in.Name, At: tx.Now, PersonID: tx.Actor.PersonID, Rows: len(made), Made: made}
		if err := store.Insert(tx.DB, &kept); err != nil {
			return Imported{}, err
		}
		tx.Describe(nil, nil, "Took %d %s from %s", len(made), r.Many, in.Name)
		tx.LinkTo("imports", kept.ID)
		tx.LinkTo(in.Kind, made...)
		return Imported{kept.ID, len(made), r.Many}, nil
	})
}

// UndoImport deletes everything that an import made, if nothing of it was
// changed or used since: all or none.
func UndoImport(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "undo import", id, func(tx *app.Tx) (struct{}, error) {
		kept, err := store.Get[store.Import](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "import")
		}
		if kept.Undone {
			return struct{}{}, app.Refuse(app.Conflict, "This import was taken back already.")
		}
		e, err := Acting(tx)
		if err != nil {
			return struct{}{}, err
		}
		r, err := readsOf(e, kept.Kind)
		if err != nil {
			return struct{}{}, err
		}
		for _, made := range slices.Backward(kept.Made) {
			if err := r.TakeBack(tx, made); err != nil {
				if errors.Is(err, store.ErrStale) {
					err = app.Refuse(app.Conflict,
						"Some of these were changed since, so nothing was taken back. Delete or retire them one by one.")
				}
				return struct{}{}, fmt.Errorf("take back row %d: %w", made, err)
			}
		}
		kept.Undone = true
		tx.Describe(nil, nil, "Took back the import of %s: %d %s", kept.Name, kept.Rows, manyOf(kept.Kind))
		tx.LinkTo("imports", id)
		return struct{}{}, store.Save(tx.DB, kept)
	})
	return err
}

// Export reads all records of a kind as a table with the columns that an import
// takes. Inherited values are left empty: they are not the record's own.
func Export(ctx context.Context, a *app.App, actor app.Actor, name string) (header []string, rows [][]string, err error) {
	k, e, err := Reading(ctx, a, actor, name)
	if err != nil {
		return nil, nil, err
	}
	fields, err := fieldsToRead(e, k)
	if err != nil {
		return nil, nil, err
	}
	for _, f := range fields {
		header = append(header, f.Label)
	}
	records, err := k.list(e, ListFilter{Inactive: true})
	for _, r := range records {
		row, err := exported(e, r, fields)
		if err != nil {
			return nil, nil, err
		}
		rows = append(rows, row)
	}
	return header, rows, err
}

func exported(e *Env, r Record, fields []Field) ([]string, error) {
	own := &Sheet{}
	if err := layered(e, r, own); err != nil {
		return nil, err
	}
	set := map[string]string{}
	for _, v := range own.Values {
		if v.Own || strings.HasPrefix(v.Name, profile.OwnPrefix) {
			set[v.Name] = v.Value
		}
	}
	row := make([]string, len(fields))
	for i, f := range fields {
		if slices.ContainsFunc(r.fields(), func(own Field) bool { return own.Name == f.Name }) {
			text, err := r.Get(e, f.Name)
			if err != nil {
				return nil, err
			}
			row[i] = text
		} else {
			row[i] = set[f.Name]
		}
	}
	return row, nil
}

// ImportRow is an import in the list of imports.
type ImportRow struct {
	ID     int64  `json:"id"`
	Kind   string `json:"kind"`
	Many   string `json:"many"`
	Name   string `json:"name"`
	At     string `json:"at"`
	Rows   int    `json:"rows"`
	Undone bool   `json:"undone"`
}

// Imports lists what was imported, latest first.
func Imports(ctx context.Context, a *app.App, actor app.Actor) ([]ImportRow, error) {
	kept, err := store.All[store.Import](a.Read(ctx, actor), "id DESC")
	rows := make([]ImportRow, 0, len(kept))
	for _, i := range kept {
		rows = append(rows, ImportRow{i.ID, i.Kind, manyOf(i.Kind), i.Name, i.At.Format("2006-01-02T15:04:05Z"), i.Rows, i.Undone})
	}
	return rows, err
}
