// Package chart holds the chart document: what a sentence says, as data.
//
// The document is the truth of a chart. Its typed and spoken forms are made by
// package sentence; what is drawn is made by package figure. It is stored as
// JSON with a version number; Read migrates older versions forward.
package chart

import (
	"encoding/json"
	"fmt"
)

// Version is the version of the document that this program writes.
const Version = 1

// Document is one chart. Column names are those of the table; "" is none.
type Document struct {
	Version int     `json:"version"`
	Y       string  `json:"y" doc:"the column along the vertical axis"`
	X       string  `json:"x" doc:"the column along the horizontal axis"`
	LogY    bool    `json:"log_y,omitempty"`
	LogX    bool    `json:"log_x,omitempty"`
	Colour  string  `json:"colour,omitempty" doc:"the column that colours the marks"`
	Size    string  `json:"size,omitempty" doc:"the column whose value is the area of a mark"`
	Shape   string  `json:"shape,omitempty" doc:"the column that gives each group its own shape"`
	Opacity float64 `json:"opacity,omitempty" minimum:"0" maximum:"1" doc:"0 leaves it to the program"`
	Fits    []Fit   `json:"fits,omitempty"`
	XAxis   Axis    `json:"x_axis,omitzero"`
	YAxis   Axis    `json:"y_axis,omitzero"`
	Title   string  `json:"title,omitempty"`
	Note    string  `json:"note,omitempty"`
}

// Axis is what a person has said of one axis; the zero value says nothing.
type Axis struct {
	Limits *Limits `json:"limits,omitempty"`
	Title  string  `json:"title,omitempty"`
	Unit   string  `json:"unit,omitempty"`
}

// Limits are the ends of an axis; From above To turns it round. They change the
// view and never the rows that a fit uses.
type Limits struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// FitKind is a way of fitting.
type FitKind string

// The ways of fitting.
const (
	FitLine   FitKind = "line"        // least squares
	FitCurve  FitKind = "curve"       // polynomial, by least squares
	FitLocal  FitKind = "local"       // local regression
	FitSpline FitKind = "spline"      // smoothing spline
	FitRobust FitKind = "robust line" // Theil-Sen
)

// Fit is one fitted line, or one for each group.
type Fit struct {
	Kind            FitKind `json:"kind" enum:"line,curve,local,spline,robust line"`
	Degree          int     `json:"degree,omitempty" doc:"of a curve: 2 to 5"`
	Span            float64 `json:"span,omitempty" doc:"of a local regression: the share of rows in each neighbourhood; 0 is DefaultSpan"`
	Each            string  `json:"each,omitempty" doc:"one fit for each group of this column"`
	Overall         bool    `json:"overall,omitempty" doc:"one fit of all rows"`
	Band            *Band   `json:"band,omitempty"`
	LeavingOutliers bool    `json:"leaving_out_outliers,omitempty" doc:"the fit is made again without outliers"`
}

// DefaultSpan is the span of a local regression that says none.
const DefaultSpan = 0.75

// BandKind tells the band of the mean from the band of single new cases.
type BandKind string

// The kinds of band.
const (
	Confidence BandKind = "confidence"
	Prediction BandKind = "prediction"
)

// Band is a band about a fit.
type Band struct {
	Kind  BandKind `json:"kind" enum:"confidence,prediction"`
	Level float64  `json:"level" doc:"in percent: 95"`
}

// Read reads a stored document and brings it to the current version. A newer
// version than this program knows is an error.
func Read(stored []byte) (*Document, error) {
	document := &Document{}
	if err := json.Unmarshal(stored, document); err != nil {
		return nil, fmt.Errorf("the stored chart cannot be read: %w", err)
	}
	if document.Version > Version {
		return nil, fmt.Errorf("the chart was made by a newer version of the program (%d, this one knows %d)", document.Version, Version)
	}
	document.Version = Version
	return document, nil
}

// Columns lists the columns that the chart maps, each once.
func (d *Document) Columns() []string {
	var names []string
	seen := map[string]bool{"": true}
	add := func(name string) {
		if !seen[name] {
			seen[name] = true
			names = append(names, name)
		}
	}
	for _, name := range []string{d.Y, d.X, d.Colour, d.Size, d.Shape} {
		add(name)
	}
	for _, fit := range d.Fits {
		add(fit.Each)
	}
	return names
}

// Clone copies the document so that the copy can be changed.
func (d *Document) Clone() *Document {
	copied := *d
	copied.Fits = make([]Fit, len(d.Fits))
	for i, fit := range d.Fits {
		if fit.Band != nil {
			band := *fit.Band
			fit.Band = &band
		}
		copied.Fits[i] = fit
	}
	if d.Fits == nil {
		copied.Fits = nil
	}
	for _, axis := range []*Axis{&copied.XAxis, &copied.YAxis} {
		if axis.Limits != nil {
			limits := *axis.Limits
			axis.Limits = &limits
		}
	}
	return &copied
}
