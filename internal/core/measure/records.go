package measure

import (
	"fmt"
	"slices"
	"sort"
	"sync"
)

// Ref names a request that a figure counts, or a task or decision of it.
type Ref struct {
	At     int64 // by which it is counted, in seconds; of how things stand when it was sent
	Number int64
	Nth    int // its place among the tasks of the request, by key, or its decisions; 0 for the first
}

// after reports whether a ref stands after another in a list: the newest stand first.
func (r Ref) after(o Ref) bool {
	switch {
	case r.At != o.At:
		return r.At < o.At
	case r.Number != o.Number:
		return r.Number < o.Number
	}
	return r.Nth > o.Nth
}

// Listing says what of the records of a figure is listed.
type Listing struct {
	Sight Sight                      // of who reads, which may be less than what is counted
	Quiet func(offering string) bool // of these no record is listed; nil for none
	After *Ref                       // nil for the first page
	Limit int
}

// Listed are records that a figure counts.
type Listed struct {
	Refs  []Ref
	Total int64 // all that it counts
	Shown int64 // of these, that are listed, on any page
}

// Records lists what a figure counts, the newest first. Of ratings nothing is listed, as a
// list would tell who gave them.
func (v *View) Records(figure string, q Question, c Circumstances, l Listing) (Listed, error) {
	f, known := FigureOf(figure)
	if !known {
		return Listed{}, fmt.Errorf("there is no figure %q", figure)
	}
	a, err := v.asking(q, c)
	if err != nil {
		return Listed{}, err
	}
	reader, err := v.asking(q, Circumstances{Now: c.Now, Zone: c.Zone, Area: c.Area, Sight: l.Sight})
	if err != nil {
		return Listed{}, err
	}
	quiet := table(v.dicts.what.values, func(w what) bool { return l.Quiet != nil && l.Quiet(w.Offering) })
	at, _ := a.ends(nil)
	var mu sync.Mutex
	var out Listed
	trim := func() {
		sort.Slice(out.Refs, func(i, j int) bool { return out.Refs[j].after(out.Refs[i]) })
		out.Refs = out.Refs[:min(len(out.Refs), l.Limit)]
	}
	a.chunksAtOnce(func(s *scratch, p placed) {
		s.find(f, at)
		if len(s.hits) == 0 {
			return
		}
		mu.Lock()
		defer mu.Unlock()
		out.Total += int64(len(s.hits))
		for i, hit := range s.hits {
			row := s.rowOf(f, hit)
			if f.Subject == OfRatings || quiet[p.c32[cWhat][row]] || !reader.sees(f, p.chunk, row, hit) {
				continue
			}
			out.Shown++
			ref := Ref{At: int64(s.dates[i]), Number: p.from + int64(p.number[row]), Nth: s.nth(f, row, hit)}
			if f.Subject == OfStanding {
				ref.At = int64(p.c32[cSent][row])
			}
			if l.After == nil || ref.after(*l.After) {
				out.Refs = append(out.Refs, ref)
			}
			if len(out.Refs) >= 8*max(l.Limit, 64) {
				trim()
			}
		}
	})
	trim()
	return out, nil
}

// sees reports whether the record of a hit may be listed.
func (a *asking) sees(f *Figure, c *chunk, row int, hit int32) bool {
	if a.inWhat == nil || a.inWhat[c.c32[cWhat][row]] {
		return true
	}
	return f.Subject == OfTasks && a.inTeam[c.taskTeam[hit]]
}

// nth is the place of a hit among those of its request.
func (s *scratch) nth(f *Figure, row int, hit int32) int {
	var rows []uint16
	switch f.Subject {
	case OfTasks:
		rows = s.c.taskRow
	case OfRungs:
		rows = s.c.rungRow
	default:
		return 0
	}
	first, _ := slices.BinarySearch(rows, uint16(row))
	return int(hit) - first
}
