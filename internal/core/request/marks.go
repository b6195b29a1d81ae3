package request

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
)

// Reached is a share of a promised time that was used.
type Reached struct {
	Clock ClockKind `json:"clock"`
	Share int       `json:"share"` // per cent; at 100 it is missed
	At    time.Time `json:"at"`    // when it truly was
}

// marks is a turn as far as it is about what is promised.
type marks struct{ *transition }

// clocks are those of a promise that can still reach a mark.
func (t marks) clocks(each func(ClockKind, promise.Clock)) {
	if s := &t.state; s.Status != Draft && s.Status != Closed && t.facts.Offering != nil {
		s.eachClock(t.facts.Offering, each)
	}
}

// marksOf are the marks of a clock that have not been reached yet, the lowest first.
func (t marks) marksOf(kind ClockKind) []promise.Mark {
	return slices.DeleteFunc(t.facts.Offering.Promise.Marks(kind == ResponseClock), func(m promise.Mark) bool {
		return slices.ContainsFunc(t.state.Marks, func(r Reached) bool { return r.Clock == kind && r.Share == m.Share })
	})
}

// nextMark is when the next mark of a clock is reached; zero when none will be.
func (t marks) nextMark() time.Time {
	var next time.Time
	t.clocks(func(kind ClockKind, clock promise.Clock) {
		if marks := t.marksOf(kind); len(marks) > 0 {
			if at := clock.Reaches(marks[0].Share, t.facts.Now); !at.IsZero() && (next.IsZero() || at.Before(next)) {
				next = at
			}
		}
	})
	return next
}

// reachMarks notes the marks that were reached: of several of one clock only the highest is
// told, and what nobody has taken is handed up once.
func (t marks) reachMarks() {
	var reached []MarkReached
	t.clocks(func(kind ClockKind, clock promise.Clock) {
		first := len(reached)
		for _, m := range t.marksOf(kind) {
			at := clock.Reaches(m.Share, t.facts.Now)
			if at.IsZero() || at.After(t.facts.Now) {
				break
			}
			r := clock.Read(t.facts.Now)
			reached = append(reached, MarkReached{
				Reached: Reached{kind, m.Share, at}, Silent: true, Tell: m.Tell, People: t.marked(m), Text: m.Text, HandUp: m.HandUp,
				Used: r.Used.Milliseconds(), Left: r.Left.Milliseconds(), Due: r.Due,
			})
		}
		if len(reached) > first {
			reached[len(reached)-1].Silent = false
		}
	})
	for _, r := range reached {
		t.emit(r)
	}
	for _, r := range reached {
		if r.HandUp {
			t.tasks().handUp(r.Share)
		}
	}
}

// marked are the IDs of the people whom a mark names, and of who answers for the promise
// when it tells them.
func (t marks) marked(m promise.Mark) []string {
	var ids []string
	for _, login := range m.People {
		if p, known := t.facts.Company.ByLogin(login); known && !p.Former {
			ids = append(ids, p.ID)
		}
	}
	if slices.Contains(m.Tell, promise.TellKeeper) {
		keeper := t.facts.Service.Owner
		if p, known := t.facts.Company.ByLogin(t.facts.Offering.Promise.Keeper(t.state.Promise.Name)); known && !p.Former {
			keeper = p.ID
		}
		ids = append(ids, keeper)
	}
	return ids
}

// handUp gives the tasks that nobody has taken to the next teams upward.
func (t tasks) handUp(share int) {
	for i := range t.state.Tasks {
		task := &t.state.Tasks[i]
		team, _ := t.facts.Company.Team(task.Team)
		if task.State != plan.Ready || task.Kind != plan.Manual || task.Holder != "" || len(task.Confirmers) > 0 || task.Place == Queued || team.Upward == "" {
			continue
		}
		t.emit(TaskHanded{Task: task.Key, Team: team.Upward, Reason: fmt.Sprintf("Nobody of %s had taken it at %d %% of the promised time.", team.Name, share)})
	}
}

func (b MarkReached) apply(s *State, _ Event) {
	s.Marks = append(slices.Clip(s.Marks), b.Reached)
	for _, person := range b.People {
		if !slices.Contains(s.Warned, person) {
			s.Warned = append(slices.Clip(s.Warned), person)
		}
	}
}

func (b MarkReached) tell(w *telling) bool {
	w.Kind, w.Sentence = "stage", b.Words()
	if after := w.event.At.Sub(b.At); after >= time.Minute {
		w.Sentence += ", on " + b.At.In(w.company.HoursOf(w.state.Asker).Zone()).Format("2 January, 15:04 MST")
	}
	return true
}

// Words say what was reached.
func (r Reached) Words() string {
	of := "promised time"
	if r.Clock == ResponseClock {
		of = "time of the first word"
	}
	if r.Share == promise.Whole {
		return "The " + of + " is missed"
	}
	return fmt.Sprintf("%d %% of the %s is used", r.Share, of)
}
