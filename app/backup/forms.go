package backup

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strings"
)

// A dump is a program: what MariaDB's client reads may run other programs, read files of this
// machine and change other databases. So each line of it has to be of one of the forms that
// mariadb-dump writes for a database of ours, before any of it is run.
var (
	// asSet are comments that set how the client and the server talk while it is loaded.
	asSet = regexp.MustCompile(`^/\*M?!\d{5,6} SET (` + setting + `(?:, ?` + setting + `)*) \*/;$`)
	// asNote are lines that do nothing.
	asNote = regexp.MustCompile(`^(?:|--|-- .*|/\*M!999999\\- enable the sandbox mode \*/ ?)$`)
	// asTable begins a table, asColumn and asKey are its lines, asEnd is its last.
	asTable  = regexp.MustCompile("^CREATE TABLE " + named + " \\($")
	asColumn = regexp.MustCompile("^  " + named + " " + columnType + "(?: " + columnWord + ")*,?$")
	asKey    = regexp.MustCompile("^  (?:PRIMARY KEY|UNIQUE KEY " + named + "|KEY " + named + "|CONSTRAINT " + named + " FOREIGN KEY) " + nameList + "(?: REFERENCES " + named + " " + nameList + ")?,?$")
	asCheck  = regexp.MustCompile("^  CONSTRAINT " + named + " CHECK \\(" + expression + "\\),?$")
	asEnd    = regexp.MustCompile(`^\) ENGINE=InnoDB(?: AUTO_INCREMENT=\d+)? DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_[a-z0-9_]+;$`)
	// asRow is how a row begins; what stands in it is read letter by letter.
	asRow = regexp.MustCompile("^INSERT INTO " + named + " \\(" + name + "(?:, " + name + ")*\\) VALUES \\(")
)

const (
	name     = "`[a-z0-9_]+`"
	named    = name
	nameList = `\(` + name + `(?:,` + name + `)*\)`
	setting  = `(?:@(?:OLD_[A-Z_]+|saved_cs_client) *= *@@[A-Za-z_]+|(?:CHARACTER_SET_CLIENT|CHARACTER_SET_RESULTS|COLLATION_CONNECTION|TIME_ZONE|UNIQUE_CHECKS|FOREIGN_KEY_CHECKS|SQL_MODE|SQL_NOTES|NOTE_VERBOSITY|character_set_client) *= *(?:@(?:OLD_[A-Z_]+|saved_cs_client)|\d|utf8mb4|'\+00:00'|'NO_AUTO_VALUE_ON_ZERO')|NAMES utf8mb4)`
	// columnType is a type such as varchar(60) or binary(16).
	columnType = `[a-z]+(?:\(\d+(?:,\d+)?\))?(?: unsigned)?`
	// expression is what a column is worked out from or held to: tableLine looks at what it calls.
	expression = `[^;#\\]+`
	columnWord = "(?:NOT NULL|NULL|AUTO_INCREMENT|CHARACTER SET utf8mb4|COLLATE utf8mb4_[a-z0-9_]+|DEFAULT (?:NULL|-?[0-9.]+|'[^'\\\\]*'|current_timestamp\\(6?\\))|CHECK \\(json_valid\\(" + name + "\\)\\)|GENERATED ALWAYS AS \\(" + expression + "\\) (?:STORED|VIRTUAL))"
)

// functions are what an expression of a column may call.
var functions = map[string]bool{"json_valid": true, "ucase": true, "lcase": true, "upper": true, "lower": true, "replace": true, "if": true, "coalesce": true, "ifnull": true, "concat": true}

var calls = regexp.MustCompile(`([A-Za-z_0-9]+)\(`)

// mostLine is how long a line of a dump may be, in bytes: a picture in hexadecimal figures is
// some millions, and the server takes no more than this at once.
const mostLine = 64 << 20

// formError says which line is none of mariadb-dump's for a database of ours.
type formError struct {
	number int
	line   string
}

// Error quotes how the line begins.
func (e formError) Error() string {
	return fmt.Sprintf("line %d is nothing that a backup of Grapnel holds: %.120q", e.number, e.line)
}

// checkForms reads a dump to its end and finds every line of it in one of the forms that a
// backup of ours has.
func checkForms(dump io.Reader) error {
	in := bufio.NewReaderSize(dump, 1<<16)
	inTable := false
	for number := 1; ; number++ {
		line, err := readLine(in)
		if errors.Is(err, io.EOF) {
			if inTable {
				return formError{number, "it ends within a table"}
			}
			return nil
		}
		if err != nil {
			return fmt.Errorf("line %d: %w", number, err)
		}
		ok := false
		switch {
		case inTable:
			ok = tableLine(line)
			inTable = !asEnd.Match(line)
		case asTable.Match(line):
			ok, inTable = true, true
		case bytes.HasPrefix(line, rowBegins):
			ok = rowLine(line)
		default:
			ok = asNote.Match(line) || asSet.Match(line)
		}
		if !ok {
			return formError{number, string(line[:min(len(line), 200)])}
		}
	}
}

// readLine reads one line, without its end.
func readLine(in *bufio.Reader) ([]byte, error) {
	var line []byte
	for {
		part, err := in.ReadSlice('\n')
		line = append(line, part...)
		switch {
		case len(line) > mostLine:
			return nil, fmt.Errorf("it is longer than %d bytes", mostLine)
		case errors.Is(err, bufio.ErrBufferFull):
		case errors.Is(err, io.EOF) && len(line) > 0:
			return line, nil
		case err != nil:
			return nil, err
		default:
			return line[:len(line)-1], nil
		}
	}
}

// tableLine reports a line that may stand in a table.
func tableLine(line []byte) bool {
	if asEnd.Match(line) || asKey.Match(line) {
		return true
	}
	plain := outsideTexts(line)
	if !asColumn.Match(line) && !asCheck.Match(line) || bytes.Contains(plain, []byte("--")) || bytes.Contains(plain, []byte("/*")) {
		return false
	}
	for _, call := range calls.FindAllSubmatch(plain, -1) {
		if word := strings.ToLower(string(call[1])); !functions[word] && !types[word] {
			return false
		}
	}
	return true
}

// types are what may stand before a bracket in a table besides functions.
var types = map[string]bool{
	"binary": true, "varbinary": true, "char": true, "varchar": true, "int": true, "tinyint": true, "smallint": true, "mediumint": true, "bigint": true,
	"datetime": true, "timestamp": true, "decimal": true, "double": true, "current_timestamp": true,
}

// outsideTexts is a line without what stands in it between single quotes.
func outsideTexts(line []byte) []byte {
	var out []byte
	quoted := false
	for _, c := range line {
		if c == '\'' {
			quoted = !quoted
		} else if !quoted {
			out = append(out, c)
		}
	}
	return out
}

// rowLine reports a line that puts one row into a table, of plain values alone.
func rowLine(line []byte) bool {
	at := asRow.FindIndex(line)
	if at == nil {
		return false
	}
	for rest := line[at[1]:]; ; {
		n := valueLength(rest)
		if n == 0 {
			return false
		}
		switch rest = rest[n:]; {
		case bytes.Equal(rest, []byte(");")):
			return true
		case !bytes.HasPrefix(rest, []byte(",")):
			return false
		}
		rest = rest[1:]
	}
}

var plainValue = regexp.MustCompile(`^(?:NULL|0x[0-9A-F]+|-?[0-9]+(?:\.[0-9]+)?(?:e[-+]?[0-9]+)?)`)

// valueLength is how long the value is that a text begins with: a text in quotes, a figure,
// figures in hexadecimal or NULL. 0 where it is none of them.
func valueLength(text []byte) int {
	if len(text) == 0 || text[0] != '\'' {
		return len(plainValue.Find(text))
	}
	for i := 1; i < len(text); i++ {
		switch text[i] {
		case '\\':
			i++
		case '\'':
			return i + 1
		}
	}
	return 0
}
