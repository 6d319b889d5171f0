package api

import (
	"bytes"
	"crypto/rand"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
)

type client struct {
	*testing.T
	http *http.Client
	url  string
	// again is asked after every act that was done, with how to ask for it once more.
	again func(path, answer string, once func() (int, string))
}

func serve(t *testing.T) *httptest.Server {
	t.Helper()
	return serveOf(t, apptest.Firm(t))
}

func serveOf(t *testing.T, a *app.App) *httptest.Server {
	t.Helper()
	handler, err := New(a, Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}}})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	return server
}

func as(t *testing.T, server *httptest.Server, mail string) *client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	c := &client{T: t, http: &http.Client{Jar: jar}, url: server.URL}
	if mail == "" {
		return c
	}
	if status, body := c.do("POST", "/api/session", `{"mail":"`+mail+`","password":"open sesame now"}`, nil); status != 200 {
		t.Fatalf("sign in: %d %s", status, body)
	}
	return c
}

func (c *client) do(method, path, body string, headers map[string]string) (int, string) {
	c.Helper()
	key := rand.Text()
	status, answer := c.under(key, method, path, body, headers)
	if c.again != nil && method != http.MethodGet && status == http.StatusOK {
		c.again(path, answer, func() (int, string) { return c.under(key, method, path, body, headers) })
	}
	return status, answer
}

// under asks for something under the key of a try.
func (c *client) under(key, method, path, body string, headers map[string]string) (int, string) {
	c.Helper()
	request, err := http.NewRequestWithContext(c.Context(), method, c.url+path, strings.NewReader(body))
	if err != nil {
		c.Fatal(err)
	}
	if body != "" {
		request.Header.Set("Content-Type", "application/json")
	}
	if method != http.MethodGet {
		request.Header.Set(keyHeader, key)
	}
	for name, value := range headers {
		request.Header.Set(name, value)
	}
	response, err := c.http.Do(request)
	if err != nil {
		c.Fatal(err)
	}
	defer response.Body.Close()
	var read bytes.Buffer
	if _, err := read.ReadFrom(response.Body); err != nil {
		c.Fatal(err)
	}
	return response.StatusCode, read.String()
}

var accounts = map[app.Role]string{app.Administrator: "ada@firm.example", app.Staff: "sam@firm.example", app.Lead: "lea@firm.example",
	app.Owner: "olga@firm.example"}

// Every operation × role: who is not in the table gets 403, who is gets through
// to the act; without a sign-in it is 401.
func TestEveryOperationAsksForARole(t *testing.T) {
	server, ops := serve(t), operations(t)
	for name := range ops {
		if _, listed := allowed[name]; !listed && !public[name] {
			t.Errorf("%s has no roles and is not public", name)
		}
	}
	if stranger := as(t, server, ""); true {
		for name, op := range ops {
			if status := stranger.ask(op.operationAt); !public[name] && status != http.StatusUnauthorized {
				t.Errorf("%s without a sign-in: %d", name, status)
			}
		}
	}
	for role, mail := range accounts {
		c := as(t, server, mail)
		for name, roles := range allowed {
			if name == "signOut" {
				continue
			}
			status := c.ask(ops[name].operationAt)
			// of somebody else: refused by the act
			others := slices.Contains([]string{"valueEntry", "recordEntry", "readWeek", "valuePurchase", "recordPurchase"}, name)
			if refused := status == http.StatusForbidden; refused == slices.Contains(roles, role) && !others {
				t.Errorf("%s by a %s: %d", name, role, status)
			}
			if status == http.StatusUnauthorized || status >= 500 {
				t.Errorf("%s by a %s: %d", name, role, status)
			}
		}
	}
}

// Every act of the contract takes the key of its try, and does nothing without one;
// what only reads takes none.
func TestEveryActTakesAKey(t *testing.T) {
	server := serve(t)
	c := as(t, server, "ada@firm.example")
	for name, op := range operations(t) {
		if op.method == http.MethodGet || onlyReads[name] || slices.Contains([]string{"signIn", "begin", "acceptInvitation"}, name) {
			continue // signing in is no act of the books
		}
		status, body := c.do(op.method, op.path, "{}", map[string]string{keyHeader: ""})
		if status != http.StatusUnprocessableEntity || !strings.Contains(body, "needs a key") {
			t.Errorf("%s without a key: %d %s", name, status, body)
		}
	}
}

// The same try is one act, also of a change; the same act tried anew is two.
func TestATryIsOneAct(t *testing.T) {
	server := serve(t)
	c := as(t, server, "ada@firm.example")
	held := `{"clientId":1,"engagementId":0,"entityId":0,"requestId":0,"currency":"","day":"2026-12-01","amount":"100","method":"cash","reference":""}`
	if status, body := c.do("POST", "/api/funds", held, nil); status != 200 {
		t.Fatal(status, body)
	}
	refund := func(key string) {
		t.Helper()
		if status, body := c.do("POST", "/api/funds/1/refunds", `{"amount":"10.00","day":"2026-12-01"}`,
			map[string]string{keyHeader: key}); status != 200 {
			t.Error(status, body)
		}
	}
	refund("the first try")
	refund("the first try")
	refund("another try")
	if _, body := c.do("GET", "/api/funds?client=1", "", nil); !strings.Contains(body, `"held":{"minor":8000`) {
		t.Errorf("twice 10.00 of 100.00 went back, not what this says: %s", body)
	}
	status, _ := c.do("POST", "/api/funds/1/refunds", `{"amount":"20.00","day":"2026-12-01"}`, map[string]string{keyHeader: "another try"})
	if status != http.StatusConflict {
		t.Errorf("a key with other content: %d", status)
	}
}

// A month of work by the contract alone, from the client to the payment, every act of it asked
// for twice under one key: as a second click, or a network that lost the answer, does.
func TestEveryActOfAMonthTwiceIsOne(t *testing.T) {
	a := apptest.Firm(t)
	server := serveOf(t, a)
	h := &houses{app: a, server: server}
	apptest.Add(t, h.app, "questionnaires", "name", "Begin", "questions", "Your address")
	c, acts := as(t, server, accounts[app.Administrator]), 0
	c.again = func(path, answer string, once func() (int, string)) {
		acts++
		before := h.last(t)
		status, second := once()
		if status != http.StatusOK || second != answer {
			t.Errorf("%s, the second time: %d %s, the first time it was %s", path, status, second, answer)
		}
		for table, last := range h.last(t) {
			if last != before[table] {
				t.Errorf("%s, asked for twice, has written to %s twice", path, table)
			}
		}
	}
	h.work(t, c, "Tern", "Firm", 1)
	if acts < 20 {
		t.Errorf("%d acts were tried only", acts)
	}
	apptest.Whole(t, h.app)
}

// Every kind of record × role: reading and changing are two things.
func TestEveryKindOfRecordAsksForARole(t *testing.T) {
	server := serve(t)
	for _, kind := range registry.KindNames() {
		if _, listed := ofKind[kind]; !listed {
			t.Errorf("nothing says who may read %s", kind)
		}
	}
	for role, mail := range accounts {
		c := as(t, server, mail)
		for kind, roles := range ofKind {
			read, _ := c.do("GET", "/api/records/"+kind, "", nil)
			change, _ := c.do("PUT", "/api/records/"+kind, `{"records":[{"id":999,"version":0}],"field":"name","value":"x"}`, nil)
			export, _ := c.do("GET", "/api/records/"+kind+"/export", "", nil)
			mayRead := slices.Contains(roles.read, role) && slices.Contains(reviewers, role)
			if (read == http.StatusOK) != mayRead || (read == http.StatusForbidden) == mayRead {
				t.Errorf("%s read by a %s: %d", kind, role, read)
			}
			if (change == http.StatusForbidden) == (slices.Contains(roles.change, role) && slices.Contains(leaders, role)) ||
				change >= 500 {
				t.Errorf("%s changed by a %s: %d", kind, role, change)
			}
			if (export == http.StatusForbidden) == (mayRead && slices.Contains(readers, role)) || export >= 500 {
				t.Errorf("%s exported by a %s: %d", kind, role, export)
			}
		}
	}
}

// What staff may not see is in no answer: rates, values and what made them.
func TestStaffSeeNoRatesUnlessAllowed(t *testing.T) {
	server := serve(t)
	c, admin := as(t, server, accounts[app.Staff]), as(t, server, accounts[app.Administrator])
	typed := strings.Replace(entryBody, `"personId":9`, `"personId":2`, 1)
	said := ""
	for _, at := range []operationAt{{"POST", "/api/time-entries"}, {"POST", "/api/time-entries/value"}} {
		_, answer := c.do(at.method, at.path, typed, map[string]string{"Idempotency-Key": "an hour " + at.path})
		said += answer
	}
	for _, path := range []string{"/api/time-entries/1", "/api/time-entries/1/history", "/api/people/2/weeks/2026-11-30", "/api/choices",
		"/api/rail"} {
		_, answer := c.do("GET", path, "", nil)
		said += answer
	}
	if !strings.Contains(said, `"minutes":60`) || strings.Contains(said, "100.00") || strings.Contains(said, `"minor":10000`) ||
		strings.Contains(said, "Rate of") {
		t.Errorf("%s", said)
	}
	confirm(admin)
	if status, answer := admin.do("PUT", "/api/records/people", `{"records":[{"id":2,"version":0}],"field":"sees_rates","value":"yes"}`,
		nil); status != 200 {
		t.Fatalf("%d %s", status, answer)
	}
	if _, answer := c.do("GET", "/api/time-entries/1", "", nil); !strings.Contains(answer, "100.00") {
		t.Errorf("allowed, and still hidden: %s", answer)
	}
}

func TestProblemsAreSentencesInTheirField(t *testing.T) {
	c := as(t, serve(t), accounts[app.Staff])
	body := strings.Replace(strings.Replace(entryBody, `"personId":9`, `"personId":2`, 1), `"worked":"1"`, `"worked":"soon"`, 1)
	status, answer := c.do("POST", "/api/time-entries", body, map[string]string{"Idempotency-Key": "a key of mine"})
	var problem struct {
		Title, Detail string
		Status        int
		Errors        []struct{ Message, Location string }
	}
	if err := json.Unmarshal([]byte(answer), &problem); err != nil {
		t.Fatal(err)
	}
	if status != 422 || problem.Status != 422 || !strings.HasPrefix(problem.Detail, `"soon" is not a time`) ||
		problem.Errors[0].Location != "body.worked" {
		t.Errorf("%d %s", status, answer)
	}
	for _, path := range []string{"/api/nowhere", "/api/invoices/999"} {
		if status, answer := as(t, serve(t), accounts[app.Administrator]).do("GET", path, "", nil); status != 404 ||
			!strings.Contains(answer, `"detail"`) {
			t.Errorf("%s: %d %s", path, status, answer)
		}
	}
	if status, answer := c.do("PATCH", "/api/rail", "", nil); status != 405 || !strings.Contains(answer, `"detail"`) {
		t.Errorf("%d %s", status, answer)
	}
}

func TestAnswersNeverRepeatASecret(t *testing.T) {
	c := as(t, serve(t), "")
	for _, body := range []string{`{"mail":"ada@firm.example","password":"swordfish"}`, `{"mail":7,"password":"swordfish"}`,
		`{"mail":"a","password":["swordfish"]}`, `{"swordfish":1}x`} {
		if status, answer := c.do("POST", "/api/session", body, nil); status == 200 || strings.Contains(answer, "swordfish") &&
			!strings.Contains(body, "swordfish\":1") {
			t.Errorf("%s: %d %s", body, status, answer)
		}
	}
}

func TestSignInIsThrottled(t *testing.T) {
	c := as(t, serve(t), "")
	statuses := []int{}
	for range 12 {
		status, _ := c.do("POST", "/api/session", `{"mail":"ADA@firm.example ","password":"guess"}`, nil)
		statuses = append(statuses, status)
	}
	if statuses[0] != 403 || statuses[11] != 429 {
		t.Errorf("%v", statuses)
	}
	if status, _ := c.do("POST", "/api/session", `{"mail":"sam@firm.example","password":"open sesame now"}`, nil); status != 200 {
		t.Errorf("another account is shut out: %d", status)
	}
}

func TestOtherSitesCantAct(t *testing.T) {
	c := as(t, serve(t), accounts[app.Administrator])
	for _, headers := range []map[string]string{{"Sec-Fetch-Site": "cross-site"}, {"Origin": "https://elsewhere.example"}} {
		if status, _ := c.do("POST", "/api/drafts", `{"upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[999]}`,
			headers); status != 403 {
			t.Errorf("%v: %d", headers, status)
		}
	}
}

func TestHeadersAndLimits(t *testing.T) {
	server := serve(t)
	response, err := http.Get(server.URL + "/wip")
	if err != nil {
		t.Fatal(err)
	}
	response.Body.Close()
	for header, want := range map[string]string{"Content-Security-Policy": "default-src 'self'", "X-Content-Type-Options": "nosniff",
		"X-Frame-Options": "DENY"} {
		if !strings.Contains(response.Header.Get(header), want) {
			t.Errorf("%s is %q", header, response.Header.Get(header))
		}
	}
	if response, err = http.Get(server.URL + "/api/session"); err != nil {
		t.Fatal(err)
	}
	response.Body.Close()
	if policy := response.Header.Get("Content-Security-Policy"); !strings.Contains(policy, "default-src 'none'") {
		t.Errorf("an answer may load things: %q", policy)
	}
	c := as(t, server, accounts[app.Staff])
	if status, _ := c.do("POST", "/api/time-entries", fmt.Sprintf(`{"text":"%s"}`, strings.Repeat("x", 2<<20)),
		map[string]string{"Idempotency-Key": "a large body"}); status != 413 {
		t.Errorf("two megabytes are answered with %d", status)
	}
	if status, body := c.do("GET", "/healthz", "", nil); status != 200 || body != "ready\n" {
		t.Errorf("%d %s", status, body)
	}
}

func TestASignedOutSessionIsOver(t *testing.T) {
	c := as(t, serve(t), accounts[app.Staff])
	if status, _ := c.do("DELETE", "/api/session", "", nil); status != 200 {
		t.Fatal(status)
	}
	if status, _ := c.do("GET", "/api/session", "", nil); status != 401 {
		t.Errorf("still signed in: %d", status)
	}
}

// Assets were packed at build and go out as the browser takes them; answers are packed on the way.
func TestPagesAndAnswersLeavePacked(t *testing.T) {
	handler, err := New(apptest.Firm(t), Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")},
		"assets/a.js": {Data: []byte("plain")}, "assets/a.js.br": {Data: []byte("brotli")}, "assets/a.js.gz": {Data: []byte("gzip")}}})
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	defer server.Close()
	for _, c := range []struct{ path, takes, packed, body string }{
		{"/assets/a.js", "gzip, deflate, br", "br", "brotli"}, {"/assets/a.js", "gzip", "gzip", "gzip"}, {"/assets/a.js", "identity", "", "plain"},
		{"/", "identity", "", "the pages"}, {"/api/welcome", "gzip", "gzip", ""}, {"/api/welcome", "identity", "", ""},
	} {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodGet, server.URL+c.path, nil)
		if err != nil {
			t.Fatal(err)
		}
		request.Header.Set("Accept-Encoding", c.takes)
		answer, err := http.DefaultTransport.RoundTrip(request)
		if err != nil {
			t.Fatal(err)
		}
		body, err := io.ReadAll(answer.Body)
		answer.Body.Close()
		if packed := answer.Header.Get("Content-Encoding"); err != nil || answer.StatusCode != http.StatusOK || packed != c.packed ||
			c.body != "" && string(body) != c.body {
			t.Errorf("%s for %q: %d, %q, %q, %v", c.path, c.takes, answer.StatusCode, packed, body, err)
		}
		if kind := answer.Header.Get("Content-Type"); strings.HasSuffix(c.path, ".js") && !strings.HasPrefix(kind, "text/javascript") {
			t.Errorf("%s is %q", c.path, kind)
		}
	}
}

func TestWhatIsTypedIsReadAndSaid(t *testing.T) {
	c := as(t, serve(t), "ada@firm.example")
	for _, in := range []struct {
		asked string
		want  int
		says  string
	}{
		{"as=day&typed=15.11.2026", 200, `"value":"2026-11-15","said":"Sun 15 Nov 2026"`},
		{"as=day&typed=11%2F12", 422, "write one of these"},
		{"as=hours&typed=90m", 200, "\"said\":\"1:30\u202fh\""},
		{"as=hours&typed=soon", 422, "1:30"},
		{"as=terms&typed=2+weeks", 200, `"value":"14d"`},
		{"as=terms&typed=whenever", 422, "write receipt, 30 days"},
		{"as=schedule&typed=50%25+now,+rest+in+30+days", 200, `"said":"50 % on the invoice date; the rest 30 days after the invoice"`},
		{"as=schedule&typed=half", 422, "write"},
		{"as=amount&typed=1,250.50", 200, `"value":"1250.50"`},
		{"as=amount&typed=-80", 200, `"value":"-80.00"`},
		{"as=amount&typed=1.250,50", 422, "type it like"},
		{"as=percent&typed=12.5%25", 200, `"said":"12.5 %"`},
		{"as=percent&typed=120", 422, "0 to 100 %"},
		{"as=colour&typed=red", 422, "as"},
	} {
		if status, body := c.do("GET", "/api/typed?"+in.asked, "", nil); status != in.want || !strings.Contains(body, in.says) {
			t.Errorf("%s: %d %s", in.asked, status, body)
		}
	}
}
