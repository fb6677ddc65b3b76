package store

import (
	"context"
	"encoding/json"
	"time"
	"unicode/utf8"

	"github.com/jackc/pgx/v5"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/pattern"
)

// fileAgain is what a space keeps to be used again, in its file.
type fileAgain struct {
	Patterns    []filePattern    `json:"patterns"`
	Looks       []fileLook       `json:"looks"`
	Comparisons []fileComparison `json:"comparisons"`
}

type filePattern struct {
	Name      string          `json:"name"`
	Document  *chart.Document `json:"document"`
	Blanks    []pattern.Blank `json:"blanks"`
	Chart     int64           `json:"chart,omitempty"`
	Step      int64           `json:"step,omitempty"`
	CreatedAt time.Time       `json:"created_at"`
}

type fileLook struct {
	Name      string    `json:"name"`
	Looks     []string  `json:"looks"`
	Scales    []string  `json:"scales"`
	CreatedAt time.Time `json:"created_at"`
}

type fileComparison struct {
	Name      string            `json:"name"`
	Sides     app.ComparedSides `json:"sides"`
	CreatedAt time.Time         `json:"created_at"`
}

func fileAgainOf(ctx context.Context, tx pgx.Tx, spaceID int64) (out fileAgain, err error) {
	if out.Patterns, err = gathered(ctx, tx, func(row pgx.CollectableRow) (p filePattern, err error) {
		kept, err := scanPattern(row)
		return filePattern{kept.Name, kept.Document, kept.Blanks, kept.ChartID, kept.StepID, kept.CreatedAt}, err
	}, patternQuery+`where t.space_id = $1 order by t.id`, spaceID); err != nil {
		return out, err
	}
	if out.Looks, err = gathered(ctx, tx, func(row pgx.CollectableRow) (l fileLook, err error) {
		kept, err := scanLook(row)
		return fileLook{kept.Name, kept.Looks, kept.Scales, kept.CreatedAt}, err
	}, lookQuery+`where l.space_id = $1 order by l.id`, spaceID); err != nil {
		return out, err
	}
	out.Comparisons, err = gathered(ctx, tx, func(row pgx.CollectableRow) (c fileComparison, err error) {
		kept, err := scanComparison(row)
		return fileComparison{kept.Name, kept.Sides, kept.CreatedAt}, err
	}, comparisonQuery+`where k.space_id = $1 order by k.id`, spaceID)
	return out, err
}

// Of what somebody brings: how long names and clauses are, and how many clauses there are of one look, blanks of one pattern.
const (
	mostNameRunes  = 200
	mostClauses    = 60
	mostClauseText = 2_000
	mostBlanks     = 500
)

func fitsName(name string) bool { return name != "" && utf8.RuneCountInString(name) <= mostNameRunes }

// readAgain keeps what was taken out to be used again; a comparison whose charts are not there is left out.
func readAgain(
	ctx context.Context, tx pgx.Tx, spaceID, personID int64, in fileAgain, charts map[int64]readTrail, versions map[int64]int64,
) error {
	for _, p := range in.Patterns {
		if p.Document == nil || !fitsName(p.Name) || len(p.Blanks) > mostBlanks {
			return notASpace("a pattern cannot be kept")
		}
		document, err := json.Marshal(p.Document)
		if err != nil {
			return err
		}
		blanks, err := json.Marshal(p.Blanks)
		if err != nil {
			return err
		}
		trail := charts[p.Chart]
		if _, err := tx.Exec(ctx, `insert into patterns (space_id, name, document, blanks, chart_id, step_id, created_by, created_at)
			values ($1, $2, $3, $4, nullif($5::bigint, 0), nullif($6::bigint, 0), $7, $8)`, spaceID, p.Name, document, blanks, trail.id,
			trail.steps[p.Step], personID, p.CreatedAt); err != nil {
			return err
		}
	}
	for _, l := range in.Looks {
		lines := append(append([]string{}, l.Looks...), l.Scales...)
		for _, line := range lines {
			if len(line) > mostClauseText {
				return notASpace("looks cannot be kept")
			}
		}
		if !fitsName(l.Name) || len(lines) == 0 || len(lines) > mostClauses {
			return notASpace("looks cannot be kept")
		}
		if _, err := tx.Exec(ctx, `insert into looks (space_id, name, looks, scales, created_by, created_at)
			values ($1, $2, coalesce($3::text[], '{}'), coalesce($4::text[], '{}'), $5, $6)`, spaceID, l.Name, l.Looks, l.Scales, personID,
			l.CreatedAt); err != nil {
			return err
		}
	}
	for _, c := range in.Comparisons {
		if !fitsName(c.Name) {
			return notASpace("a comparison cannot be kept")
		}
		if err := readComparison(ctx, tx, spaceID, personID, c, charts, versions); err != nil {
			return err
		}
	}
	return nil
}

func readComparison(
	ctx context.Context, tx pgx.Tx, spaceID, personID int64, c fileComparison, charts map[int64]readTrail, versions map[int64]int64,
) error {
	a, hasA := charts[c.Sides.A]
	b, hasB := charts[c.Sides.B]
	aStep, hasAStep := a.steps[c.Sides.AStep]
	bStep, hasBStep := b.steps[c.Sides.BStep]
	if !hasA || !hasB || !hasAStep || !hasBStep {
		return nil
	}
	sides, err := json.Marshal(app.ComparedSides{A: a.id, AStep: aStep, AVersion: versions[c.Sides.AVersion], B: b.id, BStep: bStep,
		BVersion: versions[c.Sides.BVersion], Own: c.Sides.Own})
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into comparisons (space_id, name, sides, a_chart_id, b_chart_id, created_by, created_at)
		values ($1, $2, $3, $4, $5, $6, $7)`, spaceID, c.Name, sides, a.id, b.id, personID, c.CreatedAt)
	return err
}
