package page

import (
	"regexp"
	"strings"
)

// Words of a reading stand in a text as a link: [falls by 7.0 kg](reading:KEY). Where the chart says otherwise by now, the
// words are new and the link's title is what they were, "was: …", until the writer takes note; where the chart says nothing of
// the kind any more, the words stay and the title is "gone". Of what is written by hand only this form counts.
var tie = regexp.MustCompile(`\[((?:[^\[\]\\\n]|\\.)*)\]\(reading:([a-z0-9.-]{1,60})(?: "((?:[^"\\\n]|\\.)*)")?\)`)

// TieScheme begins the address of a link that is tied to a reading.
const TieScheme = "reading:"

// Gone is the title of a tie whose chart does not say it any more; Was begins the title of one that says otherwise.
const (
	Gone = "gone"
	Was  = "was: "
)

// Tied writes words that are tied to a statement.
func Tied(key, words string) string { return "[" + Escape(words) + "](" + TieScheme + key + ")" }

// Tie is a stretch of a text that is tied to a statement.
type Tie struct{ Key, Text, Title string }

// Ties lists those of a text, in order.
func Ties(text string) (list []Tie) {
	for _, m := range tie.FindAllStringSubmatch(text, -1) {
		list = append(list, Tie{Key: m[2], Text: unescape(m[1]), Title: unescape(m[3])})
	}
	return list
}

// TieChange is what became of tied words.
type TieChange struct {
	Block string `json:"block"`
	Was   string `json:"was"`
	Now   string `json:"now,omitempty" doc:"empty: the chart says nothing of the kind any more"`
}

// Follow makes the tied words of a text what their chart says now: said gives the words of a key. What changed is marked in the
// text, and told. A text whose words are all as they were is given back byte for byte.
func Follow(text string, said map[string]string) (followed string, changes []TieChange) {
	followed = tie.ReplaceAllStringFunc(text, func(written string) string {
		m := tie.FindStringSubmatch(written)
		words, title := unescape(m[1]), unescape(m[3])
		now, there := said[m[2]]
		switch {
		case !there && title == Gone:
			return written
		case !there:
			changes = append(changes, TieChange{Was: words})
			return "[" + m[1] + "](" + TieScheme + m[2] + ` "` + Gone + `")`
		case now == words && title != Gone:
			return written
		case now == words:
			return "[" + m[1] + "](" + TieScheme + m[2] + ")"
		}
		changes = append(changes, TieChange{Was: words, Now: now})
		was := words
		if earlier, marked := strings.CutPrefix(title, Was); marked {
			was = earlier // what the writer last saw
		}
		if was == now {
			return Tied(m[2], now)
		}
		return "[" + Escape(now) + "](" + TieScheme + m[2] + ` "` + Escape(Was+was) + `")`
	})
	return followed, changes
}

// Noted is a plain text, such as a chart's note, in which tied words are what the chart says now; where it says nothing of the kind any
// more, that is said behind the words.
func Noted(text string, said map[string]string) string {
	return tie.ReplaceAllStringFunc(text, func(written string) string {
		m := tie.FindStringSubmatch(written)
		if now, there := said[m[2]]; there {
			return now
		}
		return unescape(m[1]) + " (the chart no longer says this)"
	})
}

// Words is a plain text, such as a chart's note, without its ties: their words stay.
func Words(text string) string {
	return tie.ReplaceAllStringFunc(text, func(written string) string { return unescape(tie.FindStringSubmatch(written)[1]) })
}

// Untied is Markdown without its ties: their words stay, as words.
func Untied(text string) string { return tie.ReplaceAllString(text, "$1") }

// escaped are the characters that mean something in a line of Markdown.
const escaped = "\\`*_[]<>\"&!|~#"

// Escape writes words so that Markdown takes them for themselves.
func Escape(words string) string {
	var out strings.Builder
	for _, r := range words {
		switch {
		case r == '\n' || r == '\r':
			out.WriteByte(' ')
			continue
		case strings.ContainsRune(escaped, r):
			out.WriteByte('\\')
		}
		out.WriteRune(r)
	}
	return out.String()
}

var backslash = regexp.MustCompile(`\\([!-/:-@\[-` + "`" + `{-~])`)

func unescape(text string) string { return backslash.ReplaceAllString(text, "$1") }
