package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"copperlark/app"
)

// followed streams what happens with a chart, a dataset or a page, as server-sent events: "window" with what the window that follows
// is called; "step" with a step that was kept, "trail" where the trail is to be read again; "changed" where a dataset or a page is;
// "notes" where its notes are; "people" with who has it open. Steps and trails have numbers, from which on it is resumed.
func (s *Server) followed(subject func(id int64) app.Subject) gin.HandlerFunc {
	return func(c *gin.Context) {
		ctx := c.Request.Context()
		who, err := person(ctx)
		id, wrong := strconv.ParseInt(c.Param("id"), 10, 64)
		if err == nil && wrong != nil {
			err = app.ErrNotFound
		}
		if err != nil {
			s.refuse(c.Writer, ctx, err)
			return
		}
		after, _ := strconv.ParseInt(c.Query("after"), 10, 64)
		if last, err := strconv.ParseInt(c.GetHeader("Last-Event-ID"), 10, 64); err == nil {
			after = last
		}
		out := &stream{c: c, control: http.NewResponseController(c.Writer)}
		err = s.app.Watch(ctx, who, subject(id), after, app.Told{
			May: func() error {
				token, _ := c.Cookie(s.cookieName())
				now, err := s.app.Who(ctx, token, who.SpaceID)
				if err == nil && now.SpaceID != who.SpaceID { // they are in other spaces yet
					err = app.ErrNotSignedIn
				}
				return err
			},
			Window:  func(id string) error { return out.send("window", 0, gin.H{"id": id}) },
			Events:  out.events,
			Changed: func() error { return out.send("changed", 0, gin.H{}) },
			Notes:   func() error { return out.send("notes", 0, gin.H{}) },
			People:  func(here []app.Here) error { return out.send("people", 0, here) },
		})
		if err != nil && !out.begun {
			s.refuse(c.Writer, ctx, err)
		}
	}
}

// events sends what happened on a trail.
func (o *stream) events(list []app.ChartEvent) error {
	for _, e := range list {
		kind, about := "trail", any(gin.H{})
		if e.Step != nil {
			kind, about = "step", e.Step
		}
		if err := o.send(kind, e.Number, about); err != nil {
			return err
		}
	}
	return nil
}

type standInInput struct {
	Window string `path:"window" doc:"what the window is called, as its stream of events told it"`
	Body   struct {
		Place string `json:"place" maxLength:"20000" doc:"a block of a page, a column of a dataset; empty: nowhere"`
	}
}

func (s *Server) standIn(ctx context.Context, who app.Person, in *standInInput) (*empty, error) {
	return &empty{}, s.app.StandIn(ctx, who, in.Window, in.Body.Place)
}

// stream writes server-sent events.
type stream struct {
	c       *gin.Context
	control *http.ResponseController
	begun   bool
}

// again is how soon a browser asks again where a stream ends.
const again = time.Second

func (o *stream) send(kind string, number int64, about any) error {
	if !o.begun {
		o.begun = true
		o.c.Header("Content-Type", streamType)
		o.c.Header("Cache-Control", "no-store")
		o.c.Header("X-Accel-Buffering", "no") // proxies pass it on as it comes
		o.c.Writer.WriteHeader(http.StatusOK)
		if _, err := fmt.Fprintf(o.c.Writer, "retry: %d\n\n", again.Milliseconds()); err != nil {
			return err
		}
	}
	text, err := json.Marshal(about)
	if err != nil {
		return err
	}
	if number != 0 {
		_, err = fmt.Fprintf(o.c.Writer, "id: %d\n", number)
	}
	if err == nil {
		_, err = fmt.Fprintf(o.c.Writer, "event: %s\ndata: %s\n\n", kind, text)
	}
	if err == nil {
		err = o.control.Flush()
	}
	return err
}

const streamType = "text/event-stream"
