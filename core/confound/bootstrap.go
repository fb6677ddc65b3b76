package confound

import (
	"context"
	"math/rand/v2"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/model"
)

// The bootstrap draws blocks of rows: to 2,000 rows each row is a block, above
// them rows are dealt to 400 blocks, whose sums stand for their rows (Politis,
// Romano and Wolf 1999, Subsampling, section 9). The seed is fixed, so that the
// same table gives the same verdict.
const (
	bootstrapDraws = 400
	rowBlocks      = 2000
	manyBlocks     = 400
	bootstrapSeed  = 7
)

func blockCount(n int) int {
	if n <= rowBlocks {
		return n
	}
	return manyBlocks
}

// moments are the sums over some rows of 1, x, y, xx, xy about the overall means.
type moments struct{ n, x, y, xx, xy float64 }

func (m *moments) add(o *moments) {
	m.n += o.n
	m.x += o.x
	m.y += o.y
	m.xx += o.xx
	m.xy += o.xy
}

func (m moments) sxx() float64 { return m.xx - m.x*m.x/m.n }
func (m moments) sxy() float64 { return m.xy - m.x*m.y/m.n }

// bootstrapGroups gives the 95 % percentile interval of within minus overall
// slope.
func bootstrapGroups(ctx context.Context, x, y []float64, group []int32, groups int, estimate float64) model.Interval {
	mx, my := meanOf(x), meanOf(y)
	blocks := blockCount(len(x))
	type part struct {
		group int32
		moments
	}
	parts := make([][]part, blocks)
	place := make([]int32, 0) // 1 more than where each group stands in each block that holds several rows
	if blocks < len(x) {
		place = make([]int32, blocks*groups)
	}
	for i := range x {
		b := i % blocks
		dx, dy := x[i]-mx, y[i]-my
		row := moments{1, dx, dy, dx * dx, dx * dy}
		if len(place) == 0 {
			parts[b] = []part{{group[i], row}}
			continue
		}
		at := &place[b*groups+int(group[i])]
		if *at == 0 {
			parts[b] = append(parts[b], part{group[i], row})
			*at = int32(len(parts[b]))
			continue
		}
		parts[b][*at-1].add(&row)
	}
	sums := make([]moments, groups)
	return percentile(ctx, blocks, estimate, func(draw []int) (float64, bool) {
		clear(sums)
		for _, block := range draw {
			of := parts[block]
			for i := range of {
				p := &of[i]
				sums[p.group].add(&p.moments)
			}
		}
		var all moments
		sxx, sxy := 0.0, 0.0
		for _, s := range sums {
			all.add(&s)
			if s.n > 1 {
				sxx += s.sxx()
				sxy += s.sxy()
			}
		}
		if sxx <= 0 || all.sxx() <= 0 {
			return 0, false
		}
		return sxy/sxx - all.sxy()/all.sxx(), true
	})
}

// bootstrapNumber is bootstrapGroups for a number held fixed.
func bootstrapNumber(ctx context.Context, x, y, z []float64, estimate float64) model.Interval {
	mx, my, mz := meanOf(x), meanOf(y), meanOf(z)
	blocks := blockCount(len(x))
	sums := make([]momentsOfThree, blocks)
	for i := range x {
		dx, dy, dz := x[i]-mx, y[i]-my, z[i]-mz
		sums[i%blocks].add(&momentsOfThree{1, dx, dy, dz, dx * dx, dx * dy, dx * dz, dz * dz, dy * dz})
	}
	return percentile(ctx, blocks, estimate, func(draw []int) (float64, bool) {
		var t momentsOfThree
		for _, block := range draw {
			t.add(&sums[block])
		}
		sxx, sxy, sxz := t.xx-t.x*t.x/t.n, t.xy-t.x*t.y/t.n, t.xz-t.x*t.z/t.n
		szz, syz := t.zz-t.z*t.z/t.n, t.yz-t.z*t.y/t.n
		determinant := sxx*szz - sxz*sxz
		if sxx <= 0 || determinant <= 1e-12*sxx*szz {
			return 0, false
		}
		return (sxy*szz-syz*sxz)/determinant - sxy/sxx, true
	})
}

// momentsOfThree are the sums over some rows of 1, x, y, z and their products about the overall means.
type momentsOfThree struct{ n, x, y, z, xx, xy, xz, zz, yz float64 }

func (m *momentsOfThree) add(o *momentsOfThree) {
	m.n += o.n
	m.x += o.x
	m.y += o.y
	m.z += o.z
	m.xx += o.xx
	m.xy += o.xy
	m.xz += o.xz
	m.zz += o.zz
	m.yz += o.yz
}

func meanOf(values []float64) float64 {
	sum := 0.0
	for _, v := range values {
		sum += v
	}
	return sum / float64(len(values))
}

// percentile draws blocks with replacement and takes the middle 95 % of what they
// give. With too few usable draws it is the estimate itself with zero inside.
func percentile(ctx context.Context, blocks int, estimate float64, of func(draw []int) (float64, bool)) model.Interval {
	source := rand.New(rand.NewPCG(bootstrapSeed, 0))
	draw := make([]int, blocks)
	var values []float64
	for range bootstrapDraws {
		if ctx.Err() != nil {
			break // the caller of Rank is told
		}
		for i := range draw {
			draw[i] = source.IntN(blocks)
		}
		if v, ok := of(draw); ok {
			values = append(values, v)
		}
	}
	if len(values) < bootstrapDraws/2 {
		return model.Interval{Low: min(0, estimate), High: max(0, estimate)}
	}
	slices.Sort(values)
	return model.Interval{Low: describe.Quantile(values, 0.025), High: describe.Quantile(values, 0.975)}
}
