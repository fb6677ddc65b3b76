package reading

import (
	"slices"
	"strings"
)

// prepositions end the part of a name that a verb agrees with: "mites per 100 bees"
// rise, "length of stays" rises.
var prepositions = []string{"per", "of", "in", "on", "at", "from", "to", "with", "within", "by", "for", "over", "under", "before", "after"}

// singulars end in s and are one.
var singulars = []string{"gas", "bus", "lens", "news", "atlas", "canvas", "pancreas", "chaos", "bias", "diabetes", "rabies"}

// isPlural reports whether the name of a variable stands for several things, by the
// regular forms of English. An abbreviation is one thing.
func isPlural(name string) bool {
	name, _, _ = strings.Cut(name, "(")
	words := strings.Fields(name)
	for i, word := range words {
		if i > 0 && slices.Contains(prepositions, word) {
			words = words[:i]
			break
		}
	}
	if len(words) == 0 {
		return false
	}
	last := words[len(words)-1]
	if last != strings.ToLower(last) || len(last) < 4 || slices.Contains(singulars, last) {
		return false
	}
	for _, ending := range []string{"ss", "us", "is", "ics", "ness"} {
		if strings.HasSuffix(last, ending) {
			return false
		}
	}
	return strings.HasSuffix(last, "s")
}

// agree gives a verb in the form that goes with y: "rises", or "rise" for several.
func (u *Units) agree(singular, plural string) string {
	if isPlural(u.Y) {
		return plural
	}
	return singular
}

// moves is rises or falls, by the sign of a slope.
func (u *Units) moves(slope float64) string {
	if slope < 0 {
		return u.agree("falls", "fall")
	}
	return u.agree("rises", "rise")
}
