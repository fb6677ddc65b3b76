package page

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"
)

func doc(title string, blocks ...string) *Contents {
	d := &Contents{Version: Version, Title: title, Blocks: []Block{}}
	for _, b := range blocks {
		id, text, _ := strings.Cut(b, ":")
		d.Blocks = append(d.Blocks, Block{ID: id, Text: text})
	}
	return d
}

func TestDocumentsThatCannotBeKeptAreRefused(t *testing.T) {
	good := doc("Honey", "a:one", "b:two")
	if err := good.Check(); err != nil {
		t.Fatal(err)
	}
	for name, spoil := range map[string]func(*Contents){
		"version":    func(d *Contents) { d.Version = 2 },
		"title":      func(d *Contents) { d.Title = strings.Repeat("é", MostTitle+1) },
		"lead":       func(d *Contents) { d.Lead = strings.Repeat("é", MostLead+1) },
		"twice":      func(d *Contents) { d.Blocks[1].ID = "a" },
		"id":         func(d *Contents) { d.Blocks[1].ID = `"><script>` },
		"long":       func(d *Contents) { d.Blocks[0].Text = strings.Repeat("x", MostText+1) },
		"place":      func(d *Contents) { d.Blocks[0].Place = "behind" },
		"chart":      func(d *Contents) { d.Blocks[0].Chart = &ShownChart{ID: -1} },
		"all blocks": func(d *Contents) { d.Blocks = make([]Block, MostBlocks+1) },
		"charts": func(d *Contents) {
			for i := range MostCharts {
				d.Blocks = append(d.Blocks, Block{ID: fmt.Sprint("c", i), Chart: &ShownChart{ID: 1}})
			}
			d.Blocks[0].Chart = &ShownChart{ID: 1}
		},
		"in all": func(d *Contents) {
			for i := range MostInAll / MostText {
				d.Blocks = append(d.Blocks, Block{ID: fmt.Sprint("t", i), Text: strings.Repeat("x", MostText)})
			}
		},
	} {
		bad := good.Clone()
		spoil(bad)
		if bad.Check() == nil {
			t.Errorf("%s: taken", name)
		}
	}
}

func TestMerging(t *testing.T) {
	base := doc("Honey", "a:one", "b:two", "c:three")
	axes := func(d *Contents) *Contents { d.SameAxes = true; return d }
	for name, c := range map[string]struct {
		mine, theirs, want *Contents
		kept               int
	}{
		"different blocks": {doc("Honey", "a:ONE", "b:two", "c:three"), doc("Mead", "a:one", "b:two", "c:THREE"),
			doc("Mead", "a:ONE", "b:two", "c:THREE"), 0},
		"one block": {doc("Honey", "a:mine", "b:two", "c:three"), doc("Honey", "a:theirs", "b:two", "c:three"),
			doc("Honey", "a:theirs", "a-2:mine", "b:two", "c:three"), 1},
		"taken out": {doc("Honey", "a:one", "c:three"), doc("Honey", "a:one", "b:two", "c:three"), doc("Honey", "a:one", "c:three"), 0},
		"all out":   {doc("Honey"), doc("Honey", "a:one", "b:two", "c:three"), doc("Honey"), 0},
		"out, written": {doc("Honey", "a:one", "c:three"), doc("Honey", "a:one", "b:more", "c:three"),
			doc("Honey", "a:one", "b:more", "c:three"), 0},
		"written, out": {doc("Honey", "a:one", "b:more", "c:three"), doc("Honey", "a:one", "c:three"),
			doc("Honey", "a:one", "b:more", "c:three"), 0},
		"both add": {doc("Honey", "a:one", "x:mine", "b:two", "c:three"), doc("Honey", "a:one", "b:two", "c:three", "y:theirs"),
			doc("Honey", "a:one", "x:mine", "b:two", "c:three", "y:theirs"), 0},
		"moved, written": {doc("Honey", "c:three", "a:one", "b:two"), doc("Honey", "a:one", "b:TWO", "c:three"),
			doc("Honey", "c:three", "a:one", "b:TWO"), 0},
		"axes, a title": {axes(doc("Honey", "a:one", "b:two", "c:three")), doc("Mead", "a:one", "b:two", "c:three"),
			axes(doc("Mead", "a:one", "b:two", "c:three")), 0},
		"two titles": {doc("Wax", "a:one", "b:two", "c:three"), doc("Mead", "a:one", "b:two", "c:three"),
			doc("Mead", "kept-2:Wax", "a:one", "b:two", "c:three"), 1},
	} {
		if got, kept := Merge(base, c.mine, c.theirs); !reflect.DeepEqual(got, c.want) || kept != c.kept {
			t.Errorf("%s: %+v, %d kept twice", name, got, kept)
		}
	}
}

// TestMergingLosesNothing writes at random from both sides: every word that either added is in what comes of it, a side that
// changed nothing is the other, and merging again changes nothing.
func TestMergingLosesNothing(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 2027))
	word := 0
	change := func(d *Contents) (added []string) {
		for range random.IntN(4) {
			word++
			text := fmt.Sprintf("word%d", word)
			switch at := random.IntN(len(d.Blocks)); random.IntN(5) {
			case 0:
				d.Blocks[at].Text, added = text, append(added, text)
			case 1:
				d.Blocks = slices.Insert(d.Blocks, at, Block{ID: text, Text: text})
				added = append(added, text)
			case 2:
				d.Title, added = text, append(added, text)
			case 3:
				b := d.Blocks[at]
				d.Blocks = slices.Insert(slices.Delete(d.Blocks, at, at+1), random.IntN(len(d.Blocks)), b)
			default:
				d.Blocks[at].Chart = &ShownChart{ID: int64(word)}
			}
		}
		return slices.DeleteFunc(added, func(w string) bool { // what the same hand wrote over
			return d.Title != w && !slices.ContainsFunc(d.Blocks, func(b Block) bool { return b.Text == w })
		})
	}
	for range 3000 {
		base := doc("Honey", "a:one", "b:two", "c:three", "d:four")
		mine, theirs := base.Clone(), base.Clone()
		added := append(change(mine), change(theirs)...)
		got, _ := Merge(base, mine, theirs)
		if err := got.Check(); err != nil {
			t.Fatal(err)
		}
		all := fmt.Sprint(got)
		for _, w := range added {
			if !strings.Contains(all, w) {
				t.Fatalf("%s is lost:\n%v\n%v\n%v", w, mine, theirs, got)
			}
		}
		for _, side := range []*Contents{mine, theirs} {
			for _, b := range side.Blocks {
				if b.Chart != nil && !slices.ContainsFunc(got.Blocks, func(o Block) bool { return sameChart(o.Chart, b.Chart) }) {
					t.Fatalf("chart %d is lost:\n%v\n%v\n%v", b.Chart.ID, mine, theirs, got)
				}
			}
		}
		if alone, _ := Merge(base, mine, base); !reflect.DeepEqual(alone, mine) {
			t.Fatalf("nobody else wrote, and %v became %v", mine, alone)
		}
		if alone, _ := Merge(base, base, theirs); !reflect.DeepEqual(alone, theirs) {
			t.Fatalf("nobody but they wrote, and %v became %v", theirs, alone)
		}
		if again, _ := Merge(got, got, got); !reflect.DeepEqual(again, got) {
			t.Fatalf("%v became %v", got, again)
		}
	}
}

func TestWordsFollowTheirChart(t *testing.T) {
	text := "Yield [falls by 7.0 kg](reading:k1.1) and [holds](reading:k2)."
	for _, step := range []struct {
		said    map[string]string
		want    string
		changes []TieChange
	}{
		{map[string]string{"k1.1": "falls by 7.0 kg", "k2": "holds"}, text, nil},
		{map[string]string{"k1.1": "rises by 2 [kg]", "k2": "holds"},
			`Yield [rises by 2 \[kg\]](reading:k1.1 "was: falls by 7.0 kg") and [holds](reading:k2).`,
			[]TieChange{{Was: "falls by 7.0 kg", Now: "rises by 2 [kg]"}}},
		{map[string]string{"k1.1": "rises by 3 kg"},
			`Yield [rises by 3 kg](reading:k1.1 "was: falls by 7.0 kg") and [holds](reading:k2 "gone").`,
			[]TieChange{{Was: "rises by 2 [kg]", Now: "rises by 3 kg"}, {Was: "holds"}}},
		{map[string]string{"k1.1": "falls by 7.0 kg", "k2": "holds"}, text, []TieChange{{Was: "rises by 3 kg", Now: "falls by 7.0 kg"}}},
	} {
		got, changes := Follow(text, step.said)
		if got != step.want || !reflect.DeepEqual(changes, step.changes) {
			t.Errorf("%v:\n%s\n%v", step.said, got, changes)
		}
		text = got
	}
	if got := Noted("It [falls](reading:k1). [b](reading:k2) *as it is*", map[string]string{"k1": "rises"}); got !=
		"It rises. b (the chart no longer says this) *as it is*" {
		t.Errorf("noted: %s", got)
	}
	if got := Words(`a [b \& c](reading:k1) *d*`); got != "a b & c *d*" {
		t.Errorf("words: %s", got)
	}
	if got := Untied(text); got != "Yield falls by 7.0 kg and holds." {
		t.Errorf("untied: %s", got)
	}
	if got := Ties(`[a \[b\]](reading:k1 "was: \"c\"")`); !reflect.DeepEqual(got, []Tie{{"k1", "a [b]", `was: "c"`}}) {
		t.Errorf("%+v", got)
	}
}

func TestMarkdownAsHTML(t *testing.T) {
	for source, want := range map[string]string{
		"## Inside\n\nIt *rises*.":              "<h3>Inside</h3>\n<p>It <em>rises</em>.</p>\n",
		"<script>alert(1)</script>":             "<p>&lt;script&gt;alert(1)&lt;/script&gt;</p>\n",
		"a <img src=x onerror=alert(1)> b":      "<p>a &lt;img src=x onerror=alert(1)&gt; b</p>\n",
		"![hives](https://elsewhere.example/x)": "<p>hives</p>\n",
		"[go](javascript:alert(1))":             "<p>go</p>\n",
		"[go](//elsewhere.example)":             "<p>go</p>\n",
		"[go](https:elsewhere)":                 "<p>go</p>\n",
		"[go](data:text/html,x)":                "<p>go</p>\n",
		"<javascript:alert(1)>":                 "<p>javascript:alert(1)</p>\n",
		"[go](https://valley.example/a?b=1&c=2)": `<p><a href="https://valley.example/a?b=1&amp;c=2" ` +
			`rel="noopener noreferrer nofollow">go</a></p>` + "\n",
		`it [falls](reading:k1.1)`: `<p>it <span class="tie" data-key="k1.1">falls</span></p>` + "\n",
		`it [falls](reading:k1 "gone")`: `<p>it <span class="tie gone" data-key="k1" ` +
			`title="The chart no longer says this">falls</span></p>` + "\n",
		`it [falls](reading:k1 "was: rises")`: `<p>it <span class="tie changed" data-key="k1">falls</span></p>` + "\n",
	} {
		if got := HTML(source); got != want {
			t.Errorf("%s\n%s", source, got)
		}
	}
	if got := Plain("# Inside\n\nIt *rises*, [by 9 kg](reading:k1).\n\n- one\n- two"); got != "Inside\nIt rises, by 9 kg.\none\ntwo" {
		t.Errorf("%q", got)
	}
}

var allowed = regexp.MustCompile(`^(?:<(?:/?(?:p|em|strong|code|pre|ul|ol|li|blockquote|table|thead|tbody|tr|h[2-6]|a|span)|hr|br|` +
	`(?:th|td)(?: style="text-align:\w+")?|/th|/td|ol start="\d+"|code class="language-[^"<>]*"|` +
	`a href="(?:https?|mailto):[^"<>]*" rel="noopener noreferrer nofollow"|` +
	`span class="tie[a-z ]*" data-key="[^"<>]*"(?: title="[^"<>]*")?)(?: /)?>|[^<])*$`)

func FuzzHTMLHoldsNothingButMarkdown(f *testing.F) {
	for _, seed := range []string{"# a\n\n<b>x</b>", "[a](javascript:x)", "|a|b|\n|-|:-:|\n|1|2|", "```<x>\ny\n```", "<a\nhref=x>",
		"[x](reading:\"><script>)",
		"3. a\n4. b", "&lt;script&gt;", "[a]: javascript:x\n[a]", "<https://a.example/\"onmouseover=x>"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, source string) {
		if got := HTML(source); !allowed.MatchString(got) {
			t.Errorf("%q became %q", source, got)
		}
		_, _ = Plain(source), Ties(source)
		if source != "" && utf8.ValidString(source) && strings.TrimSpace(source) == source && !strings.ContainsAny(source, "\n\r") {
			if tied := Ties("[" + Escape(source) + "](reading:k)"); len(tied) != 1 || tied[0].Text != source {
				t.Errorf("%q came back as %v", source, tied)
			}
		}
	})
}
