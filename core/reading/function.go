package reading

import (
	"copperlark/core/figure"
	"copperlark/core/scale"
)

// function says where the values of a function lie: between which, and at which x.
func (r *reader) function(f *figure.WorkedOut) {
	number := func(v float64) string { return scale.Value(v, 4) }
	r.say(
		"plain",
		plain("y is worked out from x as "),
		strong("%s", f.Formula),
		plain(", at %s values of x from %s to %s.", scale.Number(float64(f.Values), 0), number(f.From), number(f.To)),
	)
	if f.Without > 0 {
		r.say("caution", plain("At "), strong("%s", scale.Number(float64(f.Without), 0)), plain(" of them it has no value."))
	}
	r.say(
		"plain",
		plain("The lowest of them is "),
		strong("%s", number(f.Low)),
		plain(", at x = %s, and the highest ", number(f.LowAt)),
		strong("%s", number(f.High)),
		plain(", at x = %s.", number(f.HighAt)),
	)
}
