package reading

import (
	"os"
	"strings"
	"testing"
)

// TestPageIsCurrent checks that docs/reading-line.md is what the tables say.
func TestPageIsCurrent(t *testing.T) {
	data, err := os.ReadFile("../../docs/reading-line.md")
	if err != nil {
		t.Fatal(err)
	}
	if string(data) != Page() {
		t.Error("docs/reading-line.md is out of date: make reading-line")
	}
	if strings.ContainsAny(Page(), "⟨⟩") {
		t.Error("the page has gaps in its words")
	}
	for _, kind := range Kinds() {
		if !strings.Contains(Page(), Example(Kind(kind))) {
			t.Errorf("the page has no example of %s", kind)
		}
	}
}
