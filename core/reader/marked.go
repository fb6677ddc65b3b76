package reader

import (
	"bytes"
	"regexp"
	"slices"
	"strings"
)

// A table of a text in Markdown: a row of titles, a row of dashes, and rows, whose fields stand between bars.
// A bar in a field has a backslash before it.

// underline is the row of dashes.
var underline = regexp.MustCompile(`^\s*\|?\s*:?-+:?\s*(\|\s*:?-+:?\s*)*\|?\s*$`)

// marked turns the first table of a text in Markdown into a delimited one, and tells what stands around it. It
// reports whether there is one.
func (n *normalized) marked(report *Report) bool {
	head := n.text[:min(len(n.text), mostScanned)]
	if !bytes.Contains(head, []byte("--")) && !bytes.Contains(head, []byte(":-")) || !bytes.Contains(head, []byte{'|'}) {
		return false
	}
	all := strings.Split(strings.ReplaceAll(string(n.text), "\r\n", "\n"), "\n")
	at := slices.IndexFunc(
		all[:min(len(all), sampleRecords)],
		func(line string) bool { return strings.Contains(line, "|") && underline.MatchString(line) },
	)
	if at < 1 || !strings.Contains(all[at-1], "|") || len(between(all[at-1])) != len(between(all[at])) {
		return false
	}
	var out strings.Builder
	var lines []int
	end := at + 1
	for i := at - 1; i < len(all); i++ {
		if i == at {
			continue
		}
		if !strings.Contains(all[i], "|") {
			break
		}
		end = i + 1
		for k, field := range between(all[i]) {
			if k > 0 {
				out.WriteByte('\t')
			}
			if strings.ContainsAny(field, "\t\"") {
				field = `"` + strings.ReplaceAll(field, `"`, `""`) + `"`
			}
			out.WriteString(field)
		}
		out.WriteByte('\n')
		lines = append(lines, n.line(i+1))
	}
	around := func(from, to int, where string) {
		for i := from; i < to; i++ {
			if text := strings.TrimSpace(all[i]); text != "" {
				report.Note(n.line(i+1), "", "%q stands %s the table and was left out", clip(text), where)
			}
		}
	}
	around(0, at-1, "above")
	around(end, len(all), "under")
	n.text, n.lines, n.separator, n.divided = []byte(out.String()), lines, '\t', "bars"
	return true
}

// between gives the fields of a row, which stand between bars; those at its ends may be left out.
func between(line string) (fields []string) {
	line = strings.TrimSpace(line)
	line = strings.TrimPrefix(line, "|")
	if strings.HasSuffix(line, "|") && !strings.HasSuffix(line, `\|`) {
		line = line[:len(line)-1]
	}
	var field strings.Builder
	for i := 0; i < len(line); i++ {
		switch {
		case line[i] == '\\' && i+1 < len(line) && line[i+1] == '|':
			field.WriteByte('|')
			i++
		case line[i] == '|':
			fields = append(fields, strings.TrimSpace(field.String()))
			field.Reset()
		default:
			field.WriteByte(line[i])
		}
	}
	return append(fields, strings.TrimSpace(field.String()))
}
