// Package imports holds the rules of who may import whom, as data.
package imports

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// rules say, for the packages under a folder, which imports are allowed: the
// standard library (a path without a dot in its first part) always is, but for
// what forbidden names.
var rules = []struct {
	folder    string
	allowed   []string
	forbidden []string
}{
	{"core", []string{"copperlark/core/", "gonum.org/v1/gonum"}, []string{"os", "net", "net/http", "time/tzdata", "log", "log/slog", "math/rand"}},
	{"files", []string{"copperlark/core/", "github.com/apache/arrow-go/v18"}, []string{"os", "net", "net/http", "log", "log/slog", "database/sql"}},
	{"app", []string{"copperlark/core/", "copperlark/files", "golang.org/x/crypto"}, []string{"net/http", "database/sql"}},
	{"store", []string{"copperlark/core/", "copperlark/app", "github.com/jackc/pgx/v5", "github.com/pressly/goose/v3", "github.com/klauspost/compress"}, []string{"net/http"}},
	{"server", []string{"copperlark/core/", "copperlark/app", "copperlark/files", "github.com/gin-gonic/gin", "github.com/danielgtaylor/huma/v2", "github.com/klauspost/compress"}, []string{"database/sql"}},
	{"demo", []string{"copperlark/core/"}, nil},
	{"web", nil, nil},
}

func TestImportsKeepTheRules(t *testing.T) {
	for _, rule := range rules {
		files := 0
		err := filepath.WalkDir(filepath.Join("..", "..", rule.folder), func(path string, entry fs.DirEntry, err error) error {
			if err != nil {
				return err
			}
			if entry.IsDir() && entry.Name() == "node_modules" {
				return filepath.SkipDir
			}
			if !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return nil
			}
			files++
			file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
			if err != nil {
				return err
			}
			for _, spec := range file.Imports {
				name, _ := strconv.Unquote(spec.Path.Value)
				if !permitted(name, rule.allowed, rule.forbidden) {
					t.Errorf("%s imports %s, which packages under %s may not", path, name, rule.folder)
				}
			}
			return nil
		})
		if err != nil || files == 0 {
			t.Errorf("%s: %d files, %v", rule.folder, files, err)
		}
	}
}

func permitted(name string, allowed, forbidden []string) bool {
	for _, f := range forbidden {
		if name == f {
			return false
		}
	}
	first, _, _ := strings.Cut(name, "/")
	if !strings.Contains(first, ".") && first != "copperlark" {
		return true
	}
	for _, a := range allowed {
		if strings.HasPrefix(name, a) {
			return true
		}
	}
	return false
}
