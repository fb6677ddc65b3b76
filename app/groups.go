package app

import (
	"context"
	"sort"

	"copperlark/core/describe"
	"copperlark/core/prepare"
	"copperlark/core/table"
)

// mostGroupsListed is how many groups of a column are listed, the most frequent first.
const mostGroupsListed = 2000

// GroupCounts are the groups of a column with how many rows each has.
type GroupCounts struct {
	Column  string       `json:"column"`
	Groups  []GroupCount `json:"groups" doc:"the most frequent first; of equal ones, in their own order"`
	Others  int          `json:"others" doc:"groups beyond the 2,000 that are listed"`
	Missing int          `json:"missing" doc:"rows without a value"`
	Rows    int          `json:"rows"`
}

// GroupCount is one group.
type GroupCount struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// Groups counts the rows of every group of a column, after a typed preparation.
func (a *App) Groups(ctx context.Context, spaceID, versionID int64, typed, column string) (out *GroupCounts, err error) {
	err = a.tried(ctx, spaceID, versionID, "the groups of a column", weighSummary, typed,
		func(ctx context.Context, state *prepare.State, _ *prepare.Mistake, _ *table.Table, d Dataset) error {
			meanings, err := a.store.Meanings(ctx, d.ID)
			if err != nil {
				return err
			}
			c := meanings.spelled(state.Table).Column(column)
			if c == nil || !c.Kind.Coded() {
				return &Invalid{Message: column + " is no column of groups", Advice: "choose a column of words"}
			}
			out = groupCounts(c)
			return nil
		})
	return out, err
}

func groupCounts(c *table.Column) *GroupCounts {
	out := &GroupCounts{Column: c.Name, Groups: []GroupCount{}, Rows: c.Len(), Missing: c.MissingCount()}
	for _, bar := range describe.Picture(c, len(c.Levels)) {
		out.Groups = append(out.Groups, GroupCount{bar.Name, bar.Count})
	}
	sort.SliceStable(out.Groups, func(i, j int) bool { return out.Groups[i].Count > out.Groups[j].Count })
	if out.Others = len(out.Groups) - mostGroupsListed; out.Others <= 0 {
		out.Others = 0
		return out
	}
	out.Groups = out.Groups[:mostGroupsListed]
	return out
}
