package shelf

// fixes are the ways to be less late.
func (p Planner) fixes(a Ask, b *board, best *order) []Fix { return []Fix{} }
