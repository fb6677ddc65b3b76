package window

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"
)

// slow computes each operation by looking at every row of the group anew.
type slow struct {
	values []float64
	group  []int32
}

func (s slow) before(i int) (rows []int) { // the rows of the group of row i, in order
	for j := range s.values {
		if s.group[j] == s.group[i] {
			rows = append(rows, j)
		}
	}
	return rows
}

func (s slow) place(i int) (rows []int, at int) {
	rows = s.before(i)
	for k, row := range rows {
		if row == i {
			at = k
		}
	}
	return rows, at
}

func (s slow) shifted(i, by int) float64 {
	rows, at := s.place(i)
	if at+by < 0 || at+by >= len(rows) {
		return math.NaN()
	}
	return s.values[rows[at+by]]
}

func (s slow) sum(i int) float64 {
	rows, at := s.place(i)
	if s.values[i] != s.values[i] {
		return math.NaN()
	}
	total := 0.0
	for _, row := range rows[:at+1] {
		if s.values[row] == s.values[row] {
			total += s.values[row]
		}
	}
	return total
}

func (s slow) mean(i, before, after int) float64 {
	rows, at := s.place(i)
	total, n := 0.0, 0
	for k := at - before; k <= at+after; k++ {
		if k >= 0 && k < len(rows) && s.values[rows[k]] == s.values[rows[k]] {
			total, n = total+s.values[rows[k]], n+1
		}
	}
	return total / float64(n)
}

func (s slow) rank(i int, middle bool) float64 {
	if s.values[i] != s.values[i] {
		return math.NaN()
	}
	below, same := 0, 0
	for _, row := range s.before(i) {
		if s.values[row] < s.values[i] {
			below++
		} else if s.values[row] == s.values[i] {
			same++
		}
	}
	if middle {
		return float64(below) + float64(same+1)/2
	}
	return float64(below + 1)
}

func (s slow) whole(i int) (total, mean, sd float64) {
	n := 0.0
	for _, row := range s.before(i) {
		if s.values[row] == s.values[row] {
			total, n = total+s.values[row], n+1
		}
	}
	mean = total / n
	for _, row := range s.before(i) {
		if s.values[row] == s.values[row] {
			sd += (s.values[row] - mean) * (s.values[row] - mean)
		}
	}
	return total, mean, math.Sqrt(sd / (n - 1))
}

// TestWindowsAgainstLookingAnewAtEveryRow holds every operation to its slow twin.
func TestWindowsAgainstLookingAnewAtEveryRow(t *testing.T) {
	for seed := range uint64(40) {
		source := rand.New(rand.NewPCG(seed, 31))
		n := 1 + source.IntN(80)
		s := slow{make([]float64, n), make([]int32, n)}
		for i := range n {
			s.values[i], s.group[i] = float64(source.IntN(12)), int32(source.IntN(3))
			if source.IntN(5) == 0 {
				s.values[i] = math.NaN()
			}
		}
		rows, err := Arrange(context.Background(), n, s.group, nil)
		if err != nil {
			t.Fatal(err)
		}
		k := 1 + source.IntN(5)
		lag, _ := rows.Lag(s.values, k)
		lead, _ := rows.Lead(s.values, k)
		trailing, _ := rows.MovingMean(s.values, k, false)
		centred, _ := rows.MovingMean(s.values, k, true)
		sum, low, middle, share, z := rows.RunningSum(s.values), rows.Rank(s.values, false), rows.Rank(s.values, true), rows.Share(s.values),
			rows.ZScore(s.values)
		same := func(what string, i int, got, want float64) {
			t.Helper()
			if math.IsInf(want, 0) {
				want = math.NaN()
			}
			if math.IsNaN(got) != math.IsNaN(want) || math.Abs(got-want) > 1e-12*max(1, math.Abs(want)) {
				t.Fatalf("table %d, %s of row %d: %v, want %v", seed, what, i, got, want)
			}
		}
		for i := range n {
			same("lag", i, lag[i], s.shifted(i, -k))
			same("lead", i, lead[i], s.shifted(i, k))
			same("running sum", i, sum[i], s.sum(i))
			same("trailing mean", i, trailing[i], s.mean(i, k-1, 0))
			same("centred mean", i, centred[i], s.mean(i, k/2, (k-1)/2))
			same("rank", i, low[i], s.rank(i, false))
			same("mid rank", i, middle[i], s.rank(i, true))
			total, mean, sd := s.whole(i)
			same("share", i, share[i], s.values[i]/total)
			if sd > 0 {
				same("z score", i, z[i], (s.values[i]-mean)/sd)
			} else if !math.IsNaN(z[i]) {
				t.Fatalf("table %d, z score of row %d without a spread: %v", seed, i, z[i])
			}
		}
	}
}

// TestEqualGroupsAreEqual holds sizes, order and numbers of the parts.
func TestEqualGroupsAreEqual(t *testing.T) {
	for n := range 30 {
		values := make([]float64, n)
		for i := range values {
			values[i] = float64((i * 7) % 11)
		}
		rows, err := Arrange(context.Background(), n, nil, nil)
		if err != nil {
			t.Fatal(err)
		}
		for k := 1; k < 9; k++ {
			parts, err := rows.EqualGroups(values, k)
			if err != nil {
				t.Fatal(err)
			}
			size := map[float64]int{}
			for i, part := range parts {
				size[part]++
				for j := range parts {
					if values[j] < values[i] && parts[j] > part {
						t.Fatalf("%v is in part %v, and %v in part %v", values[i], part, values[j], parts[j])
					}
				}
			}
			for part, count := range size {
				if want := n / k; count != want && count != want+1 || count == want && int(part) <= n%k || part < 1 || int(part) > k {
					t.Errorf("%d values in %d parts: %v", n, k, size)
				}
			}
		}
	}
	for _, k := range []int{0, -1} {
		rows, _ := Arrange(context.Background(), 2, nil, nil)
		if _, err := rows.EqualGroups([]float64{1, 2}, k); err != ErrCount {
			t.Errorf("%d parts: %v", k, err)
		}
		if _, err := rows.Lag([]float64{1, 2}, k); err != ErrCount {
			t.Errorf("%d rows before: %v", k, err)
		}
	}
	if _, err := Arrange(context.Background(), 3, []int32{1}, nil); err != ErrLengths {
		t.Errorf("columns of different length: %v", err)
	}
}
