package demo

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math/rand/v2"
	"time"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"
)

// by is a request of a person, by number.
func by(person int64) app.Request {
	return app.Request{Actor: app.Actor{PersonID: person, Role: people[person-1].role}}
}

// expenses of every week: who buys what, on an engagement by its number, for about
// how many cents or, in kilometres, tenths of a unit.
var spending = []struct {
	person               int64
	category             int64
	engagement           int
	supplier, text       string
	least, most          int
	taxed, given, byHand bool // with VAT in it; the person gets it back; not every week
}{
	{3, 2, 1, "", "To Ennisfarne harbour and back", 90, 380, false, true, false},
	{7, 1, 5, "Skerrin Coaches", "Coach to the ferry slip", 1850, 4200, true, false, false},
	{8, 2, 6, "", "Site visits, shoreline frontages", 120, 640, false, true, true},
	{10, 6, 7, "Harbour Chandlery", "Rope, shackles and marks", 3900, 18800, true, false, true},
	{11, 2, 7, "", "Wash gauges to the landing", 200, 900, false, true, false},
	{5, 3, 6, "The Old Sluice Inn", "Lunch with the working group", 2200, 6400, true, true, true},
	{9, 1, 2, "Northline Rail", "Rail to the regulator", 4400, 9700, true, false, true},
}

// spend records what was bought in the week that ends on a Friday.
func (s *seeder) spend(on day.Day) error {
	if on.Weekday() != time.Friday {
		return nil
	}
	s.at(on, 19)
	for _, p := range spending {
		amount := p.least + s.bought.IntN(p.most-p.least)
		if p.byHand && s.bought.IntN(3) > 0 {
			continue
		}
		in := timekeeping.TypedPurchase{PersonID: p.person, CategoryID: p.category, Day: on - day.Day(s.bought.IntN(4)),
			Supplier: p.supplier,
			Text:     p.text, PaidBy: "firm",
			Shares: []timekeeping.TypedShare{{EngagementID: s.engagements[p.engagement-1], Treatment: wip.Billable}}}
		if p.given {
			in.PaidBy = "person"
		}
		if in.CategoryID == 2 {
			in.Units = fmt.Sprintf("%d.%d", amount/10, amount%10)
		} else {
			in.Amount = cents(amount)
		}
		if p.taxed {
			in.Tax = cents(amount - amount*100/123)
		}
		if s.bought.IntN(9) == 0 {
			in.Shares[0].Treatment = wip.NoCharge
		}
		if p.supplier != "" && s.bought.IntN(2) == 0 {
			file, err := s.receipt(by(p.person), p.supplier, in)
			if err != nil {
				return err
			}
			in.Files = []timekeeping.AttachedFile{*file}
		}
		if _, err := timekeeping.RecordPurchase(s.ctx, s.app, by(p.person), in); err != nil {
			return fmt.Errorf("%s on %s: %w", p.text, on, err)
		}
	}
	return nil
}

func cents(n int) string { return fmt.Sprintf("%d.%02d", n/100, n%100) }

// receipt draws what a supplier might hand out, as a picture or, from those who
// send it by mail, as a PDF.
func (s *seeder) receipt(r app.Request, supplier string, in timekeeping.TypedPurchase) (*timekeeping.AttachedFile, error) {
	lines := []string{supplier, in.Day.Long(), "", in.Text, "", "VAT  " + in.Tax, "Total  EUR " + in.Amount, "", "Invented for practice"}
	name, content := "receipt.png", drawn(lines)
	if supplier == "Northline Rail" {
		var err error
		name = "ticket.pdf"
		if content, err = printed(lines); err != nil {
			return nil, err
		}
	}
	return timekeeping.KeepFile(s.ctx, s.app, r, name, content)
}

func drawn(lines []string) []byte {
	paper := image.NewGray(image.Rect(0, 0, 300, 40+18*len(lines)))
	for i := range paper.Pix {
		paper.Pix[i] = 250
	}
	pen := font.Drawer{Dst: paper, Src: image.NewUniform(color.Black), Face: basicfont.Face7x13}
	for i, line := range lines {
		pen.Dot = fixed.P(20, 34+18*i)
		pen.DrawString(line)
	}
	var out bytes.Buffer
	if err := png.Encode(&out, paper); err != nil {
		panic(err) // a picture in memory is always written
	}
	return out.Bytes()
}

func printed(lines []string) ([]byte, error) {
	doc := fpdf.New("P", "mm", "A6", "")
	doc.SetCreationDate(Today.Time())
	doc.SetModificationDate(Today.Time())
	doc.SetCatalogSort(true)
	doc.AddPage()
	doc.SetFont("Helvetica", "", 12)
	for _, line := range lines {
		doc.CellFormat(0, 8, line, "", 1, "", false, 0, "")
	}
	var out bytes.Buffer
	err := doc.Output(&out)
	return out.Bytes(), err
}

// split records purchases that several engagements share: fuel for the launch over
// three, a licence over two and the firm itself; and fees paid for clients.
func (s *seeder) split() error {
	on := day.Of(2026, 11, 18)
	s.at(on, 19)
	e := func(n int) int64 { return s.engagements[n-1] }
	billable := func(engagement int64, amount string, used day.Day, note string) timekeeping.TypedShare {
		return timekeeping.TypedShare{EngagementID: engagement, Amount: amount, Day: used, Note: note, Treatment: wip.Billable}
	}
	purchases := []timekeeping.TypedPurchase{
		{PersonID: 3, CategoryID: 6, Day: on, Supplier: "Harbour Chandlery", Text: "Fuel for the survey launch", Amount: "307.50",
			Tax:    "57.50",
			PaidBy: "firm",
			Shares: []timekeeping.TypedShare{billable(e(1), "80.00", on-2, "two trips"), billable(e(5), "65.00", on-1, ""),
				billable(e(7), "", on, "")}},
		{PersonID: 7, CategoryID: 6, Day: on - 7, Supplier: "Tidal Data Office", Text: "Tide tables and current data", Amount: "215.25",
			Tax: "40.25", PaidBy: "firm",
			Shares: []timekeeping.TypedShare{billable(e(5), "65.00", on-7, ""), billable(e(6), "50.00", on-6, ""),
				{Amount: "", Note: "our own copy", Treatment: wip.NotBillable}}},
		{PersonID: 2, CategoryID: 7, Day: on - 9, Supplier: "Marine Licence Office", Text: "Fee for the dredge licence", Amount: "420.00",
			PaidBy: "firm", Shares: []timekeeping.TypedShare{billable(e(2), "", on-9, "")}},
		{PersonID: 5, CategoryID: 7, Day: on - 5, Supplier: "Land and Shore Registry", Text: "Search fee", Amount: "48.00",
			PaidBy: "person",
			Shares: []timekeeping.TypedShare{billable(e(6), "", on-5, "")}},
	}
	for _, in := range purchases {
		if in.CategoryID == 6 {
			file, err := s.receipt(by(in.PersonID), in.Supplier, in)
			if err != nil {
				return err
			}
			in.Files = []timekeeping.AttachedFile{*file}
		}
		if _, err := timekeeping.RecordPurchase(s.ctx, s.app, by(in.PersonID), in); err != nil {
			return fmt.Errorf("%s: %w", in.Text, err)
		}
	}
	return nil
}

// treated records entries of every treatment that the daily work does not have.
func (s *seeder) treated() error {
	on := day.Of(2026, 11, 19)
	s.at(on, 20)
	fixedFee, other := s.laterWork[3], s.laterWork[6] // slipway levels and a rock armour check, both at a fixed fee
	entry := func(person, engagement, service int64, on day.Day, worked, text string) timekeeping.TypedEntry {
		return timekeeping.TypedEntry{PersonID: person, EngagementID: engagement, ServiceID: service, Day: on, Worked: worked,
			Treatment: wip.Billable, Text: text}
	}
	extra, extraToo := entry(14, fixedFee, 3, on, "1:30", "Second opinion, asked for in addition"),
		entry(9, other, 1, on-1, "2:15", "Extra visit after the storm")
	extra.Treatment, extraToo.Treatment = wip.OutOfScope, wip.OutOfScope
	night, early := entry(2, s.engagements[3], 4, on-2, "1:12", "Call with counsel, late evening"),
		entry(5, s.engagements[4], 1, on, "2:00", "Seal watch before dawn")
	night.Markup, early.Markup = "25", "-10"
	desk, fee := entry(2, s.engagements[0], 5, on-9, "", "Data room, by the month"),
		entry(5, s.engagements[5], 5, on-9, "", "Online map, by the month")
	desk.Flat, desk.Returns, fee.Flat, fee.Returns = "95.00", true, "60.00", true
	opinion := entry(14, s.engagements[10], 3, on-3, "3:20", "Expert opinion at an agreed price")
	opinion.Flat = "450.00"
	later, waiting := entry(2, s.engagements[6], 4, on-1, "1:48", "Draft of the speed limits"),
		entry(5, s.engagements[3], 3, on-1, "2:06", "Statement, to be agreed first")
	later.Hold, waiting.Hold = "2026-12-15", "released"
	third, fourth := entry(8, s.engagements[5], 3, on-8, "1:20", "Chapter in dispute"),
		entry(9, s.laterWork[2], 3, on-2, "1:00", "After the buoy is back")
	third.Hold, fourth.Hold = "released", "2027-01-11"
	timed, foreseen := entry(10, s.engagements[10], 1, on-6, "", "Anchor test, morning tide"),
		entry(13, s.engagements[5], 3, on-6, "3:30", "Policy maps, frontage 4")
	timed.Started, timed.Ended, timed.Expected = "6:40", "9:05", "2:00"
	foreseen.Expected, foreseen.Reference = "4:00", "IVC/81/26-4"
	for _, in := range []timekeeping.TypedEntry{extra, extraToo, night, early, desk, fee, opinion, later, waiting, third, fourth, timed,
		foreseen} {
		if _, err := timekeeping.Record(s.ctx, s.app, s.admin, in); err != nil {
			return fmt.Errorf("%s: %w", in.Text, err)
		}
	}
	return nil
}

// weeks hands in the weeks that are over: the older are approved, of the last two
// some wait, some were sent back, some were never submitted.
func (s *seeder) weeks() error {
	s.at(Today, 8)
	last := Today.Monday() - 7
	for monday := firstDay; monday <= last; monday += 7 {
		for person := int64(1); person <= int64(len(people)); person++ {
			if monday == last && person%3 != 0 || monday == last-7 && person%5 == 0 {
				continue
			}
			if err := timekeeping.Submit(s.ctx, s.app, by(person), person, monday); err != nil {
				return err
			}
			if monday < last-7 || monday == last-7 && person%3 == 1 {
				if err := timekeeping.Approve(s.ctx, s.app, s.admin, person, monday); err != nil {
					return err
				}
			}
		}
	}
	for _, back := range []struct {
		person int64
		reason string
	}{{6, "Tuesday is recorded twice: please look."}, {12, "The texts are missing on Thursday."}} {
		if err := timekeeping.SendBack(s.ctx, s.app, s.admin, back.person, last, back.reason); err != nil {
			return err
		}
	}
	return nil
}

// timers of three people run or wait. They are counted by the machine's own time,
// which goes on while the date stands still.
func (s *seeder) timers() error {
	now := time.Now().UTC().Truncate(time.Second)
	for _, t := range []struct {
		person, engagement, service int64
		text                        string
		began, paused               time.Duration // before now
	}{
		{3, s.engagements[2], 2, "Difference chart against the last survey", 3 * time.Hour, 105 * time.Minute},
		{3, s.engagements[0], 1, "Side-scan mosaic, line 7", 42 * time.Minute, 0},
		{2, s.engagements[1], 4, "Licence conditions", 25 * time.Minute, 0},
		{1, s.engagements[11], 6, "Tender, section 3", 90 * time.Minute, 15 * time.Minute},
	} {
		treatment := wip.Billable
		if t.service == 6 {
			treatment = wip.NotBillable
		}
		s.app.Clock = app.PinnedClock{Date: Today, At: now.Add(-t.began)}
		timer, err := timekeeping.StartTimer(s.ctx, s.app, by(t.person),
			timekeeping.TypedTimer{EngagementID: t.engagement, ServiceID: t.service, Treatment: treatment, Text: t.text})
		if err == nil && t.paused > 0 {
			s.app.Clock = app.PinnedClock{Date: Today, At: now.Add(-t.paused)}
			_, err = timekeeping.PauseTimer(s.ctx, s.app, by(t.person), timer.ID)
		}
		if err != nil {
			return fmt.Errorf("timer on %s: %w", t.text, err)
		}
	}
	return nil
}

// buying is what the purchases are drawn from, apart from the rest, which they
// leave as it is.
func buying() *rand.Rand { return rand.New(rand.NewPCG(seed, seed+2)) }
