// Package apptest makes a small firm for tests of acts: two clients, three
// engagements, one administrator and one member of staff.
package apptest

import (
	"bytes"
	"context"
	"encoding/base64"
	"fmt"
	"io"
	"io/fs"
	"iter"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"sync"
	"testing"
	"testing/fstest"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/letter"
	"dorvet/core/pricing"
	"dorvet/core/safetext"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"

	"golang.org/x/crypto/argon2"
)

// The people of the firm, by their numbers.
var (
	Admin = app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator, Proved: true}}
	Staff = app.Request{Actor: app.Actor{PersonID: 2, Role: app.Staff, SeesRates: true}}
	Lead  = app.Request{Actor: app.Actor{PersonID: 3, Role: app.Lead}}
)

// The engagements: Survey and Advice are of one client, which is billed on one
// invoice; Study is of another.
const (
	Survey int64 = iota + 1
	Advice
	Study
)

// Today is the business date of the firm.
var Today = day.Of(2026, 12, 1)

// Firm opens a fresh firm in a folder of the test's own: a copy of the one that the first
// test of a package makes.
func Firm(t testing.TB) *app.App {
	t.Helper()
	makeOnce.Do(func() { made = makeFirm(t) })
	folder := t.TempDir()
	must(t, os.CopyFS(folder, made))
	a := open(t, folder)
	t.Cleanup(func() { a.Store.Close() })
	return a
}

var (
	makeOnce sync.Once
	made     fstest.MapFS // its folder
)

func open(t testing.TB, folder string) *app.App {
	t.Helper()
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	must(t, data.Unsynced(t.Context())) // its data is thrown away
	return &app.App{Store: data, Jobs: new(app.Jobs), Kept: new(app.Kept), Clock: app.PinnedClock{Date: Today},
		Render:         func(doc invoice.Document) ([]byte, error) { return []byte(doc.Number), nil },
		RenderProposal: func(doc pricing.Document) ([]byte, error) { return fmt.Append(nil, doc), nil }, Formats: formats{},
		Gather: func(w io.Writer, files [][]byte) error {
			_, err := w.Write(bytes.Join(files, []byte("|")))
			return err
		},
		Address: "http://firm.example"}
}

// makeFirm makes the firm by its acts, and gives its folder.
func makeFirm(t testing.TB) fstest.MapFS {
	t.Helper()
	folder := t.TempDir()
	a := open(t, folder)
	_, err := setup.Begin(t.Context(), a, setup.Start{Firm: "Firm", Currency: "EUR", TimeZone: "UTC", Mark: "point", TaxName: "VAT",
		TaxPercent: "23",
		Name:       "Ada Admin", Mail: "ada@firm.example", Password: Password})
	must(t, err)
	Set(t, a, "series", 1, "prefix", "N")
	Set(t, a, "entities", 1, "legal_name", "Firm Ltd")
	Set(t, a, "entities", 1, "mail", "bills@firm.example")
	Set(t, a, "entities", 1, "address", "1 Harbour Street")
	Set(t, a, "entities", 1, "tax_number", "IE0000001A")
	Set(t, a, "entities", 1, "iban", "IE57 TEST 1111 1111 1111 11")
	for _, p := range [][]string{{"Sam Staff", "sam", "staff"}, {"Lea Lead", "lea", "lead"}, {"Olga Owner", "olga", "owner"}} {
		Add(t, a, "people", "name", p[0], "mail", p[1]+"@firm.example", "role", p[2])
	}
	GivePasswords(t, a)
	Add(t, a, "services", "name", "Work", "code", "W")
	Add(t, a, "clients", "name", "Alder", "code", "A", "invoice_name", "Client", "combined", "yes")
	Add(t, a, "clients", "name", "Birch", "code", "B", "invoice_name", "Client", "combined", "no")
	for i, e := range [][]string{{"Survey", "A", "LL"}, {"Advice", "A", "AA"}, {"Study", "B", "AA"}} {
		Add(t, a, "engagements", "client", e[1], "name", e[0], "lead", e[2], "code", strconv.Itoa(i+1), "opened", "2026-01-01")
	}
	Add(t, a, "rates", "per_hour", "100", "from", "2026-01-01")
	Add(t, a, "rates", "client", "B", "per_hour", "80", "from", "2026-01-01")
	must(t, a.Store.Close())
	files := fstest.MapFS{}
	must(t, fs.WalkDir(os.DirFS(folder), ".", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		content, err := os.ReadFile(filepath.Join(folder, path))
		files[path] = &fstest.MapFile{Data: content, Mode: 0o600}
		return err
	}))
	return files
}

// Letters is what was mailed.
type Letters struct{ All []letter.Letter }

// Mail catches what is mailed from now on.
func Mail(a *app.App) *Letters {
	caught := &Letters{}
	a.Mail = func(_ context.Context, l letter.Letter) error {
		if err := l.Check(); err != nil {
			return err
		}
		caught.All = append(caught.All, l)
		return nil
	}
	return caught
}

// Find is the last part that a pattern finds in the latest mail to somebody: a
// code, or the secret of a link.
func (l *Letters) Find(t testing.TB, to, pattern string) string {
	t.Helper()
	for _, mail := range slices.Backward(l.All) {
		if mail.To.Address == to {
			if found := regexp.MustCompile(pattern).FindStringSubmatch(mail.Body); found != nil {
				return found[len(found)-1]
			}
		}
	}
	t.Fatalf("no mail to %s has %s", to, pattern)
	return ""
}

// Password is everybody's.
const Password = "open sesame now"

// cheap is the password hashed at the least cost, which is kept with the hash.
var cheap = sync.OnceValue(func() string {
	salt, text := make([]byte, 16), base64.RawStdEncoding
	return "$argon2id$v=19$m=8,t=1,p=1$" + text.EncodeToString(salt) + "$" +
		text.EncodeToString(argon2.IDKey([]byte(Password), salt, 1, 8, 1, 32))
})

// GivePasswords gives everybody the same password, hashed so that tests sign in quickly.
func GivePasswords(t testing.TB, a *app.App) {
	t.Helper()
	must(t, a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		return tx.SQL(t).Exec("UPDATE people SET password_hash = ?", cheap()).Error
	}))
}

// Add makes a record of a kind of fields and values in turn, and gives its
// number.
func Add(t testing.TB, a *app.App, kind string, values ...string) int64 {
	t.Helper()
	typed := map[string]string{}
	for pair := range slices.Chunk(values, 2) {
		typed[pair[0]] = pair[1]
	}
	added, err := registry.AddRecord(t.Context(), a, Admin, kind, typed)
	must(t, err)
	return added.ID
}

// Set changes a field of a record as it is now.
func Set(t testing.TB, a *app.App, kind string, id int64, field, value string) {
	t.Helper()
	sheet, err := registry.Read(t.Context(), a, Admin.Actor, kind, id)
	must(t, err)
	_, err = registry.SetField(t.Context(), a, Admin, kind, []registry.ExpectedVersion{{ID: id, Version: sheet.Version}},
		registry.Change{Field: field, Value: value})
	must(t, err)
}

// Typed is an entry of the staff's, as typed.
func Typed(engagementID int64, iso, worked string) timekeeping.TypedEntry {
	on, err := day.Parse(iso)
	if err != nil {
		panic(err)
	}
	return timekeeping.TypedEntry{PersonID: 2, EngagementID: engagementID, ServiceID: 1, Day: on, Worked: worked, Treatment: wip.Billable,
		Text: "work"}
}

// Record records an entry of the staff's.
func Record(t testing.TB, a *app.App, engagementID int64, iso, worked string) *timekeeping.Entry {
	t.Helper()
	return RecordTyped(t, a, Typed(engagementID, iso, worked))
}

// RecordTyped records an entry as the staff typed it.
func RecordTyped(t testing.TB, a *app.App, in timekeeping.TypedEntry) *timekeeping.Entry {
	t.Helper()
	entry, err := timekeeping.Record(t.Context(), a, Staff, in)
	must(t, err)
	return entry
}

// Whole fails the test unless everything adds up.
func Whole(t testing.TB, a *app.App) {
	t.Helper()
	breaches, err := a.Store.Check(a.Store.Read(context.Background(), store.Everything))
	must(t, err)
	for _, breach := range breaches {
		t.Error(breach)
	}
	if t.Failed() {
		t.FailNow()
	}
}

func must(t testing.TB, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// formats write the number of an invoice, in whatever form; one that is called so
// can't be said.
type formats struct{}

// Unsayable is the client's name of an invoice that no format can say.
const Unsayable = "Unsayable"

func (formats) Supports(_ string, doc *invoice.Document) error {
	if doc.Client.Name == Unsayable {
		return &safetext.Unsayable{Sentence: "It can't be said."}
	}
	return nil
}

func (formats) One(w io.Writer, form string, doc invoice.Document) error {
	_, err := fmt.Fprintf(w, "%s %s\n", form, doc.Number)
	return err
}

func (f formats) Many(w io.Writer, form string, docs iter.Seq2[invoice.Document, error]) error {
	for doc, err := range docs {
		if err == nil {
			err = f.One(w, form, doc)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (formats) Read([]byte) ([]string, [][]string, bool, error) { return nil, nil, false, nil }
