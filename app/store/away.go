package store

import (
	"database/sql/driver"
	"errors"
	"io"
	"net"
	"slices"
	"strconv"
	"strings"
	"syscall"

	"github.com/go-sql-driver/mysql"
)

// MariaDB's numbers for a server that goes or is too busy to let anybody in.
const (
	errShutdown     = 1053
	errTooMany      = 1040
	errKilled       = 1927
	errQueryKilled  = 1317
	errNormalEnding = 1077
	errTooLong      = 1969
	// errNoCluster is a node's that has lost its cluster.
	errNoCluster = 1047
)

// MariaDB's numbers for a disk that is full, as it says it of a table, of a file and of what
// lies below a table.
const (
	errTableFull = 1114
	errDiskFull  = 1021
	errEngine    = 1030
)

// Full reports an error that says that the database's disk is full.
func Full(err error) bool {
	var my *mysql.MySQLError
	if !errors.As(err, &my) {
		return false
	}
	switch my.Number {
	case errTableFull, errDiskFull:
		return true
	case errEngine:
		return strings.Contains(my.Message, strconv.Itoa(int(syscall.ENOSPC)))
	}
	return false
}

// Away reports an error that says that the database does not answer: it was stopped,
// killed, or cannot be reached. What was asked may be asked again.
func Away(err error) bool {
	var wire *net.OpError
	if errors.As(err, &wire) || errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) ||
		errors.Is(err, io.ErrUnexpectedEOF) ||
		errors.Is(err, io.EOF) {
		return true
	}
	return slices.Contains([]uint16{errShutdown, errTooMany, errKilled, errQueryKilled, errNormalEnding, errTooLong, errNoCluster}, number(err))
}
