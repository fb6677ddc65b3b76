package app

import (
	"bytes"
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestNamesOfWhatIsSaved holds names that some system, or some eye, takes for something else.
func TestNamesOfWhatIsSaved(t *testing.T) {
	for name, file := range map[string]string{
		"Honey by area":      "Honey by area.csv",
		"../../etc/passwd":   "-..-etc-passwd.csv",
		"a\u202egpj.exe":     "agpj.exe.csv",
		"a／b∕c＼d":            "a-b-c-d.csv",
		" . ":                "chart.csv",
		"con":                "chart con.csv",
		"LPT1.old":           "chart LPT1.old.csv",
		"line\nbreak\x00":    "linebreak.csv",
		"蜂蜜 и мёд":           "蜂蜜 и мёд.csv",
		"نمی\u200cخواهم":     "نمی\u200cخواهم.csv",
		"\u2066\u200b\ufeff": "chart.csv",
	} {
		if got := FileName(name, "csv"); got != file {
			t.Errorf("%q becomes %q, want %q", name, got, file)
		}
	}
	if got := FileName(strings.Repeat("蜂", 300), "svg"); len([]rune(got)) > 90 {
		t.Errorf("a long name stays long: %d", len([]rune(got)))
	}
}

// TestNoTextIsRunAsAFormula writes texts that a spreadsheet would run, in both widths of their signs.
func TestNoTextIsRunAsAFormula(t *testing.T) {
	for _, sign := range []string{"=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠"} {
		var out bytes.Buffer
		made, _ := table.New(table.NewCategory("name", []string{sign + "cmd()"}))
		if err := WriteCSV(t.Context(), &out, made); err != nil || !strings.Contains(out.String(), "'"+sign+"cmd()") {
			t.Errorf("%q is written %q, %v", sign, out.String(), err)
		}
	}
}
