package reading

// Basis is which rows of a table that stays elsewhere something is of.
type Basis string

// The rows: all of them, or the sample that is here.
const (
	OfAll    Basis = "all"
	OfSample Basis = "sample"
)

// BasisOf is the one of what is or is not told of all rows.
func BasisOf(all bool) Basis {
	if all {
		return OfAll
	}
	return OfSample
}

// of says which rows what is said next is of: all of them, or those that are here.
func (r *reader) of(all bool) { r.exact = all }
