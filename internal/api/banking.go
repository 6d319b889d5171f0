package api

import (
	"context"
	"mime"
	"net/http"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/banking"
	"dorvet/internal/sheets"

	"github.com/danielgtaylor/huma/v2"
)

// Banked is embedded in the input of what is read of an account.
type Banked struct {
	AccountID int64 `query:"account" doc:"0 for all"`
}

type bankFiles struct {
	Body struct {
		Files []banking.BankFile `json:"files" minItems:"1" maxItems:"100"`
	}
}

func (s *server) registerBanking(api huma.API) {
	operation(s, api, http.MethodGet, "/bank/statements", "listBankStatements", "Statements of banks, the newest first",
		func(ctx context.Context, actor app.Actor, in *Banked) ([]banking.BankStatement, error) {
			return banking.Statements(ctx, s.app, actor, in.AccountID)
		})
	operation(s, api, http.MethodGet, "/bank/entries", "listBankEntries", "Entries of banks, with what open ones may be",
		func(ctx context.Context, actor app.Actor, in *struct {
			Banked
			State string `query:"state" enum:",open,taken,aside" doc:"nothing: any"`
		}) ([]banking.BankEntry, error) {
			return banking.Entries(ctx, s.app, actor, in.AccountID, in.State)
		})
	guarded(s, api, http.MethodPost, filesPrefix+"/bank/check", "tryBankFiles", "What reading files of banks would do; nothing is taken",
		func(ctx context.Context, actor app.Actor, in *bankFiles) (*answer[[]banking.FoundStatement], error) {
			found, err := banking.Try(ctx, s.app, actor, in.Body.Files, bankTable)
			return &answer[[]banking.FoundStatement]{found}, err
		}, large)
	guarded(s, api, http.MethodPost, filesPrefix+"/bank", "readBankFiles", "Read files of banks, all or none",
		func(ctx context.Context, actor app.Actor, in *bankFiles) (*answer[[]banking.FoundStatement], error) {
			found, err := banking.Read(ctx, s.app, app.Request{Actor: actor}, in.Body.Files, bankTable)
			return &answer[[]banking.FoundStatement]{found}, err
		}, large)
	operation(s, api, http.MethodPost, "/bank/certain", "takeCertainEntries", "Take all entries of which it is certain what they are",
		func(ctx context.Context, actor app.Actor, in *Banked) (banking.TakenCertain, error) {
			return banking.TakeCertain(ctx, s.app, app.Request{Actor: actor}, in.AccountID)
		})
	operation(s, api, http.MethodPost, "/bank/entries/{id}/taken", "takeBankEntry", "Take an entry for what it is",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body banking.Taking
		}) (*banking.BankEntry, error) {
			return banking.Take(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/bank/entries/{id}/aside", "setBankEntryAside", "Say that an entry is nothing of clients",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Version int64  `json:"version"`
				As      string `json:"as" maxLength:"200" doc:"what it is: fees of the bank, wages …"`
			}
		}) (*banking.BankEntry, error) {
			return banking.SetAside(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Version, in.Body.As)
		})
	operation(s, api, http.MethodPost, "/bank/entries/{id}/undo", "undoBankEntry", "Open an entry again, with all that it did",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Version int64 `json:"version"`
			}
		}) (*banking.BankEntry, error) {
			return banking.Undo(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Version)
		})
	s.registerReconciling(api)
	s.registerOutgoing(api)
}

// registerReconciling has how bank, ledger and clients agree.
func (s *server) registerReconciling(api huma.API) {
	operation(s, api, http.MethodGet, "/bank/reconciliation", "readReconciliation", "How the clients' account stands on a day: bank, ledger, clients",
		func(ctx context.Context, actor app.Actor, in *struct {
			AccountID int64  `query:"account" doc:"0: the first on which money of clients lies"`
			On        isoDay `query:"on" doc:"nothing: the end of the last month, as far as statements go"`
		}) (*banking.Reconciliation, error) {
			on, err := in.On.orNone("on")
			if err != nil {
				return nil, err
			}
			return banking.ReconcileOn(ctx, s.app, actor, in.AccountID, on)
		})
	operation(s, api, http.MethodGet, "/bank/reconciliations", "listReconciliations", "What was reconciled and kept, the latest first",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]banking.KeptReconciliation, error) {
			return banking.KeptReconciliations(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/bank/reconciliations", "keepReconciliation", "Keep how the clients' account stands on a day, as a document",
		func(ctx context.Context, actor app.Actor, in *struct{ Body banking.Keeping }) (*banking.KeptReconciliation, error) {
			return banking.KeepReconciliation(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operationRaw(s, api, "/bank/reconciliations/{id}/document", "readReconciliationFile", "The document of a reconciliation",
		func(ctx context.Context, actor app.Actor, in *ByID) (*download, error) {
			return attached(banking.ReconciliationFile(ctx, s.app, actor, in.ID))
		})
}

// registerOutgoing has what is paid out: orders to banks, and what people are paid back.
func (s *server) registerOutgoing(api huma.API) {
	operation(s, api, http.MethodGet, "/outgoing", "listOutgoing", "What is to be paid out and is in no order yet",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]banking.ToPay, error) {
			return banking.Outgoing(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/bank/orders", "listBankOrders", "What banks were asked to pay, the latest first",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]banking.BankOrder, error) {
			return banking.Orders(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/bank/orders", "orderPayments", "Make files of what is to be paid out: one for each account",
		func(ctx context.Context, actor app.Actor, in *struct{ Body banking.Ordering }) ([]banking.BankOrder, error) {
			return banking.OrderPayments(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operationRaw(s, api, "/bank/orders/{id}/file", "readBankOrder", "The file of an order, ISO 20022 pain.001",
		func(ctx context.Context, actor app.Actor, in *ByID) (*download, error) {
			name, content, err := banking.OrderFile(ctx, s.app, actor, in.ID)
			return &download{"application/xml", mime.FormatMediaType("attachment", map[string]string{"filename": name}), content}, err
		})
	operation(s, api, http.MethodPost, "/bank/orders/{id}/withdrawal", "withdrawBankOrder", "Take an order back that the bank did not get",
		func(ctx context.Context, actor app.Actor, in *versioned) (nothing, error) {
			return nothing{}, banking.Withdraw(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Version)
		})
	operation(s, api, http.MethodGet, "/paid-back", "listPaidBack", "What people were paid back, the latest first",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]banking.PaidBack, error) {
			return banking.PaidBackLately(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/paid-back/owed/{id}", "listOwedTo", "What a person laid out and was not paid back",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Currency string `query:"currency" maxLength:"3" required:"true"`
		}) ([]banking.OwedExpense, error) {
			return banking.OwedTo(ctx, s.app, actor, in.ID, money.Currency(in.Currency))
		})
	operation(s, api, http.MethodPost, "/paid-back", "payBack", "Note that a person was paid back some other way than by an order",
		func(ctx context.Context, actor app.Actor, in *struct{ Body banking.PayingBack }) (nothing, error) {
			return nothing{}, banking.PayBack(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPost, "/paid-back/{id}/taken-back", "takeBackPaid", "Say that a person was not paid back after all",
		func(ctx context.Context, actor app.Actor, in *versioned) (nothing, error) {
			return nothing{}, banking.TakeBackPaid(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Version)
		})
}

// versioned names something, as it was read.
type versioned struct {
	ByID
	Body struct {
		Version int64 `json:"version"`
	}
}

// bankTable reads a bank's CSV file.
func bankTable(content []byte) (header []string, rows [][]string, point bool, err error) {
	table, err := sheets.Read(content)
	if err != nil {
		return nil, nil, false, app.InField("files", err)
	}
	return table.Header, table.Rows, table.Point, nil
}
