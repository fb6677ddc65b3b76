package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
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
func jsonRecords(ctx context.Context, text []byte, maxColumns int) ([]byte, error) {
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
	if cells := len(j.records) * len(j.names); cells > len(text)+ragSlack {
		return nil, &Error{Problem: fmt.Sprintf("the records have %d different names, and most records have few of them", len(j.names)), Advice: "give the records the same names"}
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	row := make([]string, len(j.names))
	for i, name := range j.names {
		row[i] = name
	}
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
		return &Error{Line: 1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline), Problem: fmt.Sprintf("expected a record in braces, found %v", token), Advice: `write records such as {"hive": "A1", "kg": 12.5}`}
	}
	record := make([]string, len(j.names))
	if err := j.fields("", 1, &record); err != nil {
		return err
	}
	j.records = append(j.records, record)
	return nil
}

// fields reads the rest of an object into the record.
func (j *jsonReading) fields(prefix string, depth int, record *[]string) error {
	if depth > maxJSONDepth {
		return &Error{Line: 1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline), Problem: fmt.Sprintf("records nest deeper than %d", maxJSONDepth), Advice: "flatten them before"}
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
			return &Error{Line: 1 + bytes.Count(j.text[:j.decoder.InputOffset()], newline), Column: name, Problem: "a list stands in a cell", Advice: "give each entry a record of its own"}
		case bool:
			text = map[bool]string{true: "true", false: "false"}[v]
		default:
			text = fmt.Sprint(v)
		}
		at, seen := j.index[name]
		if !seen {
			if len(j.names) >= j.maxColumns {
				return &Error{Problem: fmt.Sprintf("the records have more than %d different names; that is the limit", j.maxColumns), Advice: "leave out columns"}
			}
			at = len(j.names)
			j.index[name] = at
			j.names = append(j.names, name)
		}
		for len(*record) <= at {
			*record = append(*record, "")
		}
		(*record)[at] = text
	}
	if _, err := j.decoder.Token(); err != nil {
		return j.problem(err)
	}
	return nil
}
