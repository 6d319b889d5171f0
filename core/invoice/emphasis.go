package invoice

import (
	"regexp"
	"strings"
)

// TextRun is a part of a text in one weight.
type TextRun struct {
	Text   string `json:"text"`
	Strong bool   `json:"strong"`
}

// emphasised is *so*: stars that hug what is between them, and stand at the ends of words.
var emphasised = regexp.MustCompile(`(^|[\s(“"'])\*([^\s*](?:[^*]*[^\s*])?)\*($|[\s).,;:!?”"'])`)

// Runs parts a text by its emphasis: what stands between stars is strong.
//
//	"the *final* survey" is "the ", "final" (strong), " survey"
func Runs(text string) []TextRun {
	runs := []TextRun{}
	add := func(part string, strong bool) {
		if part != "" {
			runs = append(runs, TextRun{part, strong})
		}
	}
	for {
		at := emphasised.FindStringSubmatchIndex(text)
		if at == nil {
			add(text, false)
			return runs
		}
		add(text[:at[3]], false)
		add(text[at[4]:at[5]], true)
		text = text[at[5]+1:]
	}
}

// Plain is a text without the stars of its emphasis.
func Plain(text string) string {
	if !strings.Contains(text, "*") {
		return text
	}
	var plain strings.Builder
	for _, run := range Runs(text) {
		plain.WriteString(run.Text)
	}
	return plain.String()
}
