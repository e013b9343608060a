package procedure

import "slices"

// names gives each id of a scene a number.
type names struct {
	ids  []string
	find map[string]int
}

func (n *names) of(id string) int {
	if i, ok := n.find[id]; ok {
		return i
	}
	i := len(n.ids)
	n.find[id] = i
	n.ids = append(n.ids, id)
	return i
}

// net is the circuit at one moment: which nodes are one piece of metal, and which pieces
// sources hold at a voltage against each other.
type net struct {
	// metal joins nodes that conductors join, held those that sources join as well.
	metal, held []int
	// volts of a node against the root of what it is held with.
	volts []float64
}

func newNet(nodes int) *net {
	n := &net{make([]int, nodes), make([]int, nodes), make([]float64, nodes)}
	for i := range nodes {
		n.metal[i], n.held[i] = i, i
	}
	return n
}

func root(of []int, i int) int {
	for of[i] != i {
		of[i] = of[of[i]]
		i = of[i]
	}
	return i
}

// join makes one piece of metal of two nodes.
func (n *net) join(a, b int) { n.metal[root(n.metal, a)] = root(n.metal, b) }

// same reports whether two nodes are one piece of metal.
func (n *net) same(a, b int) bool { return root(n.metal, a) == root(n.metal, b) }

// at is the root a node is held by and its volts against it.
func (n *net) at(i int) (int, float64) {
	i = root(n.metal, i)
	v := 0.0
	for n.held[i] != i {
		v += n.volts[i]
		i = n.held[i]
	}
	return i, v
}

// together reports whether two nodes are held against each other by sources, or are one.
func (n *net) together(a, b int) bool {
	x, _ := n.at(a)
	y, _ := n.at(b)
	return x == y
}

// clash is what a source meets that cannot stand together with it.
type clash string

const (
	none   clash = ""
	bridge clash = "short"
	mixed  clash = "mixed_voltage"
)

// closeTo is how far two sums of nominal volts may differ and be the same.
const closeTo = 0.5

// hold puts a source between two nodes and reports what clashes with it: it is bridged, it
// stands the other way round against what holds them already, or it has other volts.
func (n *net) hold(plus, minus int, volts float64) clash {
	p, atPlus := n.at(plus)
	m, atMinus := n.at(minus)
	if p != m {
		n.held[p] = m
		n.volts[p] = atMinus + volts - atPlus
		return none
	}
	switch there := atPlus - atMinus; {
	case there < closeTo:
		return bridge
	case there-volts > closeTo || volts-there > closeTo:
		return mixed
	}
	return none
}

// pairs are the joints of a moment, in order.
type pairs []Pair

func (p pairs) of(id string) []string {
	var out []string
	for _, one := range p {
		switch id {
		case one[0]:
			out = append(out, one[1])
		case one[1]:
			out = append(out, one[0])
		}
	}
	return out
}

func (p pairs) has(id string) bool {
	return slices.ContainsFunc(p, func(one Pair) bool { return one[0] == id || one[1] == id })
}
