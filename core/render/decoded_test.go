package render

import (
	"bytes"
	"context"
	"slices"
	"strings"
	"testing"
	"time"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/text"
)

// TestAFigureThatTravelledIsDrawnAsItWas encodes the figure of every drawing that was looked at, decodes it, and draws both.
func TestAFigureThatTravelledIsDrawnAsItWas(t *testing.T) {
	whole := apiary(400)
	o := Options{Metrics: text.Hanken(), Clock: time.Unix(0, 0).UTC()}
	for _, g := range goldens {
		if g.data == nil {
			g.data = whole
		}
		document, mistakes := sentence.Parse(g.typed, g.data)
		if mistakes != nil {
			t.Fatal(mistakes[0])
		}
		f, problems, err := figure.Build(t.Context(), mark.Bind(document, g.data),
			figure.Options{Width: 720, Height: 460, Metrics: o.Metrics, Still: true})
		if err != nil || problems != nil {
			t.Fatalf("%s: %v %v", g.name, problems, err)
		}
		var encoded bytes.Buffer
		if err := f.Encode(&encoded, map[string]any{"typed": g.typed}); err != nil {
			t.Fatal(err)
		}
		decoded, extra, err := figure.Decode(encoded.Bytes())
		if err != nil || !strings.HasPrefix(string(extra["typed"]), `"`) {
			t.Fatalf("%s: %v %s", g.name, err, extra["typed"])
		}
		drawnBy := func(f *figure.Figure) string {
			var out bytes.Buffer
			if err := Figure(context.Background(), f, "A heading over it", FormatNamed("svg"), o, &out); err != nil {
				t.Fatal(err)
			}
			return out.String()
		}
		if want, got := drawnBy(f), drawnBy(decoded); want != got {
			t.Errorf("%s is drawn otherwise after it travelled: %d letters, %d before", g.name, len(got), len(want))
		}
	}
}

// TestAFigureThatIsCutShortIsRefused cuts an encoded figure at many places.
func TestAFigureThatIsCutShortIsRefused(t *testing.T) {
	data := apiary(12)
	document, _ := sentence.Parse("plot honey_kg against forage_ha", data)
	f, _, err := figure.Build(t.Context(), mark.Bind(document, data), figure.Options{Width: 300, Height: 200, Metrics: text.Hanken()})
	if err != nil {
		t.Fatal(err)
	}
	var encoded bytes.Buffer
	if err := f.Encode(&encoded, nil); err != nil {
		t.Fatal(err)
	}
	const padding = 8 // at the end, which nobody reads
	for at := 0; at < encoded.Len()-padding; at += 7 {
		if _, _, err := figure.Decode(encoded.Bytes()[:at]); err == nil {
			t.Errorf("cut after %d of %d bytes it is read", at, encoded.Len())
		}
	}
}

// FuzzDecode holds that no bytes bring the program down, and that what is read can be drawn.
func FuzzDecode(f *testing.F) {
	document, _ := sentence.Parse("plot honey_kg against forage_ha\ncolour by district\nfit line", apiary(12))
	made, _, _ := figure.Build(f.Context(), mark.Bind(document, apiary(12)), figure.Options{Width: 300, Height: 200, Metrics: text.Hanken()})
	var encoded bytes.Buffer
	_ = made.Encode(&encoded, nil)
	f.Add(encoded.Bytes())
	f.Add([]byte(figure.Magic))
	f.Fuzz(func(t *testing.T, bytes []byte) {
		if decoded, _, err := figure.Decode(slices.Clone(bytes)); err == nil && len(decoded.Panels) == 0 {
			t.Error("a figure without a panel was read")
		}
	})
}
