package server

import (
	"context"

	"copperlark/app"
)

type foundChartsInput struct {
	Find    string `query:"find" maxLength:"300" doc:"words that must stand in a name, sentence, title, note, column or reading"`
	Chart   int64  `query:"chart" doc:"this one alone"`
	Dataset int64  `query:"dataset" doc:"of this dataset"`
	Maker   int64  `query:"maker" doc:"made by this person"`
	State   string `query:"state" enum:"all,kept,shared,try" doc:"a try is a chart that nobody named, kept, shared or wrote a note on"`
	Order   string `query:"order" enum:"changed,name,maker" doc:"the last changed first, or by name, or by maker"`
	From    int    `query:"from" minimum:"0" doc:"how many are known already"`
	Limit   int    `query:"limit" minimum:"0" maximum:"200" doc:"how many at most; 0: 200"`
}

func (s *Server) foundCharts(ctx context.Context, who app.Person, in *foundChartsInput) (*body[app.FoundCharts], error) {
	list, err := s.app.FindCharts(ctx, who.SpaceID, app.ChartsWanted{ID: in.Chart, Find: in.Find, DatasetID: in.Dataset, MakerID: in.Maker,
		State: in.State, Order: in.Order, From: in.From, Most: in.Limit})
	return of(list), err
}

type datasetsInput struct {
	Find string `query:"find" maxLength:"300" doc:"words that must all stand in a name, a description, columns or their meanings"`
}

func (s *Server) datasets(ctx context.Context, who app.Person, in *datasetsInput) (*body[[]app.Dataset], error) {
	list, err := s.app.FindDatasets(ctx, who.SpaceID, in.Find)
	return of(list), err
}

type copyChartInput struct {
	ID   int64 `path:"id"`
	Body struct {
		Name string `json:"name" maxLength:"1200"`
	}
}

// copyChart makes a chart that says what another does.
func (s *Server) copyChart(ctx context.Context, who app.Person, in *copyChartInput) (*body[app.Chart], error) {
	kept, err := s.app.KeptChart(ctx, who.SpaceID, in.ID)
	if err != nil {
		return nil, err
	}
	made, err := s.app.AddChart(ctx, who, kept.VersionID, in.Body.Name, kept.Document)
	return of(made), err
}
