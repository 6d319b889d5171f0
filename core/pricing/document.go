package pricing

import "dorvet/core/day"

// Document is an answered proposal as it is printed and kept: every word and
// figure as it was agreed, and the record of the signature.
type Document struct {
	Firm    string
	Colour  string // of the firm, like #0F5F68
	Logo    []byte // as PNG, or nothing
	Address []string
	Number  string
	Title   string
	Client  string
	Dated   day.Day
	Opening string
	Tier    string
	Columns string // what the amounts are in: EUR, net
	Lines   []DocumentLine
	Totals  []DocumentTotal
	Bills   []DocumentLine // with their dates
	Payment string         // when each bill is due
	Terms   string
	Signed  []DocumentTotal // what is known of the signature
}

// DocumentLine is a service, or a bill: what, when, how much.
type DocumentLine struct{ What, Note, When, Amount string }

// DocumentTotal is a label and what stands beside it.
type DocumentTotal struct{ Label, Figure string }
