package reader

import (
	"sort"
	"strings"
	"unicode/utf8"
)

// monthBeginnings are how the names of months begin, January first, in English, German,
// French, Spanish, Italian, Portuguese, Dutch, the Scandinavian languages, Polish, Czech,
// Finnish, Turkish and Russian (Unicode CLDR, calendar names). A longer beginning wins.
var monthBeginnings = [12]string{
	"jan jän gen ene sty led tam oca янв",
	"feb fév fev lut úno hel şub фев",
	"mar mär mrt maa bře мар",
	"apr avr abr kwi dub huh nis апр",
	"may mai mag maj mei kvě tou май мая",
	"jun juin giu cze čvn kes haz июн",
	"jul juil lug lip čvc červenec hei tem июл",
	"aug aoû aou ago sie srp elo ağu авг",
	"sep set wrz zář syy eyl сен",
	"oct okt out ott paź říj lok eki окт",
	"nov lis marras kas ноя",
	"dec déc dez des dic gru pro jou ara дек",
}

type monthBeginning struct {
	text  string
	month int
}

// monthsByLength are the beginnings, longest first.
var monthsByLength = func() (list []monthBeginning) {
	for i, texts := range monthBeginnings {
		for _, text := range strings.Fields(texts) {
			list = append(list, monthBeginning{text, i + 1})
		}
	}
	sort.SliceStable(list, func(a, b int) bool { return len(list[a].text) > len(list[b].text) })
	return list
}()

// monthNamed gives the number of a month from its name or the beginning of it; 0 for none.
func monthNamed(word string) int {
	word = strings.ToLower(strings.Trim(word, "."))
	if n := utf8.RuneCountInString(word); n < 3 || n > 12 {
		return 0
	}
	for _, beginning := range monthsByLength {
		if strings.HasPrefix(word, beginning.text) {
			return beginning.month
		}
	}
	return 0
}

// dayNamed reports whether a word is a day of the week in English.
func dayNamed(word string) bool {
	for _, day := range []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"} {
		if strings.HasPrefix(strings.ToLower(word), day) {
			return true
		}
	}
	return false
}
