package reader

import (
	"bytes"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// What is no row is taken out of a text before it is read: a line that names the separator,
// comments, and what stands under the table. Texts that are divided by blanks or by the
// place of their letters become delimited ones.

// normalized is a text that is ready to be read; lines says which line of the file each of
// its lines is, nil where it is the same one.
type normalized struct {
	text      []byte
	lines     []int
	separator byte // 0: to be found out
	divided   string
}

// normalize takes out what is no row and divides lines that no separator divides.
func normalize(text []byte, options Options, report *Report) normalized {
	n := normalized{text: text, separator: options.Separator}
	if separator, rest := namedSeparator(text); separator != 0 {
		if n.separator == 0 {
			n.separator = separator
		}
		n.text = rest
		report.Note(1, "", "this line names the separator")
		n.lines = countedFrom(2, rest)
	}
	if options.TitleRow != 0 { // rows are counted as they stand in the file
		n.blanks(report)
		return n
	}
	if n.separator == 0 && n.marked(report) {
		return n
	}
	n.comments(report)
	n.blanks(report)
	n.below(options, report)
	return n
}

func countedFrom(first int, text []byte) []int {
	lines := make([]int, bytes.Count(text, newline)+1)
	for i := range lines {
		lines[i] = first + i
	}
	return lines
}

var sepLine = regexp.MustCompile(`^(?i:"?sep=(.)"?)[ \t]*\r?\n`)

// namedSeparator reads a first line such as sep=; and gives what follows it.
func namedSeparator(text []byte) (byte, []byte) {
	found := sepLine.FindSubmatchIndex(text[:min(len(text), 64)])
	if found == nil || found[3]-found[2] != 1 {
		return 0, text
	}
	return text[found[2]], text[found[1]:]
}

// line of the file that a line of the text is; both begin at 1.
func (n *normalized) line(i int) int {
	if n.lines != nil && i >= 1 && i <= len(n.lines) {
		return n.lines[i-1]
	}
	return i
}

// commentMarks begin lines that are no rows.
var commentMarks = []string{"#", "%", "//", "!"}

// mostScanned is how much of a text is looked at for comments.
const mostScanned = 1 << 20

// comments takes out lines that begin with a mark and are divided otherwise than the rows.
// A last comment that is divided like the rows, before the first row, is the row of titles.
func (n *normalized) comments(report *Report) {
	head := n.text[:min(len(n.text), mostScanned)]
	mark := ""
	for _, m := range commentMarks {
		if bytes.HasPrefix(head, []byte(m)) || bytes.Contains(head, []byte("\n"+m)) {
			mark = m
			break
		}
	}
	if mark == "" || bytes.IndexByte(head, '"') >= 0 && bytes.Contains(quotedBreaks(head), newline) {
		return
	}
	all := bytes.SplitAfter(n.text, newline)
	separator := n.separator
	if separator == 0 {
		separator = guessSeparator(n.text)
		if usualWidth(sample(head, separator)) < 2 {
			separator = ' '
		}
	}
	count := func(line []byte) int {
		if separator == ' ' {
			return len(bytes.Fields(line)) - 1
		}
		return bytes.Count(line, []byte{separator})
	}
	usual, begun := map[int]int{}, 0
	for _, line := range all[:min(len(all), sampleRecords)] {
		if bytes.HasPrefix(line, []byte(mark)) {
			begun++
		} else if len(bytes.TrimSpace(line)) > 0 {
			usual[count(line)]++
		}
	}
	width, most := 0, 0
	for w, times := range usual {
		if times > most || times == most && w > width {
			width, most = w, times
		}
	}
	if begun == 0 || most == 0 {
		return
	}
	n.takeOut(all, mark, width, count, report)
}

// takeOut leaves out the comments of a text whose rows have so many separators.
func (n *normalized) takeOut(all [][]byte, mark string, width int, count func([]byte) int, report *Report) {
	var kept [][]byte
	var lines []int
	titles := -1 // the last comment before the first row, if it is divided like one
	for i, line := range all {
		bare := bytes.TrimPrefix(line, []byte(mark))
		if len(bare) == len(line) {
			if len(bytes.TrimSpace(line)) > 0 {
				break
			}
			continue
		}
		titles = -1
		if w := count(bytes.TrimSpace(bare)); w == width && width > 0 && !hasNumber(bare) {
			titles = i
		}
	}
	firstRow := slices.IndexFunc(all, func(line []byte) bool {
		return len(bytes.TrimSpace(line)) > 0 && !bytes.HasPrefix(line, []byte(mark))
	})
	if titles >= 0 && firstRow >= 0 && !hasNumber(all[firstRow]) { // the first row is the titles
		titles = -1
	}
	for i, line := range all {
		switch {
		case i == titles:
			bare := bytes.TrimLeft(bytes.TrimPrefix(line, []byte(mark)), " ")
			kept, lines = append(kept, bare), append(lines, n.line(i+1))
		case bytes.HasPrefix(line, []byte(mark)) && (count(line) != width || i < firstRow && width == 0 || i < firstRow &&
			bytes.HasPrefix(line, []byte(mark+" "))):
			text := strings.TrimSpace(string(line))
			report.Note(n.line(i+1), "", "%q is a comment and was left out", clip(text))
			if i < firstRow && text != mark {
				if report.About != "" {
					report.About += "; "
				}
				report.About += clip(strings.TrimSpace(strings.TrimLeft(text, mark)))
			}
		default:
			kept, lines = append(kept, line), append(lines, n.line(i+1))
		}
	}
	if len(kept) < len(all) || titles >= 0 {
		n.text, n.lines = bytes.Join(kept, nil), lines
	}
}

func hasNumber(line []byte) bool {
	for _, field := range bytes.FieldsFunc(line, func(r rune) bool { return r == ',' || r == ';' || r == '\t' || r == '|' || r == ' ' }) {
		if isNumber(bytes.TrimSpace(field), '.') {
			return true
		}
	}
	return false
}

// quotedBreaks gives what stands inside double quotes: lines cannot be taken one by one
// where a field goes over several.
func quotedBreaks(text []byte) (inside []byte) {
	for i, part := range bytes.Split(text, []byte{'"'}) {
		if i%2 == 1 {
			inside = append(inside, part...)
		}
	}
	return inside
}

// footerWords begin lines that say something of the table they stand under.
var footerWords = []string{
	"source",
	"note",
	"notes",
	"n.b.",
	"footnote",
	"generated",
	"exported",
	"created",
	"downloaded",
	"printed",
	"report",
	"copyright",
	"©",
	"*",
	"†",
	"quelle",
	"fuente",
	"end of",
	"-- ",
}

// totalWords name rows that sum up the others, beside totalNames.
var totalWords = []string{"sum", "summe", "gesamt", "suma", "totaal", "totale"}

const mostFooters = 20

// below cuts off lines that stand under the table: they have one field where rows have
// several, and begin like a remark or stand behind an empty line.
func (n *normalized) below(options Options, report *Report) {
	separator := n.separator
	if separator == 0 {
		separator = guessSeparator(n.text)
	}
	if width := tableWidth(sample(n.text, separator)); width < 2 || options.KeepBelow {
		return
	}
	end := len(n.text)
	var notes []Remark
	remark := func(from, to int, blank bool) bool {
		line := bytes.TrimSpace(n.text[from:to])
		bare := strings.Trim(string(line), "\""+string(separator)+" ")
		if bytes.IndexByte(bytes.TrimRight(line, string(separator)), separator) >= 0 && !strings.HasPrefix(string(line), "\"") ||
			bare == "" ||
			isNumber([]byte(bare), '.') {
			return false
		}
		if strings.HasPrefix(string(line), "\"") && strings.Count(string(line), "\"") != 2 {
			return false
		}
		lower := strings.ToLower(bare)
		return blank || slices.ContainsFunc(footerWords, func(w string) bool { return strings.HasPrefix(lower, w) }) ||
			strings.HasPrefix(lower, "#")
	}
	for range mostFooters {
		body := bytes.TrimRightFunc(n.text[:end], unicode.IsSpace)
		from := bytes.LastIndexByte(body, '\n') + 1
		if from == 0 || !remark(from, len(body), blankBefore(n.text[:from])) {
			break
		}
		line := bytes.Count(body, newline) + 1
		notes = append(
			notes,
			Remark{Line: n.line(line), Message: clip(strings.Trim(string(bytes.TrimSpace(n.text[from:len(body)])), string(separator)))},
		)
		end = from
	}
	slices.Reverse(notes)
	for _, note := range notes {
		report.Note(note.Line, "", "%q stands under the table and was left out", note.Message)
		report.Offer(OfferBelow)
	}
	n.text = n.text[:end]
}

func blankBefore(text []byte) bool {
	text = bytes.TrimSuffix(bytes.TrimSuffix(text, newline), []byte{'\r'})
	from := bytes.LastIndexByte(text, '\n') + 1
	return from > 0 && len(bytes.Trim(text[from:], ",;\t| \r")) == 0
}

// blanks divides lines that are divided by blanks, or by the places where their letters
// stand, when no separator divides them.
func (n *normalized) blanks(report *Report) {
	if n.separator != 0 && n.separator != ' ' {
		return
	}
	if n.separator == 0 {
		guess := guessSeparator(n.text)
		if records := sample(n.text[:min(len(n.text), 1<<16)], guess); usualWidth(records) > 1 &&
			!(guess == ',' && worseThanBlanks(records)) {
			return
		}
	}
	lines := strings.Split(strings.TrimRight(strings.ReplaceAll(string(n.text), "\r\n", "\n"), "\n \t"), "\n")
	divide, how := dividing(lines[:min(len(lines), sampleRecords)], n.separator == ' ')
	if divide == nil {
		return
	}
	var out strings.Builder
	for _, line := range lines {
		for i, field := range divide(line) {
			if i > 0 {
				out.WriteByte('\t')
			}
			if strings.ContainsAny(field, "\t\"") {
				field = `"` + strings.ReplaceAll(field, `"`, `""`) + `"`
			}
			out.WriteString(field)
		}
		out.WriteByte('\n')
	}
	n.text, n.separator, n.divided = []byte(out.String()), '\t', how
}

// worseThanBlanks reports whether commas are decimal marks of values between blanks: in nearly all records what
// stands between blanks is mostly numbers with one comma, and nothing else has a comma.
func worseThanBlanks(records []record) bool {
	worse := 0
	for _, r := range records {
		words := strings.Fields(strings.Join(r.fields, ","))
		numbers, others := 0, 0
		for _, word := range words {
			switch {
			case decimalComma.MatchString(word):
				numbers++
			case strings.Contains(word, ","):
				others++
			}
		}
		switch {
		case others > 0:
			return false // here a comma divides
		case len(words) > 1 && 2*numbers > len(words), numbers == 0: // titles have none
			worse++
		}
	}
	return len(records) > 0 && 10*worse >= 9*len(records)
}

// decimalComma is a number with a decimal comma.
var decimalComma = regexp.MustCompile(`^[-+]?\d+,\d+$`)

// dividing finds a way to divide lines at blanks: every run of them where that gives rows
// of one length, else runs of two and more, else the columns in which no line has a letter.
func dividing(lines []string, said bool) (func(string) []string, string) {
	full := slices.DeleteFunc(slices.Clone(lines), func(line string) bool { return strings.TrimSpace(line) == "" })
	ways := []struct {
		name   string
		divide func(string) []string
	}{{"blanks", fieldsBetween(1)}, {"runs of blanks", fieldsBetween(2)}}
	if columns := fixedColumns(full); len(columns) > 1 {
		ways = append(ways, struct {
			name   string
			divide func(string) []string
		}{"fixed widths", func(line string) []string { return cutAt(line, columns) }})
	}
	for i := range 2 * len(ways) { // exactly first, then nearly
		way, exactly := ways[i%len(ways)], i < len(ways)
		records := make([]record, len(full))
		for i, line := range full {
			records[i] = record{fields: way.divide(line)}
		}
		width, agree := usualWidth(records), 0
		for i, r := range records {
			if len(r.fields) == width || len(r.fields) == width-1 && i == 0 {
				agree++
			}
		}
		if width > 1 && 10*agree >= 9*len(full) && (agree == len(full) || !exactly) &&
			(said || len(full) > 1 && numericColumns(records, width) > 0) {
			return way.divide, way.name
		}
	}
	return nil, ""
}

// numericColumns counts the columns that hold numbers or dates: prose has none.
func numericColumns(records []record, width int) (n int) {
	if len(records) < 2 {
		return 0
	}
	for _, decimal := range []byte{'.', ','} {
		found := 0
		for _, column := range columnsBelow(records[1:], width, decimal) {
			if kind := column.kind(); kind == aNumber || kind == aDate {
				found++
			}
		}
		n = max(n, found)
	}
	return n
}

// fieldsBetween divides at runs of at least so many blanks, or at a tab; quotes hold a
// field together.
func fieldsBetween(least int) func(string) []string {
	return func(line string) (fields []string) {
		var field strings.Builder
		run, quote := 0, false
		flush := func() {
			if text := strings.TrimSpace(field.String()); text != "" {
				fields = append(fields, text)
			}
			field.Reset()
		}
		for _, r := range line {
			switch {
			case r == '"':
				quote = !quote
				run = 0
			case !quote && (r == ' ' || r == '\t'):
				if run++; run >= least || r == '\t' {
					flush()
				} else {
					field.WriteRune(r)
				}
			default:
				run = 0
				field.WriteRune(r)
			}
		}
		flush()
		return fields
	}
}

// fixedColumns are the places at which columns begin: behind places that are blank in every
// line.
func fixedColumns(lines []string) (begins []int) {
	width := 0
	for _, line := range lines {
		width = max(width, utf8.RuneCountInString(line))
	}
	if len(lines) < 3 || width > 2000 {
		return nil
	}
	held := make([]bool, width)
	for _, line := range lines {
		at := 0
		for _, r := range line {
			held[at] = held[at] || r != ' '
			at++
		}
	}
	for i, is := range held {
		if is && (i == 0 || !held[i-1]) {
			begins = append(begins, i)
		}
	}
	return begins
}

func cutAt(line string, begins []int) []string {
	runes := []rune(line)
	fields := make([]string, len(begins))
	for i, from := range begins {
		to := len(runes)
		if i+1 < len(begins) {
			to = min(begins[i+1], len(runes))
		}
		if from < to {
			fields[i] = strings.TrimSpace(string(runes[from:to]))
		}
	}
	return fields
}
