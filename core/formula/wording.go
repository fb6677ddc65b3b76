package formula

import (
	"math"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// addTexts puts the functions that cut texts into the list. They do as PostgreSQL's do.
func addTexts(add func(name, help, example string, least, most int, f Function)) {
	add("initcap", "each word with a capital first", "initcap(district)", 1, 1, Function{level: capitals})
	add(
		"left",
		"the first characters, or all but the last ones where the number is below zero",
		"left(apiary, 2)",
		2,
		2,
		Function{whole: cut(func(runes []rune, n int) []rune { return runes[:n] })},
	)
	add(
		"right",
		"the last characters, or all but the first ones where the number is below zero",
		"right(apiary, 2)",
		2,
		2,
		Function{whole: cut(func(runes []rune, n int) []rune { return runes[len(runes)-n:] })},
	)
	add(
		"split_part",
		"the part of that number between separators, counted from 1, from the end where it is below zero",
		"split_part(apiary, '-', 2)",
		3,
		3,
		Function{whole: splitPart},
	)
	add(
		"position",
		"where a text begins in another, counted from 1; 0 where it is not in it",
		"position('-' in apiary)",
		2,
		2,
		Function{whole: position},
	)
	add(
		"regexp_replace",
		"with what matches a pattern made into another text: the first match, or all with 'g'; in small letters or capitals with 'i'",
		"regexp_replace(remarks, '[0-9]+', '#', 'g')",
		3,
		4,
		Function{whole: regexpReplace},
	)
}

// capitals writes every run of letters and digits with a capital first, the rest small.
func capitals(text string) string {
	inside := false
	return strings.Map(func(r rune) rune {
		first := !inside
		inside = unicode.IsLetter(r) || unicode.IsDigit(r)
		if first {
			return unicode.ToUpper(r)
		}
		return unicode.ToLower(r)
	}, text)
}

// cut is a function of a text and a number that takes so many characters of the text, all
// where there are not so many; a number below zero leaves that many.
func cut(of func(runes []rune, n int) []rune) func(e *evaluation, n *node) *vector {
	return func(e *evaluation, n *node) *vector {
		v, count := e.need(n.args[0], Text), e.need(n.args[1], Number)
		return e.texts(v.constant && count.constant, func(i int) (string, bool) {
			if v.missing(i) || count.missing(i) {
				return "", false
			}
			runes, taken := []rune(v.text(i)), math.RoundToEven(count.number(i))
			if taken < 0 {
				taken += float64(len(runes))
			}
			return string(of(runes, int(min(max(taken, 0), float64(len(runes)))))), true
		})
	}
}

// splitPart has no value for the part 0, which there is not; a part beyond the last is an
// empty text.
func splitPart(e *evaluation, n *node) *vector {
	v, separator, part := e.need(n.args[0], Text), e.need(n.args[1], Text), e.need(n.args[2], Number)
	return e.texts(v.constant && separator.constant && part.constant, func(i int) (string, bool) {
		if v.missing(i) || separator.missing(i) || part.missing(i) {
			return "", false
		}
		at := math.RoundToEven(part.number(i))
		if at == 0 {
			e.faults++
			return "", false
		}
		parts := []string{v.text(i)}
		if separator.text(i) != "" {
			parts = strings.Split(v.text(i), separator.text(i))
		}
		if at < 0 {
			at += float64(len(parts)) + 1
		}
		if at < 1 || at > float64(len(parts)) {
			return "", true
		}
		return parts[int(at)-1], true
	})
}

func position(e *evaluation, n *node) *vector {
	sought, in := e.need(n.args[0], Text), e.need(n.args[1], Text)
	out := e.numbers(Number, sought, in)
	for i := range out.numbers {
		out.numbers[i] = math.NaN()
		if sought.missing(i) || in.missing(i) {
			continue
		}
		out.numbers[i] = 0
		if at := strings.Index(in.text(i), sought.text(i)); at >= 0 {
			out.numbers[i] = float64(utf8.RuneCountInString(in.text(i)[:at]) + 1)
		}
	}
	return out
}

// regexpReplace takes its pattern, replacement and flags as texts that are the same for all
// rows. Patterns are matched in time in proportion to the text (RE2); \1 is the first group.
func regexpReplace(e *evaluation, n *node) *vector {
	v, pattern, template, flags := e.need(n.args[0], Text), e.constantText(n.args[1]), regexpTemplate(e.constantText(n.args[2])), ""
	if len(n.args) == 4 {
		flags = e.constantText(n.args[3])
	}
	most := 1
	if strings.Contains(flags, "g") {
		most = -1
	}
	if strings.Contains(flags, "i") {
		pattern = "(?i)" + pattern
	}
	if wrong := strings.Trim(flags, "gi"); wrong != "" {
		refuse(n.args[3], "no flag is called "+wrong, "take 'g' for all matches, 'i' for small letters and capitals alike")
	}
	matcher, err := regexp.Compile(pattern)
	if err != nil {
		refuse(
			n.args[1],
			"this is no pattern: "+strings.TrimPrefix(err.Error(), "error parsing regexp: "),
			`a sign such as ( or * that stands for itself has a \ before it`,
		)
	}
	return e.texts(v.constant, func(i int) (string, bool) {
		if v.missing(i) {
			return "", false
		}
		text, made, from := v.text(i), []byte(nil), 0
		for _, match := range matcher.FindAllStringSubmatchIndex(text, most) {
			made = append(made, text[from:match[0]]...)
			made = matcher.ExpandString(made, template, text, match)
			from = match[1]
			if len(made) > mostTextBytes {
				break
			}
		}
		return e.within(len(made)+len(text)-from, func() string { return string(made) + text[from:] })
	})
}

// regexpTemplate turns the groups \1 to \9 and the whole match \& of SQL into those of Go.
func regexpTemplate(said string) string {
	var template strings.Builder
	for i := 0; i < len(said); i++ {
		switch {
		case said[i] == '$':
			template.WriteString("$$")
		case said[i] == '\\' && i+1 < len(said) && said[i+1] >= '1' && said[i+1] <= '9':
			i++
			template.WriteString("${" + said[i:i+1] + "}")
		case said[i] == '\\' && i+1 < len(said) && said[i+1] == '&':
			i++
			template.WriteString("${0}")
		case said[i] == '\\' && i+1 < len(said):
			i++
			template.WriteByte(said[i])
		default:
			template.WriteByte(said[i])
		}
	}
	return template.String()
}

// constantText is a text that is the same for all rows.
func (e *evaluation) constantText(n *node) string {
	v := e.need(n, Text)
	if !v.constant || v.missing(0) {
		refuse(n, "this text must be the same for all rows", "write it in single quotes")
	}
	return v.text(0)
}
