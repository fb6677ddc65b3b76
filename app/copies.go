package app

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// The size that a shared figure is laid out for, on a screen and on a phone.
const (
	shareWidth, shareHeight = 1000, 540
	phoneWidth, phoneHeight = 358, 268
)

// FixedCopy is all of a chart that leaves the house when it is shared.
type FixedCopy struct {
	Picture *Picture
	Figure  []byte       // encoded
	Exact   []byte       // the same with places as exact as they can be, where those of Figure are whole steps
	Phone   []byte       // the same laid out for a phone
	Table   *table.Table // the rows that are shown, of the columns that are published
	Rows    []int        // where each of them stands in the table that the chart is of; nil where no marks are rows
}

// NewFixedCopy draws a chart of a table from the columns alone that were chosen (nil: those that the
// sentence names), so that nothing of it can hold a value of another one. A chart that needs a column
// that was not chosen is refused. Options say the size, 0: the usual one.
func NewFixedCopy(
	ctx context.Context,
	t *table.Table,
	document *chart.Document,
	chosen []string,
	options figure.Options,
) (*FixedCopy, error) {
	whole, err := newShown(t).suits(document)
	if err != nil {
		return nil, err
	}
	options.Whole = t
	published, err := publish(whole.Document, t, chosen)
	if err != nil {
		return nil, err
	}
	if options.Width == 0 {
		options.Width, options.Height = shareWidth, shareHeight
	}
	out := &FixedCopy{}
	copied := func(into *[]byte, options figure.Options) (*Picture, error) {
		picture, err := draw(ctx, published, options)
		if err != nil {
			return nil, err
		}
		drawn := published.Table // of a function, what is worked out
		if out.Table, err = picture.Figure.Publish(drawn, drawn.Names()); err != nil {
			return nil, err
		}
		*into, err = picture.encodeShared()
		return picture, err
	}
	if out.Picture, err = copied(&out.Figure, options); err != nil {
		return nil, err
	}
	out.Rows = out.Picture.Figure.PublishedRows()
	phone := options
	phone.Width, phone.Height = phoneWidth, phoneHeight
	if _, err = copied(&out.Phone, phone); err != nil {
		return nil, err
	}
	if out.Picture.Figure.Coarse() {
		options.Fine = true
		_, err = copied(&out.Exact, options)
	}
	return out, err
}

// sourceLine says what rows a shared chart shows and where they come from: of the version that it is
// drawn from, and of the first rows that this one was prepared from.
func (f *FixedCopy) sourceLine(dataset Dataset, m made, looked int) string {
	first := m.first.Rows
	rows := f.Picture.Figure.Rows
	line := fmt.Sprintf("%s, %s of %s rows", dataset.Name, scale.Number(float64(rows.Drawn), 0), scale.Number(float64(rows.Total), 0))
	if rows.Drawn == rows.Total {
		line = fmt.Sprintf("%s, all %s", dataset.Name, scale.Counted(rows.Total, "row"))
	}
	if first != dataset.Rows && first > 0 {
		line += fmt.Sprintf(" that its preparation made of %s", scale.Number(float64(first), 0))
	}
	var reasons []string
	for _, reason := range rows.LeftOut {
		reasons = append(reasons, fmt.Sprintf("%s: %s", reason.Reason, scale.Number(float64(reason.Count), 0)))
	}
	if len(reasons) > 0 {
		line += "; left out: " + strings.Join(reasons, ", ")
	}
	whole := f.Picture.Figure.Elsewhere
	all := whole != nil && whole.OfAll()
	if beyond := rows.Drawn - f.Table.Rows(); beyond > 0 && !all {
		line += fmt.Sprintf("; beyond the limits of the axes, and not shared: %s", scale.Number(float64(beyond), 0))
	}
	for i := range f.Picture.Document.Also {
		if name := f.Picture.Document.Also[i].Table; name != "" {
			line += "; with rows of " + name
		}
	}
	if dataset.Drawn != "" && all {
		_, of, _ := strings.Cut(dataset.Drawn, ", of ")
		line += "; counted where they stay: " + cmp.Or(of, "a larger table")
	} else if dataset.Drawn != "" {
		line += "; these are " + dataset.Drawn
	}
	if dataset.OneRow != "" {
		line += "; each row is " + dataset.OneRow
	}
	if !m.kept.IsZero() {
		line += "; data kept on " + m.kept.UTC().Format("2 January 2006")
	}
	if looked > 1 { // who looks at many finds some
		line += fmt.Sprintf("; one of %s of this dataset that were looked at in kept charts", scale.Counted(looked, "relation"))
	}
	if dataset.Origin != "" {
		line += "; from " + dataset.Origin
	}
	return line
}
