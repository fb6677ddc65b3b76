package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"strings"
)

// JSON comes in other shapes than records: records wrapped in an object, lists of values
// by column, lists of rows, and the properties of places. They become records or rows here.

// jsonField is a member of an object, in its order.
type jsonField struct {
	name  string
	value json.RawMessage
}

// jsonTable turns JSON of any of the shapes into delimited text, and tells its title row.
func jsonTable(ctx context.Context, text []byte, maxColumns int, report *Report) (out []byte, titleRow int, err error) {
	trimmed := bytes.TrimSpace(text)
	if len(trimmed) > 1 && trimmed[0] == '[' && firstOf(trimmed[1:]) == '[' {
		return jsonLists(trimmed, nil)
	}
	if trimmed[0] == '{' {
		if fields, alone := loneObject(trimmed); alone {
			if out, titleRow, done, err := unwrapped(ctx, fields, maxColumns, report); done || err != nil {
				return out, titleRow, err
			}
		}
	}
	out, err = jsonRecords(ctx, text, maxColumns, report)
	return out, 1, err
}

func firstOf(text []byte) byte {
	if text = bytes.TrimLeft(text, " \t\r\n"); len(text) > 0 {
		return text[0]
	}
	return 0
}

// loneObject reads a text that is a single object.
func loneObject(text []byte) (fields []jsonField, alone bool) {
	decoder := json.NewDecoder(bytes.NewReader(text))
	if _, err := decoder.Token(); err != nil {
		return nil, false
	}
	for decoder.More() {
		key, err := decoder.Token()
		name, is := key.(string)
		var value json.RawMessage
		if err != nil || !is || decoder.Decode(&value) != nil {
			return nil, false
		}
		fields = append(fields, jsonField{name, value})
	}
	if _, err := decoder.Token(); err != nil {
		return nil, false
	}
	return fields, !decoder.More()
}

// unwrapped finds the table in an object: rows under a name, or a list of values for each
// name. done is false where it is a record itself.
func unwrapped(ctx context.Context, fields []jsonField, maxColumns int, report *Report) (out []byte, titleRow int, done bool, err error) {
	by := map[string]json.RawMessage{}
	lists := 0
	var rows *jsonField
	for i, f := range fields {
		by[f.name] = f.value
		if firstOf(f.value) != '[' {
			continue
		}
		switch firstOf(bytes.TrimLeft(f.value, " \t\r\n")[1:]) {
		case '{', '[':
			if rows == nil || len(f.value) > len(rows.value) {
				rows = &fields[i]
			}
		default:
			lists++
		}
	}
	switch {
	case rows != nil && firstOf(rows.value[1:]) == '[':
		var names []string
		for _, called := range []string{"columns", "names", "fields", "header"} {
			if json.Unmarshal(by[called], &names) == nil && len(names) > 0 {
				break
			}
		}
		out, titleRow, err = jsonLists(rows.value, names)
		return out, titleRow, true, err
	case rows != nil:
		value := rows.value
		if string(by["type"]) == `"FeatureCollection"` {
			if value, err = properties(value); err != nil {
				return nil, 0, true, err
			}
		}
		out, err = jsonRecords(ctx, value, maxColumns, report)
		return out, 1, true, err
	case lists == len(fields) && lists > 0:
		out, err = jsonColumns(fields)
		return out, 1, true, err
	}
	return nil, 0, false, nil
}

// properties are those of the features of a collection of places (GeoJSON, RFC 7946).
func properties(features json.RawMessage) (json.RawMessage, error) {
	var list []struct {
		Properties json.RawMessage `json:"properties"`
	}
	if err := json.Unmarshal(features, &list); err != nil {
		return nil, &Error{Problem: "the features cannot be read: " + err.Error(), Advice: "give each feature its properties"}
	}
	parts := make([][]byte, len(list))
	for i, f := range list {
		if parts[i] = f.Properties; firstOf(f.Properties) != '{' {
			parts[i] = []byte("{}")
		}
	}
	return append(append([]byte{'['}, bytes.Join(parts, []byte{','})...), ']'), nil
}

// jsonColumns writes lists of values, one for each name.
func jsonColumns(fields []jsonField) ([]byte, error) {
	rows := [][]string{make([]string, len(fields))}
	for i, f := range fields {
		rows[0][i] = f.name
		values, err := scalars(f.value)
		if err != nil {
			return nil, err
		}
		if i > 0 && len(values) != len(rows)-1 {
			return nil, &Error{
				Column:  f.name,
				Problem: fmt.Sprintf("%s has %d values, and %s has %d", f.name, len(values), fields[0].name, len(rows)-1),
				Advice:  "give every column as many values",
			}
		}
		for row, value := range values {
			if i == 0 {
				rows = append(rows, make([]string, len(fields)))
			}
			rows[row+1][i] = value
		}
	}
	return delimited(rows)
}

// jsonLists writes lists of rows. The first row holds the titles, where there are no names
// and nothing but texts stands in it.
func jsonLists(text []byte, names []string) (out []byte, titleRow int, err error) {
	var list []json.RawMessage
	if err := json.Unmarshal(text, &list); err != nil {
		return nil, 0, &Error{Problem: "this is not readable JSON: " + err.Error(), Advice: "check the brackets and quotes there"}
	}
	titleRow = -1
	var rows [][]string
	if names != nil {
		rows, titleRow = append(rows, names), 1
	}
	for i, one := range list {
		values, err := scalars(one)
		if err != nil {
			return nil, 0, err
		}
		if i == 0 && names == nil && !bytes.ContainsAny(unquoted(one), "0123456789tfn") {
			titleRow = 1
		}
		rows = append(rows, values)
	}
	out, err = delimited(rows)
	return out, titleRow, err
}

// unquoted is what stands outside the texts of a piece of JSON.
func unquoted(text []byte) (out []byte) {
	inside := false
	for i := 0; i < len(text); i++ {
		switch {
		case text[i] == '\\' && inside:
			i++
		case text[i] == '"':
			inside = !inside
		case !inside:
			out = append(out, text[i])
		}
	}
	return out
}

// scalars reads a list of values without lists in it.
func scalars(text json.RawMessage) ([]string, error) {
	decoder := json.NewDecoder(bytes.NewReader(text))
	decoder.UseNumber()
	var values []any
	if err := decoder.Decode(&values); err != nil {
		return nil, &Error{Problem: "a row is no list of values: " + clip(string(text)), Advice: "write rows such as [\"A1\", 12.5]"}
	}
	out := make([]string, len(values))
	for i, value := range values {
		switch v := value.(type) {
		case nil:
		case bool, string, json.Number:
			out[i] = fmt.Sprint(v)
		default:
			return nil, &Error{Problem: "a list or a record stands in a cell", Advice: "give each entry a cell of its own"}
		}
	}
	return out, nil
}

func delimited(rows [][]string) ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	for _, row := range rows {
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			row = []string{"NA"} // an empty line would be passed over
		}
		_ = w.Write(row)
	}
	w.Flush()
	return out.Bytes(), w.Error()
}
