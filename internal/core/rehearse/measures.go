package rehearse

import (
	"slices"
	"time"

	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// carried are the times that a script carries.
type carried struct{ of *script.Measured }

func (m carried) lengths(of func(*script.Measured) []script.Length) []time.Duration {
	if m.of == nil {
		return nil
	}
	var all []time.Duration
	for _, l := range of(m.of) {
		all = append(all, l.Open)
	}
	slices.Sort(all)
	return all
}

func (m carried) Task(key string) []time.Duration {
	return m.lengths(func(of *script.Measured) []script.Length { return of.Tasks[key] })
}

func (m carried) Rescue(key string) []time.Duration {
	return m.lengths(func(of *script.Measured) []script.Length { return of.Rescues[key] })
}

func (m carried) Rung(key string) []time.Duration {
	return m.lengths(func(of *script.Measured) []script.Length { return of.Rungs[key] })
}

// lesson names what took so long.
type lesson struct {
	part request.Part
	key  string
}

// learning are measures with what a rehearsal has learned by itself, as live work does.
type learning struct {
	request.Measures
	own map[lesson][]time.Duration
}

func (m learning) with(part request.Part, key string, all []time.Duration) []time.Duration {
	own := m.own[lesson{part, key}]
	if len(own) == 0 {
		return all
	}
	both := slices.Concat(all, own)
	slices.Sort(both)
	return both
}

func (m learning) Task(key string) []time.Duration {
	return m.with(request.OfTask, key, m.Measures.Task(key))
}

func (m learning) Rescue(key string) []time.Duration {
	return m.with(request.OfRescue, key, m.Measures.Rescue(key))
}

func (m learning) Rung(key string) []time.Duration {
	return m.with(request.OfRung, key, m.Measures.Rung(key))
}
