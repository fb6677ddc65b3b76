package figure

import (
	"fmt"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/primitive"
)

// Sign is an entry of a key that shows what stands about a line or a statistic, as it is drawn.
type Sign struct {
	Label string `json:"label"`
	Kind  string `json:"kind" enum:"band,interval"`
	Light string `json:"light"`
	Dark  string `json:"dark"`
}

// The kinds of sign.
const bandSign, intervalSign = "band", "interval"

// signKeys name the bands of fits and the intervals of statistics that are drawn: else nobody whom the sentence does not
// reach knows what they are.
func (b *Computed) signKeys() {
	bands := Key{Channels: []string{bandSign}, Name: "Band"}
	for i, fit := range b.Document.Fits() {
		if fit.Band == nil {
			continue
		}
		bands.add(bandSign, mark.BandName(fit.Band), fmt.Sprintf("fit-band:%d", i))
	}
	drawn := func(f *mark.Fit) bool { return f.Band != "" }
	if len(bands.Signs) > 0 && slices.ContainsFunc(b.fits, drawn) {
		b.keys = append(b.keys, bands)
	}
	if said := b.Document.Interval(); said != nil {
		about := Key{Channels: []string{intervalSign}, Name: "About each"}
		name := mark.IntervalName(said)
		if of := b.Y.Of; !said.Deviation && (of == chart.Median || b.X.Of == chart.Median) {
			name += " of the median"
		} else if !said.Deviation {
			name += " of the mean"
		}
		about.add(intervalSign, name, "interval")
		b.keys = append(b.keys, about)
	}
}

// add adds a sign that is not there yet; the key's name is pressed for the first.
func (k *Key) add(kind, label, says string) {
	if slices.ContainsFunc(k.Signs, func(s Sign) bool { return s.Label == label }) {
		return
	}
	if k.Signs == nil {
		k.Says = says
	}
	k.Signs = append(k.Signs, Sign{Label: label, Kind: kind, Light: primitive.NeutralLight, Dark: primitive.NeutralDark})
}
