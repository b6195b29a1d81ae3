package load

import (
	"bufio"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// child is a program of ours that serves.
type child struct {
	url     string
	started time.Duration // until it served
	process *exec.Cmd
}

// start runs this program again with other arguments, which serves until it is stopped.
func start(ctx context.Context, args ...string) (*child, error) {
	program, err := os.Executable()
	if err != nil {
		return nil, err
	}
	c := &child{process: exec.CommandContext(ctx, program, args...)}
	c.process.Stderr = os.Stderr
	c.process.Cancel = func() error { return c.process.Process.Signal(syscall.SIGTERM) }
	out, err := c.process.StdoutPipe()
	if err != nil {
		return nil, err
	}
	if err := c.process.Start(); err != nil {
		return nil, err
	}
	line, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		return nil, fmt.Errorf("%s has not begun to serve: %w", args[0], err)
	}
	ms := 0
	if _, err := fmt.Sscan(line, &c.url, &ms); err != nil {
		return nil, err
	}
	c.started = time.Duration(ms) * time.Millisecond
	return c, nil
}

// stop ends it, and tells how long that took.
func (c *child) stop() (time.Duration, error) {
	began := time.Now()
	if err := c.process.Process.Signal(syscall.SIGTERM); err != nil {
		return 0, err
	}
	err := c.process.Wait()
	return time.Since(began), err
}

// cpu is how long it has been on a processor so far, by Linux's schedstat.
func (c *child) cpu() time.Duration {
	threads, _ := filepath.Glob(fmt.Sprintf("/proc/%d/task/*/schedstat", c.process.Process.Pid)) // the pattern is right
	var sum int64
	for _, path := range threads {
		text, err := os.ReadFile(path)
		if err != nil {
			continue // the thread has ended
		}
		ns, _, _ := strings.Cut(string(text), " ")
		n, _ := strconv.ParseInt(ns, 10, 64) // 0 when it is none
		sum += n
	}
	return time.Duration(sum)
}

// memory is how much of it is in memory, in bytes.
func (c *child) memory() int64 {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", c.process.Process.Pid))
	if err != nil {
		return 0
	}
	for line := range strings.Lines(string(text)) {
		if rest, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			kB, _ := strconv.ParseInt(strings.Fields(rest)[0], 10, 64) // 0 when it is none
			return kB << 10
		}
	}
	return 0
}

// settle waits until it has nothing to do by itself, or so much time has passed that it never will.
func (c *child) settle(ctx context.Context) error {
	const quiet, every, longest = 3, 500 * time.Millisecond, 20 * time.Minute
	for idle, until := 0, time.Now().Add(longest); idle < quiet && time.Now().Before(until); {
		began := c.cpu()
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(every):
		}
		if idle++; c.cpu()-began > every/50 {
			idle = 0
		}
	}
	return nil
}
