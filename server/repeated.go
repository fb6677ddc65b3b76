package server

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

// The longest Idempotency-Key, and the largest answer that is kept for one.
const mostSaid, mostKept = 200, 1 << 20

// repeated answers a request of a script that was sent before, by its Idempotency-Key, as it was answered then: what it makes
// is made once, however often it is sent within a day.
func (s *Server) repeated(c *gin.Context) {
	said := c.GetHeader("Idempotency-Key")
	if said == "" || s.gates[c.Request.Method+" "+c.FullPath()].key == "" || c.Request.Method == http.MethodGet {
		return
	}
	if len(said) > mostSaid {
		s.stop(c, &app.Invalid{Message: "the Idempotency-Key is too long", Advice: fmt.Sprintf("say at most %d letters", mostSaid)})
		return
	}
	sum := sha256.New()
	_, _ = fmt.Fprintf(sum, "%s %s %d\n", c.Request.Method, c.Request.URL.RequestURI(), c.Request.ContentLength)
	if strings.HasPrefix(c.ContentType(), "application/json") && c.Request.Body != nil { // read and bounded by wholeJSON
		content, err := io.ReadAll(c.Request.Body)
		if err != nil {
			s.stop(c, err)
			return
		}
		_, _ = sum.Write(content)
		c.Request.Body = io.NopCloser(bytes.NewReader(content))
	}
	ctx := c.Request.Context()
	key := keyOf(ctx)
	before, err := s.app.Answered(ctx, key, said, sum.Sum(nil))
	if err != nil {
		s.stop(c, err)
		return
	}
	if before != nil {
		c.Header("Idempotency-Replayed", "true")
		c.Data(before.Status, before.Kind, before.Body)
		c.Abort()
		return
	}
	kept := &kept{ResponseWriter: c.Writer}
	c.Writer = kept
	answered := app.KeptAnswer{Status: http.StatusInternalServerError} // of a panic
	defer func() {
		if err := s.app.KeepAnswer(ctx, key, said, answered); err != nil {
			s.log.ErrorContext(ctx, "an answer could not be kept", "error", err)
		}
	}()
	c.Next()
	answered = kept.answer()
}

// kept is an answer that is written and kept.
type kept struct {
	gin.ResponseWriter
	content  bytes.Buffer
	tooLarge bool // it is larger than what is kept
}

// tooLargeAgain is said in place of an answer that is too large to be kept: what was asked is not done again.
var tooLargeAgain = answer{Message: "this was done when it was first sent, and its answer is too large to be said again",
	Advice: "look at what there is now", status: http.StatusConflict}

// answer is what is kept of it: all, or that it was done.
func (k *kept) answer() app.KeptAnswer {
	if k.tooLarge {
		said, _ := json.Marshal(tooLargeAgain.problem())
		return app.KeptAnswer{Status: tooLargeAgain.status, Kind: problemType, Body: said}
	}
	return app.KeptAnswer{Status: k.Status(), Kind: k.Header().Get("Content-Type"), Body: k.content.Bytes()}
}

func (k *kept) Write(p []byte) (int, error) {
	if k.tooLarge = k.tooLarge || k.content.Len()+len(p) > mostKept; !k.tooLarge {
		k.content.Write(p)
	}
	return k.ResponseWriter.Write(p)
}

func (k *kept) WriteString(text string) (int, error) { return k.Write([]byte(text)) }
