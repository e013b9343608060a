package instrument

import "time"

// SetLife has a watcher lose interest sooner, for tests.
func (w *Watcher) SetLife(d time.Duration) { w.life = d }
