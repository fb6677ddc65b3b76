// Package page holds a page's document: a title, a lead, and blocks of CommonMark and charts in an order. It checks documents,
// merges what several people write at once, keeps words of a reading true to their charts, and writes Markdown as HTML that
// holds nothing but what Markdown says.
package page

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Version is the version of the document's format.
const Version = 1

// Contents is a page.
type Contents struct {
	Version int    `json:"version" enum:"1"`
	Title   string `json:"title" maxLength:"500"`
	Lead    string `json:"lead,omitempty" maxLength:"2000" doc:"what is said under the title"`
	// SameAxes gives charts whose axes are of the same column the same ends along them.
	SameAxes bool    `json:"same_axes,omitempty" doc:"charts whose axes are of the same column have the same ends along them"`
	Blocks   []Block `json:"blocks" nullable:"false" maxItems:"200"`
}

// Block is a text, a chart, or a text with its chart.
type Block struct {
	ID    string      `json:"id" maxLength:"40" doc:"of the block in its page: letters, digits and -"`
	Text  string      `json:"text,omitempty" maxLength:"50000" doc:"CommonMark; words of the reading are links: [rises by 9 kg](reading:KEY)"`
	Chart *ShownChart `json:"chart,omitempty"`
	Place string      `json:"place,omitempty" enum:"right,left,below,above" doc:"where the chart stands beside the text; empty: right"`
}

// ShownChart is which chart stands in a block.
type ShownChart struct {
	ID   int64 `json:"id"`
	Step int64 `json:"step,omitempty" doc:"as it is at this step; 0: it follows its chart"`
}

// The most that a page holds.
const (
	MostBlocks = 200
	MostCharts = 40
	MostTitle  = 500
	MostLead   = 2_000
	MostText   = 50_000  // bytes of one block
	MostInAll  = 400_000 // bytes of all of them
)

// Places are where a chart can stand, the first without being said.
var Places = []string{"right", "left", "below", "above"}

var idForm = regexp.MustCompile(`^[A-Za-z0-9-]{1,40}$`)

// Problem is why a document cannot be kept: what is wrong, and what to do.
type Problem struct{ Message, Advice string }

func (p *Problem) Error() string { return p.Message }

// Check finds what cannot be kept. A page without blocks, or without a title, can.
func (d *Contents) Check() error {
	switch {
	case d.Version != Version:
		return &Problem{fmt.Sprintf("a page of version %d is not known here", d.Version), fmt.Sprintf("write version %d", Version)}
	case utf8.RuneCountInString(d.Title) > MostTitle:
		return &Problem{fmt.Sprintf("the title is longer than %d characters", MostTitle), "say the rest under the title, or in a block"}
	case utf8.RuneCountInString(d.Lead) > MostLead:
		return &Problem{fmt.Sprintf("what stands under the title is longer than %d characters", MostLead), "write the rest in a block"}
	case len(d.Blocks) > MostBlocks:
		return &Problem{fmt.Sprintf("a page has at most %d blocks", MostBlocks), "begin another page"}
	}
	seen := map[string]bool{}
	charts, bytes := 0, 0
	for i, b := range d.Blocks {
		switch {
		case !idForm.MatchString(b.ID) || seen[b.ID]:
			return &Problem{fmt.Sprintf("block %d has no name of its own", i+1), "give each block an id of letters and digits"}
		case len(b.Text) > MostText:
			return &Problem{fmt.Sprintf("the text of block %d is longer than %d bytes", i+1, MostText), "write it as two blocks"}
		case b.Place != "" && !slices.Contains(Places, b.Place):
			return &Problem{fmt.Sprintf("a chart cannot stand %q of a text", b.Place), "say " + strings.Join(Places, ", ")}
		case b.Chart != nil && (b.Chart.ID <= 0 || b.Chart.Step < 0):
			return &Problem{fmt.Sprintf("block %d names no chart", i+1), "name a chart of the space"}
		}
		seen[b.ID] = true
		if b.Chart != nil {
			charts++
		}
		bytes += len(b.Text)
	}
	switch {
	case charts > MostCharts:
		return &Problem{fmt.Sprintf("a page has at most %d charts", MostCharts), "begin another page"}
	case bytes > MostInAll:
		return &Problem{fmt.Sprintf("the texts of a page have at most %d bytes", MostInAll), "begin another page"}
	}
	return nil
}

// Clone is a copy that shares nothing.
func (d *Contents) Clone() *Contents {
	out := *d
	out.Blocks = slices.Clone(d.Blocks)
	for i, b := range out.Blocks {
		if b.Chart != nil {
			c := *b.Chart
			out.Blocks[i].Chart = &c
		}
	}
	return &out
}

// Block finds a block by its id; nil where there is none.
func (d *Contents) Block(id string) *Block {
	i := slices.IndexFunc(d.Blocks, func(b Block) bool { return b.ID == id })
	if i < 0 {
		return nil
	}
	return &d.Blocks[i]
}

// Same reports whether two blocks say the same, and show the same chart in the same place.
func (b Block) Same(other Block) bool {
	return b.Text == other.Text && b.Place == other.Place && sameChart(b.Chart, other.Chart)
}

func sameChart(a, b *ShownChart) bool {
	return a == nil && b == nil || a != nil && b != nil && *a == *b
}
