package ledger

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// The kinds of what is settled by giving it up, and of what makes it owed again: money that comes after all, or a change of mind.
const (
	WrittenOff = "written_off"
	Recovered  = "recovered"
	OwedAgain  = "owed_again"
)

// GiveUp settles what is owed on an invoice as bad debt: net and tax apart, by the invoice's shares.
func GiveUp(tx *app.Tx, inv *store.Invoice, minor int64, taxes []int64, on day.Day) (tax int64, err error) {
	if tax, err = taxBetween(inv, taxes, inv.WrittenOff, inv.WrittenOff+minor); err != nil {
		return 0, err
	}
	for _, part := range []struct {
		minor  int64
		bucket string
	}{{minor - tax, app.BadDebt}, {tax, app.BadDebtTax}} {
		if part.minor == 0 {
			continue
		}
		if err := Settle(tx, inv, part.minor, Settlement{Kind: WrittenOff, Bucket: part.bucket, Day: on}); err != nil {
			return 0, err
		}
	}
	inv.WrittenOff += minor
	return tax, store.Save(tx.DB, inv)
}

// taxBetween is the tax of what of an invoice is lost from one sum of losses to another.
func taxBetween(inv *store.Invoice, taxes []int64, before, after int64) (int64, error) {
	was, err := receivable.LostTax(before, inv.Total-sum(taxes), taxes)
	if err != nil {
		return 0, err
	}
	is, err := receivable.LostTax(after, inv.Total-sum(taxes), taxes)
	return is - was, err
}

func sum(minor []int64) (all int64) {
	for _, m := range minor {
		all += m
	}
	return all
}

// Reinstate makes what was given up of an invoice owed again, the oldest instalment first, on a day but not before it was given up: because
// it came with a payment, or because it was given up too soon.
func Reinstate(tx *app.Tx, inv *store.Invoice, minor int64, taxes []int64, kind string, on day.Day, paymentID *int64) error {
	if minor > inv.WrittenOff {
		return app.Refuse(app.Conflict, "%s is more than what was written off of %s: %s.", inv.Amount(minor), inv.NumberText,
			inv.Amount(inv.WrittenOff))
	}
	tax, err := taxBetween(inv, taxes, inv.WrittenOff-minor, inv.WrittenOff)
	if err != nil {
		return err
	}
	if err := tx.FlushPostings(); err != nil {
		return err
	}
	movements, err := store.MoneyOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	lost := lostOf(movements)
	left := map[string]int64{app.BadDebt: minor - tax, app.BadDebtTax: tax}
	for i := range lost {
		took := min(left[lost[i].ToBucket], lost[i].Amount)
		left[lost[i].ToBucket] -= took
		if err := reinstate(tx, inv, &lost[i], took, kind, max(on, lost[i].EffectiveDay), paymentID); err != nil {
			return err
		}
	}
	if err := tx.FlushPostings(); err != nil {
		return err
	}
	received, err := store.ReceivedOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	inv.State = invoice.Standing(inv.Open, received)
	tx.LinkTo(app.OfInvoice, inv.ID)
	return store.Save(tx.DB, inv)
}

// lostOf is what still lies in the buckets of bad debt, by instalment, the oldest first.
func lostOf(movements []store.MoneyMovement) []store.MoneyMovement {
	lost := slices.DeleteFunc(slices.Clone(movements), func(m store.MoneyMovement) bool {
		return !isLoss(m.FromBucket) && !isLoss(m.ToBucket)
	})
	lost = app.Standing(lost)
	for i := range lost {
		if isLoss(lost[i].FromBucket) {
			lost[i].FromBucket, lost[i].ToBucket, lost[i].Amount, lost[i].FirmAmount = lost[i].ToBucket, lost[i].FromBucket, -lost[i].Amount,
				-lost[i].FirmAmount
		}
	}
	slices.SortStableFunc(lost, func(a, b store.MoneyMovement) int { return int(*a.InstalmentID - *b.InstalmentID) })
	return lost
}

func isLoss(bucket string) bool { return bucket == app.BadDebt || bucket == app.BadDebtTax }

// reinstate makes a part of what was lost on an instalment owed again, at the rate at which it was lost.
func reinstate(tx *app.Tx, inv *store.Invoice, lost *store.MoneyMovement, minor int64, kind string, on day.Day, paymentID *int64) error {
	if minor == 0 {
		return nil
	}
	firm, err := money.MulDiv(lost.FirmAmount, minor, lost.Amount)
	if err != nil {
		return err
	}
	tx.Post(store.MoneyMovement{Kind: kind, InvoiceID: &inv.ID, InstalmentID: lost.InstalmentID, ClientID: inv.ClientID, EntityID: inv.EntityID,
		EffectiveDay: on, FromBucket: lost.ToBucket, ToBucket: app.Receivable, Amount: minor, Currency: inv.Currency, FirmAmount: firm,
		PaymentID: paymentID})
	part, err := store.InstalmentByID(tx.DB, *lost.InstalmentID)
	if err != nil {
		return err
	}
	inv.Open, inv.WrittenOff = inv.Open+minor, inv.WrittenOff-minor
	return store.SetOpen(tx.DB, part.ID, part.Open+minor)
}
