package letter

import (
	"net/mail"
	"strings"
	"testing"
)

// Source: RFC 5322, sections 2.2 (a header field has no bare line break) and 3.4
// (addresses), through net/mail.
func TestALetterHasAnAddresseeAndOneLineOfSubject(t *testing.T) {
	good := Letter{From: mail.Address{Name: "Firm", Address: "a@firm.example"}, To: mail.Address{Address: "b@client.example"},
		Subject: "Ours"}
	if err := good.Check(); err != nil {
		t.Fatal(err)
	}
	for name, spoil := range map[string]func(*Letter){
		"no addressee": func(l *Letter) { l.To.Address = "" }, "a bare name": func(l *Letter) { l.To.Address = "client" },
		"a second header":    func(l *Letter) { l.Subject = "Ours\r\nBcc: all@client.example" },
		"no subject":         func(l *Letter) { l.Subject = "" },
		"a header in a name": func(l *Letter) { l.To.Name = "B\nBcc: x@y.example" },
		"a copy to nowhere":  func(l *Letter) { l.Copies = []mail.Address{{Address: "@"}} },
	} {
		bad := good
		spoil(&bad)
		if bad.Check() == nil {
			t.Errorf("%s: it can be sent", name)
		}
	}
}

func TestAddresses(t *testing.T) {
	all, err := Addresses("Ann <ann@client.example>, bob@client.example")
	if err != nil || len(all) != 2 || all[0].Name != "Ann" || all[1].Address != "bob@client.example" {
		t.Errorf("%v, %v", all, err)
	}
	if none, err := Addresses("  "); err != nil || none != nil {
		t.Errorf("%v, %v", none, err)
	}
	if _, err := Addresses("ann"); err == nil || !strings.Contains(err.Error(), "ann") {
		t.Errorf("%v", err)
	}
}
