package main

import (
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// benchWindows measures window functions over the readings against the database's own
// answers for the same rows; it sends none of them.
func benchWindows(r *report, connection *pgx.Conn, readings *table.Table) {
	_, err := connection.Exec(ctx, "analyze readings")
	check(err)
	for _, expression := range []string{
		"sum(weight_kg) over (partition by hive order by day)",
		"avg(rain_mm) over (partition by hive order by day, departures rows between 6 preceding and current row)",
		"rank() over (partition by district, hive_type order by weight_kg descending)",
		"lag(weight_kg) over (partition by hive order by day, departures)",
		"max(temperature) over (partition by hive order by day, departures rows between 3 preceding and 3 following)",
		"ntile(10) over (order by weight_kg)",
	} {
		f, err := formula.Parse(expression)
		check(err)
		work := func() {
			_, _, err := f.Column(ctx, readings, "made", 1)
			check(err)
		}
		asked := "select count(v) from (select " + strings.ReplaceAll(expression, "descending", "desc") + " as v from readings) made"
		took, base := medians(work, func() {
			var n int
			check(connection.QueryRow(ctx, asked).Scan(&n))
		})
		r.row(fmt.Sprintf("`%s` (the database: %s)", expression, base.Round(time.Millisecond)), "at most 3 x the database", took, base)
	}
}
