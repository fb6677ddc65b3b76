package seal

import (
	"bytes"
	"strings"
	"testing"
)

// TestWhatIsSealedOpens by the same key, about the same, untouched; and by nothing else.
func TestWhatIsSealedOpens(t *testing.T) {
	if _, err := New("short"); err == nil {
		t.Error("a short key is taken")
	}
	one, err := New(strings.Repeat("k", 32))
	if err != nil {
		t.Fatal(err)
	}
	other, _ := New(strings.Repeat("l", 32))
	sealed := one.Seal("Bearer zzsecret", "dataset 5")
	if text, err := one.Open(sealed, "dataset 5"); err != nil || text != "Bearer zzsecret" || bytes.Contains(sealed, []byte("zzsecret")) {
		t.Errorf("%q, %v", text, err)
	}
	if bytes.Equal(sealed, one.Seal("Bearer zzsecret", "dataset 5")) {
		t.Error("sealed twice, it is the same")
	}
	touched := bytes.Clone(sealed)
	touched[len(touched)-1] ^= 1
	for name, open := range map[string]func() (string, error){
		"about something else": func() (string, error) { return one.Open(sealed, "dataset 6") },
		"another key":          func() (string, error) { return other.Open(sealed, "dataset 5") },
		"touched":              func() (string, error) { return one.Open(touched, "dataset 5") },
		"cut":                  func() (string, error) { return one.Open(sealed[:4], "dataset 5") },
	} {
		if text, err := open(); err == nil {
			t.Errorf("%s opens as %q", name, text)
		}
	}
}
