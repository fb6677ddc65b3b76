package demo

// Page is a story that charts of the demo tell.
type Page struct {
	Title, Lead string
	Blocks      []Block
}

// Block is a text beside a chart, by its name. What stands in double brackets is put in from its reading
// (page.PutIn), and follows the chart.
type Block struct{ Text, Chart string }

// Pages are the stories of the demo.
var Pages = []Page{{
	Title: "More forage, more honey, once you stay inside one district",
	Lead:  "Hives near more forage gave less honey. That holds for the valley as a whole, and turns round in every part of it.",
	Blocks: []Block{
		{"## At first sight, forage costs honey\n\nOver all hives, yield [[falls by]] for every tenfold gain in forage within two " +
			"kilometres.", "Forage seems to cost honey"},
		{"## Inside each district, forage brings honey\n\nColour the hives by district and the trend turns round: inside all five it " +
			"[[rises]]. The districts rich in forage are the high, cold ones, and they start lower.", "Inside each district"},
		{"## So take the district out\n\nSlide every district to the same centre, and only what happens inside districts is left: " +
			"yield [[rises by]]. It is a relation in this table, not proof of a cause.", "The district taken out"},
	},
}}
