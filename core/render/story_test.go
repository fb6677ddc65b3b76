package render

import (
	"testing"
	"time"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/pdf"
)

// TestAHeadingStaysWithWhatItHeads writes blocks so low on a page that they go on to the next one whole, in part, or not at all.
func TestAHeadingStaysWithWhatItHeads(t *testing.T) {
	paper := StoryPapers[0]
	words := "Slide every district to the same centre, and only what happens inside districts is left: yield rises."
	long := ""
	for range 40 {
		long += words + " "
	}
	for name, c := range map[string]struct {
		text  string
		left  float64 // of the page, below where the block begins
		moves bool
	}{
		"a heading and one line, of which the heading alone has room": {"## So take it out\n\nIt rises.", 40, true},
		"a heading and one line that have room":                       {"## So take it out\n\nIt rises.", 80, false},
		"a long text goes on over the page":                           {"## So take it out\n\n" + long, 140, false},
		"a long text of which two lines have room":                    {"## So take it out\n\n" + long, 80, true},
		"a second heading":                                            {"One.\n\n## Two\n\nThree.", 60, true},
	} {
		pen := pdf.New(paper.Width, paper.Height, "", time.Time{})
		tell := &teller{pen: pen, paper: paper, look: &draw.Looks[0], y: paper.Height - storyMargin - c.left}
		tell.text(tell.pieces(c.text), 0, func(p piece) {
			if moved := tell.y < paper.Height/2; p.kind == "heading" && moved != c.moves {
				t.Errorf("%s: the heading moved to the next page: %v", name, moved)
			}
			tell.put(p)
		})
	}
}
