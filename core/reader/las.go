package reader

import (
	"bytes"
	"context"
	"fmt"
	"strconv"
	"strings"

	"copperlark/core/table"
)

// The Log ASCII Standard, version 2.0 (Canadian Well Logging Society, 1992, updated
// 2014), is the text in which instruments write measured logs: a header that names
// each curve with its unit and description and says which number stands for a
// missing value, and rows of numbers under ~A.

// looksLAS reports whether a text begins, after comments, with a ~V section.
func looksLAS(text []byte) bool {
	for len(text) > 0 {
		line, rest, _ := bytes.Cut(text, newline)
		line = bytes.TrimSpace(line)
		if len(line) > 0 && line[0] != '#' {
			return len(line) > 1 && line[0] == '~' && (line[1]|0x20) == 'v'
		}
		text = rest
	}
	return false
}

// lasHeader is what stands above the numbers.
type lasHeader struct {
	version string
	wrapped bool
	null    string
	curves  []lasLine
	well    []lasLine
}

type lasLine struct{ mnemonic, unit, value, description string }

// lasLineOf reads "DEPT.M   1670 : Depth": a name up to the first point, a unit up to
// the next space, a value up to the last colon, a description.
func lasLineOf(line string) (lasLine, bool) {
	name, rest, found := strings.Cut(line, ".")
	if !found {
		return lasLine{}, false
	}
	l := lasLine{mnemonic: strings.TrimSpace(name)}
	if colon := strings.LastIndexByte(rest, ':'); colon >= 0 {
		l.description, rest = strings.TrimSpace(rest[colon+1:]), rest[:colon]
	}
	if space := strings.IndexAny(rest, " \t"); space >= 0 {
		l.unit, rest = rest[:space], rest[space:]
	} else {
		l.unit, rest = rest, ""
	}
	l.value = strings.TrimSpace(rest)
	return l, l.mnemonic != ""
}

// readLAS reads a log: one column a curve, numbers all, with units and meanings.
func readLAS(ctx context.Context, text []byte, encoding string, options Options) (*table.Table, *Report, error) {
	header, body, line, err := lasHead(text)
	if err != nil {
		return nil, nil, err
	}
	if len(header.curves) > options.MaxColumns {
		return nil, nil, TooWide("log", len(header.curves), options.MaxColumns)
	}
	data, lines, err := lasRows(ctx, header, body, line)
	if err != nil {
		return nil, nil, err
	}
	inner := options
	inner.Separator, inner.Decimal, inner.TitleRow, inner.Keep, inner.measured = '\t', '.', 1, nil, true
	t, report, err := readPlaced(ctx, data, lines, inner)
	if err != nil {
		return nil, nil, err
	}
	columns := make([]*table.Column, len(t.Columns()))
	for i, c := range t.Columns() {
		column := *c
		column.Unit, column.Meaning = header.curves[i].unit, header.curves[i].description
		columns[i] = &column
	}
	if columns, err = Kept(columns, options.Keep); err != nil {
		return nil, nil, err
	}
	if t, err = table.New(columns...); err != nil {
		return nil, nil, err
	}
	report.Format, report.Encoding, report.About = "LAS", encoding, header.about()
	return t, report, nil
}

func (h *lasHeader) about() string {
	var words []string
	for _, l := range h.well {
		switch strings.ToUpper(l.mnemonic) {
		case "STRT", "STOP", "STEP", "NULL":
			continue
		}
		if l.value == "" {
			continue
		}
		name := l.description
		if name == "" {
			name = l.mnemonic
		}
		words = append(words, table.Prose(strings.ToLower(name))+" "+strings.TrimSpace(l.value+" "+l.unit))
	}
	return strings.Join(words, "; ")
}

// lasHead reads the sections above ~A; line is that of the first row of numbers.
func lasHead(text []byte) (h *lasHeader, body []byte, line int, err error) {
	h = &lasHeader{null: "-999.25"}
	section := byte(0)
	for len(text) > 0 {
		raw, rest, _ := bytes.Cut(text, newline)
		text = rest
		line++
		one := strings.TrimSpace(string(raw))
		if one == "" || one[0] == '#' {
			continue
		}
		if one[0] == '~' {
			if len(one) < 2 {
				return nil, nil, 0, &Error{Line: line, Problem: "a section has no letter", Advice: "name it ~V, ~W, ~C, ~P, ~O or ~A"}
			}
			section = one[1] &^ 0x20
			if section == 'A' {
				break
			}
			continue
		}
		if err := h.take(section, one, line); err != nil {
			return nil, nil, 0, err
		}
	}
	switch {
	case section != 'A':
		return nil, nil, 0, &Error{
			Line:    line,
			Problem: "the log has no section ~A with its numbers",
			Advice:  "check that the whole file was exported",
		}
	case !strings.HasPrefix(h.version, "2") && !strings.HasPrefix(h.version, "1"):
		return nil, nil, 0, &Error{
			Line:    1,
			Problem: fmt.Sprintf("this is version %q of the Log ASCII Standard; version 2.0 can be read", h.version),
			Advice:  "export the log as LAS 2.0",
		}
	case len(h.curves) == 0:
		return nil, nil, 0, &Error{
			Line:    line,
			Problem: "the log names no curves in a section ~C",
			Advice:  "check that the whole file was exported",
		}
	}
	return h, text, line, nil
}

func (h *lasHeader) take(section byte, text string, line int) error {
	if section == 'O' || section == 'P' {
		return nil
	}
	l, ok := lasLineOf(text)
	if !ok {
		return &Error{
			Line:    line,
			Problem: fmt.Sprintf("expected NAME.UNIT VALUE : DESCRIPTION, found %q", clip(text)),
			Advice:  "correct the header",
		}
	}
	switch section {
	case 'V':
		switch strings.ToUpper(l.mnemonic) {
		case "VERS":
			h.version = l.value
		case "WRAP":
			h.wrapped = strings.EqualFold(l.value, "YES")
		}
	case 'W':
		if strings.EqualFold(l.mnemonic, "NULL") {
			h.null = l.value
		}
		h.well = append(h.well, l)
	case 'C':
		h.curves = append(h.curves, l)
	}
	return nil
}

// lasRows writes the numbers as delimited text with a title row, missing where the
// null value stands. lines says which line of the file each line of that text is.
func lasRows(ctx context.Context, h *lasHeader, body []byte, line int) (text []byte, lines []int, err error) {
	null, err := strconv.ParseFloat(h.null, 64)
	if err != nil {
		return nil, nil, &Error{Problem: fmt.Sprintf("the null value %q is not a number", h.null), Advice: "correct NULL in the section ~W"}
	}
	var out bytes.Buffer
	for i, curve := range h.curves {
		if i > 0 {
			out.WriteByte('\t')
		}
		out.WriteString(strings.ReplaceAll(curve.mnemonic, "\t", " "))
	}
	lines = []int{line}
	column := len(h.curves) // behind the last value of a row
	for count := 0; len(body) > 0; count++ {
		if count%4096 == 0 && ctx.Err() != nil {
			return nil, nil, ctx.Err()
		}
		raw, rest, _ := bytes.Cut(body, newline)
		body = rest
		line++
		fields := bytes.FieldsFunc(raw, func(r rune) bool { return r == ' ' || r == '\t' || r == ',' || r == '\r' })
		if len(fields) == 0 || fields[0][0] == '#' {
			continue
		}
		if !h.wrapped || column >= len(h.curves) {
			out.WriteByte('\n')
			lines = append(lines, line)
			column = 0
		}
		for _, field := range fields {
			if column > 0 {
				out.WriteByte('\t')
			}
			column++
			if v, err := strconv.ParseFloat(string(field), 64); err == nil && v == null {
				field = []byte("NA") // a lone empty field would make an empty line
			}
			out.Write(bytes.ReplaceAll(field, []byte{'"'}, nil))
		}
	}
	out.WriteByte('\n')
	return out.Bytes(), lines, nil
}
