package documents

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"dorvet/core/invoice"
)

// photograph is a receipt of a hundred by two hundred points, as PNG and JPEG.
func photograph(t *testing.T) (asPNG, asJPEG []byte) {
	t.Helper()
	picture := image.NewGray(image.Rect(0, 0, 100, 200))
	picture.Pix[5050] = 255
	var p, j bytes.Buffer
	if err := png.Encode(&p, picture); err != nil {
		t.Fatal(err)
	}
	if err := jpeg.Encode(&j, picture, nil); err != nil {
		t.Fatal(err)
	}
	return p.Bytes(), j.Bytes()
}

// Poppler and qpdf read what was gathered: every page of every file, in their order.
func TestReceiptsAreGatheredIntoOnePDF(t *testing.T) {
	asPNG, asJPEG := photograph(t)
	doc := sample(t, 40)
	doc.Number = "R77"
	twoPages, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	var file bytes.Buffer
	if err := Gathered(&file, [][]byte{asPNG, twoPages, asJPEG}); err != nil {
		t.Fatal(err)
	}
	if info := poppler(t, file.Bytes(), "pdfinfo"); !strings.Contains(strings.Join(strings.Fields(info), " "), "Pages: 4") {
		t.Errorf("it has other pages: %s", info)
	}
	if text := poppler(t, file.Bytes(), "pdftotext", "-f", "2", "-l", "2"); !strings.Contains(text, "R77") {
		t.Errorf("the second page is not the first of the PDF: %q", text)
	}
	if images := poppler(t, file.Bytes(), "pdfimages", "-list"); !strings.Contains(images, "200") {
		t.Errorf("the pictures are not in it: %s", images)
	}
	var alone bytes.Buffer
	if err := Gathered(&alone, [][]byte{twoPages}); err != nil || !bytes.Equal(alone.Bytes(), twoPages) {
		t.Errorf("one file is not left as it is: %v", err)
	}
	for name, files := range map[string][][]byte{"nothing": nil, "no picture": {[]byte("receipt")}, "cut off": {asJPEG, twoPages[:len(twoPages)/3]},
		"a PDF in name alone": {[]byte("%PDF-1.7 and nothing of it")}, "half a picture": {asPNG[:40]}} {
		if err := Gathered(new(bytes.Buffer), files); err == nil {
			t.Errorf("%s is gathered", name)
		}
	}
}

// The address lies in the window of the envelope. Source: DIN 5008, form B (45 to 90 mm from the top, 20 to 105 mm from the left); the
// window of a No. 10 envelope as the code has it. Both from memory. Poppler says where words are, in points of 1/72 inch.
func TestTheAddressLiesInTheWindow(t *testing.T) {
	for paper, window := range map[string][4]float64{"a4": {20, 45, 105, 90}, "letter": {22.2, 63.5, 136.5, 80.5}} {
		first, second, other := sample(t, 3), sample(t, 3), sample(t, 3)
		first.Number, second.Number, other.Number = "N1", "N2", "N3"
		for _, doc := range []*invoice.Document{&first, &second, &other} {
			doc.Look.Paper = paper
			doc.Client.Name, doc.Client.Address = "Windowpane Ltd", []string{"Streetline 5", "Townline"}
		}
		other.Client.Name = "Elsewhere"
		var file bytes.Buffer
		err := Bound(&file, func(yield func(invoice.Document, error) bool) {
			_ = yield(first, nil) && yield(second, nil) && yield(other, nil)
		}, true)
		if err != nil {
			t.Fatal(err)
		}
		text := poppler(t, file.Bytes(), "pdftotext", "-layout")
		if pages := strings.Split(text, "\f"); len(pages) != 6 || !strings.Contains(pages[0], "N1") || !strings.Contains(pages[0], "N2") ||
			strings.Contains(pages[0], "N3") || !strings.Contains(pages[3], "Elsewhere") {
			t.Errorf("%s: two envelopes with three invoices are other pages:\n%s", paper, text)
		}
		boxes := poppler(t, file.Bytes(), "pdftotext", "-bbox", "-f", "1", "-l", "1")
		for _, word := range []string{"Windowpane", "Streetline", "Townline"} {
			var box [4]float64
			at := strings.Index(boxes, ">"+word+"<")
			from := strings.LastIndex(boxes[:max(at, 0)], "<word")
			if at < 0 || from < 0 {
				t.Fatalf("%s: %s is not on the sheet: %s", paper, word, boxes)
			}
			if _, err := fmt.Sscanf(boxes[from:at], `<word xMin="%f" yMin="%f" xMax="%f" yMax="%f"`, &box[0], &box[1], &box[2], &box[3]); err != nil {
				t.Fatal(err)
			}
			for i := range box {
				box[i] *= 25.4 / 72
			}
			if box[0] < window[0] || box[1] < window[1] || box[2] > window[2] || box[3] > window[3] {
				t.Errorf("%s: %s lies at %.1f mm, the window at %v", paper, word, box, window)
			}
		}
	}
}
