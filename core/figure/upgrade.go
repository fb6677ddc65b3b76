package figure

import (
	"encoding/binary"
	"encoding/json"
	"fmt"

	"copperlark/core/primitive"
)

// Upgrade brings an encoded figure of an older version to this one. Its arrays stay as
// they are: only the head, which says what they are, is written anew. A figure of this
// version is given back as it is.
func Upgrade(encoded []byte) ([]byte, error) {
	head, buffers, err := split(encoded)
	if err != nil {
		return nil, err
	}
	var version struct {
		Version int `json:"version"`
	}
	if err := json.Unmarshal(head["figure"], &version); err != nil {
		return nil, fmt.Errorf("the figure cannot be read: %w", err)
	}
	if version.Version >= Version {
		return encoded, nil
	}
	var first figureOne
	if err := json.Unmarshal(head["figure"], &first); err != nil {
		return nil, fmt.Errorf("the figure of version 1 cannot be read: %w", err)
	}
	upgraded, err := json.Marshal(first.upgraded())
	if err != nil {
		return nil, err
	}
	head["figure"] = upgraded
	written, err := json.Marshal(head)
	if err != nil {
		return nil, err
	}
	out := append([]byte(Magic), 0, 0, 0, 0)
	binary.LittleEndian.PutUint32(out[len(Magic):], uint32(len(written)))
	out = append(out, written...)
	for len(out)%8 != 0 {
		out = append(out, 0)
	}
	return append(out, buffers...), nil
}

// figureOne is the head of a figure of version 1: one panel of dots, and fits over them.
// Arrays are references to buffers, or empty lists.
type figureOne struct {
	Width, Height float64
	Plot          Box
	Title, Note   string
	X, Y          Scale
	Dots          struct {
		Count                            int
		Opacity                          float64
		Fixed                            float64 `json:"fixed_radius"`
		Largest                          float64 `json:"largest_radius"`
		X, Y, Colour, Shape, Radius, Row json.RawMessage
		LeftOut                          json.RawMessage `json:"left_out"`
	}
	Colour, Shape *struct {
		Column, Name, Unit string
		Groups             []Entry
		Gradient           *Gradient
	}
	Size *struct {
		Column, Name, Unit string
		Samples            []SizeSample
	}
	Fits []struct {
		Name, Light, Dark, Band string
		Group                   int
		Dashed                  bool
		Facts                   []primitive.Fact
		X, Y, Low, High         json.RawMessage
	}
	Rows Rows
	Card json.RawMessage
}

// said reports whether an array of version 1 holds values.
func said(array json.RawMessage) bool { return len(array) > 0 && array[0] == '{' }

// upgraded says the same as a figure of this version, as JSON values.
func (one *figureOne) upgraded() map[string]any {
	one.X.Channel, one.Y.Channel = "x", "y"
	one.X.Room, one.Y.Room = one.Plot.Width, one.Plot.Left
	var layers []map[string]any
	add := func(l map[string]any, arrays map[string]json.RawMessage) {
		for name, array := range arrays {
			if said(array) {
				l[name] = array
			}
		}
		l["panel"] = 0
		layers = append(layers, l)
	}
	keys, dotKeys := one.keys()
	colourKey := primitive.Keys{Colour: dotKeys.Colour}
	lines, texts := one.fits(colourKey, add)
	d := one.Dots
	add(
		map[string]any{"mark": "dots", "primitive": primitive.Points, "count": d.Count, "rows": true, "keys": dotKeys,
			"style": styled(
				primitive.NeutralLight,
				primitive.NeutralDark,
				map[string]any{"opacity": d.Opacity, "fixed_radius": d.Fixed, "largest_radius": d.Largest, "outline": d.Count <= 4000},
			)},
		map[string]json.RawMessage{
			"x":        d.X,
			"y":        d.Y,
			"colour":   d.Colour,
			"shape":    d.Shape,
			"radius":   d.Radius,
			"row":      d.Row,
			"left_out": d.LeftOut,
		},
	)
	below := len(layers)
	layers = append(layers, lines...)
	for i, text := range texts {
		if text != nil {
			text["along"] = below + i + 1
			layers = append(layers, text)
		}
	}
	return map[string]any{
		"version": Version,
		"width":   one.Width,
		"height":  one.Height,
		"title":   one.Title,
		"note":    one.Note,
		"scales":  []Scale{one.X, one.Y},
		"panels": []Panel{
			{Box: one.Plot, X: 0, Y: 1, Ticks: Sides{true, true}, Rows: d.Count},
		},
		"layers": layers,
		"keys":   keys,
		"texts":  one.texts(),
		"rows":   one.Rows,
		"card":   one.Card,
	}
}

func (one *figureOne) keys() ([]Key, primitive.Keys) {
	keys, numbers := []Key{}, primitive.Keys{}
	if s := one.Size; s != nil {
		keys = append(keys, Key{Channels: []string{"size"}, Column: s.Column, Name: s.Name, Unit: s.Unit, Samples: s.Samples})
		numbers.Size = len(keys)
	}
	if c := one.Colour; c != nil {
		keys = append(
			keys,
			Key{Channels: []string{"colour"}, Column: c.Column, Name: c.Name, Unit: c.Unit, Entries: c.Groups, Gradient: c.Gradient},
		)
		numbers.Colour = len(keys)
	}
	if c := one.Shape; c != nil {
		if one.Colour != nil && one.Colour.Column == c.Column && len(one.Colour.Groups) == len(c.Groups) {
			key := &keys[numbers.Colour-1]
			key.Channels = append(key.Channels, "shape")
			for i := range key.Entries {
				key.Entries[i].Shape = c.Groups[i].Shape
			}
			numbers.Shape = numbers.Colour
		} else {
			keys = append(keys, Key{Channels: []string{"shape"}, Column: c.Column, Name: c.Name, Entries: c.Groups})
			numbers.Shape = len(keys)
		}
	}
	return keys, numbers
}

// texts are the titles of the axes, where version 1 drew them.
func (one *figureOne) texts() []Text {
	p := one.Plot
	return []Text{
		{
			Role:   AxisText,
			Axis:   "x",
			Panel:  -1,
			X:      p.Left + p.Width/2,
			Y:      p.Top + p.Height + 42,
			Anchor: "middle",
			Size:   12.5,
			Bold:   true,
			Text:   one.X.Title,
		},
		{
			Role:   AxisText,
			Axis:   "y",
			Panel:  -1,
			X:      18,
			Y:      p.Top + p.Height/2,
			Anchor: "middle",
			Turn:   -90,
			Size:   12.5,
			Bold:   true,
			Text:   one.Y.Title,
		},
	}
}

// styled is a style of two colours and more.
func styled(light, dark string, more map[string]any) map[string]any {
	more["light"], more["dark"] = light, dark
	return more
}

// ofKey reports whether a group is an entry of the colour key.
func (one *figureOne) ofKey(group int) bool {
	return group >= 0 && one.Colour != nil && group < len(one.Colour.Groups)
}

// fits adds the bands, which lie below the dots, and gives the lines and the names at their
// ends; nil for a line without one.
func (one *figureOne) fits(colourKey primitive.Keys, add func(map[string]any, map[string]json.RawMessage)) (lines, texts []map[string]any) {
	for _, fit := range one.Fits {
		if !said(fit.X) || !said(fit.Y) {
			continue
		}
		// A group's line has the colour of the key's entry where the key is of the same groups.
		entry := map[string]any{}
		if one.ofKey(fit.Group) && one.Colour.Groups[fit.Group].Name == fit.Name {
			entry["keys"] = colourKey
			entry["colour"] = []int{fit.Group}
		}
		if said(fit.Low) {
			band := map[string]any{
				"mark":      "fit",
				"primitive": primitive.Areas,
				"count":     1,
				"start":     []int{0},
				"style":     styled(fit.Light, fit.Dark, map[string]any{"opacity": 0.18}),
			}
			for name, value := range entry {
				band[name] = value
			}
			add(band, map[string]json.RawMessage{"x": fit.X, "y": fit.Low, "y2": fit.High})
		}
		card := primitive.Card{Heading: fit.Name, Facts: fit.Facts}
		if fit.Band != "" {
			card.Facts = append(card.Facts, primitive.Fact{Name: "band", Value: fit.Band})
		}
		line := map[string]any{
			"mark":      "fit",
			"primitive": primitive.Paths,
			"count":     1,
			"start":     []int{0},
			"cards":     []primitive.Card{card},
			"x":         fit.X,
			"y":         fit.Y,
			"panel":     0,
		}
		more := map[string]any{"width": 2.4}
		if fit.Dashed {
			more["dash"] = []float64{7, 5}
		}
		line["style"] = styled(fit.Light, fit.Dark, more)
		label := map[string]any{"mark": "fit", "primitive": primitive.Texts, "count": 1, "words": []string{fit.Name}, "panel": 0,
			"style": styled(
				fit.Light,
				fit.Dark,
				map[string]any{"size": 12.5, "bold": true, "halo": true, "anchor": "start", "above": true},
			)}
		for name, value := range entry {
			line[name], label[name] = value, value
		}
		lines = append(lines, line)
		if fit.Group >= 0 || len(one.Fits) > 1 {
			texts = append(texts, label)
		} else {
			texts = append(texts, nil)
		}
	}
	return lines, texts
}
