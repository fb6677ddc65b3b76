package describe

import (
	"context"
	"math"
	"slices"

	"copperlark/core/magnitude"
	"copperlark/core/parallel"
)

// PearsonMatrix gives r for every pair of columns, over the rows complete in both;
// NaN where a pair has no correlation, 1 on the diagonal. Columns without missing
// values share one walk over the rows.
func PearsonMatrix(ctx context.Context, columns [][]float64) ([][]float64, error) {
	k := len(columns)
	columns = slices.Clone(columns)
	for i := range columns {
		columns[i], _ = magnitude.Scaled(columns[i])
	}
	matrix := make([][]float64, k)
	var whole []int
	for i := range matrix {
		matrix[i] = make([]float64, k)
		matrix[i][i] = 1
		if !slices.ContainsFunc(columns[i], math.IsNaN) {
			whole = append(whole, i)
		}
	}
	if err := wholePairs(ctx, columns, whole, matrix); err != nil {
		return nil, err
	}
	for i := range k {
		for j := range i {
			if slices.Contains(whole, i) && slices.Contains(whole, j) {
				continue
			}
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			r := math.NaN()
			if p, err := PearsonOf(columns[i], columns[j]); err == nil {
				r = p.R
			}
			matrix[i][j], matrix[j][i] = r, r
		}
	}
	return matrix, nil
}

// stretch is how many rows are centred at a time: they stay in the cache while
// every pair is summed.
const stretch = 1024

func wholePairs(ctx context.Context, columns [][]float64, whole []int, matrix [][]float64) error {
	k := len(whole)
	if k == 0 || len(columns[whole[0]]) == 0 {
		return nil
	}
	n := len(columns[whole[0]])
	means := make([]float64, k)
	for a, column := range whole {
		means[a] = mean(columns[column])
	}
	workers := parallel.Workers(n)
	sums := make([][]float64, workers)
	for w := range sums {
		sums[w] = make([]float64, k*k)
	}
	err := parallel.Ranges(ctx, n, func(worker, from, to int) {
		centred := make([]float64, k*stretch)
		for ; from < to; from += stretch {
			length := min(stretch, to-from)
			for a, column := range whole {
				m := means[a]
				into := centred[a*stretch : a*stretch+length]
				for i, v := range columns[column][from : from+length] {
					into[i] = v - m
				}
			}
			for a := range k {
				x := centred[a*stretch : a*stretch+length]
				for b := range a + 1 {
					y := centred[b*stretch : b*stretch+length]
					var s0, s1, s2, s3 float64 // four sums, so that one addition need not wait for the last
					i := 0
					for ; i+3 < length; i += 4 {
						s0 += x[i] * y[i]
						s1 += x[i+1] * y[i+1]
						s2 += x[i+2] * y[i+2]
						s3 += x[i+3] * y[i+3]
					}
					for ; i < length; i++ {
						s0 += x[i] * y[i]
					}
					sums[worker][a*k+b] += (s0 + s1) + (s2 + s3)
				}
			}
		}
	})
	if err != nil {
		return err
	}
	total := sums[0]
	for _, other := range sums[1:] {
		for i, v := range other {
			total[i] += v
		}
	}
	for a := range k {
		for b := range a {
			r := math.NaN()
			if xx, yy := total[a*k+a], total[b*k+b]; xx > 0 && yy > 0 && n > 1 {
				r = min(max(total[a*k+b]/(math.Sqrt(xx)*math.Sqrt(yy)), -1), 1)
			}
			i, j := whole[a], whole[b]
			matrix[i][j], matrix[j][i] = r, r
		}
	}
	return nil
}
