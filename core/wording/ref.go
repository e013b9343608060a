package wording

import (
	"encoding/json"
	"strconv"
)

// Ref names a reading of a case: its ID where it has one, such as the row of a shop,
// else its index from 0, as the readings of grapnel assess have. A name made of digits
// is an index and is a number in JSON; any other is a string.
type Ref string

// Index is the name of the reading at a place of the case, from 0.
func Index(i int) Ref { return Ref(strconv.Itoa(i)) }

// MarshalJSON writes an index as a number and an ID as a string.
func (r Ref) MarshalJSON() ([]byte, error) {
	if _, err := strconv.ParseUint(string(r), 10, 32); err == nil {
		return []byte(r), nil
	}
	return json.Marshal(string(r))
}

// UnmarshalJSON reads either form.
func (r *Ref) UnmarshalJSON(data []byte) error {
	if len(data) > 0 && data[0] != '"' {
		var i int
		err := json.Unmarshal(data, &i)
		*r = Index(i)
		return err
	}
	return json.Unmarshal(data, (*string)(r))
}
