package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"runtime/debug"

	"github.com/danielgtaylor/huma/v2"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/sentence"
)

// answer is the body of every error.
type answer struct {
	Message  string            `json:"message" doc:"what is wrong"`
	Advice   string            `json:"advice,omitempty" doc:"what to do about it"`
	Problems []chart.Problem   `json:"problems,omitempty" doc:"clauses that the chart cannot honour"`
	Mistakes []*sentence.Error `json:"mistakes,omitempty" doc:"places in a typed sentence"`

	status int
}

func (a answer) Error() string  { return a.Message }
func (a answer) GetStatus() int { return a.status }

// statuses is the one map from error to status.
var statuses = []struct {
	err    error
	status int
	advice string
}{
	{app.ErrNotSignedIn, http.StatusUnauthorized, "sign in, or ask for a sign-in link"},
	{app.ErrWrongSignIn, http.StatusUnauthorized, "check both and try again"},
	{app.ErrLinkUsed, http.StatusUnauthorized, "start the program again for a new link, or sign in with a password"},
	{app.ErrTooManyTries, http.StatusTooManyRequests, "wait a minute"},
	{app.ErrNotFound, http.StatusNotFound, "check the address, or go back to the front page"},
	{app.ErrWithdrawn, http.StatusGone, "ask whoever shared it"},
	{app.ErrTooBusy, http.StatusServiceUnavailable, ""},
	{context.Canceled, 499, ""}, // the caller went away
	{context.DeadlineExceeded, http.StatusServiceUnavailable, "try again with fewer rows"},
}

func (s *Server) answerFor(ctx context.Context, err error) answer {
	var invalid *app.Invalid
	if errors.As(err, &invalid) {
		return answer{invalid.Message, invalid.Advice, invalid.Problems, invalid.Mistakes, http.StatusUnprocessableEntity}
	}
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return answer{Message: "the request is too large", Advice: "send less at once", status: http.StatusRequestEntityTooLarge}
	}
	for _, known := range statuses {
		if errors.Is(err, known.err) {
			return answer{Message: known.err.Error(), Advice: known.advice, status: known.status}
		}
	}
	s.log.ErrorContext(ctx, "a request failed", "error", err)
	return answer{Message: "something went wrong on our side", Advice: "try again; nothing that was kept is lost", status: http.StatusInternalServerError}
}

func init() {
	// Faults that huma finds itself (a field missing, a number out of range) get the same body.
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		a := answer{Message: message, status: status}
		for i, err := range errs {
			if i == 0 {
				a.Advice = err.Error()
			}
		}
		return a
	}
}

func writeJSON(w http.ResponseWriter, status int, body any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_ = json.NewEncoder(w).Encode(body)
}

func stack() string { return string(debug.Stack()) }
