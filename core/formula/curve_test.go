package formula

import (
	"context"
	"fmt"
	"testing"
)

func TestALineIsWorkedOutFromXAlone(t *testing.T) {
	x := []float64{-1, 0, 2}
	for expression, want := range map[string]string{
		"2 * x + 1":                        "[-1 1 5]",
		"X ^ 2 - power(x, 2)":              "[0 0 0]",
		"7":                                "[7 7 7]",
		"1 / x":                            "[-1 NaN 0.5]",
		"case when x > 0 then sqrt(x) end": "[NaN NaN 1.4142135623730951]",
		"greatest(round(x / 3, 1), 0)":     "[0 0 0.7]",
		"2 * honey":                        "5: honey is not known here",
		"x - mean(x)":                      "5: no function is called mean",
		"lag(x)":                           "1: lag needs more than one value of x",
		"sum(x) over (order by x)":         "1: sum needs more than one value of x",
		"uniform(0, x)":                    "1: uniform needs more than one value of x",
		"x > 1":                            "1: a line is of numbers; this is a yes / no",
		"'deep'":                           "1: a line is of numbers; this is a text",
		"x +":                              "4: expected a value",
	} {
		y, err := Curve(context.Background(), expression, x)
		got := fmt.Sprint(y)
		if err != nil {
			from, _, message, _ := place(expression, err)
			got = fmt.Sprintf("%d: %s", from+1, message)
		}
		if got != want {
			t.Errorf("%s: %s, want %s", expression, got, want)
		}
	}
}
