package figure

import (
	"context"
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/parallel"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Dressed is the colour, shape and size of every row, with the keys that explain them.
type Dressed struct {
	*Selection
	channels mark.Channels // of all rows
	groups   *mark.Groups  // that colour
	codes    []int32
	keys     []Key
	others   []other  // what more is drawn
	needed   []string // why rows are left out, in the order of the reasons of a table that stays elsewhere
}

// Dress gives every row its colour, shape and size, and explains them in keys; and reads what more is drawn.
func Dress(ctx context.Context, s *Selection) (*Dressed, []chart.Problem) {
	d := &Dressed{Selection: s, keys: []Key{}}
	d.dotSizes()
	d.colours()
	d.tones()
	d.shapes()
	if problem := d.sizes(ctx); problem != nil {
		return nil, []chart.Problem{*problem}
	}
	if problems := d.unknownGroups(); problems != nil {
		return nil, problems
	}
	return d, d.readOthers(ctx)
}

// addKey adds a key and gives the number by which layers refer to it.
func (b *Dressed) addKey(k Key) int {
	b.keys = append(b.keys, k)
	return len(b.keys)
}

// dotSizes chooses radius and opacity by how crowded a panel is.
func (b *Dressed) dotSizes() {
	n := float64(len(b.rows.rows))
	ch := &b.channels
	ch.Fixed = math.Round(10*min(max(9-2*math.Log10(n+1), 1.5), 7)) / 10
	ch.Largest = math.Round(10*min(max(21-4.2*math.Log10(n+1), 3.5), 18)) / 10
	switch said := b.Document.Sizes; {
	case b.Document.Size == "":
		ch.Largest = ch.Fixed
	case said.Largest > 0:
		ch.Largest = said.Largest
	}
	if fixed := b.Document.Fixed.Size; fixed > 0 {
		ch.Fixed, ch.Largest = fixed, fixed
	}
	ch.Opacity = b.Document.Opacity
	if ch.Opacity == 0 {
		ch.Opacity = math.Round(100*min(max(0.85-0.13*math.Log10(n+1), 0.12), 0.7)) / 100
	}
}

// smallestRadius keeps the smallest of sized marks visible.
const smallestRadius = 1.6

// sizes gives each row a radius so that its area is its value.
func (b *Dressed) sizes(ctx context.Context) *chart.Problem {
	c := b.Table.Column(b.Document.Size)
	if c == nil {
		return nil
	}
	values := b.rows.numbers(c)
	largest := 0.0
	for _, v := range values {
		if v < 0 {
			return &chart.Problem{
				Clause:  "size",
				Column:  c.Name,
				Message: fmt.Sprintf("an area cannot be negative; %s goes down to %s or lower", c.ReadableName(), scale.Value(v, 4)),
				Advice:  "colour can show values on both sides of zero",
			}
		}
		largest = max(largest, v)
	}
	if largest == 0 {
		largest = 1
	}
	ch, smallest := &b.channels, smallestRadius
	if said := b.Document.Sizes.Smallest; said > 0 {
		smallest = said
	}
	radius := func(v float64) float64 { return max(ch.Largest*math.Sqrt(v/largest), smallest) }
	steps := make([]uint8, len(values))
	_ = parallel.Ranges(ctx, len(values), func(_, from, to int) {
		for i, v := range values[from:to] {
			steps[from+i] = uint8(255*radius(v)/ch.Largest + 0.5)
		}
	})
	ch.Radius = primitive.NewArray(steps)
	key := Key{Channels: []string{"size"}, Column: c.Name, Name: c.ReadableName(), Unit: c.Unit}
	for _, share := range []float64{0.2, 0.5, 1} {
		v := roundDown(largest * share)
		label := scale.InForm(c.Form, v, scale.Value(v, 6))
		if n := len(key.Samples); n > 0 && key.Samples[n-1].Label == label {
			continue
		}
		key.Samples = append(key.Samples, SizeSample{label, radius(v)})
	}
	ch.Keys.Size = b.addKey(key)
	return nil
}

// roundDown gives the largest 1, 2 or 5 times a power of ten that is not above
// v.
func roundDown(v float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(v)))
	if power == 0 || math.IsInf(power, 0) { // at the ends of what can be written
		return v
	}
	for _, multiple := range []float64{5, 2} {
		if value := multiple * power; value <= v*(1+1e-12) && value <= math.MaxFloat64 {
			return value
		}
	}
	return power
}

// colours colours by the columns along y, by groups, or along a gradient.
func (b *Dressed) colours() {
	if b.rows.series != nil {
		b.colourSeries()
		return
	}
	c := b.Table.Column(b.Document.Colour)
	if c == nil {
		return
	}
	key := Key{Channels: []string{"colour"}, Column: c.Name, Kind: string(c.Kind), Name: c.ReadableName(), Unit: c.Unit}
	if b.Document.Paired != "" {
		b.colourPairs(c, b.Table.Column(b.Document.Paired))
		return
	}
	if groups := b.colourGroups(c); groups != nil {
		b.codes = b.rows.codes(groups)
		b.groups = &mark.Groups{
			Column: groups.Name,
			Name:   groups.ReadableName(),
			Levels: groups.Levels,
			Codes:  groups.Codes,
			Rest:   b.Document.Top > 0 && b.Document.Top < len(groups.Levels),
		}
		b.groups.Light, b.groups.Dark = b.Document.GroupColours().OfGroups(groups.Levels, groups.Colours)
		if last := len(groups.Levels) - 1; b.groups.Rest {
			b.groups.Light[last], b.groups.Dark[last] = restLight, restDark
		}
		key.Entries, key.Exact = b.entries(groups), groups.Exact
		for i := range key.Entries {
			key.Entries[i].Light, key.Entries[i].Dark = b.groups.Light[i], b.groups.Dark[i]
		}
		if b.groups.Rest {
			key.Entries[len(key.Entries)-1].Rest = true
		}
		b.channels.Colour = primitive.NewArray(asBytes(b.codes))
		b.groups.Key = b.addKey(key)
		b.channels.Keys.Colour = b.groups.Key
		return
	}
	key.Gradient = b.gradient(c)
	b.channels.Keys.Colour = b.addKey(key)
}

// colourSeries gives each of several columns along y a colour.
func (b *Dressed) colourSeries() {
	b.groups, b.codes = &mark.Groups{Name: "Column"}, b.rows.series
	key := Key{Channels: []string{"colour"}, Name: "Column"}
	for i, c := range append([]*table.Column{b.Y.Column}, b.Y.More...) {
		light, dark := b.Document.GroupColours().At(i)
		name := c.ReadableName()
		if c.Unit != "" && b.Y.Unit() == "" {
			name += " (" + c.Unit + ")" // along the axis stand several
		}
		b.groups.Levels = append(b.groups.Levels, name)
		b.groups.Light = append(b.groups.Light, light)
		b.groups.Dark = append(b.groups.Dark, dark)
		key.Entries = append(key.Entries, Entry{Name: name, Light: light, Dark: dark})
	}
	for _, code := range b.codes {
		key.Entries[code].Count++
	}
	b.channels.Colour = primitive.NewArray(asBytes(b.codes))
	if b.Tones() == nil { // else colours tell something else
		b.groups.Key = b.addKey(key)
		b.channels.Keys.Colour = b.groups.Key
	}
}

// tones explains the colours that a mark has of its own.
func (b *Dressed) tones() {
	of := b.Tones()
	if of == nil {
		return
	}
	key := Key{Channels: []string{"colour"}, Name: of.Name}
	for _, tone := range of.Of {
		key.Entries = append(key.Entries, Entry{Name: tone.Name, Light: tone.Light, Dark: tone.Dark, Count: 1})
	}
	b.channels.Tones = b.addKey(key)
}

// The colour of the rest of the groups.
const restLight, restDark = "#7f918e", "#6f8582"

// colourGroups reads a column as groups for colouring: any column of groups, and numbers with
// few whole values (a code, a season). Where top is said, only so many of the most frequent
// stand for themselves.
func (b *Dressed) colourGroups(c *table.Column) *table.Column {
	switch top := b.Document.Top; {
	case b.Document.Gradient.Of(c):
		return nil
	case top > 0 && c.Kind.Coded():
		return c.TopGroups(top)
	}
	return c.AsGroups(chart.MaxColours)
}

// entries lists the levels with their counts among the drawn rows.
func (b *Dressed) entries(c *table.Column) []Entry {
	entries := make([]Entry, len(c.Levels))
	for i, level := range c.Levels {
		entries[i].Name = level
	}
	for _, row := range b.rows.rows {
		entries[c.Codes[row]].Count++
	}
	return entries
}

func asBytes(codes []int32) []uint8 {
	bytes := make([]uint8, len(codes))
	for i, code := range codes {
		bytes[i] = uint8(code)
	}
	return bytes
}

// shapes gives each group a shape. Where the same column colours, one key explains both.
func (b *Dressed) shapes() {
	c := b.shapeColumn()
	if c == nil {
		return
	}
	groups := c.AsGroups(chart.MaxShapes)
	b.channels.Shape = primitive.NewArray(asBytes(b.rows.codes(groups)))
	if b.groups.Are(groups.Name) {
		key := &b.keys[b.groups.Key-1]
		key.Channels = append(key.Channels, "shape")
		for i := range key.Entries {
			key.Entries[i].Shape = primitive.Shapes[i]
		}
		b.channels.Keys.Shape = b.groups.Key
		return
	}
	key := Key{
		Channels: []string{"shape"},
		Column:   c.Name,
		Kind:     string(c.Kind),
		Name:     c.ReadableName(),
		Entries:  b.entries(groups),
		Exact:    groups.Exact,
	}
	for i := range key.Entries {
		key.Entries[i].Shape = primitive.Shapes[i]
	}
	b.channels.Keys.Shape = b.addKey(key)
}
