package api

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"
	"testing/fstest"

	"dorvet/core/day"
	"dorvet/core/refusal"
	"dorvet/core/safetext"
	"dorvet/internal/apptest"

	"github.com/mattn/go-sqlite3"
)

// flood is a body without an end that counts what is taken of it.
type flood struct{ taken atomic.Int64 }

func (f *flood) Read(into []byte) (int, error) {
	if f.taken.Add(int64(len(into))) > 64<<20 {
		return 0, io.EOF
	}
	return len(into), nil
}

// A stranger's body is not read: what is sent of it is what the network holds.
func TestNobodysBodyIsReadBeforeTheyAreKnown(t *testing.T) {
	server := serve(t)
	for _, path := range []string{"/api/files/clients", "/api/files/clients/check", "/api/files/receipts", "/api/time-entries",
		"/api/files/logo"} {
		body := new(flood)
		method := map[bool]string{true: http.MethodPut, false: http.MethodPost}[path == "/api/files/logo"]
		request, err := http.NewRequestWithContext(t.Context(), method, server.URL+path+"?name=x.csv", body)
		if err != nil {
			t.Fatal(err)
		}
		request.Header.Set(keyHeader, "a key of a try")
		response, err := http.DefaultClient.Do(request)
		if err == nil {
			response.Body.Close()
		}
		if err == nil && response.StatusCode != http.StatusUnauthorized || body.taken.Load() > 16<<20 {
			t.Errorf("%s: %v, %v, after %d bytes", path, response, err, body.taken.Load())
		}
	}
	stranger := as(t, server, "")
	if status, _ := stranger.do("POST", "/api/session", `{"mail":"`+strings.Repeat("a", publicLimit)+`","password":"x"}`,
		nil); status != http.StatusRequestEntityTooLarge {
		t.Errorf("a sign-in of more than %d bytes: %d", publicLimit, status)
	}
}

// What went wrong with disk or data is logged under the number that is answered, and
// never shown; a refusal is a sentence in its field.
func TestAFailureHasANumberAndARefusalASentence(t *testing.T) {
	var log bytes.Buffer
	before := slog.Default()
	slog.SetDefault(slog.New(slog.NewTextHandler(&log, nil)))
	defer slog.SetDefault(before)
	ctx := context.WithValue(t.Context(), requestKey{}, "abc123")
	failed := problem(ctx, errors.New("issue invoice (act 7): table invoices has no column tax")).Error()
	if !strings.Contains(failed, "abc123") || strings.Contains(failed, "column") || strings.Contains(failed, "ry again") {
		t.Errorf("%q", failed)
	}
	if full := problem(ctx, sqlite3.Error{Code: sqlite3.ErrFull}).Error(); !strings.Contains(full, "make room") ||
		!strings.Contains(full, "abc123") {
		t.Errorf("%q", full)
	}
	if said := log.String(); strings.Count(said, "request=abc123") != 2 || !strings.Contains(said, "act 7") {
		t.Errorf("the log says %q", said)
	}
	if refused := problem(ctx, refusal.Errorf("a day is missing: give one")).Error(); refused != "A day is missing: give one." {
		t.Errorf("%q", refused)
	}
}

// What turns, breaks or hides text is taken out of every input, whatever it is in; what
// is a secret is taken to the letter.
func TestInputsAreTidied(t *testing.T) {
	type inner struct{ Text string }
	input := struct {
		Name     string `json:"name"`
		Many     []string
		Map      map[string]string
		Deep     *inner
		Password string
		On       day.Day `json:"on"`
	}{"a\u202eb\x00", []string{"c\x07"}, map[string]string{"k": "d\u2066"}, &inner{"e\r\nf"}, "g\x01", day.Of(2026, 12, 1)}
	if err := tidy(&input); err != nil {
		t.Fatal(err)
	}
	if input.Name != "ab" || input.Many[0] != "c" || input.Map["k"] != "d" || input.Deep.Text != "e\nf" || input.Password != "g\x01" {
		t.Errorf("%+v", input)
	}
	input.Name = strings.Repeat("x", safetext.MostOfNote+1)
	var refused *refusal.Refusal
	if err := tidy(&input); !errors.As(err, &refused) || refused.Field != "name" {
		t.Errorf("%v", err)
	}
	input.Name = "x"
	for _, on := range []day.Day{day.Of(1969, 12, 31), day.Of(2200, 1, 1)} {
		input.On = on
		if err := tidy(&input); !errors.As(err, &refused) || refused.Field != "on" {
			t.Errorf("%s: %v", on, err)
		}
	}
}

// A name or a day that a page refuses is refused by the interface, too.
func TestBoundsHoldThroughTheInterface(t *testing.T) {
	c := as(t, serve(t), "ada@firm.example")
	for _, body := range []string{`{"name":"` + strings.Repeat("n", 201) + `"}`, `{"name":"x","opened":"0999-01-01"}`,
		`{"name":"x","opened":"2200-01-01"}`} {
		if status, answer := c.do("POST", "/api/records/clients", body, nil); status != http.StatusUnprocessableEntity {
			t.Errorf("%.40s: %d %s", body, status, answer)
		}
	}
	long := "Name\n" + strings.Repeat("n", safetext.MostOfNote+1) + "\n"
	status, answer := c.do("POST", "/api/files/clients/check?name=x.csv", long,
		map[string]string{"Content-Type": "application/octet-stream"})
	if status != http.StatusUnprocessableEntity || !strings.Contains(answer, "Row 2, column 1") {
		t.Errorf("a cell of 20,001 characters: %d %s", status, answer)
	}
}

// What the firm stands on is never deleted, by whom and in whatever version.
func TestWhatTheFirmStandsOnStays(t *testing.T) {
	c := as(t, serve(t), "ada@firm.example")
	for _, kind := range []string{"firm", "entities", "series"} {
		for version := range 6 {
			status, body := c.do("DELETE", fmt.Sprintf("/api/records/%s/1?version=%d", kind, version), "", nil)
			if status != http.StatusConflict {
				t.Errorf("%s: %d %s", kind, status, body)
			}
		}
	}
	if status, _ := c.do("POST", "/api/begin", `{"firm":"x","currency":"EUR","timeZone":"UTC","mark":"point","taxName":"","taxPercent":"","name":"x","mail":"x@y.example","password":"long enough it is"}`, nil); status != http.StatusConflict {
		t.Errorf("a second firm is begun: %d", status)
	}
}

// The server answers under its own names alone.
func TestOnlyConfiguredHostsAreServed(t *testing.T) {
	handler, err := New(apptest.Firm(t), Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}},
		Hosts: []string{"bills.firm.example"}, Secure: true})
	if err != nil {
		t.Fatal(err)
	}
	for host, want := range map[string]int{"bills.firm.example": 200, "Bills.Firm.Example:443": 200, "127.0.0.1:8700": 200,
		"localhost":  200,
		"[::1]:8700": 200, "evil.example": http.StatusMisdirectedRequest, "10.0.0.1": http.StatusMisdirectedRequest,
		"": http.StatusMisdirectedRequest} {
		request := httptest.NewRequest(http.MethodGet, "/api/welcome", nil)
		request.Host = host
		answer := httptest.NewRecorder()
		handler.ServeHTTP(answer, request)
		if answer.Code != want || want == 200 && answer.Header().Get("Strict-Transport-Security") == "" {
			t.Errorf("%q: %d, %v", host, answer.Code, answer.Header())
		}
	}
}
