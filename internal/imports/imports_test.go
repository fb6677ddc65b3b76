// Package imports holds the rules of who may import whom, as data.
package imports

import (
	"go/ast"
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
	{"core", []string{"copperlark/core/", "gonum.org/v1/gonum", "github.com/go-text/typesetting", "golang.org/x/image",
		"codeberg.org/go-pdf/fpdf", "golang.org/x/text/encoding", "github.com/yuin/goldmark"},
		[]string{"os", "net", "net/http", "time/tzdata", "log", "log/slog", "math/rand"}},
	{"files", []string{"copperlark/core/", "github.com/apache/arrow-go/v18", "github.com/hamba/avro/v2", "github.com/golang/snappy",
		"github.com/klauspost/compress/zstd", "github.com/ncruces/go-sqlite3"},
		[]string{"os", "net", "net/http", "log", "log/slog", "database/sql"}},
	{"app", []string{"copperlark/core/", "copperlark/files", "copperlark/internal/admission", "copperlark/internal/cache",
		"copperlark/source", "golang.org/x/crypto", "golang.org/x/sync/singleflight", "github.com/go-webauthn/webauthn", "github.com/pquerna/otp",
		"github.com/trustelem/zxcvbn/frequency"}, []string{"net/http", "database/sql"}},
	{"source", []string{"copperlark/core/", "github.com/jackc/pgx/v5"}, []string{"database/sql"}}, // one engine speaks HTTP
	{"store", []string{"copperlark/core/", "copperlark/app", "github.com/jackc/pgx/v5", "github.com/jackc/puddle/v2",
		"github.com/pressly/goose/v3", "github.com/klauspost/compress"}, []string{"net/http"}},
	{"server", []string{"copperlark/core/", "copperlark/app", "copperlark/files", "github.com/gin-gonic/gin",
		"github.com/danielgtaylor/huma/v2", "github.com/klauspost/compress", "copperlark/internal/admission", "copperlark/internal/cache",
		"github.com/prometheus/client_golang", "golang.org/x/time/rate"}, []string{"database/sql"}},
	{"internal/organisation", []string{"copperlark/app", "github.com/coreos/go-oidc/v3", "golang.org/x/oauth2"}, nil},
	{"internal/courier", nil, nil},
	{"internal/fetch", []string{"copperlark/app", "copperlark/internal/courier"}, nil},
	{"internal/seal", []string{"golang.org/x/crypto"}, nil},
	{"internal/post", []string{"github.com/wneessen/go-mail"}, nil},
	{"internal/admission", nil, nil},
	{"internal/cache", nil, nil},
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

// TestOnlyParallelSaysGo holds that every goroutine is started by the helper that keeps
// its panic from ending the program, and that no context begins below a request.
func TestOnlyParallelSaysGo(t *testing.T) {
	files := token.NewFileSet()
	seen := 0
	for _, folder := range []string{"core", "files", "app", "store", "server", "cmd", "internal", "demo"} {
		err := filepath.WalkDir(filepath.Join("..", "..", folder), func(path string, _ fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "internal/bench") {
				return err
			}
			seen++
			file, err := parser.ParseFile(files, path, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(file, func(n ast.Node) bool {
				switch n := n.(type) {
				case *ast.GoStmt:
					if !strings.Contains(path, "core/parallel/") {
						t.Errorf("%s starts a goroutine: use core/parallel", files.Position(n.Pos()))
					}
				case *ast.SelectorExpr:
					name, _ := n.X.(*ast.Ident)
					if name != nil && name.Name == "context" && (n.Sel.Name == "Background" || n.Sel.Name == "TODO") && folder != "cmd" &&
						folder != "internal" {
						t.Errorf("%s begins a context: take the caller's", files.Position(n.Pos()))
					}
				}
				return true
			})
			return nil
		})
		if err != nil {
			t.Error(err)
		}
	}
	if seen < 100 {
		t.Errorf("only %d files", seen)
	}
}
