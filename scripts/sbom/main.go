// Command sbom lists what a release is made of, of both sides: the Go modules in its binary and the
// packages of its front end, as CycloneDX 1.5 in JSON. With -ages it prints, for reading, how old
// each version is that we chose ourselves, from the module proxy and the package registry.
package main

import (
	"debug/buildinfo"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"strings"
	"time"
)

func main() {
	binary := flag.String("binary", "bin/grapnel", "the binary")
	lock := flag.String("lock", "web/package-lock.json", "the lock of the front end's packages")
	ages := flag.Bool("ages", false, "a table of versions with their ages instead")
	flag.Parse()
	do := list
	if *ages {
		do = table
	}
	if err := do(*binary, *lock); err != nil {
		fmt.Fprintln(os.Stderr, "sbom:", err)
		os.Exit(1)
	}
}

// component is one that a release is made of, as CycloneDX has it.
type component struct {
	Type    string `json:"type"`
	Name    string `json:"name"`
	Version string `json:"version"`
	PURL    string `json:"purl"`
	Hashes  []hash `json:"hashes,omitempty"`
	direct  bool
}

type hash struct {
	Algorithm string `json:"alg"`
	Content   string `json:"content"`
}

// list prints the bill of materials.
func list(binary, lock string) error {
	goSide, toolchain, err := modules(binary)
	if err != nil {
		return err
	}
	webSide, err := packages(lock)
	if err != nil {
		return err
	}
	standard := component{Type: "library", Name: "std", Version: toolchain, PURL: "pkg:golang/std@" + strings.TrimPrefix(toolchain, "go")}
	out := json.NewEncoder(os.Stdout)
	out.SetIndent("", " ")
	return out.Encode(map[string]any{
		"bomFormat": "CycloneDX", "specVersion": "1.5", "version": 1,
		"metadata":   map[string]any{"component": component{Type: "application", Name: "grapnel", PURL: "pkg:generic/grapnel"}},
		"components": slices.Concat([]component{standard}, goSide, webSide),
	})
}

// modules are the Go modules that a binary holds.
func modules(binary string) (out []component, toolchain string, err error) {
	info, err := buildinfo.ReadFile(binary)
	if err != nil {
		return nil, "", err
	}
	for _, m := range info.Deps {
		out = append(out, component{Type: "library", Name: m.Path, Version: m.Version, PURL: "pkg:golang/" + m.Path + "@" + m.Version})
	}
	return out, info.GoVersion, nil
}

// packages are the packages whose code may be in the front end: those that are not for developing.
func packages(lock string) ([]component, error) {
	text, err := os.ReadFile(lock)
	if err != nil {
		return nil, err
	}
	var read struct {
		Packages map[string]struct {
			Version      string            `json:"version"`
			Dev          bool              `json:"dev"`
			Integrity    string            `json:"integrity"`
			Dependencies map[string]string `json:"dependencies"`
		} `json:"packages"`
	}
	if err := json.Unmarshal(text, &read); err != nil {
		return nil, fmt.Errorf("%s: %w", lock, err)
	}
	var out []component
	for path, p := range read.Packages {
		_, name, ok := strings.Cut(path, "node_modules/")
		if !ok || p.Dev {
			continue
		}
		if i := strings.LastIndex(name, "node_modules/"); i >= 0 {
			name = name[i+len("node_modules/"):]
		}
		c := component{Type: "library", Name: name, Version: p.Version, PURL: "pkg:npm/" + strings.Replace(name, "@", "%40", 1) + "@" + p.Version}
		_, c.direct = read.Packages[""].Dependencies[name]
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b component) int { return strings.Compare(a.PURL, b.PURL) })
	return out, nil
}

// table prints how old each version is: of all Go modules, and of the front end's packages that it
// names itself.
func table(binary, lock string) error {
	goSide, _, err := modules(binary)
	if err != nil {
		return err
	}
	webSide, err := packages(lock)
	if err != nil {
		return err
	}
	fmt.Println("| what | version | of | days old |\n|---|---|---|---|")
	for _, c := range goSide {
		row(c, moduleTime)
	}
	for _, c := range webSide {
		if c.direct {
			row(c, packageTime)
		}
	}
	return nil
}

func row(c component, when func(component) (time.Time, error)) {
	at, err := when(c)
	if err != nil {
		fmt.Printf("| %s | %s | not to be had | |\n", c.Name, c.Version)
		return
	}
	fmt.Printf("| %s | %s | %s | %.0f |\n", c.Name, c.Version, at.Format(time.DateOnly), time.Since(at).Hours()/24)
}

// moduleTime is when a version of a Go module was made.
func moduleTime(c component) (at time.Time, err error) {
	text, err := exec.Command("go", "list", "-m", "-f", "{{.Time.Format \"2006-01-02T15:04:05Z07:00\"}}", c.Name+"@"+c.Version).Output()
	if err != nil {
		return at, err
	}
	return time.Parse(time.RFC3339, strings.TrimSpace(string(text)))
}

// packageTime is when a version of a package was published.
func packageTime(c component) (at time.Time, err error) {
	text, err := exec.Command("npm", "view", c.Name, "time", "--json").Output()
	if err != nil {
		return at, err
	}
	var times map[string]time.Time
	if err := json.Unmarshal(text, &times); err != nil {
		return at, err
	}
	at, ok := times[c.Version]
	if !ok {
		return at, fmt.Errorf("%s %s is not there", c.Name, c.Version)
	}
	return at, nil
}
