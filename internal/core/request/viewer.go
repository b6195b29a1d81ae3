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
	Editor   bool     // of its service: sees what the owner does, and leaves the work to others
	HomeLead bool     // lead of the team its service is home to
	Follower bool     // they hear of it, and see it but for its files
	Tasks    []string // keys of the tasks of their teams
	Leads    []string // of these the tasks of teams they lead
	Confirms []string // keys of the tasks they are to confirm a part of
	Warned   bool     // a mark of its promise told them
	Foreseen bool     // a team of theirs will have a task, as far as the plan can tell
}

// ViewerOf tells what a person is to a request.
func (s *State) ViewerOf(person string, company *people.Directory, service people.Service) Viewer {
	home, _ := company.Team(service.Home)
	v := Viewer{Person: person, Asker: s.Asker == person}
	if s.Status == Draft {
		return v // a draft is nobody else's business
	}
	v.Receiver = s.Shared && !v.Asker && s.Beneficiary() == person
	v.Owner = service.Owner == person
	v.Editor = !v.Owner && company.Designs(person, service)
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
		if slices.Contains(t.Confirmers, person) {
			v.Confirms = append(v.Confirms, t.Key)
		}
	}
	v.Warned = slices.Contains(s.Warned, person)
	v.Foreseen = slices.ContainsFunc(s.Foreseen, func(team string) bool { return company.InTeam(person, team) })
	return v
}

// Any reports whether the request is any of their business.
func (v Viewer) Any() bool {
	return v.Asker || v.Receiver || v.Approver || v.overall() || v.Follower || v.Foreseen || v.Warned || len(v.Tasks) > 0 || len(v.Confirms) > 0
}

// overall reports whether everything of the request is open to them, whatever they do.
func (v Viewer) overall() bool { return v.Owner || v.Editor || v.HomeLead }

// Staff reports whether notes are open to them.
func (v Viewer) Staff() bool { return v.overall() || len(v.Tasks) > 0 }

// works reports whether they work on the request.
func (v Viewer) works() bool { return v.Owner || v.HomeLead || len(v.Tasks) > 0 }

// SeesRequest reports whether answers, stages, plan, decisions and history are
// open to them.
func (v Viewer) SeesRequest() bool {
	return v.Asker || v.Receiver || v.overall() || v.Follower
}

// SeesFiles reports whether the files of the answers are open to them.
func (v Viewer) SeesFiles() bool { return v.Asker || v.Receiver || v.overall() }

// attaches reports whether they add files to the whole request.
func (v Viewer) attaches() bool { return v.Asker || v.Receiver || v.Owner || v.HomeLead }

// SeesDecision reports whether what a rung shows is open to them: to those who
// sit on it, not to those of other rungs.
func (v Viewer) SeesDecision(rung string) bool {
	return v.overall() || slices.Contains(v.Rungs, rung)
}

// SeesTask reports whether a task with its slice is open to them.
func (v Viewer) SeesTask(key string) bool {
	return v.overall() || slices.Contains(v.Tasks, key)
}

// Allowed names the commands that a person may give now on the whole request.
func (s *State) Allowed(person string) []Offer {
	var out []Offer
	switch s.Status {
	case Draft:
		if s.Asker == person {
			out = append(out, OfferSubmit, OfferDiscard)
		}
	case Deciding, Returned:
		if s.Asker == person {
			out = append(out, OfferWithdraw)
		}
		if s.Status == Returned && s.isSide(person) {
			out = append(out, OfferResubmit)
		}
		if q := s.Question; q != nil && q.By == person {
			out = append(out, OfferUnask)
		}
		r, ok := s.OpenRung()
		if ok && slices.ContainsFunc(r.passed(person), func(p passedOn) bool { _, filled := r.VoteFor(p.seat); return !filled }) {
			out = append(out, OfferTakeBack)
		}
		if !ok || s.Status == Returned || person == s.Asker || person == s.Beneficiary() {
			break
		}
		if len(r.SeatsFor(person)) > 0 {
			out = append(out, OfferDecide)
			if s.Urging == nil {
				out = append(out, OfferAskBack)
			}
			if len(r.OpenSeatsFor(person)) > 0 {
				out = append(out, OfferPassOn)
			}
		}
	case Delivering, Waiting:
		if s.Asker == person {
			out = append(out, OfferWithdraw)
		}
		if s.Status == Waiting && s.isSide(person) {
			out = append(out, OfferAnswer)
		}
	case Delivered:
		if s.isSide(person) {
			out = append(out, OfferConfirm, OfferSendBack)
		}
	case Closed:
		if s.isSide(person) && !s.BackBy.IsZero() {
			out = append(out, OfferSendBack) // until then
		}
	}
	if s.isSide(person) && s.mayUrge() {
		out = append(out, OfferUrge) // where the offering lets them
	}
	if s.Rates && s.isSide(person) {
		out = append(out, OfferRate)
	}
	return out
}

// AllowedToReader names the commands that somebody may give now because of what they
// see of the request.
func (s *State) AllowedToReader(v Viewer) []Offer {
	var out []Offer
	if v.overall() && !v.Follower && !v.Asker {
		out = append(out, OfferFollowMyself)
	}
	if s.Status == Draft || s.Status == Closed {
		return out
	}
	if v.Asker || v.Receiver || v.Owner {
		out = append(out, OfferFollow)
	}
	if v.attaches() {
		out = append(out, OfferAttach)
	}
	return out
}

// isSide reports whether a person is the asker, or who it is for and sees it.
func (s *State) isSide(person string) bool {
	return s.Asker == person || s.Shared && person != "" && s.Beneficiary() == person
}

// AllowedOnRung names the commands that a person may give now on one decision.
func (s *State) AllowedOnRung(rung, person string) []Offer {
	if open, ok := s.OpenRung(); ok && open.Key == rung {
		return s.Allowed(person)
	}
	return nil
}

// WaitsFor reports whether a request waits for a person who asks, or whom it is for.
func (s *State) WaitsFor(person string) bool {
	return s.Status == Draft && s.Asker == person || s.Status.WithSide() && s.isSide(person)
}

// AllowedToLead names the commands that whoever leads may give now on the whole
// request.
func (s *State) AllowedToLead(v Viewer) []Offer {
	lead := v.Owner || v.HomeLead || len(v.Leads) > 0
	var out []Offer
	if (v.Owner || v.HomeLead) && (s.running() || s.Status == Delivered) {
		out = append(out, OfferCancel)
	}
	if (v.Owner || v.HomeLead) && s.mayClose() {
		out = append(out, OfferClose)
	}
	if (v.Owner || v.HomeLead) && s.Status == Returned {
		out = append(out, OfferHear)
	}
	if v.Staff() && s.Status != Draft {
		out = append(out, OfferTie)
	}
	if v.works() && s.Status.UnderWay() && s.Main() == nil {
		out = append(out, OfferOpenToAll)
	}
	if lead && (s.Status == Delivering || s.Status == Waiting) {
		out = append(out, OfferAddTask)
	}
	return out
}

// AllowedOn names the commands that a person may give now on a task.
func (s *State) AllowedOn(t Task, person string, v Viewer) []Offer {
	member, lead := slices.Contains(v.Tasks, t.Key), v.Owner || v.HomeLead || slices.Contains(v.Leads, t.Key)
	var out []Offer
	add := func(when bool, commands ...Offer) {
		if when {
			out = append(out, commands...)
		}
	}
	if s.Status == Closed {
		return nil
	}
	if u := t.Undo; u != nil {
		byHand := u.Text != "" && u.State == plan.Ready || u.State == plan.Stuck
		add(member && byHand, OfferTake)
		add(member && (u.State == plan.Stuck || u.State == plan.Taken && u.Holder == person), OfferComplete)
		add(member && u.State == plan.Stuck, OfferRetry)
		add((lead || member && u.State == plan.Stuck) && (byHand || u.State == plan.Taken), OfferSkip)
		add(member, OfferNote, OfferSay)
		return out
	}
	if s.Status == Undoing {
		return nil
	}
	manual, many := t.Kind == plan.Manual, len(t.Confirmers) > 0
	mine := t.Holder == person
	switch t.State {
	case plan.Blocked:
		add(lead, OfferSkip)
		add(lead && len(t.Waits()) > 0, OfferWaive)
	case plan.Ready:
		add(member && manual && !many && t.Place != Queued, OfferTake)
		add(slices.Contains(t.Confirmers, person) && !slices.Contains(t.Confirmed, person), OfferConfirmPart)
		add(member && t.Accepted, OfferComplete)
		add((member || lead) && manual && !many && t.Place != Queued, OfferHandOver)
		add(member && manual && !many && t.Place != Queued, OfferGetStuck)
		add(lead && !t.unsettled(), OfferSkip)
	case plan.Taken:
		add(member && mine, OfferComplete, OfferCheck, OfferAskAsker, OfferGetStuck)
		add(member && mine || lead, OfferHandOver)
		add(lead, OfferSkip)
	case plan.Asking:
		add(t.Question != nil && t.Question.By == person, OfferUnask)
		add(member || lead, OfferHear)
		add(lead, OfferSkip)
	case plan.Stuck:
		add(member, OfferRetry, OfferComplete, OfferHandOver)
		add(lead && !member, OfferHandOver)
		add(lead || member && !manual, OfferSkip)
		add(lead && t.Kind == plan.Automatic, OfferCorrect)
	}
	add(member && len(t.Lines) > 0 && (t.State == plan.Taken || t.State == plan.Stuck || t.Accepted), OfferCount)
	add(member && s.running(), OfferDoubt)
	add(member || lead, OfferNote, OfferSay)
	return out
}
