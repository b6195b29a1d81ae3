package work

import (
	"math/rand/v2"
	"sync"
	"time"
)

// downAfter is after how many calls in a row that found nobody a system counts
// as down. Then one call after a pause tries it, and the pauses grow.
const downAfter = 3

var downPauses = []time.Duration{5 * time.Second, 15 * time.Second, 30 * time.Second, time.Minute, 2 * time.Minute, 5 * time.Minute}

// lane is what the runner knows of one connector.
type lane struct {
	running int
	failed  int       // calls in a row that found nobody
	paused  time.Time // until when nothing is called; zero when all is well
}

type lanes struct {
	mu  sync.Mutex
	all map[string]*lane
}

// of gives the lane of a connector. The lock must be held.
func (l *lanes) of(connector string) *lane {
	if l.all[connector] == nil {
		l.all[connector] = &lane{}
	}
	return l.all[connector]
}

// room is how many calls of a connector may begin now.
func (l *lanes) room(connector string, atOnce int, now time.Time) int {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	switch {
	case now.Before(lane.paused):
		return 0
	case lane.failed >= downAfter:
		return max(0, 1-lane.running)
	}
	return max(0, atOnce-lane.running)
}

func (l *lanes) begin(connector string, n int) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.of(connector).running += n
}

// end notes how a call went: whether it found anybody.
func (l *lanes) end(connector string, down bool, now time.Time) {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	lane.running--
	if !down {
		lane.failed, lane.paused = 0, time.Time{}
		return
	}
	if lane.failed++; lane.failed >= downAfter {
		lane.pause(lane.failed-downAfter, now)
	}
}

// pause lets a lane rest, longer each time.
func (l *lane) pause(times int, now time.Time) {
	pause := downPauses[min(times, len(downPauses)-1)]
	l.paused = now.Add(pause + time.Duration(rand.Float64()*float64(pause)/4))
}

// silent notes that nobody answers at all: the lane rests at once.
func (l *lanes) silent(connector string, now time.Time) {
	l.mu.Lock()
	defer l.mu.Unlock()
	lane := l.of(connector)
	if now.Before(lane.paused) {
		return // several found it out together
	}
	lane.pause(lane.failed, now)
	lane.failed++
}

// answered notes that somebody answers.
func (l *lanes) answered(connector string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	*l.of(connector) = lane{running: l.of(connector).running}
}

// pausedUntil is until when a connector rests because its system is down; zero
// when it does not.
func (l *lanes) pausedUntil(connector string) time.Time {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.of(connector).paused
}
