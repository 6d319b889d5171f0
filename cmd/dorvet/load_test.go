package main

import (
	"bytes"
	"compress/gzip"
	"database/sql"
	"errors"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"dorvet/internal/app"
	draftsroom "dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/demo"
	"dorvet/internal/store"
)

// BenchmarkReadings asks for everything that the contract reads, each reading again and again, over HTTP, of a firm of
// 500 people with 1.5 million entries and of one a tenth as large. The load is made once, in the folder that
// DORVET_LOAD names. Each reading tells its 95th percentile and what goes over the wire.
func BenchmarkReadings(b *testing.B) {
	kept := os.Getenv("DORVET_LOAD")
	if kept == "" {
		b.Skip("DORVET_LOAD names no folder to keep the load in: see docs/performance.md")
	}
	leaveGarbage()
	for _, scale := range []int{25, 250} {
		b.Run(fmt.Sprintf("%d thousand entries", 6*scale), func(b *testing.B) {
			folder := loadOf(b, kept, scale)
			get, a := readerOf(b, folder)
			record := recorder(b, a)
			bare(b, folder)
			for _, path := range readings(b, largest(b, folder)) {
				b.Run(path, func(b *testing.B) {
					if status, _ := get(path); status != http.StatusOK {
						b.Skip(status) // not each number is one of everything
					}
					measure(b, get, record, path)
				})
			}
		})
	}
}

// loadOf is a folder with the load of a scale, made when it is not there yet.
func loadOf(b *testing.B, kept string, scale int) string {
	b.Helper()
	folder := filepath.Join(kept, fmt.Sprintf("firm-%d", scale))
	if _, err := os.Stat(folder); err != nil {
		if out, err := command(b, "demo", "--make-only", "--scale", fmt.Sprint(scale), "--data", folder); err != nil {
			b.Fatal(out, err)
		}
	}
	return folder
}

// recorder records an entry on one engagement after the other of those with unbilled work, as the firm does all day:
// what is read next is of data that has just changed.
func recorder(b *testing.B, a *app.App) func() {
	b.Helper()
	who := app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
	engagements, err := store.UnbilledEngagements(a.Read(b.Context(), who.Actor), store.UnbilledFilter{UpTo: demo.Today})
	if err != nil {
		b.Fatal(err)
	}
	next := 0
	return func() {
		for refused := new(app.Refusal); refused != nil; { // a few are closed by now
			next += 7
			entry := apptest.Typed(engagements[next%len(engagements)], "2026-11-30", "10m")
			refused = nil
			if _, err := timekeeping.Record(b.Context(), a, who, entry); err != nil && !errors.As(err, &refused) {
				b.Fatal(err)
			}
		}
	}
}

func measure(b *testing.B, get func(string) (int, []byte), record func(), path string) {
	var took []time.Duration
	var body []byte
	for b.Loop() {
		record()
		began := time.Now()
		_, body = get(path)
		took = append(took, time.Since(began))
	}
	slices.Sort(took)
	var packed bytes.Buffer
	w := gzip.NewWriter(&packed)
	if _, err := w.Write(body); err != nil {
		b.Fatal(err)
	}
	if err := w.Close(); err != nil {
		b.Fatal(err)
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "ms/p95")
	b.ReportMetric(float64(packed.Len())/1000, "kB")
}

// bareStatements read no more than the rows and sums of a desk, from bare SQLite: no names, no rules, no form.
var bareStatements = []struct{ desk, statement string }{
	{"register", "SELECT * FROM invoices WHERE state <> 'draft' ORDER BY id DESC LIMIT 100"},
	{"register, sums", "SELECT currency, SUM(total), SUM(open) FROM invoices WHERE state <> 'draft' GROUP BY 1"},
	{"owed", "SELECT * FROM instalments WHERE open <> 0"},
	{"work in progress", "SELECT * FROM portions WHERE billing = 'unbilled' AND removed = 0"},
	{"time, sums", "SELECT COUNT(*), SUM(worked_minutes) FROM time_entries"},
	{"journal of a month", "SELECT * FROM money_movements WHERE effective_day BETWEEN '2026-11-01' AND '2026-11-30' ORDER BY effective_day, act_id"},
}

// bare measures bare statements beside the readings.
func bare(b *testing.B, folder string) {
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(folder, "dorvet.db")+"?mode=ro")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	for _, s := range bareStatements {
		b.Run("bare/"+s.desk, func(b *testing.B) {
			for b.Loop() {
				rows, err := db.Query(s.statement)
				if err != nil {
					b.Fatal(err)
				}
				columns, err := rows.Columns()
				if err != nil {
					b.Fatal(err)
				}
				into := make([]any, len(columns))
				for i := range into {
					into[i] = new(any)
				}
				for rows.Next() {
					if err := rows.Scan(into...); err != nil {
						b.Fatal(err)
					}
				}
				if err := errors.Join(rows.Err(), rows.Close()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// largest gives for a path the number of the record with most to read.
func largest(b *testing.B, folder string) func(path string) []string {
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(folder, "dorvet.db")+"?mode=ro")
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	most := map[string]string{
		"clients":     "SELECT client_id FROM invoices GROUP BY 1 ORDER BY COUNT(*) DESC LIMIT 1",
		"engagements": "SELECT engagement_id FROM time_entries GROUP BY 1 ORDER BY COUNT(*) DESC LIMIT 1",
		"people":      "SELECT person_id FROM time_entries GROUP BY 1 ORDER BY COUNT(*) DESC LIMIT 1",
		"invoices":    "SELECT invoice_id FROM invoice_lines GROUP BY 1 ORDER BY COUNT(*) DESC LIMIT 1",
		"drafts":      "SELECT id FROM invoices WHERE state = 'draft' ORDER BY lines DESC LIMIT 1",
	}
	found := map[string]string{}
	for name, query := range most {
		var id string
		if err := db.QueryRow(query).Scan(&id); err != nil {
			b.Fatal(err)
		}
		found[name] = id
	}
	return func(path string) []string {
		for name, id := range found {
			if strings.Contains(path, "/"+name+"/") {
				return []string{id}
			}
		}
		return []string{"1"}
	}
}

// BenchmarkEverybody lets a firm of 500 save entries, so many a second, while three administrators read one desk after
// the other and a fourth issues 200 invoices; it tells how long saves and readings take, and what memory that needs.
func BenchmarkEverybody(b *testing.B) {
	kept := os.Getenv("DORVET_LOAD")
	if kept == "" {
		b.Skip("DORVET_LOAD names no folder to keep the load in: see docs/performance.md")
	}
	leaveGarbage()
	for _, perSecond := range []int{100, 300} {
		b.Run(fmt.Sprintf("%d saves a second", perSecond), func(b *testing.B) {
			for b.Loop() {
				everybody(b, loadOf(b, kept, 250), perSecond)
			}
		})
	}
}

func everybody(b *testing.B, load string, perSecond int) {
	const people, lasts = 500, 20 * time.Second
	folder := b.TempDir()
	if err := os.CopyFS(folder, os.DirFS(load)); err != nil {
		b.Fatal(err)
	}
	get, a := readerOf(b, folder)
	engagements, err := store.UnbilledEngagements(a.Read(b.Context(), app.Actor{}), store.UnbilledFilter{UpTo: demo.Today})
	if err != nil {
		b.Fatal(err)
	}
	drafts := drafted(b, a, 200)
	var saves, readings times
	var all sync.WaitGroup
	until := time.Now().Add(lasts)
	for person := range int64(people) {
		all.Go(func() {
			pause := time.Duration(people) * time.Second / time.Duration(perSecond)
			time.Sleep(time.Duration(person) * pause / people)
			who := app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
			for n := person; time.Now().Before(until); n += people {
				began := time.Now()
				entry := apptest.Typed(engagements[n%int64(len(engagements))], "2026-11-30", "10m")
				_, err := timekeeping.Record(b.Context(), a, who, entry)
				if refused := new(app.Refusal); err != nil && !errors.As(err, &refused) {
					b.Error(err)
					return
				}
				saves.add(time.Since(began))
				time.Sleep(pause - time.Since(began))
			}
		})
	}
	for range 3 {
		all.Go(func() {
			for time.Now().Before(until) {
				for _, path := range []string{"/api/rail", "/api/wip?upTo=2026-11-30", "/api/invoices", "/api/clients", "/api/wip/board"} {
					began := time.Now()
					if status, _ := get(path); status != http.StatusOK {
						b.Error(path, status)
					}
					readings.add(time.Since(began))
					time.Sleep(500 * time.Millisecond)
				}
			}
		})
	}
	if _, err := issuing.BeginIssue(b.Context(), a, app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}, drafts); err != nil {
		b.Fatal(err)
	}
	all.Wait()
	a.Jobs.Wait()
	memory := runtime.MemStats{}
	runtime.ReadMemStats(&memory)
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(float64(len(saves.took))/lasts.Seconds(), "saves/s")
	b.ReportMetric(saves.percentile(95), "ms/save-p95")
	b.ReportMetric(readings.percentile(95), "ms/reading-p95")
	b.ReportMetric(float64(memory.Sys)/1e6, "MB")
}

// times are what many measure at once.
type times struct {
	lock sync.Mutex
	took []time.Duration
}

func (t *times) add(d time.Duration) {
	t.lock.Lock()
	defer t.lock.Unlock()
	t.took = append(t.took, d)
}

// percentile is in milliseconds.
func (t *times) percentile(share int) float64 {
	slices.Sort(t.took)
	return float64(t.took[len(t.took)*share/100].Microseconds()) / 1000
}

// BenchmarkIssuing issues the drafts of a month end with their documents, as the job of the register does, and tells
// how many a second.
func BenchmarkIssuing(b *testing.B) {
	kept := os.Getenv("DORVET_LOAD")
	if kept == "" {
		b.Skip("DORVET_LOAD names no folder to keep the load in: see docs/performance.md")
	}
	const drafts = 1000
	leaveGarbage()
	for b.Loop() {
		b.StopTimer()
		folder := b.TempDir()
		if err := os.CopyFS(folder, os.DirFS(loadOf(b, kept, 250))); err != nil {
			b.Fatal(err)
		}
		data, err := store.Open(b.Context(), folder)
		if err != nil {
			b.Fatal(err)
		}
		a := newApp(app.PinnedClock{Date: demo.Today})
		a.Store, a.Clock = data, app.PinnedClock{Date: demo.Today}
		who := app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
		seen := drafted(b, &a, drafts)
		b.StartTimer()
		began := time.Now()
		job, err := issuing.BeginIssue(b.Context(), &a, who, seen)
		if err != nil {
			b.Fatal(err)
		}
		a.Jobs.Wait()
		b.ReportMetric(float64(len(seen))/time.Since(began).Seconds(), "invoices/s")
		if job, err = a.Jobs.Read(b.Context(), &a, who.Actor, job.ID); err != nil {
			b.Fatal(err)
		}
		b.Log(len(seen), "drafts:", job.Said)
		if err := data.Close(); err != nil {
			b.Fatal(err)
		}
	}
}

// drafted makes drafts of so many engagements.
func drafted(b *testing.B, a *app.App, most int) []draftsroom.Edit {
	b.Helper()
	who := app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
	asked := unbilled.Selection{UpTo: demo.Today.AddDays(-1), Dated: demo.Today}
	list, err := wip.Unbilled(b.Context(), a, who.Actor, wip.Filter{UpTo: asked.UpTo})
	if err != nil {
		b.Fatal(err)
	}
	for _, c := range list.Clients {
		for _, e := range c.Engagements {
			if e.EngagementID > 1_000_000 && len(asked.EngagementIDs) < most {
				asked.EngagementIDs = append(asked.EngagementIDs, e.EngagementID)
			}
		}
	}
	made, err := runs.MakeDrafts(b.Context(), a, who, asked)
	if err != nil {
		b.Fatal(err)
	}
	seen := []draftsroom.Edit{}
	for _, m := range made {
		seen = append(seen, draftsroom.Edit{ID: m.ID, Version: 1})
	}
	return seen
}
