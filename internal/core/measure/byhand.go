package measure

// taskOf is a task of the plans of an offering.
type taskOf struct{ Offering, Of string }

func (j job) task() taskOf { return taskOf{j.Offering, j.Of} }

// neededByHand are the seconds that people gave to the tasks that are automatic now, in the
// middle of all those they did: of tasks that they never did there is none.
func (v *View) neededByHand() map[taskOf]int64 {
	v.byHand.Do(func() {
		automated := map[taskOf]bool{}
		for _, j := range v.dicts.job.values {
			if j.Kind == automatic && j.Of != "" {
				automated[j.task()] = true
			}
		}
		was := table(v.dicts.job.values, func(j job) bool { return j.Kind == manual && automated[j.task()] })
		took := map[taskOf][]uint32{}
		for _, c := range v.chunks {
			for i, job := range c.task[tJob] {
				if was[job] && c.taskTraits[i]&(wasDone|byPerson) == wasDone|byPerson {
					of := v.dicts.job.values[job].task()
					took[of] = append(took[of], c.task[tHand][i])
				}
			}
		}
		v.needed = make(map[taskOf]int64, len(took))
		for of, all := range took {
			v.needed[of] = int64(percentiles([][]uint32{all}, 0.5)[0])
		}
	})
	return v.needed
}
