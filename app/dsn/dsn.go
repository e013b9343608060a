// Package dsn is how a MariaDB is reached: one server, or the nodes of a cluster, of which the
// first that answers is taken:
//
//	grapnel:secret@tcp(10.0.0.5:3306)/grapnel
//	grapnel:secret@tcp(10.0.0.5:3306,10.0.0.6:3306,10.0.0.7:3306)/grapnel
package dsn

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"net"
	"regexp"
	"strings"
	"sync/atomic"
	"time"

	"github.com/go-sql-driver/mysql"
)

// nodeTimeout is how long one node of several may take to be reached.
const nodeTimeout = 2 * time.Second

// severalNodes finds the addresses of a DSN that names more than one.
var severalNodes = regexp.MustCompile(`@tcp\(([^()]*,[^()]*)\)/`)

// Parse reads a DSN.
func Parse(text string) (*mysql.Config, error) {
	// The driver knows one address: it is given the first, and the others are put back.
	list := severalNodes.FindStringSubmatch(text)
	if list != nil {
		first, _, _ := strings.Cut(list[1], ",")
		text = strings.Replace(text, list[1], strings.TrimSpace(first), 1)
	}
	config, err := mysql.ParseDSN(text)
	if err == nil && list != nil {
		config.Addr = list[1]
	}
	if err != nil {
		return nil, fmt.Errorf("GRAPNEL_DSN: %w (like grapnel:secret@tcp(127.0.0.1:3306)/grapnel)", err)
	}
	for _, node := range nodes(config) {
		if _, _, err := net.SplitHostPort(node); config.Net == "tcp" && err != nil {
			return nil, fmt.Errorf("GRAPNEL_DSN: %q is no host:port (several nodes are parted by commas)", node)
		}
	}
	return config, nil
}

func nodes(config *mysql.Config) []string {
	list := strings.Split(config.Addr, ",")
	for i := range list {
		list[i] = strings.TrimSpace(list[i])
	}
	return list
}

// Open gives the pool of connections to what a configuration names.
func Open(config *mysql.Config) (*sql.DB, error) {
	list := nodes(config)
	c := &cluster{}
	for _, node := range list {
		one := config.Clone()
		one.Addr = node
		connector, err := mysql.NewConnector(one)
		if err != nil {
			return nil, err
		}
		c.nodes = append(c.nodes, connector)
	}
	return sql.OpenDB(c), nil
}

// cluster connects to the node that was good last, or to the next that is.
type cluster struct {
	nodes []driver.Connector
	last  atomic.Int64
}

// Connect opens a connection.
func (c *cluster) Connect(ctx context.Context) (driver.Conn, error) {
	if len(c.nodes) == 1 {
		return c.nodes[0].Connect(ctx)
	}
	var failed error
	first := c.last.Load()
	for i := range c.nodes {
		at := (first + int64(i)) % int64(len(c.nodes))
		conn, err := try(ctx, c.nodes[at])
		if err == nil {
			c.last.Store(at)
			return conn, nil
		}
		failed = errors.Join(failed, err)
	}
	return nil, failed
}

// try connects to one node of several; one that takes the call and says nothing is given up.
func try(ctx context.Context, node driver.Connector) (driver.Conn, error) {
	ctx, cancel := context.WithTimeout(ctx, nodeTimeout)
	defer cancel()
	conn, err := node.Connect(ctx)
	if err != nil {
		return nil, err
	}
	if err := ready(ctx, conn); err != nil {
		return nil, errors.Join(err, conn.Close())
	}
	return conn, nil
}

// Driver is the driver of the first.
func (c *cluster) Driver() driver.Driver { return c.nodes[0].Driver() }

// errNotReady says that a node belongs to no cluster that may decide anything.
var errNotReady = errors.New("the node has lost its cluster")

// errUnknownVariable is MariaDB's number for a setting that there is not.
const errUnknownVariable = 1193

// ready finds out whether a node of a cluster may be worked with.
func ready(ctx context.Context, conn driver.Conn) error {
	asker, ok := conn.(driver.QueryerContext)
	if !ok {
		return nil
	}
	const ask = "SELECT IF(@@wsrep_on, (SELECT variable_value FROM information_schema.global_status WHERE variable_name = 'wsrep_ready'), 'ON')"
	rows, err := asker.QueryContext(ctx, ask, nil)
	var unknown *mysql.MySQLError
	if errors.As(err, &unknown) && unknown.Number == errUnknownVariable {
		return nil // a server that knows no clusters
	}
	if err != nil {
		return err
	}
	defer rows.Close()
	value := make([]driver.Value, 1)
	if err := rows.Next(value); err != nil {
		return err
	}
	if text, ok := value[0].([]byte); ok && string(text) == "OFF" {
		return errNotReady
	}
	return nil
}

// One is the configuration of the first node that answers, for programs that know one.
func One(ctx context.Context, config *mysql.Config) *mysql.Config {
	list := nodes(config)
	for _, node := range list {
		one := config.Clone()
		one.Addr = node
		if len(list) == 1 {
			return one
		}
		dialer := net.Dialer{Timeout: nodeTimeout}
		if conn, err := dialer.DialContext(ctx, config.Net, node); err == nil {
			_ = conn.Close() // it was only knocked at
			return one
		}
	}
	one := config.Clone()
	one.Addr = list[0]
	return one
}
