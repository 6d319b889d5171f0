package setup_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"image/png"
	"slices"
	"strings"
	"testing"

	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
)

func TestALogoIsDrawnAnewWithoutWhatWasHiddenInIt(t *testing.T) {
	a := apptest.Firm(t)
	var photo bytes.Buffer
	if err := jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 30, 20)), nil); err != nil {
		t.Fatal(err)
	}
	// A comment segment after the first marker, as cameras write places.
	hidden := slices.Concat(photo.Bytes()[:2], []byte{0xff, 0xfe, 0x00, 0x0a}, []byte("53.27 N "), photo.Bytes()[2:])
	if err := setup.SetLogo(t.Context(), a, apptest.Admin, hidden); err != nil {
		t.Fatal(err)
	}
	kept, err := setup.Logo(t.Context(), a)
	if err != nil || bytes.Contains(kept, []byte("53.27")) {
		t.Fatalf("%v", err)
	}
	if config, err := png.DecodeConfig(bytes.NewReader(kept)); err != nil || config.Width != 30 || config.Height != 20 {
		t.Errorf("%+v, %v", config, err)
	}
	for name, content := range map[string][]byte{"a text": []byte("<svg/>"), "a cut picture": photo.Bytes()[:200],
		"too many bytes": slices.Concat(hidden, make([]byte, 3<<20))} {
		if r := apptest.RefusalOf(t, setup.SetLogo(t.Context(), a, apptest.Admin, content)); r == nil ||
			!strings.HasPrefix(r.Sentence, "This ") {
			t.Errorf("%s: %v", name, r)
		}
	}
	if err := setup.SetLogo(t.Context(), a, apptest.Admin, nil); err != nil {
		t.Fatal(err)
	}
	if kept, err := setup.Logo(t.Context(), a); err != nil || kept != nil {
		t.Errorf("%d bytes, %v", len(kept), err)
	}
}
