package wip

// Bucket is a place in the work ledger. Work comes from Recorded, the outside,
// and lies in one bucket at a time.
type Bucket string

// The buckets. What is reserved on a draft is still unbilled work: reserving is
// no movement.
const (
	InRecorded    Bucket = "recorded"
	InUnbilled    Bucket = "unbilled"
	InBilled      Bucket = "billed"
	InCovered     Bucket = "covered"
	InWrittenDown Bucket = "written_down"
	InWrittenOff  Bucket = "written_off"
	InNotBillable Bucket = "not_billable"
)

// Bucket is where a portion in a state lies. Work at no charge is written down
// in full when it is billed; work behind a fee is covered by it. What is written
// down is off a bill, what is written off else is lost for good.
func (b Billing) Bucket(t Treatment, covered, writtenDown bool) Bucket {
	switch {
	case b == Reserved:
		return InUnbilled
	case b == Billed && t == NoCharge:
		return InWrittenDown
	case b == Billed && covered:
		return InCovered
	case b == WrittenOff && writtenDown:
		return InWrittenDown
	}
	return Bucket(b)
}
