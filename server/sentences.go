package server

import (
	"context"

	"copperlark/app"
	"copperlark/core/chart"
)

type choicesInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Document *chart.Document `json:"document"`
		Slot     string          `json:"slot" maxLength:"100" doc:"of a part of the spoken sentence"`
	}
}

func (s *Server) choices(ctx context.Context, who app.Person, in *choicesInput) (*body[*app.Menu], error) {
	menu, err := s.app.Choices(ctx, who.SpaceID, in.Version, in.Body.Document, in.Body.Slot)
	return of(menu), err
}

func (s *Server) additions(ctx context.Context, who app.Person, in *documentInput) (*body[[]app.Addition], error) {
	list, err := s.app.Additions(ctx, who.SpaceID, in.Version, in.Body.Document)
	return of(list), err
}

type completeInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Before string `json:"before" maxLength:"100000" doc:"what stands before the caret"`
	}
}

func (s *Server) complete(ctx context.Context, who app.Person, in *completeInput) (*body[*app.Completion], error) {
	completion, err := s.app.Complete(ctx, who.SpaceID, in.Version, in.Body.Before)
	return of(completion), err
}

func (s *Server) completePreparation(ctx context.Context, who app.Person, in *completeInput) (*body[*app.Completion], error) {
	completion, err := s.app.CompletePreparation(ctx, who.SpaceID, in.Version, in.Body.Before)
	return of(completion), err
}
