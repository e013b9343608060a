package web

import (
	"testing"
	"testing/synctest"
	"time"

	"github.com/alexedwards/scs/v2/memstore"
)

// TestRecentSessions checks that a session is asked for once in a moment, that what is
// written or ended here holds at once, and what is ended elsewhere after that moment.
func TestRecentSessions(t *testing.T) {
	synctest.Test(t, func(t *testing.T) {
		store := memstore.NewWithCleanupInterval(0)
		r := &recentSessions{Store: store}
		expect := func(data string) {
			t.Helper()
			if got, found, err := r.Find("a"); string(got) != data || found != (data != "") || err != nil {
				t.Errorf("%q %v %v, want %q", got, found, err, data)
			}
		}
		expect("")
		later := time.Now().Add(time.Hour)
		if err := r.Commit("a", []byte("one"), later); err != nil {
			t.Fatal(err)
		}
		expect("one")
		if err := store.Commit("a", []byte("elsewhere"), later); err != nil {
			t.Fatal(err)
		}
		expect("one")
		time.Sleep(recentLife)
		expect("elsewhere")
		if err := r.Delete("a"); err != nil {
			t.Fatal(err)
		}
		expect("")
	})
}
