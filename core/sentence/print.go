package sentence

import (
	"fmt"
	"slices"
	"strings"
	"unicode"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// Print writes the typed form of a document, one clause a line.
func Print(d *chart.Document) string {
	var lines []string
	add := func(format string, arguments ...any) { lines = append(lines, fmt.Sprintf(format, arguments...)) }
	add("plot %s against %s", columnName(d.Y), columnName(d.X))
	if d.LogX {
		add("log x")
	}
	if d.LogY {
		add("log y")
	}
	for _, mapped := range []struct{ clause, column string }{{"colour", d.Colour}, {"size", d.Size}, {"shape", d.Shape}} {
		if mapped.column != "" {
			add("%s by %s", mapped.clause, columnName(mapped.column))
		}
	}
	if d.Opacity != 0 {
		add("opacity %s", table.FormatNumber(d.Opacity))
	}
	for _, fit := range d.Fits {
		add("%s", printFit(fit))
	}
	for _, axis := range []struct {
		name string
		axis chart.Axis
	}{{"x", d.XAxis}, {"y", d.YAxis}} {
		if said := printAxis(axis.axis); said != "" {
			add("%s%s", axis.name, said)
		}
	}
	if d.Title != "" {
		add("title %s", quotedText(d.Title))
	}
	if d.Note != "" {
		add("note %s", quotedText(d.Note))
	}
	return strings.Join(lines, "\n") + "\n"
}

func printFit(fit chart.Fit) string {
	words := []string{"fit", string(fit.Kind)}
	if fit.Kind == chart.FitCurve {
		words = append(words, fmt.Sprintf("degree %d", fit.Degree))
	}
	if fit.Kind == chart.FitLocal && fit.Span != 0 {
		words = append(words, "span "+table.FormatNumber(fit.Span))
	}
	switch {
	case fit.Each != "" && fit.Overall:
		words = append(words, "for each "+columnName(fit.Each)+" and overall")
	case fit.Each != "":
		words = append(words, "for each "+columnName(fit.Each))
	}
	if fit.Band != nil {
		kind := ""
		if fit.Band.Kind == chart.Prediction {
			kind = "prediction "
		}
		words = append(words, fmt.Sprintf("with %sband %s%%", kind, table.FormatNumber(fit.Band.Level)))
	}
	if fit.LeavingOutliers {
		words = append(words, "leaving out outliers")
	}
	return strings.Join(words, " ")
}

func printAxis(axis chart.Axis) string {
	said := ""
	if axis.Limits != nil {
		said += fmt.Sprintf(" from %s to %s", table.FormatNumber(axis.Limits.From), table.FormatNumber(axis.Limits.To))
	}
	if axis.Title != "" {
		said += " titled " + quotedText(axis.Title)
	}
	if axis.Unit != "" {
		said += " in " + quotedText(axis.Unit)
	}
	return said
}

func quotedText(text string) string { return "'" + strings.ReplaceAll(text, "'", "''") + "'" }

// columnName writes a column's name as the grammar reads it back.
func columnName(name string) string {
	plain := name != "" && !keywords[strings.ToLower(name)] && !slices.Contains(clauses, strings.ToLower(name))
	for i, r := range name {
		if !startsWord(r) && (i == 0 || !(unicode.IsDigit(r) || unicode.Is(unicode.Mn, r))) {
			plain = false
		}
	}
	if plain {
		return name
	}
	return `"` + strings.ReplaceAll(name, `"`, `""`) + `"`
}
