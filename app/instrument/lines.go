package instrument

import (
	"bufio"
	"context"
	"errors"
	"net"
	"sync"
	"time"
)

// lines listens to an instrument that sends its figure by itself, a line at a time.
type lines struct {
	conn net.Conn
	done chan struct{}

	mu     sync.Mutex
	sample Sample
	err    error
	at     time.Time
	// came is closed and made anew with each line.
	came chan struct{}
}

// lineLife is how old a line may be to stand for the figure now.
const lineLife = 3 * time.Second

func newLines(conn net.Conn) *lines {
	l := &lines{conn: conn, done: make(chan struct{}), came: make(chan struct{})}
	go l.listen()
	return l
}

// listen takes lines until the connection ends.
func (l *lines) listen() {
	defer close(l.done)
	in := bufio.NewReaderSize(l.conn, mostAnswer)
	for {
		line, err := in.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) {
			l.take(Sample{}, rubbish(string(line)))
			// What is left of it is no line either.
			for errors.Is(err, bufio.ErrBufferFull) {
				_, err = in.ReadSlice('\n')
			}
			if err == nil {
				continue
			}
		}
		if err != nil {
			l.take(Sample{}, broken(err))
			return
		}
		l.take(parseSample(string(line)))
	}
}

func (l *lines) take(s Sample, err error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.sample, l.err, l.at = s, err, time.Now()
	close(l.came)
	l.came = make(chan struct{})
}

// Identify has nothing to ask: such an instrument only talks.
func (l *lines) Identify(context.Context) (string, error) { return "", nil }

// Read is the latest figure; it waits for the next where that is too old.
func (l *lines) Read(ctx context.Context) (Sample, error) {
	ctx, cancel := context.WithDeadline(ctx, deadline(ctx))
	defer cancel()
	for {
		l.mu.Lock()
		s, err, fresh, came := l.sample, l.err, time.Since(l.at) < lineLife, l.came
		l.mu.Unlock()
		if fresh {
			return s, err
		}
		select {
		case <-came:
		case <-l.done:
			return Sample{}, ErrSilent
		case <-ctx.Done():
			return Sample{}, ErrSilent
		}
	}
}

// Close hangs up.
func (l *lines) Close() error {
	err := l.conn.Close()
	<-l.done
	return err
}
