package render

import (
	"context"
	"io"
	"strings"

	"copperlark/core/draw"
	"copperlark/core/draw/pen/pdf"
	"copperlark/core/draw/pen/png"
	"copperlark/core/figure"
	"copperlark/core/page"
)

// StoryBlock is a text, a chart as it was laid out, or both, in the order that they stand.
type StoryBlock struct {
	Text   string // CommonMark
	Figure *figure.Figure
	Above  bool // the chart stands above the text
}

// Story is a page as it is written onto paper.
type Story struct {
	Title, Lead, Source string
	Blocks              []StoryBlock
}

// StoryPaper is a paper that stories are written on, in pixels of which 96 are an inch.
type StoryPaper struct {
	Name          string
	Width, Height float64
}

// StoryPapers lists them, the first without being said.
var StoryPapers = []StoryPaper{{"a4", 794, 1123}, {"wide", 1123, 794}}

// The measures of a story on paper.
const (
	storyMargin = 60.0
	storyGap    = 14.0
	storyNote   = 10.5
)

// storyKinds are the sizes of what is written, by what it is.
var storyKinds = map[string]struct {
	size, line, indent, before float64
	bold                       bool
}{
	"title":     {size: 26, line: 33, bold: true},
	"lead":      {size: 15.5, line: 23, before: 2},
	"heading":   {size: 16, line: 22, before: 6, bold: true},
	"paragraph": {size: 13.5, line: 20},
	"item":      {size: 13.5, line: 20, indent: 16},
	"quote":     {size: 13.5, line: 20, indent: 16},
	"code":      {size: 12, line: 17, indent: 8},
	"source":    {size: storyNote, line: 15, before: 10},
}

type teller struct {
	pen   *pdf.Pen
	paper StoryPaper
	look  *draw.Look
	o     Options
	y     float64
}

// WriteStory writes a story as PDF, with its text as text; no chart is cut by the end of a page.
func WriteStory(ctx context.Context, s *Story, paper StoryPaper, o Options, out io.Writer) error {
	look := draw.LookNamed(o.Look)
	if look == nil {
		look = &draw.Looks[0]
	}
	t := &teller{pen: pdf.New(paper.Width, paper.Height, s.Title, o.Clock), paper: paper, look: look, o: o}
	t.begin()
	t.words("title", s.Title)
	if s.Lead != "" {
		t.words("lead", s.Lead)
	}
	t.y += storyGap
	for _, b := range s.Blocks {
		if err := ctx.Err(); err != nil {
			return err
		}
		if b.Above {
			t.chart(ctx, b.Figure)
		}
		page.Blocks(b.Text, func(kind string, _ int, words string) {
			if kind == "item" {
				words = "•  " + words
			}
			t.words(kind, words)
		})
		if !b.Above {
			t.chart(ctx, b.Figure)
		}
		t.y += storyGap
	}
	t.words("source", s.Source)
	return t.pen.Write(out)
}

// begin lays the paper of a page.
func (t *teller) begin() {
	p := &draw.Path{}
	p.Box(0, 0, t.paper.Width, t.paper.Height)
	t.pen.Path(p, draw.Paint{Fill: t.look.Paper, Opacity: 1})
	t.y = storyMargin
}

func (t *teller) room(height float64) {
	if t.y+height > t.paper.Height-storyMargin && t.y > storyMargin {
		t.pen.Page()
		t.begin()
	}
}

func (t *teller) words(kind, words string) {
	k := storyKinds[kind]
	t.y += k.before
	width := t.paper.Width - 2*storyMargin - k.indent
	for _, paragraph := range strings.Split(strings.TrimRight(words, "\n"), "\n") {
		for _, line := range brokenAt(paragraph, k.size, k.bold, width) {
			t.room(k.line)
			fill := t.look.Ink
			if kind == "source" || kind == "quote" {
				fill = t.look.Muted
			}
			t.pen.Text(draw.Words{Text: line, X: storyMargin + k.indent, Y: t.y + k.size, Anchor: "start", Size: k.size, Bold: k.bold,
				Serif: kind != "source", Fill: fill})
			t.y += k.line
		}
	}
	t.y += 4
}

// brokenAt breaks words into lines of a width; a word that is longer is broken where it must.
func brokenAt(words string, size float64, bold bool, width float64) (lines []string) {
	line := ""
	fits := func(text string) bool { return draw.Width(text, size, bold, true) <= width }
	for _, word := range strings.Fields(words) {
		if joined := strings.TrimSpace(line + " " + word); fits(joined) {
			line = joined
			continue
		}
		if line != "" {
			lines, line = append(lines, line), ""
		}
		for !fits(word) {
			letters := []rune(word)
			n := max(1, int(float64(len(letters))*width/max(draw.Width(word, size, bold, true), 1)))
			for n > 1 && !fits(string(letters[:n])) {
				n--
			}
			if n >= len(letters) {
				break
			}
			lines, word = append(lines, string(letters[:n])), string(letters[n:])
		}
		line = word
	}
	if line != "" {
		lines = append(lines, line)
	}
	return lines
}

func (t *teller) chart(ctx context.Context, f *figure.Figure) {
	if f == nil {
		return
	}
	f.LastStep()
	around := draw.About(f, t.o.Metrics, f.Width)
	f.Down(around.Top)
	width, height := f.Width+around.Right, f.Height+around.Bottom
	room := t.paper.Width - 2*storyMargin
	scale := min(1, room/width, (t.paper.Height-2*storyMargin)/height)
	t.room(height * scale)
	left := storyMargin + (room-width*scale)/2
	o := draw.Options{Look: t.look, Clear: true, Raster: png.Raster, Stopped: func() bool { return ctx.Err() != nil }}
	t.pen.Within(left, t.y, scale, func() {
		draw.Draw(f, t.pen, o)
		draw.DrawAround(f, around, t.pen, o)
	})
	t.y += height*scale + 4
}
