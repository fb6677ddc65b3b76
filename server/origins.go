package server

import (
	"context"

	"copperlark/app"
)

func (s *Server) originPlaces(_ context.Context, _ app.Person, _ *empty) (*body[app.OriginPlaces], error) {
	places, err := s.app.OriginPlaces()
	return of(places), err
}

func (s *Server) originOf(ctx context.Context, who app.Person, in *idInput) (*body[app.Origin], error) {
	o, err := s.app.Origin(ctx, who.SpaceID, in.ID)
	return of(o), err
}

type setOriginInput struct {
	ID   int64 `path:"id"`
	Body app.OriginWanted
}

func (s *Server) setOrigin(ctx context.Context, who app.Person, in *setOriginInput) (*body[app.Origin], error) {
	o, err := s.app.SetOrigin(ctx, who, in.ID, in.Body)
	return of(o), err
}

func (s *Server) dropOrigin(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropOrigin(ctx, who, in.ID)
}

type askOriginInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Nevertheless bool `json:"nevertheless,omitempty" doc:"keeps a state that would stop it: other columns, far fewer rows"`
	}
}

func (s *Server) askOrigin(ctx context.Context, who app.Person, in *askOriginInput) (*body[app.Origin], error) {
	o, err := s.app.AskOrigin(ctx, who, in.ID, in.Body.Nevertheless)
	return of(o), err
}
