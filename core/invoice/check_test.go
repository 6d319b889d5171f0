package invoice

import "testing"

// From memory: what a billing administrator looks at before a bill goes out. Each
// check names itself, says how to mend what it finds, and has a level.
func TestEveryCheckSaysWhatToDo(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range Checks {
		if seen[c.Code] || c.Code == "" || c.Title == "" || c.Remedy == "" {
			t.Errorf("%+v", c)
		}
		seen[c.Code] = true
		if found, known := CheckNamed(c.Code); !known || found != c {
			t.Errorf("%s is not found by its name: %+v", c.Code, found)
		}
		if c.Level != Block && c.Level != Warn && c.Level != Off {
			t.Errorf("%s is taken as %q", c.Code, c.Level)
		}
	}
	if _, known := CheckNamed("weather"); known {
		t.Error("a check of the weather is known")
	}
}

func TestTheFirmSaysHowAFindingIsTaken(t *testing.T) {
	for _, c := range []struct {
		code       string
		firm, want Level
	}{
		{"funds", "", Warn}, {"funds", Block, Block}, {"funds", Off, Off},
		{"not_approved", "", Off}, {"not_approved", Block, Block},
		{"no_lines", Off, Block}, {"date_order", Warn, Block}, // rules of the register are nobody's choice
	} {
		check, _ := CheckNamed(c.code)
		if got := check.Taken(c.firm); got != c.want {
			t.Errorf("%s, which the firm takes as %q: %s, want %s", c.code, c.firm, got, c.want)
		}
	}
}
