package source

import (
	"fmt"

	"github.com/jackc/pgx/v5"

	"copperlark/core/table"
)

// dialect is how a database's language writes what questions need; templates take what they are of.
type dialect struct {
	quote    func(name string) string
	argument func(t *terms, value any, typed string) string // typed: float8, text, bigint, float8[]
	number   string
	text     string
	whole    string
	log      string // to the base 10
	edges    string // the place of a value between edges, the third being the last of them
	worked   map[termKind]*sqlType
}

var postgresDialect = dialect{
	quote: func(name string) string { return pgx.Identifier{name}.Sanitize() },
	argument: func(t *terms, value any, typed string) string {
		t.arguments = append(t.arguments, value)
		return fmt.Sprintf("$%d::%s", len(t.arguments), typed)
	},
	number: "%s::float8",
	text:   "(%s)::text",
	whole:  "(%s)::bigint",
	log:    "log(%s)",
	edges:  "(width_bucket(%[1]s, %[2]s) - case when %[1]s = %[3]s then 2 else 1 end)::bigint",
	worked: map[termKind]*sqlType{
		numberTerm:  {plain: "%s::float8", holds: finite, kind: table.Number},
		textTerm:    {kind: table.Text},
		booleanTerm: {plain: "case when %s then 1.0::float8 else 0.0::float8 end", kind: table.YesNo, words: true},
	},
}
