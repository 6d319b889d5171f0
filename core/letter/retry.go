package letter

import "time"

// waits are how long a letter waits after each try that failed: an hour's trouble of a
// mail server is no reason to give up.
var waits = []time.Duration{time.Minute, 5 * time.Minute, 30 * time.Minute, 2 * time.Hour, 6 * time.Hour}

// Again is when a letter is tried again that has failed so many times, the last at an
// instant; no more says that it has failed for good.
//
//	after the first failure a minute later, after the sixth no more
func Again(failures int, last time.Time) (at time.Time, more bool) {
	if failures < 1 || failures > len(waits) {
		return last, failures < 1
	}
	return last.Add(waits[failures-1]), true
}
