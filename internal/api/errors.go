package api

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"strings"

	"dorvet/core/refusal"
	"dorvet/internal/app"

	"github.com/danielgtaylor/huma/v2"
)

var statusOf = map[app.Kind]int{
	app.Invalid:   http.StatusUnprocessableEntity,
	app.Conflict:  http.StatusConflict,
	app.NotFound:  http.StatusNotFound,
	app.Forbidden: http.StatusForbidden,
	app.Unproved:  http.StatusPreconditionRequired,
	app.Wait:      http.StatusTooManyRequests,
}

// problem turns an error of an act into an RFC 9457 problem. A failure is logged with
// the number of the request, by which whoever runs Dorvet finds it, and told in words
// that say what helps.
func problem(ctx context.Context, err error) error {
	if err == nil {
		return nil
	}
	var refused *refusal.Refusal
	if !errors.As(err, &refused) {
		number := requestNumber(ctx)
		if errors.Is(err, context.Canceled) && ctx.Err() != nil { // who asked did not wait: no fault, and nobody reads the answer
			slog.Debug("a request was given up", "request", number)
			return huma.Error503ServiceUnavailable("The request was given up.")
		}
		slog.Error("a request failed", "request", number, "error", err)
		if trouble := app.Trouble(err); trouble != "" {
			return huma.NewError(http.StatusInsufficientStorage, fmt.Sprintf("%s Nothing was changed. (Number %s.)", trouble, number))
		}
		return huma.NewError(http.StatusInternalServerError,
			fmt.Sprintf("Something went wrong here, and nothing was changed. Tell whoever runs Dorvet the number %s: what "+
				"happened stands in its log.", number))
	}
	if refused.Field == "" {
		return huma.NewError(statusOf[refused.Kind], refused.Words())
	}
	return huma.NewError(statusOf[refused.Kind], refused.Words(),
		&huma.ErrorDetail{Message: refused.Words(), Location: "body." + refused.Field})
}

// requestKey is under which the context of a request has its number.
type requestKey struct{}

// numbered gives every request a number, which stands in the log and in its answer.
func numbered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		number := strings.ToLower(rand.Text()[:10])
		w.Header().Set("Request-Number", number)
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), requestKey{}, number)))
	})
}

func requestNumber(ctx context.Context) string {
	number, _ := ctx.Value(requestKey{}).(string)
	return number
}

func init() {
	huma.DefaultArrayNullable = false
	huma.NewError = newProblem
}

// newProblem makes a problem without the submitted values, which may be secret.
func newProblem(status int, sentence string, details ...error) huma.StatusError {
	model := &huma.ErrorModel{Status: status, Title: http.StatusText(status), Detail: sentence}
	if sentence == "validation failed" {
		model.Detail = "Some of what was given can't be used. What is marked says why."
	}
	for _, err := range details {
		detail := &huma.ErrorDetail{Message: err.Error()}
		if detailer, ok := err.(huma.ErrorDetailer); ok {
			given := detailer.ErrorDetail()
			detail = &huma.ErrorDetail{Message: given.Message, Location: given.Location}
		}
		model.Errors = append(model.Errors, detail)
	}
	return model
}
