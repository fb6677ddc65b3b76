package sentence

import (
	"fmt"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/table"
)

// Part is a stretch of the spoken sentence. A part with a Slot is a word that
// can be pressed: Role tells a column from a way (scale, fit, level).
type Part struct {
	Text string `json:"text"`
	Slot string `json:"slot,omitempty" doc:"what pressing opens: y, x, scale-x, scale-y, colour, size, shape, opacity, fit-kind:0, fit-for:0, fit-band:0 …"`
	Role string `json:"role,omitempty" enum:"column,way" doc:"whether the word is a column or a way"`
}

// Spoken gives the sentence as English prose with pressable words. Columns are
// called by their readable names; the table may be nil.
func Spoken(d *chart.Document, t *table.Table) []Part {
	s := &speech{table: t}
	s.say("Plot ")
	s.column(d.Y, "y")
	s.scale(d.LogY, "scale-y")
	s.say(" against ")
	s.column(d.X, "x")
	s.scale(d.LogX, "scale-x")
	for _, mapped := range []struct{ words, column, slot string }{
		{", coloured by ", d.Colour, "colour"}, {", sized by ", d.Size, "size"}, {", shaped by ", d.Shape, "shape"},
	} {
		if mapped.column != "" {
			s.say(mapped.words)
			s.column(mapped.column, mapped.slot)
		}
	}
	if d.Opacity != 0 {
		s.say(", ")
		s.way(fmt.Sprintf("%s %% opaque", table.FormatNumber(roundTo(100*d.Opacity, 1))), "opacity")
	}
	s.say(".")
	for i, fit := range d.Fits {
		s.fit(i, fit)
	}
	s.limits("x", d.XAxis)
	s.limits("y", d.YAxis)
	return s.parts
}

type speech struct {
	table *table.Table
	parts []Part
}

func (s *speech) say(text string) {
	if n := len(s.parts); n > 0 && s.parts[n-1].Slot == "" {
		s.parts[n-1].Text += text
		return
	}
	s.parts = append(s.parts, Part{Text: text})
}

func (s *speech) way(text, slot string) {
	s.parts = append(s.parts, Part{Text: text, Slot: slot, Role: "way"})
}

func (s *speech) column(name, slot string) {
	text := name
	if name == "" {
		text = "…"
	} else {
		text = s.readable(name)
	}
	s.parts = append(s.parts, Part{Text: text, Slot: slot, Role: "column"})
}

func (s *speech) readable(name string) string {
	if s.table != nil {
		if c := s.table.Column(name); c != nil {
			return c.Prose()
		}
	}
	return table.Prose(table.Readable(name))
}

func (s *speech) scale(log bool, slot string) {
	if log {
		s.say(" on a ")
		s.way("log scale", slot)
	}
}

func (s *speech) fit(i int, fit chart.Fit) {
	s.say(" Fit ")
	s.way(fitWords(fit), fmt.Sprintf("fit-kind:%d", i))
	s.say(" to ")
	whose := "all rows"
	if fit.Each != "" {
		whose = "each " + s.readable(fit.Each)
		if fit.Overall {
			whose += " and overall"
		}
	}
	s.parts = append(s.parts, Part{Text: whose, Slot: fmt.Sprintf("fit-for:%d", i), Role: "column"})
	if fit.Band != nil {
		s.say(" with ")
		level := table.FormatNumber(fit.Band.Level)
		kind, plural := "confidence ", ""
		if fit.Band.Kind == chart.Prediction {
			kind = "prediction "
		}
		article := "a "
		if fit.Each != "" {
			plural, article = "s", ""
		}
		s.say(article)
		s.way(level+" % "+kind+"band"+plural, fmt.Sprintf("fit-band:%d", i))
	}
	if fit.LeavingOutliers {
		s.say(", ")
		s.way("leaving out outliers", fmt.Sprintf("fit-outliers:%d", i))
	}
	s.say(".")
}

func fitWords(fit chart.Fit) string {
	switch fit.Kind {
	case chart.FitCurve:
		return fmt.Sprintf("a curve of degree %d", fit.Degree)
	case chart.FitLocal:
		span := fit.Span
		if span == 0 {
			span = chart.DefaultSpan
		}
		return fmt.Sprintf("a local regression (span %s)", table.FormatNumber(span))
	case chart.FitSpline:
		return "a smoothing spline"
	case chart.FitRobust:
		return "a robust line"
	}
	return "a straight line"
}

func (s *speech) limits(name string, axis chart.Axis) {
	if axis.Limits == nil {
		return
	}
	s.say(" Show " + name + " ")
	s.way(fmt.Sprintf("from %s to %s", table.FormatNumber(axis.Limits.From), table.FormatNumber(axis.Limits.To)), "limits-"+name)
	s.say(".")
}

func roundTo(v float64, step float64) float64 {
	return float64(int64(v/step+0.5)) * step
}

// Change says in about four words what made one document out of another, for a
// step of the trail.
func Change(before, after *chart.Document, t *table.Table) string {
	if before == nil {
		return "first look"
	}
	s := &speech{table: t}
	var said []string
	add := func(changed bool, words string) {
		if changed {
			said = append(said, words)
		}
	}
	mapped := func(name, was, is string) {
		switch {
		case was == is:
		case is == "":
			said = append(said, "no "+name)
		default:
			said = append(said, name+": "+s.readable(is))
		}
	}
	mapped("y", before.Y, after.Y)
	mapped("x", before.X, after.X)
	for _, scale := range []struct {
		name    string
		was, is bool
	}{{"x", before.LogX, after.LogX}, {"y", before.LogY, after.LogY}} {
		add(scale.is && !scale.was, "log "+scale.name)
		add(scale.was && !scale.is, "linear "+scale.name)
	}
	mapped("colour", before.Colour, after.Colour)
	mapped("size", before.Size, after.Size)
	mapped("shape", before.Shape, after.Shape)
	add(before.Opacity != after.Opacity, "opacity")
	if was, is := printFits(before), printFits(after); was != is {
		said = append(said, fitChange(before, after, s))
	}
	add(grammar.PrintClause("x", before) != grammar.PrintClause("x", after), "x axis")
	add(grammar.PrintClause("y", before) != grammar.PrintClause("y", after), "y axis")
	add(before.Title != after.Title, "title")
	add(before.Note != after.Note, "note")
	switch len(said) {
	case 0:
		return "the same again"
	case 1, 2:
		return strings.Join(said, ", ")
	}
	return fmt.Sprintf("%s and %d more", said[0], len(said)-1)
}

func printFits(d *chart.Document) string {
	var lines []string
	for _, fit := range d.Fits {
		lines = append(lines, printFit(fit))
	}
	return strings.Join(lines, "\n")
}

func fitChange(before, after *chart.Document, s *speech) string {
	switch {
	case len(after.Fits) < len(before.Fits):
		return "one fit less"
	case len(after.Fits) == 0:
		return "no fit"
	}
	if len(after.Fits) == len(before.Fits) {
		for i, fit := range after.Fits {
			if words := bandChange(before.Fits[i], fit); words != "" {
				return words
			}
		}
	}
	fit := after.Fits[len(after.Fits)-1]
	words := string(fit.Kind)
	if fit.Each != "" {
		words += " per " + s.readable(fit.Each)
	}
	if len(after.Fits) > len(before.Fits) {
		words = "+ " + words
	}
	return words
}

// bandChange says what became of a band where nothing else of a fit changed.
func bandChange(before, after chart.Fit) string {
	was, is := before.Band, after.Band
	before.Band, after.Band = nil, nil
	switch {
	case before != after || (was == nil && is == nil) || (was != nil && is != nil && *was == *is):
		return ""
	case is == nil:
		return "no band"
	}
	return fmt.Sprintf("%s %% %s band", table.FormatNumber(is.Level), is.Kind)
}
