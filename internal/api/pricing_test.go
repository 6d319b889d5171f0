package api

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"dorvet/internal/app/pricing"
	"dorvet/internal/app/registry"
)

// answerOf is [read] with a body that is still to be written.
func answerOf[T any](c *client, method, path string, body any) T {
	c.Helper()
	if body == nil {
		return read[T](c, method, path, "")
	}
	text, err := json.Marshal(body)
	if err != nil {
		c.Fatal(err)
	}
	return read[T](c, method, path, string(text))
}

// A proposal from its beginning to a withdrawn copy, through every operation that
// people of the firm have, as their pages ask for them.
func TestAProposalOverHTTP(t *testing.T) {
	server := serve(t)
	c := as(t, server, "ada@firm.example")
	service := answerOf[registry.Added](c, "POST", "/api/records/services",
		map[string]string{"name": "Chart", "kind": "fixed", "price": "120"})
	made := answerOf[pricing.ProposalMade](c, "POST", "/api/proposals", pricing.Begun{ClientID: 1, Name: "Alder 2027"})
	if again := answerOf[pricing.ProposalMade](c, "POST", "/api/proposals", pricing.Begun{ClientID: 1, Name: "Alder 2027"}); again != made {
		t.Errorf("asked for twice it is made twice: %+v, %+v", made, again)
	}
	at := fmt.Sprintf("/api/proposals/%d", made.ID)
	p := answerOf[pricing.Proposal](c, "GET", at, nil)
	if p.Number != "P1" || p.State != "draft" || len(p.TaxCodes) != 1 || p.Grid.Typed.Name != "Alder 2027" {
		t.Errorf("%+v", p)
	}

	line := answerOf[pricing.TypedLine](c, "GET", fmt.Sprintf("%s/line?service=%d", at, service.ID), nil)
	line.Cells, line.Said, line.Expected = []string{"x"}, "each quarter, in advance", "2 AA"
	typed := p.Grid.Typed
	typed.Lines, typed.Term = []pricing.TypedLine{line}, "12"
	if g := answerOf[pricing.Grid](c, "POST", at+"/price", typed); g.Tiers[0].FirstYear.Minor != 480_00 || len(g.Lines) != 1 {
		t.Errorf("%+v", g)
	}
	p = answerOf[pricing.Proposal](c, "PUT", fmt.Sprintf("%s?version=%d", at, p.Version), typed)
	if p.FirstYear.Minor != 480_00 {
		t.Errorf("%+v", p.FirstYear)
	}
	typed.Lines[0].Said = "each full moon"
	raw, _ := json.Marshal(typed)
	if status, body := c.do("PUT", fmt.Sprintf("%s?version=%d", at, p.Version), string(raw),
		nil); status != http.StatusUnprocessableEntity ||
		!strings.Contains(body, `"body.lines.0.when"`) || !strings.Contains(body, "each full moon") {
		t.Errorf("%d %s", status, body)
	}
	if status, body := c.do("PUT", fmt.Sprintf("%s?version=%d", at, p.Version-1), string(raw), nil); status != http.StatusConflict {
		t.Errorf("an old version: %d %s", status, body)
	}

	if page := answerOf[pricing.Page](c, "POST", at+"/page", map[string]any{}); page.Chosen.Net != "480.00" ||
		page.Chosen.Gross != "590.40" || page.For != "Client" {
		t.Errorf("%+v", page)
	}
	if calendar := answerOf[pricing.Calendar](c, "GET", at+"/calendar?tier=0", nil); len(calendar.Bills) != 4 ||
		calendar.Steps["firstYear"].Figure != "480.00" {
		t.Errorf("%+v", calendar)
	}
	sending := pricing.Sending{Version: p.Version, Name: "Sig Ner", Mail: "sig@client.example", Word: "As we said.", Mailed: true}
	if mail := answerOf[pricing.MailPreview](c, "POST", at+"/mail", sending); !strings.HasPrefix(mail.Body,
		"As we said.\n\nDear Sig Ner,") ||
		!strings.Contains(mail.Body, "/proposal#…") {
		t.Errorf("%+v", mail)
	}
	answerOf[pricing.SentOut](c, "POST", at+"/sendings", sending)
	p = answerOf[pricing.Proposal](c, "GET", at, nil)
	if p.State != "sent" || len(p.Mails) != 1 || p.Mails[0].State != "queued" {
		t.Errorf("%+v", p)
	}
	copied := answerOf[pricing.CopyMade](c, "POST", at+"/copies", pricing.Copying{Reread: true, Replaces: true})
	if versions := answerOf[[]pricing.ProposalVersion](c, "GET", fmt.Sprintf("/api/proposals/%d/versions", copied.ID),
		nil); len(versions) != 1 || versions[0].Words != "the first" {
		t.Errorf("%+v", versions)
	}
	withdrawn := answerOf[pricing.Proposal](c, "POST", at+"/withdrawal",
		map[string]any{"version": p.Version, "reason": "a better one comes"})
	if withdrawn.State != "withdrawn" {
		t.Errorf("%+v", withdrawn)
	}
	history := answerOf[[]struct{ Summary, Reason string }](c, "GET", at+"/history", nil)
	if history[0].Summary != "Withdrew P1" || history[0].Reason != "a better one comes" || len(history) != 5 {
		t.Errorf("%+v", history)
	}
	answerOf[nothing](c, "DELETE", at+"/links", nil)

	other := answerOf[pricing.Proposal](c, "GET", fmt.Sprintf("/api/proposals/%d", copied.ID), nil)
	answerOf[nothing](c, "DELETE", fmt.Sprintf("/api/proposals/%d?version=%d", copied.ID, other.Version), nil)
	if list := answerOf[pricing.ProposalList](c, "GET", "/api/proposals?client=1", nil); len(list.Rows) != 1 || len(list.Out) != 0 {
		t.Errorf("%+v", list)
	}
}

// A document comes with its name and what it is by its content, as a download.
func TestDocumentsOfProposalsOverHTTP(t *testing.T) {
	server := serve(t)
	c := as(t, server, "ada@firm.example")
	made := answerOf[pricing.ProposalMade](c, "POST", "/api/proposals", pricing.Begun{ClientID: 1})
	at := fmt.Sprintf("/api/files/proposals/%d?name=", made.ID)
	binary := map[string]string{"Content-Type": "application/octet-stream"}
	for content, want := range map[string]int{"%PDF-1.7 terms": 200, "<svg xmlns='http://www.w3.org/2000/svg'/>": 422, "MZ program": 422,
		"": 422} {
		if status, body := c.do("POST", at+"terms.pdf", content, binary); status != want && (want != 422 || status != 400) {
			t.Errorf("%q: %d %s", content, status, body)
		}
	}
	status, body := c.do("POST", at+"our%20terms.pdf", "%PDF-1.7 terms", binary)
	var kept pricing.KeptFile
	if err := json.Unmarshal([]byte(body), &kept); err != nil || status != 200 || kept.Name != "our terms.pdf" {
		t.Fatalf("%d %s", status, body)
	}
	p := answerOf[pricing.Proposal](c, "GET", fmt.Sprintf("/api/proposals/%d", made.ID), nil)
	typed := p.Grid.Typed
	typed.TermsFile = kept
	answerOf[pricing.Proposal](c, "PUT", fmt.Sprintf("/api/proposals/%d?version=%d", made.ID, p.Version), typed)
	response, err := c.http.Get(server.URL + fmt.Sprintf("/api/proposals/%d/files/terms", made.ID))
	if err != nil {
		t.Fatal(err)
	}
	response.Body.Close()
	if h := response.Header; h.Get("Content-Type") != "application/pdf" ||
		h.Get("Content-Disposition") != `attachment; filename="our terms.pdf"` {
		t.Errorf("%v", h)
	}
	if status, _ := c.do("GET", fmt.Sprintf("/api/proposals/%d/files/evidence", made.ID), "", nil); status != http.StatusNotFound {
		t.Errorf("evidence of nothing: %d", status)
	}
	if status, _ := as(t, server, "lea@firm.example").do("POST", at+"x.pdf", "%PDF-1.7 x", binary); status != http.StatusNotFound {
		t.Errorf("another lead's proposal: %d", status)
	}
}
