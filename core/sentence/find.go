package sentence

import (
	"copperlark/core/clause"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// Sayable is something that can be said of a chart: a clause, or a mark.
type Sayable struct {
	Name    string `json:"name" doc:"the words that begin it"`
	Help    string `json:"help"`
	Example string `json:"example" doc:"a line that is right"`
	Also    string `json:"also" doc:"words of the trade that it is looked up by"`
}

// standIns are the columns that examples name.
var standIns = []clause.StandIn{
	{Name: "honey_kg"}, {Name: "forage_ha"}, {Name: "frames"}, {Name: "target_kg"}, {Name: "season"},
	{Name: "district", Groups: true, Values: []string{"Tarn", "Brindle"}}, {Name: "hive_type", Groups: true}, {Name: "apiary", Groups: true},
}

// Sayables lists everything that can be said of a chart; examples quote the columns of a table.
func Sayables(t *table.Table) (list []Sayable) {
	for i := range grammar.Clauses {
		c := &grammar.Clauses[i]
		list = append(list, Sayable{c.Name, c.Help, grammar.ExampleOf(c, t), c.Trade})
		if c.Name == marksClause.Name {
			for _, m := range mark.List {
				list = append(list, Sayable{"as " + m.Name, m.Help, "as " + m.Name, m.Also})
			}
		}
	}
	return list
}
