package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"dorvet/internal/apptest"
	"dorvet/internal/demo"
	"dorvet/internal/store"
)

// running is a server process of its own, which can be killed.
type running struct {
	cmd     *exec.Cmd
	address string
	http    *http.Client
}

func start(t *testing.T, program, data string) *running {
	t.Helper()
	cmd := exec.Command(program, "demo", "--data", data, "--addr", "127.0.0.1:0")
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	r := &running{cmd: cmd, http: &http.Client{Jar: jar}}
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if _, address, found := strings.Cut(lines.Text(), "serves "); found {
			r.address = address
			break
		}
	}
	go io.Copy(io.Discard, out)
	r.post(t.Context(), "/api/session", `{"mail":"maren@skerrow.example","password":"`+demo.Password+`"}`, "")
	return r
}

// post asks for an act; a server that was killed does not answer, which is fine.
func (r *running) post(ctx context.Context, path, body, key string) {
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, r.address+path, strings.NewReader(body))
	if err != nil {
		return
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Idempotency-Key", key)
	if response, err := r.http.Do(request); err == nil {
		io.Copy(io.Discard, response.Body)
		response.Body.Close()
	}
}

// read asks for something; a server that was killed gives nothing.
func (r *running) read(ctx context.Context, path string, into any) {
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, r.address+path, nil)
	if err != nil {
		return
	}
	if response, err := r.http.Do(request); err == nil {
		_ = json.NewDecoder(response.Body).Decode(into) // half an answer is none
		response.Body.Close()
	}
}

// edits are drafts as they were last seen.
type edits struct {
	Edits []struct {
		ID      int64 `json:"id"`
		Version int64 `json:"version"`
	} `json:"edits"`
}

// issueAll begins to issue every draft that there is, and gives how many.
func (r *running) issueAll(ctx context.Context) int {
	waiting := edits{}
	r.read(ctx, "/api/drafts", &waiting.Edits)
	if body, err := json.Marshal(waiting); err == nil && len(waiting.Edits) > 0 {
		r.post(ctx, "/api/drafts/issue", string(body), "")
	}
	return len(waiting.Edits)
}

// loaded is the demo with some more history, and unbilled work on many more
// engagements: a run of as many drafts, and a few.
func loaded(t *testing.T, many int) string {
	t.Helper()
	folder := seeded(t)
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	load := store.Load{Entries: 6000, Unbilled: many * 4, Each: 4, Shape: store.Stress}
	if err := errors.Join(data.Multiply(t.Context(), load), data.Close()); err != nil {
		t.Fatal(err)
	}
	return folder
}

// bill makes drafts of everything and issues them, until it is killed.
func (r *running) bill(ctx context.Context, round int) {
	list := struct {
		Clients []struct {
			Engagements []struct {
				EngagementID int64 `json:"engagementId"`
			} `json:"engagements"`
		} `json:"clients"`
	}{}
	r.read(ctx, "/api/wip?upTo=2026-11-30", &list)
	ids := []string{}
	for _, client := range list.Clients {
		for _, e := range client.Engagements {
			ids = append(ids, fmt.Sprint(e.EngagementID))
		}
	}
	r.post(ctx, "/api/drafts", `{"upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[`+strings.Join(ids, ",")+`]}`,
		fmt.Sprintf("drafts of round %d", round))
	r.issueAll(ctx)
}

// The server is killed without warning while it makes and issues a run of hundreds:
// afterwards everything is done or not, nothing is billed twice, no number is lost,
// and what was left can be issued.
func TestAKilledServerLeavesEverythingWhole(t *testing.T) {
	kills, many, within, on := 50, 500, 12*time.Second, 3 // of which so many are gone on with
	if testing.Short() {
		kills, many, within, on = 3, 120, 2*time.Second, 1
	}
	program, err := apptest.Program(".", filepath.Join(t.TempDir(), "dorvet"))
	if err != nil {
		t.Fatal(err)
	}
	fresh, random, drafts, issued, gone := loaded(t, many), rand.New(rand.NewPCG(9, 10)), 0, 0, 0
	for round := range kills {
		data := filepath.Join(t.TempDir(), fmt.Sprint(round))
		if err := os.CopyFS(data, os.DirFS(fresh)); err != nil {
			t.Fatal(err)
		}
		server := start(t, program, data)
		ctx, cancel := context.WithCancel(t.Context())
		go server.bill(ctx, round)
		time.Sleep(time.Duration(random.Int64N(int64(within)))) // the moment of the kill, not a wait
		if err := server.cmd.Process.Kill(); err != nil {
			t.Fatal(err)
		}
		server.cmd.Wait()
		cancel()
		if out, err := exec.Command(program, "check", "--redraw", "10", "--data", data).CombinedOutput(); err != nil {
			t.Fatalf("killed in round %d: %v: %s", round, err, out)
		}
		d, i := found(t, data)
		drafts, issued = drafts+min(d, 1), issued+min(i, 1)
		if d > 0 && d < many && gone < on {
			gone++
			goOn(t, program, data, many)
		}
	}
	if !testing.Short() && (drafts < kills/4 || issued < kills/4) {
		t.Errorf("of %d kills, %d left drafts and %d invoices: the moments are not where the work is", kills, drafts, issued)
	}
}

// found counts the drafts and the issued invoices of the work that was made many.
func found(t *testing.T, folder string) (drafts, issued int) {
	t.Helper()
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	defer data.Close()
	for state, n := range map[string]*int{"state IN ('draft', 'in_approval', 'approved')": &drafts,
		"state IN ('issued', 'part_paid', 'paid')": &issued} {
		count, err := store.Count(data.Read(t.Context(), store.Everything),
			"SELECT COUNT(*) FROM invoices WHERE run_id IS NOT NULL AND client_id > ? AND "+state, 1_000_000)
		if err != nil {
			t.Fatal(err)
		}
		*n = int(count)
	}
	return drafts, issued
}

// goOn starts the server again on what a kill left, and issues the rest.
func goOn(t *testing.T, program, data string, many int) {
	t.Helper()
	server := start(t, program, data)
	server.issueAll(t.Context())
	deadline := time.Now().Add(2 * time.Minute)
	for left := 1; left > 0; {
		job := struct{ State string }{}
		server.read(t.Context(), "/api/jobs/2", &job) // the first is the one that was broken off
		if job.State == "done" {
			left = 0
		}
		if time.Now().After(deadline) || job.State == "failed" {
			t.Fatalf("the rest is %q", job.State)
		}
	}
	if err := server.cmd.Process.Signal(os.Interrupt); err != nil {
		t.Fatal(err)
	}
	server.cmd.Wait()
	if out, err := exec.Command(program, "check", "--redraw", "10", "--data", data).CombinedOutput(); err != nil {
		t.Fatalf("gone on: %v: %s", err, out)
	}
	if drafts, issued := found(t, data); drafts > 0 || issued != many {
		t.Errorf("gone on, there are %d drafts and %d invoices", drafts, issued)
	}
}

// ask posts and reads the answer; a server that was killed gives nothing.
func (r *running) ask(ctx context.Context, method, path, body, key, secret string, into any) {
	request, err := http.NewRequestWithContext(ctx, method, r.address+path, strings.NewReader(body))
	if err != nil {
		return
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Idempotency-Key", key)
	request.Header.Set("Link-Secret", secret)
	if response, err := r.http.Do(request); err == nil {
		_ = json.NewDecoder(response.Body).Decode(into) // half an answer is none
		response.Body.Close()
	}
}

// collect sends open invoices, and lets their clients pay a part of each by card and by debit, ask and dispute, until the server is killed.
func (r *running) collect(ctx context.Context, round int) {
	register := struct {
		Invoices []struct{ ID int64 }
	}{}
	r.read(ctx, "/api/invoices?state=open&limit=100", &register)
	for i, inv := range register.Invoices {
		if ctx.Err() != nil {
			return
		}
		key := fmt.Sprintf("round %d, %d", round, i)
		r.post(ctx, fmt.Sprintf("/api/invoices/%d/delivery", inv.ID), `{"way":"","to":"ann@client.example","copies":"","subject":"","text":"","word":"","keep":false}`,
			key+" sent")
		linked, offer := struct{ Link string }{}, struct{ WithFee string }{}
		r.ask(ctx, http.MethodPost, fmt.Sprintf("/api/invoices/%d/links", inv.ID), `{"name":"Ann"}`, key+" link", "", &linked)
		_, secret, _ := strings.Cut(linked.Link, "#")
		kind := []string{"card", "debit"}[i%2]
		r.ask(ctx, http.MethodGet, "/api/public/invoice/offer?amount=10&gift=1&kind="+kind, "", "", secret, &offer)
		r.ask(ctx, http.MethodPost, "/api/public/invoice/payments", fmt.Sprintf(`{"amount":"10","gift":"1","shown":%q,"method":{"kind":%q,"number":"9000000000000019",
			"expires":"12/30","code":"123","iban":"IE16TEST93115212345678","holder":"Ann"}}`, offer.WithFee, kind), key+" paid", secret, new(struct{}))
		if i%5 == 0 {
			r.ask(ctx, http.MethodPost, "/api/public/invoice/claims", `{"kind":"dispute","section":0,"line":0,"text":"Not ours"}`, key+" said", secret,
				new(struct{}))
		}
	}
}

// The server is killed without warning while letters go out and clients pay and dispute: afterwards every payment is one or none, every
// letter as far as its mail, and the next start goes on with what was on its way.
func TestAKilledServerLosesNoPayment(t *testing.T) {
	kills, within := 40, 6*time.Second
	if testing.Short() {
		kills, within = 3, 2*time.Second
	}
	program, err := apptest.Program(".", filepath.Join(t.TempDir(), "dorvet"))
	if err != nil {
		t.Fatal(err)
	}
	random, data, paid := rand.New(rand.NewPCG(11, 12)), seeded(t), int64(0)
	for round := range kills { // one after the other on the same data
		server := start(t, program, data)
		ctx, cancel := context.WithCancel(t.Context())
		go server.collect(ctx, round)
		time.Sleep(within/4 + time.Duration(random.Int64N(int64(within)))) // the moment of the kill, not a wait
		if err := server.cmd.Process.Kill(); err != nil {
			t.Fatal(err)
		}
		server.cmd.Wait()
		cancel()
		if out, err := exec.Command(program, "check", "--redraw", "0", "--data", data).CombinedOutput(); err != nil {
			t.Fatalf("killed in round %d: %v: %s", round, err, out)
		}
		paid = counted(t, data, "SELECT COUNT(*) FROM online_payments WHERE gift = 100")
		if twice := counted(t, data, "SELECT COUNT(*) FROM online_payments WHERE gift = 100 GROUP BY invoice_id, made_at HAVING COUNT(*) > 1"); twice > 0 {
			t.Errorf("round %d: a payment was made twice", round)
		}
	}
	if paid == 0 {
		t.Error("nothing was paid: the moments are not where the work is")
	}
}

// counted is what a query counts in the data of a folder; nothing is 0.
func counted(t *testing.T, folder, query string) int64 {
	t.Helper()
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	defer data.Close()
	n, err := store.Count(data.Read(t.Context(), store.Everything), query)
	if err != nil {
		t.Fatal(err)
	}
	return n
}
