package recorder

import "time"

// Every sets how often what was seen is kept.
func (r *Recorder) Every(d time.Duration) { r.every = d }
