package source

import (
	"strconv"
	"time"

	"github.com/jackc/pgx/v5/pgtype"

	"copperlark/core/table"
)

// sqlColumn is a column of a table and how it is read.
type sqlColumn struct {
	name, meaning string
	written       string // in a statement, where it is worked out
	in            *dialect
	how           *sqlType
	spelled       bool // whole numbers are read as the texts that they are written as
}

// sqlType is one entry of the list of types that can be read.
type sqlType struct {
	names   []string // of pg_type
	written string   // in a statement
	hash    string   // of a key and a seed; empty: no key can be of it
	plain   string   // as a number, a date as seconds from 1970, of values that count; empty: it holds no numbers
	holds   string   // the condition that a value counts; empty: it is not null
	whole   bool     // whole numbers
	short   bool     // numbers of 4 bytes
	words   bool     // its groups have names, although it holds numbers
	kind    table.Kind
	grain   table.Grain
	scan    func(g *gatheredColumn) (into any, add func())
}

// Values that count: finite ones, and those of the calendar.
const (
	finite   = "%[1]s >= '-1.7976931348623157e308' and %[1]s <= '1.7976931348623157e308'"
	epoch    = "extract(epoch from %s)::float8"
	calendar = "%[1]s >= '0001-01-01' and %[1]s < '10000-01-01'"
)

// sqlTypes are the types that can be read; all else is left out, and said.
var sqlTypes = []sqlType{
	{names: []string{"int2", "int4", "int8", "oid"}, written: "%s::bigint", hash: "hashint8extended(%s::bigint, %s)", kind: table.Number,
		plain: "%s::float8", whole: true, scan: scanWhole},
	{names: []string{"float8", "numeric"}, written: "%s::float8", kind: table.Number, plain: "%s::float8", holds: finite, scan: scanNumber},
	{names: []string{"float4"}, written: "%s", kind: table.Number, plain: "%s::float8", holds: finite, short: true, scan: scanShort},
	{names: []string{"bool"}, written: "%s", kind: table.YesNo,
		plain: "case when %s then 1.0::float8 else 0.0::float8 end", words: true, scan: scanAnswer},
	{names: []string{"date"}, written: "%s", kind: table.Date, grain: table.Day,
		plain: "(%s - '1970-01-01'::date)::float8 * 86400", holds: "%[1]s >= '0001-01-01'::date and %[1]s <= '9999-12-31'::date",
		scan: scanDate},
	{names: []string{"timestamp"}, written: "%s", kind: table.Date, grain: table.Second, plain: epoch, holds: calendar, scan: scanTimestamp},
	{names: []string{"timestamptz"}, written: "%s", kind: table.Date, grain: table.Second, plain: epoch, holds: calendar, scan: scanMoment},
	{names: []string{"interval"}, written: "extract(epoch from %s)::float8", kind: table.Duration,
		plain: epoch, scan: scanNumber},
	{names: []string{"text", "varchar"}, written: "%s", hash: "hashtextextended(%s, %s)", kind: table.Text, scan: scanText},
	{names: []string{"uuid"}, written: "%s::text", hash: "uuid_hash_extended(%s, %s)", kind: table.Text, scan: scanText},
	{names: []string{"bpchar"}, written: "%s::text", kind: table.Text, scan: scanText},
	{names: []string{"name", "time", "timetz", "inet", "cidr", "macaddr", "citext"}, written: "%s::text", kind: table.Text, scan: scanText},
}

// enumeration reads types that list their values.
var enumeration = sqlType{written: "%s::text", kind: table.Text, scan: scanText}

// howRead is how a type is read; nil: it is not.
func howRead(name, sort string) *sqlType {
	if sort == "e" {
		return &enumeration
	}
	for i, one := range sqlTypes {
		for _, known := range one.names {
			if known == name {
				return &sqlTypes[i]
			}
		}
	}
	return nil
}

func scanNumber(g *gatheredColumn) (any, func()) {
	v := &pgtype.Float8{}
	return v, func() { g.number(v.Float64, v.Valid) }
}

// scanShort reads numbers of 4 bytes as the shortest that are written so: 0.1, not 0.10000000149.
func scanShort(g *gatheredColumn) (any, func()) {
	v := &pgtype.Float4{}
	return v, func() {
		number, _ := strconv.ParseFloat(strconv.FormatFloat(float64(v.Float32), 'g', -1, 32), 64)
		g.number(number, v.Valid)
	}
}

// mostExact is from where on whole numbers are not told apart as numbers: 2^53.
const mostExact = 1 << 53

// scanWhole reads whole numbers. Where one has more digits than a number keeps, the column holds codes: text.
func scanWhole(g *gatheredColumn) (any, func()) {
	v := &pgtype.Int8{}
	return v, func() {
		if g.coder == nil && v.Valid && (v.Int64 >= mostExact || v.Int64 <= -mostExact) {
			g.toCodes()
		}
		switch {
		case g.coder == nil:
			g.number(float64(v.Int64), v.Valid)
		case v.Valid:
			g.text(strconv.AppendInt(nil, v.Int64, 10))
		default:
			g.text(nil)
		}
	}
}

// toCodes makes texts of the whole numbers that came so far, all of them exact.
func (c *gatheredColumn) toCodes() {
	c.coder = table.NewCoder()
	for _, v := range c.column.Numbers {
		if v != v {
			c.text(nil)
			continue
		}
		c.text(strconv.AppendInt(nil, int64(v), 10))
	}
	c.column.Kind, c.column.Numbers = table.Text, nil
}

func scanAnswer(g *gatheredColumn) (any, func()) {
	v := &pgtype.Bool{}
	return v, func() { g.answer(v.Bool, v.Valid) }
}

func scanText(g *gatheredColumn) (any, func()) {
	v := &pgtype.DriverBytes{}
	return v, func() { g.text(*v) }
}

func scanDate(g *gatheredColumn) (any, func()) {
	v := &pgtype.Date{}
	return v, func() { g.moment(float64(v.Time.Unix()), v.Valid, v.InfinityModifier) }
}

func scanTimestamp(g *gatheredColumn) (any, func()) {
	v := &pgtype.Timestamp{}
	return v, func() { g.moment(seconds(v.Time), v.Valid, v.InfinityModifier) }
}

func scanMoment(g *gatheredColumn) (any, func()) {
	v := &pgtype.Timestamptz{}
	return v, func() { g.moment(seconds(v.Time), v.Valid, v.InfinityModifier) }
}

func seconds(t time.Time) float64 { return float64(t.Unix()) + float64(t.Nanosecond())/1e9 }

// moment adds a date; one that is endless is missing, and counted.
func (c *gatheredColumn) moment(seconds float64, valid bool, endless pgtype.InfinityModifier) {
	if endless != pgtype.Finite {
		seconds = lastDate + 1
	}
	c.date(seconds, valid)
}
