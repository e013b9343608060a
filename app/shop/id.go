// Package shop holds the nouns of a workshop (people, customers, vehicles,
// batteries, jobs, readings) and what is done with them. It owns the interface
// through which they are stored and holds no rule of the trade: those are core's.
package shop

import (
	"database/sql/driver"
	"fmt"

	"github.com/google/uuid"
)

// ID is a UUIDv7, made by whoever first writes a thing down, so that it is its
// idempotency key as well. It is stored as sixteen bytes.
type ID [16]byte

// NewID makes a fresh ID.
func NewID() ID { return ID(uuid.Must(uuid.NewV7())) }

// ParseID reads the usual text form.
func ParseID(s string) (ID, error) {
	u, err := uuid.Parse(s)
	return ID(u), err
}

// IsZero reports an ID that was never set.
func (id ID) IsZero() bool { return id == ID{} }

// String is the usual text form.
func (id ID) String() string { return uuid.UUID(id).String() }

// MarshalText writes the usual text form.
func (id ID) MarshalText() ([]byte, error) { return []byte(id.String()), nil }

// UnmarshalText reads the usual text form.
func (id *ID) UnmarshalText(text []byte) error {
	parsed, err := ParseID(string(text))
	*id = parsed
	return err
}

// Value stores sixteen bytes.
func (id ID) Value() (driver.Value, error) { return id[:], nil }

// Scan reads sixteen bytes.
func (id *ID) Scan(src any) error {
	data, ok := src.([]byte)
	if !ok || len(data) != len(id) {
		return fmt.Errorf("an ID is sixteen bytes, not %T", src)
	}
	copy(id[:], data)
	return nil
}
