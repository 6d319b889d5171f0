package dorvet

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
)

// sources are the files under web/src with one of these endings, as text.
func sources(t *testing.T, endings ...string) map[string]string {
	t.Helper()
	found := map[string]string{}
	err := filepath.WalkDir("web/src", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !slices.ContainsFunc(endings, func(e string) bool { return strings.HasSuffix(path, e) }) {
			return err
		}
		text, err := os.ReadFile(path)
		found[path] = string(text)
		return err
	})
	if err != nil || len(found) == 0 {
		t.Fatalf("no %v under web/src: %v", endings, err)
	}
	return found
}

var (
	comment   = regexp.MustCompile(`(?s)/\*.*?\*/`)
	ruleHead  = regexp.MustCompile(`(?m)^\s*([^{}@;]+)\{`)
	global    = regexp.MustCompile(`:global\([^)]*\)`)
	class     = regexp.MustCompile(`\.([a-z][a-z0-9-]*)`)
	rawColour = regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b|rgba?\(`)
	rawSize   = regexp.MustCompile(`font-size:\s*\d`)
)

// Every rule of a part is about a class of that part, so that it can't hit what stands
// elsewhere; colours and sizes of text stand in the tokens alone; no class is left that
// nothing has.
func TestStylesBelongToTheirPart(t *testing.T) {
	scripts := sources(t, ".ts", ".tsx")
	all := strings.Join(slices.Collect(func(yield func(string) bool) {
		for path, text := range scripts {
			if !strings.HasSuffix(path, ".d.ts") && !yield(text) {
				return
			}
		}
	}), "\n")
	parts := map[string]string{}
	for path, text := range sources(t, ".css") {
		text = comment.ReplaceAllString(text, "")
		if !strings.HasSuffix(path, "tokens.css") {
			for _, raw := range append(rawColour.FindAllString(text, -1), rawSize.FindAllString(text, -1)...) {
				t.Errorf("%s: %q belongs to the tokens", path, raw)
			}
		}
		if !strings.HasSuffix(path, ".module.css") {
			if !strings.HasPrefix(path, "web/src/style/") {
				t.Errorf("%s is no module", path)
			}
			continue
		}
		part := strings.TrimSuffix(filepath.Base(path), ".module.css")
		if other, taken := parts[part]; taken {
			t.Errorf("%s and %s have one name, so that their classes have, too", path, other)
		}
		parts[part] = path
		for _, head := range ruleHead.FindAllStringSubmatch(text, -1) {
			for selector := range strings.SplitSeq(global.ReplaceAllString(head[1], ""), ",\n") {
				if !class.MatchString(selector) {
					t.Errorf("%s: %q is about everything", path, strings.TrimSpace(selector))
				}
			}
			for _, name := range class.FindAllStringSubmatch(global.ReplaceAllString(head[1], ""), -1) {
				if used := camel(part) + "Css." + camel(name[1]); !regexp.MustCompile(regexp.QuoteMeta(used) + `\b`).MatchString(all) {
					t.Errorf("%s: nothing has %q", path, name[1])
				}
			}
		}
	}
}

// camel is how scripts name what style sheets name with hyphens.
func camel(name string) string {
	words := strings.Split(name, "-")
	for i, word := range words[1:] {
		words[i+1] = strings.ToUpper(word[:1]) + word[1:]
	}
	return strings.Join(words, "")
}
