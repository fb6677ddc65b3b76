package formula

import (
	"math"

	"copperlark/core/window"
)

// The functions of a row and those about it work over the rows as they stand, or within
// groups: lag(honey_kg) within apiary. A missing value gives a missing one (see
// core/window), and is no fault.

// rowsWithin arranges the rows in the groups that a call names.
func (e *evaluation) rowsWithin(n *node) *window.Rows {
	codes := e.groupsOf(n.args[n.own:])
	rows, err := window.Arrange(e.ctx, e.rows, codes, nil)
	if err != nil {
		refuse(n, err.Error(), "")
	}
	return rows
}

// groupsOf numbers the combinations of what some expressions give, a missing value being one
// like others; nil where there are none.
func (e *evaluation) groupsOf(parts []*node) []int32 {
	var codes []int32
	for _, part := range parts {
		v := e.eval(part)
		fresh, known := int32(0), map[[2]uint64]int32{}
		next := make([]int32, e.rows)
		for i := range next {
			value := uint64(math.MaxUint64) // of a missing value: no number has these bits
			switch {
			case v.missing(i):
			case v.kind == Text:
				value = uint64(v.codes[i*v.stride()])
			default:
				value = math.Float64bits(v.number(i) + 0) // −0 is 0
			}
			key := [2]uint64{0, value}
			if codes != nil {
				key[0] = uint64(codes[i])
			}
			code, seen := known[key]
			if !seen {
				code = fresh
				known[key] = code
				fresh++
			}
			next[i] = code
		}
		codes = next
	}
	return codes
}

// everyRow gives the values of an argument, one for each row.
func (e *evaluation) everyRow(n *node) []float64 {
	v := e.need(n, Number)
	out := make([]float64, e.rows)
	for i := range out {
		out[i] = math.NaN()
		if !v.missing(i) {
			out[i] = v.number(i)
		}
	}
	return out
}

// countOf reads an argument that is a whole number of at least 1; 1 where it is not said.
func (e *evaluation) countOf(n *node, at int) int {
	if at >= n.own {
		return 1
	}
	v := e.need(n.args[at], Number)
	if !v.constant || v.missing(0) || v.number(0) < 1 || v.number(0) != math.Trunc(v.number(0)) || v.number(0) > math.MaxInt32 {
		refuse(n.args[at], "how many rows must be a whole number of at least 1", "say 3")
	}
	return int(v.number(0))
}

func (e *evaluation) windowed(values []float64, err error) *vector {
	if err != nil {
		values = make([]float64, e.rows)
	}
	for i, v := range values {
		if !math.IsNaN(v) && !Number.holds(v) {
			values[i] = e.fault()
		}
	}
	return &vector{kind: Number, numbers: values}
}

// addWindows puts the functions into the list.
func addWindows(add func(name, help, example string, least, most int, f Function)) {
	for _, w := range []struct {
		name, help, example string
		most                int
		of                  func(rows *window.Rows, values []float64, k int) ([]float64, error)
	}{
		{"running_sum", "the sum of this row and all before", "running_sum(rain_mm) within apiary", 1,
			func(r *window.Rows, v []float64, _ int) ([]float64, error) { return r.RunningSum(v), nil }},
		{"moving_mean", "the mean of this row and those before, over so many rows", "moving_mean(honey_kg, 3)", 2,
			func(r *window.Rows, v []float64, k int) ([]float64, error) { return r.MovingMean(v, k, false) }},
		{"centred_mean", "the mean of the rows about this one, over so many rows", "centred_mean(honey_kg, 5)", 2,
			func(r *window.Rows, v []float64, k int) ([]float64, error) { return r.MovingMean(v, k, true) }},
		{"lag", "the value of the row before, or so many before", "lag(honey_kg) within apiary", 2,
			func(r *window.Rows, v []float64, k int) ([]float64, error) { return r.Lag(v, k) }},
		{"lead", "the value of the row after, or so many after", "lead(honey_kg, 2)", 2,
			func(r *window.Rows, v []float64, k int) ([]float64, error) { return r.Lead(v, k) }},
		{"rank", "its rank from 1, equal values the lowest of theirs", "rank(honey_kg) within season", 1,
			func(r *window.Rows, v []float64, _ int) ([]float64, error) { return r.Rank(v, false), nil }},
		{"mid_rank", "its rank from 1, equal values the mean of theirs", "mid_rank(honey_kg)", 1,
			func(r *window.Rows, v []float64, _ int) ([]float64, error) { return r.Rank(v, true), nil }},
		{"share_of_total", "its share of the sum", "share_of_total(honey_kg) within (district, season)", 1,
			func(r *window.Rows, v []float64, _ int) ([]float64, error) { return r.Share(v), nil }},
		{"z_score", "how many standard deviations it lies from the mean", "z_score(honey_kg) within district", 1,
			func(r *window.Rows, v []float64, _ int) ([]float64, error) { return r.ZScore(v), nil }},
		{"equal_groups", "which of so many equally large groups it is in, from the lowest", "equal_groups(honey_kg, 4)", 2,
			func(r *window.Rows, v []float64, k int) ([]float64, error) { return r.EqualGroups(v, k) }},
	} {
		least := 1
		if w.name == "moving_mean" || w.name == "centred_mean" || w.name == "equal_groups" {
			least = 2
		}
		add(w.name, w.help, w.example, least, w.most, Function{within: true, whole: func(e *evaluation, n *node) *vector {
			return e.windowed(w.of(e.rowsWithin(n), e.everyRow(n.args[0]), e.countOf(n, 1)))
		}})
	}
}
