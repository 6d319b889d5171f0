package letter

import (
	"html"
	"regexp"
	"strings"
)

var address = regexp.MustCompile(`https?://[^\s<>"]+[^\s<>".,;:!?)]`)

// HTML is the form of a plain text that mail programs show: its paragraphs and lines, with the addresses in it as links in
// an accent (#0F5F68). It has no pictures, no script and nothing from elsewhere, so nobody learns that it is read.
func HTML(text, accent string) string {
	w := new(strings.Builder)
	w.WriteString(`<!doctype html><html><body style="margin:0;padding:24px;background:#fffefb;color:#1b2a2e;` +
		`font:15px/1.5 'Source Sans 3',Helvetica,Arial,sans-serif"><div style="max-width:38em">`)
	for paragraph := range strings.SplitSeq(strings.TrimSpace(text), "\n\n") {
		if paragraph = strings.Trim(paragraph, "\n"); paragraph == "" {
			continue
		}
		lines := strings.Split(paragraph, "\n")
		for i, line := range lines {
			lines[i] = linked(line, accent)
		}
		w.WriteString(`<p style="margin:0 0 1em">` + strings.Join(lines, "<br>") + "</p>")
	}
	w.WriteString("</div></body></html>")
	return w.String()
}

// linked is a line with its addresses as links, and all else escaped.
func linked(line, accent string) string {
	w, from := new(strings.Builder), 0
	for _, at := range address.FindAllStringIndex(line, -1) {
		to := html.EscapeString(line[at[0]:at[1]])
		w.WriteString(html.EscapeString(line[from:at[0]]) + `<a href="` + to + `" style="color:` + html.EscapeString(accent) + `">` + to + "</a>")
		from = at[1]
	}
	w.WriteString(html.EscapeString(line[from:]))
	return w.String()
}

// Without is a text without a place that has nothing to say.
func Without(text, place string) string { return strings.ReplaceAll(text, "{"+place+"}", "") }

// Tidied is a filled text without what is left where places in it had nothing to say: no line is blank twice.
func Tidied(text string) string {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	kept := lines[:0]
	for _, line := range lines {
		line = strings.TrimRight(line, " ")
		if line == "" && len(kept) > 0 && kept[len(kept)-1] == "" {
			continue
		}
		kept = append(kept, line)
	}
	return strings.Join(kept, "\n")
}
