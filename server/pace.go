package server

import (
	"io"
	"net/http"
	"time"
)

// paced holds each request to a least rate of sending and of taking: after a time of
// grace, so many bytes a second. Whoever trickles is let go.
func (s *Server) paced(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		control := http.NewResponseController(w)
		_ = control.SetWriteDeadline(time.Time{}) // that of the request before
		body := &pacedBody{
			ReadCloser: r.Body,
			control:    control,
			begun:      time.Now(),
			server:     s,
			whole:      r.Body == nil || r.Body == http.NoBody,
		}
		if !body.whole {
			r.Body = body
		}
		next.ServeHTTP(&pacedWriter{ResponseWriter: w, control: control, server: s}, r)
		if !body.whole { // what is left of it is hardly waited for
			_ = control.SetReadDeadline(time.Now().Add(leftTime))
		}
		_ = control.SetWriteDeadline(s.deadline(time.Now().Add(leftTime), writtenAtOnce)) // what is still in buffers
	})
}

// leftTime is how long the rest of a body is waited for that nobody wants any more.
const leftTime = time.Second

func (s *Server) deadline(since time.Time, bytes int64) time.Time {
	return since.Add(s.config.Grace + time.Duration(float64(bytes)/float64(s.config.LeastRate)*float64(time.Second)))
}

type pacedBody struct {
	io.ReadCloser
	control *http.ResponseController
	server  *Server
	begun   time.Time
	bytes   int64
	whole   bool // all of it was read, or there is none
}

func (b *pacedBody) Read(into []byte) (int, error) {
	_ = b.control.SetReadDeadline(b.server.deadline(b.begun, b.bytes)) // not every writer has one: tests
	n, err := b.ReadCloser.Read(into)
	b.bytes += int64(n)
	if err == io.EOF { // while the answer is made, nothing is expected
		b.whole = true
		_ = b.control.SetReadDeadline(time.Time{})
	}
	return n, err
}

type pacedWriter struct {
	http.ResponseWriter
	control *http.ResponseController
	server  *Server
}

// writtenAtOnce is how much is written under one deadline.
const writtenAtOnce = 64 << 10

func (w *pacedWriter) Write(content []byte) (written int, err error) {
	for len(content) > 0 && err == nil {
		part := content[:min(len(content), writtenAtOnce)]
		_ = w.control.SetWriteDeadline(w.server.deadline(time.Now(), int64(len(part))))
		var n int
		n, err = w.ResponseWriter.Write(part)
		written += n
		content = content[n:]
	}
	return written, err
}

// Unwrap lets a response controller reach the connection.
func (w *pacedWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Flush sends what is there, as the writer below does.
func (w *pacedWriter) Flush() { _ = w.control.Flush() }
