package app

import (
	"context"
	"errors"
	"slices"
	"time"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/prepare"
	"copperlark/core/reading"
	"copperlark/core/table"
)

// AsideAnswer is what rows that were set aside said of a chart's relation.
type AsideAnswer struct {
	Words    string          `json:"words"`
	Rows     int             `json:"rows"`
	By       string          `json:"by" doc:"who asked"`
	At       time.Time       `json:"at"`
	Document *chart.Document `json:"-"` // the relation that was asked about
}

// IsOf reports whether an answer is about the relation that a document shows: the same
// columns, rows, scales, and what is taken out.
func (n *AsideAnswer) IsOf(d *chart.Document) bool {
	a := n.Document
	return a.X == d.X && a.Y == d.Y && a.Where == d.Where && a.TakeOut == d.TakeOut && a.Scales.X.Scale == d.Scales.X.Scale &&
		a.Scales.Y.Scale == d.Scales.Y.Scale
}

// AskAside asks the rows that were set aside whether the relation of a chart holds in them. A
// chart asks once; the answer stays with it.
func (a *App) AskAside(ctx context.Context, person Person, chartID int64) (*AsideAnswer, error) {
	kept, err := a.store.Chart(ctx, person.SpaceID, chartID)
	if err != nil {
		return nil, err
	}
	if kept.Answer != nil {
		return nil, &Invalid{
			Message: "this chart has asked the rows set aside already",
			Advice:  "what they said stands beside it; another chart asks for itself",
		}
	}
	dataset, err := a.store.Dataset(ctx, person.SpaceID, kept.DatasetID)
	if err != nil {
		return nil, err
	}
	versions, err := a.store.Versions(ctx, person.SpaceID, dataset.ID)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(versions, func(v Version) bool { return v.ID == kept.VersionID })
	if at < 0 || !prepare.SetsAside(versions[at].Preparation) {
		return nil, &Invalid{
			Message: "no rows are set aside in the version that this chart shows",
			Advice:  "say set aside 20% of rows in Data, keep it, and move the chart over",
		}
	}
	answer := &AsideAnswer{By: person.Name, At: a.now(), Document: kept.Document}
	err = a.onSpelled(
		ctx,
		person.SpaceID,
		kept.VersionID,
		"what rows set aside say",
		weighExplain,
		func(ctx context.Context, shown *shown, d Dataset) error {
			unseen, err := a.aside(ctx, person.SpaceID, versions[at], dataset)
			if err != nil {
				return err
			}
			meanings, err := a.store.Meanings(ctx, d.ID)
			if err != nil {
				return err
			}
			answer.Words, answer.Rows, err = asked(ctx, kept.Document, shown.Table, meanings.spelled(unseen))
			return err
		},
	)
	if err != nil {
		return nil, err
	}
	return answer, a.store.AddAnswer(ctx, chartID, person.ID, answer)
}

// aside is the table of the rows that a version's preparation sets aside, prepared like the others.
func (a *App) aside(ctx context.Context, spaceID int64, version Version, dataset Dataset) (*table.Table, error) {
	before, _, err := a.Table(ctx, spaceID, version.PreparedFrom)
	if err != nil {
		return nil, err
	}
	environment := a.environment(spaceID, dataset.Name, nil)
	environment.Aside = true
	state, err := prepare.Run(ctx, before, version.Preparation, environment)
	var mistake *prepare.Mistake
	if errors.As(err, &mistake) {
		return nil, &Invalid{Message: "the preparation cannot be made of the rows set aside: " + mistake.Message, Advice: mistake.Advice}
	}
	if err != nil {
		return nil, err
	}
	return state.Table, nil
}

// asked compares what a chart's relation is in two tables.
func asked(ctx context.Context, document *chart.Document, shown, unseen *table.Table) (words string, rows int, err error) {
	var looked [2]reading.Looked
	var units *reading.Units
	column := ""
	for i, t := range []*table.Table{shown, unseen} {
		r, err := relate(ctx, mark.Bind(document, t))
		if err != nil {
			return "", 0, &Invalid{Message: err.Error(), Advice: "ask with a chart of a number against a number, or by groups"}
		}
		if looked[i].Line, err = model.FitLine(ctx, r.x, r.y); err != nil {
			return "", 0, &Invalid{Message: "there is no line to compare: " + err.Error(), Advice: "set more rows aside"}
		}
		findings, err := confound.RankAlike(
			ctx,
			r.x,
			r.y,
			r.rows,
			candidatesOf(t, document),
			confound.FindAlike(ctx, r.x, r.y, r.rows, t, document.X.Column, document.Y.Column, document.TakeOut),
			confound.NoOthers,
			nil,
		)
		if err != nil {
			return "", 0, err
		}
		for _, f := range findings {
			if i == 0 && column == "" && f.With == "" && f.Verdict.Claims() {
				column = f.Column
			}
			if f.Column == column && f.With == "" {
				looked[i].Verdict = f.Verdict
			}
		}
		if i == 0 {
			units = reading.UnitsOf(r.xAxis, r.yAxis, looked[0].Line.XMin, looked[0].Line.XMax)
		}
	}
	if column != "" {
		looked[0].Column = shown.Column(column).Prose()
	}
	return reading.Asked(units, looked[0], looked[1]), looked[1].Line.N, nil
}
