// Package formula reads and evaluates SQL scalar expressions over the columns of a
// table, column by column.
//
// The language is that of ISO SQL: arithmetic, comparison, and / or / not, between,
// in, like, is null, case, cast, coalesce, nullif, ||, and the usual functions (see
// Functions). A column name that is not a plain word stands in double quotes, a
// text in single quotes. Missing follows three-valued logic. What has no value (a
// division by zero, the logarithm of a negative number) is missing and counted.
//
// A worked example:
//
//	f, err := formula.Parse("ln(mites + 1) * price")
//	column, faults, err := f.Column(ctx, t, "log_mites")
package formula

import (
	"fmt"
	"strings"
	"unicode"
)

// Error is a mistake in an expression. From and To count characters from 0.
type Error struct {
	From, To        int
	Message, Advice string
}

func (e *Error) Error() string { return e.Message }

// Comma is where, in bytes, the first comma of an expression stands that is in no quotes
// and no brackets; -1 where there is none.
func Comma(text string) int {
	tokens, err := lex(text)
	if err != nil {
		return -1
	}
	depth := 0
	for _, t := range tokens {
		switch {
		case t.sign("("):
			depth++
		case t.sign(")"):
			depth--
		case t.sign(",") && depth == 0:
			return len(string([]rune(text)[:t.from]))
		}
	}
	return -1
}

type kind int

const (
	endToken kind = iota
	wordToken
	nameToken // "in quotes"
	textToken // 'in quotes'
	numberToken
	signToken
)

type token struct {
	kind     kind
	text     string
	from, to int
}

// is reports whether the token is the keyword, in any case.
func (t token) is(word string) bool { return t.kind == wordToken && strings.EqualFold(t.text, word) }

func (t token) sign(text string) bool { return t.kind == signToken && t.text == text }

// signs in the order in which they are tried: long ones first.
var signs = []string{"<=", ">=", "<>", "!=", "||", "≤", "≥", "≠", "+", "-", "−", "*", "/", "^", "(", ")", ",", "=", "<", ">", "%", ":"}

func lex(text string) ([]token, *Error) {
	runes := []rune(text)
	var tokens []token
	for i := 0; i < len(runes); {
		r := runes[i]
		start := i
		switch {
		case unicode.IsSpace(r):
			i++
			continue
		case r == '"' || r == '\'':
			content, end, closed := quoted(runes, i)
			if !closed {
				return nil, &Error{i, i + 1, "the quote is opened and never closed", "close it with " + string(r)}
			}
			k := nameToken
			if r == '\'' {
				k = textToken
			}
			tokens = append(tokens, token{k, content, start, end})
			i = end
		case r == '_' || unicode.IsLetter(r):
			for i < len(runes) && (runes[i] == '_' || unicode.IsLetter(runes[i]) || unicode.IsDigit(runes[i]) || unicode.Is(unicode.Mn, runes[i])) {
				i++
			}
			tokens = append(tokens, token{wordToken, string(runes[start:i]), start, i})
		case isDigit(r) || (r == '.' && i+1 < len(runes) && isDigit(runes[i+1])):
			i = numberEnd(runes, i)
			tokens = append(tokens, token{numberToken, string(runes[start:i]), start, i})
		default:
			sign := ""
			for _, s := range signs {
				if strings.HasPrefix(string(runes[i:min(i+2, len(runes))]), s) {
					sign = s
					break
				}
			}
			if sign == "" {
				return nil, &Error{
					i,
					i + 1,
					fmt.Sprintf("%q has no meaning here", string(r)),
					"put a column name that is not a plain word in double quotes",
				}
			}
			i += len([]rune(sign))
			tokens = append(tokens, token{signToken, plainSign(sign), start, i})
		}
	}
	return append(tokens, token{endToken, "", len(runes), len(runes) + 1}), nil
}

func plainSign(sign string) string {
	switch sign {
	case "≤":
		return "<="
	case "≥":
		return ">="
	case "≠", "!=":
		return "<>"
	case "−":
		return "-"
	}
	return sign
}

func isDigit(r rune) bool { return r >= '0' && r <= '9' }

func numberEnd(runes []rune, i int) int {
	for i < len(runes) && (isDigit(runes[i]) || runes[i] == '.') {
		i++
	}
	if i < len(runes) && (runes[i] == 'e' || runes[i] == 'E') {
		j := i + 1
		if j < len(runes) && (runes[j] == '-' || runes[j] == '+') {
			j++
		}
		if j < len(runes) && isDigit(runes[j]) {
			for i = j; i < len(runes) && isDigit(runes[i]); i++ {
			}
		}
	}
	return i
}

// quoted reads what stands in quotes; a doubled quote belongs to it.
func quoted(runes []rune, open int) (content string, end int, closed bool) {
	var text strings.Builder
	for i := open + 1; i < len(runes); i++ {
		if runes[i] != runes[open] {
			text.WriteRune(runes[i])
			continue
		}
		if i+1 < len(runes) && runes[i+1] == runes[open] {
			text.WriteRune(runes[i])
			i++
			continue
		}
		return text.String(), i + 1, true
	}
	return "", len(runes), false
}

// Token is a word, name, text, number or sign of an expression, for languages that
// hold expressions. From and To count characters from 0.
type Token struct {
	Text     string
	From, To int
	Quoted   bool // a name in double quotes
	IsText   bool // a text in single quotes
	IsNumber bool
}

// Tokens cuts a text as expressions are cut.
func Tokens(text string) ([]Token, error) {
	tokens, mistake := lex(text)
	if mistake != nil {
		return nil, mistake
	}
	list := make([]Token, 0, len(tokens)-1)
	for _, t := range tokens[:len(tokens)-1] {
		list = append(list, Token{t.text, t.from, t.to, t.kind == nameToken, t.kind == textToken, t.kind == numberToken})
	}
	return list, nil
}
