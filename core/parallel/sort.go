package parallel

import (
	"cmp"
	"context"
	"slices"
)

// sortedPiece is how many values are sorted between two looks at the context: some
// milliseconds of work.
const sortedPiece = 1 << 16

// Sort sorts values in rising order, NaN first, on all cores. It stops early, with the
// context's error and values in no order, when the context is done.
func Sort(ctx context.Context, values []float64) error {
	return pieces(ctx, values, slices.Sort[[]float64], cmp.Compare[float64])
}

// SortStable is Sort for any values and order; equal values stay in the order that they
// had. compare is called on several goroutines at once.
func SortStable[T any](ctx context.Context, values []T, compare func(a, b T) int) error {
	return pieces(ctx, values, func(piece []T) { slices.SortStableFunc(piece, compare) }, compare)
}

// pieces sorts pieces of values, and merges pairs of neighbours until one is left.
func pieces[T any](ctx context.Context, values []T, sorted func([]T), compare func(a, b T) int) error {
	n := len(values)
	if n <= sortedPiece {
		sorted(values)
		return ctx.Err()
	}
	if err := Each(ctx, (n+sortedPiece-1)/sortedPiece, func(i int) error {
		sorted(values[i*sortedPiece : min((i+1)*sortedPiece, n)])
		return nil
	}); err != nil {
		return err
	}
	from, into := values, make([]T, n)
	for width := sortedPiece; width < n; width *= 2 {
		if err := Each(ctx, (n+2*width-1)/(2*width), func(i int) error {
			low, middle, high := 2*i*width, min((2*i+1)*width, n), min((2*i+2)*width, n)
			return merge(ctx, into[low:high], from[low:middle], from[middle:high], compare)
		}); err != nil {
			return err
		}
		from, into = into, from
	}
	if &from[0] != &values[0] {
		copy(values, from)
	}
	return ctx.Err()
}

func merge[T any](ctx context.Context, into, a, b []T, compare func(a, b T) int) error {
	at := 0
	for len(a) > 0 && len(b) > 0 {
		if err := ctx.Err(); err != nil {
			return err
		}
		for end := at + min(len(a)+len(b), sortedPiece); at < end && len(a) > 0 && len(b) > 0; at++ {
			if compare(b[0], a[0]) < 0 {
				into[at], b = b[0], b[1:]
			} else {
				into[at], a = a[0], a[1:]
			}
		}
	}
	copy(into[at+copy(into[at:], a):], b)
	return nil
}
