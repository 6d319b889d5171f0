package invoice

import "dorvet/core/refusal"

// Sort is what an invoice is.
type Sort string

// The sorts. An opening balance is an old invoice of which only what is owed is
// known.
const (
	Ordinary   Sort = "invoice"
	CreditNote Sort = "credit_note"
	Opening    Sort = "opening"
)

// State is how far an invoice has come. What is beside it (sent, disputed,
// credited) is told apart.
type State string

// The states, in their order.
const (
	Draft      State = "draft"
	InApproval State = "in_approval"
	Approved   State = "approved"
	Issued     State = "issued"
	PartPaid   State = "part_paid"
	Paid       State = "paid"
	Deleted    State = "deleted" // a draft that was thrown away
)

// Act is something that is done to an invoice.
type Act string

// The acts. Change is any change of lines, texts or dates of a draft.
const (
	Change         Act = "change"
	AskApproval    Act = "ask for approval"
	Approve        Act = "approve"
	SendBack       Act = "send back"
	Delete         Act = "delete"
	Issue          Act = "issue"
	TakePart       Act = "take a part payment"
	TakeRest       Act = "take the rest"
	ReversePayment Act = "reverse a payment"
	Reopen         Act = "reopen"
	Credit         Act = "credit"
)

var steps = map[State]map[Act]State{
	Draft:      {Change: Draft, AskApproval: InApproval, Approve: Approved, Delete: Deleted, Issue: Issued},
	InApproval: {Change: Draft, Approve: Approved, SendBack: Draft, Delete: Deleted},
	Approved:   {Change: Draft, SendBack: Draft, Delete: Deleted, Issue: Issued},
	Issued:     {TakePart: PartPaid, TakeRest: Paid, Reopen: Draft, Credit: Issued},
	PartPaid:   {TakePart: PartPaid, TakeRest: Paid, ReversePayment: Issued, Credit: PartPaid},
	Paid:       {ReversePayment: PartPaid, Credit: Paid},
}

var remedies = map[State]string{
	Draft:      "it is a draft: issue it first",
	InApproval: "it waits for approval: approve it or send it back first",
	Approved:   "it is approved and not issued: issue it first",
	Issued:     "it is issued: reopen it, or make a credit note",
	PartPaid:   "it is paid in part: make a credit note, or reverse the payment",
	Paid:       "it is paid: make a credit note",
	Deleted:    "it was deleted: make a new draft",
}

var past = map[Act]string{Change: "changed", AskApproval: "given for approval", Approve: "approved", SendBack: "sent back",
	Delete: "deleted", Issue: "issued", TakePart: "paid in part", TakeRest: "paid", ReversePayment: "unpaid",
	Reopen: "reopened", Credit: "credited"}

// After is the state that an act leads to, or an error that says why the act
// can't be done and what to do instead.
func (s State) After(act Act) (State, error) {
	if next, ok := steps[s][act]; ok {
		return next, nil
	}
	return s, refusal.Errorf("this invoice can't be %s, because %s", past[act], remedies[s])
}

// Standing is the state of an issued invoice, from what is still owed of it and
// what money has come in.
func Standing(owed, received int64) State {
	switch {
	case owed == 0:
		return Paid
	case received != 0:
		return PartPaid
	}
	return Issued
}

// IsDraft reports whether the invoice has still to be issued.
func (s State) IsDraft() bool { return s == Draft || s == InApproval || s == Approved }

// IsIssued reports whether the invoice counts as owed or paid.
func (s State) IsIssued() bool { return s == Issued || s == PartPaid || s == Paid }

// The states of invoices that are still to be issued, and of those that are.
var (
	DraftStates  = []State{Draft, InApproval, Approved}
	IssuedStates = []State{Issued, PartPaid, Paid}
)
