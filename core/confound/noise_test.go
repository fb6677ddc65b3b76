package confound

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strconv"
	"testing"

	"copperlark/core/table"
)

// noises are ways in which y may have nothing to do with candidates: each gives y for an x.
var noises = map[string]func(source *rand.Rand, x float64) float64{
	"even":         func(s *rand.Rand, x float64) float64 { return 0.4*x + s.NormFloat64() },
	"growing":      func(s *rand.Rand, x float64) float64 { return 0.4*x + math.Exp(0.8*x)*s.NormFloat64() },
	"heavy-tailed": func(s *rand.Rand, x float64) float64 { return 0.4*x + s.NormFloat64()/math.Sqrt(s.ExpFloat64()) },
	"counts":       func(s *rand.Rand, x float64) float64 { return poisson(s, math.Exp(0.5+0.4*x)) },
	"log-normal":   func(s *rand.Rand, x float64) float64 { return math.Exp(0.3*x + 0.8*s.NormFloat64()) },
	"curved":       func(s *rand.Rand, x float64) float64 { return x*x + 0.5*x + 0.7*s.NormFloat64() },
	"none":         func(s *rand.Rand, _ float64) float64 { return s.NormFloat64() },
}

func poisson(source *rand.Rand, mean float64) float64 {
	limit, product, n := math.Exp(-min(mean, 500)), source.Float64(), 0.0
	for product > limit {
		product *= source.Float64()
		n++
	}
	return n
}

// bystanders are candidates that have nothing to do with y: groups of several sizes, some of
// which follow x, and numbers, plain, skewed and following x.
func bystanders(source *rand.Rand, x []float64, n int) (list []*table.Column) {
	for j := range n {
		values := make([]float64, len(x))
		for i := range x {
			switch j % 4 {
			case 0:
				values[i] = source.NormFloat64()
			case 1:
				values[i] = math.Exp(source.NormFloat64())
			case 2:
				values[i] = 0.7*x[i] + source.NormFloat64()
			default:
				values[i] = float64(source.IntN(2+j%5)) + 0.0
			}
		}
		name := "c" + strconv.Itoa(j)
		switch {
		case j%4 == 3:
			texts := make([]string, len(x))
			for i, v := range values {
				texts[i] = fmt.Sprint("level ", v)
			}
			list = append(list, table.NewCategory(name, texts))
		case j%8 == 6: // groups that follow x
			texts := make([]string, len(x))
			for i, v := range values {
				texts[i] = fmt.Sprint("bin ", math.Floor(v))
			}
			list = append(list, table.NewCategory(name, texts))
		default:
			list = append(list, table.NewNumbers(name, values))
		}
	}
	return list
}

// rounds is how many tables a cell of the simulation has: few in every run, all of them by
// make trust.
func rounds(t *testing.T, few int) int {
	if n, err := strconv.Atoi(os.Getenv("LARK_TRUST_ROUNDS")); err == nil {
		return n
	}
	if testing.Short() {
		return few / 3
	}
	return few
}

// TestNoiseIsSeldomTakenForAStory counts tables of pure noise in which anything is claimed:
// at most 5 in a hundred, beside what chance allows a simulation.
func TestNoiseIsSeldomTakenForAStory(t *testing.T) {
	tables := rounds(t, 40)
	all, allClaims, allReverses := 0, 0, 0
	for name, noise := range noises {
		for _, candidates := range []int{8, 24} {
			claims, reverses := 0, 0
			for round := range tables {
				source := rand.New(rand.NewPCG(uint64(round), uint64(len(name)*100+candidates)))
				x, y, rows := make([]float64, 200), make([]float64, 200), make([]uint32, 200)
				for i := range x {
					x[i], rows[i] = source.NormFloat64(), uint32(i)
					y[i] = noise(source, x[i])
				}
				findings, err := Rank(context.Background(), x, y, rows, bystanders(source, x, candidates), nil)
				if err != nil {
					t.Fatal(err)
				}
				claimed, reversed := false, false
				for _, f := range findings {
					claimed, reversed = claimed || f.Verdict.Claims(), reversed || f.Verdict == Reverses
				}
				if claimed {
					claims++
				}
				if reversed {
					reverses++
				}
			}
			all, allClaims, allReverses = all+tables, allClaims+claims, allReverses+reverses
			t.Logf("noise, %s, %d candidates: %.1f %% of %d tables with a claim, %.1f %% with a reversal", name, candidates,
				100*float64(claims)/float64(tables), tables, 100*float64(reverses)/float64(tables))
			if limit := 0.05*float64(tables) + 3*math.Sqrt(0.05*0.95*float64(tables)); float64(claims) > limit {
				t.Errorf("%s, %d candidates: %d of %d tables of noise have a claim", name, candidates, claims, tables)
			}
		}
	}
	if limit := 0.05*float64(all) + 2*math.Sqrt(0.05*0.95*float64(all)); float64(allClaims) > limit {
		t.Errorf("%d of %d tables of noise have a claim", allClaims, all)
	}
	if limit := 0.01*float64(all) + 2*math.Sqrt(0.01*float64(all)); float64(allReverses) > limit {
		t.Errorf("in %d of %d tables of noise a trend is said to be turned round", allReverses, all)
	}
}
