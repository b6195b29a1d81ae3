package measure

// Step is a decision or a task of an offering, as long as it took in the middle of all.
type Step struct {
	Key    string
	After  []int // places of the steps that it waits for, all before it
	Count  int64 // how often it was done
	Waited float64
	Worked float64 // both in open seconds
	P80    float64 // four of five took at most so long
}

// Path is how the steps of an offering follow each other.
type Path struct {
	Starts   []float64 // of each step, in open seconds after sending
	Critical []bool    // the end hangs on it
	Most     int       // place of the step on the critical path that takes longest; -1 for none
	Whole    float64   // open seconds until the last step has ended
	Working  float64   // the same, if nothing waited until somebody took it
}

// PathOf lays the steps one after the other: each begins when all that it waits for have
// ended.
func PathOf(steps []Step) Path {
	p := Path{Starts: make([]float64, len(steps)), Critical: make([]bool, len(steps)), Most: -1}
	ends, without := make([]float64, len(steps)), make([]float64, len(steps))
	last := -1
	for i, s := range steps {
		began := 0.0
		for _, before := range s.After {
			p.Starts[i] = max(p.Starts[i], ends[before])
			began = max(began, without[before])
		}
		ends[i], without[i] = p.Starts[i]+s.Waited+s.Worked, began+s.Worked
		if last < 0 || ends[i] > ends[last] {
			last = i
		}
		p.Working = max(p.Working, without[i])
	}
	if last < 0 {
		return p
	}
	p.Whole = ends[last]
	for at := last; at >= 0; {
		p.Critical[at] = true
		if took := steps[at].Waited + steps[at].Worked; took > 0 && (p.Most < 0 || took > steps[p.Most].Waited+steps[p.Most].Worked) {
			p.Most = at
		}
		next := -1
		for _, before := range steps[at].After {
			if next < 0 || ends[before] > ends[next] {
				next = before
			}
		}
		at = next
	}
	return p
}
