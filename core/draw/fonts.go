package draw

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
)

//go:embed fonts/*.woff fonts/han.bin fonts/han.json
var fontFiles embed.FS

// FontFile is a file of a face: the characters of a range.
type FontFile struct{ Name, Range string }

// Woff is the file itself.
func (f FontFile) Woff() []byte {
	raw, err := fontFiles.ReadFile("fonts/" + f.Name + ".woff")
	if err != nil {
		panic("draw: the fonts are built in: " + err.Error())
	}
	return raw
}

// HouseFace is a weight of a house font.
type HouseFace struct {
	Name, Family string
	Weight       int
	Files        []FontFile
}

const (
	latin    = "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212,U+2215,U+FEFF,U+FFFD"
	latinExt = "U+0100-02BA,U+02BD-02C5,U+02C7-02CC,U+1E00-1E9F,U+1EF2-1EFF,U+2020,U+20A0-20AB,U+20AD-20C0,U+2113"
)

// HouseFaces are the faces that charts are written in.
var HouseFaces = []HouseFace{
	{"sans-400", "Hanken Grotesk", 400, []FontFile{{"sans-400-latin", latin}, {"sans-400-latin-ext", latinExt}}},
	{"sans-600", "Hanken Grotesk", 600, []FontFile{{"sans-600-latin", latin}, {"sans-600-latin-ext", latinExt}}},
	{"serif-400", "Literata", 400, []FontFile{{"serif-400-latin", latin}, {"serif-400-latin-ext", latinExt}}},
	{"serif-600", "Literata", 600, []FontFile{{"serif-600-latin", latin}, {"serif-600-latin-ext", latinExt}}},
}

// FaceName names the face of a weight.
func FaceName(bold, serif bool) string {
	switch {
	case serif && bold:
		return "serif-600"
	case serif:
		return "serif-400"
	case bold:
		return "sans-600"
	}
	return "sans-400"
}

// more are the files that letters beyond the house fonts are taken from.
var more = []string{"more-greek", "more-cyrillic", "more-vietnamese", "more-hebrew", "more-arabic", "more-devanagari"}

// library holds fonts that were read; fonts are safe for several users, faces are not.
type library struct {
	sync.Mutex
	fonts map[string]*font.Font
	han   []hanPiece
}

type hanPiece struct {
	Offset, Length int
	Ranges         string
	spans          [][2]rune
}

var fonts = &library{fonts: map[string]*font.Font{}}

// named reads a file of the library, once.
func (l *library) named(name string) *font.Font {
	l.Lock()
	defer l.Unlock()
	if known := l.fonts[name]; known != nil {
		return known
	}
	l.fonts[name] = readFont(FontFile{Name: name}.Woff())
	return l.fonts[name]
}

func readFont(raw []byte) *font.Font {
	loader, err := opentype.NewLoader(bytes.NewReader(raw))
	if err != nil {
		panic("draw: a font that is built in cannot be read: " + err.Error())
	}
	f, err := font.NewFont(loader)
	if err != nil {
		panic("draw: a font that is built in cannot be read: " + err.Error())
	}
	return f
}

// hanFor finds the piece of the Han font that has a character; nil when none has.
func (l *library) hanFor(r rune) *font.Font {
	l.Lock()
	defer l.Unlock()
	if l.han == nil {
		raw, _ := fontFiles.ReadFile("fonts/han.json")
		if err := json.Unmarshal(raw, &l.han); err != nil {
			panic("draw: the index of the fonts is built in: " + err.Error())
		}
		for i := range l.han {
			l.han[i].spans = spansOf(l.han[i].Ranges)
		}
	}
	for i := range l.han {
		piece := &l.han[i]
		if !slices.ContainsFunc(piece.spans, func(s [2]rune) bool { return r >= s[0] && r <= s[1] }) {
			continue
		}
		name := fmt.Sprint("han ", i)
		if l.fonts[name] == nil {
			all, _ := fontFiles.ReadFile("fonts/han.bin")
			l.fonts[name] = readFont(all[piece.Offset : piece.Offset+piece.Length])
		}
		return l.fonts[name]
	}
	return nil
}

// spansOf reads ranges as style sheets write them: U+4E00-4E05,U+4E10.
func spansOf(ranges string) (list [][2]rune) {
	for part := range strings.SplitSeq(ranges, ",") {
		low, high, found := strings.Cut(strings.TrimPrefix(strings.TrimSpace(part), "U+"), "-")
		if !found {
			high = low
		}
		a, errA := strconv.ParseInt(low, 16, 32)
		b, errB := strconv.ParseInt(high, 16, 32)
		if errA == nil && errB == nil {
			list = append(list, [2]rune{rune(a), rune(b)})
		}
	}
	return list
}

// faces choose a face for each character: the house font where it has the letter.
type faces struct {
	base  []string
	known map[*font.Font]*font.Face
}

func facesFor(bold, serif bool) *faces {
	f := &faces{known: map[*font.Font]*font.Face{}}
	for _, house := range HouseFaces {
		if house.Name == FaceName(bold, serif) {
			for _, file := range house.Files {
				f.base = append(f.base, file.Name)
			}
		}
	}
	return f
}

func (f *faces) face(of *font.Font) *font.Face {
	face := f.known[of]
	if face == nil {
		face = font.NewFace(of)
		f.known[of] = face
	}
	return face
}

// ResolveFace gives the face of a character.
func (f *faces) ResolveFace(r rune) *font.Face {
	for _, list := range [][]string{f.base, more} {
		for _, name := range list {
			face := f.face(fonts.named(name))
			if _, has := face.NominalGlyph(r); has {
				return face
			}
		}
	}
	if han := fonts.hanFor(r); han != nil {
		return f.face(han)
	}
	return f.face(fonts.named(f.base[0]))
}

// glyph is a letter at its place, in pixels from where the line begins.
type glyph struct {
	face  *font.Face
	id    font.GID
	x, y  float64
	scale float64 // pixels a unit of the font
}

// shape puts a line of text into letters: from left to right as they are seen, whatever
// their own direction. width is how wide it is.
func shapeText(text string, size float64, bold, serif bool) (glyphs []glyph, width float64) {
	runes := []rune(text)
	if len(runes) == 0 {
		return nil, 0
	}
	var segments shaping.Segmenter
	input := shaping.Input{
		Text:      runes,
		RunStart:  0,
		RunEnd:    len(runes),
		Direction: di.DirectionLTR,
		Size:      fixed.Int26_6(size * 64),
		Language:  language.NewLanguage("en"),
	}
	var shaper shaping.HarfbuzzShaper
	runs := segments.Split(input, facesFor(bold, serif))
	outputs := make([]shaping.Output, len(runs))
	for i, run := range runs {
		outputs[i] = shaper.Shape(run)
	}
	for _, at := range visual(outputs) {
		out := outputs[at]
		scale := size / float64(out.Face.Upem())
		for _, g := range out.Glyphs {
			glyphs = append(glyphs, glyph{out.Face, g.GlyphID, width + pixels(g.XOffset), -pixels(g.YOffset), scale})
			width += pixels(g.Advance)
		}
	}
	return glyphs, width
}

func pixels(v fixed.Int26_6) float64 { return float64(v) / 64 }

// visual gives the order in which runs stand from left to right: neighbouring runs from
// right to left stand the other way round.
func visual(runs []shaping.Output) (order []int) {
	for i := 0; i < len(runs); {
		j := i
		for j < len(runs) && runs[j].Direction == di.DirectionRTL {
			j++
		}
		if j == i {
			order = append(order, i)
			i++
			continue
		}
		for k := j - 1; k >= i; k-- {
			order = append(order, k)
		}
		i = j
	}
	return order
}
