package files

import (
	"encoding/json"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/apache/arrow-go/v18/arrow"
	"github.com/apache/arrow-go/v18/arrow/array"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// gather collects the values of record batches into columns. A struct becomes one
// column for each of its fields, named parent.field.
type gather struct {
	columns []*gathered
	report  *reader.Report
	wanted  map[string]string // how columns are read
}

type gathered struct {
	path   []int // of the field, through structs
	column *table.Column
	coder  *table.Coder
	whole  bool // numbers are whole ones
	beyond int  // whole numbers that a float64 does not hold exactly
	scale  float64
	asked  bool // a person wants numbers, whatever they lose
}

// Keys of the metadata under which a column's unit, meaning and spoken name are kept.
const (
	unitKey, meaningKey, labelKey, kindKey = "unit", "description", "label", "kind"
)

// Keys of the metadata of a whole table: which rows of a larger one it has, and what was read otherwise.
const drawnKey, notesKey = "rows_drawn", "read_otherwise"

// longestTold bounds what a file tells of its table, in letters.
const longestTold = 500

// told takes what a file tells of its table into the report.
func told(metadata arrow.Metadata, report *reader.Report) {
	if at := metadata.FindKey(drawnKey); at >= 0 {
		if drawn := strings.ToValidUTF8(metadata.Values()[at], ""); utf8.RuneCountInString(drawn) <= longestTold {
			report.Drawn = drawn
		}
	}
	if at := metadata.FindKey(notesKey); at >= 0 {
		var notes []string
		if json.Unmarshal([]byte(metadata.Values()[at]), &notes) != nil {
			return // another program's
		}
		for _, note := range notes {
			if utf8.RuneCountInString(note) <= longestTold {
				report.Note(0, "", "%s", note)
			}
		}
	}
}

func gatherOf(schema *arrow.Schema, report *reader.Report, options reader.Options) (*gather, error) {
	g := &gather{report: report, wanted: options.As}
	for i, field := range schema.Fields() {
		g.field(field, field.Name, []int{i})
	}
	if len(g.columns) > options.MaxColumns {
		return nil, reader.TooWide("file", len(g.columns), options.MaxColumns)
	}
	if len(g.columns) == 0 {
		return nil, &reader.Error{
			Problem: "the file has no column of numbers, texts or dates",
			Advice:  "bring a table with one value in each cell",
		}
	}
	names := make([]string, len(g.columns))
	for i, c := range g.columns {
		names[i] = c.column.Name
	}
	for i, name := range reader.DistinctNames(names, report) {
		g.columns[i].column.Name = name
	}
	return g, nil
}

func (g *gather) field(field arrow.Field, name string, path []int) {
	if nested, ok := field.Type.(*arrow.StructType); ok && len(path) < 8 {
		for i, inner := range nested.Fields() {
			g.field(inner, name+"."+inner.Name, append(append([]int{}, path...), i))
		}
		return
	}
	metadata := func(key string) string {
		if at := field.Metadata.FindKey(key); at >= 0 {
			return field.Metadata.Values()[at]
		}
		return ""
	}
	c := &gathered{
		path:   path,
		asked:  g.wanted[name] == string(reader.OfferNumber),
		column: &table.Column{Name: name, Unit: metadata(unitKey), Meaning: metadata(meaningKey), Label: metadata(labelKey)},
	}
	if !c.prepare(field.Type) {
		g.report.Note(0, name, "the column holds %s and was left out", field.Type)
		return
	}
	if metadata(kindKey) == string(table.Duration) && field.Type.ID() == arrow.FLOAT64 {
		c.column.Kind = table.Duration
	}
	g.columns = append(g.columns, c)
}

// prepare chooses the kind of column for a type; false: there is none.
func (c *gathered) prepare(kind arrow.DataType) bool {
	switch t := kind.(type) {
	case *arrow.BooleanType:
		c.column.Kind, c.column.Levels = table.YesNo, []string{"no", "yes"}
	case *arrow.Date32Type, *arrow.Date64Type:
		c.column.Kind, c.column.Grain = table.Date, table.Day
	case *arrow.TimestampType:
		c.column.Kind, c.column.Grain = table.Date, table.Second
	case *arrow.DurationType:
		c.column.Kind, c.scale = table.Duration, t.Unit.Multiplier().Seconds()
	case *arrow.Time32Type, *arrow.Time64Type, *arrow.StringType, *arrow.LargeStringType, *arrow.StringViewType, *arrow.BinaryType,
		*arrow.LargeBinaryType:
		c.column.Kind, c.coder = table.Text, table.NewCoder()
	case *arrow.DictionaryType:
		inner := &gathered{column: &table.Column{}}
		if !inner.prepare(t.ValueType) || inner.coder == nil {
			return false
		}
		c.column.Kind, c.coder = table.Text, table.NewCoder()
		if t.Ordered {
			c.column.Kind = table.Ordered
		}
	case *arrow.NullType:
		c.column.Kind = table.Category
	default:
		if !arrow.IsPrimitive(kind.ID()) && !arrow.IsDecimal(kind.ID()) {
			return false
		}
		c.column.Kind, c.whole = table.Number, arrow.IsInteger(kind.ID())
		if t, decimal := kind.(arrow.DecimalType); decimal {
			c.column.Decimals = int(t.GetScale())
		}
	}
	return true
}

func (g *gather) add(batch arrow.RecordBatch) error {
	for _, c := range g.columns {
		values := batch.Column(c.path[0])
		missing := values.IsNull
		for _, i := range c.path[1:] {
			parent, above := values.(*array.Struct), missing
			values = parent.Field(i)
			inner := values
			missing = func(row int) bool { return above(row) || inner.IsNull(row) }
		}
		if int64(values.Len()) != batch.NumRows() {
			return damaged("file", fmt.Sprintf("column %s has %d of %d rows", c.column.Name, values.Len(), batch.NumRows()))
		}
		if err := c.add(values, missing); err != nil {
			return err
		}
	}
	return nil
}

// add appends the values of an array.
func (c *gathered) add(values arrow.Array, missing func(row int) bool) error {
	n := values.Len()
	if exact := exactly(values); exact != nil && c.whole && c.scale == 0 && !c.asked {
		if c.beyond == 0 {
			c.toCodes(values, missing)
		}
		if c.beyond > 0 {
			for row := range n {
				code := table.MissingCode
				if !missing(row) {
					code = c.coder.Code([]byte(exact(row)))
				}
				c.column.Codes = append(c.column.Codes, code)
			}
			return nil
		}
	}
	if c.column.Kind.Coded() {
		code := c.codes(values)
		for row := range n {
			one := table.MissingCode
			if !missing(row) {
				one = code(row)
			}
			c.column.Codes = append(c.column.Codes, one)
		}
		return nil
	}
	number, known := numberAt(values)
	if !known {
		return &reader.Error{
			Column:  c.column.Name,
			Problem: fmt.Sprintf("the column changes to %s in the middle of the file", values.DataType()),
			Advice:  "write it again with one type for each column",
		}
	}
	for row := range n {
		v := math.NaN()
		if !missing(row) {
			v = number(row)
			if c.whole && math.Abs(v) >= 1<<53 {
				c.beyond++
			}
			if c.scale != 0 {
				v *= c.scale
			}
			if math.IsInf(v, 0) {
				v = math.NaN()
			}
		}
		c.column.Numbers = append(c.column.Numbers, v)
	}
	return nil
}

// exactly gives whole numbers of 64 bits in all their digits; nil for other values.
func exactly(values arrow.Array) func(row int) string {
	switch a := values.(type) {
	case *array.Int64:
		return func(row int) string { return strconv.FormatInt(a.Value(row), 10) }
	case *array.Uint64:
		return func(row int) string { return strconv.FormatUint(a.Value(row), 10) }
	}
	return nil
}

// toCodes makes a column of whole numbers one of codes where some have more digits than a number keeps: what
// was read of it so far is exact.
func (c *gathered) toCodes(values arrow.Array, missing func(row int) bool) {
	number, _ := numberAt(values)
	for row := range values.Len() {
		if !missing(row) && math.Abs(number(row)) >= 1<<53 {
			c.beyond++
		}
	}
	if c.beyond == 0 {
		return
	}
	c.coder = table.NewCoder()
	for _, v := range c.column.Numbers {
		code := table.MissingCode
		if v == v {
			code = c.coder.Code([]byte(strconv.FormatFloat(v, 'f', 0, 64)))
		}
		c.column.Codes = append(c.column.Codes, code)
	}
	c.column.Kind, c.column.Numbers = table.Text, nil
}

// codes gives the code of a row's value.
func (c *gathered) codes(values arrow.Array) func(row int) int32 {
	switch a := values.(type) {
	case *array.Boolean:
		return func(row int) int32 {
			if a.Value(row) {
				return 1
			}
			return 0
		}
	case *array.Dictionary:
		words := textAt(a.Dictionary())
		known := make([]int32, a.Dictionary().Len())
		for i := range known {
			known[i] = table.MissingCode
			if a.Dictionary().IsValid(i) {
				known[i] = c.code(words(i))
			}
		}
		return func(row int) int32 { return known[a.GetValueIndex(row)] }
	case *array.Null:
		return func(int) int32 { return table.MissingCode }
	}
	words := textAt(values)
	return func(row int) int32 { return c.code(words(row)) }
}

// code is that of a text; an empty one is missing, as in every other format.
func (c *gathered) code(text string) int32 {
	if text == "" {
		return table.MissingCode
	}
	if !utf8.ValidString(text) {
		text = strings.ToValidUTF8(text, "\uFFFD")
	}
	return c.coder.Code([]byte(text))
}

func textAt(values arrow.Array) func(row int) string {
	switch a := values.(type) {
	case *array.String:
		return a.Value
	case *array.LargeString:
		return a.Value
	case *array.StringView:
		return a.Value
	case *array.Binary:
		return func(row int) string { return string(a.Value(row)) }
	case *array.LargeBinary:
		return func(row int) string { return string(a.Value(row)) }
	}
	return values.ValueStr
}

func numberAt(values arrow.Array) (func(row int) float64, bool) {
	switch a := values.(type) {
	case *array.Float64:
		return a.Value, true
	case *array.Float32:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Float16:
		return func(row int) float64 { return float64(a.Value(row).Float32()) }, true
	case *array.Int8:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Int16:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Int32:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Int64:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Uint8:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Uint16:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Uint32:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Uint64:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Duration:
		return func(row int) float64 { return float64(a.Value(row)) }, true
	case *array.Decimal128:
		scale := a.DataType().(*arrow.Decimal128Type).Scale
		return func(row int) float64 { return a.Value(row).ToFloat64(scale) }, true
	case *array.Decimal256:
		scale := a.DataType().(*arrow.Decimal256Type).Scale
		return func(row int) float64 { return a.Value(row).ToFloat64(scale) }, true
	case *array.Date32:
		return func(row int) float64 { return float64(a.Value(row)) * 86_400 }, true
	case *array.Date64:
		return func(row int) float64 { return math.Floor(float64(a.Value(row))/86_400_000) * 86_400 }, true
	case *array.Timestamp:
		unit := a.DataType().(*arrow.TimestampType).Unit.Multiplier()
		perSecond := float64(time.Second / unit)
		return func(row int) float64 { return float64(a.Value(row)) / perSecond }, true
	}
	return nil, false
}

// table finishes the columns: what people mean by numbers and texts is inferred as
// for delimited text.
func (g *gather) table(keep []string) (*table.Table, error) {
	columns := make([]*table.Column, len(g.columns))
	for i, c := range g.columns {
		if c.beyond > 0 {
			if c.coder == nil {
				g.report.Note(
					0,
					c.column.Name,
					"%d whole numbers are as large as 9,007,199,254,740,992 or larger; the last digits may be rounded",
					c.beyond,
				)
				g.report.Offer(reader.OfferText)
			} else {
				g.report.Note(0, c.column.Name, "some whole numbers have more digits than a number keeps: these are codes, and were kept as text")
				g.report.Offer(reader.OfferNumber)
			}
		}
		switch {
		case c.coder != nil:
			c.column.Levels = c.coder.Levels()
			if c.column.Kind == table.Text {
				reader.SettleTexts(c.column)
			}
		case c.column.Kind == table.Number && c.whole:
			reader.SettleNumbers(c.column)
		}
		columns[i] = c.column
	}
	columns, err := reader.Kept(columns, keep)
	if err != nil {
		return nil, err
	}
	return table.New(columns...)
}
