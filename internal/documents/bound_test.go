package documents

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"iter"
	"runtime"
	"strings"
	"testing"

	"dorvet/core/invoice"
)

// many are n invoices, each with a number of its own.
func many(t testing.TB, n, lines int) iter.Seq2[invoice.Document, error] {
	t.Helper()
	doc := sample(t, lines)
	return func(yield func(invoice.Document, error) bool) {
		for i := range n {
			doc.Number = fmt.Sprintf("N%d", i+1)
			if !yield(doc, nil) {
				return
			}
		}
	}
}

// Poppler reads the file back: each invoice counts its own pages.
func TestManyInvoicesInOneFileHaveTheirOwnPages(t *testing.T) {
	var file bytes.Buffer
	if err := Bound(&file, many(t, 3, 40), false); err != nil {
		t.Fatal(err)
	}
	text := poppler(t, file.Bytes(), "pdftotext", "-layout")
	if strings.Count(text, "Page 1 of 2") != 3 || strings.Count(text, "Page 2 of 2") != 3 || !strings.Contains(text, "N3") {
		t.Errorf("three invoices of two pages read:\n%s", text)
	}
	if err := Bound(io.Discard, many(t, 0, 1), false); err == nil {
		t.Error("a file of nothing is made")
	}
	broken := errors.New("broken")
	if err := Bound(io.Discard, func(yield func(invoice.Document, error) bool) { yield(invoice.Document{}, broken) }, false); !errors.Is(err,
		broken) {
		t.Errorf("%v", err)
	}
}

// A thousand invoices in one file take the memory of that file, and those in an
// archive, drawn one by one, that of one.
func TestAThousandInvoicesTakeLittleMemory(t *testing.T) {
	n := 1000
	if testing.Short() {
		n = 100
	}
	held := func() int64 {
		runtime.GC()
		var m runtime.MemStats
		runtime.ReadMemStats(&m)
		return int64(m.HeapAlloc)
	}
	before, most, i := held(), int64(0), 0
	watched := func(yield func(invoice.Document, error) bool) {
		for doc, err := range many(t, n, 25) {
			if i++; i%50 == 0 {
				most = max(most, held()-before)
			}
			if !yield(doc, err) {
				return
			}
		}
	}
	var size counted
	if err := Bound(&size, watched, false); err != nil {
		t.Fatal(err)
	}
	if most > 8<<20+int64(n)*48<<10 {
		t.Errorf("%d invoices in a file of %d bytes held %d", n, size, most)
	}
	before, most = held(), 0
	for doc := range many(t, n/2, 25) {
		if _, err := PDF(doc); err != nil {
			t.Fatal(err)
		}
		if i++; i%50 == 0 {
			most = max(most, held()-before)
		}
	}
	if most > 4<<20 {
		t.Errorf("invoices that are drawn one by one leave %d bytes behind", most)
	}
}

// counted is how many bytes were written.
type counted int64

func (c *counted) Write(b []byte) (int, error) { *c += counted(len(b)); return len(b), nil }
