package main

import (
	"bytes"
	"context"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"
)

// process is a program that is started, killed and started again.
type process struct {
	name string
	path string
	args []string
	env  []string
	as   *syscall.Credential

	mu    sync.Mutex
	cmd   *exec.Cmd
	ended chan struct{}
	said  bytes.Buffer
}

// start starts it.
func (p *process) start() error {
	cmd := exec.Command(p.path, p.args...)
	cmd.Env = append(os.Environ(), p.env...)
	cmd.Stdout, cmd.Stderr = &p.said, &p.said
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: p.as, Pdeathsig: syscall.SIGKILL, Setpgid: true}
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("%s: %w", p.name, err)
	}
	ended := make(chan struct{})
	p.mu.Lock()
	p.cmd, p.ended = cmd, ended
	p.mu.Unlock()
	go func() {
		_ = cmd.Wait() // it is killed; that is its error
		close(ended)
	}()
	return nil
}

// kill kills it outright and waits until it is gone.
func (p *process) kill() {
	p.mu.Lock()
	cmd, ended := p.cmd, p.ended
	p.mu.Unlock()
	if cmd != nil {
		_ = cmd.Process.Kill() // it may have ended by itself
		<-ended
	}
}

// stop asks it to end.
func (p *process) stop() {
	p.mu.Lock()
	cmd, ended := p.cmd, p.ended
	p.mu.Unlock()
	if cmd == nil {
		return
	}
	_ = cmd.Process.Signal(syscall.SIGTERM) // it may have ended by itself
	select {
	case <-ended:
	case <-time.After(30 * time.Second):
		p.kill()
	}
}

// memory is how much of the machine's memory it has now and has had at the most, in
// megabytes.
func (p *process) memory() (now, most float64) {
	p.mu.Lock()
	defer p.mu.Unlock()
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", p.cmd.Process.Pid))
	if err != nil {
		return 0, 0
	}
	of := func(name string) float64 {
		_, rest, _ := strings.Cut(string(text), name+":")
		if fields := strings.Fields(rest); len(fields) > 0 {
			kilobytes, err := strconv.ParseFloat(fields[0], 64)
			if err == nil {
				return kilobytes / 1024
			}
		}
		return 0
	}
	return of("VmRSS"), of("VmHWM")
}

// healthy waits until a server says that it can be worked with.
func healthy(ctx context.Context, base string, patience time.Duration) error {
	client := &http.Client{Timeout: 2 * time.Second}
	var last error
	for end := time.Now().Add(patience); time.Now().Before(end) && ctx.Err() == nil; time.Sleep(10 * time.Millisecond) {
		r, err := client.Get(base + "/healthz")
		if err == nil {
			r.Body.Close()
			if r.StatusCode == http.StatusOK {
				return nil
			}
			err = fmt.Errorf("%s", r.Status)
		}
		last = err
	}
	return fmt.Errorf("%s is not served: %w", base, last)
}

// freePort is a port on loopback that nobody listens on.
func freePort() int {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		panic(err) // a machine without loopback
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port
}

// binary is the program that is measured.
const binary = "bin/grapnel"

// grapnel is a copy of the server at a port of its own.
func grapnel(verb string, port int, env []string, args ...string) *process {
	args = append([]string{verb, "-address", "127.0.0.1:" + strconv.Itoa(port), "-metrics", ""}, args...)
	return &process{name: "grapnel " + verb, path: binary, args: args, env: env}
}

// demo serves the demo workshop out of a folder, and returns when it can be worked with.
func demo(ctx context.Context, dir string, args ...string) (server *process, base string, err error) {
	port := freePort()
	server = grapnel("demo", port, nil, append([]string{"-data", filepath.Join(dir, "demo")}, args...)...)
	if err := server.start(); err != nil {
		return nil, "", err
	}
	if err := healthy(ctx, baseOf(port), 2*time.Minute); err != nil {
		server.stop()
		return nil, "", fmt.Errorf("%w\n%s", err, &server.said)
	}
	return server, baseOf(port), nil
}

func baseOf(port int) string { return "http://127.0.0.1:" + strconv.Itoa(port) }
