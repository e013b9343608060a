package dsn_test

import (
	"net"
	"strings"
	"testing"
	"time"

	"grapnel/app/dsn"
	"grapnel/app/localdb/dbtest"
)

func TestMain(m *testing.M) { dbtest.Main(m) }

// TestNodes reaches a database whose first nodes are not there, again and again without
// knocking at them each time, and says what is wrong where none is.
func TestNodes(t *testing.T) {
	text := dbtest.DSN(t)
	alone, err := dsn.Parse(text)
	if err != nil {
		t.Fatal(err)
	}
	hangs, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer hangs.Close()
	several := strings.Replace(text, alone.Addr, "127.0.0.1:1, "+hangs.Addr().String()+","+alone.Addr, 1)
	config, err := dsn.Parse(several)
	if err != nil {
		t.Fatal(err)
	}
	db, err := dsn.Open(config)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	db.SetMaxIdleConns(0)
	for n := range 3 {
		began := time.Now()
		var one int
		if err := db.QueryRowContext(t.Context(), "SELECT 1").Scan(&one); err != nil || one != 1 {
			t.Fatalf("%d %v", one, err)
		}
		if took := time.Since(began); n > 0 && took > time.Second {
			t.Errorf("the %dth time took %s", n+1, took)
		}
	}
	if found := dsn.One(t.Context(), alone); found.Addr != alone.Addr {
		t.Errorf("%s", found.Addr)
	}
	config.Addr = "127.0.0.1:1," + alone.Addr
	if found := dsn.One(t.Context(), config); found.Addr != alone.Addr {
		t.Errorf("%s", found.Addr)
	}
	config.Addr = "127.0.0.1:1,127.0.0.1:2"
	none, err := dsn.Open(config)
	if err != nil {
		t.Fatal(err)
	}
	defer none.Close()
	if err := none.PingContext(t.Context()); err == nil || !strings.Contains(err.Error(), "127.0.0.1:1") || !strings.Contains(err.Error(), "127.0.0.1:2") {
		t.Errorf("nobody is there: %v", err)
	}
	for _, wrong := range []string{"nonsense", "grapnel:x@tcp(10.0.0.5:3306,10.0.0.6)/grapnel", "/"} {
		if config, err := dsn.Parse(wrong); err == nil && wrong != "/" || err != nil && !strings.Contains(err.Error(), "GRAPNEL_DSN") {
			t.Errorf("%s: %v %v", wrong, config, err)
		}
	}
}
