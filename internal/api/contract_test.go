package api

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
)

type operationAt struct{ method, path string }

// listedOperation is an operation of the contract, and whether it takes the number of
// something, wherever.
type listedOperation struct {
	operationAt
	numbered bool
}

// operations reads all operations from the contract itself.
func operations(t *testing.T) map[string]listedOperation {
	t.Helper()
	text, err := Contract("test")
	if err != nil {
		t.Fatal(err)
	}
	var contract struct {
		Paths map[string]map[string]struct {
			OperationID string
			Parameters  []struct{ Name string }
			RequestBody any
		}
	}
	if err := json.Unmarshal(text, &contract); err != nil {
		t.Fatal(err)
	}
	found := map[string]listedOperation{}
	for path, methods := range contract.Paths {
		path = strings.NewReplacer("{id}", "999", "{kind}", "contacts", "{day}", "2026-11-30", "{portion}", "999", "{act}", "999", "{line}",
			"999", "{charge}", "999", "{invoice}", "999", "{draft}", "1", "{name}", "000001.eml", "{which}", "terms", "{form}", "csv",
			"{digest}",
			strings.Repeat("0", 64)).Replace(path)
		for method, op := range methods {
			numbered := strings.Contains(path, nobodys) || op.RequestBody != nil
			for _, parameter := range op.Parameters {
				numbered = numbered || slices.Contains([]string{"client", "engagement", "of", "clients", "engagements", "people"},
					parameter.Name)
			}
			found[op.OperationID] = listedOperation{operationAt{strings.ToUpper(method), path}, numbered}
		}
	}
	return found
}

// nobodys is a number that nothing has.
const nobodys = "999"

// ask asks for an operation with input that passes the form, whatever its sense.
func (c *client) ask(op operationAt) int {
	c.Helper()
	status, _ := c.askOf(op, nobodys)
	return status
}

// askOf asks for an operation on what has a number, as it was first seen.
func (c *client) askOf(op operationAt, number string) (int, string) {
	c.Helper()
	entryOfNobody := strings.NewReplacer(`"engagementId":1`, `"engagementId":999`, `"personId":9`, `"personId":999`).Replace(entryBody)
	bodies := map[string]string{
		"/api/time-entries": entryOfNobody, "/api/time-entries/value": entryOfNobody, "/api/time-entries/999": entryOfNobody,
		"/api/wip/tally": `{"upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[999]}`, "/api/wip/decisions": decisionBody,
		"/api/wip/decisions/preview": decisionBody, "/api/invoices/999/decisions": decisionBody,
		"/api/runs/999": `{"name":"x","upTo":"2026-11-30","dated":"2026-12-01","terms":"","text":""}`, "/api/drafts/ask-approval": manyBody,
		"/api/drafts/approve": manyBody, "/api/drafts/issue": manyBody, "/api/invoices/reopen": manyBody,
		"/api/invoices/999/send-back": `{"note":"x"}`, "/api/invoices/999/findings": `{"code":"funds","subjectId":0,"act":"apply_funds"}`,
		"/api/documents": `{"ids":[999],"form":"zip","name":"x"}`, "/api/documents/check": `{"ids":[999],"form":"cii"}`,
		"/api/drafts":                      `{"upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[999]}`,
		"/api/invoices/999/lines/999/text": `{"text":"x"}`, "/api/invoices/999/lines": lineBody, "/api/invoices/999/lines/999": lineBody,
		"/api/invoices":              `{"clientId":999,"engagementId":0,"proposalId":0,"likeId":0,"templateId":0,"take":"all","personId":0}`,
		"/api/invoices/999/taken-up": `{"take":"all","personId":0}`,
		"/api/invoices/999/order":    `{"lineIds":[999]}`, "/api/invoices/999/choices": `{"name":"terms","value":"30d","keep":"invoice"}`,
		"/api/invoices/999/dates":    `{"dated":"2026-12-01","upTo":"2026-12-01"}`,
		"/api/invoices/999/progress": `{"engagementId":999,"typed":"60%"}`, "/api/invoices/999/credit": creditBody,
		"/api/invoices/999/credit/preview": creditBody, "/api/invoices/999/dispute": `{"reason":"x"}`,
		"/api/payments": `{"clientId":999,"entityId":0,"currency":"","day":"2026-12-01","amount":"1","method":"cash","reference":"","note":"","on":[]}`, "/api/payments/999/reversal": `{"reason":"x"}`,
		"/api/opening-balances":           `{"clientId":999,"entityId":0,"number":"x","dated":"2026-12-01","balance":"1","currency":""}`,
		"/api/invoices/999/credit-used":   `{"amount":""}`,
		"/api/credits/refunds":            `{"clientId":999,"entityId":999,"currency":"EUR","amount":"1","day":"2026-12-01"}`,
		"/api/funds":                      `{"clientId":999,"engagementId":0,"entityId":0,"requestId":0,"currency":"","day":"2026-12-01","amount":"1","method":"cash","reference":""}`,
		"/api/funds/999/applications/999": `{"amount":""}`, "/api/funds/999/refunds": `{"amount":"1","day":"2026-12-01"}`,
		"/api/transfers":                   `{"ids":[999],"made":true}`,
		"/api/deposits":                    `{"clientId":999,"engagementId":0,"entityId":0,"chargeId":0,"currency":"","amount":"1","text":""}`,
		"/api/records/contacts":            `{"records":[{"id":999,"version":0}],"field":"name","value":"x"}`,
		"/api/records/contacts/999/active": `{"active":true}`,
		"/api/engagements/copies":          `{"fromId":999,"clientId":0,"name":"x","opened":"2026-12-01"}`,
		"/api/rates/ask":                   `{"personId":1,"engagementId":999,"day":"2026-12-01"}`,
		"/api/rerating":                    rerateBody, "/api/rerating/preview": rerateBody,
		"/api/account/password":      `{"old":"wrong","password":"x"}`,
		"/api/account/second-factor": `{"secret":"x","code":"1"}`, "/api/account/confirmation": `{"password":"wrong"}`,
		"/api/changes/999": `{"version":0,"yes":true}`,
		"/api/files/logo":  "no picture", "/api/files/proposals/999": "no document", "/api/files/contacts": "Name\nNobody\n",
		"/api/files/contacts/check": "Name\nNobody\n",
		"/api/purchases":            purchaseBody, "/api/purchases/value": purchaseBody, "/api/purchases/999": purchaseBody,
		"/api/files/receipts": "no receipt",
		"/api/timers":         timerBody, "/api/timers/999": timerBody, "/api/work/changes": `{"ids":[999],"rerate":true}`,
		"/api/work/changes/preview":                  `{"ids":[999],"rerate":true}`,
		"/api/people/999/weeks/2026-11-30/sent-back": `{"reason":"x"}`,
		"/api/proposals":                             `{"clientId":999,"name":"x"}`, "/api/proposals/999": typedBody,
		"/api/proposals/999/price":  typedBody,
		"/api/proposals/999/page":   `{}`,
		"/api/proposals/999/copies": `{"reread":true,"replaces":false}`, "/api/proposals/999/mail": sendingBody,
		"/api/proposals/999/sendings":   sendingBody,
		"/api/proposals/999/withdrawal": `{"version":0,"reason":""}`,
		"/api/proposals/999/passings":   `{"passingId":999,"version":0,"yes":true}`,
		"/api/proposals/999/answers":    `{"questionId":999,"version":0,"text":"x"}`,
		"/api/proposals/999/acceptance": `{"version":0,"chosen":{"tier":0,"options":[],"quantities":{}},"name":"x","day":"2026-12-01","evidence":"x"}`,
		"/api/questionnaires/sendings":  `{"clientId":999,"questionnaireId":999,"name":"x","mail":""}`,
		"/api/begin":                    `{"firm":"x","currency":"EUR","timeZone":"UTC","mark":"point","taxName":"","taxPercent":"","name":"x","mail":"x@y.example","password":"long enough"}`,
		"/api/invitation":               `{"password":"long enough"}`,
	}
	body := ""
	if op.method == "POST" || op.method == "PUT" {
		body = bodies[op.path]
	}
	headers := map[string]string{}
	if strings.HasPrefix(op.path, "/api/files/") {
		headers["Content-Type"] = "application/octet-stream"
	}
	if op.path == "/api/records/contacts" && op.method == "POST" {
		body = `{"client":"nobody"}`
	}
	const query = "?version=0&upTo=2026-12-31&from=2026-11-01&to=2026-12-31&engagement=999&of=999&client=999&service=1&name=x.csv&tier=0&margin=45&secret=aaaaaaaaaaaaaaaaaaaaaaaa"
	return c.do(op.method, strings.ReplaceAll(op.path+query, nobodys, number), strings.ReplaceAll(body, nobodys, number), headers)
}

const decisionBody = `{"portionIds":[999],"decision":{"kind":"hold","reason":""}}`

const manyBody = `{"edits":[{"id":999,"version":0}]}`

const lineBody = `{"engagementId":0,"text":"x","quantity":"","unit":"","price":"","amount":"1","taxCode":"","advance":false}`

const creditBody = `{"reason":"x","lines":[{"lineId":999,"amount":"","again":false}]}`

const sendingBody = `{"version":0,"name":"x","mail":"x@y.example","copies":"","word":"","mailed":true}`

const typedBody = `{"name":"x","lead":"AA","title":"x","validUntil":"","starts":"","shownFor":"","term":"","shows":"prices","pays":"no","ways":[],"discount":"","suggested":0,"opening":"","terms":"","after":"","subject":"","mail":"","termsFile":{"digest":"","name":""},"tiers":[{"name":"","note":""}],"lines":[]}`

const rerateBody = `{"engagementId":999,"from":"2026-11-01","to":"2026-11-30"}`

const entryBody = `{"personId":9,"engagementId":1,"serviceId":1,"day":"2026-11-30","worked":"1","notBillable":"","treatment":"billable","text":"","note":""}`

const timerBody = `{"engagementId":999,"serviceId":1,"treatment":"billable","text":""}`

const purchaseBody = `{"personId":999,"categoryId":1,"day":"2026-11-30","supplier":"","text":"","amount":"1","paidBy":"firm","shares":[{"amount":"","treatment":"billable"}]}`
