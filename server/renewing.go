package server

import (
	"context"

	"copperlark/app"
)

type draftInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Typed string `json:"typed" maxLength:"100000" doc:"one clause a line; empty drops the draft"`
	}
}

func (s *Server) draft(ctx context.Context, who app.Person, in *idInput) (*body[app.Draft], error) {
	draft, err := s.app.Draft(ctx, who, in.ID)
	return of(draft), err
}

func (s *Server) keepDraft(ctx context.Context, who app.Person, in *draftInput) (*empty, error) {
	return &empty{}, s.app.KeepDraft(ctx, who, in.ID, in.Body.Typed)
}

type newFileInput struct {
	ID  int64  `path:"id"`
	Key string `path:"key" doc:"of an uploaded file"`
}

func (s *Server) compareFile(ctx context.Context, who app.Person, in *newFileInput) (*body[*app.Renewal], error) {
	renewal, err := s.app.CompareFile(ctx, who, in.ID, in.Key)
	return of(renewal), err
}

func (s *Server) keepFile(ctx context.Context, who app.Person, in *newFileInput) (*body[app.Version], error) {
	version, err := s.app.KeepFile(ctx, who, in.ID, in.Key)
	return of(version), err
}

type addRowsInput struct {
	ID   int64  `path:"id"`
	Key  string `path:"key"`
	Body struct {
		Keys []string `json:"keys,omitempty" maxItems:"12" doc:"columns that tell rows apart: a row that is there already is replaced"`
		Keep bool     `json:"keep" doc:"false: it is only told what would become of it"`
	}
}

func (s *Server) addRows(ctx context.Context, who app.Person, in *addRowsInput) (*body[*app.Renewed], error) {
	renewed, err := s.app.AppendFile(ctx, who, in.ID, in.Key, in.Body.Keys, in.Body.Keep)
	if err == nil && in.Body.Keep {
		err = s.app.Discard(context.WithoutCancel(ctx), who.SpaceID, in.Key)
	}
	return of(renewed), err
}

func (s *Server) askAside(ctx context.Context, who app.Person, in *idInput) (*body[*app.AsideAnswer], error) {
	answer, err := s.app.AskAside(ctx, who, in.ID)
	return of(answer), err
}

type editInput struct {
	ID   int64 `path:"id"`
	Body app.Edit
}

func (s *Server) edit(ctx context.Context, who app.Person, in *editInput) (*body[app.Version], error) {
	version, err := s.app.Edit(ctx, who, in.ID, in.Body)
	return of(version), err
}
