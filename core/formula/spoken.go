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
// words, texts as value writes them. What cannot be read is spoken as it is typed.
func SpokenCondition(condition string, readable, value func(string) string) string {
	return spoken(condition, readable, value, comparisons)
}

// HeardComparisons are what comparisons in words are written as; "is" before null, true and the like stays as it is.
func HeardComparisons() map[string]string {
	list := map[string]string{"equals": "=", "is over": ">", "is under": "<", "is more than": ">", "is less than": "<", "is at least": ">=",
		"is before": "<", "is after": ">"}
	for sign, words := range comparisons {
		if sign != "!=" {
			list[words] = sign
		}
	}
	return list
}

// Spoken speaks an expression as it stands, columns by their readable names.
func Spoken(expression string, readable func(column string) string) string {
	asItIs := func(text string) string { return text }
	return spoken(expression, readable, asItIs, map[string]string{">=": "≥", "<=": "≤", "<>": "≠", "!=": "≠"})
}

// Truths are words that may stand behind "is".
var Truths = []string{"null", "true", "false", "unknown", "not", "distinct"}

func spoken(expression string, readable, value func(string) string, signs map[string]string) string {
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
	for i, t := range tokens {
		word := t.Text
		switch {
		case t.IsText:
			word = value(t.Text)
		case t.Text == "=" && i+1 < len(tokens) && !tokens[i+1].IsText && slices.Contains(Truths, strings.ToLower(tokens[i+1].Text)):
			word = "equals" // "is true" is another question than "= true"
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
		if n := len(words); i > 0 && n > 0 && words[n-1] == "-" && tokens[i-1].To == t.From && (i == 1 || tokens[i-2].To < tokens[i-1].From) {
			words[n-1] += word // a sign, not a difference
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
