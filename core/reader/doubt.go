package reader

import (
	"bytes"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/scale"
	"copperlark/core/table"
)

// What can be read in two ways is read in the one that misleads less, and said, with an offer to turn it round.

// hiddenMarks stand in columns of numbers for values that are kept from readers; a letter alone may be one, but
// only where most of the others are numbers.
var hiddenMarks = map[string]bool{
	"c":              true,
	"x":              true,
	"z":              true,
	"s":              true,
	"u":              true,
	"d":              true,
	":":              true,
	"low":            true,
	"suppressed":     true,
	"confidential":   true,
	"withheld":       true,
	"redacted":       true,
	"hidden":         true,
	"not available":  true,
	"not applicable": true,
	"no data":        true,
	"too few":        true,
	"n/k":            true,
	"n<5":            true,
	"<lod":           true,
	"<loq":           true,
	"bdl":            true,
	"bql":            true,
}

// isHidden reports whether a field is such a mark, also in brackets.
func isHidden(field string) bool {
	bare, _ := bracketed(field)
	return len(bare) <= 20 && hiddenMarks[strings.ToLower(bare)]
}

// bracketed takes brackets off a field.
func bracketed(field string) (bare string, is bool) {
	for _, pair := range []string{"()", "[]", "{}"} {
		if len(field) > 2 && field[0] == pair[0] && field[len(field)-1] == pair[1] {
			return strings.TrimSpace(field[1 : len(field)-1]), true
		}
	}
	return field, false
}

// isExponent reports whether a field is digits, an E and digits, and nothing else: a number, or a code.
func isExponent(field []byte) bool {
	at := -1
	for i, c := range field {
		switch {
		case (c == 'E' || c == 'e') && at < 0 && i > 0:
			at = i
		case c < '0' || c > '9':
			return false
		}
	}
	return at > 0 && at < len(field)-1
}

// isDigits reports whether a field is a whole number without any mark.
func isDigits(field []byte) bool {
	for _, c := range field {
		if c < '0' || c > '9' {
			return false
		}
	}
	return len(field) > 0
}

// sentinels are numbers that stand for no value in files of instruments and of surveys.
var sentinels = []float64{
	-99,
	-999,
	-9999,
	-99999,
	-999999,
	-99.9,
	-999.9,
	-9999.9,
	-999.25,
	999,
	9999,
	99999,
	999999,
	9999999,
	999.9,
	9999.9,
}

// sentinel is the lowest or the highest number of a column, where it stands far from all others and is one of
// those that stand for no value. ok is false where there is none.
func sentinel(values []float64, low, high float64) (found float64, count int, ok bool) {
	for _, s := range []float64{low, high} {
		if !slices.Contains(sentinels, s) {
			continue
		}
		n, others, apart := 0, 0, true
		for _, v := range values {
			switch {
			case v == s:
				n++
			case v == v:
				others++
				apart = apart && (s < 0 && v > s/10 || s > 0 && v < s/10)
			}
		}
		if apart && others > n && (n > 1 || s < 0) {
			return s, n, true
		}
	}
	return 0, 0, false
}

// sureSentinel stands for a missing value even where it stands alone.
const sureSentinel = -999

// sentinelNoted reads a number that stands for no value as missing, where it lies below zero or that was asked
// for, and says so.
func (b *building) sentinelNoted(c *table.Column, low, high float64) {
	wanted := Offer(b.wanted[c.Name])
	s, n, ok := sentinel(c.Numbers, low, high)
	if !ok || b.measured {
		return
	}
	text := strings.Replace(strconv.FormatFloat(s, 'f', -1, 64), "-", scale.Minus, 1)
	place := map[bool]string{true: "below", false: "above"}[s < 0]
	if wanted == OfferGap || wanted != OfferNumber && wanted != OfferValue && s < 0 && (n > 1 || s <= sureSentinel) {
		for i, v := range c.Numbers {
			if v == s {
				c.Numbers[i] = math.NaN()
			}
		}
		b.report.Note(
			0,
			c.Name,
			"%s stands far %s all other values, as marks of missing ones do, and was read as missing, in %s",
			text,
			place,
			scale.Counted(n, "row"),
		)
		b.report.Offer(OfferValue)
		return
	}
	b.report.Note(
		0,
		c.Name,
		"%s stands far %s all other values, in %s: it may stand for a missing one",
		text,
		place,
		scale.Counted(n, "row"),
	)
	b.report.Offer(OfferGap)
}

// notAvailable is a mark of a missing value that is also the code of a country.
const notAvailable = "NA"

// countries are the codes of ISO 3166-1, of two letters each.
const countries = "ADAEAFAGAIALAMAOAQARASATAUAWAXAZBABBBDBEBFBGBHBIBJBLBMBNBOBQBRBSBTBVBWBYBZCACCCDCFCGCHCICKCLCMCNCOCRCUCVCWCXCYCZDEDJDKDMDODZECEEEGEHERESETFIFJFKFMFOFRGAGBGDGEGFGGGHGIGLGMGNGPGQGRGSGTGUGWGYHKHMHNHRHTHUIDIEILIMINIOIQIRISITJEJMJOJPKEKGKHKIKMKNKPKRKWKYKZLALBLCLILKLRLSLTLULVLYMAMCMDMEMFMGMHMKMLMMMNMOMPMQMRMSMTMUMVMWMXMYMZNANCNENFNGNINLNONPNRNUNZOMPAPEPFPGPHPKPLPMPNPRPSPTPWPYQARERORSRURWSASBSCSDSESGSHSISJSKSLSMSNSOSRSSSTSVSXSYSZTCTDTFTGTHTJTKTLTMTNTOTRTTTVTWTZUAUGUMUSUYUZVAVCVEVGVIVNVUWFWSYEYTZAZMZW"

func isCountry(code string) bool {
	for i := 0; i < len(countries); i += 2 {
		if countries[i:i+2] == code {
			return true
		}
	}
	return false
}

// namibia decides what NA means among the texts of a column, one of whose levels it is: a country where all
// others are codes of countries, and else a missing value.
func (b *building) namibia(c *table.Column) {
	at := slices.Index(c.Levels, notAvailable)
	if at < 0 {
		return
	}
	are := len(c.Levels) > 3
	for _, level := range c.Levels {
		are = are && isCountry(level)
	}
	if are && b.wanted[c.Name] != string(OfferGap) {
		b.report.Note(0, c.Name, "NA was read as the code of a country, as all other values are")
		b.report.Offer(OfferGap)
		return
	}
	c.Levels = slices.Delete(slices.Clone(c.Levels), at, at+1)
	for row, code := range c.Codes {
		switch {
		case code == int32(at):
			c.Codes[row] = table.MissingCode
		case code > int32(at):
			c.Codes[row]--
		}
	}
}

// totalNames begin or end the names of rows that sum up others.
var totalNames = [][]byte{
	[]byte("subtotal"),
	[]byte("sub-total"),
	[]byte("sub total"),
	[]byte("grand total"),
	[]byte("total"),
	[]byte("totals"),
	[]byte("overall"),
	[]byte("all"),
}

// isTotal reports whether the first thing that a row says is that it sums up others. It is asked of every row,
// and takes no memory.
func isTotal(fields [][]byte) bool {
	for _, field := range fields {
		if field = trim(field); len(field) == 0 {
			continue
		}
		if len(field) > 60 || len(field) < 3 || field[0] >= '0' && field[0] <= '9' {
			return false
		}
		for i, name := range totalNames {
			n := len(name)
			if len(field) < n {
				continue
			}
			if bytes.EqualFold(field[:n], name) && (len(field) == n || field[n] == ' ' || field[n] == ':') {
				return true
			}
			if i < len(totalNames)-1 && len(field) > n && field[len(field)-n-1] == ' ' && bytes.EqualFold(field[len(field)-n:], name) {
				return true
			}
		}
		return len(field) < 8 && slices.Contains(totalWords, strings.ToLower(strings.Trim(string(field), `"':`)))
	}
	return false
}

// labelOf is the first thing that a row says.
func labelOf(fields [][]byte) string {
	for _, field := range fields {
		if field = trim(field); len(field) > 0 {
			return strings.ToLower(string(field))
		}
	}
	return ""
}

// unitsDiffer says that values carry different units.
func (b *building) unitsDiffer(c *table.Column, signs map[string]int, how string) {
	var list []string
	for sign := range signs {
		list = append(list, sign)
	}
	slices.Sort(list)
	b.report.Note(0, c.Name, "the values carry different units (%s): %s", strings.Join(list, ", "), how)
}

// partlySigned says that only some of the values carry the unit of the column.
func (b *building) partlySigned(c *table.Column, signed, values int) {
	if rest := values - signed; rest > 0 && signed > 0 {
		b.report.Note(
			0,
			c.Name,
			"%s no %s and were taken to mean the same as the others",
			fmt.Sprintf("%d of %d values carry", rest, values),
			c.Unit,
		)
		b.report.Offer(OfferText)
	}
}
