package app_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"testing"

	"dorvet/internal/app"
)

// photographed is a JPEG as a camera makes one that was held upright: the picture
// lies on its side, and EXIF (tag 0x0112, value 6) says so. It hides a place, too.
func photographed(t *testing.T) []byte {
	t.Helper()
	lying := image.NewGray(image.Rect(0, 0, 80, 40))
	for x := range 80 {
		for y := range 40 {
			if x < 16 {
				lying.SetGray(x, y, color.Gray{Y: 255})
			}
		}
	}
	var plain bytes.Buffer
	if err := jpeg.Encode(&plain, lying, nil); err != nil {
		t.Fatal(err)
	}
	exif := "Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x06\x00\x00\x00\x00\x00\x00GPS 53.3N 6.2W"
	var out bytes.Buffer
	out.Write(plain.Bytes()[:2])
	out.Write([]byte{0xff, 0xe1, 0, byte(len(exif) + 2)})
	out.WriteString(exif)
	out.Write(plain.Bytes()[2:])
	return out.Bytes()
}

func TestAPhotographIsTurnedUprightAndTellsNoPlace(t *testing.T) {
	clean, mediaType, err := app.Document("file", photographed(t))
	if err != nil || mediaType != "image/jpeg" {
		t.Fatalf("%s, %v", mediaType, err)
	}
	if bytes.Contains(clean, []byte("GPS")) || bytes.Contains(clean, []byte("Exif")) {
		t.Error("what was hidden came along")
	}
	picture, err := jpeg.Decode(bytes.NewReader(clean))
	if err != nil || picture.Bounds().Dx() != 40 || picture.Bounds().Dy() != 80 {
		t.Fatalf("%v, %v", picture.Bounds(), err)
	}
	// Turned by 90° clockwise, the left edge is on top.
	if top, _, _, _ := picture.At(20, 4).RGBA(); top < 0xc000 {
		t.Errorf("the top is dark: %x", top)
	}
	if bottom, _, _, _ := picture.At(20, 70).RGBA(); bottom > 0x4000 {
		t.Errorf("the bottom is light: %x", bottom)
	}
}
