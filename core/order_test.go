// Package core_test guards the two wings of the house: core knows nothing of
// the network, the database, the clock or a screen, and inside it a package
// imports only those listed above it.
package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// order lists the packages of core; each may import those above it.
var order = []string{
	"quantity", "wording", "problem", "source", "field", "battery", "accuracy", "circuit", "reading", "twin", "use", "school",
	"evidence", "safety", "logbook", "diagnosis", "study", "charging", "shelf", "standing", "trail", "drawing", "procedure", "jump", "fitting", "terminals", "bench", "handbook",
}

// outside is what a pure function has no use for.
var outside = []string{"net", "net/http", "database/sql", "os", "os/exec", "io/ioutil", "log", "log/slog", "syscall", "math/rand", "math/rand/v2", "crypto/rand"}

// seeded is what may be taken of math/rand/v2: sources made from a seed.
var seeded = []string{"New", "NewPCG", "Rand"}

func TestOrder(t *testing.T) {
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			return err
		}
		check(t, path, file)
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}

func check(t *testing.T, path string, file *ast.File) {
	own := slices.Index(order, filepath.Dir(path))
	if own < 0 {
		t.Errorf("%s: package is not in the order", path)
	}
	for _, spec := range file.Imports {
		name, err := strconv.Unquote(spec.Path.Value)
		if err != nil {
			t.Fatal(err)
		}
		if name == "math/rand/v2" && slices.Contains([]string{"study", "shelf"}, filepath.Dir(path)) {
			continue // they draw from seeded sources; see seeded
		}
		if slices.Contains(outside, name) || strings.HasPrefix(name, "grapnel/app") {
			t.Errorf("%s imports %s", path, name)
		}
		if inner, ok := strings.CutPrefix(name, "grapnel/core/"); ok && slices.Index(order, inner) >= own {
			t.Errorf("%s imports %s, which is not above it", path, name)
		}
	}
	ast.Inspect(file, func(n ast.Node) bool {
		if call, ok := n.(*ast.SelectorExpr); ok {
			if pkg, ok := call.X.(*ast.Ident); ok && pkg.Name == "rand" && !slices.Contains(seeded, call.Sel.Name) {
				t.Errorf("%s draws from a source nobody seeded: rand.%s", path, call.Sel.Name)
			}
			if pkg, ok := call.X.(*ast.Ident); ok && pkg.Name == "time" && slices.Contains([]string{"Now", "Since", "Local", "LoadLocation"}, call.Sel.Name) {
				t.Errorf("%s reads the clock or the zone: time.%s", path, call.Sel.Name)
			}
		}
		return true
	})
}
