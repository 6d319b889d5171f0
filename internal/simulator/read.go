package simulator

import (
	"bytes"
	"encoding/base64"
	"errors"
	"io"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net/mail"
	"strings"
)

// Opened is a mail as it is read.
type Opened struct {
	Delivered
	From        string   `json:"from"`
	Text        string   `json:"text"`
	HTML        string   `json:"-"`
	Attachments []string `json:"attachments"`
}

// Open reads a mail by the name of its file.
func (s *Sink) Open(name string) (*Opened, error) {
	raw, err := s.Raw(name)
	if err != nil {
		return nil, err
	}
	return Read(name, raw)
}

// Read takes a mail apart, by RFC 5322 and MIME.
func Read(name string, raw []byte) (*Opened, error) {
	message, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return nil, err
	}
	at, _ := message.Header.Date()
	o := &Opened{Delivered: Delivered{name, at, people(message.Header.Get("To")), decoded(message.Header.Get("Subject"))},
		From: people(message.Header.Get("From")), Attachments: []string{}}
	return o, o.part(message.Header.Get("Content-Type"), message.Header.Get("Content-Transfer-Encoding"), "", message.Body)
}

func (o *Opened) part(contentType, encoding, file string, body io.Reader) error {
	media, parameters, err := mime.ParseMediaType(contentType)
	if err != nil {
		return err
	}
	if strings.HasPrefix(media, "multipart/") {
		parts := multipart.NewReader(body, parameters["boundary"])
		for {
			part, err := parts.NextRawPart()
			if errors.Is(err, io.EOF) {
				return nil
			}
			if err != nil {
				return err
			}
			if err := o.part(part.Header.Get("Content-Type"), part.Header.Get("Content-Transfer-Encoding"), part.FileName(),
				part); err != nil {
				return err
			}
		}
	}
	if file != "" {
		o.Attachments = append(o.Attachments, file)
		return nil
	}
	switch strings.ToLower(encoding) {
	case "quoted-printable":
		body = quotedprintable.NewReader(body)
	case "base64":
		body = base64.NewDecoder(base64.StdEncoding, body)
	}
	text, err := io.ReadAll(body)
	if media == "text/html" {
		o.HTML += string(text)
		return err
	}
	o.Text += strings.ReplaceAll(string(text), "\r\n", "\n")
	return err
}

func decoded(header string) string {
	text, err := new(mime.WordDecoder).DecodeHeader(header)
	if err != nil {
		return header
	}
	return text
}

// people are the addressees of a header as they are read: names with addresses.
func people(header string) string {
	list, err := mail.ParseAddressList(header)
	if err != nil {
		return header
	}
	all := []string{}
	for _, a := range list {
		all = append(all, strings.TrimSpace(a.Name+" <"+a.Address+">"))
	}
	return strings.Join(all, ", ")
}
