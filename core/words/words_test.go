package words

import "testing"

func TestNearest(t *testing.T) {
	names := []string{"honey_kg", "forage_ha", "district", "season", "fox"}
	for word, want := range map[string]string{"honey_kgs": "honey_kg", "distirct": "district", "FORAGE_HA": "forage_ha", "sesaon": "season", "wholly_other": "", "": "", "for": "forage_ha", "fo": "fox", "Dis": "district"} {
		if got := Nearest(word, names); got != want {
			t.Errorf("nearest to %q is %q, want %q", word, got, want)
		}
	}
}
