package api

import (
	"encoding/json"
	"net/http"
	"net/netip"
	"strings"
	"testing"
	"testing/fstest"

	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"

	"net/http/httptest"
)

// sentProposal is a server with a proposal that is out, and the secret of its link.
func sentProposal(t *testing.T, options Options) (*app.App, *httptest.Server, string, *apptest.Letters) {
	t.Helper()
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 1})
	if err != nil {
		t.Fatal(err)
	}
	p, err := pricing.One(t.Context(), a, apptest.Admin.Actor, made.ID)
	if err != nil {
		t.Fatal(err)
	}
	typed := p.Grid.Typed
	typed.Lines = []pricing.TypedLine{{Description: "Opinion", Kind: "fixed", Price: "900", When: "on acceptance", TaxCode: "S",
		Cells: []string{"x"}}}
	if p, err = pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: p.ID, Version: p.Version, Typed: typed}); err != nil {
		t.Fatal(err)
	}
	out, err := pricing.Send(t.Context(), a, apptest.Admin, p.ID,
		pricing.Sending{Version: p.Version, Name: "Sig Ner", Mail: "sig@client.example"})
	if err != nil {
		t.Fatal(err)
	}
	options.Version, options.Pages = "test", fstest.MapFS{"index.html": {Data: []byte("the pages")}}
	handler, err := New(a, options)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	_, secret, _ := strings.Cut(out.Link, "#")
	return a, server, secret, mails
}

// What a link opens is not stored on the way, not indexed, and refers to nowhere;
// reading changes nothing, and the secret is in no address.
func TestALinkOpensOneThingAndReadingItChangesNothing(t *testing.T) {
	a, server, secret, _ := sentProposal(t, Options{})
	get := func(path, secret string) *http.Response {
		t.Helper()
		request, err := http.NewRequestWithContext(t.Context(), "GET", server.URL+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		request.Header.Set("Link-Secret", secret)
		response, err := http.DefaultClient.Do(request)
		if err != nil {
			t.Fatal(err)
		}
		response.Body.Close()
		return response
	}
	for _, path := range []string{"/proposal", "/questions", "/api/public/proposal"} {
		h := get(path, secret).Header
		if h.Get("Cache-Control") != "no-store" || h.Get("X-Robots-Tag") != "noindex, nofollow" ||
			h.Get("Referrer-Policy") != "no-referrer" {
			t.Errorf("%s: %v", path, h)
		}
	}
	if status := get("/api/public/proposal", secret).StatusCode; status != http.StatusOK {
		t.Errorf("with the link: %d", status)
	}
	p, err := pricing.One(t.Context(), a, apptest.Admin.Actor, 1)
	if err != nil || p.State != "sent" || p.SeenAt != nil || p.Links[0].SeenAt != nil {
		t.Errorf("a fetch has marked it as seen: %+v, %v", p, err)
	}
	for _, wrong := range []string{strings.Repeat("a", 43), secret[:42], secret + "x"} {
		if status := get("/api/public/proposal", wrong).StatusCode; status != http.StatusNotFound {
			t.Errorf("with another secret: %d", status)
		}
	}
	if status := get("/api/public/questions", secret).StatusCode; status != http.StatusNotFound {
		t.Errorf("the link of a proposal opens a questionnaire: %d", status)
	}
	if text, err := Contract("test"); err != nil || strings.Contains(string(text), `"name":"secret","in":"query","description":"link`) {
		t.Error(err)
	}
}

func TestSigningThroughTheInterface(t *testing.T) {
	_, server, secret, mails := sentProposal(t, Options{Proxies: []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}})
	c := as(t, server, "")
	with := map[string]string{"Link-Secret": secret, "X-Forwarded-For": "203.0.113.9, 198.51.100.4"}
	if status, body := c.do("POST", "/api/public/proposal/seen", "", with); status != 200 {
		t.Fatalf("%d %s", status, body)
	}
	for range 5 {
		if status, body := c.do("POST", "/api/public/proposal/code", "", with); status != 200 {
			t.Fatalf("%d %s", status, body)
		}
	}
	if status, body := c.do("POST", "/api/public/proposal/code", "", with); status != http.StatusConflict ||
		!strings.Contains(body, "Several codes") {
		t.Errorf("a sixth code: %d %s", status, body)
	}
	for n := range 6 {
		status, body := c.do("POST", "/api/public/proposal/passing", `{"name":"Bo","mail":"bo@client.example","word":""}`, with)
		if want := map[bool]int{true: http.StatusOK, false: http.StatusConflict}[n < 5]; status != want {
			t.Errorf("passed on the %d. time: %d %s", n+1, status, body)
		}
	}
	code := mails.Find(t, "sig@client.example", `code is (\d{6})`)
	signing := `{"chosen":{"tier":0,"options":[],"quantities":{}},"gross":"1,107.00","name":"Sig Ner","code":"` + code + `"}`
	if status, body := c.do("POST", "/api/public/proposal/acceptance", signing, with); status != 200 {
		t.Fatalf("%d %s", status, body)
	}
	if status, body := c.do("POST", "/api/public/proposal/acceptance", signing, with); status != http.StatusConflict ||
		!strings.Contains(body, "accepted already") {
		t.Errorf("signed twice: %d %s", status, body)
	}
	admin := as(t, server, "ada@firm.example")
	_, body := admin.do("GET", "/api/proposals/1", "", nil)
	var view pricing.Proposal
	if err := json.Unmarshal([]byte(body), &view); err != nil || view.Answer == nil || view.Answer.Address != "198.51.100.4" {
		t.Errorf("the address of the signature: %+v, %v", view.Answer, err)
	}
	for path, mail := range map[string]string{"/api/proposals/1/signed": "ada@firm.example", "/api/public/proposal/signed": ""} {
		if status, body := as(t, server, mail).do("GET", path, "", with); status != 200 || !strings.Contains(body, "Opinion") {
			t.Errorf("%s: %d %s", path, status, body)
		}
	}
}

// Only the word of a trusted proxy is taken for from where a request comes.
func TestAnUntrustedForwardedAddressIsNotTaken(t *testing.T) {
	a, server, secret, _ := sentProposal(t, Options{})
	c := as(t, server, "")
	if status, body := c.do("POST", "/api/public/proposal/refusal", `{"text":"no"}`,
		map[string]string{"Link-Secret": secret, "X-Forwarded-For": "203.0.113.9"}); status != 200 {
		t.Fatalf("%d %s", status, body)
	}
	if p, err := pricing.One(t.Context(), a, apptest.Admin.Actor, 1); err != nil || p.Answer.Address != "127.0.0.1" ||
		p.Answer.Reason != "no" {
		t.Errorf("%+v, %v", p.Answer, err)
	}
}

func TestWhoTriesManySecretsIsSlowedDown(t *testing.T) {
	server := serve(t)
	c := as(t, server, "")
	for range 140 {
		if status, _ := c.do("GET", "/api/public/proposal", "",
			map[string]string{"Link-Secret": strings.Repeat("a", 43)}); status == http.StatusTooManyRequests {
			return
		}
	}
	t.Error("140 tries in a minute are answered")
}
