package shelf

import "slices"

// edit is a change of a group's list: up to two turns that are left out, and up to two
// batteries that are put in before a turn.
type edit struct {
	group int
	skip  [2]int
	puts  [2]put
}

// put is a battery put in before a turn.
type put struct {
	turn int
	entry
}

// none is no turn, nothing a battery that is not put in.
const none = -1

var nothing = put{turn: none}

// take leaves a turn out.
func take(group, turn int) edit {
	return edit{group: group, skip: [2]int{turn, none}, puts: [2]put{nothing, nothing}}
}

// first is the first turn that the edit changes.
func (e *edit) first() int {
	first := never
	for _, turn := range [4]int{e.skip[0], e.skip[1], e.puts[0].turn, e.puts[1].turn} {
		if turn != none {
			first = min(first, turn)
		}
	}
	return first
}

// skips reports a turn that is left out.
func (e *edit) skips(turn int) bool { return turn == e.skip[0] || turn == e.skip[1] }

// apply is a list with the edit made.
func (e *edit) apply(list []entry) []entry {
	if e.skip[1] != none || e.skip[0] != none && e.skip[0] == e.puts[0].turn {
		for i := range e.puts {
			if e.puts[i].turn != none {
				list[e.puts[i].turn] = e.puts[i].entry
			}
		}
		return list
	}
	turn := e.puts[0].turn
	if e.skip[0] != none {
		list = slices.Delete(list, e.skip[0], e.skip[0]+1)
		if turn > e.skip[0] {
			turn--
		}
	}
	if turn == none {
		return list
	}
	return slices.Insert(list, turn, e.puts[0].entry)
}
