package server

import (
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/http"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

// upload reads a file from the request's body as it arrives; a caller that goes
// away stops the reading.
func (s *Server) upload(c *gin.Context) {
	ctx := c.Request.Context()
	who, err := person(ctx)
	if err == nil {
		var preview *app.Preview
		var sent *sentFile
		if sent, err = fileOf(c.Request, c.Query("name")); err == nil {
			if preview, err = s.app.ReadFile(ctx, who, sent.name, sent.content); err == nil {
				if err = sent.alone(); err == nil {
					writeJSON(c.Writer, http.StatusOK, preview)
					return
				}
				err = errors.Join(err, s.app.Discard(ctx, who.SpaceID, preview.Key))
			}
		}
	}
	s.refuse(c.Writer, ctx, err)
}

// sentFile is the file of a request: its body, or the one that a form holds.
type sentFile struct {
	name    string
	content io.Reader
	form    *multipart.Reader // nil: the body is the file
}

// fileOf takes a file out of the envelope in which forms send it (RFC 7578). What is sent without one is the
// file as it stands.
func fileOf(r *http.Request, name string) (*sentFile, error) {
	if kind, _, err := mime.ParseMediaType(r.Header.Get("Content-Type")); err != nil || kind != "multipart/form-data" {
		return &sentFile{name: name, content: r.Body}, nil
	}
	form, err := r.MultipartReader()
	if err != nil {
		return nil, &app.Invalid{
			Message: "the form cannot be read: " + err.Error(),
			Advice:  "send the file as one part of a form, or as the body of the request",
		}
	}
	part, err := nextFile(form)
	if err != nil {
		return nil, err
	}
	if part == nil {
		return nil, &app.Invalid{
			Message: "the form holds no file",
			Advice:  "send it as a part with a file name, as curl -F file=@table.csv does, or as the body of the request",
		}
	}
	if name == "" {
		name = part.FileName()
	}
	return &sentFile{name, part, form}, nil
}

// alone refuses a form that holds more than one file: none is left out in silence.
func (s *sentFile) alone() error {
	if s.form == nil {
		return nil
	}
	if part, err := nextFile(s.form); err != nil || part == nil {
		return err
	}
	return &app.Invalid{Message: "the form holds more than one file", Advice: "send them one by one"}
}

// nextFile gives the next part of a form that is a file; nil where there is none.
func nextFile(form *multipart.Reader) (*multipart.Part, error) {
	for {
		part, err := form.NextPart()
		switch {
		case errors.Is(err, io.EOF):
			return nil, nil
		case err != nil:
			return nil, fmt.Errorf("%w: %w", app.ErrBroken, err)
		case part.FileName() != "":
			return part, nil
		}
	}
}
