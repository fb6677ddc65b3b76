package demo

import (
	"io"

	"copperlark/core/table"
)

// Dataset is one of the demo's files, with what its columns mean and the
// sentence of its first chart.
type Dataset struct {
	Name     string // as the front page shows it
	File     string
	Write    func(io.Writer) error // the file
	About    string
	OneRow   string // what one row is
	Meanings map[string]Meaning
	Charts   []Chart
}

// Meaning is what people say of a column.
type Meaning struct{ Label, Unit, Meaning string }

// Chart is a demo chart.
type Chart struct{ Name, Typed string }

// Datasets lists what the demo space holds; the large one is made on request.
var Datasets = []Dataset{
	{
		Name: "Hive seasons", File: "hive_seasons.csv", Write: HiveSeasons, OneRow: "a hive in one season",
		About: "One row a hive and season, weighed at the autumn check by the keepers of Thornwick apiaries. Made up.",
		Meanings: map[string]Meaning{
			"apiary":        {"Apiary", "", "Code of the stand, with the district's letters"},
			"district":      {"District", "", "Part of the valley"},
			"season":        {"Season", "", "Year of the harvest"},
			"hive_type":     {"Hive type", "", "Stacked boxes, one long box, or a straw skep"},
			"keeper_school": {"Keeper school", "", "Where the keeper learnt the trade"},
			"forage_ha":     {"Forage area", "ha", "Flowering land within 2 km of the stand"},
			"altitude_m":    {"Altitude", "m", "Height of the stand above the sea"},
			"frames":        {"Brood frames", "", "Frames with brood at the spring check"},
			"queen_age_y":   {"Queen age", "years", "Age of the queen at the spring check"},
			"mites_per_100": {"Mite count", "per 100 bees", "Mites on a hundred bees in August"},
			"fed":           {"Fed in autumn", "", "Whether the colony was given syrup"},
			"honey_kg":      {"Honey yield", "kg per hive", "Honey taken per hive over the season"},
			"price":         {"Price", "£ per kg", "Price of the season at the gate"},
			"first_flow":    {"First flow", "", "Day on which the hive first gained a kilogram"},
			"remarks":       {"Remarks", "", "What the keeper noted"},
		},
		Charts: []Chart{
			{
				"More forage, more honey?",
				"plot honey_kg against forage_ha\nlog x\ncolour by district\nsize by frames\nshape by hive_type\nfit line for each district and overall with band 95%\n",
			},
			{"Mites and honey", "plot honey_kg against mites_per_100\ncolour by keeper_school\nfit line\n"},
			{
				"Every season says the same",
				"plot honey_kg against forage_ha\nlog x\ncolour by district\npanels by season\nfit line for each district and overall\n",
			},
			{"Yield by district", "plot mean(honey_kg) against district\norder district by mean(honey_kg) descending\nline at mean(y)\n"},
			{"Forage seems to cost honey", "plot honey_kg against forage_ha\nlog x\nfit line overall with band 95%\n"},
			{
				"Inside each district",
				"plot honey_kg against forage_ha\nlog x\ncolour by district\nfit line for each district and overall\n",
			},
			{
				"The district taken out",
				"plot honey_kg against forage_ha\nlog x\ntake out district\ncolour by district\nfit line with band 95%\n",
			},
		},
	},
	{
		Name: "Scale days", File: "scale_days.csv", Write: ScaleDays, OneRow: "a day",
		About: "Two years of hives on scales: their weight each day, and the rain. Made up.",
		Meanings: map[string]Meaning{
			"hive_1": {
				"Hive 1",
				"kg",
				"Weight at sunset",
			}, "hive_2": {"Hive 2", "kg", "Weight at sunset"}, "hive_3": {"Hive 3", "kg", "Weight at sunset"},
			"hive_4": {
				"Hive 4",
				"kg",
				"Weight at sunset",
			}, "hive_5": {"Hive 5", "kg", "Weight at sunset"}, "hive_6": {"Hive 6", "kg", "Weight at sunset"},
			"rain_mm": {"Rain", "mm", "Rain of the day at Brindle"}, "date": {"Date", "", "Day"},
		},
		Charts: []Chart{
			{"A hive through two years", "plot hive_1 against date\ncolour by rain_mm\n"},
			{"Three hives on scales", "plot hive_1, hive_2, hive_3 against date\nas line\n"},
		},
	},
	{
		Name: "Market lots", File: "market_lots.csv", Write: MarketLots, OneRow: "a lot sold",
		About: "Lots sold at the valley's markets: what, where, how much and at which price. Made up.",
		Meanings: map[string]Meaning{
			"lot": {"Lot", "", "Number of the lot"}, "description": {"Description", "", "What was sold"}, "market": {"Market", "", "Where"},
			"quantity": {"Quantity", "", "Pieces sold"}, "unit_price": {"Unit price", "£", "Price of a piece"},
		},
		Charts: []Chart{{"Dearer sells less", "plot quantity against unit_price\nlog x\nlog y\ncolour by market\nfit line\n"}},
	},
	{
		Name: "Comb prices", File: "comb_prices.csv", Write: CombPrices, OneRow: "a week",
		About: "What a frame of comb cost at Brindle market, week by week. Made up.",
		Meanings: map[string]Meaning{
			"week": {
				"Week",
				"",
				"Its Monday",
			}, "open": {"First price", "£", "Of the week's first frame"}, "high": {"Highest", "£", ""}, "low": {"Lowest", "£", ""},
			"close": {"Last price", "£", "Of the week's last frame"}, "frames_sold": {"Frames sold", "", "In the week"},
		},
		Charts: []Chart{{"Comb from March to spring", "plot open, high, low, close against week\nas price bars\n"}},
	},
}

// Describe gives a copy of the table whose columns carry the dataset's meanings.
func (d Dataset) Describe(t *table.Table) (*table.Table, error) {
	columns := make([]*table.Column, len(t.Columns()))
	for i, c := range t.Columns() {
		described := *c
		if m, ok := d.Meanings[c.Name]; ok {
			described.Label, described.Unit, described.Meaning = m.Label, m.Unit, m.Meaning
		}
		columns[i] = &described
	}
	return table.New(columns...)
}
