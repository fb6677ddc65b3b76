package clause

import (
	"fmt"
	"strconv"
	"strings"
	"unicode"
)

// Error is a mistake in a typed sentence. Line and Column count from 1, in
// characters; Length is how many characters are to be underlined.
type Error struct {
	Line    int    `json:"line"`
	Column  int    `json:"column"`
	Length  int    `json:"length"`
	Message string `json:"message"`
	Advice  string `json:"advice,omitempty"`
	From    int    `json:"-"` // where it begins, in characters of the whole text from 0
}

func (e *Error) Error() string {
	return fmt.Sprintf("line %d, column %d: %s", e.Line, e.Column, e.Message)
}

type tokenKind int

const (
	wordToken   tokenKind = iota // honey_kg, log
	nameToken                    // "Honey yield"
	textToken                    // 'a title', “a title”, #b4531a, 2029-04-01
	numberToken                  // 12.5, -3
	markToken                    // , % ( =
	endToken                     // of a line
)

type token struct {
	kind         tokenKind
	text         string // without quotes
	number       float64
	line, column int
	length       int
	from, to     int // where it stands in the text, in characters
}

// lex cuts a typed sentence into clauses, one a line; a text in quotes may run
// over several lines. Lines without words are passed over.
func lex(typed string) ([][]token, *Error) {
	l := &lexer{runes: []rune(typed), line: 1, column: 1}
	var clauses [][]token
	var clause []token
	for {
		t, more, err := l.next()
		if err != nil {
			return nil, err
		}
		if more && t.kind != endToken {
			clause = append(clause, t)
			continue
		}
		if len(clause) > 0 {
			clauses = append(clauses, clause)
			clause = nil
		}
		if !more {
			return clauses, nil
		}
	}
}

type lexer struct {
	runes        []rune
	position     int
	line, column int
}

func (l *lexer) peek(ahead int) rune {
	if l.position+ahead < len(l.runes) {
		return l.runes[l.position+ahead]
	}
	return 0
}

func (l *lexer) advance() rune {
	r := l.runes[l.position]
	l.position++
	l.column++
	if r == '\n' {
		l.line, l.column = l.line+1, 1
	}
	return r
}

func (l *lexer) next() (token, bool, *Error) {
	for l.position < len(l.runes) && l.peek(0) != '\n' && unicode.IsSpace(l.peek(0)) {
		l.advance()
	}
	if l.position >= len(l.runes) {
		return token{}, false, nil
	}
	t := token{line: l.line, column: l.column}
	start := l.position
	r := l.peek(0)
	var err *Error
	switch {
	case r == '\n':
		l.advance()
		t.kind = endToken
	case r == '"' || r == '\'':
		t.kind = nameToken
		if r == '\'' {
			t.kind = textToken
		}
		t.text, err = l.quoted(r, r)
	case r == '“':
		t.kind = textToken
		t.text, err = l.quoted(r, '”')
	case r == '#' && l.hex() > 0:
		for range 1 + l.hex() {
			l.advance()
		}
		t.kind, t.text = textToken, string(l.runes[start:l.position])
	case startsWord(r):
		for l.goesOn() {
			l.advance()
		}
		t.kind, t.text = wordToken, string(l.runes[start:l.position])
	case isDigit(r) && l.date() > 0:
		for range l.date() {
			l.advance()
		}
		t.kind, t.text = textToken, string(l.runes[start:l.position])
	case unicode.IsDigit(r) || ((r == '-' || r == '+' || r == '−' || r == '.') && (isDigit(l.peek(1)) || l.peek(1) == '.')):
		t.kind = numberToken
		t.text, t.number, err = l.number()
		if startsWord(l.peek(0)) { // 120k is a word that begins with digits
			for l.goesOn() {
				l.advance()
			}
			t.kind, t.text, err = wordToken, string(l.runes[start:l.position]), nil
		}
	case strings.ContainsRune(marks, r):
		l.advance()
		t.kind, t.text = markToken, string(r)
	default:
		l.advance()
		err = &Error{Line: t.line, Column: t.column, From: start, Length: 1, Message: fmt.Sprintf("%q has no meaning here", string(r)),
			Advice: "put a column name that is not a plain word in double quotes"}
	}
	t.length = max(1, l.position-start)
	t.from, t.to = start, l.position
	return t, true, err
}

// marks are signs that stand for themselves: in lists, in statistics, in expressions.
const marks = ",%()=<>≤≥≠+-−*/|!.:;[]?^·"

// goesOn reports whether a word goes on: a hyphen joins two of its parts.
func (l *lexer) goesOn() bool {
	r := l.peek(0)
	return startsWord(r) || unicode.IsDigit(r) || unicode.Is(unicode.Mn, r) || r == '-' && startsWord(l.peek(1))
}

func startsWord(r rune) bool { return r == '_' || unicode.IsLetter(r) }

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

// mostDate is how many letters a date has at most, and leastDate how many at least.
const mostDate, leastDate = len("2029-04-01 12:30:00"), len("2029-04-01")

// date is how many letters a date has that begins here; 0: none does.
func (l *lexer) date() int {
	for n := min(mostDate, len(l.runes)-l.position); n >= leastDate; n-- {
		if aDate.MatchString(string(l.runes[l.position:l.position+n])) && !startsWord(l.peek(n)) && !isDigit(l.peek(n)) {
			return n
		}
	}
	return 0
}

// hex is how many digits a colour has that begins here, 3 or 6; 0: none does.
func (l *lexer) hex() int {
	n := 0
	for strings.ContainsRune("0123456789abcdefABCDEF", l.peek(1+n)) && n < 7 && l.peek(1+n) != 0 {
		n++
	}
	if n != 3 && n != 6 || startsWord(l.peek(1+n)) || unicode.IsDigit(l.peek(1+n)) {
		return 0
	}
	return n
}

// quoted reads a name or text up to the quote that closes it, which is doubled where it belongs to the text.
func (l *lexer) quoted(open, quote rune) (string, *Error) {
	line, column, from := l.line, l.column, l.position
	l.advance()
	var text strings.Builder
	for l.position < len(l.runes) {
		r := l.advance()
		if r != quote {
			text.WriteRune(r)
			continue
		}
		if l.peek(0) != quote {
			return text.String(), nil
		}
		l.advance()
		text.WriteRune(quote)
	}
	return "", &Error{
		Line:    line,
		Column:  column,
		From:    from,
		Length:  1,
		Message: "the quote is opened and never closed",
		Advice:  "close it with " + string(quote),
	}
}

func (l *lexer) number() (string, float64, *Error) {
	start, line, column := l.position, l.line, l.column
	l.advance()
	for {
		r := l.peek(0)
		exponent := (r == 'e' || r == 'E') && (isDigit(l.peek(1)) || ((l.peek(1) == '-' || l.peek(1) == '+') && isDigit(l.peek(2))))
		if exponent {
			l.advance()
			l.advance()
			continue
		}
		if !isDigit(r) && (r != '.' || !isDigit(l.peek(1)) && l.peek(1) != '.') {
			break
		}
		l.advance()
	}
	text := string(l.runes[start:l.position])
	value, err := strconv.ParseFloat(strings.Replace(text, "−", "-", 1), 64)
	if err != nil {
		return text, 0, &Error{
			Line:    line,
			Column:  column,
			From:    start,
			Length:  l.position - start,
			Message: fmt.Sprintf("%s is not a number", text),
			Advice:  "write it as 1250 or 0.5",
		}
	}
	return text, value, nil
}
