package chart

import (
	"encoding/json"
	"fmt"
)

// DotsMark is the mark that a chart of version 1 was always drawn with.
const DotsMark = "dots"

// UnmarshalJSON reads a document of any version up to this program's.
func (d *Document) UnmarshalJSON(stored []byte) error {
	upgraded, err := Upgraded(stored)
	if err != nil {
		return err
	}
	type plain Document // without this method
	if err := json.Unmarshal(upgraded, (*plain)(d)); err != nil {
		return err
	}
	d.Version = Version
	return nil
}

// Upgraded writes a document of any version as this program's says it. Fields of version 2 that nobody knows stay, so that a
// schema can refuse them; a document of this version stays as it is.
func Upgraded(stored []byte) ([]byte, error) {
	var head struct {
		Version int             `json:"version"`
		Y       json.RawMessage `json:"y"`
	}
	if err := json.Unmarshal(stored, &head); err != nil {
		return nil, err
	}
	switch {
	case head.Version > Version:
		return nil, fmt.Errorf("the chart was made by a newer version of the program (%d, this one knows %d)", head.Version, Version)
	case head.Version == 1, head.Version == 0 && len(head.Y) > 0 && head.Y[0] == '"':
		var first documentOne
		if err := json.Unmarshal(stored, &first); err != nil {
			return nil, err
		}
		return json.Marshal(first.migrated())
	case head.Version == 2, head.Version == 0 && flat(stored):
		return groupedTwo(stored)
	}
	return stored, nil
}

// Outdated tells whether a decoded document is of an older version.
func Outdated(document map[string]any) bool {
	_, named := document["y"].(string)
	version, said := document["version"].(float64)
	if !said {
		for name := range movedTwo {
			if _, is := document[name].(map[string]any); document[name] != nil && (!is || name != "colour" && name != "size" && name != "shape") {
				return true
			}
		}
	}
	return said && version < Version || !said && named
}

// movedTwo is where the fields stand that lay flat in version 2: the group and the name there. A group that is a layer's
// name is that layer.
var movedTwo = map[string][2]string{
	"where": {"rows", "where"}, "chosen": {"rows", "chosen"}, "take_out": {"rows", "take_out"},
	"step": {"rows", "step"}, "follow": {"rows", "follow"},
	"colour": {"colour", "column"}, "colour_paired": {"colour", "paired"}, "colour_top": {"colour", "top"}, "gradient": {"colour", "gradient"},
	"size": {"size", "column"}, "sizes": {"size", "radii"}, "shape": {"shape", "column"},
	"palette": {"manner", "palette"}, "patterns": {"manner", "patterns"}, "in_front": {"manner", "in_front"},
	"fixed": {"manner", "fixed"}, "outline": {"manner", "outline"}, "opacity": {"manner", "opacity"},
	"jitter": {"manner", "jitter"}, "overlap": {"manner", "overlap"}, "look": {"manner", "look"}, "grid": {"manner", "grid"},
	"text": {"manner", "text"}, "weight": {"manner", "weight"}, "key": {"manner", "key"}, "key_order": {"manner", "key_order"},
	"paper": {"manner", "paper"}, "title": {"manner", "title"}, "title_centred": {"manner", "title_centred"},
	"subtitle": {"manner", "subtitle"}, "note": {"manner", "note"},
	"contours": {ContoursMark, "shares"}, "interval": {IntervalLayer, "interval"}, "centres": {CentresLayer, "by"},
	"edges": {EdgesLayer, "ways"},
}

// flat reports whether a document that says no version is written as version 2 was.
func flat(stored []byte) bool {
	var document map[string]any
	return json.Unmarshal(stored, &document) == nil && Outdated(document)
}

// groupedTwo writes a document of version 2 as one of version 3.
func groupedTwo(stored []byte) ([]byte, error) {
	var fields map[string]json.RawMessage
	if err := json.Unmarshal(stored, &fields); err != nil {
		return nil, err
	}
	groups, layers := map[string]map[string]json.RawMessage{}, []map[string]json.RawMessage{}
	if said := fields["layers"]; said != nil {
		if err := json.Unmarshal(said, &layers); err != nil {
			return nil, err
		}
	}
	for name, to := range movedTwo {
		value, is := fields[name]
		if !is {
			continue
		}
		delete(fields, name)
		group := groups[to[0]]
		if group == nil {
			group = map[string]json.RawMessage{}
			groups[to[0]] = group
		}
		group[to[1]] = value
	}
	for _, name := range []string{ContoursMark, IntervalLayer, CentresLayer, EdgesLayer} {
		if said := groups[name]; said != nil {
			delete(groups, name)
			layers = withSaid(layers, name, said)
		}
	}
	for name, group := range groups {
		written, err := json.Marshal(group)
		if err != nil {
			return nil, err
		}
		fields[name] = written
	}
	if len(layers) > 0 {
		written, err := json.Marshal(layers)
		if err != nil {
			return nil, err
		}
		fields["layers"] = written
	}
	fields["version"] = json.RawMessage(fmt.Sprint(Version))
	return json.Marshal(fields)
}

// withSaid adds to a layer what version 2 said of it beside the layers. Of contours that were not drawn nothing is kept: what
// is said of them draws them now.
func withSaid(layers []map[string]json.RawMessage, name string, said map[string]json.RawMessage) []map[string]json.RawMessage {
	mark, _ := json.Marshal(name)
	for _, l := range layers {
		if string(l["mark"]) == string(mark) {
			for field, value := range said {
				l[field] = value
			}
			return layers
		}
	}
	if name == ContoursMark {
		return layers
	}
	said["mark"] = mark
	return append(layers, said)
}

// documentOne is a document of version 1: dots, and fits over them.
type documentOne struct {
	Y       string  `json:"y"`
	X       string  `json:"x"`
	LogY    bool    `json:"log_y"`
	LogX    bool    `json:"log_x"`
	Colour  string  `json:"colour"`
	Size    string  `json:"size"`
	Shape   string  `json:"shape"`
	Opacity float64 `json:"opacity"`
	Fits    []Fit   `json:"fits"`
	XAxis   axisOne `json:"x_axis"`
	YAxis   axisOne `json:"y_axis"`
	Title   string  `json:"title"`
	Note    string  `json:"note"`
}

type axisOne struct {
	Limits *Limits `json:"limits"`
	Title  string  `json:"title"`
	Unit   string  `json:"unit"`
}

// migrated says the same in this version. The dots are said: columns for which another
// mark would be suggested now stay as they were drawn.
func (one *documentOne) migrated() *Document {
	axis := func(a axisOne, log bool) Axis {
		out := Axis{Limits: a.Limits, Title: a.Title, Unit: a.Unit}
		if log {
			out.Scale = LogScale
		}
		return out
	}
	d := &Document{
		Version:   Version,
		Y:         Variable{Column: one.Y},
		X:         Variable{Column: one.X},
		Colouring: Colouring{Colour: one.Colour},
		Sizing:    Sizing{Size: one.Size},
		Shaping:   Shaping{Shape: one.Shape},
		Layers:    []Layer{{Mark: DotsMark}},
		Scales:    Scales{X: axis(one.XAxis, one.LogX), Y: axis(one.YAxis, one.LogY)},
		Manner:    Manner{Opacity: one.Opacity, Title: one.Title, Note: one.Note},
	}
	for _, fit := range one.Fits {
		d.AddFit(fit)
	}
	return d
}
