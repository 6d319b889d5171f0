package main

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"maps"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"dorvet/internal/api"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/demo"
	"dorvet/internal/store"
)

var (
	update = flag.Bool("update", false, "keep what is answered now as what is expected")

	// What changes from one run to the next: instants.
	instant = regexp.MustCompile(`\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z`)

	// What is about who is signed in, the machine and the moment.
	ofTheMoment = regexp.MustCompile(`/api/(session|welcome|account|security-log|mails|jobs|events|invitation|public|receipts)`)

	// Records that have one of each case, and what is asked for of all.
	numbers = []string{"1", "2", "6", "17", "40", "260"}
	asked   = url.Values{"upTo": {"2026-11-30"}, "from": {"2026-11-01"}, "to": {"2026-11-30"}, "margin": {"30"}, "most": {"500"}}
)

// TestAnswersOfTheDemoStayAsTheyWere holds every reading of the contract, over the demo
// firm, to what it answered when somebody last looked: whoever restructures sees that
// nothing has changed, and whoever changes a figure sees which others moved with it. To look
// at answers in full, before and after, have them written to a folder:
//
//	DORVET_ANSWERS=/tmp/after go test ./cmd/dorvet -run Answers
//	go test ./cmd/dorvet -run Answers -update
func TestAnswersOfTheDemoStayAsTheyWere(t *testing.T) {
	get, _ := readerOf(t, seeded(t))
	now, kept := []string{}, os.Getenv("DORVET_ANSWERS")
	for _, path := range readings(t, func(string) []string { return numbers }) {
		status, body := get(path)
		if status == http.StatusNotFound { // not each number is one of everything
			continue
		}
		body = instant.ReplaceAll(body, []byte("INSTANT"))
		digest := sha256.Sum256(body)
		now = append(now, fmt.Sprintf("%d %x %s", status, digest[:8], path))
		if kept != "" {
			write(t, filepath.Join(kept, strings.NewReplacer("/", "_", "?", "_").Replace(path)), indented(body))
		}
	}
	golden := filepath.Join("testdata", "answers.txt")
	if *update {
		write(t, golden, []byte(strings.Join(now, "\n")+"\n"))
	}
	expected, err := os.ReadFile(golden)
	if err != nil {
		t.Fatal(err)
	}
	before := strings.Split(strings.TrimSpace(string(expected)), "\n")
	for _, line := range now {
		if !slices.Contains(before, line) {
			t.Errorf("answered otherwise: %s", line)
		}
	}
	if len(now) != len(before) || len(now) < 300 {
		t.Errorf("%d readings, expected were %d", len(now), len(before))
	}
}

func write(t *testing.T, path string, content []byte) {
	t.Helper()
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
}

func indented(body []byte) []byte {
	out := new(bytes.Buffer)
	if json.Indent(out, body, "", " ") != nil {
		return body
	}
	return out.Bytes()
}

// readerOf serves a folder of the demo firm, and asks it as its administrator.
func readerOf(t testing.TB, folder string) (func(path string) (int, []byte), *app.App) {
	t.Helper()
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { data.Close() })
	a := newApp(app.PinnedClock{Date: demo.Today})
	a.Store, a.Clock = data, app.PinnedClock{Date: demo.Today}
	handler, err := api.New(&a, api.Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}}})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	client := &http.Client{Jar: jar}
	account := demo.Accounts()[0]
	in := fmt.Sprintf(`{"mail":%q,"password":%q}`, account.Mail, account.Pass)
	signed, err := client.Post(server.URL+"/api/session", "application/json", strings.NewReader(in))
	if err != nil || signed.StatusCode != http.StatusOK {
		t.Fatal(signed, err)
	}
	return func(path string) (int, []byte) {
		answer, err := client.Get(server.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer answer.Body.Close()
		body, err := io.ReadAll(answer.Body)
		if err != nil {
			t.Fatal(err)
		}
		return answer.StatusCode, body
	}, &a
}

// readings are the addresses of everything that the contract reads, in their order, of the numbers
// of records that are given for a path.
func readings(t testing.TB, numbers func(path string) []string) []string {
	t.Helper()
	printed, err := command(t, "openapi")
	if err != nil {
		t.Fatal(err)
	}
	contract := struct {
		Paths map[string]map[string]struct {
			Parameters []struct {
				Name, In string
				Required bool
			}
		}
	}{}
	if err := json.Unmarshal([]byte(printed), &contract); err != nil {
		t.Fatal(err)
	}
	values := map[string][]string{"{kind}": registry.KindNames(), "{day}": {"2026-11-30"}, "{which}": {"terms"}}
	paths := []string{}
	for _, path := range slices.Sorted(maps.Keys(contract.Paths)) {
		reading, is := contract.Paths[path]["get"]
		if !is || ofTheMoment.MatchString(path) {
			continue
		}
		query := url.Values{}
		for _, p := range reading.Parameters {
			if p.In == "query" && (p.Required || p.Name == "upTo" || p.Name == "most") {
				query[p.Name] = asked[p.Name]
			}
		}
		values["{id}"] = numbers(path)
		for _, full := range filled(path, values) {
			if len(query) > 0 {
				full += "?" + query.Encode()
			}
			paths = append(paths, full)
		}
	}
	return paths
}

// filled are the addresses of a path, with every value in each of its places.
func filled(path string, values map[string][]string) []string {
	for place, choices := range values {
		if !strings.Contains(path, place) {
			continue
		}
		all := []string{}
		for _, value := range choices {
			all = append(all, filled(strings.Replace(path, place, value, 1), values)...)
		}
		return all
	}
	return []string{path}
}
