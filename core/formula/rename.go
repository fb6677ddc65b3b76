package formula

import "strings"

// Renamed writes an expression with columns called otherwise; what cannot be read stays as
// it is.
func Renamed(expression string, names map[string]string) string {
	return replaced(expression, func(name string) (string, bool) {
		to, said := names[name]
		return Quoted(to), said
	})
}

// replaced writes an expression with other words in the places of columns.
func replaced(expression string, by func(name string) (string, bool)) string {
	f, err := Parse(expression)
	if err != nil {
		return expression
	}
	type place struct {
		to    int
		words string
	}
	places := map[int]place{} // an expression may be read twice, as x in case x when …
	f.root.walk(func(n *node) {
		if n.op != "column" {
			return
		}
		if words, said := by(n.text); said {
			places[n.from] = place{n.to, words}
		}
	})
	runes := []rune(expression)
	var written strings.Builder
	for i := 0; i < len(runes); i++ {
		if p, is := places[i]; is {
			written.WriteString(p.words)
			i = p.to - 1
			continue
		}
		written.WriteRune(runes[i])
	}
	return written.String()
}
