package wip

import "dorvet/core/refusal"

// Billing is where a portion of work stands. Approval and hold are answered
// apart from it.
type Billing string

// The states of billing.
const (
	Unbilled   Billing = "unbilled"
	Reserved   Billing = "reserved" // on a draft
	Billed     Billing = "billed"
	WrittenOff Billing = "written_off"
	Outside    Billing = "not_billable"
)

// Act is something that is done to a portion of work.
type Act string

// The acts on a portion. Reserving takes it onto a draft, releasing takes it
// off again; reopening an invoice reserves its portions as they were.
const (
	Change       Act = "change"
	Reserve      Act = "reserve"
	Release      Act = "release"
	Bill         Act = "bill"
	Reopen       Act = "reopen"
	BillAgain    Act = "bill again" // what a credit note gives back
	WriteOff     Act = "write off"
	TakeBack     Act = "take back" // undo a write-off
	MakeOutside  Act = "make not billable"
	MakeBillable Act = "make billable"
)

var steps = map[Billing]map[Act]Billing{
	Unbilled:   {Change: Unbilled, Reserve: Reserved, WriteOff: WrittenOff, MakeOutside: Outside},
	Reserved:   {Release: Unbilled, Bill: Billed},
	Billed:     {Reopen: Reserved, BillAgain: Unbilled},
	WrittenOff: {TakeBack: Unbilled},
	Outside:    {Change: Outside, MakeBillable: Unbilled},
}

var remedies = map[Billing]string{
	Unbilled:   "it is unbilled",
	Reserved:   "it is on a draft: take it out of the draft first",
	Billed:     "it is billed: reopen or credit its invoice first",
	WrittenOff: "it is written off: take the write-off back first",
	Outside:    "it is not billable: make it billable first",
}

// After is the state that an act leads to, or an error that says why the act
// can't be done and what to do instead.
func (b Billing) After(act Act) (Billing, error) {
	if next, ok := steps[b][act]; ok {
		return next, nil
	}
	return b, refusal.Errorf("this entry can't be %s, because %s", past[act], remedies[b])
}

var past = map[Act]string{Change: "changed", Reserve: "put on a draft", Release: "taken out", Bill: "billed",
	Reopen: "reopened", BillAgain: "billed again", WriteOff: "written off", TakeBack: "taken back", MakeOutside: "made not billable",
	MakeBillable: "made billable"}
