package invoices_test

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"iter"
	"reflect"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// waiting makes drafts with a line by hand each, worth 1.00, 2.00 and so on.
func waiting(t *testing.T, a *app.App, n int) []drafts.Edit {
	t.Helper()
	edits := []drafts.Edit{}
	for i := range n {
		inv := byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 2, Take: "nothing"}),
			drafts.LineTyped{Text: "work", Amount: fmt.Sprint(i + 1)})
		edits = append(edits, edit(inv))
	}
	return edits
}

// ended waits for a job and reads what became of it.
func ended(t *testing.T, a *app.App, job *app.Job, err error) *app.Job {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	a.Jobs.Wait()
	after, err := a.Jobs.Read(t.Context(), a, apptest.Admin.Actor, job.ID)
	if err != nil {
		t.Fatal(err)
	}
	return after
}

func registered(t *testing.T, a *app.App) []string {
	t.Helper()
	register, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil {
		t.Fatal(err)
	}
	numbers := []string{}
	for _, inv := range register {
		numbers = append(numbers, inv.Number)
	}
	slices.Sort(numbers)
	return numbers
}

// Two administrators issue the same drafts at the same moment: each is issued once,
// and the numbers have no gap.
func TestTwoAdministratorsIssueManyAtOnce(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	other := app.Request{Actor: app.Actor{PersonID: apptest.Add(t, a, "people", "name", "Bea Biller", "mail", "bea@firm.example", "role",
		"administrator"), Role: app.Administrator}}
	edits := waiting(t, a, 20)
	first, err := issuing.BeginIssue(t.Context(), a, apptest.Admin, edits)
	if err != nil {
		t.Fatal(err)
	}
	second, err := issuing.BeginIssue(t.Context(), a, other, edits)
	if err != nil {
		t.Fatal(err)
	}
	a.Jobs.Wait()
	want := []string{}
	for i := range edits {
		want = append(want, fmt.Sprintf("N%d", i+1))
	}
	slices.Sort(want)
	if got := registered(t, a); !slices.Equal(got, want) {
		t.Errorf("issued are %v", got)
	}
	issued := 0
	for id, by := range map[int64]app.Request{first.ID: apptest.Admin, second.ID: other} {
		job, err := a.Jobs.Read(t.Context(), a, by.Actor, id)
		if err != nil || job.State != "done" || job.Done != 20 {
			t.Errorf("%+v, %v", job, err)
			continue
		}
		n := 0
		if _, err := fmt.Sscanf(job.Said, "Issued %d", &n); err != nil {
			t.Errorf("it says %q", job.Said)
		}
		issued += n
	}
	if issued != 20 {
		t.Errorf("the two say that they issued %d", issued)
	}
	apptest.Whole(t, a)
}

func TestWhatCantBeIssuedIsLeftAndTold(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	edits := waiting(t, a, 3)
	empty := begun(t, a, drafts.Beginning{ClientID: 2, Take: "nothing"})
	job, err := issuing.BeginIssue(t.Context(), a, apptest.Admin, append(edits, edit(empty)))
	done := ended(t, a, job, err)
	if done.Said != "Issued 3 of 4. Birch: Nothing on it. Put something on, or delete the draft." || done.State != "done" {
		t.Errorf("%+v", done)
	}
	register := []drafts.Edit{}
	for _, e := range edits {
		register = append(register, edit(opened(t, a, e.ID)))
	}
	job, err = issuing.BeginReopen(t.Context(), a, apptest.Admin, register)
	if done = ended(t, a, job, err); done.Said != "Reopened 3 invoices." {
		t.Errorf("%+v", done)
	}
	if inv := opened(t, a, edits[1].ID); inv.State != invoice.Draft || inv.Number != "N2" {
		t.Errorf("%s is %s", inv.Number, inv.State)
	}
	apptest.Whole(t, a)
	_, err = issuing.BeginIssue(t.Context(), a, apptest.Admin, []drafts.Edit{{ID: 99}})
	refused(t, err, "load the page again")
}

// Documents are drawn ahead, each once and under the number that its invoice gets; a draft that can't be
// issued takes no number, and who issues something meanwhile moves the numbers on: then they are drawn again.
func TestDocumentsAreDrawnAheadUnderTheirNumbers(t *testing.T) {
	for name, between := range map[string]int{"nobody else": 0, "somebody issues one meanwhile": 1} {
		t.Run(name, func(t *testing.T) {
			a := apptest.Firm(t)
			reachable(t, a)
			edits := waiting(t, a, 60)
			other := edits[59]
			var drawn atomic.Int64
			var once sync.Once
			a.Render = func(doc invoice.Document) ([]byte, error) {
				if drawn.Add(1) > 30 && between > 0 {
					once.Do(func() {
						go func() {
							if _, err := issuing.Issue(context.Background(), a, apptest.Admin, other); err != nil {
								t.Error(err)
							}
						}()
					})
				}
				return []byte("document of " + doc.Number), nil
			}
			job, err := issuing.BeginIssue(t.Context(), a, apptest.Admin, edits[:60-between])
			ended(t, a, job, err)
			numbers := registered(t, a)
			for deadline := time.Now().Add(10 * time.Second); len(numbers) < 60 && time.Now().Before(deadline); {
				numbers = registered(t, a)
			}
			if len(numbers) != 60 {
				t.Fatalf("%d are issued", len(numbers))
			}
			if between == 0 && drawn.Load() != 60 {
				t.Errorf("60 documents were drawn %d times", drawn.Load())
			}
			register, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
			if err != nil {
				t.Fatal(err)
			}
			for _, inv := range register {
				if _, file, err := papers.File(t.Context(), a, apptest.Admin.Actor, inv.ID); err != nil || string(file) != "document of "+inv.Number {
					t.Errorf("%s has the %s, %v", inv.Number, file, err)
				}
			}
			apptest.Whole(t, a)
		})
	}
}

// A job that is stopped after its second step has done two, and says so.
func TestAStoppedJobHasDoneWhatItSays(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	edits := waiting(t, a, 5)
	drawn, job := 0, make(chan int64, 1)
	var ahead sync.Map
	a.Render = func(doc invoice.Document) ([]byte, error) {
		if _, before := ahead.LoadOrStore(doc.Number, true); !before {
			return nil, errors.New("not ahead of its act")
		}
		if drawn++; drawn == 2 {
			if err := a.Jobs.Cancel(context.Background(), a, apptest.Admin.Actor, <-job); err != nil {
				t.Error(err)
			}
		}
		return []byte(doc.Number), nil
	}
	begun, err := issuing.BeginIssue(t.Context(), a, apptest.Admin, edits)
	if err != nil {
		t.Fatal(err)
	}
	job <- begun.ID
	if done := ended(t, a, begun, nil); done.State != "cancelled" || done.Said != "Issued 2 of 5." || done.Done != 2 {
		t.Errorf("%+v", done)
	}
	if numbers := registered(t, a); len(numbers) != 2 {
		t.Errorf("issued are %v", numbers)
	}
	apptest.Whole(t, a)
	if err := a.Jobs.Cancel(t.Context(), a, apptest.Lead.Actor, begun.ID); err == nil {
		t.Error("somebody else's job can be stopped")
	}
}

func TestAJobThatTheServerBrokeOffIsNoted(t *testing.T) {
	a := apptest.Firm(t)
	row := store.Job{Kind: "issue", PersonID: 1, State: "running", Whole: 9, Done: 4, BeganAt: a.Clock.Now()}
	if err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error { return store.Insert(tx, &row) }); err != nil {
		t.Fatal(err)
	}
	if err := papers.Tidy(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	job, err := a.Jobs.Read(t.Context(), a, apptest.Admin.Actor, row.ID)
	if err != nil || job.State != "interrupted" || job.Done != 4 || job.EndedAt == nil {
		t.Errorf("%+v, %v", job, err)
	}
}

// saved reads the file that a job made.
func saved(t *testing.T, a *app.App, job *app.Job) (string, []byte) {
	t.Helper()
	name, file, err := papers.MadeFile(t.Context(), a, apptest.Admin.Actor, job.ID)
	if err != nil {
		t.Fatal(err)
	}
	defer file.Close()
	content, err := io.ReadAll(file)
	if err != nil {
		t.Fatal(err)
	}
	return name, content
}

// The archive is read back with the reader of the standard library.
func TestDocumentsOfManyHaveTellingNames(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	edits := waiting(t, a, 3)
	issue(t, a, opened(t, a, edits[1].ID))
	ids := []int64{edits[0].ID, edits[1].ID, edits[2].ID}
	job, err := papers.BeginDocuments(t.Context(), a, apptest.Admin, ids, "zip", "November")
	name, content := saved(t, a, ended(t, a, job, err))
	archive, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil || name != "November.zip" {
		t.Fatalf("%s: %v", name, err)
	}
	names := []string{}
	for _, f := range archive.File {
		names = append(names, f.Name)
	}
	want := []string{fmt.Sprintf("draft %d Birch 2026-12-01.pdf", ids[0]), "N1 Birch 2026-12-01.pdf",
		fmt.Sprintf("draft %d Birch 2026-12-01.pdf", ids[2])}
	if !slices.Equal(names, want) {
		t.Errorf("%v, want %v", names, want)
	}
	a.Bind = func(w io.Writer, docs iter.Seq2[invoice.Document, error], _ bool) error {
		for doc, err := range docs {
			if err != nil {
				return err
			}
			fmt.Fprintf(w, "%s %s;", doc.Client.Name, doc.Totals.Total)
		}
		return nil
	}
	job, err = papers.BeginDocuments(t.Context(), a, apptest.Admin, ids, "pdf", "November")
	if _, content := saved(t, a, ended(t, a, job, err)); string(content) != "Client 1.23;Client 2.46;Client 3.69;" {
		t.Errorf("%s", content)
	}
	_, err = papers.BeginDocuments(t.Context(), a, apptest.Admin, ids, "tiff", "November")
	refused(t, err, "no form of documents")
	if err := papers.Tidy(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	_, _, err = papers.MadeFile(t.Context(), a, apptest.Admin.Actor, job.ID)
	refused(t, err, "make it again")
}

// A draft that can't be drawn ends the job with a sentence that names it, and leaves
// no half a file.
func TestDocumentsThatCantBeDrawnAreRefused(t *testing.T) {
	a := apptest.Firm(t)
	edits := waiting(t, a, 2)
	a.Render = func(doc invoice.Document) ([]byte, error) {
		return nil, &invoice.Unprintable{Text: "Snow ☃", Character: '☃'}
	}
	job, err := papers.BeginDocuments(t.Context(), a, apptest.Admin, []int64{edits[0].ID, edits[1].ID}, "zip", "x")
	done := ended(t, a, job, err)
	if done.State != "failed" || !strings.Contains(done.Said, "☃") {
		t.Errorf("%+v", done)
	}
	_, _, err = papers.MadeFile(t.Context(), a, apptest.Admin.Actor, done.ID)
	refused(t, err, "made no file")
}

// What is read ahead of a number is what would be read with it: drafts that are issued
// together leave the same revisions and the same ledgers as one after the other; of
// several of one client, too, of which the first takes the money that is held.
func TestIssuedTogetherIsIssuedAsAlone(t *testing.T) {
	left := func(together bool) string {
		a := apptest.Firm(t)
		reachable(t, a)
		apptest.Set(t, a, "clients", 2, "discount", "7.5")
		_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
			receivables.TypedFunds{ClientID: 2, Day: apptest.Today, Amount: "90", Method: "transfer"})
		if err != nil {
			t.Fatal(err)
		}
		clients, works := []int64{1, 2}, []int64{apptest.Survey, apptest.Study}
		for i := range 10 {
			name := fmt.Sprintf("Client %c", 'A'+i)
			clients = append(clients, apptest.Add(t, a, "clients", "name", name, "address", "2 Quay"))
			works = append(works, apptest.Add(t, a, "engagements", "client", name, "name", "Work", "lead", "AA", "opened", "2026-01-01"))
		}
		edits := []drafts.Edit{}
		for i := range 30 {
			inv := begun(t, a, drafts.Beginning{ClientID: clients[i%len(clients)], Take: "nothing"})
			apptest.Record(t, a, works[i%len(works)], "2026-11-20", fmt.Sprintf("%dm", 20+7*i))
			if inv, err = apptest.Invoice(t.Context(), a)(drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(inv), "all", 0)); err != nil {
				t.Fatal(err)
			}
			edits = append(edits, edit(byHand(t, a, inv, drafts.LineTyped{Text: "map", Amount: fmt.Sprintf("%d.33", i)})))
		}
		for i := range edits { // as they were last changed
			edits[i] = edit(opened(t, a, edits[i].ID))
		}
		if together {
			job, err := issuing.BeginIssue(t.Context(), a, apptest.Admin, edits)
			if done := ended(t, a, job, err); done.Said != "Issued 30 invoices." {
				t.Fatal(done.Said)
			}
		} else {
			for _, e := range inOrder(t, a, edits) {
				if _, err := issuing.Issue(t.Context(), a, apptest.Admin, e); err != nil {
					t.Fatal(err)
				}
			}
		}
		apptest.Whole(t, a)
		words := []string{}
		for _, query := range []string{"SELECT content || explanation || digest FROM invoice_revisions ORDER BY invoice_id",
			"SELECT kind || amount || from_bucket || to_bucket || COALESCE(invoice_id, 0) FROM money_movements ORDER BY id",
			"SELECT kind || agreed || to_bucket || portion_id FROM work_movements ORDER BY id"} {
			rows := []string{}
			if err := a.Store.Read(t.Context(), store.Everything).SQL(t).Raw(query).Scan(&rows).Error; err != nil || len(rows) < 30 {
				t.Fatal(len(rows), err)
			}
			words = append(words, rows...)
		}
		return strings.Join(words, "\n")
	}
	if alone, together := left(false), left(true); alone != together {
		at := 0
		for at < min(len(alone), len(together)) && alone[at] == together[at] {
			at++
		}
		t.Errorf("alone … %.300s\ntogether … %.300s", alone[max(0, at-100):], together[max(0, at-100):])
	}
}

// inOrder puts drafts in the order in which many are issued: by client, here.
func inOrder(t *testing.T, a *app.App, edits []drafts.Edit) []drafts.Edit {
	t.Helper()
	clients := map[int64]string{}
	for _, e := range edits {
		clients[e.ID] = opened(t, a, e.ID).Client
	}
	ordered := slices.Clone(edits)
	slices.SortStableFunc(ordered, func(x, y drafts.Edit) int { return strings.Compare(clients[x.ID], clients[y.ID]) })
	return ordered
}

// What the register shows of an invoice is what the invoice itself says.
func TestARowOfTheRegisterIsItsInvoice(t *testing.T) {
	a := apptest.Firm(t)
	inv := byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Survey}), drafts.LineTyped{Text: "Chart", Amount: "100"})
	inv = chosen(t, a, inv, "schedule", "50% issue; rest 30d", "invoice")
	issue(t, a, inv)
	issue(t, a, byHand(t, a, begun(t, a, drafts.Beginning{EngagementID: apptest.Study}), drafts.LineTyped{Text: "Chart", Amount: "5"}))
	rows, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(rows) != 2 {
		t.Fatalf("%+v, %v", rows, err)
	}
	for _, row := range rows {
		if one := opened(t, a, row.ID); !reflect.DeepEqual(one.Summary, row) {
			t.Errorf("the register says\n%+v\nthe invoice\n%+v", row, one.Summary)
		}
	}
}
