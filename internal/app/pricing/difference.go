package pricing

import (
	"fmt"
	"slices"
	"strings"
)

// difference says in words what became what, for the history.
func (b *proposalContext) difference(was, is Content) (before, after map[string]string) {
	before, after = b.said(was), b.said(is)
	for label, text := range before {
		if after[label] == text {
			delete(before, label)
			delete(after, label)
		}
	}
	for label, text := range after {
		if text == "" && before[label] == "" {
			delete(after, label)
		}
	}
	return before, after
}

// said is everything that content says, each under a label of its own.
func (b *proposalContext) said(c Content) map[string]string {
	t := b.typed(c)
	all := map[string]string{"name": t.Name, "lead": t.Lead, "title": t.Title, "valid until": t.ValidUntil, "starts": t.Starts,
		"shown for": t.ShownFor, "term": t.Term, "prices shown": t.Shows, "way of paying": t.Pays + " " + strings.Join(t.Ways, " "),
		"payment terms": t.DueIn, "instalments": t.PaidIn,
		"discount": t.Discount, "opening text": t.Opening, "terms": t.Terms, "text after signing": t.After,
		"terms document": t.TermsFile.Name,
		"subject":        t.Subject, "mail": t.Mail}
	for i, tier := range t.Tiers {
		all[fmt.Sprintf("tier %d", i+1)] = strings.TrimSuffix(tier.Name+", "+tier.Note, ", ")
		if t.Suggested == i+1 {
			all["suggested"] = tier.Name
		}
	}
	for i, l := range t.Lines {
		name := l.Description
		if slices.ContainsFunc(t.Lines[:i], func(other TypedLine) bool { return other.Description == name }) {
			name = fmt.Sprintf("%s (%d)", name, i+1)
		}
		for _, part := range [][2]string{{"place", fmt.Sprint(i + 1)}, {"what the client gets", l.About},
			{"terms", l.Text}, {"priced", l.Kind}, {"quantity", l.Quantity},
			{"unit", l.Unit}, {"price", l.Price}, {"bands", l.Bands}, {"discount", l.Discount},
			{"tax", l.TaxCode}, {"billed", l.When}, {"expected", l.Expected}, {"engagement", l.Work}} {
			all[name+", "+part[0]] = part[1]
		}
		for n, cell := range l.Cells {
			tier := t.Tiers[n].Name
			if tier == "" {
				tier = fmt.Sprintf("tier %d", n+1)
			}
			all[name+" in "+tier] = cell
		}
	}
	return all
}

// changed names what changed, the first few of it.
func changed(before, after map[string]string) string {
	labels := []string{}
	for _, side := range []map[string]string{before, after} {
		for label := range side {
			if !slices.Contains(labels, label) {
				labels = append(labels, label)
			}
		}
	}
	slices.Sort(labels)
	if more := len(labels) - 3; more > 0 {
		return fmt.Sprintf("%s and %d more", strings.Join(labels[:3], "; "), more)
	}
	return strings.Join(labels, "; ")
}
