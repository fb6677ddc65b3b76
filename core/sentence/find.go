package sentence

import "copperlark/core/mark"

// Sayable is something that can be said of a chart: a clause, or a mark.
type Sayable struct {
	Name    string `json:"name" doc:"the words that begin it"`
	Help    string `json:"help"`
	Example string `json:"example" doc:"a line that is right"`
	Also    string `json:"also" doc:"words of the trade that it is looked up by"`
}

// Sayables lists everything that can be said of a chart.
func Sayables() (list []Sayable) {
	for i := range grammar.Clauses {
		c := &grammar.Clauses[i]
		list = append(list, Sayable{c.Name, c.Help, c.Example, c.Trade})
		if c.Name == marksClause.Name {
			for _, m := range mark.List {
				list = append(list, Sayable{"as " + m.Name, m.Help, "as " + m.Name, m.Also})
			}
		}
	}
	return list
}
