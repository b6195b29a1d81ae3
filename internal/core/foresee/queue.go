package foresee

import "cmp"

// event is what happens at an instant: a form comes (step -1), a step ends, or a team is
// looked at again (no form).
type event struct {
	at     int64
	said   int
	coming int
	step   int32
	member int // who did it; -1 for nobody
	team   int
	ready  int64
	taken  int64
	worked int64
}

type events []event

func (e events) Len() int { return len(e) }
func (e events) Less(i, j int) bool {
	return cmp.Or(cmp.Compare(e[i].at, e[j].at), cmp.Compare(e[i].said, e[j].said)) < 0
}
func (e events) Swap(i, j int) { e[i], e[j] = e[j], e[i] }
func (e *events) Push(x any)   { *e = append(*e, x.(event)) }
func (e *events) Pop() any {
	all := *e
	last := all[len(all)-1]
	*e = all[:len(all)-1]
	return last
}

// waiting is a task that lies with a team.
type waiting struct {
	latest int64
	said   int
	coming int
	step   int32
	ready  int64
}

type queue []waiting

func (q queue) Len() int { return len(q) }
func (q queue) Less(i, j int) bool {
	return cmp.Or(cmp.Compare(q[i].latest, q[j].latest), cmp.Compare(q[i].said, q[j].said)) < 0
}
func (q queue) Swap(i, j int) { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(x any)   { *q = append(*q, x.(waiting)) }
func (q *queue) Pop() any {
	all := *q
	last := all[len(all)-1]
	*q = all[:len(all)-1]
	return last
}
