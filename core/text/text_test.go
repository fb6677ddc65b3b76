package text

import (
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"unicode/utf8"
)

func TestWidths(t *testing.T) {
	m := Hanken()
	if m.Width("", 13, false) != 0 {
		t.Error("nothing has a width")
	}
	if one, ten := m.Width("Honey", 13, false), m.Width(strings.Repeat("Honey", 10), 13, false); math.Abs(ten-10*one) > 1e-9 {
		t.Errorf("ten words are %v wide, one %v", ten, one)
	}
	if small, large := m.Width("Honey", 10, false), m.Width("Honey", 20, false); math.Abs(large-2*small) > 1e-9 {
		t.Errorf("size 10 is %v wide, size 20 %v", small, large)
	}
	if m.Width("Honey", 13, true) <= m.Width("Honey", 13, false) {
		t.Error("bold is not wider")
	}
	if i, w := m.Width("i", 10, false), m.Width("W", 10, false); !(i < w && w < 12) {
		t.Errorf("i is %v wide, W %v", i, w)
	}
	for _, r := range "0123456789,.−–éßÖłş£%" {
		if m.Width(string(r), 1000, false) == 1000 {
			t.Errorf("%q has no width of its own", r)
		}
	}
	if m.Width("漢", 10, false) != 10 {
		t.Error("a character that the font does not have is not as wide as an em")
	}
}

// someWords draws words of every script that charts meet.
func someWords(source *rand.Rand) string {
	words := []string{"a", "honey", "Brindle", "apiary-on-the-hill-that-is-named-after-nobody-at-all", "蜂蜜", "دبس", "e\u0301te\u0301", "–",
		"12,000", "👩‍🌾"}
	var list []string
	for range source.IntN(12) {
		list = append(list, words[source.IntN(len(words))])
	}
	return strings.Join(list, [...]string{" ", "  ", "\t"}[source.IntN(3)])
}

// TestLabelsAreBrokenToFit holds of random words and rooms that no line is wider than its room while there is room
// for a letter, that there are no more lines than asked for, and that nothing is lost without an ellipsis.
func TestLabelsAreBrokenToFit(t *testing.T) {
	m := Hanken()
	source := rand.New(rand.NewPCG(4, 2))
	for range 4000 {
		words, size, room, lines := someWords(source), 8+10*source.Float64(), 20+200*source.Float64(), 1+source.IntN(4)
		broken, whole := Break(m, words, size, room, lines)
		list := strings.Split(broken, "\n")
		if len(list) > lines || Lines(broken) != len(list) {
			t.Fatalf("%q in %v: %d lines of at most %d", words, room, len(list), lines)
		}
		if widest := Widest(m, broken, size); widest > room && room > 2*size {
			t.Fatalf("%q in %v: %q is %v wide", words, room, broken, widest)
		}
		if whole != (strings.Join(strings.Fields(broken), "") == strings.Join(strings.Fields(words), "")) || whole == strings.Contains(broken, "…") {
			t.Fatalf("%q in %v: %q, whole: %v", words, room, broken, whole)
		}
		if !utf8.ValidString(broken) {
			t.Fatalf("%q in %v: %q is no text", words, room, broken)
		}
		// A bold line has its own widths; what is wrapped holds the same.
		for _, line := range Wrap(m, words, size, true, room, lines) {
			if m.Width(line, size, true) > room && room > 2*size {
				t.Fatalf("%q in %v: %q is wider", words, room, line)
			}
		}
	}
}

func TestLettersWithoutSpacesAreBrokenBetween(t *testing.T) {
	for words, want := range map[string]string{
		"長い名前の場所は山の向こう":      "長い名前の\n場所は山の\n向こう",
		"長い名前の場所は山の向こうにあります": "長い名前の\n場所は山の\n向こうに…",
		"honeyhoney": "honeyhon…",
	} {
		if broken, _ := Break(Hanken(), words, 12, 62, 3); broken != want {
			t.Errorf("%q is broken as %q, not %q", words, broken, want)
		}
	}
}

// TestLongNamesKeepTheirBeginningAndTheirEnd holds it of those that are cut in the middle.
func TestLongNamesKeepTheirBeginningAndTheirEnd(t *testing.T) {
	m := Hanken()
	source := rand.New(rand.NewPCG(4, 3))
	for range 2000 {
		name, size, room := strings.Join(strings.Fields(someWords(source)), " "), 8+10*source.Float64(), 30+200*source.Float64()
		short := CutMiddle(m, name, size, room)
		if short == name {
			if m.Width(name, size, false) > room {
				t.Fatalf("%q is wider than %v and stays", name, room)
			}
			continue
		}
		begins, ends, cut := strings.Cut(short, "…")
		if m.Width(short, size, false) > room && short != "…" || !cut || !strings.HasPrefix(name, begins) || !strings.HasSuffix(name, ends) ||
			short != "…" && begins == "" {
			t.Fatalf("%q in %v is cut to %q", name, room, short)
		}
		if len([]rune(begins)) < len([]rune(ends)) {
			t.Fatalf("of %q less of the beginning stays than of the end: %q", name, short)
		}
	}
}

// letterByLetter is the slow twin of cut.
func letterByLetter(m *Metrics, line string, size, room float64) string {
	if m.Width(line, size, false) <= room {
		return line
	}
	runes := []rune(line)
	for len(runes) > 1 && m.Width(string(runes)+"…", size, false) > room {
		runes = runes[:len(runes)-1]
	}
	return strings.TrimRight(string(runes), " ") + "…"
}

// TestNoMoreOfALongWordIsMeasuredThanCouldFit cuts words of up to 900 letters as their slow twin does, and, of
// ten million letters, in no more steps than of a few.
func TestNoMoreOfALongWordIsMeasuredThanCouldFit(t *testing.T) {
	m := Hanken()
	source := rand.New(rand.NewPCG(7, 9))
	for range 300 {
		words := strings.Repeat(someWords(source)+[]string{"i", "W", "蜂"}[source.IntN(3)], 1+source.IntN(8))
		size, room := 8+10*source.Float64(), 300*source.Float64()
		if got, want := cut(m, words, size, false, room), letterByLetter(m, words, size, room); got != want {
			t.Fatalf("%q in %v: %q, want %q", words, room, got, want)
		}
	}
	for _, long := range []string{strings.Repeat("i", 10_000_000), strings.Repeat("a b ", 2_500_000), strings.Repeat("蜂", 3_000_000)} {
		for name, do := range map[string]func() string{
			"broken":            func() string { broken, _ := Break(m, long, 12, 200, 3); return broken },
			"wrapped":           func() string { return strings.Join(Wrap(m, long, 12, true, 200, 2), "\n") },
			"cut in the middle": func() string { return CutMiddle(m, long, 12, 200) },
		} {
			short := do()
			if n := utf8.RuneCountInString(short); n > 300 || !strings.Contains(short, "…") {
				t.Errorf("%s, %.6q… becomes %d letters", name, long, n)
			}
			if steps := testing.AllocsPerRun(1, func() { do() }); steps > 2000 {
				t.Errorf("%s, %.6q… takes memory %v times", name, long, steps)
			}
		}
	}
}
