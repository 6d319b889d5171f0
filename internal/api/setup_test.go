package api

import (
	"crypto/sha256"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"dorvet/core/day"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/registry"
)

// send sends a file.
func (c *client) send(path, content string) (int, string) {
	c.Helper()
	return c.do("POST", path, content, map[string]string{"Content-Type": "application/octet-stream", "Idempotency-Key": "file " + path})
}

// read decodes an answer that must be fine.
func read[T any](c *client, method, path, body string) T {
	c.Helper()
	status, answer := c.do(method, path, body, map[string]string{"Idempotency-Key": fmt.Sprintf("once %x",
		sha256.Sum256([]byte(method+path+body)))})
	var decoded T
	if err := json.Unmarshal([]byte(answer), &decoded); err != nil || status != http.StatusOK {
		c.Fatalf("%s %s: %d %s", method, path, status, answer)
	}
	return decoded
}

func TestAFileIsTriedTakenExportedAndTakenBack(t *testing.T) {
	c := as(t, serve(t), accounts[app.Administrator])
	file := "Name;Payment terms\nCedar & Söhne;14d\n\"Larch; Son\";eom\n"
	status, answer := c.send("/api/files/clients/check?name=clients.csv&columns=name,terms", file)
	var check registry.ImportCheck
	if err := json.Unmarshal([]byte(answer), &check); err != nil || status != 200 || check.Good != 2 ||
		!strings.Contains(check.Notice, "semicolons") {
		t.Fatalf("%d %s", status, answer)
	}
	if status, answer := c.send("/api/files/clients?name=clients.csv&columns=name,terms", file); status != 200 ||
		!strings.Contains(answer, `"rows":2`) {
		t.Fatalf("%d %s", status, answer)
	}
	// The same again, as when an answer was lost: it is not taken twice.
	if status, _ := c.send("/api/files/clients?name=clients.csv&columns=name,terms", file); status != 200 {
		t.Fatal(status)
	}
	response, err := c.http.Get(c.url + "/api/records/clients/export?form=csv")
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	rows, err := csv.NewReader(response.Body).ReadAll()
	if err != nil || len(rows) != 5 || response.Header.Get("Content-Disposition") != `attachment; filename="clients.csv"` {
		t.Errorf("%d rows, %v, %v", len(rows), response.Header, err)
	}
	name, terms := slices.Index(rows[0], "Name in lists"), slices.Index(rows[0], "Payment terms")
	if rows[4][name] != "Larch; Son" || rows[4][terms] != "eom" || rows[1][terms] != "" {
		t.Errorf("%q", rows)
	}
	imports := read[[]registry.ImportRow](c, "GET", "/api/imports", "")
	if len(imports) != 1 || imports[0].Rows != 2 {
		t.Fatalf("%+v", imports)
	}
	read[any](c, "DELETE", fmt.Sprintf("/api/imports/%d", imports[0].ID), "")
	if left := read[[]registry.RecordRow](c, "GET", "/api/records/clients", ""); len(left) != 2 {
		t.Errorf("%+v", left)
	}
}

func TestWrongFilesAreAnsweredInWords(t *testing.T) {
	c := as(t, serve(t), accounts[app.Administrator])
	for content, says := range map[string]string{"Name\nJos\xe9\n": "not in UTF-8", "\xff\xfeN\x00": "UTF-16",
		"Name\n\"x\n": "can't be read",
		"Name\n":      "no rows", "%PDF-1.7": "neither CSV nor XLSX", strings.Repeat("x,", 300) + "\n1\n": "columns"} {
		for _, path := range []string{"/api/files/clients/check?name=x.csv", "/api/files/clients?name=x.csv"} {
			if status, answer := c.send(path, content); status != 422 || !strings.Contains(answer, says) ||
				!strings.Contains(answer, "body.file") {
				t.Errorf("%.20q: %d %s", content, status, answer)
			}
		}
	}
	if status, _ := c.send("/api/files/clients/check?name=x.csv", "Other\n"+
		strings.Repeat(strings.Repeat("long ", 60)+"\n", 5_000)); status == 413 {
		t.Error("a file of 1.5 MB is too large")
	}
	if status, _ := c.send("/api/files/clients/check?name=x.csv", strings.Repeat("x", fileLimit+1)); status != 413 && status != 422 {
		t.Errorf("a file above the limit: %d", status)
	}
	if status, answer := c.send("/api/files/budgets/check?name=x.csv", "Name\nx\n"); status != 422 ||
		!strings.Contains(answer, "not read from files") {
		t.Errorf("%d %s", status, answer)
	}
}

// confirm types the password again.
func confirm(c *client) {
	c.Helper()
	read[any](c, "POST", "/api/account/confirmation", `{"password":"open sesame now"}`)
}

// invited is whom a link is for; its secret travels in a header.
func invited(c *client, secret string) (who identity.Invited) {
	c.Helper()
	status, body := c.do("GET", "/api/invitation", "", map[string]string{"Link-Secret": secret})
	if err := json.Unmarshal([]byte(body), &who); err != nil || status != 200 {
		c.Errorf("%d %s", status, body)
	}
	return who
}

func TestAnInvitationIsAcceptedOnceAndSignsIn(t *testing.T) {
	server := serve(t)
	admin, stranger := as(t, server, accounts[app.Administrator]), as(t, server, "")
	if status, answer := admin.do("POST", "/api/people/2/invitation", "", nil); status != http.StatusPreconditionRequired ||
		!strings.Contains(answer, "password once more") {
		t.Errorf("an invitation without the password: %d %s", status, answer)
	}
	confirm(admin)
	link := read[identity.Invitation](admin, "POST", "/api/people/2/invitation", "")
	if who := invited(stranger, link.Secret); who.Name != "Sam Staff" || who.Firm != "Firm" {
		t.Errorf("%+v", who)
	}
	key := map[string]string{keyHeader: "the same try"}
	if _, first := admin.do("POST", "/api/people/3/invitation", "", key); !strings.Contains(first, `"secret":"`) {
		t.Errorf("%s", first)
	}
	if status, again := admin.do("POST", "/api/people/3/invitation", "", key); status != http.StatusConflict ||
		strings.Contains(again, `"secret"`) {
		t.Errorf("the secret of a try is kept, and told again: %d %s", status, again)
	}
	accept := func(c *client) (int, string) {
		return c.do("POST", "/api/invitation", `{"password":"four words in a row"}`, map[string]string{"Link-Secret": link.Secret})
	}
	if status, answer := accept(stranger); status != 200 || !strings.Contains(answer, `"role":"staff"`) ||
		!strings.Contains(answer, `"seesValues":false`) {
		t.Errorf("%d %s", status, answer)
	}
	read[identity.Session](stranger, "GET", "/api/session", "")
	if status, _ := accept(as(t, server, "")); status != 404 {
		t.Errorf("a link works twice: %d", status)
	}
	if status, _ := as(t, server, "").do("GET", "/api/invitation", "",
		map[string]string{"Link-Secret": strings.Repeat("A", 43)}); status != 404 {
		t.Errorf("a guessed link: %d", status)
	}
}

func TestASecondFactorStandsBeforeTheSession(t *testing.T) {
	server := serve(t)
	c := as(t, server, accounts[app.Staff])
	offer := read[identity.SecondFactor](c, "GET", "/api/account/second-factor", "")
	if offer.Set || !strings.HasPrefix(offer.URI, "otpauth://totp/Firm:sam@firm.example?issuer=Firm&secret="+offer.Secret) {
		t.Fatalf("%+v", offer)
	}
	code := identity.CodeAt(offer.Secret, time.Now())
	confirm(c)
	read[any](c, "PUT", "/api/account/second-factor", fmt.Sprintf(`{"secret":%q,"code":%q}`, offer.Secret, code))
	if again := read[identity.SecondFactor](c, "GET", "/api/account/second-factor", ""); !again.Set || again.Secret != "" {
		t.Errorf("the secret is shown again: %+v", again)
	}
	other := as(t, server, "")
	signIn := func(code string) (int, string) {
		return other.do("POST", "/api/session", fmt.Sprintf(`{"mail":"sam@firm.example","password":"open sesame now","code":%q}`, code),
			nil)
	}
	if status, answer := signIn(""); status != 422 || !strings.Contains(answer, "body.code") {
		t.Errorf("%d %s", status, answer)
	}
	if status, _ := other.do("GET", "/api/session", "", nil); status != 401 {
		t.Errorf("signed in by the password alone: %d", status)
	}
	if status, _ := signIn(code); status != 422 {
		t.Errorf("the code that set it up works again: %d", status)
	}
	if status, answer := signIn(identity.CodeAt(offer.Secret, time.Now().Add(30*time.Second))); status != 200 {
		t.Errorf("%d %s", status, answer)
	}
	admin := as(t, server, accounts[app.Administrator])
	confirm(admin)
	read[any](admin, "DELETE", "/api/people/2/second-factor", "")
	if status, _ := signIn(""); status != 200 {
		t.Errorf("after the device was lost: %d", status)
	}
}

func TestASessionThatIsEndedElsewhereIsOver(t *testing.T) {
	server := serve(t)
	here, there := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Staff])
	sessions := read[[]identity.AppearsAs](here, "GET", "/api/account/sessions", "")
	if len(sessions) != 2 || !sessions[1].This || sessions[0].Address != "127.0.0.1" {
		t.Fatalf("%+v", sessions)
	}
	read[any](here, "DELETE", fmt.Sprintf("/api/account/sessions/%d", sessions[0].ID), "")
	if status, _ := there.do("GET", "/api/session", "", nil); status != 401 {
		t.Errorf("it goes on: %d", status)
	}
	read[any](here, "PUT", "/api/account/password", `{"old":"open sesame now","password":"four words in a row"}`)
	read[identity.Session](here, "GET", "/api/session", "")
	if status, _ := as(t, server, "").do("POST", "/api/session", `{"mail":"sam@firm.example","password":"open sesame now"}`,
		nil); status != 403 {
		t.Errorf("the old password works: %d", status)
	}
}

func TestAStaleChangeOfARecordIsRefusedAndOverwritesNothing(t *testing.T) {
	c := as(t, serve(t), accounts[app.Administrator])
	change := func(version int64, name string) int {
		status, _ := c.do("PUT", "/api/records/clients",
			fmt.Sprintf(`{"records":[{"id":1,"version":%d}],"field":"web","value":%q}`, version, name), nil)
		return status
	}
	if status := change(0, "first.example"); status != 200 {
		t.Fatal(status)
	}
	if status := change(0, "second.example"); status != 409 {
		t.Errorf("a stale change: %d", status)
	}
	sheet := read[registry.Sheet](c, "GET", "/api/records/clients/1", "")
	i := slices.IndexFunc(sheet.Values, func(v registry.SheetValue) bool { return v.Name == "web" })
	if sheet.Values[i].Value != "first.example" || sheet.Version != 1 {
		t.Errorf("%+v", sheet.Values[i])
	}
	history := read[[]app.HistoryRow](c, "GET", "/api/records/clients/1/history", "")
	if history[0].Summary != "Changed web of Alder" || history[0].Who != "Ada Admin" ||
		!strings.Contains(history[0].After, "first.example") {
		t.Errorf("%+v", history[0])
	}
}

func TestOptionsOfALeadAreTheirOwnAndWarn(t *testing.T) {
	server := serve(t)
	admin, lead := as(t, server, accounts[app.Administrator]), as(t, server, accounts[app.Lead])
	read[any](admin, "PUT", "/api/records/clients", `{"records":[{"id":2,"version":0}],"field":"status","value":"not again"}`)
	for _, o := range read[[]registry.RecordOption](admin, "GET", "/api/records/clients/options", "") {
		if (o.Warning == "not again") != (o.Title == "Birch") {
			t.Errorf("%+v", o)
		}
	}
	if options := read[[]registry.RecordOption](lead, "GET", "/api/records/engagements/options", ""); len(options) != 1 ||
		options[0].Title != "Survey" {
		t.Errorf("%+v", options)
	}
	if status, _ := lead.do("GET", "/api/records/engagements/3", "", nil); status != 404 {
		t.Errorf("a lead opens another's: %d", status)
	}
	if status, _ := lead.do("GET", "/api/engagements/3", "", nil); status != 404 {
		t.Errorf("a lead looks at another's: %d", status)
	}
}

func TestNoticesArePutAwayByTheirOwner(t *testing.T) {
	server := serve(t)
	admin, lead := as(t, server, accounts[app.Administrator]), as(t, server, accounts[app.Lead])
	read[any](admin, "POST", "/api/records/budgets", `{"engagement":"1","hours":"1","thresholds":"50"}`)
	read[any](as(t, server, accounts[app.Staff]), "POST", "/api/time-entries",
		strings.Replace(entryBody, `"personId":9`, `"personId":2`, 1))
	notices := read[[]identity.Notice](lead, "GET", "/api/notices", "")
	if len(notices) != 1 || notices[0].EngagementID != 1 || notices[0].Day != day.Of(2026, 12, 1) {
		t.Fatalf("%+v", notices)
	}
	path := fmt.Sprintf("/api/notices/%d", notices[0].ID)
	read[any](admin, "DELETE", path, "") // not hers: nothing happens
	if left := read[[]identity.Notice](lead, "GET", "/api/notices", ""); len(left) != 1 {
		t.Error("somebody else put it away")
	}
	read[any](lead, "DELETE", path, "")
	if left := read[[]identity.Notice](lead, "GET", "/api/notices", ""); len(left) != 0 {
		t.Errorf("%+v", left)
	}
}

func TestAListStandsForAPersonInEveryBrowserAsTheyMadeIt(t *testing.T) {
	server := serve(t)
	here, there := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Staff])
	made := `{"hidden":["Lead"],"widths":{"Client":240},"order":{"column":"Client","down":true}}`
	read[any](here, "PUT", "/api/account/lists/work", made)
	read[any](here, "PUT", "/api/account/lists/clients", `{"hidden":[],"widths":{"Name":90}}`)
	read[any](here, "PUT", "/api/account/lists/clients", `{"hidden":[],"widths":{}}`)
	lists := read[identity.Session](there, "GET", "/api/session", "").Lists
	if kept, _ := json.Marshal(lists); string(kept) != `{"work":`+made+`}` {
		t.Errorf("in another browser: %s", kept)
	}
	other := read[identity.Session](as(t, server, accounts[app.Lead]), "GET", "/api/session", "")
	if len(other.Lists) != 0 {
		t.Errorf("somebody else has them: %v", other.Lists)
	}
}
