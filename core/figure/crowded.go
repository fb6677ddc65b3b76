package figure

import (
	"fmt"

	"copperlark/core/scale"
	"copperlark/core/table"
)

const (
	mostShapesTold = 5    // shapes that many dots are told apart by
	mostShapedDots = 1500 // dots that more shapes are told apart among
	fewIdentified  = 30   // values that a column has at least which counts as one of names
	identifiedRows = 0.5  // and for how many of the rows at least
)

// hardToRead says where what is mapped cannot be read: colours by a column that names nearly every row, and many dots in many
// shapes.
func (b *Drawn) hardToRead() {
	if b.Bare {
		return
	}
	told := func(text string) { b.figure.Cautions = append(b.figure.Cautions, text) }
	drawn := b.figure.Rows.Drawn
	if c := b.Table.Column(b.Document.Colour); names(c) {
		told(fmt.Sprintf("%s has %s for %s, nearly one each: its colours tell rows apart, not groups.",
			c.ReadableName(), scale.Counted(len(c.Levels), "value"), scale.Counted(c.Len(), "row")))
	}
	if c := b.Table.Column(b.Document.Shape); c != nil && c.Kind.Coded() && len(c.Levels) > mostShapesTold && drawn > mostShapedDots {
		told(fmt.Sprintf("%s in %s can hardly be told apart: panels by %s show each group by itself.",
			scale.Counted(drawn, "dot"), scale.Counted(len(c.Levels), "shape"), c.Prose()))
	}
}

// names reports whether a column names nearly every row, as an identifier does.
func names(c *table.Column) bool {
	return c != nil && c.Kind.Coded() && len(c.Levels) >= fewIdentified &&
		float64(len(c.Levels)) >= identifiedRows*float64(c.Len()-c.MissingCount())
}
