package server

import (
	"context"

	"copperlark/app"
)

func (s *Server) sources(ctx context.Context, who app.Person, _ *empty) (*body[[]app.ListedSource], error) {
	list, err := s.app.Sources(ctx, who.SpaceID)
	return of(list), err
}

type drawRowsInput struct{ Body app.RowsWanted }

func (s *Server) drawRows(ctx context.Context, who app.Person, in *drawRowsInput) (*body[*app.Preview], error) {
	preview, err := s.app.DrawRows(ctx, who, in.Body)
	return of(preview), err
}
