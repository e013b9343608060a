package diagnosis

// ended is what ends work that nobody waits for any more.
type ended struct{ why error }

// Heeding is the engine at the call of somebody who may go, such as a request with a deadline: as
// soon as done gives an error, the work at hand ends. It shares the grid and the calibrated labels.
// Whoever calls it does so within Catch.
func (e *Engine) Heeding(done func() error) *Engine {
	other := *e
	other.done = done
	return &other
}

// heed ends the work at hand where nobody waits for it any more. It is asked at each step of what
// grows with the readings.
func (e *Engine) heed() {
	if e.done == nil {
		return
	}
	if err := e.done(); err != nil {
		panic(ended{err})
	}
}

// Catch does work of heeding engines and gives why it ended early; nil where it came to its end.
// Going back step by step would put an error into every sum on the way.
func Catch(work func()) (err error) {
	defer func() {
		switch v := recover().(type) {
		case nil:
		case ended:
			err = v.why
		default:
			panic(v)
		}
	}()
	work()
	return nil
}
