package server

import (
	"context"
	"net/http"
	"strconv"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/render"
)

type drawingInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Document *chart.Document `json:"document"`
		app.Paper
	}
}

type drawingOutput struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

func (s *Server) drawing(ctx context.Context, who app.Person, in *drawingInput) (*drawingOutput, error) {
	drawing, err := s.app.Export(ctx, who.SpaceID, in.Version, in.Body.Document, in.Body.Paper)
	if err != nil {
		return nil, err
	}
	return &drawingOutput{
		drawing.Type,
		disposition(drawing.Name),
		drawing.Content,
	}, nil
}

// drawingTypes are the types of drawings, for the description.
func drawingTypes() (names []string) {
	for _, f := range render.Formats {
		names = append(names, f.Type)
	}
	return names
}

// pictureAge is how long a browser keeps a small picture: a step never changes, but what
// columns mean can.
const pictureAge = "private, max-age=3600"

// picture answers with the small picture of a step.
func (s *Server) picture(c *gin.Context) {
	ctx := c.Request.Context()
	number := func(text string) int64 {
		n, _ := strconv.ParseInt(text, 10, 64)
		return n
	}
	who, err := person(ctx)
	var content []byte
	if err == nil {
		content, err = s.app.Picture(
			ctx,
			who.SpaceID,
			number(c.Param("id")),
			number(c.Param("step")),
			app.SmallSize{Width: int(number(c.Query("width"))), Height: int(number(c.Query("height")))},
		)
	}
	if err != nil {
		s.refuse(c.Writer, ctx, err)
		return
	}
	c.Header("Cache-Control", pictureAge)
	c.Data(http.StatusOK, "image/svg+xml", content)
}

// sizeParameters are the width and the height that a picture is asked for.
func sizeParameters() (list []*huma.Param) {
	for _, name := range []string{"width", "height"} {
		list = append(list, &huma.Param{Name: name, In: "query", Description: "in pixels", Schema: &huma.Schema{Type: "integer"}})
	}
	return list
}
