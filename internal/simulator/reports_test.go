package simulator

import (
	"net"
	"net/mail"
	"strings"
	"sync"
	"testing"
	"time"

	"dorvet/core/letter"
	"dorvet/internal/smtp"
)

// Reports come back over SMTP to the address that the letter named, and are read by what they are: RFC 3464.
func TestTheStandInSaysWhatBecameOfALetter(t *testing.T) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	var lock sync.Mutex
	said := map[string]letter.Report{}
	reports := smtp.ListenForReports(listener, func(r letter.Report) error {
		lock.Lock()
		defer lock.Unlock()
		said[r.Recipient] = r
		return nil
	})
	sink, address, err := OpenSink(t.TempDir(), listener.Addr().String())
	if err != nil {
		t.Fatal(err)
	}
	server := smtp.Server{Address: address, Return: "reports@firm.example"}
	send := func(to string) error {
		return server.Send(t.Context(), letter.Letter{From: mail.Address{Address: "a@firm.example"}, To: mail.Address{Address: to},
			Subject: "x", Body: "y", At: time.Now(), ID: to, ReturnKey: "key-" + strings.ReplaceAll(to, "@", "-")})
	}
	for _, to := range []string{"bo@client.example", "bounced.bo@client.example", "full.bo@client.example", "slow.bo@client.example"} {
		if err := send(to); err != nil {
			t.Fatal(err)
		}
	}
	if err := send("refused.bo@client.example"); err == nil || !strings.Contains(err.Error(), "nobody of this name") {
		t.Errorf("refused: %v", err)
	}
	for try := range 3 {
		if err := send("later.bo@client.example"); (err == nil) != (try == 2) {
			t.Errorf("try %d of what is put off: %v", try, err)
		}
	}
	if err := sink.Close(); err != nil { // waits for its reports
		t.Fatal(err)
	}
	if err := reports.Close(); err != nil {
		t.Fatal(err)
	}
	for to, want := range map[string]letter.Report{
		"bo@client.example":         {Action: letter.Delivered, Status: "2.0.0"},
		"bounced.bo@client.example": {Action: letter.Failed, Status: "5.1.1", Said: "there is nobody of this name"},
		"full.bo@client.example":    {Action: letter.Failed, Status: "5.2.2", Said: "the mailbox is full"},
		"slow.bo@client.example":    {Action: letter.Delayed, Status: "4.4.1", Said: "their server does not answer"},
		"later.bo@client.example":   {Action: letter.Delivered, Status: "2.0.0"},
	} {
		want.Recipient, want.ReturnKey = to, "key-"+strings.ReplaceAll(to, "@", "-")
		if said[to] != want {
			t.Errorf("%s: %+v, not %+v", to, said[to], want)
		}
	}
}

// BenchmarkALetterWithItsPDF sends letters with a PDF of 60 kB, each in a conversation of its own, to the stand-in, which syncs each.
func BenchmarkALetterWithItsPDF(b *testing.B) {
	sink, address, err := OpenSink(b.TempDir(), "")
	if err != nil {
		b.Fatal(err)
	}
	defer sink.Close()
	server := smtp.Server{Address: address}
	file := letter.File{Name: "invoice.pdf", MediaType: "application/pdf", Content: []byte(strings.Repeat("60 kilobytes. ", 4300))}
	for b.Loop() {
		if err := server.Send(b.Context(), letter.Letter{From: mail.Address{Address: "a@firm.example"}, To: mail.Address{Address: "b@client.example"},
			Subject: "Invoice", Body: "Dear Ann,\n\nhere it is.", At: time.Now(), ID: "x", Files: []letter.File{file}}); err != nil {
			b.Fatal(err)
		}
	}
}
