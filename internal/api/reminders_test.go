package api

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"dorvet/internal/app/correspondence"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// Source: RFC 8058, 3.1: the mail program posts List-Unsubscribe=One-Click as a form, without cookies; a GET, by a scanner or a person,
// ends nothing.
func TestRemindersEndByOneClickInAMailProgram(t *testing.T) {
	a := apptest.Firm(t)
	ann := apptest.Add(t, a, "contacts", "client", "A", "name", "Ann", "mail", "ann@alder.example", "gets_reminders", "yes")
	address := ""
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) (err error) {
		address, err = correspondence.MakeLink(a, tx, &store.Link{Purpose: store.ForReminders, SubjectID: 1, Name: "Ann", Mail: "ann@alder.example",
			ExpiresAt: a.Clock.Now().Add(time.Hour)})
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	handler, err := New(a, Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}}})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	ask := func(method, path string) (int, string) {
		t.Helper()
		request, err := http.NewRequestWithContext(t.Context(), method, server.URL+path, strings.NewReader("List-Unsubscribe=One-Click"))
		if err != nil {
			t.Fatal(err)
		}
		request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		response, err := http.DefaultClient.Do(request)
		if err != nil {
			t.Fatal(err)
		}
		defer response.Body.Close()
		body, err := io.ReadAll(response.Body)
		if err != nil {
			t.Fatal(err)
		}
		return response.StatusCode, string(body)
	}
	gets := func() bool {
		t.Helper()
		contact, err := store.Get[store.Contact](a.Read(t.Context(), apptest.Admin.Actor), ann)
		if err != nil {
			t.Fatal(err)
		}
		return contact.GetsReminders
	}
	path := strings.TrimPrefix(address, a.Address)
	if status, body := ask(http.MethodGet, path); status != http.StatusOK || !strings.Contains(body, `<form method="post">`) || !gets() {
		t.Errorf("looking at it: %d, %s", status, body)
	}
	if status, _ := ask(http.MethodPost, path[:len(path)-1]); status != http.StatusNotFound || !gets() {
		t.Errorf("another secret: %d", status)
	}
	for range 2 {
		if status, body := ask(http.MethodPost, path); status != http.StatusOK || gets() {
			t.Errorf("one click: %d, %s", status, body)
		}
	}
	if status, _ := ask(http.MethodGet, "/invoice"); status != http.StatusOK {
		t.Error(status)
	}
	for _, page := range []string{"/invoice", "/client", "/proposal", "/questions"} { // the pages of who holds a link
		response, err := http.Get(server.URL + page)
		if err != nil {
			t.Fatal(err)
		}
		response.Body.Close()
		if h := response.Header; h.Get("Cache-Control") != "no-store" || h.Get("Referrer-Policy") != "no-referrer" || h.Get("X-Robots-Tag") == "" {
			t.Errorf("%s: %v", page, h)
		}
	}
}
