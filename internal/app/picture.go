package app

import (
	"bytes"
	"image"
	_ "image/jpeg" // the two kinds of picture that are taken
	"image/png"
	"net/http"
)

// Limits on what people upload.
const (
	MaxFileBytes  = 20 << 20
	maxFilePixels = 6000 * 6000
)

// Redraw takes a PNG or JPEG, by its content, and draws it anew as PNG, so that
// nothing hidden in the file comes along.
func Redraw(field string, content []byte, maxBytes, maxPixels int) ([]byte, error) {
	config, _, err := image.DecodeConfig(bytes.NewReader(content))
	switch {
	case err != nil:
		return nil, RefuseField(field, "This is neither a PNG nor a JPEG: choose a picture of one of these kinds.")
	case len(content) > maxBytes || config.Width*config.Height > maxPixels:
		return nil, RefuseField(field, "This picture is too large: take a smaller one.")
	}
	picture, _, err := image.Decode(bytes.NewReader(content))
	if err != nil {
		return nil, RefuseField(field, "This picture is broken: save it again, then choose it.")
	}
	var out bytes.Buffer
	err = png.Encode(&out, picture)
	return out.Bytes(), err
}

// Document takes a PDF as it is, or a picture drawn anew, by its content and not
// by its name.
func Document(field string, content []byte) (clean []byte, mediaType string, err error) {
	if len(content) > MaxFileBytes {
		return nil, "", RefuseField(field, "This file is larger than 20 MB: take a smaller one.")
	}
	switch http.DetectContentType(content) {
	case "application/pdf":
		return content, "application/pdf", nil
	case "image/png", "image/jpeg":
		clean, err = Redraw(field, content, MaxFileBytes, maxFilePixels)
		return clean, "image/png", err
	}
	return nil, "", RefuseField(field, "This is neither a PDF nor a picture: choose a PDF, PNG or JPEG.")
}
