package handbook

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"grapnel/core/school"
	"grapnel/core/source"
)

// walked are the packages whose figures are the trade's.
var walked = []string{"battery", "accuracy", "circuit", "use", "reading", "school", "evidence", "twin", "diagnosis", "charging", "shelf", "jump", "fitting", "terminals", "standing", "trail", "procedure"}

// arithmetic are constants of counting and of units, which nobody could set
// otherwise, and limits of what is kept rather than of the trade.
var arithmetic = []string{
	"mostCleared",
	"minutesPerHour", "secondsPerHour", "hoursPerDay", "hoursPerWeek", "monthDays", "percent", "cellsOfTables", "millivolts", "fullPercent",
	"pointsPerGravity", "numbers", "choices", "MostCells", "maxName", "MostNote", "powers", "measures", "minuteSeconds", "hourSeconds",
	"daySeconds", "weekSeconds", "yearSeconds", "ofCondition", "limits", "cautionValues", "Sound", "InOrder", "hypotheses", "noFactor", "faults", "profiles", "profileTired", "unitWords", "kindCautions", "codeNames", "percentOfShare", "daysPerYear", "dayOfTwoPi", "yearOfTwoPi", "tableCelsius", "temperature", "usualSpans", "bandSteps", "reachOfPlan", "reserveSteps", "reserveReach", "turnSteps", "tinyStep", "reachSigmas", "drawnPoints", "percentClose", "longEpoch", "rescaleEvery", "ClocksApart", "MostReadings", "deviceAhead", "Earliest", "mostPosition", "ratingFields", "fields", "vehicleFields", "one", "oneTwo",
}

// TestEveryFigureHasASource walks the packages' tables: whatever is declared
// with a figure in it is listed, under its own name, with a tag.
func TestEveryFigureHasASource(t *testing.T) {
	listed := map[string]source.Entry{}
	for _, e := range Sources() {
		id, _, _ := strings.Cut(e.ID, ".")
		listed[e.Package+"."+id] = e
		if e.Value == "" || !slices.Contains([]source.Kind{source.Published, source.Practice, source.Memory, source.Computed}, e.Source.Kind) || e.Source.Title == "" {
			t.Errorf("%s.%s: %+v", e.Package, e.ID, e)
		}
		if strings.ContainsAny(e.Name, "⟨⟩") || e.Name == "" {
			t.Errorf("%s.%s has no name in the catalogue", e.Package, e.ID)
		}
	}
	declared := map[string]bool{}
	for _, pkg := range walked {
		for _, name := range figures(t, pkg) {
			declared[pkg+"."+name] = true
			if _, ok := listed[pkg+"."+name]; !ok && !slices.Contains(arithmetic, name) {
				t.Errorf("%s.%s has figures and no source", pkg, name)
			}
		}
	}
	for name := range listed {
		if pkg, id, _ := strings.Cut(name, "."); pkg != "quantity" && !declared[name] && id != "dateLetters" && id != "corrosionHints" {
			t.Errorf("%s is listed and not declared", name)
		}
	}
}

// figures names the package's constants and variables with a number in them.
func figures(t *testing.T, pkg string) []string {
	t.Helper()
	var names []string
	files, err := filepath.Glob(filepath.Join("..", pkg, "*.go"))
	if err != nil {
		t.Fatal(err)
	}
	for _, path := range files {
		// Where a thing lies on the paper is no figure of the trade.
		if name := filepath.Base(path); strings.HasSuffix(path, "_test.go") || pkg == "procedure" && (name == "draw.go" || name == "stages.go") {
			continue
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			t.Fatal(err)
		}
		for _, decl := range file.Decls {
			gen, ok := decl.(*ast.GenDecl)
			if !ok || gen.Tok != token.CONST && gen.Tok != token.VAR {
				continue
			}
			for _, spec := range gen.Specs {
				value := spec.(*ast.ValueSpec)
				for i, name := range value.Names {
					if i < len(value.Values) && hasNumber(value.Values[i]) {
						names = append(names, name.Name)
					}
				}
			}
		}
	}
	return names
}

func hasNumber(e ast.Expr) bool {
	found := false
	ast.Inspect(e, func(n ast.Node) bool {
		if _, isFunc := n.(*ast.FuncLit); isFunc {
			return false
		}
		lit, ok := n.(*ast.BasicLit)
		found = found || ok && (lit.Kind == token.INT || lit.Kind == token.FLOAT)
		return true
	})
	return found
}

// TestRulesHash checks that the hash is stable within a build and another one as soon
// as any figure or rule table is: of the limits, of the instruments, of the model.
func TestRulesHash(t *testing.T) {
	figures, tables := Sources(), school.Tables()
	whole := RulesHash()
	if whole != hashOf(figures, tables) || len(whole) != 16 || whole == "unhashed" {
		t.Fatalf("hash %q", whole)
	}
	of := map[string]int{}
	for i := range figures {
		changed := slices.Clone(figures)
		changed[i].Value += " and more"
		if hashOf(changed, tables) == whole {
			t.Errorf("%s.%s is left out of the hash", figures[i].Package, figures[i].ID)
		}
		of[figures[i].Package]++
	}
	for _, pkg := range walked {
		if of[pkg] == 0 {
			t.Errorf("nothing of %s is in the hash", pkg)
		}
	}
	for _, id := range []string{"limits.joint_most", "limits.drain_most"} {
		if !slices.ContainsFunc(figures, func(e source.Entry) bool { return e.Package == "school" && e.ID == id }) {
			t.Errorf("%s is not among the figures", id)
		}
	}
	for name := range tables {
		changed := maps.Clone(tables)
		changed[name] = "another"
		if hashOf(figures, changed) == whole {
			t.Errorf("the table %s is left out of the hash", name)
		}
	}
}

// TestDocs checks that every package of the core has a doc comment that tells a
// newcomer its place.
func TestDocs(t *testing.T) {
	err := filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !d.IsDir() || strings.Contains(path, "testdata") || path == ".." {
			return err
		}
		packages, err := filepath.Glob(filepath.Join(path, "*.go"))
		if err != nil {
			return err
		}
		for _, file := range packages {
			parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.PackageClauseOnly|parser.ParseComments)
			if err != nil {
				return err
			}
			if parsed.Doc != nil && strings.HasPrefix(parsed.Doc.Text(), "Package "+filepath.Base(path)+" holds") || parsed.Doc != nil && len(parsed.Doc.Text()) > 80 {
				return nil
			}
		}
		if len(packages) > 0 {
			t.Errorf("%s says nothing of itself", path)
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
