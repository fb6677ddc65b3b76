package clause

import (
	"strings"
	"testing"
)

// A wording of which forty parts may be left out can be read in more ways than there is time for.
func TestWhatCouldBeReadInTooManyWaysIsGivenUp(t *testing.T) {
	listener := NewListener([]Wording{{strings.Repeat("[so] ", 40) + "{n:number}", "size {n}"}}, map[string]Slot{"number": HeardNumber}, "")
	none := func(*Hearing, int) int { return 0 }
	if said, wrong := listener.Hear("so so 4", nil, none); wrong != nil || said != "size 4" {
		t.Error(said, wrong)
	}
	for _, typed := range []string{strings.Repeat("so ", 30) + "what", strings.Repeat("so ", mostHeard)} {
		if said, wrong := listener.Hear(typed, nil, none); wrong == nil || !strings.Contains(wrong.Message, "too long") {
			t.Error(said, wrong)
		}
	}
}
