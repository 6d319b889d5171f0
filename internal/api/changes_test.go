package api

import (
	"bufio"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"dorvet/internal/apptest"
)

// Source of the form: the HTML standard, "Server-sent events": lines "data: …", events end with an empty line.
func TestWhoFollowsHearsWhatOthersWrite(t *testing.T) {
	stopping := make(chan struct{})
	handler, err := New(apptest.Firm(t), Options{Version: "test", Stopping: stopping})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	ada, sam := as(t, server, "ada@firm.example"), as(t, server, "sam@firm.example")
	request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, server.URL+"/api/events", nil)
	if err != nil {
		t.Fatal(err)
	}
	request.Header.Set("Accept", "text/event-stream")
	answer, err := ada.http.Do(request)
	if err != nil || answer.Header.Get("Content-Type") != "text/event-stream" {
		t.Fatal(answer, err)
	}
	defer answer.Body.Close()
	lines := bufio.NewScanner(answer.Body)
	next := func() string {
		for lines.Scan() {
			if data, is := strings.CutPrefix(lines.Text(), "data: "); is {
				return data
			}
		}
		t.Fatal("nothing more is told: ", lines.Err())
		return ""
	}
	first := next()
	body := strings.Replace(entryBody, `"personId":9`, `"personId":2`, 1)
	if status, said := sam.do("POST", "/api/time-entries", body, nil); status != http.StatusOK {
		t.Fatal(status, said)
	}
	if second := next(); second == first {
		t.Errorf("told twice: %s", second)
	}
	close(stopping) // a program that stops waits for nobody
	for lines.Scan() {
	}
	if err := lines.Err(); err != nil {
		t.Error(err)
	}
	if status, _ := as(t, server, "").do("GET", "/api/events", "", nil); status != http.StatusUnauthorized {
		t.Errorf("who is not signed in: %d", status)
	}
}
