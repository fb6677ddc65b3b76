package reader

import (
	"bytes"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/japanese"
	"golang.org/x/text/encoding/korean"
	"golang.org/x/text/encoding/simplifiedchinese"
	"golang.org/x/text/encoding/traditionalchinese"
)

// An encoding is one entry of this list: its name, and the letters by which texts in it are
// known, in the languages that it is used for. The first of two that fit alike is taken.
type encodingEntry struct {
	name    string
	coding  encoding.Encoding
	letters string // that are usual, in either case
	script  *unicode.RangeTable
}

// Letters that several encodings hold.
const (
	western    = "äöüßéèêëàâáãåæçñíìîïóòôõøœúùûÿ"
	russian    = "абвгдежзийклмнопрстуфхцчшщъыьэюяё"
	belarusian = russian + "іїє"
	ukrainian  = belarusian + "ґ"
	greek      = "αβγδεζηθικλμνξοπρστυφχψωάέήίόύώς"
)

// Encodings are what can be told apart, or chosen, beside UTF-8 and UTF-16.
var encodings = []encodingEntry{
	{"Windows-1252", charmap.Windows1252, western, nil},
	{"Windows-1250", charmap.Windows1250, "ąćęłńóśźżáčďéěíňřšťúůýžőűöüăâîșțşţđäľĺŕô", nil},
	{"Windows-1251", charmap.Windows1251, ukrainian, unicode.Cyrillic},
	{"KOI8-R", charmap.KOI8R, russian, unicode.Cyrillic},
	{"KOI8-U", charmap.KOI8U, ukrainian, unicode.Cyrillic},
	{"Windows-1253", charmap.Windows1253, greek, unicode.Greek},
	{"Windows-1254", charmap.Windows1254, "ğışöüçâîû", nil},
	{"Windows-1255", charmap.Windows1255, "אבגדהוזחטיכלמנסעפצקרשתםןךףץ", unicode.Hebrew},
	{"Windows-1256", charmap.Windows1256, "ابتثجحخدذرزسشصضطظعغفقكلمنهويةىءأإؤئآ", unicode.Arabic},
	{"Windows-1257", charmap.Windows1257, "āčēģīķļņšūžąęėįųõäöü", nil},
	{"Windows-1258", charmap.Windows1258, "ăâđêôơưáàéèíóúý", nil},
	{"Shift-JIS", japanese.ShiftJIS, "", unicode.Hiragana},
	{"EUC-JP", japanese.EUCJP, "", unicode.Hiragana},
	{"GBK", simplifiedchinese.GB18030, "", unicode.Han},
	{"Big5", traditionalchinese.Big5, "", unicode.Han},
	{"EUC-KR", korean.EUCKR, "", unicode.Hangul},
	{"Mac Roman", charmap.Macintosh, western, nil},
	{"Mac Cyrillic", charmap.MacintoshCyrillic, belarusian, unicode.Cyrillic},
	{"ISO 8859-2", charmap.ISO8859_2, "ąćęłńóśźżáčďéěíňřšťúůýžőűöüăâîşţđäľĺŕô", nil},
	{"ISO 8859-5", charmap.ISO8859_5, belarusian, unicode.Cyrillic},
	{"ISO 8859-7", charmap.ISO8859_7, greek, unicode.Greek},
	{"ISO 8859-15", charmap.ISO8859_15, western, nil},
	{"DOS 850", charmap.CodePage850, "äöüßéèêëàâáãåæçñíìîïóòôõøúùûÿ", nil},
	{"DOS 866", charmap.CodePage866, russian, unicode.Cyrillic},
}

// EncodingNames are the encodings that can be chosen.
func EncodingNames() []string {
	names := []string{"UTF-8", "UTF-16"}
	for _, e := range encodings {
		names = append(names, e.name)
	}
	return names
}

// encodingNamed finds an encoding by its name, however it is written: windows-1252, cp1252,
// latin1, shift_jis.
func encodingNamed(name string) *encodingEntry {
	bare := func(name string) string {
		return strings.NewReplacer("-", "", "_", "", " ", "", ".", "").Replace(strings.ToLower(name))
	}
	alias := map[string]string{
		"latin1":    "windows1252",
		"iso88591":  "windows1252",
		"ascii":     "windows1252",
		"cp850":     "dos850",
		"cp866":     "dos866",
		"ibm850":    "dos850",
		"ibm866":    "dos866",
		"macintosh": "macroman",
		"sjis":      "shiftjis",
		"cp932":     "shiftjis",
		"gb2312":    "gbk",
		"gb18030":   "gbk",
		"cp936":     "gbk",
		"cp949":     "euckr",
		"latin2":    "iso88592",
		"latin9":    "iso885915",
	}
	wanted := bare(name)
	if rest, found := strings.CutPrefix(wanted, "cp125"); found {
		wanted = "windows125" + rest
	}
	if other := alias[wanted]; other != "" {
		wanted = other
	}
	for i := range encodings {
		if bare(encodings[i].name) == wanted {
			return &encodings[i]
		}
	}
	return nil
}

// mostGuessed is how many bytes an encoding is guessed from: lines that hold letters beyond
// ASCII.
const mostGuessed = 1 << 16

// guessEncoding tells the encoding of a text that is not UTF-8 by the letters that it gives.
func guessEncoding(raw []byte) *encodingEntry {
	var telling []byte
	for line := range bytes.SplitSeq(raw, newline) {
		if bytes.ContainsFunc(line, func(r rune) bool { return r >= 0x80 || r == utf8.RuneError }) {
			telling = append(append(telling, line...), '\n')
		}
		if len(telling) > mostGuessed {
			break
		}
	}
	best, bestScore := &encodings[0], 0.0
	for i := range encodings {
		e := &encodings[i]
		decoded, err := e.coding.NewDecoder().Bytes(telling)
		if err != nil {
			continue
		}
		if score := e.score(decoded) - 0.001*float64(i); i == 0 || score > bestScore {
			best, bestScore = e, score
		}
	}
	return best
}

// usualSigns are signs beyond ASCII that stand in tables of every language.
const usualSigns = "°€£§©®²³¹½¼±×µ–—‘’“”„«»…•·′″\u00a0、。「」，・ー％（）،؛؟"

// score is how usual the signs of a text beyond ASCII are, on average: from −4 to 2.
func (e *encodingEntry) score(text []byte) float64 {
	sum, n, vowels, accents, kana := 0.0, 0, 0, 0, 0
	before, beforeBefore := rune(' '), rune(' ')
	for _, r := range string(text) {
		if r >= 0x80 {
			n++
			sum += e.value(r, before)
			if r == utf8.RuneError {
				sum -= 4
			}
			if unicode.IsLetter(r) && unicode.IsLetter(before) && scriptOf(r) != scriptOf(before) {
				sum -= 1.5
			}
			if e.script == nil && e.letters != "" && unicode.IsLetter(r) && unicode.IsLetter(before) && before >= 0x80 &&
				beforeBefore >= 0x80 {
				sum-- // Latin letters with accents seldom stand three in a row
			}
			if unicode.IsUpper(r) && unicode.IsLower(before) ||
				unicode.IsUpper(r) && unicode.IsUpper(before) && unicode.IsLower(beforeBefore) {
				sum--
			}
		} else if before >= 0x80 && unicode.IsLetter(r) {
			if unicode.IsUpper(before) && unicode.IsLower(beforeBefore) {
				sum--
			}
			if unicode.IsLetter(before) && scriptOf(before) != unicode.Latin {
				sum -= 1.5
			}
		}
		if unicode.In(r, unicode.Hiragana, unicode.Katakana) {
			kana++
		}
		if strings.ContainsRune("άέήίόύώ", r) {
			accents++
		}
		if e.script == unicode.Cyrillic && unicode.Is(unicode.Cyrillic, r) && strings.ContainsRune("аеиоуыэюяёіїє", unicode.ToLower(r)) {
			vowels++
		}
		beforeBefore, before = before, r
	}
	if n == 0 {
		return 0
	}
	if e.script == unicode.Hiragana && kana == 0 { // Japanese is not written without
		sum -= 0.5 * float64(n)
	}
	if e.script == unicode.Greek && 20*accents < n { // every longer word has an accent
		sum -= float64(n)
	}
	if e.script == unicode.Cyrillic && 5*vowels < n { // letters in no order of a language
		sum -= float64(n)
	}
	return sum / float64(n)
}

func (e *encodingEntry) value(r, before rune) float64 {
	lower := unicode.ToLower(r)
	switch {
	case e.letters != "" && strings.ContainsRune(e.letters, lower) || r == 'İ' && e.name == "Windows-1254":
		switch {
		case e.script == nil || !unicode.IsUpper(r) && !unicode.IsLower(r):
			return 2
		case unicode.IsLower(r): // most letters are small ones
			return 2.2
		}
		return 1.9
	case e.letters == "" && usualEastern(e, r):
		switch {
		case unicode.In(r, unicode.Hiragana, unicode.Katakana): // of one language alone
			return 2.3
		case e.script == unicode.Hangul: // a text of nothing but syllables is no chance
			return 2.1
		}
		return 2
	case strings.ContainsRune(usualSigns, r):
		if unicode.IsLetter(before) && r != '’' && r != '\u00a0' && r != '“' && r != '”' && r != '。' && r != '、' && r != 'ー' && r != '・' {
			return 0
		}
		return 1
	case unicode.IsLetter(r):
		return -0.5
	case unicode.IsControl(r):
		return -4
	}
	return -2
}

// usualEastern reports whether a sign is usual in a text of the encoding's language: kana,
// hangul, and the ideographs that stand first in the national lists.
func usualEastern(e *encodingEntry, r rune) bool {
	switch e.script {
	case unicode.Hiragana:
		return unicode.In(r, unicode.Hiragana, unicode.Katakana) && !(r >= 0xff61 && r <= 0xff9f) ||
			unicode.Is(unicode.Han, r) && usualIn(japanese.EUCJP, r, 0xb0, 0xcf)
	case unicode.Hangul:
		return unicode.Is(unicode.Hangul, r) && usualIn(korean.EUCKR, r, 0xb0, 0xc8)
	}
	if e.name == "Big5" {
		return unicode.Is(unicode.Han, r) && usualIn(traditionalchinese.Big5, r, 0xa4, 0xc6)
	}
	return unicode.Is(unicode.Han, r) && usualIn(simplifiedchinese.GBK, r, 0xb0, 0xd7)
}

// usualIn reports whether a sign stands in the first level of a national list, by its first
// byte.
func usualIn(coding encoding.Encoding, r rune, from, to byte) bool {
	coded, err := coding.NewEncoder().Bytes([]byte(string(r)))
	return err == nil && len(coded) == 2 && coded[0] >= from && coded[0] <= to &&
		(coding != simplifiedchinese.GBK && coding != korean.EUCKR || coded[1] >= 0xa1)
}

func scriptOf(r rune) *unicode.RangeTable {
	for _, script := range []*unicode.RangeTable{unicode.Latin, unicode.Cyrillic, unicode.Greek, unicode.Hebrew, unicode.Arabic,
		unicode.Hangul} {
		if unicode.Is(script, r) {
			return script
		}
	}
	return nil
}
