// Package demo makes the data of Thornwick apiaries, a co-operative of
// beekeepers in a made-up valley. Everything comes from a seed, so that every
// machine has the same rows. The truth built into the data is:
//
// hive_seasons, 1,180 rows, one a hive and season:
//   - honey_kg falls with log10(forage_ha) over all rows, by about 5 kg a
//     tenfold, and rises inside every district, by 9 kg a tenfold: the districts
//     with most forage are high and cold and start lower. district reverses it.
//   - hive_type (stacked, long, skep) changes nothing.
//   - keeper_school weakens the relation of mites_per_100 and honey_kg: schools
//     that treat for mites also manage the forage better.
//   - season explains away the relation of queen_age_y and price: both drift
//     from season to season, and within a season there is none.
//   - altitude_m against frames has no relation but for two far points, at
//     1,910 m and 1,985 m, that drag its line.
//   - about 3 % of the values are missing, written as blank, NA or –.
//
// scale_days, 731 rows, one a day: six hives on scales, and rain. A wet day
// costs a hive about 0.3 kg; all gain in early summer.
//
// market_lots, 4,000 rows: 40 products with long descriptions; quantity falls
// with the unit price, by about 0.8 % for 1 % more.
//
// comb_prices, 60 rows, one a week: what a frame of comb cost at Brindle market, falling through the harvest and rising
// before midwinter.
//
// flight_minutes, 1,000,000 rows, made on request: departures rise with
// temperature and with the logarithm of light, and stop in wind above 9 m/s.
package demo

import (
	"bufio"
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"strconv"
	"time"
)

const seed = 20270412

// district is a part of the valley with its own level of forage and honey.
type district struct {
	name, code string
	logForage  float64 // mean of log10(forage_ha)
	level      float64 // honey_kg at 10 ha of forage
	altitude   float64
	schools    [3]float64 // how often its keepers come from each school
}

// The levels fall by 11.5 kg for each tenfold of the district's own forage, so
// that the line through all rows falls although each district's rises by 9.
var districts = []district{
	{"Low Fen", "LF", 0.75, 36, 60, [3]float64{0.6, 0.3, 0.1}},
	{"Brindle", "BR", 1.30, 25.5, 140, [3]float64{0.4, 0.4, 0.2}},
	{"Ashcombe", "AS", 1.85, 16.5, 230, [3]float64{0.3, 0.4, 0.3}},
	{"Tarn", "TA", 2.30, 8.5, 390, [3]float64{0.2, 0.4, 0.4}},
	{"Scarhead", "SC", 2.75, 1, 560, [3]float64{0.1, 0.3, 0.6}},
}

var (
	schools   = []string{"Fen school", "Hill school", "self-taught"}
	hiveTypes = []string{"stacked", "long", "skep"}
	remarks   = []string{"", "", "", "", "", "quiet hive", "swarmed in May, caught the same day", "queen not seen", "two supers, both full",
		"frames stuck, \"like glue\"", "moved to the lee side\nafter the storm", "Émilie checked it", "smelt of heather; dark honey",
		"mice – floor replaced"}
)

// HiveSeasons writes hive_seasons.csv.
func HiveSeasons(w io.Writer) error {
	source := rand.New(rand.NewPCG(seed, 1))
	rows := csv.NewWriter(w)
	rows.UseCRLF = false
	_ = rows.Write(
		[]string{"apiary", "district", "season", "hive_type", "keeper_school", "forage_ha", "altitude_m", "frames", "queen_age_y",
			"mites_per_100", "fed", "honey_kg", "price", "first_flow", "remarks"},
	)
	const total = 1180
	for i := range total {
		row := hiveSeason(source, i)
		if i == 411 || i == 903 { // the two far points
			row[6], row[7] = strconv.Itoa(1910+75*(i/903)), "24"
		}
		for j := range row {
			if j > 2 && j < len(row)-1 && source.Float64() < 0.03 {
				row[j] = []string{"", "NA", "–"}[source.IntN(3)]
			}
		}
		if err := rows.Write(row); err != nil {
			return err
		}
	}
	rows.Flush()
	return rows.Error()
}

func hiveSeason(source *rand.Rand, i int) []string {
	d := districts[source.IntN(len(districts))]
	season := 2027 + source.IntN(5)
	school := pick(source, d.schools[:])
	logForage := min(max(d.logForage+0.28*source.NormFloat64(), 0.05), math.Log10(2500))
	schoolGain := []float64{1.6, 0.4, -1.4}[school]
	frames := min(max(int(math.Round(12+4.2*source.NormFloat64())), 4), 24)
	mites := 0.0
	if source.Float64() > 0.28 {
		mites = math.Round(10*math.Exp(0.4+0.75*float64(school)+0.8*source.NormFloat64())) / 10
	}
	honey := d.level + 9*(logForage-1) + schoolGain + 0.12*float64(frames-12) - 0.05*min(mites, 30) + 2.3*source.NormFloat64()
	queenAge := min(max(0.6+0.45*float64(season-2027)+0.5*source.NormFloat64(), 0.1), 4.5)
	price := 7.2 + 0.9*float64(season-2027) + 0.55*source.NormFloat64()
	altitude := d.altitude + 45*source.NormFloat64()
	fed := 0
	if source.Float64() < 0.62 {
		fed = 1
	}
	flow := time.Date(season, time.April, 12, 0, 0, 0, 0, time.UTC).AddDate(0, 0, int(math.Round(altitude/18+6*source.NormFloat64())))
	return []string{
		fmt.Sprintf("%s-%03d", d.code, 100+i%301), d.name, strconv.Itoa(season), hiveTypes[source.IntN(3)], schools[school],
		fixed(
			math.Pow(10, logForage),
			1,
		), fixed(max(altitude, 5), 0), strconv.Itoa(frames), fixed(queenAge, 1), fixed(mites, 1), strconv.Itoa(fed),
		fixed(max(honey, 1.5), 1), fixed(price, 2), flow.Format("2006-01-02"), remarks[source.IntN(len(remarks))],
	}
}

func pick(source *rand.Rand, shares []float64) int {
	at := source.Float64()
	for i, share := range shares {
		if at -= share; at < 0 {
			return i
		}
	}
	return len(shares) - 1
}

func fixed(v float64, decimals int) string { return strconv.FormatFloat(v, 'f', decimals, 64) }

// ScaleDays writes scale_days.csv.
func ScaleDays(w io.Writer) error {
	source := rand.New(rand.NewPCG(seed, 2))
	rows := csv.NewWriter(w)
	_ = rows.Write([]string{"date", "hive_1", "hive_2", "hive_3", "hive_4", "hive_5", "hive_6", "rain_mm"})
	weights := []float64{31, 28.5, 34, 26, 30, 37.5}
	start := time.Date(2030, time.January, 1, 0, 0, 0, 0, time.UTC)
	for day := range 731 {
		date := start.AddDate(0, 0, day)
		ofYear := float64(date.YearDay())
		rain := 0.0
		if source.Float64() < 0.42 {
			rain = 5 * source.ExpFloat64()
		}
		flow := 0.55*math.Exp(-math.Pow((ofYear-165)/32, 2)) - 0.06
		row := []string{date.Format("2006-01-02")}
		for hive := range weights {
			gain := flow * (0.8 + 0.08*float64(hive))
			if rain > 1 {
				gain -= 0.3
			}
			weights[hive] = max(weights[hive]+gain+0.12*source.NormFloat64()+0.06, 18)
			if date.Day() == 1 && date.Month() == time.September {
				weights[hive] -= 12 // the harvest
			}
			row = append(row, fixed(weights[hive], 2))
		}
		if err := rows.Write(append(row, fixed(rain, 1))); err != nil {
			return err
		}
	}
	rows.Flush()
	return rows.Error()
}

// MarketLots writes market_lots.csv.
func MarketLots(w io.Writer) error {
	source := rand.New(rand.NewPCG(seed, 3))
	kinds := []string{
		"heather honey",
		"spring blossom honey",
		"lime tree honey",
		"cut comb in a wooden frame",
		"beeswax block, filtered twice",
	}
	packs := []string{
		"in a 340 g jar with a cloth lid",
		"in a 1 kg tin, returnable",
		"in a 12 kg pail for bakeries",
		"in a gift box of three small jars",
		"by the crate of 24",
		"in a stoneware pot, sealed with wax",
		"as sold at the valley fair",
		"with a printed label of the apiary",
	}
	markets := []string{"Brindle Saturday market", "Tarn station", "Low Fen quay", "Ashcombe hall"}
	rows := csv.NewWriter(w)
	_ = rows.Write([]string{"lot", "description", "market", "quantity", "unit_price"})
	for i := range 4000 {
		product := source.IntN(40)
		logPrice := 0.55 + 0.018*float64(product) + 0.08*source.NormFloat64()
		quantity := math.Pow(10, 2.1-0.8*logPrice+0.22*source.NormFloat64())
		if err := rows.Write([]string{fmt.Sprintf("L%05d", 1+i), kinds[product%5] + " " + packs[product/5], markets[source.IntN(4)],
			strconv.Itoa(int(max(math.Round(quantity), 1))), fixed(math.Pow(10, logPrice), 2)}); err != nil {
			return err
		}
	}
	rows.Flush()
	return rows.Error()
}

// CombPrices writes comb_prices.csv.
func CombPrices(w io.Writer) error {
	source := rand.New(rand.NewPCG(seed, 5))
	rows := csv.NewWriter(w)
	_ = rows.Write([]string{"week", "open", "high", "low", "close", "frames_sold"})
	start := time.Date(2030, time.March, 4, 0, 0, 0, 0, time.UTC)
	price := 11.4
	for i := range 60 {
		day := start.AddDate(0, 0, 7*i)
		season := math.Cos(2 * math.Pi * float64(day.YearDay()-350) / 365) // dearest in the middle of December
		open := price + 0.08*source.NormFloat64()
		last := open + 0.12*(12+2.2*season-open) + 0.35*source.NormFloat64()
		high, low := max(open, last)+0.2*source.ExpFloat64(), min(open, last)-0.2*source.ExpFloat64()
		if err := rows.Write([]string{day.Format(time.DateOnly), fixed(open, 2), fixed(high, 2), fixed(low, 2), fixed(last, 2),
			strconv.Itoa(30 + source.IntN(90))}); err != nil {
			return err
		}
		price = last
	}
	rows.Flush()
	return rows.Error()
}

// FlightMinutes writes flight_minutes.csv with the given number of rows.
func FlightMinutes(w io.Writer, count int) error {
	source := rand.New(rand.NewPCG(seed, 4))
	out := bufio.NewWriterSize(w, 1<<16)
	if _, err := out.WriteString("moment,apiary,temp_c,light_lux,wind_ms,departures,returns\n"); err != nil {
		return err
	}
	start := time.Date(2031, time.May, 1, 5, 0, 0, 0, time.UTC)
	line := make([]byte, 0, 96)
	for i := range count {
		moment := start.Add(time.Duration(i/12) * time.Minute)
		hour := float64(moment.Hour()) + float64(moment.Minute())/60
		sun := max(math.Sin(math.Pi*(hour-5)/16), 0)
		temperature := 8 + 14*sun + 3*source.NormFloat64()
		logLight := min(max(4.9*math.Sqrt(sun)+0.35*source.NormFloat64(), -0.3), 5.1)
		wind := 3.2 * source.ExpFloat64()
		rate := 0.0
		if wind < 9 {
			rate = max(1.8*(temperature-9), 0) * max(logLight, 0) / 3
		}
		departures := max(math.Round(rate+math.Sqrt(rate+0.3)*source.NormFloat64()), 0)
		returns := max(math.Round(0.97*departures+2*source.NormFloat64()), 0)
		line = moment.AppendFormat(line[:0], "2006-01-02 15:04")
		line = fmt.Appendf(line, ",%s-%02d,", districts[i%5].code, i%12)
		line = strconv.AppendFloat(line, temperature, 'f', 1, 64)
		line = append(line, ',')
		line = strconv.AppendFloat(line, math.Pow(10, logLight), 'f', 1, 64)
		line = append(line, ',')
		line = strconv.AppendFloat(line, wind, 'f', 1, 64)
		line = append(line, ',')
		line = strconv.AppendInt(line, int64(departures), 10)
		line = append(line, ',')
		line = strconv.AppendInt(line, int64(returns), 10)
		line = append(line, '\n')
		if _, err := out.Write(line); err != nil {
			return err
		}
	}
	return out.Flush()
}
