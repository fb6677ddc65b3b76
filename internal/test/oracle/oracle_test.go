package oracle

import (
	"encoding/json"
	"math"
	"testing"
)

// TestTheComparisonCanFail holds that every way of being wrong is found: a comparison
// that cannot fail proves nothing.
func TestTheComparisonCanFail(t *testing.T) {
	var c Case
	text := `{"id":"x","rel_tol":1e-6,"tol":{"fit":[0,0.5]},"expect":{"n":3,"slope":2.0,"se":null,"at":[{"x0":1,"fit":10}],"bands":{"fit":{"low":1}},"name":"a"}}`
	if err := json.Unmarshal([]byte(text), &c); err != nil {
		t.Fatal(err)
	}
	right := func() map[string]any {
		return map[string]any{"n": 3, "slope": 2.000001, "se": math.NaN(), "at": []any{map[string]any{"x0": 1.0, "fit": 10.4}},
			"bands": map[string]any{"fit": map[string]any{"low": 1.4}}, "name": "a", "more": 7}
	}
	if found := c.differences("", "", right(), c.Expect); len(found) != 0 {
		t.Errorf("what is right is refused: %v", found)
	}
	for what, change := range map[string]func(map[string]any){
		"a number too far":        func(m map[string]any) { m["slope"] = 2.00001 },
		"NaN for a number":        func(m map[string]any) { m["slope"] = math.NaN() },
		"a field left out":        func(m map[string]any) { delete(m, "slope") },
		"a number for nothing":    func(m map[string]any) { m["se"] = 0.0 },
		"a list too short":        func(m map[string]any) { m["at"] = []any{} },
		"an entry beyond its own": func(m map[string]any) { m["at"] = []any{map[string]any{"x0": 1.0, "fit": 10.6}} },
		"a key enclosed by a tol": func(m map[string]any) { m["bands"] = map[string]any{"fit": map[string]any{"low": 1.6}} },
		"another text":            func(m map[string]any) { m["name"] = "b" },
		"an error for an answer":  func(m map[string]any) { clear(m); m["error"] = "x has no spread" },
		"an object for a number":  func(m map[string]any) { m["n"] = map[string]any{} },
		"a number for an object":  func(m map[string]any) { m["bands"] = 1.0 },
	} {
		wrong := right()
		change(wrong)
		if len(c.differences("", "", wrong, c.Expect)) == 0 {
			t.Errorf("%s is not found", what)
		}
	}
}

func TestMissingNumbersAreRead(t *testing.T) {
	in := Decode[struct {
		X Numbers `json:"x"`
	}](t, Case{Input: json.RawMessage(`{"x":[1,null,3]}`)})
	if len(in.X) != 3 || !math.IsNaN(in.X[1]) || in.X[2] != 3 {
		t.Errorf("%v", in.X)
	}
}
