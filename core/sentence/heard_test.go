package sentence

import (
	"strings"
	"testing"

	"copperlark/core/table"
)

// stall is the table that people speak of below.
func stall(t *testing.T) *table.Table {
	data, err := table.New(
		table.NewNumbers("price", []float64{1, 2, 3}), table.NewNumbers("honey_kg", []float64{1, 2, 3}),
		table.NewNumbers("dose", []float64{1, 2, 3}), table.NewNumbers("forage_area", []float64{1, 2, 3}),
		table.NewCategory("name", []string{"a", "b", "c"}), table.NewCategory("district", []string{"Tarn", "Wick", "Lower Moss"}),
		table.NewCategory("market", []string{"p", "q", "r"}), table.NewCategory("hive_type", []string{"log", "box", "log"}),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, 86400, 172800}},
	)
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// said are sentences as people say them, and what they are in clauses.
var said = []struct{ typed, want string }{
	{"average price by market as bars, ordered by price, highest first",
		"plot mean(price) against market; as bars; order market by mean(price) descending"},
	{"count by district as bars sorted by number of rows descending",
		"plot count() against district; as bars; order district by count() descending"},
	{"plot mean(price) against name as bars",
		"plot mean(price) against name; as bars"},
	{"Plot price against dose, coloured by district.",
		"plot price against dose; colour by district"},
	{"price against dose",
		"plot price against dose"},
	{"price vs dose",
		"plot price against dose"},
	{"scatter plot of price vs. dose",
		"plot price against dose; as dots"},
	{"show me the price by district as boxes",
		"plot price against district; as boxes"},
	{"box plots of price by district",
		"plot price against district; as boxes"},
	{"bar chart of average price by market",
		"plot mean(price) against market; as bars"},
	{"mean price per name",
		"plot mean(price) against name"},
	{"average of price for each district",
		"plot mean(price) against district"},
	{"median price by district as dots",
		"plot median(price) against district; as dots"},
	{"total honey kg by district as bars",
		"plot sum(honey_kg) against district; as bars"},
	{"count by district as bars",
		"plot count() against district; as bars"},
	{"the number of rows per market",
		"plot count() against market"},
	{"line chart of price over day",
		"plot price against day; as line"},
	{"plot honey kg against forage area",
		"plot honey_kg against forage_area"},
	{"Plot honey kg against forage area on a log scale",
		"plot honey_kg against forage_area; log x"},
	{"plot honey kg on a log scale against dose",
		"plot honey_kg against dose; log y"},
	{"plot price (log) against dose (log)",
		"plot price against dose; log x; log y"},
	{"plot price against dose with both axes log",
		"plot price against dose; log x; log y"},
	{"plot price against dose, log x, log y",
		"plot price against dose; log x; log y"},
	{"histogram of price",
		"plot spread of price; as histogram"},
	{"the distribution of price",
		"plot spread of price"},
	{"plot the spread of price as curve",
		"plot spread of price; as curve"},
	{"how is price distributed",
		"plot spread of price"},
	{"does dose affect price?",
		"plot price against dose"},
	{"relationship between dose and price",
		"plot price against dose"},
	{"plot mean price against dose as groups",
		"plot mean(price) against dose as groups"},
	{"plot price against dose colour by district",
		"plot price against dose; colour by district"},
	{"colour by district, plot price against dose",
		"plot price against dose; colour by district"},
	{"plot price against dose and colour it by district please",
		"plot price against dose; colour by district"},
	{"plot price against dose, color by district, size by honey kg",
		"plot price against dose; colour by district; size by honey_kg"},
	{"plot price against dose shaped by hive type",
		"plot price against dose; shape by hive_type"},
	{"price against dose, a colour for each district",
		"plot price against dose; colour by district"},
	{"plot price against dose, pattern by market",
		"plot price against dose; colour by market with patterns"},
	{"plot price against dose, colour '#1f7a6d'",
		"plot price against dose; one colour '#1f7a6d'"},
	{"plot price against dose, size 4",
		"plot price against dose; one size 4"},
	{"plot price against dose, shape ring",
		"plot price against dose; one shape ring"},
	{"plot price against dose, size 4, shape ring, colour '#1f7a6d'",
		"plot price against dose; one colour '#1f7a6d'; one size 4; one shape ring"},
	{"plot price against dose, fit line",
		"plot price against dose; fit line"},
	{"plot price against dose with a trend line",
		"plot price against dose; fit line"},
	{"plot price against dose and add a regression line",
		"plot price against dose; fit line"},
	{"plot price against dose with a smoother",
		"plot price against dose; fit local"},
	{"plot price against dose, add a line for each district",
		"plot price against dose; fit line for each district"},
	{"fit a straight line to each district and overall, plot price against dose",
		"plot price against dose; fit line for each district and overall"},
	{"plot price against dose. Fit a straight line to all rows with a 95 % confidence band.",
		"plot price against dose; fit line with band 95%"},
	{"Plot price against dose. Fit a straight line to each district and overall with 95 % confidence bands.",
		"plot price against dose; fit line for each district and overall with band 95%"},
	{"plot price against dose, fit a curve of degree 3 to all rows",
		"plot price against dose; fit curve degree 3"},
	{"plot price against dose with quadratic",
		"plot price against dose; fit curve degree 2"},
	{"plot price against dose, fit a smoothing spline to all rows with a 90 % prediction band",
		"plot price against dose; fit spline with prediction band 90%"},
	{"plot price against dose with a robust line",
		"plot price against dose; fit robust line"},
	{"plot price against dose, fit a local regression (span 0.6) to each district",
		"plot price against dose; fit local span 0.6 for each district"},
	{"plot price against dose with a trend line with its confidence band",
		"plot price against dose; fit line with band 95%"},
	{"plot price against dose in panels by district",
		"plot price against dose; panels by district"},
	{"plot price against dose, one panel for each district",
		"plot price against dose; panels by district"},
	{"plot price against dose, in panels by district, each with its own y",
		"plot price against dose; panels by district each with own y"},
	{"small multiples by market, price against dose",
		"plot price against dose; panels by market"},
	{"plot price against dose step by step through day",
		"plot price against dose; step through day"},
	{"plot price against dose animated over day",
		"plot price against dose; step through day"},
	{"plot price against dose, with district taken out",
		"plot price against dose; take out district"},
	{"plot price against dose controlling for district",
		"plot price against dose; take out district"},
	{"plot price against dose, jittered along x",
		"plot price against dose; jitter x"},
	{"plot price against dose as hexagons",
		"plot price against dose; as hexagons"},
	{"plot price against dose as dots and line",
		"plot price against dose; as dots and line"},
	{"plot price against dose as dots and contours 50, 80%",
		"plot price against dose; as dots and contours; contours hold 50, 80%"},
	{"plot price against dose, contours of 50 and 90 %",
		"plot price against dose; as contours; contours hold 50, 90%"},
	{"plot price against dose as points",
		"plot price against dose; as dots"},
	{"plot price against dose key at right",
		"plot price against dose; key right"},
	{"plot price against dose coloured by district, key at right",
		"plot price against dose; colour by district; key right"},
	{"plot price against dose coloured by district, legend on top",
		"plot price against dose; colour by district; key top"},
	{"plot price against dose coloured by district without a legend",
		"plot price against dose; colour by district; key off"},
	{"plot price against dose coloured by district, no key",
		"plot price against dose; colour by district; key off"},
	{"plot price against dose, key at line ends",
		"plot price against dose; key line ends"},
	{"plot price against dose, no grid",
		"plot price against dose; grid off"},
	{"plot price against dose with larger text",
		"plot price against dose; text larger"},
	{"plot price against dose, hand-drawn",
		"plot price against dose; look sketch"},
	{"plot price against dose in black and white",
		"plot price against dose; look ink"},
	{"plot price against dose, line at mean(y)",
		"plot price against dose; line at mean(y)"},
	{"plot price against dose with a line at the mean of y",
		"plot price against dose; line at mean(y)"},
	{"plot price against dose with a horizontal line at 5",
		"plot price against dose; line at y = 5"},
	{"plot price against dose with a vertical line at 2.5",
		"plot price against dose; line at x = 2.5"},
	{"plot price against dose, draw a line at x = 3",
		"plot price against dose; line at x = 3"},
	{"plot price against dose, line at mean(price)",
		"plot price against dose; line at mean(y)"},
	{"plot price against dose with a line at the median price",
		"plot price against dose; line at median(y)"},
	{"plot price against dose, add the diagonal",
		"plot price against dose; diagonal"},
	{"plot price against dose, shade a band along y from 1 to 2",
		"plot price against dose; band y from 1 to 2"},
	{"plot mean(price) against name, interval sd",
		"plot mean(price) against name; interval standard deviation"},
	{"plot mean(price) against name with error bars",
		"plot mean(price) against name; interval 95%"},
	{"plot mean price by name as bars with error bars",
		"plot mean(price) against name; as bars; interval 95%"},
	{"plot mean price by name. Show about each its 99 % interval.",
		"plot mean(price) against name; interval 99%"},
	{"plot price against dose, x from 1 to 3",
		"plot price against dose; x from 1 to 3"},
	{"plot price against dose, y between 0 and 10",
		"plot price against dose; y from 0 to 10"},
	{"plot price against dose. Show x from 0 to 1,500.",
		"plot price against dose; x from 0 to 1500"},
	{"plot price against day. Show x from '2030-01-01' to '2030-06-30'.",
		"plot price against day; x from '2030-01-01' to '2030-06-30'"},
	{"plot price against dose, y with 3 decimals",
		"plot price against dose; y as 3 decimals"},
	{"plot price against dose, y in thousands",
		"plot price against dose; y as 120k"},
	{"plot price against dose, y axis in percent",
		"plot price against dose; y as percent"},
	{"plot price against dose, y as currency '£'",
		"plot price against dose; y as currency '£'"},
	{"plot price against dose, x titled 'Dose of syrup'",
		"plot price against dose; x titled 'Dose of syrup'"},
	{"plot price against dose, no title on the x axis",
		"plot price against dose; x untitled"},
	{"plot price against dose, x ticks every 0.5",
		"plot price against dose; ticks x every 0.5"},
	{"plot price against dose, reverse the y axis",
		"plot price against dose; y reversed"},
	{"plot price against dose. Turn x round.",
		"plot price against dose; x reversed"},
	{"plot price against dose, title 'Dearer with syrup'",
		"plot price against dose; title 'Dearer with syrup'"},
	{"plot price against dose titled 'Dearer with syrup'",
		"plot price against dose; title 'Dearer with syrup'"},
	{"plot price against dose, note: 'weighed in autumn'",
		"plot price against dose; note 'weighed in autumn'"},
	{"plot price against dose, only Tarn",
		"of rows where district = 'Tarn'; plot price against dose"},
	{"plot price against dose for Tarn and Lower Moss",
		"of rows where district = 'Tarn' or district = 'Lower Moss'; plot price against dose"},
	{"plot price against dose without Lower Moss",
		"of rows where not (district = 'Lower Moss'); plot price against dose"},
	{"plot price against dose where honey_kg > 2",
		"of rows where honey_kg > 2; plot price against dose"},
	{"plot price against dose, label top 2 by price with name",
		"plot price against dose; label top 2 by price with name"},
	{"label all points with name, plot price against dose",
		"plot price against dose; label all with name"},
	{"plot price against dose, show the centres of district",
		"plot price against dose; centres of district"},
	{"plot price against dose. Show edges as histogram and curve.",
		"plot price against dose; edges histogram and curve"},
	{"plot price against dose with histograms along the axes",
		"plot price against dose; edges histogram"},
	{"plot price and honey kg against day as line",
		"plot price, honey_kg against day; as line"},
	{"plot price, honey kg against day",
		"plot price, honey_kg against day"},
	{"compare price by hive type",
		"plot price against hive_type"},
	{"plot price against dose 40 % opaque",
		"plot price against dose; opacity 0.4"},
	{"PLOT PRICE AGAINST DOSE COLOURED BY DISTRICT",
		"plot price against dose; colour by district"},
	{"please draw the median honey kg for each hive type as bars, coloured by hive type, legend hidden",
		"plot median(honey_kg) against hive_type; as bars; colour by hive_type; key off"},
	{"paper 900 by 560, plot price against dose",
		"plot price against dose; paper 900 by 560"},
}

func TestWhatPeopleSayIsUnderstood(t *testing.T) {
	data := stall(t)
	for _, test := range said {
		want, wrong := grammar.Parse(strings.ReplaceAll(test.want, "; ", "\n"), data)
		if wrong != nil {
			t.Fatal(test.want, wrong[0])
		}
		d, mistakes := Parse(test.typed, data)
		if mistakes != nil {
			t.Errorf("%q: %v", test.typed, mistakes[0])
		} else if Print(d) != Print(want) {
			t.Errorf("%q is understood as\n%snot\n%s", test.typed, Print(d), Print(want))
		}
	}
}

// refused are sentences that are not understood, with a part of the reason.
var refusedSentences = []struct{ typed, reason string }{
	{"plot pricee against dose", "no column pricee"},
	{"price against doze", "no column doze"},
	{"plot mean price by distrikt as bars", "no column distrikt"},
	{"plot price against dose, coloured by distrikt", "no column distrikt"},
	{"plot price against dose sized by nothing at all", "no column nothing"},
	{"plot price against dose with a pony", "pony"},
	{"what is the meaning of honey", "what"},
	{"plot price", "expected the word against"},
	{"coloured by district", "nothing to plot"},
	{"as bars", "nothing to plot"},
	{"", "nothing to plot"},
	{"plot price against dose as blobs", "drawn as"},
	{"plot price against dose, only Narnia", "Narnia"},
	{"bars ordered by price", "no column ordered"},
	{"plot price against dose, title 'a\x01x'", "is not expected here"},
	{"plot price against dose, fit a curve of degree 9 to all rows", "degree from 2 to 5"},
	{"plot price against dose, 140 % opaque", "opacity goes from 0 to 1"},
	{"plot price against dose, size 400", "from 0.5 to 30"},
	{"plot price against dose, shape blob", "blob"},
	{"plot price against dose, colour by district, colour by market", "colour is said twice"},
	{"plot price against dose, title 'open", "the quote is opened"},
	{"plot price against dose, line at mean(honey_kg)", "stands along no axis"},
	{"plot price against dose, key at the bottom of the sea", "at"},
	{"plot price against dose, x from here to there", "here"},
	{"plot price against dose where honey is sweet", "honey"},
	{"plot price against dose\ncolour by distrikt", "no column distrikt"},
	{"plot price against dose\nopacity 7", "opacity goes from 0 to 1"},
	{"plot price against dose\nplat by district", "plat"},
	{"plot price against dose; drop table columns", "drop"},
	{"plot price against dose <script>", "<"},
	{"plot price against dose in 3d", "3d"},
	{"plot price against dose, 95", "95"},
	{"plot price and against dose", "against"},
}

func TestWhatIsNotUnderstoodSaysWhy(t *testing.T) {
	data := stall(t)
	for _, test := range refusedSentences {
		d, mistakes := Parse(test.typed, data)
		if d != nil {
			t.Errorf("%q is understood as\n%s", test.typed, Print(d))
		} else if text := mistakes[0].Message + "; " + mistakes[0].Advice; !strings.Contains(text, test.reason) {
			t.Errorf("%q: %s", test.typed, text)
		}
	}
}

// TestFreeWordingsAreProposed once two letters of their beginning stand there, beside the clauses, and say what they are.
func TestFreeWordingsAreProposed(t *testing.T) {
	for before, want := range map[string]string{
		"histo":                      "histogram of |the same as: plot spread of …, as histogram",
		"plot a against b\njit":      "jittered |the same as: jitter …",
		"plot a against b\ncoloured": "coloured by |the same as: colour by …",
	} {
		list, _, _ := Expected(before)
		found := false
		for _, e := range list {
			found = found || e.Text+"|"+e.Help == want
		}
		if !found {
			t.Errorf("%q: %v", before, list)
		}
	}
	if list, _, _ := Expected("h"); len(list) != len(grammar.Clauses) {
		t.Errorf("one letter proposes %d", len(list))
	}
}
