package simulator

import (
	"context"
	"net/mail"
	"strings"
	"testing"
	"time"

	"dorvet/core/letter"
	"dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/internal/smtp"
)

// A real conversation over SMTP; what arrives is read back by net/mail and
// mime/multipart (RFC 5322, RFC 2045), not by what wrote it.
func TestALetterArrivesAsItWasWritten(t *testing.T) {
	sink, address, err := OpenSink(t.TempDir(), "")
	if err != nil {
		t.Fatal(err)
	}
	defer sink.Close()
	at := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	sent := letter.Letter{From: mail.Address{Name: "Skärow, Coastal", Address: "a@firm.example"},
		To:     mail.Address{Name: "Bo Åk", Address: "bo@client.example"},
		Copies: []mail.Address{{Address: "c@client.example"}}, Subject: "Our proposal: € 8.400 für Sie", Body: "Dear Bo,\n\n" +
			strings.Repeat("a long line ", 30) + "\n.\nÅ € Ж\n",
		At: at, ID: "p1.2", Accent: "#0F5F68", Files: []letter.File{{Name: "P12 signed.pdf", MediaType: "application/pdf", Content: []byte("%PDF-1.4")},
			{Name: "SC1.xml", MediaType: "text/xml", Content: []byte("<x/>")}}}
	server := smtp.Server{Address: address}
	if err := server.Send(t.Context(), sent); err != nil {
		t.Fatal(err)
	}
	second := sent
	second.Files, second.Subject = nil, "Plain"
	if err := server.Send(t.Context(), second); err != nil {
		t.Fatal(err)
	}
	mails, err := sink.Mails(10)
	if err != nil || len(mails) != 2 || mails[0].Subject != "Plain" || mails[1].Subject != sent.Subject || !mails[1].At.Equal(at) {
		t.Fatalf("%+v, %v", mails, err)
	}
	for _, want := range []struct {
		name        string
		attachments int
	}{{mails[0].Name, 0}, {mails[1].Name, 2}} {
		opened, err := sink.Open(want.name)
		if err != nil {
			t.Fatal(err)
		}
		if strings.TrimRight(opened.Text, "\n") != strings.TrimRight(sent.Body, "\n") || len(opened.Attachments) != want.attachments {
			t.Errorf("it reads %q with %v", opened.Text, opened.Attachments)
		}
		if !strings.Contains(opened.HTML, "<br>.<br>Å € Ж</p>") {
			t.Errorf("it shows %q", opened.HTML)
		}
		if opened.To != "Bo Åk <bo@client.example>" || opened.From != "Skärow, Coastal <a@firm.example>" {
			t.Errorf("from %s to %s", opened.From, opened.To)
		}
	}
	if _, err := sink.Open("../000001.eml"); err == nil {
		t.Error("a file outside the folder is opened")
	}
}

func TestAServerThatIsNotThereIsAnError(t *testing.T) {
	err := smtp.Server{Address: "127.0.0.1:1"}.Send(context.Background(),
		letter.Letter{From: mail.Address{Address: "a@firm.example"}, To: mail.Address{Address: "b@client.example"}, Subject: "x"})
	if err == nil {
		t.Error("it was sent")
	}
}

func TestOnlyTestNumbersAreKept(t *testing.T) {
	p := &Payments{Now: func() time.Time { return time.Date(2026, 12, 1, 0, 0, 0, 0, time.UTC) }}
	card := func(number string) (paymentmethod.Kept, error) {
		return p.KeepCard(t.Context(), paymentmethod.Card{Number: number, Expires: "12/30", Code: "123", Holder: "A. Client"})
	}
	one, err := card("9000 0000 0000 0019")
	if err != nil || one.LastFour != "0019" || strings.Contains(one.Token, "9000") {
		t.Errorf("%+v, %v", one, err)
	}
	if two, _ := card(GoodCard); two.Token == one.Token {
		t.Error("two cards have one token")
	}
	if _, err := card(RefusedCard); err != errRefused {
		t.Errorf("%v", err)
	}
	if _, err := card("79927398713000000"); err == nil || err == errRefused {
		t.Errorf("%v", err)
	}
	account := func(iban string) error {
		_, err := p.KeepAccount(t.Context(), paymentmethod.Account{IBAN: iban, Holder: "A. Client"})
		return err
	}
	if account(GoodIBAN) != nil || account(RefusedIBAN) != errRefused || account("GB82WEST12345698765432") != errOnlyTest {
		t.Error("accounts")
	}
}

// A card pays at once or never; a debit is on its way, arrives, and may come back, which is told; asked again it is the same.
func TestTheStandInTakesMoneyOnce(t *testing.T) {
	now := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	p := &Payments{Now: func() time.Time { return now }}
	token := map[string]string{}
	for _, number := range []string{GoodCard, EmptyCard} {
		kept, err := p.KeepCard(t.Context(), paymentmethod.Card{Number: number, Expires: "12/30", Code: "123", Holder: "A. Client"})
		if err != nil {
			t.Fatal(err)
		}
		token[number] = kept.Token
	}
	for _, number := range []string{GoodIBAN, ReturnedIBAN} {
		kept, err := p.KeepAccount(t.Context(), paymentmethod.Account{IBAN: number, Holder: "A. Client"})
		if err != nil {
			t.Fatal(err)
		}
		token[number] = kept.Token
	}
	at := func(after time.Duration, number string) onlinepayment.State {
		now = time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC).Add(after)
		said, err := p.Charge(t.Context(), paymentmethod.Charge{Key: "k" + number, Token: token[number]})
		if err != nil || !said.Known || said.Reference == "" {
			t.Fatalf("%+v, %v", said, err)
		}
		return said.State
	}
	for _, c := range []struct {
		number           string
		first, then, end onlinepayment.State
	}{{GoodCard, onlinepayment.Received, onlinepayment.Received, onlinepayment.Received},
		{EmptyCard, onlinepayment.Failed, onlinepayment.Failed, onlinepayment.Failed},
		{GoodIBAN, onlinepayment.Pending, onlinepayment.Received, onlinepayment.Received},
		{ReturnedIBAN, onlinepayment.Pending, onlinepayment.Received, onlinepayment.Returned}} {
		got := [3]onlinepayment.State{at(0, c.number), at(debitDays, c.number), at(2*debitDays, c.number)}
		if got != [3]onlinepayment.State{c.first, c.then, c.end} {
			t.Errorf("%s: %v", c.number, got)
		}
	}
}
