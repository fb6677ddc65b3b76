package examples

import (
	"fmt"
	"strings"
)

// Page is the gallery as a page of the documentation.
func Page() string {
	var b strings.Builder
	b.WriteString(
		"# Gallery\n\nWhat can be said, each with its sentence, drawn from the made-up data of the demo by `lark render`. *Examples* on the front page\nopens each as a chart of your own. `make gallery` makes this page anew.\n\n",
	)
	for i, e := range List {
		if i%2 == 0 {
			b.WriteString("| | |\n| --- | --- |\n")
		}
		fmt.Fprintf(
			&b,
			"| ![%s](gallery/%s.png) | **%s.** %s<br><br>`%s` |\n",
			e.Name,
			e.Slug(),
			e.Name,
			e.Does,
			strings.ReplaceAll(e.Typed, "\n", "`<br>`"),
		)
		if i%2 == 1 {
			b.WriteString("\n")
		}
	}
	return b.String()
}
