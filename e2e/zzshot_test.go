package e2e_test

import (
	"os"
	"strings"
	"testing"

	"grapnel/e2e/browser"
)

// Takes pictures of what stands in SHOTS: "WxH theme path file" by line, js after "|".
func TestZZShot(t *testing.T) {
	list := os.Getenv("SHOTS")
	if list == "" {
		t.Skip()
	}
	p := come(t, 1280, 800)
	p.tap("Jonah Pell")
	p.see("worst first")
	for _, row := range strings.Split(list, "\n") {
		f := strings.SplitN(row, "|", 2)
		w := strings.Fields(f[0])
		if w[0] == "390" {
			_ = p.Size(390, 844)
		} else {
			_ = p.Size(1280, 800)
		}
		_ = p.Theme(w[1])
		if strings.HasPrefix(w[2], "@") {
			p.do(p.Open("/"))
			p.see("worst first")
			p.tap(strings.ReplaceAll(w[2][1:], "_", " "))
			p.see("What holds")
		} else if w[2] != "-" {
			p.do(p.Open(w[2]))
		}
		if len(f) > 1 {
			for _, step := range strings.Split(f[1], ";;") {
				step = strings.TrimSpace(step)
				switch {
				case strings.HasPrefix(step, "tap "):
					p.tap(step[4:])
				case strings.HasPrefix(step, "see "):
					p.see(step[4:])
				case strings.HasPrefix(step, "stage "):
					p.stage(step[6:])
				case strings.HasPrefix(step, "fill "):
					x := strings.SplitN(step[5:], "=", 2)
					p.do(p.Fill(x[0], x[1]))
				case step == "top":
					p.do(p.ScrollUp())
				case step != "":
					_, err := browser.JS[bool](p.Page, "("+step+", true)")
					p.do(err)
				}
			}
		}
		_, _ = browser.JS[bool](p.Page, `new Promise(r => setTimeout(() => r(true), 350))`)
		p.do(p.Shot("/tmp/shots/" + w[3] + ".png"))
	}
}
