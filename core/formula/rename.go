package formula

import "strings"

// Renamed writes an expression with columns called otherwise; what cannot be read stays as
// it is.
func Renamed(expression string, names map[string]string) string {
	f, err := Parse(expression)
	if err != nil {
		return expression
	}
	type place struct {
		from, to int
		name     string
	}
	places := map[int]place{} // an expression may be read twice, as x in case x when …
	f.root.walk(func(n *node) {
		if to, said := names[n.text]; said && n.op == "column" {
			places[n.from] = place{n.from, n.to, to}
		}
	})
	runes := []rune(expression)
	var written strings.Builder
	for i := 0; i < len(runes); i++ {
		if p, is := places[i]; is {
			written.WriteString(`"` + strings.ReplaceAll(p.name, `"`, `""`) + `"`)
			i = p.to - 1
			continue
		}
		written.WriteRune(runes[i])
	}
	return written.String()
}
