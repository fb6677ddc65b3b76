package chart

import (
	"fmt"
	"slices"

	"copperlark/core/words"
)

// Letters is how one kind of words of a chart is written, where it is said.
type Letters struct {
	Of     string  `json:"of" enum:"title,subtitle,axes,ticks,panels,names,labels,key,note"`
	Size   float64 `json:"size,omitempty" doc:"in pixels; 0: as usual"`
	Weight string  `json:"weight,omitempty" enum:"light,bold" doc:"empty: as usual"`
}

// Lettered is a kind of words with its usual size and weight.
type Lettered struct {
	Of, Help string
	Size     float64 // in pixels
	Line     float64 // from one line to the next
	Bold     bool
}

// The kinds of words that a chart has.
const (
	TitleLetters    = "title"
	SubtitleLetters = "subtitle"
	AxesLetters     = "axes"
	TicksLetters    = "ticks"
	PanelsLetters   = "panels"
	NamesLetters    = "names"
	LabelsLetters   = "labels"
	KeyLetters      = "key"
	NoteLetters     = "note"
)

// Lettering lists every kind of words.
var Lettering = []Lettered{
	{TitleLetters, "what stands over the chart", 18, 24, true},
	{SubtitleLetters, "what stands under the title", 14, 19, false},
	{AxesLetters, "what stands along the axes", 12.5, 16, true},
	{TicksLetters, "the numbers and names along the axes", 12, 15, false},
	{PanelsLetters, "what stands over each panel", 14, 16, true},
	{NamesLetters, "names at the ends of lines", 12.5, 15, true},
	{LabelsLetters, "labels of marks", 12, 15, false},
	{KeyLetters, "what the colours, shapes and sizes stand for", 12.5, 22, false},
	{NoteLetters, "the note under the chart", 13, 18, false},
}

// The sizes that words can have, in pixels.
const SmallestLetters, LargestLetters = 6, 72

// LettersMessage says how large words are.
var LettersMessage = fmt.Sprintf("words are from %d to %d pixels high", SmallestLetters, LargestLetters)

// Written is how a kind of words is written: as usual, in the weight that is said of all words, or as is said of the kind.
func (d *Document) Written(of string) Lettered {
	at := Lettering[slices.IndexFunc(Lettering, func(l Lettered) bool { return l.Of == of })]
	switch {
	case d.Weight == WeightLight:
		at.Bold = false
	case d.Weight == WeightBold && of == TicksLetters:
		at.Bold = true
	}
	for _, said := range d.Letters {
		if said.Of != of {
			continue
		}
		if said.Size > 0 { // whatever is said of all words
			at.Line *= said.Size / d.TextScale() / at.Size
			at.Size = said.Size / d.TextScale()
		}
		if said.Weight != "" {
			at.Bold = said.Weight == WeightBold
		}
	}
	return at
}

func (c *checking) letters() {
	var kinds []string
	for _, l := range Lettering {
		kinds = append(kinds, l.Of)
	}
	seen := map[string]bool{}
	for _, l := range c.document.Letters {
		switch {
		case !slices.Contains(kinds, l.Of):
			c.add("letters", "", "a chart has no words called "+l.Of, "say letters of "+words.Or(kinds))
		case seen[l.Of]:
			c.add("letters", "", "the letters of "+l.Of+" are said twice", "say them once, as letters of "+l.Of+" at 14 bold")
		case l.Size != 0 && !(l.Size >= SmallestLetters && l.Size <= LargestLetters):
			c.add("letters", "", LettersMessage, "say letters of "+l.Of+" at 14")
		case l.Weight != "" && l.Weight != WeightLight && l.Weight != WeightBold:
			c.add("letters", "", "there is no weight "+l.Weight, "say light or bold")
		case l.Size == 0 && l.Weight == "":
			c.add("letters", "", "nothing is said of the letters of "+l.Of, "say letters of "+l.Of+" at 14, or bold")
		}
		seen[l.Of] = true
	}
}
