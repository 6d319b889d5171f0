// Package demo makes Skerrow Coastal, an invented firm that surveys and advises
// on coasts and harbours. The same seed gives the same data, to the cent, and
// all of it is made through the same acts that people use.
package demo

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
)

// Today is the business date to which the demo is pinned.
var Today = day.Of(2026, 12, 1)

// Password is everybody's in the demo.
const Password = "high-water-mark"

var yearStart = day.Of(2026, 1, 1)

// grades, with what the firm bills an hour of each at and what it costs.
var grades = []struct{ name, bill, cost string }{
	{"Principal", "170", "78"}, {"Hydrographer", "120", "46"}, {"Marine ecologist", "125", "47"}, {"Planner", "125", "45"},
	{"Office", "", "31"},
	{"Coastal engineer", "130", "52"}, {"Technician", "85", "33"},
}

type person struct {
	name, initials string
	role           app.Role
	grade          string
	perHour        string // one's own rate, or nothing
	hours          int
	office         string
}

// The first six were there when the firm began to use Dorvet.
var people = []person{
	{"Maren Oduya", "MO", app.Administrator, "Office", "85", 30, "Ennisfarne"},
	{"Ines Okafor", "IO", app.Lead, "Principal", "175", 38, "Ennisfarne"},
	{"Tomas Brandt", "TB", app.Staff, "Hydrographer", "130", 38, "Ennisfarne"},
	{"Mila Silva", "MS", app.Staff, "Planner", "", 32, "Varray"},
	{"Callum Reyes", "CR", app.Lead, "Marine ecologist", "138", 38, "Varray"},
	{"Astrid Vane", "AV", app.Owner, "Principal", "", 38, "Ennisfarne"},
	{"Bram Solheim", "BS", app.Staff, "Hydrographer", "", 38, "Ennisfarne"},
	{"Ciara Dunmore", "CD", app.Staff, "Marine ecologist", "", 30, "Varray"},
	{"Edda Falk", "EF", app.Lead, "Coastal engineer", "142", 38, "Ennisfarne"},
	{"Joris Penhallow", "JP", app.Staff, "Coastal engineer", "", 38, "Ennisfarne"},
	{"Leonie Marsh", "LM", app.Staff, "Technician", "", 38, "Ennisfarne"},
	{"Niall Orme", "NO", app.Staff, "Technician", "", 20, "Varray"},
	{"Petra Lund", "PL", app.Staff, "Planner", "", 38, "Varray"},
	{"Rafe Tolland", "RT", app.Lead, "Principal", "", 38, "Varray"},
}

// Accounts are the sign-ins, one for each role.
func Accounts() []struct {
	Role             app.Role
	Name, Mail, Pass string
} {
	accounts := []struct {
		Role             app.Role
		Name, Mail, Pass string
	}{}
	for _, i := range []int{0, 1, 2, 5} {
		accounts = append(accounts, struct {
			Role             app.Role
			Name, Mail, Pass string
		}{people[i].role, people[i].name, mail(people[i]), Password})
	}
	return accounts
}

var services = []struct{ name, kind, price, unit, code string }{
	{"Field survey", "time", "", "", "A101"}, {"Data processing", "time", "", "", "A102"}, {"Reporting", "time", "", "", "A103"},
	{"Advice", "time", "", "", "A104"},
	{"Project management", "time", "", "", "A105"}, {"Office", "time", "", "", ""},
	{"Survey launch", "unit", "640", "day", ""}, {"Grab sample", "unit", "85", "sample", ""}, {"Chart, printed", "fixed", "120", "", ""},
}

var holidays = [][2]string{{"2026-03-17", "Spring holiday"}, {"2026-05-04", "May holiday"}, {"2026-08-03", "August holiday"},
	{"2026-10-26", "Autumn holiday"},
	{"2026-12-25", "Christmas Day"}, {"2026-12-28", "Winter holiday"}, {"2027-01-01", "New Year"}}

// courses are invented: what a unit of each currency costs, month by month.
var courses = map[money.Currency][]string{
	"USD": {"0.9145", "0.9182", "0.9211", "0.9197", "0.9234"},
	"NOK": {"0.0851", "0.0856", "0.0849", "0.0853", "0.0858"},
	"JPY": {"0.00612", "0.00608", "0.00615", "0.00611", "0.00614"},
}
