package chart

import (
	"reflect"
	"strings"

	"copperlark/core/table"
)

// Style is how charts of a space look from their beginning on: what is said of looks, and nothing of
// the data.
type Style struct {
	Look      string    `json:"look,omitempty"`
	Grid      string    `json:"grid,omitempty"`
	Text      string    `json:"text,omitempty"`
	Weight    string    `json:"weight,omitempty"`
	Letters   []Letters `json:"letters,omitempty"`
	AxisLines *Stroke   `json:"axis_lines,omitempty"`
	Guides    string    `json:"guides,omitempty"`
	Key       string    `json:"key,omitempty"`
	Palette   []string  `json:"palette,omitempty"`
	Outline   *Outline  `json:"outline,omitempty"`
	Paper     *Paper    `json:"paper,omitempty"`
}

// StyleSlots are the words of a sentence that are of its style: the names of its clauses.
var StyleSlots = func() (slots []string) {
	of := reflect.TypeFor[Style]()
	for i := range of.NumField() {
		slots = append(slots, strings.ReplaceAll(jsonName(of.Field(i)), "_", " "))
	}
	return slots
}()

// Style is what a chart says of its looks: the fields of a style are fields of a manner.
func (d *Document) Style() (s Style) {
	copyFields(reflect.ValueOf(&s).Elem(), reflect.ValueOf(d.Manner))
	return s
}

// Styled is the chart with these looks in the place of its own.
func (d *Document) Styled(s Style) *Document {
	next := d.Clone()
	copyFields(reflect.ValueOf(&next.Manner).Elem(), reflect.ValueOf(s))
	return next
}

// Check finds what keeps a style from being one.
func (s Style) Check() []Problem {
	empty, err := table.New()
	if err != nil {
		return []Problem{{Clause: "look", Message: err.Error()}}
	}
	c := &checking{document: (&Document{}).Styled(s), table: empty}
	c.looks()
	c.letters()
	c.strokes()
	c.dressing()
	return c.problems
}
