package measure

import (
	"slices"
	"strings"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
)

// dict gives small numbers for values that are seen again and again. Values are only ever
// added, so that who reads them by a view of before goes on undisturbed.
type dict[T comparable] struct {
	codes  map[T]uint32
	values []T
}

func (d *dict[T]) code(value T) uint32 {
	if code, known := d.codes[value]; known {
		return code
	}
	if d.codes == nil {
		d.codes = map[T]uint32{}
	}
	code := uint32(len(d.values))
	d.codes[value] = code
	d.values = append(d.values, value)
	return code
}

// What a request is for, who asked and how: what many requests have in common.
type (
	what struct {
		Offering, Service string
		Version           int
	}
	who struct{ Department, Location, CostCentre, Employment string }
	how struct {
		Channel                request.Channel
		Door                   offering.Door
		Speed, Impact, Urgency string
	}
	// job is a task of an offering, as the tasks of many requests are.
	job struct {
		Offering, Of    string // Of is empty for what staff added
		Kind, Connector string
	}
	// rungOf is a rung of an offering.
	rungOf struct{ Offering, Rung string }
)

// dicts are all of them.
type dicts struct {
	what   dict[what]
	who    dict[who]
	how    dict[how]
	job    dict[job]
	rung   dict[rungOf]
	person dict[string]
	team   dict[string]
	set    dict[string]   // of teams, with spaces between them
	work   dict[string]   // of jobs and their teams, as done builds it
	done   [][]taskOfTeam // by the code of work
}

// taskOfTeam is a task of a request as far as requests are looked for by it.
type taskOfTeam struct{ Job, Team uint32 }

// workOf is the code of what was done for a request.
func (d *dicts) workOf(all []taskOfTeam) uint32 {
	slices.SortFunc(all, func(a, b taskOfTeam) int {
		if a.Job != b.Job {
			return int(a.Job) - int(b.Job)
		}
		return int(a.Team) - int(b.Team)
	})
	all = slices.Compact(all)
	var key strings.Builder
	for _, t := range all {
		for shift := 0; shift < 32; shift += 8 {
			key.WriteByte(byte(t.Job >> shift))
		}
		for shift := 0; shift < 32; shift += 8 {
			key.WriteByte(byte(t.Team >> shift))
		}
	}
	code := d.work.code(key.String())
	if int(code) == len(d.done) {
		d.done = append(d.done, slices.Clone(all))
	}
	return code
}
