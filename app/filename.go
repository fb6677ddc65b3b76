package app

import (
	"strings"
	"unicode"
)

// slashes are what divides folders, or looks as if it did, and what some system takes for no name.
const slashes = `/\:*?"<>|` + "⁄∕∖⧵⧸⧹／＼：＊？＂＜＞｜"

// joiners belong to the spelling of words in some scripts; all other marks that are not seen are taken out.
const joiners = "\u200c\u200d"

// FileName makes a name that every system takes for a file, and that shows its ending: no slash,
// no mark that turns the direction of text or is not seen, no device, no dot before it.
func FileName(name, ending string) string {
	clean := strings.Map(func(r rune) rune {
		switch {
		case strings.ContainsRune(slashes, r):
			return '-'
		case unicode.IsControl(r),
			r == unicode.ReplacementChar,
			unicode.In(r, unicode.Zl, unicode.Zp, unicode.Co),
			unicode.Is(unicode.Cf, r) && !strings.ContainsRune(joiners, r):
			return -1
		case unicode.IsSpace(r):
			return ' '
		}
		return r
	}, name)
	clean = strings.Trim(short(strings.TrimLeft(clean, ". "), 80), ". "+joiners)
	stem, _, _ := strings.Cut(clean, ".")
	if device := strings.ToUpper(strings.TrimSpace(stem)); clean == "" || devices[device] {
		clean = strings.TrimSuffix("chart "+clean, " ")
	}
	return clean + "." + ending
}

// devices are names that one system keeps for itself, whatever their ending.
var devices = func() map[string]bool {
	names := map[string]bool{"CON": true, "PRN": true, "AUX": true, "NUL": true}
	for _, digit := range "123456789" {
		names["COM"+string(digit)], names["LPT"+string(digit)] = true, true
	}
	return names
}()
