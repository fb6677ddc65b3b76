package formula

import (
	"fmt"
	"math"
	"math/rand/v2"
	"sort"
	"strings"
	"unicode/utf8"
)

// Function is a function of the language, for help and completion.
type Function struct {
	Name, Help, Example string
	least, most         int // arguments; most -1: any number
	number              func(float64) float64
	numbers             func(a, b float64) float64
	level               func(string) string
	whole               func(e *evaluation, n *node) *vector
	within              bool     // it may be said to work within groups
	over                *overWay // how it works over rows, where it does
}

// arguments is how many values a function takes; most -1: any number.
type arguments struct {
	least, most int
	example     string
}

func (f *Function) takes() arguments { return arguments{f.least, f.most, f.Example} }

func (a arguments) String() string {
	switch {
	case a.most < 0:
		return fmt.Sprintf("%d values or more", a.least)
	case a.most == 0:
		return "no value"
	case a.least == a.most && a.least == 1:
		return "one value"
	case a.least == a.most:
		return fmt.Sprintf("%d values", a.least)
	}
	return fmt.Sprintf("%d to %d values", a.least, a.most)
}

var functions = map[string]*Function{}

// Functions lists the functions by name.
func Functions() []*Function {
	var list []*Function
	for _, name := range functionNames() {
		list = append(list, functions[name])
	}
	return list
}

// overNames are those that work over rows.
func overNames() (names []string) {
	for _, name := range functionNames() {
		if functions[name].over != nil {
			names = append(names, name)
		}
	}
	return names
}

func functionNames() []string {
	var names []string
	for name := range functions {
		names = append(names, name)
	}
	sort.Strings(names)
	return names
}

func init() {
	add := func(name, help, example string, least, most int, f Function) {
		f.Name, f.Help, f.Example, f.least, f.most = name, help, example, least, most
		functions[name] = &f
	}
	for name, of := range map[string]struct {
		help string
		f    func(float64) float64
	}{
		"ln": {"natural logarithm", logarithm(math.Log)}, "log10": {"logarithm to base 10", logarithm(math.Log10)},
		"log2": {"logarithm to base 2", logarithm(math.Log2)},
		"exp":  {"e to the power", math.Exp}, "sqrt": {"square root", math.Sqrt}, "abs": {"size without sign", math.Abs},
		"floor": {"whole number at or below", math.Floor},
		"sin":   {"sine of an angle in radians", math.Sin}, "cos": {"cosine of an angle in radians", math.Cos},
		"tan":     {"tangent of an angle in radians", math.Tan},
		"ceiling": {"whole number at or above", math.Ceil}, "trunc": {"whole number towards zero", math.Trunc},
		"sign": {"−1, 0 or 1", func(a float64) float64 { return truth(a > 0) - truth(a < 0) + 0*a }},
	} {
		add(name, of.help, name+"(mites + 1)", 1, 1, Function{number: of.f})
	}
	add("power", "a to the power b", "power(frames, 2)", 2, 2, Function{numbers: math.Pow})
	add("mod", "what a division leaves", "mod(season, 2)", 2, 2, Function{numbers: math.Mod})
	add("round", "rounded, to so many decimals", "round(honey_kg, 1)", 1, 2, Function{whole: round})
	for name, of := range map[string]struct {
		help string
		f    func(string) string
	}{
		"upper": {"in capitals", strings.ToUpper}, "lower": {"in small letters", strings.ToLower},
		"trim": {"without spaces at the ends", func(t string) string { return strings.Trim(t, " ") }},
	} {
		add(name, of.help, name+"(district)", 1, 1, Function{level: of.f})
	}
	add("char_length", "how many characters", "char_length(remarks)", 1, 1, Function{whole: func(e *evaluation, n *node) *vector {
		return e.measureLevel(e.need(n.args[0], Text), Number, func(t string) float64 { return float64(utf8.RuneCountInString(t)) })
	}})
	add(
		"substring",
		"a part, from a character on, of so many characters",
		"substring(apiary from 1 for 2)",
		2,
		3,
		Function{whole: substring},
	)
	add("replace", "with each a made into b", "replace(remarks, ',', ';')", 3, 3, Function{whole: func(e *evaluation, n *node) *vector {
		v, a, b := e.need(n.args[0], Text), e.need(n.args[1], Text), e.need(n.args[2], Text)
		return e.texts(v.constant && a.constant && b.constant, func(i int) (string, bool) {
			if v.missing(i) || a.missing(i) || b.missing(i) {
				return "", false
			}
			if a.text(i) == "" {
				return v.text(i), true
			}
			bytes := len(v.text(i)) + strings.Count(v.text(i), a.text(i))*(len(b.text(i))-len(a.text(i)))
			return e.within(bytes, func() string { return strings.ReplaceAll(v.text(i), a.text(i), b.text(i)) })
		})
	}})
	add("coalesce", "the first that is not missing", "coalesce(honey_kg, 0)", 1, -1, Function{whole: coalesce})
	add("nullif", "missing where the two are equal", "nullif(mites, -1)", 2, 2, Function{whole: func(e *evaluation, n *node) *vector {
		v, w := e.pair(n.args[0], n.args[1])
		equal := e.compare("=", v, w)
		return e.choose(v.kind, []*vector{v}, func(i int) int {
			if equal.number(i) == 1 {
				return -1
			}
			return 0
		})
	}})
	add(
		"least",
		"the smallest that is not missing",
		"least(hive_1, hive_2)",
		1,
		-1,
		Function{whole: func(e *evaluation, n *node) *vector { return e.extreme(n, "<") }},
	)
	add(
		"greatest",
		"the largest that is not missing",
		"greatest(hive_1, hive_2)",
		1,
		-1,
		Function{whole: func(e *evaluation, n *node) *vector { return e.extreme(n, ">") }},
	)
	add("row_number", "1 for the first row, 2 for the second", "row_number()", 0, 0, Function{whole: func(e *evaluation, _ *node) *vector {
		return e.made(func(i int) float64 { return float64(i + 1) })
	}})
	add(
		"uniform",
		"a random number from a to b, from the seed",
		"uniform(0, 1)",
		2,
		2,
		Function{whole: func(e *evaluation, n *node) *vector {
			a, b, source := e.need(n.args[0], Number), e.need(n.args[1], Number), e.source(n)
			return e.made(func(i int) float64 { return a.number(i) + (b.number(i)-a.number(i))*source.Float64() })
		}},
	)
	add(
		"normal",
		"a random number about a mean with a standard deviation, from the seed",
		"normal(10, 2)",
		2,
		2,
		Function{whole: func(e *evaluation, n *node) *vector {
			m, s, source := e.need(n.args[0], Number), e.need(n.args[1], Number), e.source(n)
			return e.made(func(i int) float64 { return m.number(i) + s.number(i)*source.NormFloat64() })
		}},
	)
	addTexts(add)
	addWindows(add)
	addOvers(add)
}

// logarithm keeps log(0) from being infinite: it has no value.
func logarithm(of func(float64) float64) func(float64) float64 {
	return func(a float64) float64 {
		if a == 0 {
			return math.NaN()
		}
		return of(a)
	}
}

func (e *evaluation) call(n *node) *vector {
	f := functions[n.text]
	switch {
	case n.over != nil:
		return e.worksOver(n)
	case f.number != nil:
		return e.each1(e.need(n.args[0], Number), Number, f.number)
	case f.numbers != nil:
		return e.each2(e.need(n.args[0], Number), e.need(n.args[1], Number), Number, f.numbers)
	case f.level != nil:
		return e.eachLevel(e.need(n.args[0], Text), f.level)
	}
	return f.whole(e, n)
}

func (e *evaluation) made(of func(i int) float64) *vector {
	out := &vector{kind: Number, numbers: make([]float64, e.rows)}
	for i := range out.numbers {
		if out.numbers[i] = of(i); !Number.holds(out.numbers[i]) {
			out.numbers[i] = e.fault()
		}
	}
	return out
}

// source is the random source of one place in the expression: two calls do not
// give the same numbers.
func (e *evaluation) source(n *node) *rand.Rand {
	return rand.New(rand.NewPCG(e.seed, uint64(n.from)))
}

func round(e *evaluation, n *node) *vector {
	v := e.need(n.args[0], Number)
	if len(n.args) == 1 {
		return e.each1(v, Number, math.RoundToEven)
	}
	return e.each2(v, e.need(n.args[1], Number), Number, func(a, decimals float64) float64 {
		unit := math.Pow(10, math.Trunc(decimals))
		if scaled := a * unit; !math.IsInf(scaled, 0) && unit != 0 {
			return math.Round(scaled) / unit
		}
		return a
	})
}

// substring follows SQL: characters count from 1, and a start before the text
// takes from the length.
func substring(e *evaluation, n *node) *vector {
	v, from := e.need(n.args[0], Text), e.need(n.args[1], Number)
	length := constantNumber(Number, math.Inf(1))
	if len(n.args) == 3 {
		length = e.need(n.args[2], Number)
	}
	return e.texts(v.constant && from.constant && length.constant, func(i int) (string, bool) {
		if v.missing(i) || from.missing(i) || length.missing(i) {
			return "", false
		}
		if length.number(i) < 0 {
			e.faults++
			return "", false
		}
		runes := []rune(v.text(i))
		start := math.RoundToEven(from.number(i))
		end := min(start+math.RoundToEven(length.number(i)), float64(len(runes)+1))
		start = max(start, 1)
		if end <= start {
			return "", true
		}
		return string(runes[int(start)-1 : int(end)-1]), true
	})
}

// sameKind evaluates arguments that must be of one kind.
func (e *evaluation) sameKind(n *node) (Kind, []*vector) {
	kind, values := Unknown, make([]*vector, len(n.args))
	for i, a := range n.args {
		values[i] = e.eval(a).as(kind)
		if kind == Unknown {
			kind = values[i].kind
		} else if values[i].kind != kind {
			refuse(a, fmt.Sprintf("%s takes values of one kind; this is a %s, the first is a %s", n.text, values[i].kind, kind),
				"cast it to the kind of the first")
		}
	}
	for i := range values {
		values[i] = values[i].as(kind)
	}
	return kind, values
}

func coalesce(e *evaluation, n *node) *vector {
	kind, values := e.sameKind(n)
	return e.choose(kind, values, func(i int) int {
		for j, v := range values {
			if !v.missing(i) {
				return j
			}
		}
		return -1
	})
}

func (e *evaluation) extreme(n *node, op string) *vector {
	kind, values := e.sameKind(n)
	return e.choose(kind, values, func(i int) int {
		best := -1
		for j, v := range values {
			if v.missing(i) {
				continue
			}
			if best < 0 {
				best = j
				continue
			}
			order := 0
			if kind == Text {
				order = strings.Compare(v.text(i), values[best].text(i))
			} else if a, b := v.number(i), values[best].number(i); a < b {
				order = -1
			} else if a > b {
				order = 1
			}
			if holds(op, order) {
				best = j
			}
		}
		return best
	})
}
