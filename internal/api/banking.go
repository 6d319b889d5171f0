package api

import (
	"context"
	"net/http"

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

// bankTable reads a bank's CSV file.
func bankTable(content []byte) (header []string, rows [][]string, point bool, err error) {
	table, err := sheets.Read(content)
	if err != nil {
		return nil, nil, false, app.InField("files", err)
	}
	return table.Header, table.Rows, table.Point, nil
}
