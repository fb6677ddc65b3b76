package server

import (
	"context"

	"copperlark/app"
	"copperlark/core/chart"
)

func (s *Server) patterns(ctx context.Context, who app.Person, _ *empty) (*body[[]app.Pattern], error) {
	list, err := s.app.Patterns(ctx, who.SpaceID)
	return of(list), err
}

type addPatternInput struct {
	Body struct {
		Name    string `json:"name" maxLength:"800"`
		ChartID int64  `json:"chart_id" doc:"the chart whose sentence it is"`
		StepID  int64  `json:"step_id,omitempty" doc:"as it is at this step; 0: where it stands"`
	}
}

func (s *Server) addPattern(ctx context.Context, who app.Person, in *addPatternInput) (*body[app.Pattern], error) {
	made, err := s.app.AddPattern(ctx, who, in.Body.Name, in.Body.ChartID, in.Body.StepID)
	return of(made), err
}

type renamePatternInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Name string `json:"name" maxLength:"800"`
	}
}

func (s *Server) renamePattern(ctx context.Context, who app.Person, in *renamePatternInput) (*empty, error) {
	return &empty{}, s.app.RenamePattern(ctx, who.SpaceID, in.ID, in.Body.Name)
}

func (s *Server) dropPattern(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropPattern(ctx, who.SpaceID, in.ID)
}

type fitInput struct {
	Version int64 `path:"version"`
	Body    app.Fitting
}

func (s *Server) fit(ctx context.Context, who app.Person, in *fitInput) (*body[*app.Fitted], error) {
	fitted, err := s.app.Fit(ctx, who.SpaceID, in.Version, in.Body)
	return of(fitted), err
}

func (s *Server) looks(ctx context.Context, who app.Person, _ *empty) (*body[[]app.KeptLook], error) {
	list, err := s.app.Looks(ctx, who.SpaceID)
	return of(list), err
}

type addLookInput struct {
	Body struct {
		Name     string          `json:"name" maxLength:"800"`
		Document *chart.Document `json:"document" doc:"whose looks and scales they are"`
	}
}

func (s *Server) addLook(ctx context.Context, who app.Person, in *addLookInput) (*body[app.KeptLook], error) {
	kept, err := s.app.AddLook(ctx, who, in.Body.Name, in.Body.Document)
	return of(kept), err
}

func (s *Server) dropLook(ctx context.Context, who app.Person, in *idInput) (*empty, error) {
	return &empty{}, s.app.DropLook(ctx, who.SpaceID, in.ID)
}

type movedInput struct {
	ID      int64 `path:"id"`
	Version int64 `query:"version" required:"true" doc:"the version that is looked at"`
	From    int   `query:"from" minimum:"0" doc:"how many were told already"`
}

func (s *Server) moved(ctx context.Context, who app.Person, in *movedInput) (*body[app.MovedCharts], error) {
	moved, err := s.app.Moved(ctx, who, in.ID, in.Version, in.From)
	return of(moved), err
}

type movedByFileInput struct {
	ID   int64  `path:"id"`
	Key  string `path:"key"`
	From int    `query:"from" minimum:"0" doc:"how many were told already"`
}

func (s *Server) movedByFile(ctx context.Context, who app.Person, in *movedByFileInput) (*body[app.MovedCharts], error) {
	moved, err := s.app.MovedByFile(ctx, who, in.ID, in.Key, in.From)
	return of(moved), err
}
