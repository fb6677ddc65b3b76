package formula

import "strings"

// Substituted writes an expression with columns put in for what they are worked out from: of each name, as it stands in the
// expression, the other expression, in brackets. Other columns stay; what cannot be read stays as it is.
func Substituted(expression string, columns map[string]string) string {
	return replaced(expression, func(name string) (string, bool) {
		other, said := columns[name]
		return "(" + other + ")", said
	})
}

// Quoted is a name as an expression reads it, whatever it is.
func Quoted(name string) string { return `"` + strings.ReplaceAll(name, `"`, `""`) + `"` }

// Literal is a text as an expression reads it.
func Literal(text string) string { return "'" + strings.ReplaceAll(text, "'", "''") + "'" }
