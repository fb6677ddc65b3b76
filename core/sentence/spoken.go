package sentence

import (
	"fmt"
	"strconv"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// Part is a stretch of the spoken sentence.
type Part = clause.Part

// Spoken gives the sentence as English prose with pressable words. Columns are
// called by their readable names.
func Spoken(b *mark.Bound) []Part { return grammar.Speak(b.Document, clause.VoiceOf(b.Table)) }

// readableIn is what columns of a table are called inside a sentence.
func readableIn(t *table.Table) func(name string) string {
	return func(name string) string {
		if t != nil {
			if c := t.Column(name); c != nil {
				return c.Prose()
			}
		}
		return table.Prose(table.Readable(name))
	}
}

// Change says in about four words what made one document out of another, for a
// step of the trail.
func Change(before, after *mark.Bound) string {
	if before == nil {
		return "first look"
	}
	said := grammar.Changed(before.Document, after.Document, readableIn(after.Table))
	switch len(said) {
	case 0:
		return "the same again"
	case 1, 2:
		return strings.Join(said, ", ")
	}
	return fmt.Sprintf("%s and %d more", said[0], len(said)-1)
}

func columnChange(name, was, is string, readable func(string) string) []string {
	switch {
	case was == is:
		return nil
	case is == "":
		return []string{"no " + name}
	}
	return []string{name + ": " + readable(is)}
}

func speakScale(s *clause.Speech, a *chart.Axis, slot string) {
	switch {
	case a.Log() && a.Base != 0 && a.Base != 10:
		s.Say(" on a ")
		s.Way("log scale of base "+table.FormatNumber(a.Base), slot)
	case a.Log():
		s.Say(" on a ")
		s.Way("log scale", slot)
	case a.Scale == chart.NearLinear:
		s.Say(" on a scale ")
		s.Way("near-linear at zero", slot)
	}
}

func speakFit(s *clause.Speech, i int, fit chart.Fit) {
	s.Sentence("Fit ")
	s.Way(fitWords(fit), fmt.Sprintf("fit-kind:%d", i))
	s.Say(" to ")
	whose := "all rows"
	if fit.Each != "" {
		whose = "each " + s.Readable(fit.Each)
		if fit.Overall {
			whose += " and overall"
		}
	}
	s.Words(whose, fmt.Sprintf("fit-for:%d", i))
	if fit.Band != nil {
		s.Say(" with ")
		level := table.FormatNumber(fit.Band.Level)
		kind, plural := "confidence ", ""
		if fit.Band.Kind == chart.Prediction {
			kind = "prediction "
		}
		article := "a "
		if fit.Each != "" {
			plural, article = "s", ""
		}
		s.Say(article)
		s.Way(level+" % "+kind+"band"+plural, fmt.Sprintf("fit-band:%d", i))
	}
	if fit.LeavingOutliers {
		s.Say(", ")
		s.Way("leaving out outliers", fmt.Sprintf("fit-outliers:%d", i))
	}
	speakStroke(s, fit.Stroke, fmt.Sprintf("fit-line:%d", i))
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

// percent writes a share of one in percent, digit by digit, so that it is the same share when it is read.
func percent(share float64) string {
	mantissa, power, _ := strings.Cut(strconv.FormatFloat(share, 'e', -1, 64), "e")
	digits := strings.Replace(mantissa, ".", "", 1)
	exponent, _ := strconv.Atoi(power)
	switch whole := 1 + exponent + 2; {
	case whole <= 0:
		return "0." + strings.Repeat("0", -whole) + digits
	case whole >= len(digits):
		return digits + strings.Repeat("0", whole-len(digits))
	default:
		return digits[:whole] + "." + digits[whole:]
	}
}

func roundTo(v float64, step float64) float64 {
	return float64(int64(v/step+0.5)) * step
}

func fitChange(before, after *chart.Document, readable func(string) string) []string {
	was, is := before.Fits(), after.Fits()
	switch {
	case len(is) == 0:
		return []string{"no fit"}
	case len(is) < len(was):
		return []string{"one fit less"}
	}
	if len(is) == len(was) {
		for i, fit := range is {
			if words := bandChange(*was[i], *fit); words != "" {
				return []string{words}
			}
		}
	}
	fit := is[len(is)-1]
	words := string(fit.Kind)
	if fit.Each != "" {
		words += " per " + readable(fit.Each)
	}
	if len(is) > len(was) {
		words = "+ " + words
	}
	return []string{words}
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
