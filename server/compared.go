package server

import (
	"context"

	"copperlark/app"
	story "copperlark/core/page"
)

// ComparedInput is which two charts are compared.
type ComparedInput struct {
	A        int64 `query:"a" required:"true" doc:"a chart"`
	AStep    int64 `query:"a_step" doc:"a step of its trail; 0: where it stands"`
	AVersion int64 `query:"a_version" doc:"a version that it is drawn of; 0: its own"`
	B        int64 `query:"b" required:"true" doc:"the other chart, or the same one"`
	BStep    int64 `query:"b_step" doc:"a step of its trail; 0: where it stands"`
	BVersion int64 `query:"b_version" doc:"a version that it is drawn of; 0: its own"`
}

func (in *ComparedInput) sides() (a, b app.Side) {
	return app.Side{ShownChart: story.ShownChart{ID: in.A, Step: in.AStep}, VersionID: in.AVersion},
		app.Side{ShownChart: story.ShownChart{ID: in.B, Step: in.BStep}, VersionID: in.BVersion}
}

func (s *Server) compared(ctx context.Context, who app.Person, in *ComparedInput) (*body[*app.Comparison], error) {
	a, b := in.sides()
	comparison, err := s.app.Compare(ctx, who.SpaceID, a, b)
	return of(comparison), err
}

type comparedFigureInput struct {
	ComparedInput
	Of     string  `query:"of" enum:"a,b" doc:"which of the two is drawn"`
	Own    bool    `query:"own" doc:"with its own axes"`
	Width  float64 `query:"width" minimum:"0" maximum:"8000" doc:"in pixels; 0: as usual"`
	Height float64 `query:"height" minimum:"0" maximum:"8000" doc:"in pixels; 0: as usual"`
}

func (s *Server) comparedFigure(ctx context.Context, who app.Person, in *comparedFigureInput) (*figureOutput, error) {
	one, other := in.sides()
	if in.Of == "b" {
		one, other = other, one
	}
	size := app.PartSize{Width: in.Width, Height: in.Height}
	var picture *app.Picture
	var err error
	if in.Own {
		picture, _, err = s.app.DrawStep(ctx, who.SpaceID, one, size)
	} else {
		picture, err = s.app.DrawBeside(ctx, who.SpaceID, one, other, size)
	}
	if err != nil {
		return nil, err
	}
	encoded, err := picture.Encode()
	return figureOf(encoded), err
}

func (s *Server) comparisons(ctx context.Context, who app.Person, _ *empty) (*body[[]app.KeptComparison], error) {
	list, err := s.app.Comparisons(ctx, who.SpaceID)
	return of(list), err
}

type keepComparisonInput struct {
	Body struct {
		Name  string            `json:"name" maxLength:"800"`
		Sides app.ComparedSides `json:"sides"`
	}
}

func (s *Server) keepComparison(ctx context.Context, who app.Person, in *keepComparisonInput) (*body[app.KeptComparison], error) {
	kept, err := s.app.KeepComparison(ctx, who, in.Body.Name, in.Body.Sides)
	return of(kept), err
}

func (s *Server) dropComparison(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropComparison(ctx, who.SpaceID, in.ID)
}
