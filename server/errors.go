package server

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"math"
	"net/http"
	"os"
	"runtime/debug"
	"strconv"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/sentence"
	"copperlark/internal/admission"
)

// answer is the body of every error: a problem of RFC 9457, with what is wrong and what to do about it in words of its own.
type answer struct {
	Title    string            `json:"title" doc:"what is wrong, as message"`
	Status   int               `json:"status"`
	Detail   string            `json:"detail,omitempty" doc:"what to do about it, as advice"`
	Message  string            `json:"message" doc:"what is wrong"`
	Advice   string            `json:"advice,omitempty" doc:"what to do about it"`
	Problems []chart.Problem   `json:"problems,omitempty" doc:"clauses that the chart cannot honour"`
	Mistakes []*sentence.Error `json:"mistakes,omitempty" doc:"places in a typed sentence"`
	Missing  []string          `json:"missing,omitempty" doc:"columns that a chart names and a version does not have"`
	Code     string            `json:"code,omitempty" doc:"what is wanted to go on: code, of the second factor; factor, a session that showed one"`

	status int
	after  time.Duration // when to try again
}

// problemType is the type of every error's body.
const problemType = "application/problem+json"

// problem is an answer with what RFC 9457 calls its parts.
func (a answer) problem() answer {
	a.Title, a.Status, a.Detail = a.Message, a.status, a.Advice
	return a
}

// ContentType is where huma finds the type of its body.
func (a answer) ContentType(string) string { return problemType }

func (a answer) Error() string  { return a.Message }
func (a answer) GetStatus() int { return a.status }

// GetHeaders is where huma finds when to try again.
func (a answer) GetHeaders() http.Header {
	headers := http.Header{}
	if a.after > 0 {
		headers.Set("Retry-After", strconv.Itoa(int(math.Ceil(a.after.Seconds()))))
	}
	return headers
}

// statuses is the one map from error to status.
var statuses = []struct {
	err    error
	status int
	advice string
	after  time.Duration
	code   string // for programs that go on by it
}{
	{err: app.ErrNotSignedIn, status: http.StatusUnauthorized, advice: "sign in, or ask for a sign-in link"},
	{err: app.ErrNotAllowed, status: http.StatusForbidden, advice: "ask an owner of the space for another role"},
	{err: app.ErrNotHere, status: http.StatusNotFound, advice: "check the address, or ask an owner of the space to invite you"},
	{err: app.ErrNeedsFactor, status: http.StatusForbidden, code: "factor", advice: "set one up or show it under your initials, Account"},
	{err: app.ErrNeedsCode, status: http.StatusUnauthorized, code: "code", advice: "write what your device shows, or a recovery code"},
	{err: app.ErrWrongCode, status: http.StatusUnauthorized, code: "code", advice: "wait for the next one, or use a recovery code"},
	{err: app.ErrWrongPassword, status: http.StatusUnprocessableEntity, advice: "write the one that you sign in with"},
	{err: app.ErrLastOwner, status: http.StatusConflict, advice: "make somebody else an owner first"},
	{err: app.ErrInvitationOver, status: http.StatusGone, advice: "it was used up, taken back, or is too old; ask for a new one"},
	{err: app.ErrInvitationOther, status: http.StatusForbidden, advice: "use the address that it was sent to, or ask for another invitation"},
	{err: app.ErrJoinKnown, status: http.StatusConflict, advice: "if you have been here before, sign in first and open the link again"},
	{err: app.ErrNoKey, status: http.StatusUnauthorized, advice: "send it as Authorization: Bearer lark-key-…; make one under People"},
	{err: app.ErrScope, status: http.StatusForbidden, advice: "make a key that is for it, under People"},
	{err: app.ErrTwice, status: http.StatusConflict, advice: "wait for its answer, or say another Idempotency-Key"},
	{err: app.ErrChanged, status: http.StatusPreconditionFailed, advice: "look at it again, and change what it is now"},
	{err: app.ErrKnown, status: http.StatusConflict, advice: "look for it in the list"},
	{err: app.ErrPasskey, status: http.StatusUnauthorized, advice: "try again, or sign in with your password"},
	{err: app.ErrOrganisation, status: http.StatusForbidden, advice: "try again, or ask whoever runs this server"},
	{err: app.ErrWrongSignIn, status: http.StatusUnauthorized, advice: "check both and try again"},
	{err: app.ErrLinkUsed, status: http.StatusUnauthorized, advice: "ask for a new one, or sign in with a password"},
	{err: app.ErrNotFound, status: http.StatusNotFound, advice: "check the address, or go back to the front page"},
	{err: app.ErrWithdrawn, status: http.StatusGone, advice: "ask whoever shared it"},
	{err: app.ErrShareOver, status: http.StatusGone, advice: "ask whoever shared it"},
	{err: app.ErrPeopleOnly, status: http.StatusUnauthorized, advice: "sign in, and open it again"},
	{err: app.ErrLocked, status: http.StatusUnauthorized, advice: "open its page, and say the password"},
	{
		err:    app.ErrTooManySteps,
		status: http.StatusTooManyRequests,
		advice: "go on tomorrow; nothing that was kept is lost",
		after:  time.Hour,
	},
	{err: app.ErrNotText, status: http.StatusBadRequest, advice: "take out the characters that cannot be read"},
	{err: errBadText, status: http.StatusBadRequest, advice: "take out the characters that cannot be read"},
	{
		err:    app.ErrNoRoom,
		status: http.StatusInsufficientStorage,
		advice: "nothing was kept and nothing is lost; whoever runs this server makes room, and then it goes on",
		after:  time.Minute,
	},
	{
		err:    app.ErrUnavailable,
		status: http.StatusServiceUnavailable,
		advice: "it comes back by itself; try again in a few seconds, nothing that was kept is lost",
		after:  5 * time.Second,
	},
	{err: app.ErrTookTooLong, status: http.StatusServiceUnavailable, advice: "try again, or with fewer rows", after: 10 * time.Second},
	{
		err:    os.ErrDeadlineExceeded,
		status: http.StatusRequestTimeout,
		advice: "the request arrived too slowly; send it again over a better connection",
	},
	{err: app.ErrBroken, status: http.StatusBadRequest, advice: "send it again"},
	{err: io.ErrUnexpectedEOF, status: http.StatusBadRequest, advice: "send it again"},
	{err: context.Canceled, status: 499}, // the caller went away
	{err: context.DeadlineExceeded, status: http.StatusServiceUnavailable, advice: "try again with fewer rows", after: 10 * time.Second},
}

var errBadText = errors.New("the request holds a zero byte or text that is not valid UTF-8")

func (s *Server) answerFor(ctx context.Context, err error) answer {
	var given answer
	if errors.As(err, &given) {
		return given
	}
	var invalid *app.Invalid
	if errors.As(err, &invalid) {
		return answer{
			Message:  invalid.Message,
			Advice:   invalid.Advice,
			Problems: invalid.Problems,
			Mistakes: invalid.Mistakes,
			Missing:  invalid.Missing,
			status:   http.StatusUnprocessableEntity,
		}
	}
	var full *app.Full
	if errors.As(err, &full) {
		return answer{Message: full.Message, Advice: full.Advice, status: http.StatusInsufficientStorage}
	}
	var busy *admission.Busy
	if errors.As(err, &busy) {
		return answer{Message: busy.Why, Advice: "wait a moment and try again", status: http.StatusTooManyRequests, after: busy.After}
	}
	var taken *app.ErrTaken
	if errors.As(err, &taken) {
		return answer{Message: taken.Error(), Advice: "wait until they are done, or write elsewhere", status: http.StatusConflict}
	}
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return answer{Message: "the request is too large", Advice: "send less at once", status: http.StatusRequestEntityTooLarge}
	}
	for _, known := range statuses {
		if errors.Is(err, known.err) {
			if known.status >= 500 {
				s.log.WarnContext(ctx, "a request could not be answered", "error", err)
			}
			return answer{Message: known.err.Error(), Advice: known.advice, status: known.status, after: known.after, Code: known.code}
		}
	}
	s.log.ErrorContext(ctx, "a request failed", "error", err)
	return answer{
		Message: "something went wrong on our side",
		Advice:  "try again; nothing that was kept is lost",
		status:  http.StatusInternalServerError,
	}
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
		return a.problem()
	}
}

// refuse writes an error as JSON.
func (s *Server) refuse(w http.ResponseWriter, ctx context.Context, err error) {
	a := s.answerFor(ctx, err)
	for name, values := range a.GetHeaders() {
		w.Header()[name] = values
	}
	w.Header().Set("Content-Type", problemType)
	writeJSON(w, a.status, a.problem())
}

func writeJSON(w http.ResponseWriter, status int, body any) {
	text, err := json.Marshal(body)
	if err != nil {
		status, text = http.StatusInternalServerError, []byte(`{"message":"the answer cannot be written"}`)
	}
	if w.Header().Get("Content-Type") == "" {
		w.Header().Set("Content-Type", "application/json")
	}
	w.WriteHeader(status)
	_, _ = w.Write(append(text, '\n'))
}

func stack() string { return string(debug.Stack()) }
