package store

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/klauspost/compress/s2"

	"copperlark/core/table"
)

// sameBits reports whether numbers are the same to the last bit, missing ones too.
func sameBits(a, b []float64) bool {
	return slices.EqualFunc(a, b, func(v, w float64) bool {
		return v != v && w != w || math.Float64bits(v) == math.Float64bits(w)
	})
}

func TestNumbersOfFewDecimalsComeBackToTheLastBit(t *testing.T) {
	missing, negativeZero := math.NaN(), math.Copysign(0, -1)
	for _, c := range []struct {
		name   string
		values []float64
		bytes  int // a number; 0: they are kept otherwise
	}{
		{"none", nil, 1},
		{"one missing", []float64{missing}, 1},
		{"one", []float64{-7}, 1},
		{"whole", []float64{0, 254, missing, 3}, 1},
		{"one more than a byte", []float64{0, 255}, 2},
		{"decimals that grow", []float64{1, 0.1, 12.345, 0.000001, missing, -3.25}, 3},
		{"nine decimals", []float64{0.123456789, 1}, 4},
		{"ten decimals", []float64{0.1234567891}, 0},
		{"dates", []float64{1e9, 1e9 + 86400}, 3},
		{"the widest", []float64{1 - 1<<53, 1<<53 - 1}, 7},
		{"too wide", []float64{1 << 53}, 0},
		{"too wide with its decimals", []float64{1 << 50, 0.123456789}, 0},
		{"negative zero", []float64{1, negativeZero}, 0},
		{"negative zero after decimals", []float64{0.5, negativeZero}, 0},
		{"beyond all", []float64{1, math.Inf(1)}, 0},
		{"large and small", []float64{1e308, -1e308, 5e-324}, 0},
		{"a third", []float64{1. / 3}, 0},
	} {
		packed := packDecimals(c.values)
		if c.bytes == 0 {
			if packed != nil {
				t.Errorf("%s: taken for decimals", c.name)
			}
			continue
		}
		if packed == nil || int(packed[1]) != c.bytes {
			t.Errorf("%s: packed as %v, want %d bytes a number", c.name, packed, c.bytes)
			continue
		}
		if back, err := unpackDecimals(packed); err != nil || !sameBits(back, c.values) {
			t.Errorf("%s: %v came back as %v, %v", c.name, c.values, back, err)
		}
	}
}

func FuzzDecimals(f *testing.F) {
	f.Add(uint64(1), 3, 5.0)
	f.Add(uint64(2), 9, 9e15)
	f.Fuzz(func(t *testing.T, seed uint64, places int, spread float64) {
		source := rand.New(rand.NewPCG(seed, 1))
		power := math.Pow10(places % 12)
		values := make([]float64, source.IntN(50))
		for i := range values {
			values[i] = math.Round(spread*source.NormFloat64()*power) / power
		}
		if packed := packDecimals(values); packed != nil {
			if back, err := unpackDecimals(packed); err != nil || !sameBits(back, values) {
				t.Errorf("%v came back as %v, %v", values, back, err)
			}
		}
	})
}

func TestDamagedDecimalsAreRefused(t *testing.T) {
	whole := packDecimals([]float64{1, 500})
	for _, data := range [][]byte{nil, whole[:9], whole[:len(whole)-1], append([]byte{10}, whole[1:]...), append([]byte{0, 0}, whole[2:]...),
		append([]byte{0, 9}, whole[2:]...)} {
		if back, err := unpackDecimals(data); err == nil {
			t.Errorf("%v came back as %v", data, back)
		}
	}
}

// TestPartsOfWaitingFilesUnpack holds that files wait on that an earlier version of the program packed.
func TestPartsOfWaitingFilesUnpack(t *testing.T) {
	content := []byte("kg,ha\n1,2\n3,4\n")
	for name, packed := range map[string][]byte{"now": s2.Encode(nil, content), "before": compressor.EncodeAll(content, nil)} {
		if back, err := unpackWaiting(packed, nil); err != nil || string(back) != string(content) {
			t.Errorf("packed as %s: %q, %v", name, back, err)
		}
	}
	for name, packed := range map[string][]byte{"text": content, "empty": nil,
		"larger than a part": s2.Encode(nil, make([]byte, waitingPart+1))} {
		if back, err := unpackWaiting(packed, nil); err == nil {
			t.Errorf("%s unpacks to %d bytes", name, len(back))
		}
	}
}

// TestDamagedColumnsAreRefused holds that what storage gives back wrong is told, with the column's name, and never read as values.
func TestDamagedColumnsAreRefused(t *testing.T) {
	numbers := table.NewNumbers("kg", []float64{1, 2, 3.5})
	odd := table.NewNumbers("odd", []float64{1. / 3, 2, 3})
	names := table.NewCategory("hive", []string{"a", "b", "a"})
	whole := func(c *table.Column) packedColumn {
		p, err := pack(c)
		if err != nil {
			t.Fatal(err)
		}
		return p
	}
	if kg, other := whole(numbers), whole(odd); kg.encoding != decimalZstd || other.encoding != shuffledZstd {
		t.Fatalf("packed as %s and %s", kg.encoding, other.encoding)
	}
	back, err := unpackColumns(context.Background(), []packedColumn{whole(numbers), whole(odd), whole(names)}, 3)
	if err != nil || !sameBits(back.Column("kg").Numbers, numbers.Numbers) || !sameBits(back.Column("odd").Numbers, odd.Numbers) ||
		back.Column("hive").Value(1) != "b" {
		t.Fatalf("what is whole comes back as %v, %v", back, err)
	}
	for name, damage := range map[string]func() (packedColumn, int){
		"of a later program": func() (packedColumn, int) { p := whole(numbers); p.encoding = "folded"; return p, 3 },
		"names as decimals":  func() (packedColumn, int) { p := whole(names); p.encoding = decimalZstd; return p, 3 },
		"cut":                func() (packedColumn, int) { p := whole(odd); p.data = p.data[:len(p.data)-3]; return p, 3 },
		"decimals cut": func() (packedColumn, int) {
			p := whole(numbers)
			p.data = compressor.EncodeAll([]byte{1, 2, 3}, nil)
			return p, 3
		},
		"no zstd": func() (packedColumn, int) { p := whole(numbers); p.data = []byte("kg"); return p, 3 },
		"levels that are none": func() (packedColumn, int) {
			p := whole(names)
			p.levels = compressor.EncodeAll([]byte("{"), nil)
			return p, 3
		},
		"levels cut":                func() (packedColumn, int) { p := whole(names); p.levels = p.levels[:2]; return p, 3 },
		"fewer rows than the table": func() (packedColumn, int) { return whole(numbers), 4 },
		"more rows than the table":  func() (packedColumn, int) { return whole(odd), 2 },
		"names of fewer rows":       func() (packedColumn, int) { return whole(names), 4 },
	} {
		p, rows := damage()
		if got, err := unpackColumns(context.Background(), []packedColumn{p}, rows); err == nil || !strings.Contains(err.Error(), p.name) {
			t.Errorf("%s: %v, %v", name, got, err)
		}
	}
}
