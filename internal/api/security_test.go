package api

import (
	"net/http"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"
)

// What the security log has to tell of: who came in, who was sent away, what left the
// house, and who looked at bank details.
func TestTheSecurityLogTellsOfIt(t *testing.T) {
	server := serve(t)
	as(t, server, "").do("POST", "/api/session", `{"mail":"sam@firm.example","password":"a guess"}`, nil)
	staff, admin := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Administrator])
	for range 3 { // which is one line
		staff.do("GET", "/api/receivables", "", nil)
	}
	staff.do("GET", "/api/people/1/weeks/2026-11-30", "", nil)
	admin.do("GET", "/api/records/clients/export?form=csv", "", nil)
	admin.do("GET", "/api/records/entities", "", nil)
	confirm(admin)
	admin.do("PUT", "/api/records/people", `{"records":[{"id":2,"version":0}],"field":"sees_times","value":"yes"}`, nil)
	staff.do("DELETE", "/api/session", "", nil)
	said := map[string]string{}
	for _, line := range read[[]identity.SecurityLine](admin, "GET", "/api/security-log", "") {
		said[line.Kind] += line.Person + ": " + line.Said + "; "
	}
	for kind, want := range map[string]string{identity.WrongPassword: "Sam Staff: ; ", identity.SignedIn: "Ada Admin: ; Sam Staff: ; ",
		identity.Refused:  "Sam Staff: The week sheet of a person; Sam Staff: What is owed, by client and age; ",
		identity.Exported: "Ada Admin: Records of a kind as CSV or XLSX; ", identity.ReadBank: "Ada Admin: of issuing entities; ",
		identity.GuardedChange: "Ada Admin: sees others' time of Sam Staff; Ada Admin: IBAN of Firm; ", identity.SignedOut: "Sam Staff: ; "} {
		if said[kind] != want {
			t.Errorf("of %q it tells %q, want %q", kind, said[kind], want)
		}
	}
	if status, _ := staff.do("GET", "/api/security-log", "", nil); status != http.StatusUnauthorized {
		t.Errorf("after signing out: %d", status)
	}
}

// A known device has a cookie that no script reads, and goes to the interface alone.
func TestADeviceIsKnownByACookieThatScriptsDoNotRead(t *testing.T) {
	server := serve(t)
	request, err := http.NewRequestWithContext(t.Context(), "POST", server.URL+"/api/session",
		strings.NewReader(`{"mail":"sam@firm.example","password":"`+apptest.Password+`"}`))
	if err != nil {
		t.Fatal(err)
	}
	request.Header.Set("Content-Type", "application/json")
	response, err := http.DefaultClient.Do(request)
	if err != nil {
		t.Fatal(err)
	}
	response.Body.Close()
	for _, cookie := range response.Cookies() {
		if cookie.Name == deviceCookie && cookie.HttpOnly && cookie.SameSite == http.SameSiteStrictMode && cookie.Path == apiPrefix &&
			len(cookie.Value) > 40 {
			return
		}
	}
	t.Errorf("%+v", response.Cookies())
}

// Values are hidden from staff in what they set, see before and after, and in histories; a
// rate is never set by who may not price, and never said to be.
func TestStaffNeitherSeeNorSetWhatWorkIsWorth(t *testing.T) {
	server := serve(t)
	staff, admin := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Administrator])
	mine := strings.Replace(entryBody, `"personId":9`, `"personId":2`, 1)
	id := read[struct{ ID int64 }](staff, "POST", "/api/time-entries", mine).ID
	if id != 1 {
		t.Fatal(id)
	}
	priced := strings.Replace(mine, `"text":""`, `"text":"","perHour":"123.45"`, 1)
	for _, at := range []operationAt{{"POST", "/api/time-entries"}, {"PUT", "/api/time-entries/1?version=0"},
		{"POST", "/api/time-entries/value"}} {
		if status, answer := staff.do(at.method, at.path, priced, nil); status != 422 || !strings.Contains(answer, "body.perHour") {
			t.Errorf("a rate of their own: %s %d %s", at.path, status, answer)
		}
	}
	if status, answer := admin.do("PUT", "/api/time-entries/1?version=0", priced, nil); status != 200 ||
		!strings.Contains(answer, "123.45") {
		t.Fatal(status, answer)
	}
	for _, change := range []string{`{"ids":[1],"rerate":true}`, `{"ids":[1],"perHour":"1"}`, `{"ids":[1],"markup":"5"}`} {
		if status, answer := staff.do("POST", "/api/work/changes/preview", change, nil); status != 200 ||
			!strings.Contains(answer, "only the lead") || strings.Contains(answer, "123") {
			t.Errorf("%s: %d %s", change, status, answer)
		}
		if status, answer := staff.do("POST", "/api/work/changes", change, nil); status != http.StatusConflict {
			t.Errorf("%s: %d %s", change, status, answer)
		}
	}
	if status, answer := staff.do("POST", "/api/work/changes", `{"ids":[1],"treatment":"no_charge"}`, nil); status != 200 ||
		strings.Contains(answer, "123") {
		t.Errorf("%d %s", status, answer)
	}
	read[any](admin, "POST", "/api/work/changes", `{"ids":[1],"treatment":"billable"}`)
	for _, path := range []string{"/api/time-entries/1", "/api/time-entries/1/history", "/api/work", "/api/people/2/weeks/2026-11-30"} {
		if _, answer := staff.do("GET", path, "", nil); strings.Contains(answer, "123") || strings.Contains(answer, "12345") {
			t.Errorf("%s tells the value: %s", path, answer)
		}
	}
	if _, answer := admin.do("GET", "/api/time-entries/1", "", nil); !strings.Contains(answer, "123.45") {
		t.Errorf("the rate of the lead is gone: %s", answer)
	}
}

// What people cost is found out neither by expected hours nor by a fee for a margin.
func TestLeadsSeeNoCostsUnlessAllowed(t *testing.T) {
	server := serve(t)
	lead, admin := as(t, server, accounts[app.Lead]), as(t, server, accounts[app.Administrator])
	read[any](admin, "POST", "/api/records/rates", `{"kind":"cost","person":"AA","per_hour":"66.66","from":"2026-01-01"}`)
	made := answerOf[pricing.ProposalMade](lead, "POST", "/api/proposals", pricing.Begun{ClientID: 1, Name: "Alder 2027"})
	if made.ID != 1 {
		t.Fatal(made)
	}
	p := answerOf[pricing.Proposal](lead, "GET", "/api/proposals/1", nil)
	typed := p.Grid.Typed
	typed.Lines = []pricing.TypedLine{{Description: "Opinion", Kind: "fixed", Price: "900", When: "on acceptance", TaxCode: "S",
		Cells: []string{"x"}, Expected: "1 AA"}}
	answerOf[pricing.Proposal](lead, "PUT", "/api/proposals/1?version=0", typed)
	said := func(c *client) (all string) {
		for _, path := range []string{"/api/proposals/1", "/api/proposals/1/calendar?tier=0",
			"/api/proposals/1/fee?tier=0&line=0&margin=45"} {
			_, answer := c.do("GET", path, "", nil)
			all += answer
		}
		return all
	}
	if told := said(lead); strings.Contains(told, "66.66") || strings.Contains(told, "6666") || strings.Contains(told, `"margin":"`) ||
		!strings.Contains(told, "administrators and owners") {
		t.Errorf("a lead is told %s", told)
	}
	if told := said(admin); !strings.Contains(told, "6666") || !strings.Contains(told, `"margin":"93"`) {
		t.Errorf("an administrator is told %s", told)
	}
	confirm(admin)
	read[any](admin, "PUT", "/api/records/people", `{"records":[{"id":3,"version":0}],"field":"sees_rates","value":"yes"}`)
	if told := said(lead); !strings.Contains(told, "6666") {
		t.Errorf("allowed, and still hidden: %s", told)
	}
}
