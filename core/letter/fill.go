package letter

import (
	"regexp"
	"slices"
)

var placeholder = regexp.MustCompile(`\{([^{}\n]{1,40})\}`)

// Fill puts values in the places of {name} in a text. Those of unknown names, or
// whose value is empty, stay, and are listed: a text with any is never sent.
func Fill(text string, values map[string]string) (filled string, open []string) {
	filled = placeholder.ReplaceAllStringFunc(text, func(place string) string {
		name := place[1 : len(place)-1]
		if value := values[name]; value != "" {
			return value
		}
		if !slices.Contains(open, name) {
			open = append(open, name)
		}
		return place
	})
	return filled, open
}
