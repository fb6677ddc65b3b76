package formula

import (
	"slices"
	"strings"
)

// comparisons are the signs of comparison, spoken.
var comparisons = map[string]string{
	">=": "is at least",
	"<=": "is at most",
	"<>": "is not",
	"!=": "is not",
	"=":  "is",
	">":  "is above",
	"<":  "is below",
}

// SpokenCondition speaks a condition: columns by their readable names, comparisons in
// words, texts without quotes. What cannot be read is spoken as it is typed.
func SpokenCondition(condition string, readable func(column string) string) string {
	return spoken(condition, readable, comparisons)
}

// Spoken speaks an expression as it stands, columns by their readable names.
func Spoken(expression string, readable func(column string) string) string {
	return spoken(expression, readable, map[string]string{">=": "≥", "<=": "≤", "<>": "≠", "!=": "≠"})
}

func spoken(expression string, readable func(column string) string, signs map[string]string) string {
	tokens, err := Tokens(expression)
	if err != nil {
		return expression
	}
	f, err := Parse(expression)
	if err != nil {
		return expression
	}
	columns := f.Columns()
	var words []string
	for _, t := range tokens {
		word := t.Text
		switch {
		case t.IsText:
		case slices.Contains(columns, t.Text):
			word = readable(t.Text)
		case signs[t.Text] != "":
			word = signs[t.Text]
		}
		if n := len(words); n > 0 &&
			(word == "," || word == ")" || words[n-1] == "(" || strings.HasSuffix(words[n-1], "(") || word == "(" && f.calls(words[n-1])) {
			words[n-1] += word
			continue
		}
		words = append(words, word)
	}
	return strings.Join(words, " ")
}

// calls reports whether a word is a function of the expression.
func (f *Formula) calls(word string) bool {
	found := false
	f.root.walk(func(n *node) { found = found || n.op == "call" && strings.EqualFold(n.text, word) })
	return found
}

// Mistake tells what is wrong with an expression, and where in it; an empty message:
// nothing.
func Mistake(text string) (from, to int, message, advice string) {
	_, err := Parse(text)
	return place(text, err)
}

func place(text string, err error) (from, to int, message, advice string) {
	if err == nil {
		return 0, 0, "", ""
	}
	if at, ok := err.(*Error); ok {
		return at.From, at.To, at.Message, at.Advice
	}
	return 0, len([]rune(text)), err.Error(), ""
}
