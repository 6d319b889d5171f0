package api

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
)

const entryOf = `{"personId":%d,"engagementId":%d,"serviceId":1,"day":"2026-11-%02d","worked":"%s","notBillable":"","treatment":"billable","text":"%s","note":""}`

// entries records the staff's, and one of the administrator's.
func entries(t *testing.T, c *client) {
	t.Helper()
	for i, body := range []string{fmt.Sprintf(entryOf, 2, 1, 24, "1:30", "levels"), fmt.Sprintf(entryOf, 2, 3, 25, "2:00", "=1+1"),
		fmt.Sprintf(entryOf, 1, 3, 26, "0:30", "a call")} {
		if got := read[timekeeping.Entry](c, "POST", "/api/time-entries", body); got.ID != int64(i+1) {
			t.Fatalf("%+v", got)
		}
	}
}

func TestTheSelectorIsReadFromTheAddress(t *testing.T) {
	server := serve(t)
	c := as(t, server, accounts[app.Administrator])
	entries(t, c)
	for query, want := range map[string]int{
		"": 3, "people=2": 2, "people=1,2": 3, "clients=2": 2, "engagements=1": 1, "from=2026-11-25": 2, "to=2026-11-24": 1,
		"from=2026-11-25&to=2026-11-25": 1,
		"states=unbilled,on_hold":       3, "states=billed": 0, "text=LEVELS": 1, "of=expenses": 0, "people=2&clients=2": 1, "limit=1": 3,
	} {
		if page := read[timekeeping.WorkPage](c, "GET", "/api/work?"+query, ""); page.Total != want {
			t.Errorf("%s finds %d, want %d", query, page.Total, want)
		}
	}
	for query, says := range map[string]string{"people=all": "is no number", "states=gone": "no state of time", "from=soon": "soon",
		"limit=999": "limit", "of=money": "of"} {
		if status, answer := c.do("GET", "/api/work?"+query, "", nil); status != http.StatusUnprocessableEntity ||
			!strings.Contains(answer, says) {
			t.Errorf("%s: %d %s", query, status, answer)
		}
	}
	if page := read[timekeeping.WorkPage](as(t, server, accounts[app.Lead]), "GET", "/api/work", ""); page.Total != 1 {
		t.Errorf("a lead finds %d", page.Total)
	}
	groups := read[[]timekeeping.Group](c, "GET", "/api/work/groups?by=person", "")
	if len(groups) != 2 || groups[1].ToBill.Minutes != 210 {
		t.Errorf("%+v", groups)
	}
	if ids := read[[]int64](c, "GET", "/api/work/numbers?people=2", ""); len(ids) != 2 {
		t.Errorf("%v", ids)
	}
}

// Read back by encoding/csv: a text that a sheet would run stands behind an
// apostrophe.
func TestTimeIsExportedAsATableThatNoSheetRuns(t *testing.T) {
	c := as(t, serve(t), accounts[app.Administrator])
	entries(t, c)
	status, answer := c.do("GET", "/api/work/export?people=2", "", nil)
	rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(answer, "\ufeff"))).ReadAll()
	if err != nil || status != http.StatusOK || len(rows) != 3 || rows[0][0] != "Date" || rows[1][0] != "2026-11-24" {
		t.Fatalf("%d %v %v", status, rows, err)
	}
	if !strings.Contains(answer, "'=1+1") {
		t.Errorf("%s", answer)
	}
	if status, answer := c.do("GET", "/api/work/export?form=xlsx", "", nil); status != http.StatusOK || !strings.HasPrefix(answer, "PK") {
		t.Errorf("%d", status)
	}
}

func TestAReceiptComesAsADownloadThatNothingGuesses(t *testing.T) {
	server := serve(t)
	c := as(t, server, accounts[app.Administrator])
	pdf := "%PDF-1.7\nnot much"
	status, answer := c.send("/api/files/receipts?name=ticket.pdf", pdf)
	var kept timekeeping.AttachedFile
	if err := json.Unmarshal([]byte(answer), &kept); err != nil || status != http.StatusOK || kept.MediaType != "application/pdf" {
		t.Fatalf("%d %s", status, answer)
	}
	if status, _ := c.do("GET", "/api/receipts/"+kept.Digest, "", nil); status != http.StatusNotFound {
		t.Errorf("a file that nothing names is read: %d", status)
	}
	body := fmt.Sprintf(`{"personId":2,"categoryId":1,"day":"2026-11-20","supplier":"","text":"Ferry","amount":"12.30","tax":"2.30","paidBy":"person","files":[{"digest":"%s","name":"ticket.pdf"}],"shares":[{"engagementId":3,"amount":"","treatment":"billable"}]}`, kept.Digest)
	p := read[timekeeping.Purchase](c, "POST", "/api/purchases", body)
	if p.Cost.String() != "10.00" {
		t.Fatalf("%+v", p)
	}
	response, err := c.http.Get(c.url + "/api/receipts/" + kept.Digest)
	if err != nil {
		t.Fatal(err)
	}
	defer response.Body.Close()
	for header, want := range map[string]string{"Content-Type": "application/pdf", "X-Content-Type-Options": "nosniff",
		"Content-Disposition": `attachment; filename="receipt-` + kept.Digest[:8] + `"`, "Cache-Control": "no-store"} {
		if got := response.Header.Get(header); got != want {
			t.Errorf("%s is %q", header, got)
		}
	}
	if status, _ := as(t, server, accounts[app.Lead]).do("GET", "/api/receipts/"+kept.Digest, "", nil); status != http.StatusNotFound {
		t.Errorf("a lead of another engagement reads it: %d", status)
	}
	wrong := strings.Replace(body, `"amount":"","treatment"`, `"amount":"9","treatment"`, 1)
	if status, answer := c.do("POST", "/api/purchases", wrong,
		map[string]string{"Idempotency-Key": "does not add up"}); status != http.StatusUnprocessableEntity ||
		!strings.Contains(answer, "1.00 of 10.00 is not shared out yet") || !strings.Contains(answer, "shares") {
		t.Errorf("%d %s", status, answer)
	}
}

func TestAWeekGoesItsWayOverHTTP(t *testing.T) {
	server := serve(t)
	admin, staff := as(t, server, accounts[app.Administrator]), as(t, server, accounts[app.Staff])
	entries(t, admin)
	const week = "/api/people/2/weeks/2026-11-25"
	for i, step := range []struct {
		by           *client
		method, path string
		body         string
		status       int
	}{
		{staff, "POST", week + "/approved", "", http.StatusForbidden}, {staff, "POST", week + "/submitted", "", http.StatusOK},
		{staff, "POST", week + "/submitted", "", http.StatusConflict},
		{staff, "DELETE", week + "/submitted", "", http.StatusOK}, {staff, "POST", week + "/submitted", "", http.StatusOK},
		{admin, "POST", week + "/approved", "", http.StatusOK},
		{staff, "POST", "/api/time-entries", fmt.Sprintf(entryOf, 2, 1, 27, "1:00", ""), http.StatusConflict},
		{admin, "POST", week + "/sent-back", `{"reason":""}`, http.StatusUnprocessableEntity},
		{admin, "POST", week + "/sent-back", `{"reason":"Friday"}`, http.StatusOK},
		{staff, "POST", "/api/time-entries", fmt.Sprintf(entryOf, 2, 1, 27, "2:00", ""), http.StatusOK},
		{staff, "GET", "/api/people/1/weeks/2026-11-25", "", http.StatusForbidden},
		{staff, "GET", "/api/people/2/weeks/someday", "", http.StatusUnprocessableEntity},
	} {
		if status, answer := step.by.do(step.method, step.path, step.body,
			map[string]string{"Idempotency-Key": fmt.Sprint("step of the week ", i)}); status != step.status {
			t.Errorf("%s %s: %d %s", step.method, step.path, status, answer)
		}
	}
	sheets := read[timekeeping.Sheets](admin, "GET", "/api/weeks/2026-11-25", "")
	if len(sheets.People) != 4 || sheets.People[3].SentBack != "Friday" || sheets.Number != 48 {
		t.Errorf("%+v", sheets)
	}
}

func TestTimersAreOnesOwnOverHTTP(t *testing.T) {
	server := serve(t)
	staff, admin := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Administrator])
	timer := read[timekeeping.Timer](staff, "POST", "/api/timers",
		`{"engagementId":1,"serviceId":1,"treatment":"billable","text":"levels"}`)
	if !timer.Running || timer.Value != nil && timer.Value.Minor != 0 {
		t.Errorf("%+v", timer)
	}
	again := read[timekeeping.Timer](staff, "POST", "/api/timers",
		`{"engagementId":1,"serviceId":1,"treatment":"billable","text":"levels"}`)
	if again.ID != timer.ID {
		t.Errorf("pressed twice, there are two timers: %+v", again)
	}
	if list := read[[]timekeeping.Timer](admin, "GET", "/api/timers", ""); len(list) != 0 {
		t.Errorf("others see %+v", list)
	}
	path := fmt.Sprintf("/api/timers/%d", timer.ID)
	if status, _ := admin.do("POST", path+"/stop", "",
		map[string]string{"Idempotency-Key": "not mine to stop"}); status != http.StatusNotFound {
		t.Errorf("%d", status)
	}
	if paused := read[timekeeping.Timer](staff, "POST", path+"/pause", ""); paused.Running {
		t.Errorf("%+v", paused)
	}
	if status, _ := staff.do("DELETE", path, "", nil); status != http.StatusOK {
		t.Errorf("%d", status)
	}
}
