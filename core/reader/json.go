package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
)

// looksJSON reports whether a text is JSON: an array of records, or records one
// after the other (JSON lines).
func looksJSON(text []byte) bool {
	head := bytes.TrimLeft(text[:min(len(text), 4096)], " \t\r\n")
	if len(head) < 2 {
		return false
	}
	if head[0] == '[' {
		head = bytes.TrimLeft(head[1:], " \t\r\n")
		return len(head) > 0 && (head[0] == '{' || head[0] == ']' || head[0] == '[')
	}
	rest := bytes.TrimLeft(head[1:], " \t\r\n")
	return head[0] == '{' && len(rest) > 0 && (rest[0] == '"' || rest[0] == '}')
}

// maxJSONDepth is how deep records may nest: {"hive": {"kg": 3}} has depth 2 and
// makes a column hive.kg.
const maxJSONDepth = 8

// jsonRecords turns JSON into delimited text, so that kinds are inferred in one way
// for every format. Columns stand in the order in which they first appear; null and
// what a record does not have is missing.
func jsonRecords(ctx context.Context, text []byte, maxColumns int, report *Report) ([]byte, error) {
	j := &jsonReading{decoder: json.NewDecoder(bytes.NewReader(text)), index: map[string]int{}, maxColumns: maxColumns, text: text}
	j.decoder.UseNumber()
	if bytes.TrimLeft(text, " \t\r\n")[0] == '[' {
		if _, err := j.decoder.Token(); err != nil {
			return nil, j.problem(err)
		}
	}
	for j.decoder.More() {
		if len(j.records)%1024 == 0 && ctx.Err() != nil {
			return nil, ctx.Err()
		}
		if err := j.record(); err != nil {
			return nil, err
		}
	}
	if len(j.records) == 0 {
		return nil, &Error{Problem: "the file holds no records", Advice: `write records such as {"hive": "A1", "kg": 12.5}`}
	}
	if j.listed != "" {
		report.Note(0, "", "the records in the lists of %s became rows, each with what stands around its list", clip(j.listed))
	}
	if j.joined {
		report.Note(0, "", "lists of values became texts, with semicolons between their values")
	}
	if cells := len(j.records) * len(j.names); cells > (1+j.bytes/max(len(text), 1))*len(text)+ragSlack {
		return nil, &Error{
			Problem: fmt.Sprintf("the records have %d different names, and most records have few of them", len(j.names)),
			Advice:  "give the records the same names",
		}
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	row := make([]string, len(j.names))
	copy(row, j.names)
	_ = w.Write(row)
	for _, record := range j.records {
		clear(row)
		copy(row, record)
		if len(row) == 1 && row[0] == "" {
			row[0] = "NA" // an empty line would be passed over
		}
		_ = w.Write(row)
	}
	w.Flush()
	return out.Bytes(), w.Error()
}

type jsonReading struct {
	decoder    *json.Decoder
	text       []byte
	names      []string
	index      map[string]int
	records    [][]string
	inner      [][]string // the list of records that the record at hand holds
	listed     string     // the name of such a list
	bytes      int        // that were repeated for the records of lists
	joined     bool       // values of a list became one text
	maxColumns int
}

// problem says where the JSON cannot be read.
func (j *jsonReading) problem(err error) error {
	line := 1 + bytes.Count(j.text[:min(int(j.decoder.InputOffset()), len(j.text))], newline)
	words := err.Error()
	var syntax *json.SyntaxError
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		words = "it ends in the middle of a record"
	} else if errors.As(err, &syntax) {
		words = syntax.Error()
	}
	return &Error{Line: line, Problem: "this is not readable JSON: " + words, Advice: "check the brackets and quotes there"}
}

func (j *jsonReading) record() error {
	token, err := j.decoder.Token()
	if err != nil {
		return j.problem(err)
	}
	if token != json.Delim('{') {
		return &Error{
			Line:    1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline),
			Problem: fmt.Sprintf("expected a record in braces, found %v", token),
			Advice:  `write records such as {"hive": "A1", "kg": 12.5}`,
		}
	}
	record := make([]string, len(j.names))
	if err := j.fields("", 1, &record); err != nil {
		return err
	}
	return j.spread(record)
}

// fields reads the rest of an object into the record.
func (j *jsonReading) fields(prefix string, depth int, record *[]string) error {
	if depth > maxJSONDepth {
		return &Error{
			Line:    1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline),
			Problem: fmt.Sprintf("records nest deeper than %d", maxJSONDepth),
			Advice:  "flatten them before",
		}
	}
	for j.decoder.More() {
		key, err := j.decoder.Token()
		if err != nil {
			return j.problem(err)
		}
		name := prefix + key.(string)
		value, err := j.decoder.Token()
		if err != nil {
			return j.problem(err)
		}
		text := ""
		switch v := value.(type) {
		case nil:
		case json.Delim:
			if v == '{' {
				if err := j.fields(name+".", depth+1, record); err != nil {
					return err
				}
				continue
			}
			if text, err = j.list(name, depth); err != nil {
				return err
			}
			if text == "" {
				continue
			}
		case bool:
			text = map[bool]string{true: "true", false: "false"}[v]
		default:
			text = fmt.Sprint(v)
		}
		if err := j.put(name, text, record); err != nil {
			return err
		}
	}
	if _, err := j.decoder.Token(); err != nil {
		return j.problem(err)
	}
	return nil
}

// put writes a value into the column of a name.
func (j *jsonReading) put(name, text string, record *[]string) error {
	at, seen := j.index[name]
	if !seen {
		if len(j.names) >= j.maxColumns {
			return &Error{
				Problem: fmt.Sprintf("the records have more than %d different names; that is the limit", j.maxColumns),
				Advice:  "leave out columns",
			}
		}
		at = len(j.names)
		j.index[name] = at
		j.names = append(j.names, name)
	}
	for len(*record) <= at {
		*record = append(*record, "")
	}
	(*record)[at] = text
	return nil
}

// list reads the rest of a list that stands in a record: values become one text, with semicolons between them;
// records become rows, of which each has what stands around the list as well. A record has at most one such list.
func (j *jsonReading) list(name string, depth int) (text string, err error) {
	var values []string
	var rows [][]string
	for j.decoder.More() {
		token, err := j.decoder.Token()
		if err != nil {
			return "", j.problem(err)
		}
		switch v := token.(type) {
		case nil:
			values = append(values, "")
		case json.Delim:
			if v != '{' {
				return "", j.refuse(name, "a list stands in a list", "give each entry a record of its own")
			}
			row := make([]string, len(j.names))
			if err := j.fields(name+".", depth+1, &row); err != nil {
				return "", err
			}
			rows = append(rows, row)
		default:
			values = append(values, fmt.Sprint(v))
		}
	}
	if _, err := j.decoder.Token(); err != nil {
		return "", j.problem(err)
	}
	switch {
	case rows == nil:
		j.joined = j.joined || len(values) > 0
		return strings.Join(values, "; "), nil
	case values != nil:
		return "", j.refuse(name, "a list holds records and values", "give each entry a record of its own")
	case j.inner != nil:
		return "", j.refuse(
			name,
			"a second list of records stands in one record",
			"give each entry a record of its own, or bring one list at a time",
		)
	}
	j.inner, j.listed = rows, name
	return "", nil
}

func (j *jsonReading) refuse(column, problem, advice string) error {
	return &Error{Line: 1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline), Column: column, Problem: problem, Advice: advice}
}

// spread adds a record: once, or once for each entry of the list that it holds.
func (j *jsonReading) spread(record []string) error {
	if j.inner == nil {
		j.records = append(j.records, record)
		return nil
	}
	around := 0
	for _, value := range record {
		around += len(value)
	}
	if j.bytes += len(j.inner) * (around + len(record)); j.bytes > repeatedTimes*len(j.text)+repeatedFree {
		return &Error{
			Problem: "what stands around the lists of records would be repeated too often",
			Advice:  "give each entry a record of its own, with the few values that belong to it",
		}
	}
	for _, row := range j.inner {
		whole := make([]string, max(len(row), len(record)))
		copy(whole, record)
		for i, value := range row {
			if value != "" {
				whole[i] = value
			}
		}
		j.records = append(j.records, whole)
	}
	j.inner = nil
	return nil
}

// How many bytes what stands around lists of records may become when it is repeated for each of them: as times
// the file, and in any case.
const repeatedTimes, repeatedFree = 8, 16 << 20
