// Package oracle runs the worked answers in testdata/oracles against the core.
// The folder can be set with LARK_ORACLES. Each leaf of an expected answer is
// compared to the tolerance that the file states; an error is matched by its
// text.
package oracle

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"slices"
	"sort"
	"testing"
)

// Topic is one file.
type Topic struct {
	Name  string `json:"name"`
	Cases []Case `json:"cases"`
}

// Case is one worked answer. Tolerance maps a key to its relative and absolute
// tolerance; other keys use RelativeTolerance.
type Case struct {
	ID                string                `json:"id"`
	Input             json.RawMessage       `json:"input"`
	Expect            any                   `json:"expect"`
	RelativeTolerance float64               `json:"rel_tol"`
	Tolerance         map[string][2]float64 `json:"tol"`
}

// Topics reads every topic file of the folder.
func Topics(t *testing.T) []Topic {
	t.Helper()
	folder := os.Getenv("LARK_ORACLES")
	if folder == "" {
		folder = filepath.Join("..", "..", "testdata", "oracles")
	}
	files, err := filepath.Glob(filepath.Join(folder, "*.json"))
	if err != nil || len(files) == 0 {
		t.Fatalf("no topic files in %s", folder)
	}
	var topics []Topic
	for _, file := range files {
		text, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		var topic Topic
		if err := json.Unmarshal(text, &topic); err != nil {
			t.Fatalf("%s: %v", file, err)
		}
		if len(topic.Cases) == 0 {
			t.Fatalf("%s holds no case", file)
		}
		topics = append(topics, topic)
	}
	return topics
}

// Decode reads a case's input; an unknown field fails the test.
func Decode[T any](t *testing.T, c Case) T {
	t.Helper()
	var into T
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(c.Input, &fields); err != nil {
		t.Fatalf("%s: %v", c.ID, err)
	}
	if err := json.Unmarshal(c.Input, &into); err != nil {
		t.Fatalf("%s: %v", c.ID, err)
	}
	known, _ := json.Marshal(into)
	var names map[string]json.RawMessage
	_ = json.Unmarshal(known, &names)
	for name := range fields {
		if _, ok := names[name]; !ok {
			t.Fatalf("%s: the input has a field %q that no test reads", c.ID, name)
		}
	}
	return into
}

// Numbers is a list in which null stands for a missing value, read as NaN.
type Numbers []float64

// UnmarshalJSON reads null as NaN.
func (n *Numbers) UnmarshalJSON(text []byte) error {
	var values []*float64
	if err := json.Unmarshal(text, &values); err != nil {
		return err
	}
	*n = make(Numbers, len(values))
	for i, v := range values {
		(*n)[i] = math.NaN()
		if v != nil {
			(*n)[i] = *v
		}
	}
	return nil
}

// MarshalJSON writes nothing of use: it only keeps NaN from being an error
// where Decode lists the fields that a type knows.
func (n Numbers) MarshalJSON() ([]byte, error) { return []byte("[]"), nil }

// Compare holds what was computed against what the case expects. got is built
// of map[string]any, []any, float64, int, string, bool and nil; NaN counts as
// null. A *refusal* is map{"error": text}.
func (c Case) Compare(t *testing.T, got any) {
	t.Helper()
	for _, difference := range c.differences("", "", got, c.Expect) {
		t.Errorf("%s%s", c.ID, difference)
	}
}

// Refused is what Compare expects for an error.
func Refused(err error) any { return map[string]any{"error": err.Error()} }

func (c Case) differences(path, key string, got, want any) []string {
	switch want := want.(type) {
	case map[string]any:
		have, ok := got.(map[string]any)
		if !ok {
			return []string{fmt.Sprintf("%s: got %v, want an object", path, got)}
		}
		var found []string
		for _, name := range sortedKeys(want) {
			value, ok := have[name]
			if !ok {
				found = append(found, fmt.Sprintf("%s.%s: not computed (have %v)", path, name, sortedKeys(have)))
				continue
			}
			inner := name
			if _, listed := c.Tolerance[name]; !listed {
				inner = key // the nearest enclosing key that is listed
			}
			found = append(found, c.differences(path+"."+name, inner, value, want[name])...)
		}
		return found
	case []any:
		have, ok := got.([]any)
		if !ok || len(have) != len(want) {
			return []string{fmt.Sprintf("%s: got %v, want %d entries", path, got, len(want))}
		}
		var found []string
		for i := range want {
			found = append(found, c.differences(fmt.Sprintf("%s[%d]", path, i), key, have[i], want[i])...)
		}
		return found
	case float64:
		return c.number(path, key, got, want)
	case nil:
		if number, ok := got.(float64); got == nil || (ok && math.IsNaN(number)) {
			return nil
		}
		return []string{fmt.Sprintf("%s: got %v, want nothing", path, got)}
	}
	if got != want {
		return []string{fmt.Sprintf("%s: got %v, want %v", path, got, want)}
	}
	return nil
}

func (c Case) number(path, key string, got any, want float64) []string {
	var value float64
	switch number := got.(type) {
	case float64:
		value = number
	case int:
		value = float64(number)
	default:
		return []string{fmt.Sprintf("%s: got %v, want %v", path, got, want)}
	}
	tolerance, ok := c.Tolerance[key]
	if !ok {
		tolerance = [2]float64{c.RelativeTolerance, 0}
	}
	if !(math.Abs(value-want) <= tolerance[0]*math.Abs(want)+tolerance[1]) {
		return []string{fmt.Sprintf("%s: got %.17g, want %.17g (off by %.3g, allowed %.3g)", path, value, want,
			math.Abs(value-want), tolerance[0]*math.Abs(want)+tolerance[1])}
	}
	return nil
}

func sortedKeys(m map[string]any) []string {
	keys := make([]string, 0, len(m))
	for key := range m {
		keys = append(keys, key)
	}
	sort.Strings(keys)
	return slices.Clip(keys)
}

// List turns a slice into the form that Compare takes.
func List[T any](values []T, each func(T) any) []any {
	list := make([]any, len(values))
	for i, v := range values {
		list[i] = each(v)
	}
	return list
}

// Run compares the answers of the topics that a package computes with every case
// of the folder, and fails for a topic that ran no case.
func Run(t *testing.T, answers map[string]func(*testing.T, Case) any) {
	ran := map[string]int{}
	for _, topic := range Topics(t) {
		answer, ours := answers[topic.Name]
		if !ours {
			if !slices.Contains(known, topic.Name) {
				t.Errorf("no package computes the topic %q", topic.Name)
			}
			continue
		}
		t.Run(topic.Name, func(t *testing.T) {
			for _, c := range topic.Cases {
				c.Compare(t, answer(t, c))
				ran[topic.Name]++
			}
		})
	}
	for name := range answers {
		if ran[name] == 0 {
			t.Errorf("the topic %q ran no case", name)
		}
	}
}

// known are the topics, each run by the package that computes it: describe,
// model, smooth, density or confound.
var known = []string{
	"descriptive",
	"correlation",
	"ols_line",
	"ols_poly",
	"log_fits",
	"confounding",
	"local_regression",
	"smoothing_spline",
	"theil_sen",
	"kde",
	"histogram_hexbin",
	"influence",
	"mean_interval",
	"tukey_box",
	"distributions",
	"equal_slopes_hc3",
	"number_moderator",
	"adjust_curve",
	"hidden_cause",
	"rates",
	"smoothing_spline_gamma",
	"group_summaries",
	"windows",
	"cluster_robust",
	"series",
}
