package demo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"strings"

	"dorvet/internal/app/setup"
)

// speaking are clients whose documents are in another language than English, and
// what the firm writes to them.
var speaking = map[string]struct{ language, opening, closing string }{
	"Mossel Point Aquaculture":    {"de", "Für unsere Arbeit an Küste und Hafen:", "Danke für die Zusammenarbeit."},
	"Perrin Quay Estates":         {"fr", "Pour nos travaux sur la côte et le port :", "Merci de votre confiance."},
	"Lanner Cliffs Hotel":         {"es", "Por nuestro trabajo en costa y puerto:", "Gracias por su confianza."},
	"Kelder Dredging Cooperative": {"pl", "Za prace na wybrzeżu i w porcie:", "Dziękujemy za współpracę."},
	"Innish Rona Ferry":           {"el", "Για τις εργασίες σε ακτή και λιμάνι:", "Ευχαριστούμε για τη συνεργασία."},
}

// abroad are the tax numbers of clients in other countries, all invented.
var abroad = map[string]string{"Greywater Array": "NO 000 000 001 MVA", "Namiuchi Wave Bureau": "JP T0000000000001",
	"Arden Shoal Wind": "GB 000 0000 01", "Jarl Sound Salmon": "NO 000 000 002 MVA",
	"Quillan Bay Desalination": "US 00-0000001"}

// documents are what documents need: where everybody is, in which language they
// read, how the firm's papers look, its accounts.
func (s *seeder) documents() error {
	mark, err := logo()
	if err != nil {
		return err
	}
	steps := []error{
		s.set("entities", 1, "country", "IE"), s.set("entities", 2, "country", "IE", "bank_name", "Harbourside Credit", "bic", "DEMOIE00"),
		setup.SetLogo(s.ctx, s.app, s.admin, mark),
		s.adds("wordings", []string{"language", "en", "label", "reference", "text", "Please quote"},
			[]string{"language", "de", "label", "subtotal", "text", "Summe der Positionen"}),
		s.set("clients", 2, "expense_statement", "yes"), s.set("clients", 3, "design", "column"),
		s.set("clients", 8, "design", "band", "typeface", "mixed", "paper", "letter", "colour", "#2B3A67"),
	}
	for i := range grades {
		steps = append(steps, s.set("grades", int64(i+1), "file_class", []string{"PT", "AS", "AS", "AS", "OT", "AS", "PL"}[i]))
	}
	for i, v := range services {
		if v.kind == "time" && v.code != "" {
			steps = append(steps, s.set("services", int64(i+1), "task_code", "L130"))
		}
	}
	for i, account := range []string{"1100", "1200", "2300", "2310", "4000", "4010", "4020", "4030", "4100", "4110", "4200", "4900", "2320",
		"2200", "1150", "7900", "9000", "7910", "7920", "2215", "4800"} {
		steps = append(steps, s.set("ledger-accounts", int64(i+1), "account", account))
	}
	for i, c := range clients {
		steps = append(steps, s.placed(int64(i+1), c.name, c.address, ""))
	}
	for i, c := range later {
		town, _, _ := strings.Cut(c.name, " ")
		steps = append(steps, s.placed(int64(len(clients)+i+1), c.name, fmt.Sprintf("%d Strand Road\n%sport", 2+i*3, town), c.country))
	}
	return errors.Join(append(steps, s.enclosed(2, "Terms of business", "Our terms of business", "Invoices are due within 30 days."),
		s.enclosed(23, "Winter soundings", "Soundings in winter", "We survey from October to March, too."))...)
}

// enclosed keeps a file of the firm's own that goes along with the invoices of a client.
func (s *seeder) enclosed(clientID int64, name string, lines ...string) error {
	id, err := s.add("enclosures", "name", name)
	if err != nil {
		return err
	}
	content, err := printed(append(lines, "Invented for practice"))
	if err != nil {
		return err
	}
	return errors.Join(setup.SetEnclosureFile(s.ctx, s.app, s.admin, id, name+".pdf", content), s.set("clients", clientID, "enclosure", name))
}

// placed gives a client an address, a country and a language.
func (s *seeder) placed(id int64, name, address, country string) error {
	values := []string{"billing_address", address}
	if abroad[name] != "" {
		values = append(values, "tax_number", abroad[name])
	}
	if country == "" && name != "Quillan Bay Desalination" {
		values = append(values, "country", "IE")
	}
	if name == "Quillan Bay Desalination" {
		values = append(values, "country", "US")
	}
	if speaks, other := speaking[name]; other {
		values = append(values, "language", speaks.language, "opening_text", speaks.opening, "closing_text", speaks.closing)
	}
	return s.set("clients", id, values...)
}

// logo draws the mark of the firm: three waves in a disc.
func logo() ([]byte, error) {
	const side, fine = 240, 3 // each point is looked at nine times
	picture := image.NewNRGBA(image.Rect(0, 0, side, side))
	for y := range side {
		for x := range side {
			disc, wave := 0, 0
			for n := range fine * fine {
				px, py := (float64(x)+float64(n%fine)/fine)/side*2-1, (float64(y)+float64(n/fine)/fine)/side*2-1
				if px*px+py*py > 0.96 {
					continue
				}
				disc++
				for _, line := range []float64{-0.38, 0, 0.38} {
					if math.Abs(py-line-0.09*math.Sin(px*7)) < 0.075 {
						wave++
					}
				}
			}
			if disc == 0 {
				continue
			}
			mix := func(from uint8) uint8 { return from + uint8((255-int(from))*wave/disc) }
			picture.SetNRGBA(x, y, color.NRGBA{mix(0x0F), mix(0x5F), mix(0x68), uint8(255 * disc / (fine * fine))})
		}
	}
	var out bytes.Buffer
	err := png.Encode(&out, picture)
	return out.Bytes(), err
}
