package mark

import (
	"context"

	"copperlark/core/chart"
	"copperlark/core/model"
	"copperlark/core/table"
)

// Shared are models of the rows of a panel that several ask for: each is made once.
type Shared struct {
	c       *Case
	line    *FittedLine
	failed  error
	divided map[string]*GroupLines
}

// Share makes room for shared models of a case.
func Share(c *Case) *Shared {
	return &Shared{c: c, divided: map[string]*GroupLines{}}
}

// Overall is the least-squares line of all rows.
func (s *Shared) Overall(ctx context.Context) (*FittedLine, error) {
	if s.line == nil && s.failed == nil {
		if sums := s.c.Elsewhere.Sums(nil); sums != nil {
			line, err := sums.All.Line()
			if s.failed = err; err == nil {
				s.line = straight(line)
				s.line.Exact = true
			}
			return s.line, s.failed
		}
		lines, errs := model.FitLines(ctx, s.c.U, s.c.V, nil, 1)
		if s.failed = errs[0]; s.failed == nil {
			s.line = straight(lines[0])
		}
	}
	return s.line, s.failed
}

// GroupLines are the rows' groups by a column, with the line of each group.
type GroupLines struct {
	Column *table.Column // read as groups
	Codes  []int32
	Counts []int
	Lines  []*model.Line
	Errs   []error
	Sums   *Sums // of all rows, where these are a sample and more is known: the lines are of these then
}

// Groups divides the rows by a column. It gives nil where the column has more groups than lines
// are fitted for.
func (s *Shared) Groups(name string) *GroupLines {
	if known := s.divided[name]; known != nil {
		return known
	}
	column := s.c.Table.Column(name).AsGroups(chart.MaxFitGroups)
	if column == nil {
		return nil
	}
	g := &GroupLines{Column: column}
	g.Counts, g.Codes = make([]int, len(g.Column.Levels)), make([]int32, len(s.c.Rows))
	for i, row := range s.c.Rows {
		g.Codes[i] = g.Column.Codes[row]
		g.Counts[g.Codes[i]]++
	}
	s.divided[name] = g
	return g
}

// Fitted gives the groups of a column with their lines, or nil as Groups does.
func (s *Shared) Fitted(ctx context.Context, name string) *GroupLines {
	g := s.Groups(name)
	if g != nil && g.Lines == nil {
		if g.Sums = s.c.Elsewhere.Sums(g.Column); g.Sums != nil {
			g.Lines, g.Errs = make([]*model.Line, len(g.Counts)), make([]error, len(g.Counts))
			for i, m := range g.Sums.Groups {
				g.Counts[i] = int(m.N)
				g.Lines[i], g.Errs[i] = m.Line()
			}
			return g
		}
		g.Lines, g.Errs = model.FitLines(ctx, s.c.U, s.c.V, g.Codes, len(g.Counts))
	}
	return g
}
