package setup

import (
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

func gradeKind() registry.AnyKind {
	type G = store.Grade
	d := &registry.Definition[G]{
		Kind: registry.Kind{Name: "grades", One: "grade", Many: "grades", About: "How people are classified; rates can hold for a grade.",
			First: []string{"name"}},
		Table: registry.Group("Grade", registry.Line("name", "Name", func(g *G) *string { return &g.Name }).Required(),
			registry.Choice("file_class", "In the billing file", func(g *G) *string { return &g.FileClass }, "PT", "PT, partner", "AS",
				"AS, associate", "PL", "PL, paralegal", "LA", "LA, legal assistant",
				"OC", "OC, of counsel", "OT", "OT, other timekeeper").Listed()),
		Blank:  func(*registry.Env) (G, error) { return G{FileClass: "OT", Active: true}, nil },
		Active: func(g *G) *bool { return &g.Active },
	}
	return d.Ready()
}

func personKind() registry.AnyKind {
	type P = store.Person
	d := &registry.Definition[P]{
		Kind: registry.Kind{Name: "people", One: "person", Many: "people", First: []string{"name", "mail", "role"}, Files: true,
			About: "Who works here, with role, grade, office and capacity. Their rates have dates of their own."},
		Table: registry.Concat(
			registry.Group("Person",
				registry.Line("name", "Name", func(p *P) *string { return &p.Name }).Required(),
				registry.Line("initials", "Initials",
					func(p *P) *string { return &p.Initials }).Permanent().Hinted("made from the name unless given").Listed(),
				registry.Line("mail", "Mail", func(p *P) *string { return &p.Mail }).Required().Listed().Protected(),
				registry.Line("phone", "Phone", func(p *P) *string { return &p.Phone }),
				registry.Line("iban", "IBAN", func(p *P) *string { return &p.IBAN }).Hinted("to which they are paid back what they lay out").Protected(),
				registry.Ref("grade", "Grade", "grades", func(p *P) **int64 { return &p.GradeID }).Listed(),
				registry.Ref("office", "Office", "offices", func(p *P) **int64 { return &p.OfficeID }).Listed(),
				registry.Must("entity", "Issuing entity", "entities", func(p *P) *int64 { return &p.EntityID }),
				registry.HoursOf("weekly", "Hours a week", func(p *P) *int { return &p.WeeklyMinutes }).Listed()),
			registry.Group("What they may do",
				registry.Choice("role", "Role", func(p *P) *string { return &p.Role }, "administrator", "administrator", "lead", "lead",
					"staff",
					"staff", "owner", "owner").Listed().Protected(),
				registry.YesNo("sees_rates", "Sees rates and values",
					func(p *P) *bool { return &p.SeesRates }).Hinted("staff; a lead sees what work costs, too, and margins").Protected(),
				limitedTo().Protected(),
				registry.YesNo("sees_times", "Sees others' time",
					func(p *P) *bool { return &p.SeesTimes }).Hinted("staff and leads; others do").Protected()),
			registry.Group("While away",
				registry.Ref("stand_in", "Stand-in", "people",
					func(p *P) **int64 { return &p.StandInID }).Hinted("leads their engagements meanwhile"),
				registry.DayOf("stand_in_from", "From", func(p *P) *day.Day { return &p.StandInFrom }),
				registry.DayOf("stand_in_to", "To", func(p *P) *day.Day { return &p.StandInTo }))),
		Blank:  freshPerson,
		Check:  checkPerson,
		After:  afterPerson,
		Active: func(p *P) *bool { return &p.Active },
	}
	return d.Ready()
}

// limitedTo names the issuing entities that a person works for alone.
func limitedTo() registry.FieldOf[store.Person] {
	return registry.FieldOf[store.Person]{
		Field: registry.Field{Name: "limited_to", Label: "Only for the entities", Form: "lines",
			Hint: "names, one a line; empty: all of them"},
		Read: func(e *registry.Env, p *store.Person) (string, error) {
			ids, err := store.EntitiesOf(e.Tx, p.ID)
			names := []string{}
			for _, id := range ids {
				key, err := e.KeyOf("entities", id)
				if err != nil {
					return "", err
				}
				names = append(names, key)
			}
			return strings.Join(names, "\n"), err
		},
		Link: func(e *registry.Env, id int64, text string) error {
			ids := []int64{}
			for _, name := range strings.Split(text, "\n") {
				if name = strings.TrimSpace(name); name == "" {
					continue
				}
				entity, err := e.Find("entities", name)
				if err != nil {
					return err
				}
				ids = append(ids, entity)
			}
			return store.LimitTo(e.Tx, id, ids)
		},
	}
}

const fullTime = 40 * 60

func freshPerson(e *registry.Env) (store.Person, error) {
	entity, err := firstEntity(e)
	return store.Person{Role: string(app.Staff), EntityID: entity, WeeklyMinutes: fullTime, Active: true}, err
}

func checkPerson(e *registry.Env, p *store.Person) error {
	if _, err := mail.ParseAddress(p.Mail); err != nil {
		return app.RefuseField("mail", "%q is no mail address: write it like name@firm.example.", p.Mail)
	}
	if p.StandInID != nil && *p.StandInID == p.ID {
		return app.RefuseField("stand_in", "Nobody can stand in for themselves: choose somebody else.")
	}
	account := paymentmethod.Account{IBAN: p.IBAN, Holder: p.Name}
	if p.IBAN = account.Compact(); p.IBAN != "" {
		if err := account.Check(); err != nil {
			return app.InField("iban", err)
		}
	}
	if p.Initials != "" {
		return nil
	}
	var err error
	p.Initials = freeInitials(p.Name, func(initials string) bool {
		taken, failed := e.Taken("people", initials)
		err = errors.Join(err, failed)
		return taken
	})
	return err
}

// freeInitials are the first letters of a name, with a number where others have
// them.
func freeInitials(name string, taken func(string) bool) string {
	initials := ""
	for _, word := range strings.Fields(name) {
		initials += strings.ToUpper(string([]rune(word)[0]))
	}
	free := initials
	for n := 2; taken(free); n++ {
		free = fmt.Sprintf("%s%d", initials, n)
	}
	return free
}

// afterPerson refuses a change after which nobody could set everything up, and one by
// which somebody limited would let another reach further than they do.
func afterPerson(tx *app.Tx, e *registry.Env, before, now *store.Person) error {
	if err := keepWithin(tx, before == nil, now); err != nil {
		return err
	}
	left, err := store.UnlimitedAdministrators(tx.DB)
	if err == nil && left == 0 {
		err = app.Refuse(app.Conflict, "This is the last administrator who is not limited to issuing entities: make "+
			"somebody else one first.")
	}
	if err == nil && left < 2 && e.Firm.TwoAgree {
		err = app.Refuse(app.Conflict, "A second administrator has to agree to some changes, and there would be one alone: make "+
			"somebody else one first.")
	}
	return err
}

// keepWithin keeps whom somebody limited makes or changes within the same limits; a new
// person has them unless fewer are given.
func keepWithin(tx *app.Tx, fresh bool, p *store.Person) error {
	mine := tx.Scope().Entities
	if mine == nil {
		return nil
	}
	theirs, err := store.EntitiesOf(tx.DB, p.ID)
	if err == nil && theirs == nil && fresh {
		return store.LimitTo(tx.DB, p.ID, mine)
	}
	if err != nil || theirs != nil && !slices.ContainsFunc(theirs, func(id int64) bool { return !slices.Contains(mine, id) }) {
		return err
	}
	return app.RefuseField("limited_to", "You are limited to issuing entities: %s can be given these or fewer, not more.", p.Name)
}
