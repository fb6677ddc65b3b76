package store

import (
	"encoding/binary"
	"errors"
	"math"
)

// Numbers with few decimals are kept as whole numbers of their last place: "decimal-zstd" is
// one byte of how many decimals there are, one of how many bytes a number takes, eight of the
// smallest number, then each number's distance from it, plus one, by bytes as in "shuffled-zstd";
// 0 is a missing value. All is compressed with zstd.
const (
	decimalZstd   = "decimal-zstd"
	mostDecimals  = 9
	decimalHeader = 10
)

var powers = [mostDecimals + 1]float64{1, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9}

// exactly is up to which whole numbers are told apart.
const exactly = 1 << 53

// decimals gives how many decimals numbers have, and the smallest and the largest of them as whole
// numbers of that place. It reports false where any has more, is too large, or is a negative zero.
func decimals(values []float64) (places int, low, high int64, all bool) {
	low, high = math.MaxInt64, math.MinInt64
	for _, v := range values {
		if v != v { // missing
			continue
		}
		whole := math.RoundToEven(v * powers[places])
		for whole/powers[places] != v {
			if places++; places > mostDecimals {
				return 0, 0, 0, false
			}
			whole = math.RoundToEven(v * powers[places])
		}
		if !(whole > -exactly && whole < exactly) || v == 0 && math.Signbit(v) {
			return 0, 0, 0, false
		}
	}
	for _, v := range values { // of the last place of all
		if v == v {
			whole := int64(math.RoundToEven(v * powers[places]))
			low, high = min(low, whole), max(high, whole)
		}
	}
	if low > high { // none is there
		low, high = 0, 0
	}
	return places, low, high, low > -exactly && high < exactly
}

// packDecimals gives numbers as whole numbers; nil where they are not that.
func packDecimals(values []float64) []byte {
	places, low, high, all := decimals(values)
	if !all {
		return nil
	}
	n, width := len(values), 1
	for distance := uint64(high-low) + 1; distance>>(8*width) > 0; {
		width++
	}
	out := make([]byte, decimalHeader+width*n)
	out[0], out[1] = byte(places), byte(width)
	binary.LittleEndian.PutUint64(out[2:], uint64(low))
	planes := out[decimalHeader:]
	power := powers[places]
	for i, v := range values {
		if v != v {
			continue
		}
		distance := uint64(int64(math.RoundToEven(v*power))-low) + 1
		for at := i; distance > 0; at += n {
			planes[at] = byte(distance)
			distance >>= 8
		}
	}
	return out
}

var errDecimals = errors.New("the numbers are damaged")

func unpackDecimals(data []byte) ([]float64, error) {
	if len(data) < decimalHeader || data[0] > mostDecimals || data[1] == 0 || data[1] > 8 || (len(data)-decimalHeader)%int(data[1]) != 0 {
		return nil, errDecimals
	}
	power, width, low := powers[data[0]], int(data[1]), int64(binary.LittleEndian.Uint64(data[2:]))
	planes := data[decimalHeader:]
	n := len(planes) / width
	values := make([]float64, n)
	for i := range values {
		distance := uint64(0)
		for b := range width {
			distance |= uint64(planes[b*n+i]) << (8 * b)
		}
		if distance == 0 {
			values[i] = math.NaN()
			continue
		}
		values[i] = float64(low+int64(distance-1)) / power
	}
	return values, nil
}
