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
	pieceGap    = 4.0
	// How many lines stay with their heading at least, and up to how many stay with the chart below them.
	firstLines, linesAtAChart = 3, 8
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
		t.block(ctx, b)
	}
	t.words("source", s.Source)
	return t.pen.Write(out)
}

// piece is a heading, a paragraph or an item, in lines that fit the paper.
type piece struct {
	kind  string
	lines []string
}

func (p piece) height(lines int) float64 {
	k := storyKinds[p.kind]
	return k.before + k.line*float64(lines) + pieceGap
}

func (t *teller) block(ctx context.Context, b StoryBlock) {
	pieces := t.pieces(b.Text)
	at := t.place(b.Figure)
	if b.Above {
		t.chart(ctx, b.Figure, at)
		at.height = 0
	}
	t.text(pieces, at.height, t.put)
	if !b.Above {
		t.chart(ctx, b.Figure, at)
	}
	t.y += storyGap
}

func (t *teller) pieces(text string) (pieces []piece) {
	page.Blocks(text, func(kind string, _ int, words string) {
		if kind == "item" {
			words = "•  " + words
		}
		pieces = append(pieces, piece{kind, t.lines(kind, words)})
	})
	return pieces
}

// text writes pieces, each heading on the page of what it heads; chart is how high the one is that follows.
func (t *teller) text(pieces []piece, chart float64, put func(piece)) {
	for i, p := range pieces {
		if i == 0 || p.kind == "heading" {
			t.room(t.together(pieces[i:], chart))
		}
		put(p)
	}
}

// together is how high what begins a block must stand on one page: headings with the first lines under them, and with the chart
// where the words before it are few.
func (t *teller) together(pieces []piece, chart float64) float64 {
	headings, text, lines := 0.0, 0.0, 0
	var first float64
	for _, p := range pieces {
		if p.kind == "heading" && text == 0 {
			headings += p.height(len(p.lines))
			continue
		}
		if text == 0 {
			first = p.height(min(len(p.lines), firstLines))
		}
		text += p.height(len(p.lines))
		lines += len(p.lines)
	}
	if all := headings + text + chart; lines <= linesAtAChart && all <= t.paper.Height-2*storyMargin {
		return all
	}
	return headings + first
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

func (t *teller) words(kind, words string) { t.put(piece{kind, t.lines(kind, words)}) }

// lines are words in lines that fit the paper.
func (t *teller) lines(kind, words string) (lines []string) {
	k := storyKinds[kind]
	for _, paragraph := range strings.Split(strings.TrimRight(words, "\n"), "\n") {
		lines = append(lines, brokenAt(paragraph, k.size, k.bold, t.paper.Width-2*storyMargin-k.indent)...)
	}
	return lines
}

func (t *teller) put(p piece) {
	k := storyKinds[p.kind]
	t.y += k.before
	for _, line := range p.lines {
		t.room(k.line)
		fill := t.look.Ink
		if p.kind == "source" || p.kind == "quote" {
			fill = t.look.Muted
		}
		t.pen.Text(draw.Words{Text: line, X: storyMargin + k.indent, Y: t.y + k.size, Anchor: "start", Size: k.size, Bold: k.bold,
			Serif: p.kind != "source", Fill: fill})
		t.y += k.line
	}
	t.y += pieceGap
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

// placed is a chart on a paper: what stands around it, and how much smaller it is.
type placed struct {
	around        *draw.Around
	width, height float64
	scale         float64
}

func (t *teller) place(f *figure.Figure) (p placed) {
	if f == nil {
		return p
	}
	f.LastStep()
	p.around = draw.About(f, t.o.Metrics, f.Width)
	f.Down(p.around.Top)
	width, height := f.Width+p.around.Right, f.Height+p.around.Bottom
	p.scale = min(1, (t.paper.Width-2*storyMargin)/width, (t.paper.Height-2*storyMargin)/height)
	p.width, p.height = width*p.scale, height*p.scale
	return p
}

func (t *teller) chart(ctx context.Context, f *figure.Figure, at placed) {
	if f == nil {
		return
	}
	t.room(at.height)
	left := (t.paper.Width - at.width) / 2
	o := draw.Options{Look: t.look, Clear: true, Raster: png.Raster, Stopped: func() bool { return ctx.Err() != nil }}
	t.pen.Within(left, t.y, at.scale, func() {
		draw.Draw(f, t.pen, o)
		draw.DrawAround(f, at.around, t.pen, o)
	})
	t.y += at.height + pieceGap
}
