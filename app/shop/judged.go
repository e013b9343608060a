package shop

import (
	"reflect"
	"sync"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
	"grapnel/core/wording"
)

// judged is the engine with what it found last: a change judges the batteries of a job, and
// the page that everyone reads behind it asks about the same cases.
type judged struct {
	*diagnosis.Engine
	// watched is told how long judging a case took; nil for nobody.
	watched func(took time.Duration)
	mu      sync.Mutex
	last    map[judgedKey]judgedCase
}

// judgedKey finds a case again; whether it is the same the case itself tells.
type judgedKey struct {
	latest   wording.Ref
	readings int
}

type judgedCase struct {
	of    evidence.Case
	found diagnosis.Assessment
}

// mostJudged bounds how many are kept.
const mostJudged = 256

func newJudged(engine *diagnosis.Engine) *judged {
	return &judged{Engine: engine, last: map[judgedKey]judgedCase{}}
}

// Assess judges a case, or says again what was found of the very same one. What it returns
// is shared: nobody may write into it.
func (j *judged) Assess(c evidence.Case) diagnosis.Assessment {
	n := len(c.Readings)
	if n == 0 || c.Readings[n-1].ID == "" {
		return j.Engine.Assess(c)
	}
	key := judgedKey{c.Readings[n-1].ID, n}
	j.mu.Lock()
	kept, ok := j.last[key]
	j.mu.Unlock()
	if ok && sameCase(kept.of, c) {
		return kept.found
	}
	began := time.Now()
	kept = judgedCase{c, j.Engine.Assess(c)}
	if j.watched != nil {
		j.watched(time.Since(began))
	}
	j.mu.Lock()
	defer j.mu.Unlock()
	if len(j.last) >= mostJudged {
		clear(j.last)
	}
	j.last[key] = kept
	return kept.found
}

// sameCase reports whether two cases are one. The moment they are looked at stands in for a
// day that is not said, and is nothing else.
func sameCase(a, b evidence.Case) bool {
	if a.AsOf != "" {
		a.Now = b.Now
	}
	return reflect.DeepEqual(a, b)
}
