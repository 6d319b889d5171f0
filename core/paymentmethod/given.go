package paymentmethod

// GivenMethod is a way of paying as it is typed: a card, or an account to be debited. It lives as long as one request.
type GivenMethod struct {
	Kind    string `json:"kind" enum:"card,debit"`
	Number  string `json:"number" maxLength:"40"`
	Expires string `json:"expires" maxLength:"10"`
	Code    string `json:"code" maxLength:"6"`
	IBAN    string `json:"iban" maxLength:"50"`
	Holder  string `json:"holder" maxLength:"200"`
}

// Words name a way of paying by its kind and its last four characters: card ending in 0019.
func Words(kind, lastFour string) string {
	return map[string]string{"card": "card", "debit": "bank debit"}[kind] + " ending in " + lastFour
}
