package reading

import (
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// shares are the fractions that are told in words.
var shares = []struct {
	share float64
	words string
}{{0.2, "a fifth"}, {0.25, "a quarter"}, {1.0 / 3, "a third"}, {0.5, "half"}, {2.0 / 3, "two thirds"}, {0.75, "three quarters"}, {1, "all"}}

// nearShare is how far a share may lie from a fraction that is told for it.
const nearShare = 0.04

func shareWords(share float64) string {
	for _, one := range shares {
		if math.Abs(share-one.share) <= nearShare {
			return one.words
		}
	}
	return percent(share)
}

// carriers tells of the few rows that carry the slope.
func (r *reader) carriers(n *figure.Notes) {
	if len(n.Carriers) == 0 {
		return
	}
	slope := r.relation.Line.Slope
	who, without := words.And(n.Carriers), r.amount(n.Without, true)
	count, them := "One row", "it"
	if len(n.Carriers) > 1 {
		count, them = []string{"Two rows", "Three rows"}[len(n.Carriers)-2], "them"
	}
	carry := "carry"
	if len(n.Carriers) == 1 {
		carry = "carries"
	}
	defer func() { r.out.Paragraphs[len(r.out.Paragraphs)-1].Shows = &Shown{Rows: n.CarrierRows} }()
	switch share := 1 - n.Without/slope; {
	case n.Without*slope < 0:
		r.say("warning", plain("Without %s the slope ", who), strong("turns round"), plain(", to %s.", without))
	case share > 0:
		r.say(
			"warning",
			plain("%s %s ", count, carry),
			strong("%s of the slope", shareWords(share)),
			plain(": %s. Without %s the slope is %s.", who, them, without),
		)
	default:
		r.say("warning", plain("Without %s the slope is steeper: %s.", who, without))
	}
}

// bendClear and bendGain are from when on a relation is said to bend: p, and the share of what
// the line leaves that a curve takes away.
const bendClear, bendGain = 0.01, 0.02

func bends(n *figure.Notes) bool { return n.BendP < bendClear && n.BendGain >= bendGain }

func (r *reader) bends(n *figure.Notes) {
	if !bends(n) {
		return
	}
	said := r.say(
		"caution",
		plain("The relation bends: a curve takes away %s of what the line leaves (p %s).", percent(n.BendGain), pText(n.BendP)),
	)
	said.Noted = true
	if !slices.ContainsFunc(r.figure.Fits, func(f *mark.Fit) bool { return f.Kind == chart.FitLocal || f.Kind == chart.FitSpline }) {
		said.Offers = []Offer{{"a smoother shows how", "fit local"}}
	}
}

// clearRank is from which rank correlation on the sizes of marks are said to go with what stands along y.
const clearRank = 0.1

// sized tells what the size of a mark shows, and whether larger ones stand higher.
func (r *reader) sized(n *figure.Notes) {
	if n.Sized == "" {
		return
	}
	words, up, down := "larger marks stand neither higher nor lower", "higher", "lower"
	if y := r.figure.Y(); y.From > y.To { // turned round: what is more stands lower
		up, down = down, up
	}
	switch {
	case math.IsNaN(n.SizedRank):
		words = "all are of one value"
	case n.SizedRank >= clearRank:
		words = "larger marks stand " + up
	case n.SizedRank <= -clearRank:
		words = "larger marks stand " + down
	}
	if math.Abs(n.SizedRank) >= clearRank {
		words += " (rank correlation " + Correlation(n.SizedRank) + ")"
	}
	r.say("caution", plain("The area of a mark is its %s; %s.", n.Sized, words)).Noted = true
}

// edges tells where few rows carry the ends of the line.
func (r *reader) edges(n *figure.Notes) {
	if e := n.Edges; e != nil {
		r.say(
			"caution",
			plain(
				"About nine rows in ten have %s from %s to %s; beyond that, %s to %s, the line rests on few rows.",
				r.X,
				e.Low,
				e.High,
				map[bool]string{true: "up", false: "down"}[e.Above],
				e.End,
			),
		)
	}
}

// skewed tells which axis a log scale would spread.
func (r *reader) skewed(n *figure.Notes) {
	for _, s := range n.Skewed {
		name := map[string]string{"x": r.X, "y": r.Y}[s.Axis]
		r.say("caution", plain("%s is strongly right-skewed: about half of the rows lie below %s, the highest at %s.", capital(name), s.Middle,
			s.Highest)).Offers = []Offer{
			{"log scale along " + s.Axis, "log " + s.Axis},
		}
	}
}

// pText writes a p value.
func pText(p float64) string {
	if p < 0.001 {
		return "< 0.001"
	}
	return "= " + scale.Number(p, 3)
}

// missing tells where rows without y are other ones than those with it.
func (r *reader) missing(n *figure.Notes) {
	m := n.Missing
	if m == nil {
		return
	}
	how := "lower"
	if m.Difference > 0 {
		how = "higher"
	}
	r.say(
		"caution",
		plain(
			"%s without %s are other ones: their %s is %s (%s against %s in the middle). Leaving them out may matter.",
			scale.Counted(m.Rows, "row"),
			r.Y,
			r.X,
			how,
			m.Without,
			m.With,
		),
	)
}

// fewestLooked is from how many relations on it is told that some look clear by chance.
const fewestLooked = 5

// LookedWords tells how many relations of a dataset were looked at, and how many of so many
// would look clear at 95 % if there were nothing to see; empty for few.
func LookedWords(relations int) string {
	if relations < fewestLooked {
		return ""
	}
	chance := "one in twenty"
	if by := math.Round(0.05 * float64(relations)); by >= 1 {
		chance = map[bool]string{true: "about one", false: "about " + scale.Number(by, 0)}[by == 1]
	}
	return "This space has looked at " + scale.Number(
		float64(relations),
		0,
	) + " relations of this dataset; if there were nothing to see, " + chance + " would still look clear."
}
