package api

import (
	"net/http"
	"testing"
)

// tagged asks for something, with the tag that was seen last, and gives status and tag.
func (c *client) tagged(path, seen string) (int, string) {
	c.Helper()
	request, err := http.NewRequestWithContext(c.Context(), http.MethodGet, c.url+path, nil)
	if err != nil {
		c.Fatal(err)
	}
	if seen != "" {
		request.Header.Set("If-None-Match", seen)
	}
	response, err := c.http.Do(request)
	if err != nil {
		c.Fatal(err)
	}
	defer response.Body.Close()
	return response.StatusCode, response.Header.Get("ETag")
}

// Source: RFC 9110, section 13.1.2: what is asked for with the tag that holds is answered
// 304, without a body. A tag holds for who asked, until something is written.
func TestAnAnswerIsKeptUntilSomethingIsWritten(t *testing.T) {
	server := serve(t)
	ada, olga := as(t, server, "ada@firm.example"), as(t, server, "olga@firm.example")
	status, tag := ada.tagged("/api/clients", "")
	if status != http.StatusOK || tag == "" {
		t.Fatalf("%d, tag %q", status, tag)
	}
	if status, same := ada.tagged("/api/clients", tag); status != http.StatusNotModified || same != tag {
		t.Errorf("asked again: %d", status)
	}
	if status, _ := olga.tagged("/api/clients", tag); status != http.StatusOK {
		t.Errorf("somebody else with that tag: %d", status)
	}
	if status, _ := as(t, server, "").tagged("/api/clients", tag); status != http.StatusUnauthorized {
		t.Errorf("nobody with that tag: %d", status)
	}
	note := `{"client":"A","text":"Meets on Mondays"}`
	if status, answer := ada.do("POST", "/api/records/client-notes", note, nil); status != http.StatusOK {
		t.Fatalf("%d %s", status, answer)
	}
	if status, later := ada.tagged("/api/clients", tag); status != http.StatusOK || later == tag {
		t.Errorf("after an act: %d", status)
	}
	for _, fresh := range []string{"/api/session", "/api/timers", "/api/public/proposal"} {
		if _, tag := ada.tagged(fresh, ""); tag != "" {
			t.Errorf("%s has a tag", fresh)
		}
	}
}
