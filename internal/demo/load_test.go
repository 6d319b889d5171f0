package demo

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Load for benchmarks: this much history, and a thousand engagements that have 25
// unbilled entries each beside those of the demo.
const (
	shortHistory = 150_000
	longHistory  = 1_500_000
	someDrafts   = 1000
)

var (
	november = day.Of(2026, 11, 30)
	maren    = app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
)

// loaded is a folder with load of a history, made once and kept in the folder that
// DORVET_LOAD names: that takes minutes and some gigabytes.
func loaded(b *testing.B, entries int) string {
	b.Helper()
	kept := os.Getenv("DORVET_LOAD")
	if kept == "" {
		b.Skip("DORVET_LOAD names no folder to keep the load in: see docs/performance.md")
	}
	folder := filepath.Join(kept, fmt.Sprint(entries))
	if _, err := os.Stat(filepath.Join(folder, "dorvet.db")); err == nil {
		return folder
	}
	must(b, Seed(b.Context(), folder, outside()))
	must(b, Multiply(b.Context(), folder,
		store.Load{Entries: entries, Unbilled: someDrafts * entriesEach, Each: entriesEach, Shape: store.Stress}))
	return folder
}

func must(b *testing.B, err error) {
	b.Helper()
	if err != nil {
		b.Fatal(err)
	}
}

func opened(b *testing.B, folder string) *store.Store {
	b.Helper()
	data, err := store.Open(context.Background(), folder)
	must(b, err)
	return data
}

// copied is a copy of the load that may be written to.
func copied(b *testing.B, folder string) string {
	b.Helper()
	copy := b.TempDir()
	must(b, os.CopyFS(copy, os.DirFS(folder)))
	return copy
}

func over(data *store.Store) *app.App {
	a := outside()
	a.Store, a.Clock, a.Jobs = data, app.PinnedClock{Date: Today}, new(app.Jobs)
	document := make([]byte, 20<<10) // as large as a drawn one
	a.Render = func(doc invoice.Document) ([]byte, error) { return append(document, doc.Number...), nil }
	return &a
}

// theLoad are the engagements of the load that have unbilled work.
func theLoad(b *testing.B, a *app.App) unbilled.Selection {
	b.Helper()
	list, err := wip.Unbilled(b.Context(), a, maren.Actor, wip.Filter{UpTo: november})
	must(b, err)
	s := unbilled.Selection{UpTo: november, Dated: Today}
	for _, c := range list.Clients {
		for _, e := range c.Engagements {
			if e.EngagementID > 1_000_000 {
				s.EngagementIDs = append(s.EngagementIDs, e.EngagementID)
			}
		}
	}
	if len(s.EngagementIDs) != someDrafts {
		b.Fatalf("the load has %d engagements with unbilled work", len(s.EngagementIDs))
	}
	return s
}

// raw is a connection as the store has it, without anything above it.
func raw(b *testing.B, folder string) *sql.DB {
	b.Helper()
	db, err := sql.Open("sqlite3", "file:"+filepath.Join(folder,
		"dorvet.db")+"?_journal_mode=WAL&_synchronous=FULL&_foreign_keys=on&_txlock=immediate&_stmt_cache_size=300")
	must(b, err)
	db.SetMaxOpenConns(1)
	b.Cleanup(func() { db.Close() })
	return db
}

// eachHistory runs a benchmark over both.
func eachHistory(b *testing.B, run func(b *testing.B, folder string)) {
	for _, entries := range []int{shortHistory, longHistory} {
		b.Run(fmt.Sprintf("after %d thousand", entries/1000), func(b *testing.B) { run(b, loaded(b, entries)) })
	}
}

func BenchmarkReviewOfUnbilledWork(b *testing.B) {
	eachHistory(b, func(b *testing.B, folder string) {
		b.Run("reviewed", func(b *testing.B) {
			data := opened(b, folder)
			defer data.Close()
			a := over(data)
			for b.Loop() {
				list, err := wip.Unbilled(b.Context(), a, maren.Actor, wip.Filter{UpTo: november})
				if err != nil || len(list.Clients) < someDrafts {
					b.Fatal(len(list.Clients), err)
				}
			}
		})
		b.Run("foreseen", func(b *testing.B) {
			data := opened(b, folder)
			defer data.Close()
			a := over(data)
			s := theLoad(b, a)
			for b.Loop() {
				if _, err := runs.Preview(b.Context(), a, maren.Actor, s); err != nil {
					b.Fatal(err)
				}
			}
		})
		b.Run("bare", func(b *testing.B) {
			db := raw(b, folder)
			for b.Loop() {
				n := 0
				rows, err := db.Query(`SELECT p.engagement_id, p.worked_day, SUM(p.minutes), SUM(p.agreed), SUM(p.standard), COUNT(*)
					FROM portions p
					JOIN engagements e ON e.id = p.engagement_id
					WHERE p.billing = 'unbilled' AND p.removed = FALSE AND p.worked_day <= '2026-11-30' GROUP BY 1, 2 ORDER BY 1, 2`)
				must(b, err)
				for rows.Next() {
					var engagement, minutes, agreed, standard, count int64
					var on string
					must(b, rows.Scan(&engagement, &on, &minutes, &agreed, &standard, &count))
					n++
				}
				must(b, rows.Err())
				if n < someDrafts {
					b.Fatal(n)
				}
			}
		})
	})
}

// The bare statements write the rows that the acts have written, one by one with
// prepared statements, in as many synced transactions.
func BenchmarkRunOf1000Drafts(b *testing.B) {
	eachHistory(b, func(b *testing.B, folder string) {
		all := times{}
		defer all.report(b)
		for b.Loop() {
			b.StopTimer()
			mine, bare := copied(b, folder), copied(b, folder)
			data := opened(b, mine)
			a := over(data)
			s := theLoad(b, a)
			began := time.Now()
			b.StartTimer()
			made, err := runs.MakeDrafts(b.Context(), a, maren, s)
			b.StopTimer()
			if err != nil || len(made) != someDrafts {
				b.Fatal(len(made), err)
			}
			acted := time.Since(began)
			must(b, data.Close())
			written := difference(b, mine, bare, "acts", "act_subjects", "billing_runs", "invoices", "invoice_engagements", "invoice_lines",
				"portions", "run_members")
			db := raw(b, bare)
			began = time.Now()
			readUnbilled(b, db)
			written.write(b, db, 1)
			all.add(acted, time.Since(began))
			b.StartTimer()
		}
	})
}

func BenchmarkIssueOf1000Drafts(b *testing.B) {
	eachHistory(b, func(b *testing.B, folder string) {
		all := times{}
		defer all.report(b)
		for b.Loop() {
			b.StopTimer()
			mine := copied(b, folder)
			data := opened(b, mine)
			a := over(data)
			made, err := runs.MakeDrafts(b.Context(), a, maren, theLoad(b, a))
			must(b, err)
			must(b, data.Close())
			bare := copied(b, mine)
			data = opened(b, mine)
			a = over(data)
			began := time.Now()
			b.StartTimer()
			job, err := issuing.BeginIssue(b.Context(), a, maren, edits(made))
			must(b, err)
			a.Jobs.Wait()
			b.StopTimer()
			if job, err = a.Jobs.Read(b.Context(), a, maren.Actor, job.ID); err != nil ||
				job.Said != fmt.Sprintf("Issued %d invoices.", someDrafts) {
				b.Fatal(job, err)
			}
			acted := time.Since(began)
			must(b, data.Close())
			written := difference(b, mine, bare, "files", "acts", "act_subjects", "invoices", "invoice_revisions", "instalments",
				"portions",
				"work_movements", "money_movements", "series")
			db := raw(b, bare)
			began = time.Now()
			written.write(b, db, someDrafts)
			all.add(acted, time.Since(began))
			b.StartTimer()
		}
	})
}

func edits(made []runs.Made) []drafts.Edit {
	seen := []drafts.Edit{}
	for _, m := range made {
		seen = append(seen, drafts.Edit{ID: m.ID, Version: 1})
	}
	return seen
}

// times are how long acts took, and the bare statements of the same work.
type times struct{ acted, bare []float64 }

func (t *times) add(acted, bare time.Duration) {
	t.acted, t.bare = append(t.acted, acted.Seconds()), append(t.bare, bare.Seconds())
}

// report tells the median of each.
func (t *times) report(b *testing.B) {
	slices.Sort(t.acted)
	slices.Sort(t.bare)
	if n := len(t.bare); n > 0 {
		b.ReportMetric(t.acted[n/2], "s/acts")
		b.ReportMetric(t.bare[n/2], "s/bare")
		b.ReportMetric(t.acted[n/2]/t.bare[n/2], "times")
	}
}

// readUnbilled reads what lines are made of.
func readUnbilled(b *testing.B, db *sql.DB) {
	b.Helper()
	rows, err := db.Query(`SELECT p.id, p.engagement_id, p.worked_day, p.minutes, p.agreed, t.text, t.valued FROM portions p
		JOIN time_entries t ON t.id = p.source_id
		WHERE p.source = 'time' AND p.billing = 'unbilled' AND p.removed = FALSE AND p.engagement_id > 1000000 ORDER BY p.worked_day, p.id`)
	must(b, err)
	defer rows.Close()
	for rows.Next() {
		var id, engagement, minutes, agreed int64
		var on, text, valued string
		must(b, rows.Scan(&id, &engagement, &on, &minutes, &agreed, &text, &valued))
	}
	must(b, rows.Err())
}

// changes are rows that were added to tables, or differ in them.
type changes []change

type change struct {
	table     string
	statement string
	rows      [][]any
}

// difference is what the data in one folder has and that in another has not.
func difference(b *testing.B, has, lacks string, tables ...string) changes {
	b.Helper()
	db := raw(b, has)
	defer db.Close()
	_, err := db.Exec("ATTACH ? AS other", filepath.Join(lacks, "dorvet.db"))
	must(b, err)
	found := changes{}
	for _, table := range tables {
		names := columnsOf(b, db, table)
		fresh := "SELECT * FROM main." + table + " EXCEPT SELECT * FROM other." + table
		holes := strings.TrimSuffix(strings.Repeat("?, ", len(names)), ", ")
		insert := change{table: table, statement: fmt.Sprintf("INSERT INTO %s (%s) VALUES (%s)", table, strings.Join(names, ", "), holes)}
		if names[0] != "id" {
			insert.rows = rowsOf(b, db, fresh, len(names))
			found = append(found, insert)
			continue
		}
		insert.rows = rowsOf(b, db, "SELECT * FROM ("+fresh+") WHERE id NOT IN (SELECT id FROM other."+table+") ORDER BY id", len(names))
		found = append(found, insert, updates(b, db, table, names, fresh))
	}
	return found
}

// updates are what differs in rows that both have: of the columns that differ in any.
func updates(b *testing.B, db *sql.DB, table string, names []string, fresh string) change {
	b.Helper()
	rows := rowsOf(b, db, fmt.Sprintf("SELECT f.*, o.* FROM (%s) f JOIN other.%s o ON o.id = f.id ORDER BY f.id", fresh, table),
		2*len(names))
	differ, sets := []int{}, []string{}
	for i, name := range names {
		if slices.ContainsFunc(rows, func(row []any) bool { return fmt.Sprint(row[i]) != fmt.Sprint(row[len(names)+i]) }) {
			differ, sets = append(differ, i), append(sets, name+" = ?")
		}
	}
	update := change{table: table, statement: fmt.Sprintf("UPDATE %s SET %s WHERE id = ?", table, strings.Join(sets, ", "))}
	for _, row := range rows {
		values := []any{}
		for _, i := range differ {
			values = append(values, row[i])
		}
		update.rows = append(update.rows, append(values, row[0]))
	}
	return update
}

func columnsOf(b *testing.B, db *sql.DB, table string) (names []string) {
	b.Helper()
	for _, row := range rowsOf(b, db, "SELECT name FROM pragma_table_info('"+table+"')", 1) {
		names = append(names, row[0].(string))
	}
	return names
}

func rowsOf(b *testing.B, db *sql.DB, query string, columns int) (all [][]any) {
	b.Helper()
	rows, err := db.Query(query)
	must(b, err)
	defer rows.Close()
	for rows.Next() {
		row, at := make([]any, columns), make([]any, columns)
		for i := range row {
			at[i] = &row[i]
		}
		must(b, rows.Scan(at...))
		all = append(all, row)
	}
	must(b, rows.Err())
	return all
}

// keep writes a file as the store does: synced, renamed, and its folder synced.
func keep(b *testing.B, folder, name string, content []byte) {
	b.Helper()
	must(b, os.MkdirAll(folder, 0o700))
	file, err := os.CreateTemp(folder, "writing-*")
	must(b, err)
	_, err = file.Write(content)
	must(b, errors.Join(err, file.Sync(), file.Close(), os.Rename(file.Name(), filepath.Join(folder, name))))
	within, err := os.Open(folder)
	must(b, err)
	must(b, errors.Join(within.Sync(), within.Close()))
}

// write writes changes in so many transactions, each with its share of every table
// and, if there are several, a file.
func (c changes) write(b *testing.B, db *sql.DB, transactions int) {
	b.Helper()
	folder, document := b.TempDir(), make([]byte, 20<<10)
	for n := range transactions {
		if transactions > 1 {
			keep(b, filepath.Join(folder, fmt.Sprint(n%256)), fmt.Sprint(n), document)
		}
		tx, err := db.Begin()
		must(b, err)
		_, err = tx.Exec("PRAGMA defer_foreign_keys = ON")
		must(b, err)
		for _, one := range c {
			share := one.rows[len(one.rows)*n/transactions : len(one.rows)*(n+1)/transactions]
			if one.table == "files" { // named by their digests, in no order: all with the first
				if share = nil; n == 0 {
					share = one.rows
				}
			}
			if len(share) == 0 {
				continue
			}
			statement, err := tx.Prepare(one.statement)
			must(b, err)
			for _, row := range share {
				_, err := statement.Exec(row...)
				must(b, err)
			}
			must(b, statement.Close())
		}
		must(b, tx.Commit())
	}
}
