package pricing

import (
	"dorvet/core/day"
	"dorvet/core/refusal"
)

// ProposalState is how far a proposal has come.
type ProposalState string

// The states, in their order.
const (
	Draft      ProposalState = "draft"
	Sent       ProposalState = "sent"
	Seen       ProposalState = "seen"
	Accepted   ProposalState = "accepted"
	Declined   ProposalState = "declined"
	Withdrawn  ProposalState = "withdrawn"
	Superseded ProposalState = "superseded"
	Expired    ProposalState = "expired"
)

// Act is something that is done to a proposal.
type Act string

// The acts. Renewing sends what has expired, with a later last day.
const (
	Change    Act = "change"
	Delete    Act = "delete"
	Send      Act = "send"
	See       Act = "see"
	Accept    Act = "accept"
	Decline   Act = "decline"
	Withdraw  Act = "withdraw"
	Supersede Act = "supersede"
	Expire    Act = "expire"
	Ask       Act = "ask"
)

var steps = map[ProposalState]map[Act]ProposalState{
	Draft: {Change: Draft, Delete: Withdrawn, Send: Sent, Accept: Accepted},
	Sent: {Send: Sent, See: Seen, Accept: Accepted, Decline: Declined, Withdraw: Withdrawn, Supersede: Superseded, Expire: Expired,
		Ask: Sent},
	Seen: {Send: Seen, See: Seen, Accept: Accepted, Decline: Declined, Withdraw: Withdrawn, Supersede: Superseded, Expire: Expired,
		Ask: Seen},
	Declined:  {Supersede: Superseded},
	Withdrawn: {Supersede: Superseded},
	Expired:   {Withdraw: Withdrawn, Supersede: Superseded},
}

var remedies = map[ProposalState]string{
	Draft:      "it was not sent yet",
	Sent:       "it is out: withdraw it, or make a new version of it",
	Seen:       "it is out: withdraw it, or make a new version of it",
	Accepted:   "it was accepted already: ask whoever sent it, if that is news to you",
	Declined:   "it was declined: ask for a new one",
	Withdrawn:  "it was withdrawn by whoever sent it: ask them for a new one",
	Superseded: "a newer version has taken its place: look at that one",
	Expired:    "its last day is over: a new one can be made from it",
}

var past = map[Act]string{Change: "changed", Delete: "deleted", Send: "sent", See: "seen", Accept: "accepted", Decline: "declined",
	Withdraw: "withdrawn", Supersede: "replaced", Expire: "ended", Ask: "asked about"}

// After is the state that an act leads to, or an error that says why the act
// can't be done and what to do instead.
func (s ProposalState) After(act Act) (ProposalState, error) {
	if next, ok := steps[s][act]; ok {
		return next, nil
	}
	return s, refusal.Errorf("this proposal can't be %s, because %s", past[act], remedies[s])
}

// On is the state on a day: what is out expires when its last day is over.
func (s ProposalState) On(today, lastDay day.Day) ProposalState {
	if s.IsOut() && !lastDay.IsZero() && today > lastDay {
		return Expired
	}
	return s
}

// IsOut reports whether the client can answer.
func (s ProposalState) IsOut() bool { return s == Sent || s == Seen }
