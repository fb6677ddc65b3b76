package chart

import (
	"encoding/json"
	"fmt"
)

// DotsMark is the mark that a chart of version 1 was always drawn with.
const DotsMark = "dots"

// UnmarshalJSON reads a document of any version up to this program's.
func (d *Document) UnmarshalJSON(stored []byte) error {
	var head struct {
		Version int             `json:"version"`
		Y       json.RawMessage `json:"y"`
	}
	if err := json.Unmarshal(stored, &head); err != nil {
		return err
	}
	switch {
	case head.Version > Version:
		return fmt.Errorf("the chart was made by a newer version of the program (%d, this one knows %d)", head.Version, Version)
	case head.Version == 1, head.Version == 0 && len(head.Y) > 0 && head.Y[0] == '"':
		var first documentOne
		if err := json.Unmarshal(stored, &first); err != nil {
			return err
		}
		*d = *first.migrated()
		return nil
	}
	type plain Document // without this method
	if err := json.Unmarshal(stored, (*plain)(d)); err != nil {
		return err
	}
	d.Version = Version
	return nil
}

// Outdated tells whether a decoded document is of version 1.
func Outdated(document map[string]any) bool {
	_, named := document["y"].(string)
	version, said := document["version"].(float64)
	return version == 1 || !said && named
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
		Version: Version,
		Y:       Variable{Column: one.Y},
		X:       Variable{Column: one.X},
		Colour:  one.Colour,
		Size:    one.Size,
		Shape:   one.Shape,
		Opacity: one.Opacity,
		Layers: []Layer{
			{Mark: DotsMark},
		},
		Scales: Scales{X: axis(one.XAxis, one.LogX), Y: axis(one.YAxis, one.LogY)},
		Title:  one.Title,
		Note:   one.Note,
	}
	for _, fit := range one.Fits {
		d.AddFit(fit)
	}
	return d
}
