package main

import (
	"context"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql" // how it is reached

	"grapnel/app/store"
)

// node is a MariaDB with a folder of its own, by itself or in a cluster.
type node struct {
	process
	port int
	data string
	// member tells that it belongs to a cluster.
	member bool
}

// mysqlUser is the account a server of MariaDB's runs under where we are root.
func mysqlUser() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("mysql")
	if err != nil {
		return nil, err
	}
	uid, err := strconv.ParseUint(u.Uid, 10, 32)
	if err != nil {
		return nil, err
	}
	gid, err := strconv.ParseUint(u.Gid, 10, 32)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, err
}

// makeNode makes a node with an empty data folder.
func makeNode(dir, name string) (*node, error) {
	as, err := mysqlUser()
	if err != nil {
		return nil, err
	}
	n := &node{port: freePort(), data: filepath.Join(dir, name)}
	tmp := n.data + "-tmp"
	for _, folder := range []string{n.data, tmp} {
		if err := os.Mkdir(folder, 0o700); err != nil {
			return nil, err
		}
		if as != nil {
			if err := os.Chown(folder, int(as.Uid), int(as.Gid)); err != nil {
				return nil, err
			}
		}
	}
	args := []string{"--no-defaults", "--datadir=" + n.data, "--auth-root-authentication-method=normal", "--skip-test-db", "--skip-name-resolve", "--innodb-log-file-size=8M"}
	if as != nil {
		args = append(args, "--user=mysql")
	}
	install := exec.Command("mariadb-install-db", args...)
	install.Env = append(os.Environ(), "TMPDIR="+tmp)
	if out, err := install.CombinedOutput(); err != nil {
		return nil, fmt.Errorf("mariadb-install-db: %w %s", err, out)
	}
	n.process = process{name: name, path: "mariadbd", as: as, args: []string{
		"--no-defaults", "--datadir=" + n.data, "--tmpdir=" + tmp, "--socket=" + filepath.Join(n.data, "s.sock"), "--bind-address=127.0.0.1", "--port=" + strconv.Itoa(n.port),
		"--skip-name-resolve", "--innodb-buffer-pool-size=64M", "--innodb-log-file-size=8M", "--performance-schema=OFF", "--default-time-zone=+00:00",
		"--character-set-server=utf8mb4", "--skip-log-bin", "--innodb-flush-log-at-trx-commit=1",
	}}
	return n, nil
}

// newNode is a node by itself that answers.
func newNode(ctx context.Context, dir, name string) (*node, error) {
	n, err := makeNode(dir, name)
	if err != nil {
		return nil, err
	}
	if err := n.start(); err != nil {
		return nil, err
	}
	return n, n.prepare(ctx)
}

// prepare makes the database that Grapnel is to use.
func (n *node) prepare(ctx context.Context) error {
	if err := n.answers(ctx, time.Minute); err != nil {
		return err
	}
	db, err := sql.Open("mysql", fmt.Sprintf("root@tcp(127.0.0.1:%d)/", n.port))
	if err != nil {
		return err
	}
	defer db.Close()
	_, err = db.ExecContext(ctx, "CREATE DATABASE grapnel CHARACTER SET utf8mb4 COLLATE utf8mb4_general_ci")
	return err
}

func (n *node) dsn() string { return fmt.Sprintf("root@tcp(127.0.0.1:%d)/grapnel", n.port) }

// answers waits until the node answers.
func (n *node) answers(ctx context.Context, patience time.Duration) error {
	db, err := sql.Open("mysql", fmt.Sprintf("root@tcp(127.0.0.1:%d)/", n.port))
	if err != nil {
		return err
	}
	defer db.Close()
	for end := time.Now().Add(patience); ; time.Sleep(50 * time.Millisecond) {
		var name, ready string
		err = db.QueryRowContext(ctx, "SHOW STATUS LIKE 'wsrep_ready'").Scan(&name, &ready)
		if err == nil && (ready == "ON" || !n.member) {
			return nil
		}
		if err == nil {
			err = errors.New("it is not ready")
		}
		if time.Now().After(end) || ctx.Err() != nil {
			return fmt.Errorf("%s does not answer: %w\n%s", n.name, err, tail(n.said.String()))
		}
	}
}

func tail(text string) string { return text[max(0, len(text)-3000):] }

// library is Debian's package galera-4.
const library = "/usr/lib/galera/libgalera_smm.so"

// join gives a node its place in a cluster. A member that is silent is suspected after a
// second and left out after two, so that writes go on.
func (n *node) join(gossip int, others []string) {
	n.member = true
	options := []string{
		"gmcast.listen_addr=tcp://127.0.0.1:" + strconv.Itoa(gossip), "ist.recv_addr=127.0.0.1:" + strconv.Itoa(freePort()), "evs.suspect_timeout=PT1S", "evs.inactive_timeout=PT2S",
		"evs.inactive_check_period=PT0.2S", "evs.keepalive_period=PT0.2S", "evs.install_timeout=PT2S", "gcache.size=64M",
	}
	n.args = append(n.args, "--wsrep-on=ON", "--wsrep-provider="+library, "--wsrep-cluster-name=grapnel", "--wsrep-node-address=127.0.0.1", "--wsrep-sst-receive-address=127.0.0.1:"+strconv.Itoa(freePort()), "--wsrep-node-name="+n.name,
		"--wsrep-cluster-address=gcomm://"+strings.Join(others, ","), "--binlog-format=ROW", "--innodb-autoinc-lock-mode=2", "--wsrep-sst-method=rsync", "--wsrep-retry-autocommit=4",
		"--wsrep-sync-wait=1", "--wsrep-slave-threads=2", "--wsrep-provider-options="+strings.Join(options, ";"))
}

// clustered has many work on three copies of the server over a Galera cluster of three, of
// which one node and one copy are killed in the middle.
func clustered(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("cluster", flag.ExitOnError)
	people := set.Int("people", 100, "technicians at once")
	think := set.Duration("think", 2*time.Second, "how long each thinks between two deeds")
	last := set.Duration("for", 30*time.Second, "how long they work")
	_ = set.Parse(args) // it ends the program where something is wrong
	if _, err := os.Stat(library); err != nil {
		return fmt.Errorf("%w: apt install galera-4", err)
	}
	if _, err := exec.LookPath("wsrep_sst_rsync"); err != nil {
		return fmt.Errorf("%w: it is in Debian's mariadb-server, and wants rsync and lsof", err)
	}
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	nodes, err := cluster(ctx, dir)
	defer func() {
		for _, n := range nodes {
			n.kill()
		}
	}()
	if err != nil {
		return err
	}
	var copies []*process
	var bases []string
	for i := range nodes {
		// Each copy has the nodes in an order of its own.
		var addresses []string
		for k := range nodes {
			addresses = append(addresses, "127.0.0.1:"+strconv.Itoa(nodes[(i+k)%len(nodes)].port))
		}
		port := freePort()
		env := []string{"GRAPNEL_DSN=root@tcp(" + strings.Join(addresses, ",") + ")/grapnel"}
		one := grapnel("demo", port, env, "-data", filepath.Join(dir, "copy-"+strconv.Itoa(i)))
		if err := one.start(); err != nil {
			return err
		}
		defer one.kill()
		if err := healthy(ctx, baseOf(port), 2*time.Minute); err != nil {
			return fmt.Errorf("copy %d: %w\n%s", i, err, tail(one.said.String()))
		}
		copies, bases = append(copies, one), append(bases, baseOf(port))
	}
	b := newBook()
	go func() {
		// The blows fall in the middle: a node first, then a copy that had another.
		time.Sleep(*last/3 + 3*time.Second)
		fmt.Println("killing a node of the cluster")
		nodes[2].kill()
		time.Sleep(*last / 3)
		fmt.Println("killing a copy of the server")
		copies[1].kill()
	}()
	if err := crew(ctx, b, *people, *think, 0, *last, bases...); err != nil {
		return err
	}
	fmt.Printf("%d technicians, %s to think, %s, on three copies over a cluster of three\n", *people, *think, *last)
	b.said()
	for _, n := range nodes[:2] {
		db, err := store.Open(n.dsn())
		if err != nil {
			return err
		}
		kept, lost, doubled, err := b.verify(ctx, db)
		if err := errors.Join(err, db.Close()); err != nil {
			return err
		}
		fmt.Printf("%s: %d readings answered, %d lost, %d doubled\n", n.name, kept, lost, doubled)
		if err := flawless(b, lost, doubled); err != nil {
			return err
		}
	}
	for i, c := range copies {
		if n := strings.Count(c.said.String(), `"level":"ERROR"`); n > 0 {
			fmt.Printf("copy %d has %d errors in its log, the last: %s\n", i, n, lastError(c.said.String()))
		}
	}
	return nil
}

func lastError(text string) string {
	lines := strings.Split(strings.TrimSpace(text), "\n")
	for i := len(lines) - 1; i >= 0; i-- {
		if strings.Contains(lines[i], `"level":"ERROR"`) {
			return lines[i][:min(400, len(lines[i]))]
		}
	}
	return ""
}

// cluster makes three nodes that are one cluster: the second and the third take their state
// from one that is there.
func cluster(ctx context.Context, dir string) ([]*node, error) {
	gossip := []int{freePort(), freePort(), freePort()}
	var all []string
	for _, port := range gossip {
		all = append(all, "127.0.0.1:"+strconv.Itoa(port))
	}
	var nodes []*node
	for i := range gossip {
		n, err := makeNode(dir, "node-"+strconv.Itoa(i+1))
		if err != nil {
			return nodes, err
		}
		n.join(gossip[i], all)
		if i == 0 {
			n.args = append(n.args, "--wsrep-new-cluster")
		}
		if err := n.start(); err != nil {
			return nodes, err
		}
		nodes = append(nodes, n)
		if i == 0 {
			err = n.prepare(ctx)
		} else {
			err = n.answers(ctx, time.Minute)
		}
		if err != nil {
			return nodes, err
		}
	}
	return nodes, nil
}
