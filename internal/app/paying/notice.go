package paying

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"

	core "dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
)

// A notice is what the payment service says of a payment by itself.
type notice struct {
	Key       string     `json:"key"`
	Reference string     `json:"reference"`
	State     core.State `json:"state"`
	Problem   string     `json:"problem"`
}

// Sign is the signature of a notice under the secret that firm and service share: HMAC (RFC 2104) with SHA-256, in hexadecimal.
func Sign(secret string, body []byte) string {
	mac := hmac.New(sha256.New, []byte(secret))
	mac.Write(body)
	return hex.EncodeToString(mac.Sum(nil))
}

// TakeNotice takes a notice of the payment service, if it is signed.
func TakeNotice(ctx context.Context, a *app.App, body []byte, signature string) error {
	if a.GatewaySecret == "" || !hmac.Equal([]byte(Sign(a.GatewaySecret, body)), []byte(signature)) {
		return app.Refuse(app.Forbidden, "The signature of this notice is not right.")
	}
	n := notice{}
	if err := json.Unmarshal(body, &n); err != nil {
		return app.Refuse(app.Invalid, "This is no notice of a payment.")
	}
	switch n.State {
	case core.Pending, core.Received, core.Failed, core.Returned:
	default:
		return app.Refuse(app.Invalid, "%q is no state of a payment.", n.State)
	}
	return Settle(ctx, a, n.Key, paymentmethod.Charged{Known: true, Reference: n.Reference, State: n.State, Problem: n.Problem})
}

// Notice writes a notice as the service sends it: for its stand-in.
func Notice(key string, c paymentmethod.Charged) ([]byte, error) {
	return json.Marshal(notice{key, c.Reference, c.State, c.Problem})
}
