package formula

import (
	"fmt"
	"strconv"
	"strings"

	"copperlark/core/words"
)

// node is a part of an expression, with the place where it stands.
type node struct {
	op       string // see eval.go
	text     string // of a literal, a column, a cast
	number   float64
	args     []*node
	own      int       // of a function within groups or over rows: how many of the arguments are its own
	over     *overSpec // nil: it is not said to work over rows
	from, to int
}

// Formula is an expression that was read.
type Formula struct {
	Text string
	root *node
}

// maxDepth bounds how deep an expression nests, maxLength how long it is.
const (
	maxDepth  = 200
	maxLength = 10_000
)

// Parse reads an expression. The error is an *Error with its place.
func Parse(text string) (*Formula, error) {
	if len(text) > maxLength {
		return nil, &Error{
			0,
			1,
			fmt.Sprintf("the expression is longer than %d characters", maxLength),
			"work out a part of it as a column of its own",
		}
	}
	tokens, mistake := lex(text)
	if mistake != nil {
		return nil, mistake
	}
	p := &parser{tokens: tokens}
	root := p.or()
	if p.mistake == nil && p.here().kind != endToken {
		p.fail(p.here(), fmt.Sprintf("%s is not expected here", p.here().text), "put an operator such as + or and before it")
	}
	if p.mistake != nil {
		return nil, p.mistake
	}
	return &Formula{text, root}, nil
}

// Columns lists the columns that the expression names, each once.
func (f *Formula) Columns() []string {
	var names []string
	seen := map[string]bool{}
	f.root.walk(func(n *node) {
		if n.op == "column" && !seen[n.text] {
			seen[n.text] = true
			names = append(names, n.text)
		}
	})
	return names
}

// Name is the column that the whole expression is; empty when it is more than one name.
func (f *Formula) Name() string {
	if f.root.op == "column" {
		return f.root.text
	}
	return ""
}

func (n *node) walk(visit func(*node)) {
	visit(n)
	for _, a := range n.args {
		a.walk(visit)
	}
}

type parser struct {
	tokens   []token
	position int
	depth    int
	mistake  *Error
}

func (p *parser) here() token { return p.tokens[p.position] }

func (p *parser) advance() token {
	t := p.here()
	if t.kind != endToken {
		p.position++
	}
	return t
}

func (p *parser) fail(t token, message, advice string) *node {
	if p.mistake == nil {
		p.mistake = &Error{t.from, t.to, message, advice}
	}
	return &node{op: "null", from: t.from, to: t.to}
}

func (p *parser) take(words ...string) bool {
	for i, word := range words {
		if p.position+i >= len(p.tokens) || !p.tokens[p.position+i].is(word) {
			return false
		}
	}
	p.position += len(words)
	return true
}

func (p *parser) takeSign(sign string) bool {
	if p.here().sign(sign) {
		p.position++
		return true
	}
	return false
}

func (p *parser) needSign(sign, example string) {
	if !p.takeSign(sign) {
		p.fail(p.here(), fmt.Sprintf("expected %s", sign), "say it like this: "+example)
	}
}

func (p *parser) needWord(word, example string) {
	if !p.take(word) {
		p.fail(p.here(), fmt.Sprintf("expected the word %s", word), "say it like this: "+example)
	}
}

func join(op string, args ...*node) *node {
	return &node{op: op, args: args, from: args[0].from, to: args[len(args)-1].to}
}

func (p *parser) or() *node {
	if p.depth++; p.depth > maxDepth {
		return p.fail(p.here(), "the expression nests too deep", "work out a part of it as a column of its own")
	}
	defer func() { p.depth-- }()
	left := p.and()
	for p.mistake == nil && p.take("or") {
		left = join("or", left, p.and())
	}
	return left
}

func (p *parser) and() *node {
	left := p.not()
	for p.mistake == nil && p.take("and") {
		left = join("and", left, p.not())
	}
	return left
}

func (p *parser) not() *node {
	count := 0
	for p.take("not") {
		count++
	}
	n := p.comparison()
	if count%2 == 1 {
		n = join("not", n)
	} else if count > 0 {
		n = join("not", join("not", n))
	}
	return n
}

func (p *parser) comparison() *node {
	left := p.sum()
	for p.mistake == nil {
		t := p.here()
		negated := false
		if t.is("not") && p.position+1 < len(p.tokens) {
			next := p.tokens[p.position+1]
			if !next.is("between") && !next.is("in") && !next.is("like") {
				return left
			}
			p.advance()
			negated = true
		}
		var n *node
		switch {
		case p.take("is"):
			negated = p.take("not")
			p.needWord("null", "honey_kg is not null")
			n = join("is null", left)
		case p.take("between"):
			low := p.sum()
			p.needWord("and", "frames between 4 and 12")
			n = join("between", left, low, p.sum())
		case p.take("in"):
			n = p.list(left)
		case p.take("like"):
			n = join("like", left, p.sum())
		case t.kind == signToken && strings.Contains(" = <> < <= > >= ", " "+t.text+" "):
			p.advance()
			n = join(t.text, left, p.sum())
		default:
			return left
		}
		if negated {
			n = join("not", n)
		}
		left = n
	}
	return left
}

func (p *parser) list(left *node) *node {
	const example = "district in ('Brindle', 'Tarn')"
	p.needSign("(", example)
	args := []*node{left}
	for p.mistake == nil {
		args = append(args, p.or())
		if !p.takeSign(",") {
			break
		}
	}
	p.needSign(")", example)
	return join("in", args...)
}

func (p *parser) sum() *node {
	left := p.product()
	for p.mistake == nil {
		switch t := p.here(); {
		case t.sign("+"), t.sign("-"), t.sign("||"):
			p.advance()
			left = join(t.text, left, p.product())
		default:
			return left
		}
	}
	return left
}

func (p *parser) product() *node {
	left := p.unary()
	for p.mistake == nil {
		switch t := p.here(); {
		case t.sign("*"), t.sign("/"):
			p.advance()
			left = join(t.text, left, p.unary())
		default:
			return left
		}
	}
	return left
}

func (p *parser) unary() *node {
	t := p.here()
	minus := 0
	for p.here().sign("-") || p.here().sign("+") {
		if p.advance().text == "-" {
			minus++
		}
		if minus > maxDepth {
			return p.fail(t, "too many signs", "one is enough")
		}
	}
	n := p.power()
	if minus%2 == 1 {
		n = &node{op: "negative", args: []*node{n}, from: t.from, to: n.to}
	}
	return n
}

// power reads a ^ b as mathematics does: before a sign (-2 ^ 2 is -4), and from the right
// (2 ^ 3 ^ 2 is 2 ^ 9).
func (p *parser) power() *node {
	n := p.primary()
	if p.mistake == nil && p.here().sign("^") {
		if p.depth++; p.depth > maxDepth {
			return p.fail(p.here(), "the expression nests too deep", "work out a part of it as a column of its own")
		}
		defer func() { p.depth-- }()
		p.advance()
		return join("^", n, p.unary())
	}
	return n
}

func (p *parser) primary() *node {
	t := p.advance()
	switch t.kind {
	case numberToken:
		v, err := strconv.ParseFloat(t.text, 64)
		if err != nil {
			return p.fail(t, t.text+" is not a number", "write it as 1250 or 0.5")
		}
		return &node{op: "number", number: v, from: t.from, to: t.to}
	case textToken:
		return &node{op: "text", text: t.text, from: t.from, to: t.to}
	case nameToken:
		return &node{op: "column", text: t.text, from: t.from, to: t.to}
	case signToken:
		if t.text == "(" {
			n := p.or()
			p.needSign(")", "(a + b) * c")
			return n
		}
	case wordToken:
		return p.word(t)
	}
	return p.fail(t, "expected a value", "say a column, a number, or a text in single quotes")
}

func (p *parser) word(t token) *node {
	switch strings.ToLower(t.text) {
	case "null":
		return &node{op: "null", from: t.from, to: t.to}
	case "true", "false":
		n := &node{op: "boolean", from: t.from, to: t.to}
		if t.is("true") {
			n.number = 1
		}
		return n
	case "case":
		return p.cases(t)
	case "cast":
		return p.cast(t)
	case "extract":
		return p.extract(t)
	case "date":
		if p.here().kind == textToken {
			text := p.advance()
			return &node{
				op:   "cast",
				text: "date",
				args: []*node{{op: "text", text: text.text, from: text.from, to: text.to}},
				from: t.from,
				to:   text.to,
			}
		}
	}
	if p.here().sign("(") {
		return p.call(t)
	}
	return &node{op: "column", text: t.text, from: t.from, to: t.to}
}

// cases reads case when … then … else … end, and case x when v then ….
func (p *parser) cases(t token) *node {
	const example = "case when frames > 12 then 'strong' else 'weak' end"
	n := &node{op: "case", from: t.from}
	var subject *node
	if !p.here().is("when") {
		subject = p.or()
	}
	for p.mistake == nil && p.take("when") {
		when := p.or()
		if subject != nil {
			when = join("=", subject, when)
		}
		p.needWord("then", example)
		n.args = append(n.args, when, p.or())
	}
	if len(n.args) == 0 {
		return p.fail(p.here(), "expected the word when", "say it like this: "+example)
	}
	if p.take("else") {
		n.args = append(n.args, p.or())
	}
	end := p.here()
	p.needWord("end", example)
	n.to = end.to
	return n
}

func (p *parser) cast(t token) *node {
	const example = "cast(code as text)"
	p.needSign("(", example)
	inner := p.or()
	p.needWord("as", example)
	name := p.advance()
	to := ""
	switch strings.ToLower(name.text) {
	case "number", "numeric", "decimal", "real", "float", "integer", "int":
		to = "number"
		if name.is("integer") || name.is("int") {
			to = "integer"
		}
	case "double":
		p.take("precision")
		to = "number"
	case "text", "varchar", "char":
		to = "text"
	case "date":
		to = "date"
	case "boolean":
		to = "boolean"
	default:
		return p.fail(name, fmt.Sprintf("no kind is called %s", name.text), "cast to number, integer, text, date or boolean")
	}
	end := p.here()
	p.needSign(")", example)
	return &node{op: "cast", text: to, args: []*node{inner}, from: t.from, to: end.to}
}

func (p *parser) extract(t token) *node {
	const example = "extract(year from first_flow)"
	p.needSign("(", example)
	field := p.advance()
	name := strings.ToLower(field.text)
	if _, known := dateFields[name]; !known {
		return p.fail(
			field,
			fmt.Sprintf("a date has no %s", field.text),
			"take year, quarter, month, week, day, dow, doy, hour, minute or second",
		)
	}
	p.needWord("from", example)
	inner := p.or()
	end := p.here()
	p.needSign(")", example)
	return &node{op: "extract", text: name, args: []*node{inner}, from: t.from, to: end.to}
}

func (p *parser) call(t token) *node {
	p.needSign("(", t.text+"(…)")
	n := &node{op: "call", text: strings.ToLower(t.text), from: t.from}
	if n.text == "position" {
		n.args = append(n.args, p.sum())
		p.needWord("in", "position('-' in apiary)")
	}
	if p.here().sign("*") && n.text == "count" {
		p.advance()
	} else {
		for p.mistake == nil && !p.here().sign(")") {
			n.args = append(n.args, p.or())
			if n.text == "substring" && len(n.args) == 1 && p.take("from") {
				n.args = append(n.args, p.or())
				if p.take("for") {
					n.args = append(n.args, p.or())
				}
				break
			}
			if !p.takeSign(",") {
				break
			}
		}
	}
	end := p.here()
	p.needSign(")", t.text+"(…)")
	n.to = end.to
	f, known := functions[n.text]
	if !known {
		advice := "see the list of functions"
		if near := words.Nearest(n.text, functionNames()); near != "" {
			advice = fmt.Sprintf("did you mean %s?", near)
		}
		return p.fail(t, fmt.Sprintf("no function is called %s", t.text), advice)
	}
	n.own = len(n.args)
	takes := f.takes()
	if p.here().is("over") {
		if f.over == nil {
			return p.fail(
				p.here(),
				fmt.Sprintf("%s does not work over rows", t.text),
				"say it alone, or take one of "+strings.Join(overNames(), ", "),
			)
		}
		takes.least, takes.most, takes.example = f.over.least, f.over.most, f.over.example
	} else if p.mistake == nil && f.whole == nil && f.number == nil && f.numbers == nil && f.level == nil {
		return p.alone(t, f)
	}
	if p.mistake == nil && (len(n.args) < takes.least || (takes.most >= 0 && len(n.args) > takes.most)) {
		return p.fail(t, fmt.Sprintf("%s takes %s", n.text, takes), "say it like this: "+takes.example)
	}
	switch {
	case p.take("over"):
		p.over(n)
	case f.within && p.take("within"):
		p.within(n)
	}
	return n
}

// within reads the columns in whose groups a function works: one, or several in brackets.
func (p *parser) within(n *node) {
	if !p.here().sign("(") {
		n.args = append(n.args, p.primary())
		return
	}
	p.advance()
	for p.mistake == nil {
		n.args = append(n.args, p.primary())
		if !p.takeSign(",") {
			break
		}
	}
	p.needSign(")", "mid_rank(honey_kg) within (district, season)")
}
