package request

import (
	"slices"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// Viewer is what a person is to a request (rules.md 9).
type Viewer struct {
	Person   string   // ID
	Rungs    []string // keys of the rungs they are, or were, asked to decide on
	Asker    bool
	Receiver bool     // it is for them, and the offering lets them see it
	Approver bool     // of an open or past rung
	Owner    bool     // of its service
	HomeLead bool     // lead of the team its service is home to
	Follower bool     // they hear of it, and see it but for its files
	Tasks    []string // keys of the tasks of their teams
	Leads    []string // of these the tasks of teams they lead
	Asked    []string // keys of the tasks they are to confirm a part of
	Foreseen bool     // a team of theirs will have a task, as far as the plan can tell
}

// ViewerOf tells what a person is to a request.
func (s *State) ViewerOf(person string, company *people.Directory, service people.Service) Viewer {
	home, _ := company.Team(service.Home)
	v := Viewer{Person: person, Asker: s.Asker == person}
	if s.Status == Draft {
		return v // a draft is nobody else's business
	}
	v.Receiver = s.Told && !v.Asker && s.Beneficiary() == person
	v.Owner = service.Owner == person
	v.HomeLead = home.Lead == person
	v.Follower = slices.Contains(s.Followers, person)
	for i := range s.Rungs {
		if s.Rungs[i].HasSeat(person) {
			v.Approver, v.Rungs = true, append(v.Rungs, s.Rungs[i].Key)
		}
	}
	for _, t := range s.Tasks {
		if company.InTeam(person, t.Team) {
			v.Tasks = append(v.Tasks, t.Key)
			if team, _ := company.Team(t.Team); team.Lead == person {
				v.Leads = append(v.Leads, t.Key)
			}
		}
		if slices.Contains(t.Asked, person) {
			v.Asked = append(v.Asked, t.Key)
		}
	}
	v.Foreseen = slices.ContainsFunc(s.Foreseen, func(team string) bool { return company.InTeam(person, team) })
	return v
}

// Any reports whether the request is any of their business.
func (v Viewer) Any() bool {
	return v.Asker || v.Receiver || v.Approver || v.Owner || v.HomeLead || v.Follower || v.Foreseen || len(v.Tasks) > 0 || len(v.Asked) > 0
}

// Staff reports whether they work on the request, so that notes are open to them.
func (v Viewer) Staff() bool { return v.Owner || v.HomeLead || len(v.Tasks) > 0 }

// SeesRequest reports whether answers, stages, plan, decisions and history are
// open to them.
func (v Viewer) SeesRequest() bool {
	return v.Asker || v.Receiver || v.Owner || v.HomeLead || v.Follower
}

// SeesFiles reports whether the files of the answers are open to them.
func (v Viewer) SeesFiles() bool { return v.Asker || v.Receiver || v.Owner || v.HomeLead }

// SeesDecision reports whether what a rung shows is open to them: to those who
// sit on it, not to those of other rungs.
func (v Viewer) SeesDecision(rung string) bool {
	return v.Owner || v.HomeLead || slices.Contains(v.Rungs, rung)
}

// SeesTask reports whether a task with its slice is open to them.
func (v Viewer) SeesTask(key string) bool {
	return v.Owner || v.HomeLead || slices.Contains(v.Tasks, key)
}

// Allowed names the commands that a person may give now on the whole request.
func (s *State) Allowed(person string) []string {
	var out []string
	switch s.Status {
	case Draft:
		if s.Asker == person {
			out = append(out, "submit", "discard")
		}
	case Deciding, Returned:
		if s.Asker == person {
			out = append(out, "withdraw")
		}
		if s.Status == Returned && s.isSide(person) {
			out = append(out, "resubmit")
		}
		if q := s.Question; q != nil && q.By == person {
			out = append(out, "unask")
		}
		r, ok := s.OpenRung()
		if ok && slices.ContainsFunc(r.passed(person), func(p passedOn) bool { _, filled := r.VoteFor(p.seat); return !filled }) {
			out = append(out, "takeBack")
		}
		if !ok || s.Status == Returned || person == s.Asker || person == s.Beneficiary() {
			break
		}
		if len(r.SeatsFor(person)) > 0 {
			out = append(out, "decide", "askBack")
			if len(r.OpenSeatsFor(person)) > 0 {
				out = append(out, "passOn")
			}
		}
	case Delivering, Waiting:
		if s.Asker == person {
			out = append(out, "withdraw")
		}
		if s.Status == Waiting && s.isSide(person) {
			out = append(out, "answer")
		}
	case Delivered:
		if s.isSide(person) {
			out = append(out, "confirm")
		}
	}
	return out
}

// AllowedToReader names the commands that somebody may give now because of what they
// see of the request.
func (s *State) AllowedToReader(v Viewer) []string {
	var out []string
	if (v.Owner || v.HomeLead) && !v.Follower && !v.Asker {
		out = append(out, "followMyself")
	}
	if s.Status == Draft || s.Status == Closed {
		return out
	}
	if v.Asker || v.Receiver || v.Owner {
		out = append(out, "follow")
	}
	if v.SeesFiles() {
		out = append(out, "attach")
	}
	return out
}

// isSide reports whether a person is the asker, or who it is for and sees it.
func (s *State) isSide(person string) bool {
	return s.Asker == person || s.Told && person != "" && s.Beneficiary() == person
}

// AllowedOnRung names the commands that a person may give now on one decision.
func (s *State) AllowedOnRung(rung, person string) []string {
	if open, ok := s.OpenRung(); ok && open.Key == rung {
		return s.Allowed(person)
	}
	return nil
}

// Turn reports whether a request waits for a person who asks, or whom it is for.
func (s *State) Turn(person string) bool {
	return s.Status == Draft && s.Asker == person || s.Status.WithSide() && s.isSide(person)
}

// AllowedToLead names the commands that whoever leads may give now on the whole
// request.
func (s *State) AllowedToLead(v Viewer) []string {
	lead := v.Owner || v.HomeLead || len(v.Leads) > 0
	var out []string
	if (v.Owner || v.HomeLead) && (s.running() || s.Status == Delivered) {
		out = append(out, "cancel")
	}
	if (v.Owner || v.HomeLead) && s.Status == Returned {
		out = append(out, "hear")
	}
	if lead && (s.Status == Delivering || s.Status == Waiting) {
		out = append(out, "addTask")
	}
	return out
}

// AllowedOn names the commands that a person may give now on a task.
func (s *State) AllowedOn(t Task, person string, v Viewer) []string {
	member, lead := slices.Contains(v.Tasks, t.Key), v.Owner || v.HomeLead || slices.Contains(v.Leads, t.Key)
	var out []string
	add := func(when bool, commands ...string) {
		if when {
			out = append(out, commands...)
		}
	}
	if s.Status == Closed {
		return nil
	}
	if u := t.Undo; u != nil {
		byHand := u.Text != "" && u.State == plan.Ready || u.State == plan.Stuck
		add(member && byHand, "take")
		add(member && (u.State == plan.Stuck || u.State == plan.Taken && u.Holder == person), "complete")
		add(member && u.State == plan.Stuck, "retry")
		add((lead || member && u.State == plan.Stuck) && (byHand || u.State == plan.Taken), "skip")
		add(member, "note", "say")
		return out
	}
	if s.Status == Undoing {
		return nil
	}
	manual, many := t.Kind == plan.Manual, len(t.Asked) > 0
	mine := t.Holder == person
	switch t.State {
	case plan.Blocked:
		add(lead, "skip")
		add(lead && len(t.Waits()) > 0, "waive")
	case plan.Ready:
		add(member && manual && !many && t.Place != Queued, "take")
		add(slices.Contains(t.Asked, person) && !slices.Contains(t.Confirmed, person), "confirmPart")
		add(member && t.Accepted, "complete")
		add((member || lead) && manual && !many && t.Place != Queued, "handOver")
		add(member && manual && !many && t.Place != Queued, "getStuck")
		add(lead && !t.unsettled(), "skip")
	case plan.Taken:
		add(member && mine, "complete", "check", "askAsker", "getStuck")
		add(member && mine || lead, "handOver")
		add(lead, "skip")
	case plan.Asking:
		add(t.Question != nil && t.Question.By == person, "unask")
		add(member || lead, "hear")
		add(lead, "skip")
	case plan.Stuck:
		add(member, "retry", "complete", "handOver")
		add(lead && !member, "handOver")
		add(lead || member && !manual, "skip")
		add(lead && t.Kind == plan.Automatic, "correct")
	}
	add(member && len(t.Lines) > 0 && (t.State == plan.Taken || t.State == plan.Stuck || t.Accepted), "count")
	add(member && s.running(), "doubt")
	add(member || lead, "note", "say")
	return out
}
