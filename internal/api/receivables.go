package api

import (
	"context"
	"fmt"
	"mime"
	"net/http"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/receivables"

	"github.com/danielgtaylor/huma/v2"
)

// OfClient asks for what is of one client, or of all.
type OfClient struct {
	ClientID int64 `query:"client" doc:"0 for all"`
}

// OwedQuery says what of what is owed is looked at.
type OwedQuery struct {
	OfClient
	LeadID int64  `query:"lead" doc:"0 for all"`
	Late   int    `query:"late" doc:"days late at least"`
	On     isoDay `query:"on" doc:"as it stood at the end of that day; nothing: as it stands now"`
}

func (q *OwedQuery) filter() (receivables.Filter, error) {
	on, err := q.On.orNone("on")
	return receivables.Filter{ClientID: q.ClientID, LeadID: q.LeadID, Late: q.Late, On: on}, err
}

func (s *server) registerReceivables(api huma.API) {
	operation(s, api, http.MethodGet, "/receivables", "listOwed", "What is owed, by client and age",
		func(ctx context.Context, actor app.Actor, in *OwedQuery) (*receivables.Outstanding, error) {
			f, err := in.filter()
			if err != nil {
				return nil, err
			}
			return receivables.Owed(ctx, s.app, actor, f)
		})
	operationRaw(s, api, "/receivables/export", "exportOwed", "What is owed, an instalment a row, as CSV or XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			OwedQuery
			Form string `query:"form" enum:"csv,xlsx" default:"csv"`
		}) (*download, error) {
			f, err := in.filter()
			if err != nil {
				return nil, err
			}
			on, header, rows, err := receivables.OwedTable(ctx, s.app, actor, f)
			if err != nil {
				return nil, err
			}
			return written("owed on "+on.String(), in.Form, header, rows)
		})
	operation(s, api, http.MethodGet, "/payments", "listPayments", "The latest payments, or the latest of which something is said",
		func(ctx context.Context, actor app.Actor, in *struct {
			OfClient
			Text string `query:"text" maxLength:"200" doc:"all its words are said: the amount, client, reference, note, invoice"`
		}) ([]receivables.Payment, error) {
			return receivables.FindPayments(ctx, s.app, actor, in.ClientID, in.Text)
		})
	operation(s, api, http.MethodPost, "/payments", "receivePayment", "Record a payment",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body receivables.TypedPayment
		}) (*receivables.Payment, error) {
			return receivables.Receive(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPost, "/payments/{id}/reversal", "reversePayment", "Take a payment back",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Reason string `json:"reason" maxLength:"500"`
			}
		}) (*receivables.Payment, error) {
			return receivables.Reverse(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Reason)
		})
	onInvoice(s, api, http.MethodPost, "/opening-balances", "enterOpening", "Take over an old invoice with what is owed on it",
		func(ctx context.Context, r app.Request, in *struct {
			Body receivables.TypedOpening
		}) (*drafts.Changed, error) {
			return receivables.EnterOpening(ctx, s.app, r, in.Body)
		})
	s.registerCredit(api)
	s.registerLost(api)
	s.registerLate(api)
	s.registerFunds(api)
	s.registerDeposits(api)
}

func (s *server) registerCredit(api huma.API) {
	operation(s, api, http.MethodGet, "/credits", "listCredits", "Unapplied money of clients",
		func(ctx context.Context, actor app.Actor, in *OfClient) ([]receivables.Credit, error) {
			return receivables.Credits(ctx, s.app, actor, in.ClientID)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/credit-used", "useCredit", "Put credit of the client on an issued invoice",
		func(ctx context.Context, r app.Request, in *struct {
			ByID
			Body AmountTyped
		}) (*drafts.Changed, error) {
			return receivables.UseCredit(ctx, s.app, r, in.ID, in.Body.Amount)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/taken-back", "takeBack",
		"Take off an issued invoice what funds and credit were put on it since",
		func(ctx context.Context, r app.Request, in *struct {
			ByID
		}) (*drafts.Changed, error) {
			return receivables.TakeBack(ctx, s.app, r, in.ID)
		})
	operation(s, api, http.MethodPost, "/credits/refunds", "refundCredit", "Pay credit back to a client",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				ClientID int64          `json:"clientId"`
				EntityID int64          `json:"entityId"`
				Currency money.Currency `json:"currency" maxLength:"3"`
				Amount   string         `json:"amount" maxLength:"30"`
				Day      day.Day        `json:"day" format:"date"`
			}
		}) (*receivables.Payment, error) {
			account := receivables.Account{ClientID: in.Body.ClientID, EntityID: in.Body.EntityID, Currency: in.Body.Currency}
			return receivables.RefundCredit(ctx, s.app, app.Request{Actor: actor}, account, in.Body.Amount, in.Body.Day)
		})
}

// registerLost has bad debt: what is given up, and what comes of it after all.
func (s *server) registerLost(api huma.API) {
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/write-off", "writeOffInvoice", "Give up what is owed on an invoice, with its tax",
		func(ctx context.Context, r app.Request, in *struct {
			ByID
			Body receivables.GivingUp
		}) (*drafts.Changed, error) {
			return receivables.WriteOff(ctx, s.app, r, in.ID, in.Body)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/owed-again", "oweAgain", "Take the write-off of an invoice back: it is owed again",
		func(ctx context.Context, r app.Request, in *ByID) (*drafts.Changed, error) {
			return receivables.OweAgain(ctx, s.app, r, in.ID)
		})
	operation(s, api, http.MethodGet, "/bad-debt", "listBadDebt", "What was written off in a period, and what came of it after all",
		func(ctx context.Context, actor app.Actor, in *Period) ([]receivables.Lost, error) {
			from, to, err := in.days()
			if err != nil {
				return nil, err
			}
			return receivables.BadDebt(ctx, s.app, actor, from, to)
		})
	operationRaw(s, api, "/bad-debt/export", "exportBadDebt", "What was written off in a period, and what came of it, as CSV or XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			Period
			Form string `query:"form" enum:"csv,xlsx" default:"csv"`
		}) (*download, error) {
			from, to, err := in.days()
			if err != nil {
				return nil, err
			}
			header, rows, err := receivables.BadDebtTable(ctx, s.app, actor, from, to)
			if err != nil {
				return nil, err
			}
			return written(fmt.Sprintf("bad debt %s to %s", from, to), in.Form, header, rows)
		})
}

// registerLate has charges for paying late.
func (s *server) registerLate(api huma.API) {
	operation(s, api, http.MethodGet, "/late-charges", "listLateCharges", "What has come to be charged for paying late, and what was",
		func(ctx context.Context, actor app.Actor, _ *struct{}) (*receivables.LateCharges, error) {
			return receivables.LateNow(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/late-charges", "chargeLate", "Charge for paying late, up to today",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.ChargingLate }) (*receivables.ChargedLate, error) {
			return receivables.ChargeLate(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPost, "/late-charges/waived", "waiveLate", "Give up what is, or was, to be charged for paying late",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.WaivingLate }) (nothing, error) {
			return nothing{}, receivables.WaiveLate(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
}

// AmountTyped is an amount; nothing asks for all that is owed and free.
type AmountTyped struct {
	Amount string `json:"amount" maxLength:"30"`
}

func (s *server) registerFunds(api huma.API) {
	operation(s, api, http.MethodGet, "/funds", "listFunds", "Money held for clients",
		func(ctx context.Context, actor app.Actor, in *OfClient) ([]receivables.ClientFunds, error) {
			return receivables.FundsHeld(ctx, s.app, actor, in.ClientID)
		})
	operation(s, api, http.MethodPost, "/funds", "receiveFunds", "Record money to be held for a client",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body receivables.TypedFunds
		}) (*receivables.Payment, error) {
			return receivables.ReceiveFunds(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPost, "/funds/refills", "askRefills", "Ask clients to bring what is held for them to the least again",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				FundsIDs []int64 `json:"fundsIds" minItems:"1" maxItems:"2000"`
			}
		}) ([]receivables.Request, error) {
			return receivables.AskRefills(ctx, s.app, app.Request{Actor: actor}, in.Body.FundsIDs)
		})
	operation(s, api, http.MethodGet, "/funds/{id}/statement", "fundStatement", "The statement of money that is held",
		func(ctx context.Context, actor app.Actor, in *ByID) (*funds.Statement, error) {
			return receivables.StatementOf(ctx, s.app, actor, in.ID)
		})
	onInvoice(s, api, http.MethodPost, "/funds/{id}/applications/{invoice}", "applyFunds", "Apply money that is held to an issued invoice",
		func(ctx context.Context, r app.Request, in *struct {
			ByID
			Invoice int64 `path:"invoice"`
			Body    AmountTyped
		}) (*drafts.Changed, error) {
			return receivables.Apply(ctx, s.app, r, in.ID, in.Invoice, in.Body.Amount)
		})
	operation(s, api, http.MethodGet, "/funds-plan", "planFunds", "How what is held could be put on what is owed",
		func(ctx context.Context, actor app.Actor, in *struct {
			Clients []int64 `query:"clients" maxItems:"2000"`
		}) ([]receivables.Putting, error) {
			return receivables.FundsPlan(ctx, s.app, actor, in.Clients)
		})
	operation(s, api, http.MethodPost, "/funds-applied", "applyAllFunds", "Put what is held on invoices, as it is chosen",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Puts []receivables.PutTyped `json:"puts" maxItems:"5000"`
			}
		}) (*receivables.AppliedFunds, error) {
			return receivables.ApplyFunds(ctx, s.app, app.Request{Actor: actor}, in.Body.Puts)
		})
	operation(s, api, http.MethodDelete, "/funds-applied/{act}", "undoApplied", "Take back what was put on invoices together",
		func(ctx context.Context, actor app.Actor, in *ByAct) (nothing, error) {
			return nothing{}, receivables.UndoApplied(ctx, s.app, app.Request{Actor: actor}, in.Act)
		})
	operation(s, api, http.MethodPost, "/funds/{id}/refunds", "refundFunds", "Pay money that is held back to the client",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Amount string  `json:"amount" maxLength:"30"`
				Day    day.Day `json:"day" format:"date"`
			}
		}) (*receivables.Payment, error) {
			return receivables.Refund(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Amount, in.Body.Day)
		})
	operation(s, api, http.MethodGet, "/transfers", "listTransfers", "Bank transfers to make between the clients' account and the firm's",
		func(ctx context.Context, actor app.Actor, in *struct {
			Done bool `query:"done" doc:"those that were made, too"`
		}) ([]receivables.Transfer, error) {
			return receivables.Transfers(ctx, s.app, actor, in.Done)
		})
	operation(s, api, http.MethodPut, "/transfers", "markTransfers", "Note that transfers were made, or not",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				IDs  []int64 `json:"ids" minItems:"1" maxItems:"1000"`
				Made bool    `json:"made"`
			}
		}) (nothing, error) {
			return nothing{}, receivables.MarkTransfers(ctx, s.app, app.Request{Actor: actor}, in.Body.IDs, in.Body.Made)
		})
}

func (s *server) registerDeposits(api huma.API) {
	operation(s, api, http.MethodGet, "/deposits/planned", "listPlannedDeposits", "Deposits that were agreed and not asked for",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]receivables.PlannedDeposit, error) {
			return receivables.PlannedDeposits(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/deposits", "listRequests", "Deposits that were asked for",
		func(ctx context.Context, actor app.Actor, in *OfClient) ([]receivables.Request, error) {
			return receivables.Requests(ctx, s.app, actor, in.ClientID)
		})
	operation(s, api, http.MethodPost, "/deposits", "requestDeposit", "Ask a client for a deposit",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body receivables.TypedRequest
		}) (*receivables.Request, error) {
			return receivables.RequestDeposit(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPost, "/deposits/{id}/withdrawal", "withdrawRequest", "Ask for a deposit no more",
		func(ctx context.Context, actor app.Actor, in *Edited) (*receivables.Request, error) {
			return receivables.Withdraw(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operationRaw(s, api, "/deposits/{id}/document.pdf", "readRequestDocument", "The document of a deposit request",
		func(ctx context.Context, actor app.Actor, in *ByID) (*pdfFile, error) {
			name, content, err := receivables.RequestFile(ctx, s.app, actor, in.ID)
			return &pdfFile{"application/pdf", mime.FormatMediaType("attachment", map[string]string{"filename": name}), content}, err
		})
}
