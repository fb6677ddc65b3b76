package page

import (
	"bytes"
	"fmt"
	"html"
	"io"
	"net/url"
	"strings"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	"github.com/yuin/goldmark/renderer"
	"github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"
)

// markdown reads CommonMark with tables. Raw HTML is written as text, pictures are left out (a page asks nobody for anything),
// links lead to web addresses alone, headings begin at the second level (the title has the first), and ties are
// spans with their marks.
var markdown = goldmark.New(
	goldmark.WithExtensions(extension.Table),
	goldmark.WithRendererOptions(renderer.WithNodeRenderers(util.Prioritized(ours{}, 1))),
)

// HTML writes Markdown as HTML that may stand in any page of ours.
func HTML(source string) string {
	var out bytes.Buffer
	if err := markdown.Convert([]byte(source), &out); err != nil {
		return "<p>" + html.EscapeString(source) + "</p>" // a bytes.Buffer does not fail
	}
	return out.String()
}

// Plain is a text without its marks: words, a line a paragraph.
func Plain(source string) string {
	var out strings.Builder
	bytesOf := []byte(source)
	document := markdown.Parser().Parse(text.NewReader(bytesOf))
	_ = ast.Walk(document, func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		switch n := n.(type) {
		case *ast.Text:
			if entering {
				out.Write(n.Segment.Value(bytesOf))
				if n.SoftLineBreak() || n.HardLineBreak() {
					out.WriteByte(' ')
				}
			}
		case *ast.String:
			if entering {
				out.Write(n.Value)
			}
		default:
			if !entering && n.Type() == ast.TypeBlock && !strings.HasSuffix(out.String(), "\n") {
				out.WriteByte('\n')
			}
		}
		return ast.WalkContinue, nil
	})
	return strings.TrimSpace(unescape(out.String()))
}

// Blocks walks the blocks of a text for whoever lays them out: what each is, and its words.
func Blocks(source string, each func(kind string, level int, words string)) {
	bytesOf := []byte(source)
	document := markdown.Parser().Parse(text.NewReader(bytesOf))
	_ = ast.Walk(document, func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		if !entering {
			return ast.WalkContinue, nil
		}
		kind, level := "", 0
		switch n := n.(type) {
		case *ast.Heading:
			kind, level = "heading", n.Level
		case *ast.Paragraph, *ast.TextBlock:
			kind = "paragraph"
			for p := n.Parent(); p != nil; p = p.Parent() {
				switch p.(type) {
				case *ast.ListItem:
					kind = "item"
					level++
				case *ast.Blockquote:
					kind = "quote"
				}
			}
		case *ast.CodeBlock, *ast.FencedCodeBlock:
			lines := n.Lines()
			var out strings.Builder
			for i := range lines.Len() {
				line := lines.At(i)
				out.Write(line.Value(bytesOf))
			}
			each("code", 0, out.String())
			return ast.WalkSkipChildren, nil
		default:
			return ast.WalkContinue, nil
		}
		each(kind, level, wordsOf(n, bytesOf))
		return ast.WalkSkipChildren, nil
	})
}

func wordsOf(n ast.Node, source []byte) string {
	var out strings.Builder
	_ = ast.Walk(n, func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		if t, is := n.(*ast.Text); is && entering {
			out.Write(t.Segment.Value(source))
			if t.SoftLineBreak() || t.HardLineBreak() {
				out.WriteByte(' ')
			}
		}
		return ast.WalkContinue, nil
	})
	return unescape(out.String())
}

// ours are the parts of Markdown that are written otherwise than usual.
type ours struct{}

func (ours) RegisterFuncs(register renderer.NodeRendererFuncRegisterer) {
	register.Register(ast.KindHTMLBlock, htmlAsText)
	register.Register(ast.KindRawHTML, rawAsText)
	register.Register(ast.KindImage, imageAsWords)
	register.Register(ast.KindLink, link)
	register.Register(ast.KindAutoLink, autoLink)
	register.Register(ast.KindHeading, heading)
}

func write(w io.Writer, format string, values ...any) { _, _ = fmt.Fprintf(w, format, values...) }

func htmlAsText(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
	if !entering {
		return ast.WalkContinue, nil
	}
	write(w, "<p>")
	lines := n.Lines()
	for i := range lines.Len() {
		line := lines.At(i)
		write(w, "%s", html.EscapeString(string(line.Value(source))))
	}
	if end := n.(*ast.HTMLBlock); end.HasClosure() {
		write(w, "%s", html.EscapeString(string(end.ClosureLine.Value(source))))
	}
	write(w, "</p>\n")
	return ast.WalkSkipChildren, nil
}

func rawAsText(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
	if entering {
		segments := n.(*ast.RawHTML).Segments
		for i := range segments.Len() {
			segment := segments.At(i)
			write(w, "%s", html.EscapeString(string(segment.Value(source))))
		}
	}
	return ast.WalkSkipChildren, nil
}

// imageAsWords writes what a picture is said to show: it would ask another host.
func imageAsWords(util.BufWriter, []byte, ast.Node, bool) (ast.WalkStatus, error) {
	return ast.WalkContinue, nil
}

// SafeLink gives the address of a link that may be followed: http, https or mailto; "" where it may not.
func SafeLink(address string) string {
	at, err := url.Parse(strings.TrimSpace(address))
	if err != nil || at.Scheme != "http" && at.Scheme != "https" && at.Scheme != "mailto" || at.Scheme != "mailto" && at.Host == "" {
		return ""
	}
	return at.String()
}

func link(w util.BufWriter, _ []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
	l := n.(*ast.Link)
	if key, tied := strings.CutPrefix(string(l.Destination), TieScheme); tied {
		switch {
		case !entering:
			write(w, "</span>")
		case string(l.Title) == Gone:
			write(w, `<span class="tie gone" data-key="%s" title="The chart no longer says this">`, html.EscapeString(key))
		case strings.HasPrefix(string(l.Title), Was):
			write(w, `<span class="tie changed" data-key="%s">`, html.EscapeString(key))
		default:
			write(w, `<span class="tie" data-key="%s">`, html.EscapeString(key))
		}
		return ast.WalkContinue, nil
	}
	address := SafeLink(string(l.Destination))
	switch {
	case address == "": // the words stay
	case entering:
		write(w, `<a href="%s" rel="noopener noreferrer nofollow">`, html.EscapeString(address))
	default:
		write(w, "</a>")
	}
	return ast.WalkContinue, nil
}

func autoLink(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
	if !entering {
		return ast.WalkContinue, nil
	}
	l := n.(*ast.AutoLink)
	address := string(l.URL(source))
	if l.AutoLinkType == ast.AutoLinkEmail {
		address = "mailto:" + address
	}
	label := html.EscapeString(string(l.Label(source)))
	if address = SafeLink(address); address == "" {
		write(w, "%s", label)
	} else {
		write(w, `<a href="%s" rel="noopener noreferrer nofollow">%s</a>`, html.EscapeString(address), label)
	}
	return ast.WalkContinue, nil
}

// heading writes a heading one level lower: the title of the page is the first.
func heading(w util.BufWriter, _ []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
	level := min(n.(*ast.Heading).Level+1, 6)
	if entering {
		write(w, "<h%d>", level)
	} else {
		write(w, "</h%d>\n", level)
	}
	return ast.WalkContinue, nil
}
