package svg

import (
	"fmt"
	"image"
	"io"
	"strings"

	"copperlark/core/draw"
	"copperlark/core/figure"
)

// Small is a pen for small pictures: points of one colour and size are one path, places
// have a tenth of a pixel, and a colour is a class that is light or, where dark is
// preferred, dark.
type Small struct {
	width, height float64
	body          strings.Builder
	dots          map[string]*strings.Builder
	order         []string
	colours       []string // light|dark, each once
}

// NewSmall takes a paper of a size.
func NewSmall(width, height float64) *Small {
	return &Small{width: width, height: height, dots: map[string]*strings.Builder{}}
}

// class gives the class of a colour.
func (s *Small) class(colour string) string {
	for i, known := range s.colours {
		if known == colour {
			return fmt.Sprintf("c%d", i)
		}
	}
	s.colours = append(s.colours, colour)
	return fmt.Sprintf("c%d", len(s.colours)-1)
}

// flush writes the points that were gathered, so that what comes lies over them.
func (s *Small) flush() {
	for _, key := range s.order {
		fmt.Fprintf(&s.body, `<path %s d="%s"/>`, key, s.dots[key].String())
	}
	s.order, s.dots = nil, map[string]*strings.Builder{}
}

func tenth(v float64) string {
	return strings.TrimSuffix(fmt.Sprintf("%.1f", v), ".0")
}

// Open, Clip and Close begin and end groups, which small pictures do without.
func (s *Small) Open(string) {}

// Clip is Open.
func (s *Small) Clip(string, figure.Box) {}

// Close ends a group.
func (s *Small) Close() { s.flush() }

// Circle adds a point.
func (s *Small) Circle(x, y, r float64, paint draw.Paint) {
	key := fmt.Sprintf(`class="s %s" stroke-width="%s"`, s.class(paint.Fill), tenth(max(2*r, 1.4)))
	if s.dots[key] == nil {
		s.dots[key] = &strings.Builder{}
		s.order = append(s.order, key)
	}
	fmt.Fprintf(s.dots[key], "M%s %sh0", tenth(x), tenth(y))
}

// Path draws a path.
func (s *Small) Path(path *draw.Path, paint draw.Paint) {
	if len(path.Ops) == 0 {
		return
	}
	s.flush()
	s.body.WriteString(`<path d="`)
	path.Walk(func(op draw.Op, at []float64) {
		s.body.WriteByte(byte(op))
		for i, v := range at {
			if i > 0 {
				s.body.WriteByte(' ')
			}
			s.body.WriteString(tenth(v))
		}
	})
	switch {
	case paint.Fill != "":
		fmt.Fprintf(&s.body, `" class="f %s" opacity="%.2f"/>`, s.class(paint.Fill), paint.Opacity)
	default:
		fmt.Fprintf(&s.body, `" class="%s" stroke-width="%s"/>`, s.class(paint.Stroke), tenth(max(paint.Width, 0.8)))
	}
}

// Text and Picture are not drawn.
func (s *Small) Text(draw.Words) {}

// Picture is not drawn.
func (s *Small) Picture(figure.Box, image.Image) {}

// Write writes the picture.
func (s *Small) Write(out io.Writer) error {
	s.flush()
	var light, dark strings.Builder
	for i, colour := range s.colours {
		a, b, _ := strings.Cut(colour, "|")
		fmt.Fprintf(&light, ".c%d{color:%s}", i, a)
		fmt.Fprintf(&dark, ".c%d{color:%s}", i, b)
	}
	_, err := fmt.Fprintf(
		out,
		`<svg xmlns="http://www.w3.org/2000/svg" width="%s" height="%s" viewBox="0 0 %s %s"><style>path{fill:none;stroke:currentColor}.f{fill:currentColor;stroke:none}.s{stroke-linecap:round;opacity:.75}%s@media(prefers-color-scheme:dark){%s}</style>%s</svg>`,
		number(s.width),
		number(s.height),
		number(s.width),
		number(s.height),
		light.String(),
		dark.String(),
		s.body.String(),
	)
	return err
}
