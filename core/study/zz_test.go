package study

import (
	"fmt"
	"grapnel/core/diagnosis"
	"grapnel/core/twin"
	"math/rand/v2"
	"os"
	"sort"
	"strings"
	"testing"
)

func TestZZ(t *testing.T) {
	name := "standard"
	if n := os.Getenv("FLEET"); n != "" {
		name = n
	}
	f, _ := Load(name)
	e := diagnosis.New()
	var ds twin.Designs
	kept := map[string]int{}
	back := map[string]int{}
	missed := map[string]int{}
	al := map[string]int{}
	rr := map[string]int{}
	for i := 0; i < 2000; i++ {
		x := f.work(e, &ds, "grapnel", 7, i)
		if !x.good && !x.done.replaced {
			k := fmt.Sprintf("%s act %s pow %.1f cap %.1f", x.main, x.action, x.power, x.capacity)
			kept[k]++
		}
		st := f.stranding(func() truth { return f.draw(rand.New(rand.NewPCG(7, uint64(i))), &ds) })
		names := []string{}
		for k := range x.done.named {
			names = append(names, k)
		}
		sort.Strings(names)
		if x.cameBack {
			s := []string{}
			for k := range st {
				if !x.done.named[k] {
					s = append(s, k)
				}
			}
			sort.Strings(s)
			back[fmt.Sprintf("main %s good %v unnamed-stranding %v act %s", x.main, x.good, s, x.action)]++
		}
		for k := range st {
			if !x.done.named[k] {
				missed[fmt.Sprintf("%s main %s act %s", k, x.main, x.action)]++
			}
		}
		for _, n := range names {
			ok := false
			for _, p := range x.present {
				if p == n {
					ok = true
				}
			}
			if !ok {
				al[n+" main "+x.main]++
			}
		}
		if !(x.done.repaired(x.main) && !(x.done.replaced && x.good)) {
			rr["main "+x.main+" cause "+x.cause+" act "+string(x.action)]++
		}
	}
	show := func(n string, m map[string]int) {
		ks := []string{}
		s := 0
		for k := range m {
			ks = append(ks, k)
			s += m[k]
		}
		sort.Slice(ks, func(a, b int) bool { return m[ks[a]] > m[ks[b]] })
		fmt.Println("##", n, s)
		for i, k := range ks {
			if i < 22 {
				fmt.Println("  ", m[k], k)
			}
		}
	}
	show("kept", kept)
	show("back", back)
	show("missed", missed)
	show("alarms", al)
	show("wrong repair", rr)
	_ = strings.Join
}
