package request

import (
	"slices"

	"heptad/internal/core/people"
	"heptad/internal/core/plan"
)

// Viewer is what a person is to a request (rules.md 9).
type Viewer struct {
	Asker    bool
	Receiver bool     // it is for them, and the offering lets them see it
	Approver bool     // of an open or past rung
	Owner    bool     // of its service
	HomeLead bool     // lead of the team its service is home to
	Follower bool     // they hear of it, and see it but for its files
	Tasks    []string // keys of the tasks of their teams
}

// ViewerOf tells what a person is to a request.
func (s *State) ViewerOf(person string, company *people.Directory, service people.Service) Viewer {
	home, _ := company.Team(service.Home)
	v := Viewer{Asker: s.Asker == person}
	if s.Status == Draft {
		return v // a draft is nobody else's business
	}
	v.Receiver = s.Told && !v.Asker && s.Beneficiary() == person
	v.Owner = service.Owner == person
	v.HomeLead = home.Lead == person
	v.Follower = slices.Contains(s.Followers, person)
	for _, r := range s.Rungs {
		v.Approver = v.Approver || r.HasSeat(person)
	}
	for _, t := range s.Tasks {
		if company.InTeam(person, t.Team) {
			v.Tasks = append(v.Tasks, t.Key)
		}
	}
	return v
}

// Any tells whether the request is any of their business.
func (v Viewer) Any() bool {
	return v.Asker || v.Receiver || v.Approver || v.Owner || v.HomeLead || v.Follower || len(v.Tasks) > 0
}

// SeesRequest tells whether answers, stages, plan, decisions and history are
// open to them.
func (v Viewer) SeesRequest() bool {
	return v.Asker || v.Receiver || v.Owner || v.HomeLead || v.Follower
}

// SeesFiles tells whether the files of the answers are open to them.
func (v Viewer) SeesFiles() bool { return v.Asker || v.Receiver || v.Owner || v.HomeLead }

// SeesDecision tells whether what a rung shows is open to them.
func (v Viewer) SeesDecision() bool { return v.Approver || v.Owner || v.HomeLead }

// SeesTask tells whether a task with its slice is open to them.
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
			if s.Status == Returned {
				out = append(out, "resubmit")
			}
		}
		r, ok := s.OpenRung()
		if !ok || s.Status == Returned || person == s.Asker || person == s.Beneficiary() {
			break
		}
		if _, ok := r.SeatFor(person); ok {
			out = append(out, "decide", "askBack")
			if _, voted := r.VoteOf(person); !voted {
				out = append(out, "passOn")
			}
		}
	case Delivered:
		if s.Asker == person {
			out = append(out, "confirm")
		}
	}
	return out
}

// AllowedOn names the commands that a person may give now on a task.
func (s *State) AllowedOn(t Task, person string, company *people.Directory) []string {
	switch member := company.InTeam(person, t.Team); {
	case member && t.State == plan.Ready && t.Kind == plan.Manual:
		return []string{"take"}
	case member && t.State == plan.Taken && t.Holder == person:
		return []string{"complete"}
	case member && t.State == plan.Stuck:
		return []string{"retry"}
	}
	return nil
}
