package letter

import (
	_ "embed"
	"net/mail"
	"slices"
	"strings"
)

// publicDomains are those of providers with whom anybody gets an address, one a line:
// having the same one says nothing of who somebody works for. From memory.
//
//go:embed public_domains.txt
var publicDomains string

// SameHouse reports whether an address has the domain of one of others, and whether that
// domain is a house's own: never one of a provider of mail for everybody.
//
//	SameHouse("new@harbour.example", []string{"old@harbour.example"}) // true
func SameHouse(address string, others []string) bool {
	domain := domainOf(address)
	if domain == "" || slices.Contains(strings.Fields(publicDomains), domain) {
		return false
	}
	return slices.ContainsFunc(others, func(other string) bool { return domainOf(other) == domain })
}

// SameAddress reports whether two addresses are one, whatever their capitals.
func SameAddress(a, b string) bool {
	return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b))
}

func domainOf(address string) string {
	parsed, err := mail.ParseAddress(strings.TrimSpace(address))
	if err != nil {
		return ""
	}
	return strings.ToLower(parsed.Address[strings.LastIndex(parsed.Address, "@")+1:])
}
