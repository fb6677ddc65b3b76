package server

import (
	"context"

	"copperlark/app"
)

func (s *Server) summary(ctx context.Context, who app.Person, in *preparationInput) (*body[*app.ColumnSummaries], error) {
	list, err := s.app.Summaries(ctx, who.SpaceID, in.Version, in.Body.Typed)
	return of(list), err
}

type groupsInput struct {
	Version int64 `path:"version"`
	Body    struct {
		Typed  string `json:"typed" maxLength:"100000" doc:"a preparation that is tried, one clause a line"`
		Column string `json:"column" maxLength:"10000"`
	}
}

func (s *Server) groups(ctx context.Context, who app.Person, in *groupsInput) (*body[*app.GroupCounts], error) {
	out, err := s.app.Groups(ctx, who.SpaceID, in.Version, in.Body.Typed, in.Body.Column)
	return of(out), err
}

func (s *Server) oneRow(ctx context.Context, who app.Person, in *idInput) (*body[app.ProposedRow], error) {
	out, err := s.app.ProposedRow(ctx, who.SpaceID, in.ID)
	return of(out), err
}
