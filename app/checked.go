package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// checkedLines tells readers of a shared chart what else was looked at as an explanation of its relation: the findings of columns
// that are published, in their words, and of all others how many there were of each verdict, without their names. Nothing where
// nothing could be tried. What is known of all rows of a table that stays elsewhere is told of these, the rest of the sample.
func checkedLines(
	ctx context.Context, bound *mark.Bound, whole *summary.Whole, published *table.Table, hidden []string,
) (lines []string, err error) {
	all, err := explain(ctx, bound, whole)
	if err != nil || all.Problem != "" {
		return nil, err
	}
	var verdicts []string // of those that stay at home, in the order of the findings
	counts := map[string]int{}
	others := 0
	for _, f := range all.Findings {
		line := f.Name + ": " + f.Words
		if f.Basis == reading.OfSample {
			line += " (of the sample)"
		}
		at := func(column string) bool { // it is shared, and so are the groups of it that the line names
			return column == "" || published.Said(column) != nil &&
				!speaksOf(line, groupsAtHome(bound.Table.Column(column), published.Said(column)))
		}
		if at(f.Column) && at(f.With) && !speaksOf(line, hidden) {
			lines = append(lines, line)
			continue
		}
		verdict := string(f.Verdict)
		if counts[verdict]++; !slices.Contains(verdicts, verdict) {
			verdicts = append(verdicts, verdict)
		}
		others++
	}
	if others == 0 {
		return lines, nil
	}
	for i, verdict := range verdicts {
		verdicts[i] = fmt.Sprintf("%s: %d", verdict, counts[verdict])
	}
	more := ""
	if len(lines) > 0 {
		more = " more"
	}
	return append(lines, fmt.Sprintf("%s%s tried that %s not shared (%s)", scale.Counted(others, "column"), more+were(others), are(others),
		strings.Join(verdicts, ", "))), nil
}

// mostGroups is up to how many groups of a column are looked for in what is told.
const mostGroups = 10_000

// groupsAtHome are the names, in small letters, of the groups of a column that no shared row has.
func groupsAtHome(whole, shared *table.Column) (names []string) {
	if whole = whole.AsGroups(mostGroups); whole == nil {
		return nil
	}
	there := map[string]bool{}
	if shared = shared.AsGroups(mostGroups); shared != nil {
		for _, code := range shared.Codes {
			if code >= 0 {
				there[shared.Levels[code]] = true
			}
		}
	}
	for _, level := range whole.Levels {
		if level != "" && !there[level] {
			names = append(names, strings.ToLower(level))
		}
	}
	return names
}

func were(n int) string {
	if n == 1 {
		return " was"
	}
	return " were"
}

func are(n int) string {
	if n == 1 {
		return "is"
	}
	return "are"
}
