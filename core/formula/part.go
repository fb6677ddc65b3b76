package formula

// Part is a part of an expression that was read, for those who put it into another language. Its Op is what it does:
// number, text, boolean, null and column hold a value; + - * / ^ negative = <> < <= > >= and or not in like between
// case || cast extract and "is null" take their Args; all else is a function of that name.
type Part struct {
	Op     string
	Text   string // of a text, a column, a cast, an extract
	Number float64
	Args   []Part
	Over   bool // it works over rows
}

// Root is the whole expression.
func (f *Formula) Root() Part { return f.root.part() }

func (n *node) part() Part {
	p := Part{Op: n.op, Text: n.text, Number: n.number, Over: n.over != nil}
	for _, a := range n.args {
		p.Args = append(p.Args, a.part())
	}
	return p
}
