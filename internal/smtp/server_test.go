package smtp

import (
	"bufio"
	"bytes"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/x509"
	"encoding/json"
	"encoding/pem"
	"fmt"
	"io"
	"math/big"
	"mime"
	"mime/multipart"
	"mime/quotedprintable"
	"net"
	"net/mail"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"dorvet/core/letter"
)

// taken is a mail as the other server took it.
type taken struct {
	From, Mail string
	To         []string
}

// otherServer starts a mail server of another hand, which takes mails by TLS and from an account alone. Its certificate is trusted through
// the file that Go reads the machine's from.
func otherServer(t *testing.T) (address string, next func() taken) {
	t.Helper()
	if _, err := os.Stat("../../web/node_modules/smtp-server"); err != nil {
		t.Skip("smtp-server is not there: make build installs it")
	}
	folder := t.TempDir()
	key, certificate := filepath.Join(folder, "key.pem"), filepath.Join(folder, "certificate.pem")
	certified(t, key, certificate)
	t.Setenv("SSL_CERT_FILE", certificate)
	script, err := filepath.Abs("server_test.cjs")
	if err != nil {
		t.Fatal(err)
	}
	server := exec.Command("node", script, key, certificate)
	server.Env = append(os.Environ(), "NODE_PATH="+filepath.Join(filepath.Dir(script), "../../web/node_modules"))
	out, err := server.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	server.Stderr = os.Stderr
	if err := server.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { server.Process.Kill(); server.Wait() })
	lines := bufio.NewReader(out)
	read := func(into any) {
		t.Helper()
		line, err := lines.ReadBytes('\n')
		if err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(line, into); err != nil {
			t.Fatal(err)
		}
	}
	began := struct{ Port int }{}
	read(&began)
	return fmt.Sprintf("localhost:%d", began.Port), func() (m taken) { t.Helper(); read(&m); return m }
}

// certified writes a key and a certificate of it for this machine.
func certified(t *testing.T, keyFile, certificateFile string) {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	template := &x509.Certificate{SerialNumber: big.NewInt(1), NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour),
		DNSNames: []string{"localhost"}, IPAddresses: []net.IP{net.IPv4(127, 0, 0, 1)}, IsCA: true, BasicConstraintsValid: true}
	certificate, err := x509.CreateCertificate(rand.Reader, template, template, key.Public(), key)
	if err != nil {
		t.Fatal(err)
	}
	secret, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		t.Fatal(err)
	}
	for path, block := range map[string]*pem.Block{keyFile: {Type: "PRIVATE KEY", Bytes: secret}, certificateFile: {Type: "CERTIFICATE", Bytes: certificate}} {
		if err := os.WriteFile(path, pem.EncodeToMemory(block), 0o600); err != nil {
			t.Fatal(err)
		}
	}
}

// parts are the texts and files of a message, by their types, through net/mail and mime.
func parts(t *testing.T, header mail.Header, body io.Reader, found map[string]string) {
	t.Helper()
	media, params, err := mime.ParseMediaType(header.Get("Content-Type"))
	if err != nil {
		t.Fatal(err)
	}
	if !strings.HasPrefix(media, "multipart/") {
		if strings.EqualFold(header.Get("Content-Transfer-Encoding"), "quoted-printable") {
			body = quotedprintable.NewReader(body)
		}
		content, err := io.ReadAll(body)
		if err != nil {
			t.Fatal(err)
		}
		if _, disposition, err := mime.ParseMediaType(header.Get("Content-Disposition")); err == nil {
			media += " " + disposition["filename"]
		}
		found[media] = string(content)
		return
	}
	reader := multipart.NewReader(body, params["boundary"])
	for {
		part, err := reader.NextRawPart()
		if err == io.EOF {
			return
		}
		if err != nil {
			t.Fatal(err)
		}
		parts(t, mail.Header(part.Header), part, found)
	}
}

// Oracle: smtp-server of the npm registry takes what we send by TLS, with an account, and net/mail and mime read it: RFC 5322, 2045 to
// 2047, 2231 for the name of a file, 8058 for ending reminders with one click.
func TestAServerOfAnotherHandTakesLetters(t *testing.T) {
	address, next := otherServer(t)
	server := Server{Address: address, User: "bills", Password: "open sesame", Return: "reports@firm.example"}
	l := letter.Letter{From: mail.Address{Name: "Küste & Söhne", Address: "bills@firm.example"}, To: mail.Address{Name: "Ånn", Address: "ann@client.example"},
		Copies: []mail.Address{{Address: "book@client.example"}}, Blind: []mail.Address{{Address: "us@firm.example"}}, Subject: "Rechnung für Ελλάδα",
		Body: "Grüße, see https://firm.example/invoice#abc\n.\nend\n", At: time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC), ID: "7.1", ReturnKey: "k7",
		EndsAt: "https://firm.example/api/public/reminders/s3cret", Files: []letter.File{{Name: "Rechnung Nº 7 größer.pdf", MediaType: "application/pdf",
			Content: bytes.Repeat([]byte("%PDF"), 1000)}}}
	if err := server.Send(t.Context(), l); err != nil {
		t.Fatal(err)
	}
	got := next()
	if got.From != "reports+k7@firm.example" || !slices.Equal(got.To, []string{"ann@client.example", "book@client.example", "us@firm.example"}) {
		t.Errorf("the envelope: %s to %v", got.From, got.To)
	}
	m, err := mail.ReadMessage(strings.NewReader(got.Mail))
	if err != nil {
		t.Fatal(err)
	}
	subject, err := new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject"))
	if from, err2 := m.Header.AddressList("From"); err != nil || err2 != nil || subject != l.Subject || from[0].Name != l.From.Name ||
		m.Header.Get("Bcc") != "" || strings.Contains(got.Mail, "us@firm.example") {
		t.Errorf("%q from %v: %v %v", subject, from, err, err2)
	}
	if m.Header.Get("List-Unsubscribe") != "<"+l.EndsAt+">" || m.Header.Get("List-Unsubscribe-Post") != "List-Unsubscribe=One-Click" {
		t.Errorf("%v", m.Header)
	}
	found := map[string]string{}
	parts(t, m.Header, m.Body, found)
	if text := strings.ReplaceAll(found["text/plain"], "\r\n", "\n"); strings.TrimSpace(text) != strings.TrimSpace(l.Body) {
		t.Errorf("%q", text)
	}
	if !strings.Contains(found["text/html"], "Grüße") || strings.Contains(found["text/html"], "<img") || len(found) != 3 {
		t.Errorf("%v", found)
	}

	plain := l
	plain.EndsAt = ""
	if err := server.Send(t.Context(), plain); err != nil {
		t.Fatal(err)
	}
	if m, err := mail.ReadMessage(strings.NewReader(next().Mail)); err != nil || m.Header.Get("List-Unsubscribe") != "" {
		t.Errorf("what is no reminder can be ended: %v", err)
	}
	wrong := server
	wrong.Password = "guess"
	if err := wrong.Send(t.Context(), l); err == nil || !strings.Contains(err.Error(), "wrong account") {
		t.Errorf("a wrong password: %v", err)
	}
	refused := l
	refused.To.Address = "nobody@client.example"
	if err := server.Send(t.Context(), refused); err == nil || !strings.Contains(err.Error(), "nobody of this name") {
		t.Errorf("the words of the server are lost: %v", err)
	}
}
