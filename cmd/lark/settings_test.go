package main

import (
	"fmt"
	"os"
	"strings"
	"testing"
	"time"
)

// TestEverySettingIsInTheTable holds docs/operating.md to the list.
func TestEverySettingIsInTheTable(t *testing.T) {
	text, err := os.ReadFile("../../docs/operating.md")
	if err != nil {
		t.Fatal(err)
	}
	for _, one := range environment {
		if row := fmt.Sprintf("| `%s` | %s | %s |", one.name, one.meaning, one.otherwise); !strings.Contains(string(text), row) {
			t.Errorf("docs/operating.md lacks the row\n%s", row)
		}
	}
}

func TestSettingsAreReadOrRefusedByName(t *testing.T) {
	read := func(name, value string) (settings, error) {
		var s settings
		return s, s.read(func(asked string) (string, bool) { return value, asked == name })
	}
	for name, wrong := range map[string][]string{"LARK_MEMORY_MB": {"much", "-1", "0", "99999999999"},
		"LARK_WAIT_SECONDS": {"soon", "99999999999"}, "LARK_TLS": {"maybe"}, "LARK_READER_RATE": {"0", "-3", "x"},
		"LARK_LOG": {"all"}, "LARK_MAX_COLUMNS": {"1.5"}} {
		for _, value := range wrong {
			if _, err := read(name, value); err == nil || !strings.Contains(err.Error(), name) {
				t.Errorf("%s=%s: %v", name, value, err)
			}
		}
	}
	var s settings
	given := map[string]string{"LARK_HOSTS": "a.example, b.example", "LARK_MEMORY_MB": "1,024", "LARK_WAITING_MINUTES": "2", "LARK_TLS": "1",
		"LARK_STOP_SECONDS": "5"}
	if err := s.read(func(name string) (string, bool) { v, ok := given[name]; return v, ok }); err != nil {
		t.Fatal(err)
	}
	if len(s.server.Hosts) != 2 || s.limits.MemoryBytes != 1<<30 || s.limits.WaitingTime != 2*time.Minute || !s.server.TLS ||
		s.stop != 5*time.Second {
		t.Errorf("read: %+v", s)
	}
	s = settings{}
	if err := s.read(func(string) (string, bool) { return "", false }); err != nil || s.limits.MemoryBytes < 256<<20 ||
		s.limits.MemoryBytes > 4<<30 || s.stop != 30*time.Second {
		t.Errorf("without any: %+v, %v", s, err)
	}
}
