package receivables_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// lost is what the list of bad debt says of net and tax, oldest first.
func lost(t *testing.T, a *app.App) (said [][3]string) {
	t.Helper()
	list, err := receivables.BadDebt(t.Context(), a, apptest.Admin.Actor, day.Of(2026, 1, 1), apptest.Today)
	must(t, err)
	for i := len(list) - 1; i >= 0; i-- {
		said = append(said, [3]string{list[i].What, list[i].Net.String(), list[i].Tax.String()})
	}
	return said
}

func giveUp(t *testing.T, a *app.App, id int64, amount string) *invoices.Invoice {
	t.Helper()
	inv, err := apptest.Invoice(t.Context(), a)(receivables.WriteOff(t.Context(), a, apptest.Admin, id,
		receivables.GivingUp{Amount: amount, Reason: store.LostInsolvent}))
	must(t, err)
	apptest.Whole(t, a)
	return inv
}

func same(t *testing.T, got [][3]string, want ...[3]string) {
	t.Helper()
	if len(got) != len(want) {
		t.Fatalf("%v, not %v", got, want)
	}
	for i := range want {
		if got[i] != want[i] {
			t.Errorf("%v, not %v", got[i], want[i])
		}
	}
}

// What is lost goes with its tax, and stays in the list as lost; what comes after all is recovered, and lost again where it is taken back.
func TestBadDebtWithItsTaxIsRecovered(t *testing.T) {
	a := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey) // 200.00 + 46.00
	inv = giveUp(t, a, inv.ID, "")
	if inv.Open.Minor != 0 || inv.WrittenOff.String() != "246.00" || inv.Beside != "written off" || inv.Money[0].Text != "Written off" {
		t.Errorf("%+v", inv)
	}
	if owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{}); err != nil || len(owed.Clients) != 0 {
		t.Errorf("it is owed: %+v, %v", owed, err)
	}
	// A payment that names nothing is credit: nobody owes anything.
	if credit := receive(t, a, "10"); credit.Unapplied.String() != "10.00" {
		t.Errorf("%+v", credit)
	}
	paid := receive(t, a, "123", receivables.PaidInvoice{InvoiceID: inv.ID})
	if inv = now(t, a, inv.ID); inv.WrittenOff.String() != "123.00" || inv.Open.Minor != 0 || !paid.Unapplied.IsZero() {
		t.Errorf("%+v, %+v", inv, paid)
	}
	same(t, lost(t, a), [3]string{"written_off", "200.00", "46.00"}, [3]string{"recovered", "−100.00", "−23.00"})
	_, err := receivables.Reverse(t.Context(), a, apptest.Admin, paid.ID, "it bounced")
	must(t, err)
	apptest.Whole(t, a)
	if inv = now(t, a, inv.ID); inv.WrittenOff.String() != "246.00" || inv.Open.Minor != 0 {
		t.Errorf("%+v", inv)
	}
	inv, err = apptest.Invoice(t.Context(), a)(receivables.OweAgain(t.Context(), a, apptest.Admin, inv.ID))
	must(t, err)
	apptest.Whole(t, a)
	if inv.Open.String() != "246.00" || inv.State != invoice.Issued || inv.Beside != "" {
		t.Errorf("%+v", inv)
	}
	same(t, lost(t, a)[2:], [3]string{"written_off", "100.00", "23.00"}, [3]string{"owed_again", "−200.00", "−46.00"})
}

// A part is written off, cent by cent the tax adds up; more than is owed can be paid as far as it was written off.
func TestAPartIsWrittenOff(t *testing.T) {
	a := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey)
	giveUp(t, a, inv.ID, "0.01")
	giveUp(t, a, inv.ID, "1.22")
	same(t, lost(t, a), [3]string{"written_off", "0.01", "0.00"}, [3]string{"written_off", "0.99", "0.23"})
	if inv = now(t, a, inv.ID); inv.State != invoice.Issued || inv.Beside != "written off in part" || inv.Open.String() != "244.77" {
		t.Errorf("%+v", inv)
	}
	receive(t, a, "246", receivables.PaidInvoice{InvoiceID: inv.ID})
	if inv = now(t, a, inv.ID); inv.State != invoice.Paid || inv.WrittenOff.Minor != 0 {
		t.Errorf("%+v", inv)
	}
}

// What is not owed, or not yet, or in a closed period, is not written off; what is written off is neither credited nor reopened.
func TestWritingOffIsRefused(t *testing.T) {
	a := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey)
	try := func(in receivables.GivingUp) error {
		_, err := receivables.WriteOff(t.Context(), a, apptest.Admin, inv.ID, in)
		return err
	}
	refused(t, try(receivables.GivingUp{Reason: "insolvent", Amount: "246.01"}), "246.00 is owed")
	refused(t, try(receivables.GivingUp{Reason: "insolvent", Amount: "0"}), "246.00 is owed")
	refused(t, try(receivables.GivingUp{Reason: "insolvent", Day: apptest.Today + 1}), "still to come")
	refused(t, try(receivables.GivingUp{Reason: "insolvent", Day: inv.Dated - 1}), "or a later one")
	refused(t, try(receivables.GivingUp{Reason: "whim"}), "Say why")
	refused(t, try(receivables.GivingUp{Reason: "other"}), "in words")
	_, err := receivables.OweAgain(t.Context(), a, apptest.Admin, inv.ID)
	refused(t, err, "Nothing of this invoice")
	inv = giveUp(t, a, inv.ID, "100")
	_, err = issuing.Reopen(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "take that back first")
	_, err = issuing.Credit(t.Context(), a, apptest.Admin, edit(inv), issuing.Crediting{Reason: "a mistake",
		Lines: []issuing.CreditedLine{{LineID: inv.Lines[0].LineID}}})
	refused(t, err, "take that back first")
	giveUp(t, a, inv.ID, "")
	refused(t, try(receivables.GivingUp{Reason: "insolvent"}), "nothing to write off")
	draft := drafted(t, a, apptest.Advice, "10")
	_, err = receivables.WriteOff(t.Context(), a, apptest.Admin, draft.ID, receivables.GivingUp{Reason: "insolvent"})
	refused(t, err, "Nothing is owed")
}

// In another currency than the firm's, what is lost is lost at the rate of the invoice, to the cent of both.
func TestBadDebtInAnotherCurrency(t *testing.T) {
	a := firm(t)
	apptest.Add(t, a, "exchange-rates", "currency", "JPY", "day", "2026-01-01", "rate", "0.00611", "source", "bank")
	_, err := receivables.EnterOpening(t.Context(), a, apptest.Admin, receivables.TypedOpening{ClientID: 2, Number: "OLD", Currency: "JPY",
		Dated: apptest.Today.AddDays(-90), Due: apptest.Today.AddDays(-60), Balance: "10001"})
	must(t, err)
	list, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	must(t, err)
	giveUp(t, a, list[0].ID, "3333")
	giveUp(t, a, list[0].ID, "")
	same(t, lost(t, a), [3]string{"written_off", "3,333", "0"}, [3]string{"written_off", "6,668", "0"})
	book, err := store.BalanceOf(a.Store.Read(t.Context(), store.Everything), app.Receivable, list[0].ID, 0)
	if err != nil || book.Amount != 0 || book.FirmAmount != 0 {
		t.Errorf("%+v is left, %v", book, err)
	}
}
