package figure

import (
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
)

// fix gives marks that no column colours the one colour that was said, and dots the one shape.
// On the dark paper the colour is made lighter where it would not be seen.
func (b *builder) fix(placed []*mark.Placed) {
	fixed := b.document.Fixed
	for _, l := range placed {
		if fixed.Colour != "" && l.Keys.Colour == 0 && l.Style.Light == primitive.NeutralLight {
			l.Style.Light, l.Style.Dark = fixed.Colour, colour.Readable(fixed.Colour, colour.PaperDark)
		}
		if fixed.Shape != "" && l.Kind == primitive.Points && l.Keys.Shape == 0 && (l.Rows || l.Style.Light == fixed.Colour || l.Style.Light == primitive.NeutralLight) {
			l.Style.Shape = fixed.Shape
		}
	}
}
