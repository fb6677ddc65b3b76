package reader

import (
	"bytes"
	"fmt"
)

// scanner walks over the records of a delimited text. Fields are slices of the
// text, or of a scratch buffer where a quote was doubled; they are good until
// the next record.
type scanner struct {
	text      []byte
	separator byte
	position  int
	line      int // of the record that was just read, 1 for the first
	nextLine  int
	fields    [][]byte
	scratch   []byte
	stops     *[256]bool // the bytes that end a field
}

// mostFields is how many fields of a row are looked at: a line of commas alone could have millions.
const mostFields = 1 << 16

func newScanner(text []byte, separator byte) *scanner {
	s := &scanner{text: text, separator: separator, nextLine: 1, stops: &[256]bool{'\n': true, '\r': true}}
	s.stops[separator] = true
	return s
}

// next reads a record; false at the end of the text. Lines without anything
// but white space are passed over.
func (s *scanner) next() (bool, error) {
	for s.position < len(s.text) {
		s.line = s.nextLine
		s.fields = s.fields[:0]
		s.scratch = s.scratch[:0]
		if err := s.record(); err != nil {
			return false, err
		}
		if len(s.fields) == 1 && len(bytes.TrimSpace(s.fields[0])) == 0 {
			continue
		}
		return true, nil
	}
	return false, nil
}

func (s *scanner) record() error {
	text, separator := s.text, s.separator
	i := s.position
	for {
		start := i
		for start < len(text) && text[start] == ' ' && separator != ' ' {
			start++
		}
		if start < len(text) && text[start] == '"' {
			field, after, err := s.quoted(start)
			if err != nil {
				return err
			}
			i = after
			s.fields = append(s.fields, field)
		} else {
			for i < len(text) && !s.stops[text[i]] {
				i++
			}
			s.fields = append(s.fields, text[start:i])
		}
		if len(s.fields) > mostFields {
			return &Error{
				Line:    s.line,
				Problem: fmt.Sprintf("the row has more than %d values", mostFields),
				Advice:  "choose another separator, or bring a table with fewer columns",
			}
		}
		if i >= len(text) {
			s.position = i
			return nil
		}
		if text[i] == separator {
			i++
			if i == len(text) { // a separator at the very end opens one more, empty field
				s.fields = append(s.fields, nil)
				s.position = i
				return nil
			}
			continue
		}
		if text[i] == '\r' && i+1 < len(text) && text[i+1] == '\n' {
			i++
		}
		s.position = i + 1
		s.nextLine++
		return nil
	}
}

// quoted reads the field whose opening quote stands at open, and whatever
// follows its closing quote up to the separator or line end.
func (s *scanner) quoted(open int) (field []byte, after int, err error) {
	text := s.text
	begin := len(s.scratch)
	copied := false
	i, from := open+1, open+1
	for {
		length := bytes.IndexByte(text[i:], '"')
		if length < 0 {
			return nil, 0, &Error{Line: s.line, Problem: "a double quote is opened and never closed",
				Advice: "close the quote, or double it where it belongs to the value"}
		}
		s.nextLine += bytes.Count(text[i:i+length], newline)
		i += length
		if i+1 < len(text) && text[i+1] == '"' {
			s.scratch = append(s.scratch, text[from:i+1]...)
			copied = true
			i += 2
			from = i
			continue
		}
		break
	}
	closing := i
	i++
	tail := i
	for i < len(text) && text[i] != s.separator && text[i] != '\n' && text[i] != '\r' {
		i++
	}
	rest := bytes.TrimSpace(text[tail:i])
	if !copied && len(rest) == 0 {
		return text[from:closing], i, nil
	}
	s.scratch = append(s.scratch, text[from:closing]...)
	s.scratch = append(s.scratch, rest...)
	return s.scratch[begin:], i, nil
}

var newline = []byte{'\n'}
