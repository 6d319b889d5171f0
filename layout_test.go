package dorvet

import (
	"encoding/json"
	"errors"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// mayImport says in which direction data flows: what each part of the project
// may import of the others. Inside internal/app a room may use those before it.
var mayImport = map[string][]string{
	"core":               {"core"},
	"internal/store":     {"core"},
	"internal/documents": {"core", "internal/documents", "internal/sheets"},
	"internal/simulator": {"core"},
	"internal/smtp":      {"core"},
	"internal/app":       {"core", "internal/store", "internal/app"},
	"internal/sheets":    {"core"},
	"internal/api":       {"core", "internal/app", "internal/sheets", "internal/simulator"},
	"internal/demo":      {"core", "internal/store", "internal/app"},
	"internal/apptest":   {"core", "internal/store", "internal/app"},
	"cmd":                {"core", "internal", "web"},
	"web":                {},
	"e2e":                {},
}

var rooms = []string{"correspondence", "identity", "profiles", "registry", "setup", "pricing", "timekeeping", "unbilled", "wip", "ledger", "papers",
	"drafts", "runs", "issuing", "delivery", "invoices", "receivables", "banking", "paying", "clientaccount", "reports"}

// What the core may use of the standard library and of others: nothing that
// knows a clock, a file, a network or a database.
var notInCore = []string{"os", "net", "net/http", "database/sql", "io/fs", "log", "log/slog", "gorm.io/", "github.com/", "codeberg.org/"}

// sql is a statement, wherever it stands in a line of code.
var sql = regexp.MustCompile("[\"`](SELECT|UPDATE|DELETE FROM|INSERT INTO|WITH RECURSIVE) |\\bSQL\\(")

type listed struct {
	ImportPath string
	Imports    []string
}

func packages(t *testing.T) []listed {
	t.Helper()
	out, err := exec.Command("go", "list", "-json=ImportPath,Imports", "./...").Output()
	if err != nil {
		t.Fatal(err)
	}
	found, decoder := []listed{}, json.NewDecoder(strings.NewReader(string(out)))
	for {
		var one listed
		if err := decoder.Decode(&one); errors.Is(err, io.EOF) {
			return found
		} else if err != nil {
			t.Fatal(err)
		}
		found = append(found, one)
	}
}

func within(path, part string) bool { return path == part || strings.HasPrefix(path, part+"/") }

// breach says what is wrong with an import, or nothing.
func breach(from, to string) string {
	part, allowed := "", []string(nil)
	for candidate, targets := range mayImport {
		if within(from, candidate) && len(candidate) > len(part) {
			part, allowed = candidate, targets
		}
	}
	if part == "" {
		return from + " has no place in the layout"
	}
	fine := false
	for _, target := range allowed {
		fine = fine || within(to, target)
	}
	if !fine {
		return from + " imports " + to + ", against the direction"
	}
	if a, b := room(from), room(to); a >= 0 && b > a {
		return from + " imports " + to + ", a later room"
	}
	if from == "internal/app" && room(to) >= 0 {
		return from + " imports the room " + to
	}
	return ""
}

func room(path string) int {
	name, found := strings.CutPrefix(path, "internal/app/")
	for i, r := range rooms {
		if found && within(name, r) {
			return i
		}
	}
	return -1
}

func TestImportsGoInOneDirection(t *testing.T) {
	for _, p := range packages(t) {
		from, ours := strings.CutPrefix(p.ImportPath, "dorvet/")
		if !ours {
			continue // the root, which is this test
		}
		for _, imported := range p.Imports {
			if to, ours := strings.CutPrefix(imported, "dorvet/"); ours {
				if wrong := breach(from, to); wrong != "" {
					t.Error(wrong)
				}
				continue
			}
			if strings.HasPrefix(imported, "gorm.io/") && !within(from, "internal/store") {
				t.Errorf("%s imports %s: the store alone knows how data is kept", from, imported)
			}
			for _, impure := range notInCore {
				if within(from, "core") && (imported == impure || strings.HasSuffix(impure, "/") && strings.HasPrefix(imported, impure)) {
					t.Errorf("%s imports %s: the core is pure", from, imported)
				}
			}
		}
	}
}

// Every query goes through the store, where nobody sees more than they may.
func TestStatementsStandInTheStoreAlone(t *testing.T) {
	err := filepath.WalkDir(".", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
			within(filepath.Dir(path), "internal/store") || within(filepath.Dir(path), "internal/apptest") {
			return err
		}
		content, err := os.ReadFile(path)
		if found := sql.Find(content); found != nil {
			t.Errorf("%s has a statement of its own: %s", path, found)
		}
		return err
	})
	if err != nil {
		t.Error(err)
	}
	for _, statement := range []string{"\"SELECT 1", "`UPDATE people", "tx.SQL(t)"} {
		if !sql.MatchString(statement) {
			t.Errorf("%s is no statement", statement)
		}
	}
}

func TestTheTestOfTheLayoutCanFail(t *testing.T) {
	for _, c := range [][2]string{{"core/money", "internal/store"}, {"internal/app/wip", "internal/app/drafts"},
		{"internal/documents", "internal/app"},
		{"internal/store", "internal/app"}, {"internal/app", "internal/app/setup"}, {"lost", "core/money"},
		{"internal/api", "internal/documents"}, {"internal/api", "internal/store"}} {
		if breach(c[0], c[1]) == "" {
			t.Errorf("%s may import %s", c[0], c[1])
		}
	}
	if wrong := breach("internal/app/drafts", "internal/app/wip"); wrong != "" {
		t.Error(wrong)
	}
}
