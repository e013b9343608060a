package shop

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"grapnel/core/diagnosis"
	"grapnel/core/evidence"
)

// judged is the engine with what it found last: a change judges the batteries of a job, and
// the page that everyone reads behind it asks about the same cases.
type judged struct {
	*diagnosis.Engine
	*foundLast
}

// judging has the engine work for a request: the work ends with its context, whose error is given
// then.
func (h *house) judging(ctx context.Context, work func(*judged)) error {
	return diagnosis.Catch(func() { work(&judged{h.judged.Engine.Heeding(ctx.Err), h.judged.foundLast}) })
}

// assess judges a case for a request.
func (h *house) assess(ctx context.Context, c evidence.Case) (a diagnosis.Assessment, err error) {
	err = h.judging(ctx, func(j *judged) { a = j.Assess(c) })
	return a, err
}

// brief judges a case for a request, without saying which reading weighs how much.
func (h *house) brief(ctx context.Context, c evidence.Case) (a diagnosis.Assessment, err error) {
	err = h.judging(ctx, func(j *judged) { a = j.Brief(c) })
	return a, err
}

// foundLast is what was found last, by all who ask.
type foundLast struct {
	// watched is told how long judging a case took; nil for nobody.
	watched func(took time.Duration)
	mu      sync.Mutex
	last    map[fingerprint]diagnosis.Assessment
}

// mostJudged bounds how many are kept.
const mostJudged = 256

func newJudged(engine *diagnosis.Engine) *judged {
	return &judged{engine, &foundLast{last: map[fingerprint]diagnosis.Assessment{}}}
}

// Assess judges a case, or says again what was found of the very same one. What it returns
// is shared: nobody may write into it.
func (j *judged) Assess(c evidence.Case) diagnosis.Assessment {
	of := fingerprintOf(c)
	j.mu.Lock()
	found, ok := j.last[of]
	j.mu.Unlock()
	if ok {
		return found
	}
	began := time.Now()
	found = j.Engine.Assess(c)
	if j.watched != nil {
		j.watched(time.Since(began))
	}
	j.mu.Lock()
	defer j.mu.Unlock()
	if len(j.last) >= mostJudged {
		clear(j.last)
	}
	j.last[of] = found
	return found
}

// fingerprint is what a case comes to, as one figure: two that are the same are of one case.
// It is taken and not the case kept, since others hold parts of a case as well and may write
// into them.
type fingerprint [sha256.Size]byte

// fingerprintOf takes in all that a case is judged by: what JSON has of it, and besides the
// names and the times of its readings, which JSON has not. The moment that it is looked at
// stands in for a day that is not said, and is nothing else.
func fingerprintOf(c evidence.Case) fingerprint {
	// A case always encodes: it is figures and words.
	text, _ := json.Marshal(c)
	for _, r := range c.Readings {
		text = fmt.Appendf(text, "\n%s %s %s", r.ID, r.At.Format(time.RFC3339Nano), r.At.Location())
	}
	if c.AsOf == "" {
		text = c.Now.AppendFormat(text, "\n"+time.RFC3339Nano)
	}
	return sha256.Sum256(text)
}
