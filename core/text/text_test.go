package text

import (
	"math"
	"strings"
	"testing"
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
