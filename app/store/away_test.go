package store_test

import (
	"errors"
	"fmt"
	"io"
	"testing"

	"github.com/go-sql-driver/mysql"

	"grapnel/app/store"
)

// MariaDB's own numbers: its list of error codes (1021 ER_DISK_FULL, 1030 ER_GET_ERRNO, 1114
// ER_RECORD_FILE_FULL, 1062 ER_DUP_ENTRY), values from memory; 28 is ENOSPC of Linux.
func TestFull(t *testing.T) {
	for _, c := range []struct {
		err  error
		full bool
	}{
		{&mysql.MySQLError{Number: 1114, Message: "The table 'event' is full"}, true},
		{&mysql.MySQLError{Number: 1021, Message: "Disk full (/tmp); waiting for someone to free some space..."}, true},
		{&mysql.MySQLError{Number: 1030, Message: "Got error 28 \"No space left on device\" from storage engine"}, true},
		{&mysql.MySQLError{Number: 1030, Message: "Got error 168 \"Unknown (generic) error from engine\" from storage engine"}, false},
		{&mysql.MySQLError{Number: 1062, Message: "Duplicate entry '28' for key"}, false},
		{errors.Join(fmt.Errorf("keep: %w", &mysql.MySQLError{Number: 1114}), mysql.ErrInvalidConn), true},
		{io.EOF, false},
		{nil, false},
	} {
		if got := store.Full(c.err); got != c.full {
			t.Errorf("%v: %v", c.err, got)
		}
	}
}
