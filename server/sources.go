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

type chartStayingInput struct{ Body app.StayingWanted }

func (s *Server) chartStaying(ctx context.Context, who app.Person, in *chartStayingInput) (*body[app.Dataset], error) {
	dataset, err := s.app.ChartStaying(ctx, who, in.Body)
	return of(dataset), err
}

type askWholeInput struct {
	Version int64 `path:"version"`
	Body    app.WholeWanted
}

func (s *Server) askWhole(ctx context.Context, who app.Person, in *askWholeInput) (*body[app.WholeAnswer], error) {
	answer, err := s.app.AskWhole(ctx, who, in.Version, in.Body)
	return of(answer), err
}

type rowsUnderInput struct {
	Version int64 `path:"version"`
	Body    app.UnderWanted
}

func (s *Server) rowsUnder(ctx context.Context, who app.Person, in *rowsUnderInput) (*body[*app.RowsUnder], error) {
	rows, err := s.app.RowsUnder(ctx, who, in.Version, in.Body)
	return of(rows), err
}

func (s *Server) answers(ctx context.Context, who app.Person, in *versionInput) (*body[[]app.WholeAnswer], error) {
	list, err := s.app.Answers(ctx, who.SpaceID, in.Version)
	return of(list), err
}

func (s *Server) dropAnswers(ctx context.Context, who app.Person, in *versionInput) (*empty, error) {
	return &empty{}, s.app.DropAnswers(ctx, who, in.Version)
}
