package reader

import (
	"bytes"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// dateForm is one way of writing dates.
type dateForm int

const (
	yearFirst  dateForm = iota // 2029-03-14
	dayFirst                   // 14/03/2029
	monthFirst                 // 03/14/2029
	namedMonth                 // 14 March 2029, Mar 14 2029, 14-Mar-29
	yearMonth                  // 2029-03, 2029/3, Mar 2029
	quarter                    // 2029Q1, Q1 2029, 2029-Q1
	week                       // 2029-W11, 2029-W11-3
	dateForms
)

// anyForm are all forms, before a value has been seen.
func anyForm() (forms [dateForms]bool) {
	for form := range forms {
		forms[form] = true
	}
	return forms
}

// date reads a trimmed field as a date in the given form, with or without a
// time of day. withTime says whether there was one.
func date(field []byte, form dateForm) (seconds float64, withTime, ok bool) {
	if len(field) < 6 || len(field) > 40 ||
		bytes.IndexByte(digits, field[0]) < 0 && (form == yearFirst || form == dayFirst || form == monthFirst) {
		return 0, false, false
	}
	if form >= yearMonth {
		seconds, ok = periodBegins(string(field), form)
		return seconds, false, ok
	}
	day, clock := splitClock(field)
	if bytes.Contains(day, []byte("年")) {
		day = eastern.ReplaceAll(day, []byte("$1-$2-$3"))
	}
	var parts [3]int
	if form == namedMonth {
		if parts, ok = namedMonthParts(string(day)); !ok {
			return 0, false, false
		}
	} else if parts, ok = numericParts(day); !ok {
		return 0, false, false
	}
	var year, month, dayOfMonth int
	switch form {
	case yearFirst, namedMonth:
		year, month, dayOfMonth = parts[0], parts[1], parts[2]
	case dayFirst:
		dayOfMonth, month, year = parts[0], parts[1], parts[2]
	case monthFirst:
		month, dayOfMonth, year = parts[0], parts[1], parts[2]
	}
	if year >= 0 && year < 100 && form != yearFirst {
		year = fullYear(year)
	}
	if year < 1000 || year > 9999 || month < 1 || month > 12 || dayOfMonth < 1 || dayOfMonth > 31 {
		return 0, false, false
	}
	moment := time.Date(year, time.Month(month), dayOfMonth, 0, 0, 0, 0, time.UTC)
	if moment.Day() != dayOfMonth {
		return 0, false, false // 31 February
	}
	seconds = float64(moment.Unix())
	if len(clock) == 0 {
		return seconds, false, true
	}
	offset, ok := clockSeconds(string(clock))
	return seconds + offset, true, ok
}

func splitClock(field []byte) (day, clock []byte) {
	colon := bytes.IndexByte(field, ':')
	if colon < 0 {
		return field, nil
	}
	cut := bytes.LastIndexAny(field[:colon], "T ")
	if cut < 0 {
		return field, nil
	}
	return bytes.TrimRight(field[:cut], " ,"), field[cut+1:]
}

func numericParts(day []byte) (parts [3]int, ok bool) {
	part, digits := 0, 0
	separator := byte(0)
	for _, c := range day {
		switch {
		case c >= '0' && c <= '9':
			parts[part] = parts[part]*10 + int(c-'0')
			if digits++; digits > 4 {
				return parts, false
			}
		case (c == '-' || c == '/' || c == '.') && digits > 0 && part < 2 && (separator == 0 || separator == c):
			separator = c
			part++
			digits = 0
		default:
			return parts, false
		}
	}
	return parts, part == 2 && digits > 0
}

// fullYear reads a year of two digits: up to 68 of this century, as POSIX does.
func fullYear(two int) int {
	if two < 69 {
		return 2000 + two
	}
	return 1900 + two
}

var (
	digits  = []byte("0123456789")
	eastern = regexp.MustCompile(`^(\d{4})年(\d{1,2})月(\d{1,2})日$`)
	months  = regexp.MustCompile(`^(\d{4})[-/.](\d{1,2})$`)
	named   = regexp.MustCompile(`^([\p{L}.]{3,12})[-/ ,.]+(\d{4})$|^(\d{4})[-/ ,.]+([\p{L}.]{3,12})$`)
	quarts  = regexp.MustCompile(`^(?i:(\d{4})[-/ ]?Q([1-4])|Q([1-4])[-/ ]?(\d{4}))$`)
	weeks   = regexp.MustCompile(`^(\d{4})-?W(\d{2})(?:-?([1-7]))?$`)
)

// periodBegins gives when a month, a quarter or a week begins.
func periodBegins(text string, form dateForm) (seconds float64, ok bool) {
	whole := func(texts ...string) int {
		for _, text := range texts {
			if n, err := strconv.Atoi(text); err == nil {
				return n
			}
		}
		return 0
	}
	year, month := 0, 0
	switch form {
	case yearMonth:
		if found := months.FindStringSubmatch(text); found != nil {
			year, month = whole(found[1]), whole(found[2])
		} else if found := named.FindStringSubmatch(text); found != nil {
			year, month = whole(found[2], found[3]), monthNamed(found[1]+found[4])
		}
	case quarter:
		if found := quarts.FindStringSubmatch(text); found != nil {
			year, month = whole(found[1], found[4]), 3*whole(found[2], found[3])-2
		}
	case week:
		found := weeks.FindStringSubmatch(text)
		if found == nil {
			return 0, false
		}
		n := whole(found[2])
		fourth := time.Date(whole(found[1]), 1, 4, 0, 0, 0, 0, time.UTC) // is always in week 1 (ISO 8601)
		monday := fourth.AddDate(0, 0, -(int(fourth.Weekday())+6)%7+7*(n-1)+max(whole(found[3]), 1)-1)
		return float64(monday.Unix()), n >= 1 && n <= 53
	}
	if year < 1000 || month < 1 || month > 12 {
		return 0, false
	}
	return float64(time.Date(year, time.Month(month), 1, 0, 0, 0, 0, time.UTC).Unix()), true
}

// namedMonthParts gives year, month, day of a date whose month is a word; a year may have
// two digits where it stands last.
func namedMonthParts(text string) (parts [3]int, ok bool) {
	words := strings.FieldsFunc(text, func(r rune) bool { return r == ' ' || r == '-' || r == ',' || r == '.' || r == '/' })
	words = slices.DeleteFunc(words, func(word string) bool { return word == "de" || word == "of" || word == "del" })
	if len(words) == 4 && dayNamed(words[0]) {
		words = words[1:]
	}
	if len(words) != 3 {
		return parts, false
	}
	var numbers []int
	month := 0
	for _, word := range words {
		if n, err := strconv.Atoi(strings.TrimRight(word, "stndrheºª")); err == nil && n >= 0 {
			numbers = append(numbers, n)
			continue
		}
		month = monthNamed(word)
	}
	if month == 0 || len(numbers) != 2 {
		return parts, false
	}
	if numbers[0] > 31 {
		return [3]int{numbers[0], month, numbers[1]}, true
	}
	return [3]int{numbers[1], month, numbers[0]}, true
}

// clockSeconds reads a time of day. Plain ones, 10:30 and 10:30:15, are read here;
// the others by package time.
func clockSeconds(clock string) (float64, bool) {
	if n := len(clock); (n == 5 || n == 8) && clock[2] == ':' && (n == 5 || clock[5] == ':') {
		two := func(i int) int {
			a, b := int(clock[i])-'0', int(clock[i+1])-'0'
			if a < 0 || a > 9 || b < 0 || b > 9 {
				return 99
			}
			return 10*a + b
		}
		hour, minute, second := two(0), two(3), 0
		if n == 8 {
			second = two(6)
		}
		return float64(3600*hour + 60*minute + second), hour < 24 && minute < 60 && second < 60
	}
	for _, layout := range []string{"15:04:05", "15:04", "15:04:05Z07:00", "15:04Z07:00", "15:04:05Z0700", "15:04:05 -0700",
		"15:04:05 Z07:00", "3:04 PM", "3:04:05 PM"} {
		if moment, err := time.Parse(layout, strings.TrimSpace(clock)); err == nil {
			midnight := time.Date(moment.Year(), moment.Month(), moment.Day(), 0, 0, 0, 0, moment.Location())
			_, zone := moment.Zone()
			return moment.Sub(midnight).Seconds() - float64(zone), true
		}
	}
	return 0, false
}
