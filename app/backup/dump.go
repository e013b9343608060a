package backup

import (
	"bytes"
	"fmt"
	"net"
	"strings"

	"github.com/go-sql-driver/mysql"
)

// clientOptions is how MariaDB's own programs reach a database.
func clientOptions(config *mysql.Config) string {
	lines := []string{"[client]", "user=" + quoted(config.User), "password=" + quoted(config.Passwd)}
	if config.Net == "unix" {
		lines = append(lines, "socket="+quoted(config.Addr))
	} else if host, port, err := net.SplitHostPort(config.Addr); err == nil {
		lines = append(lines, "protocol=tcp", "host="+quoted(host), "port="+port)
	}
	if config.TLSConfig != "" && config.TLSConfig != "false" {
		lines = append(lines, "ssl")
	}
	return strings.Join(lines, "\n") + "\n"
}

// quoted is a value as an option file has it.
func quoted(text string) string {
	return `"` + strings.NewReplacer(`\`, `\\`, `"`, `\"`, "\n", `\n`).Replace(text) + `"`
}

// counter counts the rows of a dump as it passes by: one row a line.
type counter struct {
	tables map[string]int64
	// line is how the line at hand begins; rest says that the rest of it is passed over.
	line []byte
	rest bool
	last []byte
}

// How the lines begin that matter, and how much of a line that is.
var (
	rowBegins   = []byte("INSERT INTO `")
	tableBegins = []byte("CREATE TABLE `")
	dumpEnds    = []byte("-- Dump completed")
)

const mostBeginning = 160

// Write counts what passes by.
func (c *counter) Write(p []byte) (int, error) {
	if c.tables == nil {
		c.tables = map[string]int64{}
	}
	for rest := p; len(rest) > 0; {
		part, after, ended := bytes.Cut(rest, []byte("\n"))
		if !c.rest {
			c.line = append(c.line, part[:min(len(part), mostBeginning)]...)
			c.rest = len(c.line) >= mostBeginning
		}
		if ended {
			c.take()
		}
		rest = after
	}
	return len(p), nil
}

// take counts the line at hand.
func (c *counter) take() {
	if name, ok := nameBehind(c.line, rowBegins); ok {
		c.tables[name]++
	} else if name, ok := nameBehind(c.line, tableBegins); ok {
		c.tables[name] += 0
	}
	if len(c.line) > 0 {
		c.last = append(c.last[:0], c.line...)
	}
	c.line, c.rest = c.line[:0], false
}

func nameBehind(line, begins []byte) (string, bool) {
	rest, ok := bytes.CutPrefix(line, begins)
	if !ok {
		return "", false
	}
	name, _, ok := bytes.Cut(rest, []byte("`"))
	return string(name), ok
}

// whole reports that the dump has come to its end.
func (c *counter) whole() bool { return bytes.HasPrefix(c.last, dumpEnds) }

// String says what was counted.
func (c *counter) String() string { return fmt.Sprint(c.tables) }
