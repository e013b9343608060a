// Package record holds what a workshop writes down (customers, vehicles, batteries and
// where they are, jobs, readings and what was done around them) and works out from it
// what the job screen shows: corrections folded, each battery's case for the core, the
// page. It is what the server and a device in the browser share, and needs nothing
// else: no database, no network, no passwords. It holds no rule of the trade: those are
// core's.
package record

import (
	"encoding/hex"
	"fmt"
	"hash/fnv"
)

// ID is a UUIDv7, made by whoever first writes a thing down, so that it is its
// idempotency key as well. It is stored as sixteen bytes.
type ID [16]byte

// The places of the hyphens in the text form.
var hyphens = [...]int{8, 13, 18, 23}

const textLength = 36

// ParseID reads the usual text form, 8-4-4-4-12 hexadecimal digits.
func ParseID(s string) (ID, error) {
	var id ID
	digits := make([]byte, 0, 2*len(id))
	for i := range len(s) {
		if len(s) == textLength && (i == hyphens[0] || i == hyphens[1] || i == hyphens[2] || i == hyphens[3]) && s[i] == '-' {
			continue
		}
		digits = append(digits, s[i])
	}
	if len(s) != textLength || len(digits) != 2*len(id) {
		return ID{}, fmt.Errorf("%.40q is not an ID: 8-4-4-4-12 hexadecimal digits", s)
	}
	if _, err := hex.Decode(id[:], digits); err != nil {
		return ID{}, fmt.Errorf("%.40q is not an ID: %w", s, err)
	}
	return id, nil
}

// IsZero reports an ID that was never set.
func (id ID) IsZero() bool { return id == ID{} }

// String is the usual text form.
func (id ID) String() string {
	var out [textLength]byte
	hex.Encode(out[:8], id[:4])
	for i, at := range [...]struct{ from, to, of int }{{9, 13, 4}, {14, 18, 6}, {19, 23, 8}} {
		out[hyphens[i]] = '-'
		hex.Encode(out[at.from:at.to], id[at.of:at.of+2])
	}
	out[hyphens[3]] = '-'
	hex.Encode(out[24:], id[10:])
	return string(out[:])
}

// MarshalText writes the usual text form.
func (id ID) MarshalText() ([]byte, error) { return []byte(id.String()), nil }

// UnmarshalText reads the usual text form.
func (id *ID) UnmarshalText(text []byte) error {
	parsed, err := ParseID(string(text))
	*id = parsed
	return err
}

// Part is the ID of a part of a thing, made from the thing's own: the same every time
// (RFC 9562, version 8; the hash is FNV-1a of 128 bits).
func (id ID) Part(n int) ID {
	sum := fnv.New128a()
	sum.Write(id[:])
	sum.Write([]byte{byte(n >> 24), byte(n >> 16), byte(n >> 8), byte(n)})
	var out ID
	copy(out[:], sum.Sum(nil))
	out[6], out[8] = out[6]&0x0f|0x80, out[8]&0x3f|0x80
	return out
}
