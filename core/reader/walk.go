package reader

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strings"

	"copperlark/core/parallel"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// building holds one read of a file. The first rows tell how each column is tried:
// as numbers, as dates, or as texts that are told apart by codes, which can become
// anything afterwards. The text is cut into stretches of whole records, one a core;
// a column that turns out otherwise is read again in another walk.
type building struct {
	text     []byte
	layout   layout
	names    []string
	report   *Report
	progress func(done, total int64)
	measured bool
	// What a person said of columns: number or text, by name; and of dates that can be read
	// two ways.
	wanted     map[string]string
	monthFirst bool
	leaveSum   bool
	records    bool
	stretch    int // bytes from which a text is cut; for tests
}

// stretch is a part of the text that one core walks over.
type stretch struct {
	text   []byte
	first  int // records before the rows
	pieces []*piece
	bound  int // rows, if every line is one
	rows   int
	lines  int
	notes  Report
	totals []int    // the lines of rows that sum up others, the first mostTotals
	labels []string // what these rows say that they are
	summed int      // how many there are
}

// mostTotals is how many rows that sum up others are told one by one; more than one row in totalShare are none.
const mostTotals, totalShare = 10, 2

// ragSlack bounds how much larger than the file a table of mostly empty rows may
// become: a file in which every cell is written has a separator for each.
const ragSlack = 100_000

// blankFree is how many cells a table may have, however many of them are blank. Of one with more, a cell must be
// longer than a separator: the memory that columns take is that of their cells, not of the file.
const blankFree = 4_000_000

// nearlyBlank refuses a table of so many cells that a text of so many bytes holds.
func nearlyBlank(cells, bytes int) error {
	if cells <= blankFree || 2*bytes >= 3*cells {
		return nil
	}
	return &Error{
		Problem: fmt.Sprintf("the table has %d million cells, and nearly all of them are blank", (cells+500_000)/1_000_000),
		Advice:  "take out the columns and rows that hold nothing, and bring it again",
	}
}

// parallelBytes is the size from which a text is read on all cores.
const parallelBytes = 1 << 18

func (b *building) columns(ctx context.Context) ([]*table.Column, error) {
	columns := make([]*table.Column, len(b.names))
	tried := b.attempts()
	for i, name := range b.names {
		columns[i] = &table.Column{Name: name}
	}
	for walk := 0; ; walk++ {
		stretches, err := b.walk(ctx, tried, walk)
		if err != nil {
			return nil, err
		}
		if walk == 0 {
			b.widthNotes(stretches)
			b.totalNotes(stretches)
		}
		again := false
		for i, c := range columns {
			if tried[i].attempt == settled {
				continue
			}
			next := b.settle(c, merged(stretches, i))
			for _, s := range stretches {
				s.pieces[i] = nil
			}
			tried[i] = piece{attempt: next, final: next == asNumbers, times: b.times(c.Name)}
			again = again || next != settled
		}
		if !again {
			return columns, nil
		}
	}
}

// attempts looks at the first rows of each column.
func (b *building) attempts() []piece {
	tried := make([]piece, len(b.names))
	records := sample(b.text, b.layout.separator)
	records = records[min(b.layout.firstData, len(records)):]
	for i := range tried {
		numbers, others := 0, 0
		var texts []string
		dates := piece{dates: anyForm()}
		for _, r := range records {
			if i >= len(r.fields) || isMissing([]byte(r.fields[i])) || isMark([]byte(r.fields[i])) {
				continue
			}
			field := []byte(r.fields[i])
			if i < len(b.names) && isHidden(r.fields[i]) {
				continue
			}
			if isNumber(field, b.layout.decimal) {
				numbers++
				continue
			}
			others++
			dates.tryDates(field)
			texts = append(texts, r.fields[i])
		}
		tried[i].attempt = asTexts
		form, isDate := dates.dateForm(b.monthFirst)
		switch {
		case b.wanted[b.names[i]] == string(OfferText):
		case b.asNumber(b.names[i]):
			tried[i].attempt, tried[i].final, tried[i].times = asNumbers, true, b.times(b.names[i])
		case numbers > 0 && others*10 <= numbers:
			tried[i].attempt = asNumbers
		case isDate && others > 0 && numbers == 0 && (form != yearMonth || !areSeasons(texts) || b.wanted[b.names[i]] == string(OfferDate)):
			tried[i].attempt, tried[i].form = asDates, form
		}
	}
	return tried
}

// walk reads the columns that are tried. When a cut turned out to be inside a quoted
// field, the whole is read in one stretch.
func (b *building) walk(ctx context.Context, tried []piece, walk int) ([]*stretch, error) {
	stretches := b.cut()
	err := b.walkAll(ctx, stretches, tried, walk)
	var mistake *Error
	if errors.As(err, &mistake) && len(stretches) > 1 {
		stretches = []*stretch{{text: b.text, first: b.layout.firstData}}
		err = b.walkAll(ctx, stretches, tried, walk)
	}
	if err != nil {
		return nil, err
	}
	rows, lines := 0, 0
	for _, s := range stretches {
		for _, p := range s.pieces {
			if p != nil {
				for i := range p.firstBad {
					p.firstBad[i].line += lines
				}
			}
		}
		for i := range s.notes.Notes {
			s.notes.Notes[i].Line += lines
		}
		for i := range s.totals {
			s.totals[i] += lines
		}
		rows, lines = rows+s.rows, lines+s.lines
	}
	if rows == 0 {
		return nil, noRows
	}
	return stretches, nil
}

var noRows = &Error{Line: 1, Problem: "the file has a title row and no rows of values", Advice: "check that the whole table was exported"}

// cut divides the text behind line ends. A stretch that ends inside quotes leaves
// them open, which is an error of its scanner: so a wrong cut is always noticed.
func (b *building) cut() []*stretch {
	least := b.stretch
	if least == 0 {
		least = parallelBytes
	}
	parts := max(1, min(runtime.GOMAXPROCS(0), len(b.text)/least))
	if b.stretch > 0 {
		parts = max(1, len(b.text)/least)
	}
	var stretches []*stretch
	from := 0
	for part := 1; part <= parts; part++ {
		to := len(b.text)
		if part < parts {
			to = max(from, len(b.text)*part/parts)
			end := bytes.IndexByte(b.text[to:], '\n')
			if end < 0 {
				to = len(b.text)
			} else {
				to += end + 1
			}
		}
		if to > from {
			stretches = append(stretches, &stretch{text: b.text[from:to]})
		}
		from = to
	}
	stretches[0].first = b.layout.firstData
	return stretches
}

func (b *building) walkAll(ctx context.Context, stretches []*stretch, tried []piece, walk int) error {
	total := 0
	for _, s := range stretches {
		s.bound = max(bytes.Count(s.text, newline), bytes.Count(s.text, []byte{'\r'}))
		if len(s.text) > 0 && s.text[len(s.text)-1] != '\n' && s.text[len(s.text)-1] != '\r' {
			s.bound++
		}
		s.bound = max(s.bound-s.first, 0)
		total += s.bound
		s.pieces = make([]*piece, len(tried))
	}
	if err := nearlyBlank(total*len(tried), len(b.text)); err != nil {
		return err
	}
	for j, t := range tried {
		if t.attempt != settled {
			divide(stretches, j, t, total)
		}
	}
	errs := make([]error, len(stretches))
	var walks parallel.Group
	for i, s := range stretches {
		progress := func(int) {}
		if b.progress != nil && i == 0 && walk == 0 {
			progress = func(position int) { b.progress(int64(position)*int64(len(stretches)), int64(len(b.text))) }
		}
		walks.Go(func() error {
			errs[i] = b.walkStretch(ctx, s, walk == 0, progress)
			return nil
		})
	}
	_ = walks.Wait() // the errors are in their places
	return errors.Join(errs...)
}

// divide gives each stretch its part of the memory of a column, as long as it has
// lines: where every line is a row, the parts are the column when they are filled.
func divide(stretches []*stretch, column int, tried piece, total int) {
	var numbers []float64
	var codes []int32
	if tried.attempt == asTexts {
		codes = make([]int32, total)
	} else {
		numbers = make([]float64, total)
	}
	from := 0
	for _, s := range stretches {
		p := tried
		p.signs, p.dates, p.low, p.high, p.decimals = map[string]int{}, anyForm(), math.Inf(1), math.Inf(-1), undecided
		to := from + s.bound
		if tried.attempt == asTexts {
			p.coder, p.codes = table.NewCoder(), codes[from:from:to]
		} else {
			p.numbers = numbers[from:from:to]
		}
		from = to
		p.allNumbers, p.allCodes = numbers, codes
		s.pieces[column] = &p
	}
}

// joined gives the parts of a column as one: without copying where they lie one after
// the other in their memory.
func joined[T any](memory []T, parts func(i int) []T, n int) []T {
	rows, adjacent := 0, true
	for i := range n {
		part := parts(i)
		adjacent = adjacent && (len(part) == 0 || rows < len(memory) && &part[0] == &memory[rows])
		rows += len(part)
	}
	if adjacent {
		return memory[:rows]
	}
	whole := make([]T, 0, rows)
	for i := range n {
		whole = append(whole, parts(i)...)
	}
	return whole
}

func (b *building) walkStretch(ctx context.Context, s *stretch, first bool, progress func(position int)) error {
	scan := newScanner(s.text, b.layout.separator)
	for range s.first {
		more, err := scan.next()
		if err != nil {
			return err
		}
		if !more {
			return noRows
		}
	}
	for ; ; s.rows++ {
		if s.rows%4096 == 0 {
			if err := ctx.Err(); err != nil {
				return err
			}
			progress(scan.position)
		}
		more, err := scan.next()
		if err != nil {
			return err
		}
		if !more {
			s.lines = scan.nextLine - 1
			return nil
		}
		if s.passesOver(scan, first, b) {
			s.rows-- // of the loop
			continue
		}
		if cells := (s.rows + 1) * len(b.names); cells > len(s.text)+ragSlack {
			return &Error{
				Line:    scan.line,
				Problem: fmt.Sprintf("the title row has %d names and most rows have far fewer values", len(b.names)),
				Advice:  "choose another separator or title row",
			}
		}
		for column, p := range s.pieces {
			if p == nil {
				continue
			}
			var field []byte
			if column < len(scan.fields) {
				field = trim(scan.fields[column])
				if n := len(field); b.layout.singleQuotes && n > 1 && field[0] == '\'' && field[n-1] == '\'' {
					field = field[1 : n-1]
				}
			}
			p.take(field, scan.line, b)
		}
		if first {
			s.noteWidth(scan, len(b.names))
		}
	}
}

// passesOver reports whether a record is no row: every field of it is blank, or it sums up others and is to be
// left out.
func (s *stretch) passesOver(scan *scanner, first bool, b *building) bool {
	if !b.records && len(scan.fields) > 1 && !slices.ContainsFunc(scan.fields, func(field []byte) bool { return len(trim(field)) > 0 }) {
		if first {
			s.notes.Note(scan.line, "", "the row holds nothing and was left out")
		}
		return true
	}
	if !isTotal(scan.fields) {
		return false
	}
	if first {
		if s.summed++; len(s.totals) < mostTotals {
			s.totals, s.labels = append(s.totals, scan.line), append(s.labels, labelOf(scan.fields))
		}
	}
	return b.leaveSum
}

// totalNotes tells of rows that sum up others, where they are few.
func (b *building) totalNotes(stretches []*stretch) {
	rows, summed := 0, 0
	var lines []int
	var labels []string
	for _, s := range stretches {
		rows, summed, lines, labels = rows+s.rows, summed+s.summed, append(lines, s.totals...), append(labels, s.labels...)
	}
	for i, label := range labels { // one that stands there again and again is a value
		if slices.Contains(labels[:i], label) && !strings.HasPrefix(label, "sub") {
			return
		}
	}
	if b.leaveSum {
		rows += summed
	}
	if summed == 0 || len(b.names) < 2 || summed*totalShare > rows && summed > 1 {
		return
	}
	for _, line := range lines[:min(len(lines), mostTotals)] {
		if b.leaveSum {
			b.report.Note(line, "", "this row sums up others and was left out")
			continue
		}
		b.report.Note(line, "", "this row looks like a sum of others")
		b.report.Offer(OfferSum)
	}
	if more := summed - mostTotals; more > 0 {
		b.report.Note(0, "", "%s more look like sums of others", scale.Counted(more, "row"))
	}
}

func trim(field []byte) []byte {
	if len(field) > 0 && (field[0] <= ' ' || field[len(field)-1] <= ' ' || field[0] >= 0x80 || field[len(field)-1] >= 0x80) {
		return bytes.TrimSpace(field)
	}
	return field
}

func (s *stretch) noteWidth(scan *scanner, want int) {
	if got := len(scan.fields); got < want {
		s.notes.Note(scan.line, "", "the row has %d of %d values; the rest is missing", got, want)
	} else if got > want {
		for _, extra := range scan.fields[want:] {
			if len(bytes.TrimSpace(extra)) > 0 {
				s.notes.Note(scan.line, "", "the row has %d values for %d columns; from %q on it was left out", got, want, clip(string(extra)))
				return
			}
		}
	}
}

func (b *building) widthNotes(stretches []*stretch) {
	for _, s := range stretches {
		b.report.join(&s.notes)
	}
}
