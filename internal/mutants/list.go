package main

// mutant is a line that is changed into another, which the tests of its room must see. A room is the folder of a Go
// package; of TypeScript it is web. Tests names another room whose tests see it, where it is not the file's own.
type mutant struct{ file, was, is, tests string }

var mutants = []mutant{
	// Verdicts and likeness.
	{
		"core/confound/verdict.go",
		`case clearOverall && clearWithin && sameSign && math.Abs(f.Change) < notedChange:`,
		`case sameSign && math.Abs(f.Change) < notedChange:`,
		"",
	},
	{
		"core/confound/verdict.go",
		`case clearOverall && adjustedWithin < 1-level && f.Overall*f.Within < 0:`,
		`case adjustedWithin < 1-level && f.Overall*f.Within < 0:`,
		"",
	},
	{
		"core/confound/verdict.go",
		`largest = max(largest, min(1, p[i]*float64(len(known)-rank)))`,
		`largest = max(largest, min(1, p[i]*float64(max(1, rank-rank))))`,
		"",
	},
	{"core/confound/hidden.go", `ratio, low = 1/ratio, 1/high`, `ratio, low = 1/ratio, 1/low`, ""},
	{"core/confound/alike.go", `if codes[i] = of.Codes[row]; codes[i] >= 0 {`, `if codes[i] = of.Codes[row]; codes[i] > 0 {`, ""},
	// Numbers of columns.
	{
		"core/describe/decimals.go",
		`return max(Decimals(c.Numbers), min(c.Decimals, MostDecimals))`,
		`return Decimals(c.Numbers)`,
		"core/figure",
	},
	{"core/describe/describe.go", `return skew > 2 && low > 0 && high > 20*low`, `return skew > 2 && low > 0`, ""},
	{"core/model/line.go", `if s.n < 2 {`, `if s.n < 1 {`, ""},
	{"core/density/density.go", `for i < bins-1 && v >= h.Edges[i+1] {`, `for i < bins-1 && v > h.Edges[i+1] {`, ""},
	{"core/smooth/spline.go", `out[j+1] -= v * (1/s.h[j] + 1/s.h[j+1])`, `out[j+1] += v * (1/s.h[j] + 1/s.h[j+1])`, ""},
	{"core/window/window.go", `if k < 1 {`, `if k < 0 {`, ""},
	{"core/sample/sample.go", `return from + source.IntN(max(1, to-from))`, `return from + 0*source.IntN(max(1, to-from))`, ""},
	{
		"core/pairs/pairs.go",
		`if c.Kind.Quantity() && spread(c.Numbers) && !c.CountsRows() {`,
		`if c.Kind.Quantity() && spread(c.Numbers) {`,
		"",
	},
	{"core/table/groups.go", `if found.levels == nil || len(found.levels) > limit {`, `if found.levels == nil {`, ""},
	{"core/table/groups.go", `years = years && v >= 1600 && v <= 2200`, `years = years && v >= 1600`, ""},
	{"core/magnitude/magnitude.go", `if v > 0 && v < smallestNormal {`, `if false {`, ""},
	{"core/table/table.go", `if a := math.Abs(v); a >= 1e-7 && a < 1e16 {`, `if a := math.Abs(v); a >= 1e-3 && a < 1e16 {`, ""},
	// Reading files.
	{"core/reader/piece.go", `whole.decimals = sameDecimals(whole.decimals, p.decimals)`, `_ = p.decimals`, ""},
	{"core/reader/piece.go", `p.failed, p.withTime = !ok, p.withTime || withTime`, `p.failed, p.withTime = !ok, withTime`, ""},
	{"core/reader/dates.go", `if moment.Day() != dayOfMonth {`, `if false {`, ""},
	{"core/reader/values.go", `if digits == 0 || digits > 15 {`, `if digits == 0 || digits > 17 {`, ""},
	{"files/archive.go", `if len(list) != 1 {`, `if len(list) > 2 {`, ""},
	{"store/decimal.go", `|| v == 0 && math.Signbit(v)`, ``, ""},
	// Preparation and expressions.
	{"core/prepare/bins.go", `return inner[i] > v`, `return inner[i] >= v`, ""},
	{"core/prepare/join.go", `code[i] = coder.Code([]byte(level))`, `code[i] = int32(i) + 0*coder.Code([]byte(level))`, ""},
	{
		"core/formula/eval.go",
		`case n.op == "-" && v.kind == Date && w.kind == Date:`,
		`case n.op == "+" && v.kind == Date && w.kind == Date:`,
		"",
	},
	// Scales and words.
	{"core/scale/format.go", `if n != 1 && n != -1 {`, `if n != 0 {`, ""},
	{"core/scale/scale.go", `return math.Asinh(v/near/2) / math.Ln10`, `return math.Asinh(v/near) / math.Ln10`, ""},
	{"core/scale/said.go", `if !(last-first < mostSaidTicks) || last < first`, `if last < first`, ""},
	{"core/scale/date.go", `if rough < 0.5 {`, `if rough < 0.05 {`, ""},
	{"core/words/words.go", `if begins && (best == "" || len(candidate) < len(best)) {`, `if begins && best == "" {`, ""},
	{"core/text/text.go", `if len(list) <= lines && fits(`, `if fits(`, ""},
	{"core/colour/palette.go", `if Contrast(c, paper) < leastContrast {`, `if Contrast(c, paper) < 1 {`, ""},
	// The document, its checks and its sentence.
	{"core/chart/check.go", `case said.Deviation && of == Median:`, `case said.Deviation && of == Sum:`, ""},
	{"core/chart/check.go", `if !(share > 0 && share < 100) {`, `if !(share >= 0 && share <= 100) {`, ""},
	{"core/chart/checkover.go", `if len(p.By) > 2 {`, `if len(p.By) > 3 {`, ""},
	{
		"core/sentence/spoken.go",
		`return fmt.Sprintf("%s and %d more", said[0], len(said)-1)`,
		`return fmt.Sprintf("%s and %d more", said[0], len(said))`,
		"",
	},
	{"core/sentence/menus.go", `return opened.Choices[i].Barred == "" && opened.Choices[j].Barred != ""`, `return false`, ""},
	{"core/clause/lists.go", `			p.take(w.Text)`, ``, ""},
	// Marks.
	{
		"core/mark/bound.go",
		`case len(said) == 1 && said[0] == dots.Name && suggested == dots:`,
		`case len(said) == 1 && said[0] == dots.Name:`,
		"",
	},
	{"core/mark/histogram.go", `return y.Of == chart.Spread && !x.Grouped()`, `return y.Of == chart.Spread`, ""},
	{"core/mark/line.go", `if magnitude.Finite(u) && g >= 0 {`, `if magnitude.Finite(u) && g > 0 {`, ""},
	{"core/mark/fit.go", `if err == nil && m.N < SmallestFit {`, `if err == nil && m.N < 1 {`, "core/figure"},
	{
		"core/mark/places.go",
		`if d := p.value.Drawn(one.value); magnitude.Finite(d) {`,
		`if d := p.value.Drawn(one.value); d == d || true {`,
		"core/figure",
	},
	{"core/mark/order.go", `return cmp.Compare(y, x)`, `return cmp.Compare(x, y)`, ""},
	// The figure.
	{"core/figure/relate.go", `Q3:     q[3],`, `Q3:     q[2],`, ""},
	{
		"core/figure/publish.go",
		`return slices.ContainsFunc(f.Points(), func(l *primitive.Layer) bool { return l.X.Type() == "u16" || l.Y.Type() == "u16" })`,
		`return len(f.Points()) > 1<<20`,
		"",
	},
	{"core/figure/publish.go", `if len(inside) < len(rows) {`, `if len(inside) < 0 {`, ""},
	{"core/figure/select.go", `if a.Kind == scale.Log && !a.Aggregated() {`, `if false {`, ""},
	{"core/figure/dress.go", `if v < 0 {`, `if v < -1e300 {`, ""},
	{"core/figure/draw.go", `out[i].Entries = slices.Clone(out[i].Entries)`, `_ = out`, ""},
	{"core/figure/layout.go", `m.left += b.labelWidth() + tickGap`, `m.left += tickGap`, ""},
	{"core/figure/panels.go", `} else if len(rows) == 0 {`, `} else if rows == nil && false {`, ""},
	{"core/mark/sectors.go", `far := math.Sqrt(max(reach*reach-down[k]*down[k], 0))`, `far := reach`, ""},
	{"core/mark/prices.go", `p.tone = 1`, `p.tone = 0`, ""},
	{"core/draw/keys.go", `case f.Manner.Key == chart.KeyTop:`, `case f.Manner.Key == "bottom":`, "core/render"},
	{"core/render/small.go", `max(l.Count*smallPoints/points, 1)`, `l.Count`, ""},
	// The program.
	{"app/shown.go", `if l.shown == nil || l.said != string(said) {`, `if l.shown == nil {`, ""},
	{"app/published.go", `case chosen == nil && !o.Heads:`, `case chosen == nil:`, "internal/extremes"},
	{"app/filename.go", `case unicode.IsControl(r),`, `case r == 0,`, ""},
	{
		"internal/admission/admission.go",
		`if who.jobs = without(who.jobs, job); len(who.jobs) == 0 {`,
		`if who.jobs = without(who.jobs, job); false {`,
		"",
	},
	{"internal/cache/cache.go", `for c.used > c.budget {`, `if c.used > c.budget {`, ""},
	{"core/parallel/parallel.go", `if fault != nil {
		panic(fault)
	}
	return ctx.Err()`, `_ = fault
	return ctx.Err()`, ""},
	// The browser.
	{"web/src/scale/scale.ts", `return Math.asinh(v / near / 2) / Math.LN10`, `return Math.asinh(v / near) / Math.LN10`, ""},
	{"web/src/scale/format.ts", `${n === 1 ? '' : 's'}`, `${n === 0 ? '' : 's'}`, ""},
	{"web/src/interact/hit.ts", `(distance === bestDistance && i < best)`, `(distance === bestDistance && i > best)`, ""},
	{"web/src/interact/hit.ts", `if (i < 0) continue
      const hit = pointHit`, `const hit = pointHit`, ""},
	{"web/src/painter/primitives/thin.ts", `if (y[i] > y[high]) high = i`, ``, ""},
	{"web/src/painter/axes.ts", `return grid === 'halves' ?`, `return grid !== 'halves' ?`, ""},
	{"web/src/painter/axes.ts", `if (grid === 'off') return []`, ``, ""},
	{
		"web/src/painter/primitives/lines.ts",
		`(-(y2 - y) / length) * cap, ((x2 - x) / length) * cap`,
		`((x2 - x) / length) * cap, (-(y2 - y) / length) * cap`,
		"",
	},
	{"web/src/interact/drag.ts", `if (Math.abs(x - x0) < LEAST || Math.abs(y - y0) < LEAST) return`, ``, ""},
	{"web/src/interact/drag.ts", `fromY(frame, from[1]) - fromY(frame, y)`, `fromY(frame, y) - fromY(frame, from[1])`, ""},
	{"web/src/interact/card.ts", "axis[0].kind === 'groups' ? placeText(...axis) : `≈ ${placeText(...axis)}`", "placeText(...axis)", ""},
	{"web/src/state/bench.ts", `find((s) => s.id === here?.parent_id)`, `find((s) => s.id === here?.id)`, ""},
	{"web/src/state/bench.ts", `findLast((s) => s.parent_id === this.state.at)`, `find((s) => s.parent_id === this.state.at)`, ""},
	// Words, signs, hands and keys.
	{"core/chart/letters.go", `at.Size = said.Size / d.TextScale()`, `at.Size = said.Size`, "core/figure"},
	{"core/figure/signs.go", `name += " of the median"`, `name += " of the mean"`, ""},
	{"core/figure/gradient.go", `most = longGradient`, `most = shortGradient`, ""},
	{"core/table/change.go", `case at < 0 && c.Kind == YesNo:`, `case at < 0 && c.Kind == Ordered:`, ""},
	{"app/onerow.go", `if whole, _ := c.Whole(); !whole && c.Kind != table.Date {`, `if false {`, ""},
	{"app/overlays.go", `if !slices.Contains(o.Columns, out.Y) || out.Y == out.X {`, `if !slices.Contains(o.Columns, out.Y) {`, ""},
	{"core/colour/ciede.go", `turn := 30 * degree`, `turn := 3 * degree`, ""},
	{"web/src/interact/byKeys.ts", `place > high ? place - high + room : 0`, `0`, ""},
	{"web/src/painter/crowd.ts", `layer.along ? NUDGES : [0]`, `[0]`, ""},
	{"web/src/interact/zoom.ts", `low < -SLACK ? low - ROOM * (high - low) : 0`, `0`, ""},
	// Pages and shares.
	{"core/page/merge.go", `case mine == theirs || mine == was:`, `case mine == theirs:`, ""},
	{"core/page/merge.go", `case m != nil && (was == nil || !m.Same(*was)):`, `case m != nil && was == nil:`, ""},
	{"core/page/merge.go", `if one.Text, both = either(was.Text, mine.Text, theirs.Text); both {`,
		`if one.Text, both = either(was.Text, mine.Text, theirs.Text); both && mine.Chart != nil {`, ""},
	{"core/page/ties.go", `case !there && title == Gone:`, `case title == Gone:`, ""},
	{"core/page/ties.go", `was = earlier // what the writer last saw`, `_ = earlier`, ""},
	{"core/page/markdown.go", `at.Scheme != "mailto" && at.Host == ""`, `false`, ""},
	{"core/page/file.go", `case trimmed == "---":`, `case trimmed == "-----":`, ""},
	{"core/figure/decode.go", `b.Length > (len(buffers)-b.Offset)/size`, `b.Length > len(buffers)`, "core/render"},
	{"app/shared.go", `case share.PeopleOnly && (visitor.Person.ID == 0 || !a.isIn(ctx, visitor.Person, share.SpaceID)):`,
		`case share.PeopleOnly && visitor.Person.ID == 0:`, "server"},
	{"app/shared.go", `_, _ = fmt.Fprintf(mac, "share %d", s.Root())`, `_ = mac`, "server"},
	{"app/shares.go", `parts[i].Links = nil // they are called by their places`, `_ = inOrder`, "server"},
	{"web/src/state/pageDraft.ts", `this.base = more ? sent : page.contents`, `this.base = page.contents`, ""},
	{"web/src/state/pageDraft.ts", `|| this.state.status !== 'kept') return`, `) return`, ""},
	{"web/src/interact/linked.ts", `return to.places.get(name) ?? null`, `return name`, ""},
	{"web/src/features/pages/markdown.ts", `if (node.attrs.params !== TABLE)`, `if (node.attrs.params !== '')`, ""},
}
