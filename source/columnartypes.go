package source

import (
	"strconv"
	"strings"

	"copperlark/core/table"
)

// columnarDialect is the language of the columnar engine. It takes no parameters over HTTP in the oldest version that is
// read: values are written as literals, texts with every quote and backslash escaped.
var columnarDialect = dialect{
	quote:    func(name string) string { return "`" + escaping.Replace(name) + "`" },
	argument: func(_ *terms, value any, _ string) string { return literal(value) },
	number:   "toFloat64(%s)",
	text:     "toString(%s)",
	whole:    "toInt64(%s)",
	log:      "log10(%s)",
	edges:    "(toInt64(arrayCount(e -> e <= assumeNotNull(%[1]s), %[2]s)) - case when %[1]s = %[3]s then 2 else 1 end)",
	worked: map[termKind]*sqlType{
		numberTerm:  {plain: "toFloat64(%s)", holds: "isFinite(%[1]s)", kind: table.Number},
		textTerm:    {kind: table.Text},
		booleanTerm: {plain: "toFloat64(%s)", kind: table.YesNo, words: true},
	},
}

// escaping makes a text one that ends nowhere but at its end.
var escaping = strings.NewReplacer(`\`, `\\`, `'`, `\'`, "`", "\\`", "\x00", `\0`, "\n", `\n`, "\r", `\r`, "\t", `\t`)

// literal writes a value.
func literal(value any) string {
	switch v := value.(type) {
	case float64:
		return "toFloat64(" + strconv.FormatFloat(v, 'g', -1, 64) + ")"
	case int64:
		return "toInt64(" + strconv.FormatInt(v, 10) + ")"
	case []float64:
		list := make([]string, len(v))
		for i, one := range v {
			list[i] = literal(one)
		}
		return "[" + strings.Join(list, ", ") + "]"
	}
	text, _ := value.(string)
	return "'" + escaping.Replace(text) + "'"
}

// columnarHash is a number that looks drawn at random, by a key and a seed, over all of 64 bits.
const columnarHash = "cityHash64(toString(%s), %s)"

// columnarTypes are the types that can be read, by how they begin; all else is left out, and said.
var columnarTypes = []sqlType{
	{names: []string{"Int8", "Int16", "Int32", "Int64", "UInt8", "UInt16", "UInt32", "UInt64"}, written: "%s", hash: columnarHash,
		plain: "toFloat64(%s)", whole: true, kind: table.Number},
	{names: []string{"Float32", "Float64"}, written: "%s", plain: "toFloat64(%s)", holds: "isFinite(%[1]s)", kind: table.Number},
	{names: []string{"Decimal"}, written: "toFloat64(%s)", plain: "toFloat64(%s)", kind: table.Number},
	{names: []string{"DateTime"}, written: "toInt64(toUInt32(%s))", plain: "toFloat64(toUInt32(%s))", kind: table.Date, grain: table.Second},
	{names: []string{"Date"}, written: "toInt64(toUInt16(%s)) * 86400", plain: "toFloat64(toUInt16(%s)) * 86400", kind: table.Date,
		grain: table.Day},
	{names: []string{"String", "FixedString", "Enum8", "Enum16", "UUID"}, written: "toString(%s)", hash: columnarHash, kind: table.Text},
}

// columnarType is how a type is read; nil: it is not.
func columnarType(name string) *sqlType {
	for _, wrapper := range []string{"LowCardinality(", "Nullable("} {
		if inner, is := strings.CutPrefix(name, wrapper); is {
			name = strings.TrimSuffix(inner, ")")
		}
	}
	name, _, _ = strings.Cut(name, "(")
	for i, one := range columnarTypes {
		for _, known := range one.names {
			if known == name {
				return &columnarTypes[i]
			}
		}
	}
	return nil
}

// read adds a value, as the engine writes it between tabs; \N is missing.
func (g *gatheredColumn) read(how *sqlType, written string) error {
	missing := written == `\N`
	switch {
	case how.kind == table.Text && missing:
		g.text(nil)
	case how.kind == table.Text:
		g.text([]byte(unescaped(written)))
	case how.whole && !missing && beyondExact(written) || g.coder != nil:
		if g.coder == nil {
			g.toCodes()
		}
		if missing {
			written = ""
		}
		g.text([]byte(written))
	default:
		v, err := 0.0, error(nil)
		if !missing {
			if v, err = strconv.ParseFloat(written, 64); err != nil {
				return err
			}
		}
		if how.kind == table.Date {
			g.date(v, !missing)
			break
		}
		g.number(v, !missing)
	}
	return nil
}

// beyondExact reports whether a whole number has more digits than a number keeps.
func beyondExact(written string) bool {
	v, err := strconv.ParseFloat(written, 64)
	return err == nil && (v >= mostExact || v <= -mostExact)
}

// unescaped is a text as it was, of how it stands between tabs.
func unescaped(written string) string {
	if !strings.Contains(written, `\`) {
		return written
	}
	out := make([]byte, 0, len(written))
	for i := 0; i < len(written); i++ {
		c := written[i]
		if c == '\\' && i+1 < len(written) {
			i++
			if at := strings.IndexByte("bfrnt0", written[i]); at >= 0 {
				c = "\b\f\r\n\t\x00"[at]
			} else {
				c = written[i]
			}
		}
		out = append(out, c)
	}
	return string(out)
}
