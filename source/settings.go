package source

import (
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"strings"
)

// Named is a source as an operator names it in a file of JSON:
//
//	[{"name": "Scales", "address": "postgres://reader@db.example/apiary?sslmode=verify-full",
//	  "tables": [{"name": "public.scale_hours", "key": "id"}], "spaces": [1]}]
//
// The role of the address may read the named tables and nothing else; a password stands in the address, or in a
// file that PGPASSFILE names.
type Named struct {
	Name    string       `json:"name"`
	Address string       `json:"address"`
	Tables  []NamedTable `json:"tables"`
	// Spaces are the numbers of the spaces whose makers may take rows of it; none said: all.
	Spaces []int64 `json:"spaces,omitempty"`
}

// NamedTable is a table, or a view, that may be read: schema and name with a point between them.
type NamedTable struct {
	Name string `json:"name"`
	// Key is a column that tells rows apart, by whose hash they are drawn. Without one the database draws, which
	// partitioned tables and views cannot: these are read whole.
	Key string `json:"key,omitempty"`
}

// sourceName is what a name may be made of: it stands in the places of origins.
var sourceName = regexp.MustCompile(`^[\pL\pN][\pL\pN _-]{0,59}$`)

// ReadNamed reads the file of an operator.
func ReadNamed(raw []byte) ([]Named, error) {
	var all []Named
	decoder := json.NewDecoder(strings.NewReader(string(raw)))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(&all); err != nil {
		return nil, fmt.Errorf("the file of sources cannot be read: %w", err)
	}
	seen := map[string]bool{}
	for _, one := range all {
		switch {
		case !sourceName.MatchString(one.Name):
			return nil, fmt.Errorf("a source is called %q: letters, digits, blanks and hyphens, at most 60", one.Name)
		case seen[one.Name]:
			return nil, fmt.Errorf("two sources are called %s", one.Name)
		case !strings.HasPrefix(one.Address, "postgres://") && !strings.HasPrefix(one.Address, "postgresql://"):
			return nil, fmt.Errorf("source %s: an address begins with postgres://", one.Name) // it may hold a password: it is not said
		case len(one.Tables) == 0:
			return nil, fmt.Errorf("source %s names no tables", one.Name)
		}
		for _, t := range one.Tables {
			if parts := strings.Split(t.Name, "."); len(parts) != 2 || parts[0] == "" || parts[1] == "" {
				return nil, fmt.Errorf("source %s: a table is named as schema.table, not %q", one.Name, t.Name)
			}
		}
		seen[one.Name] = true
	}
	if len(all) == 0 {
		return nil, errors.New("the file of sources names none")
	}
	return all, nil
}
