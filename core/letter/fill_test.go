package letter

import (
	"fmt"
	"testing"
)

func TestPlaceholdersAreFilledOrListed(t *testing.T) {
	filled, open := Fill("Dear {client}, from {start}: {cleint} {} {empty}",
		map[string]string{"client": "Port", "start": "1 Jan", "empty": ""})
	if filled != "Dear Port, from 1 Jan: {cleint} {} {empty}" || fmt.Sprint(open) != "[cleint empty]" {
		t.Errorf("%q leaves %v open", filled, open)
	}
}
