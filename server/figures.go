package server

import (
	"context"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/reading"
)

type documentInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Document *chart.Document `json:"document"`
	}
}

func (s *Server) explanations(ctx context.Context, who app.Person, in *documentInput) (*body[*app.Explanations], error) {
	found, err := s.app.Explain(ctx, who.SpaceID, in.Version, in.Body.Document)
	return of(found), err
}

func (s *Server) holds(ctx context.Context, who app.Person, in *documentInput) (*body[*reading.Holds], error) {
	found, err := s.app.Holds(ctx, who.SpaceID, in.Version, in.Body.Document)
	return of(found), err
}

type evidenceInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Document *chart.Document `json:"document"`
		Column   string          `json:"column" doc:"one that was tried"`
	}
}

func (s *Server) evidence(ctx context.Context, who app.Person, in *evidenceInput) (*body[*reading.Evidence], error) {
	found, err := s.app.Evidence(ctx, who.SpaceID, in.Version, in.Body.Document, in.Body.Column)
	return of(found), err
}

type withoutInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Document *chart.Document `json:"document"`
		Rows     []float64       `json:"rows" maxItems:"2000" doc:"those that were chosen, counted from 1"`
	}
}

func (s *Server) withAndWithout(ctx context.Context, who app.Person, in *withoutInput) (*body[*app.WithAndWithout], error) {
	lines, err := s.app.WithAndWithout(ctx, who.SpaceID, in.Version, in.Body.Document, in.Body.Rows)
	return of(lines), err
}

type pairsInput struct {
	Version int64 `path:"version"`
	Body    app.PairsWanted
}

func (s *Server) pairs(ctx context.Context, who app.Person, in *pairsInput) (*figureOutput, error) {
	encoded, err := s.app.Pairs(ctx, who.SpaceID, in.Version, in.Body)
	return figureOf(encoded), err
}

type figureInput struct {
	Version int64 `path:"version"`
	Body    app.Wanted
}

type figureOutput struct {
	ContentType string `header:"Content-Type"`
	Packed      string `header:"No-Gzip-Compression" hidden:"true"` // is taken out by what packs answers
	Body        []byte
}

// packedFigure is from how many bytes on a figure is sent as it is: places of marks pack
// by a seventh, and packing and unpacking them takes longer than a network saves.
const packedFigure = 256 << 10

const figureType = "application/octet-stream"

func (s *Server) figure(ctx context.Context, who app.Person, in *figureInput) (*figureOutput, error) {
	picture, err := s.app.Draw(ctx, who.SpaceID, in.Version, in.Body)
	if err != nil {
		return nil, err
	}
	encoded, err := picture.Encode()
	return figureOf(encoded), err
}

func figureOf(encoded []byte) *figureOutput {
	out := &figureOutput{ContentType: figureType, Body: encoded}
	if len(encoded) > packedFigure {
		out.Packed = "no"
	}
	return out
}

type buildInput struct{ Body app.BuildWanted }

func (s *Server) build(ctx context.Context, _ app.Person, in *buildInput) (*figureOutput, error) {
	encoded, err := s.app.Build(ctx, in.Body)
	return figureOf(encoded), err
}
