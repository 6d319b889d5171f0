// Package explain holds the steps by which a figure was made. A computation
// returns a result that keeps what it was made from; its steps are a view of
// that result, never a second computation.
package explain

// Step is one line of an explanation. Figure is the step's result as it is
// read; Steps are what it was made of, outermost first.
type Step struct {
	Label  string `json:"label"`
	Detail string `json:"detail,omitempty"`
	Figure string `json:"figure,omitempty"`
	Steps  []Step `json:"steps,omitempty"`
}
