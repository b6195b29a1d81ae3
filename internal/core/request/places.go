package request

import "heptad/internal/core/refusal"

// reserve gives a task one of the free places of a pool.
func (t tasks) reserve(key, pool string) {
	t.facts.Pools[pool]--
	t.emit(PlaceReserved{key, pool})
}

// giveBack gives the place back that a task has, or queues for.
func (t tasks) giveBack(task *Task) {
	if task.Place != NoPlace {
		t.emit(PlaceReturned{task.Key, task.Pool})
	}
}

// advance gives the place that has become free to a task that waits for one.
func (t tasks) advance(c Advance) error {
	task, ok := t.state.Task(c.Task)
	if !ok || task.Place != Queued || t.facts.Pools[task.Pool] <= 0 || t.state.Status == Undoing {
		return conflict(refusal.NoPlace, "There is no free place to go on with.")
	}
	t.reserve(c.Task, task.Pool)
	t.start(c.Task)
	t.release()
	return nil
}
