package measure

import "slices"

// fewest is how many persons a figure of persons must tell of.
const fewest = 5

// persons are some different persons, of whom more than fewest - 1 need not be told apart.
type persons struct {
	codes [fewest]uint32
	n     uint8
}

func (p *persons) add(code uint32) {
	if p.n < fewest && !slices.Contains(p.codes[:p.n], code) {
		p.codes[p.n] = code
		p.n++
	}
}

func (p *persons) join(o *persons) {
	for _, code := range o.codes[:o.n] {
		p.add(code)
	}
}

// few reports whether there are some, and too few of them.
func (p *persons) few() bool { return p.n > 0 && p.n < fewest }

// persons are the codes of those whom the hits of a figure tell of.
func (c *chunk) persons(f *Figure) []uint32 {
	if f.Subject == OfRatings {
		return c.rating[rPerson]
	}
	return c.task[tPerson]
}

// hide takes away what a value tells.
func (v *Value) hide() {
	*v = Value{Records: v.Records, Few: true}
}

// protect hides what tells of one to four persons: by itself, by what it leaves of what is
// shown beside it, or by what another selection leaves.
func (n *counting) protect(s *Series, whole, cells *tally) {
	if whole.persons[0].few() || n.leavesFew() {
		s.Total.hide()
		for i := range s.Cells {
			if s.Cells[i].Records > 0 {
				s.Cells[i].hide()
			}
		}
		return
	}
	if cells == nil {
		return
	}
	width := len(s.Cells)
	if len(s.Keys) == 2 {
		width = len(s.Keys[1])
	}
	lines := [][]int{}
	for from := 0; from < len(s.Cells); from += max(1, width) {
		line := make([]int, 0, width)
		for i := range width {
			line = append(line, from+i)
		}
		lines = append(lines, line)
	}
	if len(s.Keys) == 2 {
		for i := range width {
			var line []int
			for from := 0; from < len(s.Cells); from += width {
				line = append(line, from+i)
			}
			lines = append(lines, line)
		}
	}
	for again := true; again; { // what is hidden in a line can give away a column
		again = false
		for _, line := range lines {
			again = protectLine(s.Cells, cells.persons, line) || again
		}
	}
}

// protectLine hides cells of a line whose sum is shown, until no few persons can be told by
// what is left. It reports whether it hid any.
func protectLine(cells []Value, of []persons, line []int) (hid bool) {
	hide := func(i int) {
		if !cells[i].Few {
			cells[i].hide()
			hid = true
		}
	}
	for _, i := range line {
		if of[i].few() {
			hide(i)
		}
	}
	behind := make([]persons, len(line)+1)
	for at, i := range slices.Backward(line) {
		behind[at] = behind[at+1]
		behind[at].join(&of[i])
	}
	var others persons // of those before it
	for at, i := range line {
		left := others
		if left.join(&behind[at+1]); of[i].n > 0 && left.few() { // what it leaves
			hide(i)
		}
		others.join(&of[i])
	}
	for {
		var hidden persons
		count := 0
		for _, i := range line {
			if cells[i].Few {
				hidden.join(&of[i])
				count++
			}
		}
		if count == 0 || count > 1 && !hidden.few() {
			return hid
		}
		next := -1
		for _, i := range line {
			if !cells[i].Few && of[i].n > 0 && (next < 0 || cells[i].Records < cells[next].Records) {
				next = i
			}
		}
		if next < 0 {
			return hid
		}
		hide(next)
	}
}

// leavesFew reports whether a selection leaves one to four persons of the whole that one gets
// by taking away one of the things it is narrowed by.
func (n *counting) leavesFew() bool {
	for side := range n.a.q.Only {
		q := Question{Period: n.a.q.Period, Only: map[Side][]string{}}
		for other, keys := range n.a.q.Only {
			if other != side {
				q.Only[other] = keys
			}
		}
		if wider, err := n.a.View.asking(q, n.a.c); err == nil {
			if others := n.outside(wider); others.few() {
				return true
			}
		}
	}
	return false
}

// outside are the persons of what a wider question lets through, and this one does not.
func (n *counting) outside(wider *asking) (others persons) {
	in, out := newScratch(), newScratch()
	for _, placed := range n.a.chunks {
		in.of(n.a, placed.chunk)
		out.of(wider, placed.chunk)
		in.find(n.f, n.at)
		out.find(n.f, n.at)
		codes := placed.persons(n.f)
		i := 0
		for _, hit := range out.hits { // both are in order
			for i < len(in.hits) && in.hits[i] < hit {
				i++
			}
			if i == len(in.hits) || in.hits[i] != hit {
				others.add(codes[hit])
			}
		}
		if others.n == fewest {
			return others
		}
	}
	return others
}
