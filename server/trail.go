package server

import (
	"context"

	"copperlark/app"
	"copperlark/core/chart"
)

type addStepInput struct {
	ID   int64 `path:"id"`
	Body struct {
		ParentID int64           `json:"parent_id" doc:"the step that this one follows"`
		Document *chart.Document `json:"document"`
	}
}

func (s *Server) addStep(ctx context.Context, who app.Person, in *addStepInput) (*body[app.Step], error) {
	step, err := s.app.AddStep(ctx, who, in.ID, in.Body.ParentID, in.Body.Document, true)
	return of(step), err
}

// StepInput is a step of a trail.
type StepInput struct {
	ID   int64 `path:"id"`
	Step int64 `path:"step"`
}

func (s *Server) step(ctx context.Context, who app.Person, in *StepInput) (*body[app.Step], error) {
	step, err := s.app.StepOf(ctx, who.SpaceID, in.ID, in.Step)
	return of(step), err
}

type markStepInput struct {
	StepInput
	Body struct {
		Name   *string `json:"name,omitempty" doc:"empty: none"`
		Pinned *bool   `json:"pinned,omitempty"`
	}
}

func (s *Server) markStep(ctx context.Context, who app.Person, in *markStepInput) (*empty, error) {
	return &empty{}, s.app.MarkStep(ctx, who.SpaceID, in.ID, in.Step, in.Body.Name, in.Body.Pinned)
}

// takenOut is how many steps were taken out of a trail.
type takenOut struct {
	Steps int `json:"steps"`
}

func (s *Server) takeStepOut(ctx context.Context, who app.Person, in *StepInput) (*body[takenOut], error) {
	steps, err := s.app.TakeStepOut(ctx, who.SpaceID, in.ID, in.Step)
	return of(takenOut{steps}), err
}

func (s *Server) putStepBack(ctx context.Context, who app.Person, in *StepInput) (*empty, error) {
	return &empty{}, s.app.PutStepBack(ctx, who.SpaceID, in.ID, in.Step)
}

type changeChartInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Name      string `json:"name,omitempty" maxLength:"300"`
		StepID    int64  `json:"step_id,omitempty"`
		VersionID int64  `json:"version_id,omitempty" doc:"another version of the same dataset"`

		Columns map[string]string `json:"columns,omitempty" doc:"with a version: what columns of the chart are called there"`
	}
}

func (s *Server) changeChart(ctx context.Context, who app.Person, in *changeChartInput) (*empty, error) {
	return &empty{}, s.app.ChangeChart(
		ctx,
		who,
		in.ID,
		app.ChartChange{Name: in.Body.Name, StepID: in.Body.StepID, VersionID: in.Body.VersionID, Columns: in.Body.Columns},
	)
}
