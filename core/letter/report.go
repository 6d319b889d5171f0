package letter

import "strings"

// Report is what a mail server says of a letter that it took (RFC 3464).
type Report struct {
	ReturnKey string // of the letter
	Recipient string // of whom it speaks: whoever it went to, or a copy
	Action    Action
	Status    string // like 5.1.1
	Said      string // by the server that refused it, in its own words
}

// Action is what became of a letter.
type Action string

// The actions of RFC 3464, 2.3.3. Relayed says that nothing more will be said.
const (
	Failed    Action = "failed"
	Delayed   Action = "delayed"
	Delivered Action = "delivered"
	Relayed   Action = "relayed"
	Expanded  Action = "expanded"
)

// remedies are what to do about a letter that did not arrive, by the beginning of its status (RFC 3463).
var remedies = []struct{ status, remedy string }{
	{"5.1", "Mend the address, then send it again."},
	{"5.2.2", "Their mailbox is full: send it again later, or print it."},
	{"5.2", "Their mailbox takes nothing: send it to somebody else, or print it."},
	{"5.3.4", "It is too large for their server: leave files out, then send it again."},
	{"5.7", "Their server refuses mails from here: ask them, or print it."},
	{"4", "Their server could not be reached: send it again later."},
}

// Remedy is what to do about a letter that failed with a status, in a sentence.
func Remedy(status string) string {
	for _, r := range remedies {
		if strings.HasPrefix(status, r.status) {
			return r.remedy
		}
	}
	return "Send it again, to another address, or print it."
}
