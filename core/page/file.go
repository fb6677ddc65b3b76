package page

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// A page as a file is Markdown: its title is the heading of the first level that it begins with, what stands under the title the
// paragraph after that. A fenced block whose language is lark is a chart: what follows on the line is the dataset that it draws,
// by name, then in round brackets where it stands beside its text, and the lines are its sentence. "chart 12" and "chart 12 step 40"
// in place of a dataset show one that is kept. The text before a chart is its text; a line of three hyphens ends a block that has
// none. Words in double square brackets are put in by whoever reads the file: the statement of the chart's reading that holds them.
const fence = "```"

// fences begin and end what stands as it is typed.
var fences = []string{fence, "~~~"}

// Part is a block of a page in a file.
type Part struct {
	Text    string
	Dataset string // of its chart, by name
	Typed   string // its sentence
	Shown   *ShownChart
	Place   string
	Line    int // where its chart begins, from 1
}

// File is a page as a file says it.
type File struct {
	Title, Lead string
	Parts       []Part
}

var (
	placed  = regexp.MustCompile(`\s*\((right|left|below|above)\)$`)
	byChart = regexp.MustCompile(`^chart (\d+)(?: step (\d+))?$`)
)

// Read reads a page from a file; mistakes name the line.
func Read(source string) (*File, error) {
	f := &File{}
	lines := strings.Split(strings.ReplaceAll(source, "\r\n", "\n"), "\n")
	at := 0
	for at < len(lines) && strings.TrimSpace(lines[at]) == "" {
		at++
	}
	if at < len(lines) && strings.HasPrefix(lines[at], "# ") {
		f.Title = Plain(strings.TrimPrefix(lines[at], "# "))
		at++
		f.Lead, at = lead(lines, at)
	}
	var text []string
	end := func(p Part) {
		p.Text = strings.TrimSpace(strings.Join(text, "\n"))
		text = nil
		if p.Text != "" || p.Typed != "" || p.Shown != nil {
			f.Parts = append(f.Parts, p)
		}
	}
	for other := ""; at < len(lines); at++ {
		line := lines[at]
		trimmed := strings.TrimSpace(line)
		marks := trimmed[:min(len(trimmed), len(fence))]
		info, isChart := strings.CutPrefix(trimmed, marks+"lark")
		switch {
		case other != "":
			if strings.HasPrefix(trimmed, other) {
				other = ""
			}
			text = append(text, line)
		case isChart && slices.Contains(fences, marks) && (info == "" || info[0] == ' '):
			p, next, err := chartPart(lines, at, marks, strings.TrimSpace(info))
			if err != nil {
				return nil, err
			}
			end(p)
			at = next
		case slices.Contains(fences, marks):
			other = marks
			text = append(text, line)
		case trimmed == "---":
			end(Part{})
		default:
			text = append(text, line)
		}
	}
	end(Part{})
	return f, nil
}

// lead is the paragraph under the title, where there is one.
func lead(lines []string, at int) (words string, next int) {
	next = at
	for next < len(lines) && strings.TrimSpace(lines[next]) == "" {
		next++
	}
	var said []string
	for ; next < len(lines) && strings.TrimSpace(lines[next]) != ""; next++ {
		line := strings.TrimSpace(lines[next])
		if len(said) == 0 && (strings.HasPrefix(line, "#") || strings.HasPrefix(line, fence) || line == "---" || strings.HasPrefix(line, "- ") ||
			strings.HasPrefix(line, "* ") || strings.HasPrefix(line, ">")) {
			return "", at
		}
		said = append(said, line)
	}
	return Plain(strings.Join(said, " ")), next
}

// chartPart reads a chart from its fence on; next is the line that ends it.
func chartPart(lines []string, at int, marks, info string) (p Part, next int, err error) {
	p.Line = at + 1
	if m := placed.FindStringSubmatch(info); m != nil {
		p.Place, info = m[1], strings.TrimSpace(info[:len(info)-len(m[0])])
	}
	next = slices.IndexFunc(lines[at+1:], func(line string) bool { return strings.TrimSpace(line) == marks })
	if next < 0 {
		return p, 0, &Problem{fmt.Sprintf("line %d: the chart that begins here has no end", at+1), "end it with a line of " + marks}
	}
	p.Typed = strings.TrimSpace(strings.Join(lines[at+1:at+1+next], "\n"))
	if m := byChart.FindStringSubmatch(info); m != nil {
		id, _ := strconv.ParseInt(m[1], 10, 64)
		step, _ := strconv.ParseInt(m[2], 10, 64)
		p.Shown, p.Typed = &ShownChart{id, step}, ""
		return p, at + 1 + next, nil
	}
	switch p.Dataset = info; {
	case info == "":
		err = &Problem{fmt.Sprintf("line %d: the chart does not say which dataset it draws", at+1),
			"write its name behind lark: " + fence + "lark Hive seasons"}
	case p.Typed == "":
		err = &Problem{fmt.Sprintf("line %d: the chart says nothing", at+1), "write its sentence between the backticks"}
	}
	return p, at + 1 + next, err
}

// Markdown writes a page as a file; charts give the dataset and the sentence of each chart that is shown.
func (d *Contents) Markdown(charts func(ShownChart) (dataset, typed string, known bool)) string {
	var out strings.Builder
	fmt.Fprintf(&out, "# %s\n", Escape(d.Title))
	if d.Lead != "" {
		fmt.Fprintf(&out, "\n%s\n", Escape(d.Lead))
	}
	for i, b := range d.Blocks {
		if text := strings.TrimSpace(b.Text); text != "" {
			lines := strings.Split(text, "\n")
			for j, line := range lines {
				if strings.TrimSpace(line) == "---" {
					lines[j] = "***"
				}
			}
			fmt.Fprintf(&out, "\n%s\n", strings.Join(lines, "\n"))
		}
		if b.Chart == nil {
			if i < len(d.Blocks)-1 {
				out.WriteString("\n---\n")
			}
			continue
		}
		place := ""
		if b.Place != "" && b.Place != Places[0] {
			place = " (" + b.Place + ")"
		}
		dataset, typed, known := charts(*b.Chart)
		switch {
		case known && b.Chart.Step == 0:
			fmt.Fprintf(&out, "\n%slark %s%s\n%s\n%s\n", fence, dataset, place, strings.TrimSpace(typed), fence)
		case b.Chart.Step != 0:
			fmt.Fprintf(&out, "\n%slark chart %d step %d%s\n%s\n", fence, b.Chart.ID, b.Chart.Step, place, fence)
		default:
			fmt.Fprintf(&out, "\n%slark chart %d%s\n%s\n", fence, b.Chart.ID, place, fence)
		}
	}
	return out.String()
}

var wanted = regexp.MustCompile(`\[\[([^\[\]\n]{1,200})\]\]`)

// PutIn puts the statement of a reading in the place of words in double brackets: the shortest one that holds them, tied. Words that
// no statement holds are given as missing.
func PutIn(text string, said map[string]string) (put string, missing []string) {
	put = wanted.ReplaceAllStringFunc(text, func(written string) string {
		words := strings.Trim(written, "[]")
		key, found := "", ""
		for k, statement := range said {
			if strings.Contains(statement, words) && (key == "" || len(statement) < len(found) || len(statement) == len(found) && k < key) {
				key, found = k, statement
			}
		}
		if key == "" {
			missing = append(missing, words)
			return Escape(words)
		}
		return Tied(key, found)
	})
	return put, missing
}
