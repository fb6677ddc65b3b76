package app

import (
	"fmt"
	"testing"

	"copperlark/core/table"
)

// TestAllGroupsAreCounted, the most frequent first, and what is not listed and not there is said.
func TestAllGroupsAreCounted(t *testing.T) {
	got := groupCounts(table.NewCategory("g", []string{"b", "a", "a", "", "c", "c"}))
	if text := fmt.Sprint(got.Groups, got.Missing, got.Rows, got.Others); text != "[{a 2} {c 2} {b 1}] 1 6 0" {
		t.Error(text)
	}
	many := make([]string, 2*mostGroupsListed+1)
	for i := range many {
		many[i] = fmt.Sprint(i / 2)
	}
	if got = groupCounts(table.NewCategory("g", many)); len(got.Groups) != mostGroupsListed || got.Others != 1 || got.Groups[0].Count != 2 {
		t.Error(len(got.Groups), got.Others, got.Groups[0])
	}
}
