package chart

import (
	"fmt"
	"regexp"

	"copperlark/core/primitive"
	"copperlark/core/words"
)

// The sizes that dots can have, in pixels.
const SmallestDot, LargestDot = 0.5, 30

var written = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

// colourMessage says how a colour is written.
const colourMessage = "a colour is written as # and six digits"

// ColourWritten reports whether a text is a colour: # and six digits.
func ColourWritten(text string) bool { return written.MatchString(text) }

func (c *checking) fixed() {
	d := c.document
	for _, channel := range []struct {
		name, column string
		said, fits   bool
		message      string
		advice       string
	}{
		{"colour", d.Colour, d.Fixed.Colour != "", ColourWritten(d.Fixed.Colour), colourMessage, "say one colour '#1f7a6d'"},
		{"size", d.Size, d.Fixed.Size != 0, d.Fixed.Size >= SmallestDot && d.Fixed.Size <= LargestDot,
			fmt.Sprintf("dots are from %v to %v pixels", SmallestDot, LargestDot), "say one size 4"},
		{"shape", d.Shape, d.Fixed.Shape != "", fixedShape(d.Fixed.Shape), "shapes are " + words.Or(primitive.Shapes) +
			", or one letter or sign in single quotes", "say one shape ring, or one shape 'A'"},
	} {
		switch {
		case channel.said && channel.column != "":
			c.add(
				"one "+channel.name,
				channel.column,
				fmt.Sprintf("%s is by a column, or one for all marks", channel.name),
				"take one of the two out",
			)
		case channel.said && !channel.fits:
			c.add("one "+channel.name, "", channel.message, channel.advice)
		}
	}
}
