package store

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"

	"github.com/klauspost/compress/zstd"

	"copperlark/core/parallel"
	"copperlark/core/table"
)

// packedColumn is a column as it is stored: numbers with few decimals as decimal.go says,
// all others and codes as "shuffled-zstd", which is the little-endian values with their bytes regrouped (first bytes of all values,
// then second bytes, …), compressed with zstd; levels are a JSON list, compressed
// with zstd.
type packedColumn struct {
	name, label, unit, meaning, kind, grain, encoding string
	levels, data                                      []byte
	decimals                                          int // that its numbers were written with
}

const shuffledZstd = "shuffled-zstd"

var (
	compressor, _   = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedFastest))
	decompressor, _ = zstd.NewReader(nil, zstd.WithDecoderMaxMemory(8<<30))
)

// packColumns packs the columns of a table one after the other, two ahead of whoever
// takes them, so that few packed columns are in memory at once. take is called in
// order, by this goroutine.
func packColumns(ctx context.Context, t *table.Table, take func(position int, c packedColumn) error) error {
	type outcome struct {
		packed packedColumn
		err    error
	}
	outcomes := make([]chan outcome, len(t.Columns()))
	for i := range outcomes {
		outcomes[i] = make(chan outcome, 1)
	}
	begun := 0
	var packing parallel.Group
	ahead := func() { // begins the next column, if there is one
		if i := begun; i < len(outcomes) {
			begun++
			packing.Go(func() error {
				defer close(outcomes[i]) // also where packing panics, which Wait tells
				packed, err := pack(t.Columns()[i])
				outcomes[i] <- outcome{packed, err}
				return nil
			})
		}
	}
	ahead()
	ahead()
	taken := func() error {
		for i := range outcomes {
			if err := ctx.Err(); err != nil {
				return err
			}
			o := <-outcomes[i]
			if o.err != nil {
				return o.err
			}
			if err := take(i, o.packed); err != nil {
				return err
			}
			ahead()
		}
		return nil
	}
	return errors.Join(taken(), packing.Wait())
}

func pack(c *table.Column) (packedColumn, error) {
	p := packedColumn{
		name:     c.Name,
		label:    c.Label,
		unit:     c.Unit,
		meaning:  c.Meaning,
		kind:     string(c.Kind),
		grain:    string(c.Grain),
		encoding: shuffledZstd,
		levels:   []byte{},
		decimals: c.Decimals,
	}
	if !c.Kind.Coded() {
		raw := packDecimals(c.Numbers)
		if raw != nil {
			p.encoding = decimalZstd
		} else {
			raw = shuffleNumbers(c.Numbers)
		}
		p.data = compressor.EncodeAll(raw, nil)
		return p, nil
	}
	p.data = compressor.EncodeAll(shuffleCodes(c.Codes), nil)
	levels, err := json.Marshal(c.Levels)
	p.levels = compressor.EncodeAll(levels, nil)
	return p, err
}

func unpackColumns(ctx context.Context, packed []packedColumn, rows int) (*table.Table, error) {
	columns := make([]*table.Column, len(packed))
	err := parallel.Each(ctx, len(packed), func(i int) error {
		p := packed[i]
		if p.encoding != shuffledZstd && (p.encoding != decimalZstd || table.Kind(p.kind).Coded()) {
			return fmt.Errorf("column %q is stored as %q, which this program does not know", p.name, p.encoding)
		}
		c := &table.Column{
			Name:     p.name,
			Label:    p.label,
			Unit:     p.unit,
			Meaning:  p.meaning,
			Kind:     table.Kind(p.kind),
			Grain:    table.Grain(p.grain),
			Decimals: p.decimals,
		}
		data, err := decompressor.DecodeAll(p.data, nil)
		if err != nil {
			return fmt.Errorf("column %q: %w", p.name, err)
		}
		if c.Kind.Coded() {
			c.Codes = unshuffleCodes(data)
			levels, err := decompressor.DecodeAll(p.levels, nil)
			if err != nil {
				return fmt.Errorf("levels of %q: %w", p.name, err)
			}
			if err := json.Unmarshal(levels, &c.Levels); err != nil {
				return fmt.Errorf("levels of %q: %w", p.name, err)
			}
		} else if p.encoding == decimalZstd {
			if c.Numbers, err = unpackDecimals(data); err != nil {
				return fmt.Errorf("column %q: %w", p.name, err)
			}
		} else {
			c.Numbers = unshuffleNumbers(data)
		}
		if c.Len() != rows {
			return fmt.Errorf("column %q has %d of %d rows", p.name, c.Len(), rows)
		}
		columns[i] = c
		return nil
	})
	if err != nil {
		return nil, err
	}
	return table.New(columns...)
}

func shuffleNumbers(values []float64) []byte {
	n := len(values)
	out := make([]byte, 8*n)
	for i, v := range values {
		bits := math.Float64bits(v)
		for b := range 8 {
			out[b*n+i] = byte(bits >> (8 * b))
		}
	}
	return out
}

func unshuffleNumbers(data []byte) []float64 {
	n := len(data) / 8
	values := make([]float64, n)
	var raw [8]byte
	for i := range values {
		for b := range raw {
			raw[b] = data[b*n+i]
		}
		values[i] = math.Float64frombits(binary.LittleEndian.Uint64(raw[:]))
	}
	return values
}

func shuffleCodes(codes []int32) []byte {
	n := len(codes)
	out := make([]byte, 4*n)
	for i, code := range codes {
		for b := range 4 {
			out[b*n+i] = byte(uint32(code) >> (8 * b))
		}
	}
	return out
}

func unshuffleCodes(data []byte) []int32 {
	n := len(data) / 4
	codes := make([]int32, n)
	var raw [4]byte
	for i := range codes {
		for b := range raw {
			raw[b] = data[b*n+i]
		}
		codes[i] = int32(binary.LittleEndian.Uint32(raw[:]))
	}
	return codes
}
