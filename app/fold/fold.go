// Package fold says when two names are one.
package fold

import (
	"strings"

	"golang.org/x/text/unicode/norm"
)

// Name is a name as it is compared: without blanks around it, in lower case, with accents
// composed. It is what the database keeps under a binary collation wherever a name may be there
// only once, so that the program and the database never differ on whether two names are one.
func Name(name string) string {
	return norm.NFC.String(strings.ToLower(norm.NFC.String(strings.TrimSpace(name))))
}
