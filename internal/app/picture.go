package app

import (
	"bytes"
	"image"
	"image/jpeg"
	"image/png"
	"net/http"
	"time"

	"dorvet/internal/store"

	"github.com/disintegration/imaging"
)

// Limits on what people upload.
const (
	MaxFileBytes  = 20 << 20
	maxFilePixels = 6000 * 4000
)

// drawing lets one picture at a time be unpacked: a large one takes some hundred MB.
var drawing = make(chan struct{}, 1)

// jpegQuality keeps the small print of a photographed receipt readable.
const jpegQuality = 88

// decoded reads a PNG or JPEG, by its content, turned as the camera was held.
func decoded(field string, content []byte, maxBytes, maxPixels int) (image.Image, error) {
	config, _, err := image.DecodeConfig(bytes.NewReader(content))
	switch {
	case err != nil:
		return nil, RefuseField(field, "This is neither a PNG nor a JPEG: choose a picture of one of these kinds.")
	case len(content) > maxBytes || config.Width*config.Height > maxPixels:
		return nil, RefuseField(field, "This picture is too large: take a smaller one.")
	}
	picture, err := imaging.Decode(bytes.NewReader(content), imaging.AutoOrientation(true))
	if err != nil {
		return nil, RefuseField(field, "This picture is broken: save it again, then choose it.")
	}
	return picture, nil
}

// Reencode takes a PNG or JPEG and draws it anew as PNG, so that nothing hidden in
// the file comes along; within a width and a height, if they are given.
func Reencode(field string, content []byte, maxBytes, maxPixels, width, height int) ([]byte, error) {
	drawing <- struct{}{}
	defer func() { <-drawing }()
	picture, err := decoded(field, content, maxBytes, maxPixels)
	if err != nil {
		return nil, err
	}
	if width > 0 {
		picture = imaging.Fit(picture, width, height, imaging.Lanczos)
	}
	var out bytes.Buffer
	err = png.Encode(&out, picture)
	return out.Bytes(), err
}

// Document takes a PDF as it is, or a picture drawn anew, by its content and not
// by its name. A JPEG stays one: as PNG a photograph would be many times larger.
func Document(field string, content []byte) (clean []byte, mediaType string, err error) {
	if len(content) > MaxFileBytes {
		return nil, "", RefuseField(field, "This file is larger than 20 MB: take a smaller one.")
	}
	switch http.DetectContentType(content) {
	case "application/pdf":
		return content, "application/pdf", nil
	case "image/png":
		clean, err = Reencode(field, content, MaxFileBytes, maxFilePixels, 0, 0)
		return clean, "image/png", err
	case "image/jpeg":
		drawing <- struct{}{}
		defer func() { <-drawing }()
		picture, err := decoded(field, content, MaxFileBytes, maxFilePixels)
		if err != nil {
			return nil, "", err
		}
		var out bytes.Buffer
		err = jpeg.Encode(&out, picture, &jpeg.Options{Quality: jpegQuality})
		return out.Bytes(), "image/jpeg", err
	}
	return nil, "", RefuseField(field, "This is neither a PDF nor a picture: choose a PDF, PNG or JPEG.")
}

// What a person uploads in a day, at the most.
const (
	mostUploads     = 500
	mostUploadBytes = 500 << 20
)

// KeepUpload keeps a file that a person uploaded; what does not come to be named is
// swept a day later.
func (tx *Tx) KeepUpload(a *App, content []byte, mediaType string) (digest string, err error) {
	number, size, err := store.UploadedSince(tx.DB, tx.Actor.PersonID, tx.Now.Add(-24*time.Hour))
	if err != nil {
		return "", err
	}
	if number >= mostUploads || size+int64(len(content)) > mostUploadBytes {
		return "", Refuse(Conflict, "You have uploaded as much as a day allows, %d files or %d MB: go on tomorrow, or ask "+
			"whoever runs Dorvet.",
			mostUploads, mostUploadBytes>>20)
	}
	if digest, err = a.Store.Keep(tx.DB, content, mediaType, tx.Now); err != nil {
		return "", err
	}
	return digest, store.NoteUploader(tx.DB, digest, tx.Actor.PersonID, tx.Now)
}
