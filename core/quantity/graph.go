package quantity

// Graph reads a printed table as a graph: straight lines between its points, and beyond
// its ends their values. X has to rise from point to point.
type Graph[P any] struct {
	Points []P
	X, Y   func(P) float64
}

// At is the value over x; zero for an empty table.
func (g Graph[P]) At(x float64) float64 {
	if len(g.Points) == 0 {
		return 0
	}
	before := g.Points[0]
	if x <= g.X(before) {
		return g.Y(before)
	}
	for _, p := range g.Points[1:] {
		if x0, x1 := g.X(before), g.X(p); x <= x1 {
			return g.Y(before) + (x-x0)/(x1-x0)*(g.Y(p)-g.Y(before))
		}
		before = p
	}
	return g.Y(before)
}
