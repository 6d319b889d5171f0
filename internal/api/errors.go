package api

import (
	"errors"
	"log/slog"
	"net/http"

	"dorvet/internal/app"

	"github.com/danielgtaylor/huma/v2"
)

var statusOf = map[app.Kind]int{
	app.Invalid:   http.StatusUnprocessableEntity,
	app.Conflict:  http.StatusConflict,
	app.NotFound:  http.StatusNotFound,
	app.Forbidden: http.StatusForbidden,
}

// problem turns an error of an act into an RFC 9457 problem. What was not meant
// for people is logged and answered in general words.
func problem(err error) error {
	if err == nil {
		return nil
	}
	var refusal *app.Refusal
	if !errors.As(err, &refusal) {
		slog.Error("an act failed", "error", err)
		return huma.NewError(http.StatusInternalServerError, "Something went wrong here, and nothing was changed. Try again; if it stays, tell whoever runs Dorvet.")
	}
	if refusal.Field == "" {
		return huma.NewError(statusOf[refusal.Kind], refusal.Sentence)
	}
	return huma.NewError(statusOf[refusal.Kind], refusal.Sentence, &huma.ErrorDetail{Message: refusal.Sentence, Location: "body." + refusal.Field})
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
