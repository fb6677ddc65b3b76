package table

// KindOf is what is known of a kind: all that the rest of the program asks of one. Adding a kind is a row of Kinds, and a
// file for how its values are read and written.
type KindOf struct {
	Kind     Kind
	Coded    bool   // values are codes into a list of levels, else numbers
	Groups   bool   // divides rows into groups
	Quantity bool   // adds up, has a zero, and a logarithm where it is above
	Moment   bool   // a place in time: its unit is the calendar's
	Form     string // of core/scale: how its numbers are written for people; empty: as numbers
	write    func(v float64, grain Grain) string
}

// Kinds lists the kinds of column, in the order in which they are offered.
var Kinds = []KindOf{
	{Kind: Number, Quantity: true, write: func(v float64, _ Grain) string { return FormatNumber(v) }},
	{Kind: Category, Coded: true, Groups: true},
	{Kind: Ordered, Coded: true, Groups: true},
	{Kind: YesNo, Coded: true, Groups: true},
	{Kind: Date, Moment: true, write: FormatDate},
	{Kind: Duration, Quantity: true, Form: "duration", write: func(v float64, _ Grain) string { return FormatDuration(v) }},
	{Kind: Text, Coded: true},
}

// known finds kinds by their names.
var known = func() map[Kind]*KindOf {
	found := map[Kind]*KindOf{}
	for i := range Kinds {
		found[Kinds[i].Kind] = &Kinds[i]
	}
	return found
}()

// unlisted is what is known of a kind that is not listed.
var unlisted = &KindOf{Coded: true}

func (k Kind) of() *KindOf {
	if one := known[k]; one != nil {
		return one
	}
	return unlisted
}

// Coded reports whether values of the kind are codes into a list of levels.
func (k Kind) Coded() bool { return k.of().Coded }

// Groups reports whether a column of the kind divides rows into groups.
func (k Kind) Groups() bool { return k.of().Groups }

// Quantity reports whether values of the kind are amounts: numbers and durations.
func (k Kind) Quantity() bool { return k.of().Quantity }

// Moment reports whether values of the kind are places in time.
func (k Kind) Moment() bool { return k.of().Moment }

// Form is the form of core/scale in which numbers of the kind are written; empty: as numbers.
func (k Kind) Form() string { return k.of().Form }
