//go:build !js

package record

import (
	"database/sql/driver"
	"fmt"

	"github.com/google/uuid"
)

// NewID makes a fresh ID.
func NewID() ID { return ID(uuid.Must(uuid.NewV7())) }

// Named is an ID made from a space's own and a name in it (RFC 9562, version 5).
func (id ID) Named(name []byte) ID { return ID(uuid.NewSHA1(uuid.UUID(id), name)) }

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
