package rehearse

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// usualAfter is after how much of their open time people do what waits for them, where
// nothing is said.
const usualAfter = time.Hour

// react lets the cast see what waits for it. Whoever the script names for something later is
// left to the script until then.
func (d *driver) react() {
	switch d.State.Status {
	case request.Deciding:
		d.deciding()
	case request.Returned:
		d.answers("returned", func() request.Command {
			return request.Resubmit{Answers: d.State.Answers, Reply: "Yes, as I wrote it."}
		})
	case request.Delivered:
		if d.Script.Cast.Asker == script.Confirms || d.Script.Cast.Asker == "" {
			d.bySide("confirm", script.Confirm, func() request.Command { return request.Confirm{} })
		}
	}
	switch d.State.Status {
	case request.Delivering, request.Waiting, request.Undoing, request.Deciding:
		for i := range d.State.Tasks {
			d.working(d.State.Tasks[i])
		}
	}
}

// named reports whether a later line of the script says what is to become of something.
func (d *driver) named(says func(script.Line) bool) bool {
	return slices.ContainsFunc(d.Script.Script[min(d.line, len(d.Script.Script)):], says)
}

// soon sets something that somebody of the cast is about to do, once for as long as it
// waits for them. It is left undone when it does not wait any more.
func (d *driver) soon(what string, at time.Time, do func()) {
	if d.set[what] {
		return
	}
	d.set[what] = true
	d.at(at, func() {
		delete(d.set, what)
		do()
	})
}

// open is so much open time from now on.
func open(work *calendar.Calendar, now time.Time, d time.Duration) time.Time {
	at, err := work.Add(now, d)
	if err != nil {
		return now.Add(mostTime) // it never opens
	}
	return at
}

// deciding lets those approve who are asked.
func (d *driver) deciding() {
	cast := d.Script.Cast.Approvers
	rung, is := d.State.OpenRung()
	if !is || cast.None {
		return
	}
	for _, who := range rung.Waiting() {
		key, seq := rung.Key, rung.Opened
		if d.named(func(l script.Line) bool {
			id, _ := d.person(l.Who)
			return id == who && l.Do.Decides() && (l.Rung == "" || l.Rung == key)
		}) {
			continue
		}
		d.soon("decide "+key+" "+who, d.approves(who, key, cast), func() {
			if open, is := d.State.OpenRung(); is && open.Key == key && open.Opened.Equal(seq) && slices.Contains(open.Waiting(), who) {
				_ = d.do(who, request.Decide{Rung: key, Decision: request.Approve}) // others may have decided in the same instant
			}
		})
	}
}

// approves is when somebody approves who is asked now.
func (d *driver) approves(who, rung string, cast script.Approvers) time.Time {
	work := d.Company.HoursOf(who)
	if cast.After.Measured {
		took := d.learned().Rung(rung)
		if len(took) >= plan.EnoughMeasured {
			d.Lengths["rung/"+rung] = took[len(took)/2]
			return open(d.Offering.Promise.Calendar(), d.now, took[len(took)/2])
		}
	}
	if cast.After.Length.IsZero() {
		return open(work, d.now, usualAfter)
	}
	return work.After(d.now, cast.After.Length.Length)
}

// answers lets the asker answer a question.
func (d *driver) answers(what string, c func() request.Command) {
	if d.Script.Cast.Asker != script.Silent {
		d.bySide(what, script.Answer, c)
	}
}

// bySide lets the asker do something after a while, unless the script says when they, or
// whom it is for, do it or something else in its place.
func (d *driver) bySide(what string, do script.Do, c func() request.Command) {
	if d.named(func(l script.Line) bool {
		return l.Do == do || do == script.Confirm && l.Do == script.SendBack || do == script.Answer && (l.Do == script.Hear || l.Do == script.Unask || l.Do == script.Withdraw)
	}) {
		return
	}
	status := d.State.Status
	d.soon(what, open(d.Company.HoursOf(d.asker.ID), d.now, usualAfter), func() {
		if d.State.Status == status {
			_ = d.do(d.asker.ID, c())
		}
	})
}

// working lets people go on with a task.
func (d *driver) working(t request.Task) {
	key := t.Key
	if d.Script.Cast.Tasks.None && t.State != plan.Asking || d.set["gave up "+key] || d.named(func(l script.Line) bool { return l.Task == key && l.Do != script.Comment && l.Do != script.Note }) {
		return
	}
	members := d.hereOf(t.Team)
	switch {
	case t.Undo != nil:
		d.takingBack(t, members)
	case t.State == plan.Asking:
		d.answers("answer "+key, func() request.Command { return request.Answer{Task: key, Text: "Yes, as I wrote it."} })
	case len(t.Confirmers) > 0 && t.State == plan.Ready:
		for _, who := range t.Confirmers {
			if slices.Contains(t.Confirmed, who) {
				continue
			}
			d.soon("part "+key+" "+who, open(d.Company.HoursOf(who), d.now, usualAfter), func() { _ = d.do(who, request.ConfirmPart{Task: key}) })
		}
	case len(members) == 0:
	case t.State == plan.Ready && t.ForPeople():
		d.soon("take "+key, d.opens(t.Team), func() {
			if who := d.freest(t.Team); who != "" {
				_ = d.do(who, request.Take{Task: key})
			}
		})
	case t.State == plan.Taken:
		d.finish(t)
	case t.State == plan.Stuck:
		d.rescue(t)
	}
}

// hereOf are the members of a team that are not away now.
func (d *driver) hereOf(team string) []string {
	return slices.DeleteFunc(slices.Clone(d.Company.Members(team)), func(id string) bool {
		_, away := d.Company.Absence(id, d.now)
		return away
	})
}

// freest is who of a team has the least in hand, rather not who asks or whom it is for.
func (d *driver) freest(team string) string {
	best, least := "", 0
	for _, id := range d.hereOf(team) {
		load := d.hands[id].Tasks * 2
		if id == d.asker.ID || id == d.whom.Person {
			load += 1000
		}
		if best == "" || load < least {
			best, least = id, load
		}
	}
	return best
}

func (d *driver) hours(team string) *calendar.Calendar {
	return d.Company.TeamHours(team, d.Offering.Promise.Calendar())
}

// opens is when a team opens next.
func (d *driver) opens(team string) time.Time {
	at, err := d.hours(team).NextOpen(d.now)
	if err != nil {
		return d.now.Add(mostTime) // never
	}
	return at
}

// takes is how long a task takes from when it is taken, as the cast does it.
func (d *driver) takes(t request.Task) time.Time {
	work := d.hours(t.Team)
	cast := d.Script.Cast.Tasks
	_, each := cast.Each[t.Of]
	if took := d.learned().Task(t.Of); cast.Measured && !each && len(took) >= plan.EnoughMeasured {
		d.Lengths["task/"+t.Of] = took[len(took)/2]
		if at := open(work, t.ReadyAt, took[len(took)/2]); at.After(d.now) {
			return at
		}
		return d.now
	}
	effort := calendar.Length{Open: plan.UsualEffort}
	if t.Of != "" {
		effort = d.Offering.Plan.Effort(t.Of)
	} else if length, err := calendar.ParseLength(t.Effort); err == nil && t.Effort != "" {
		effort = length
	}
	factor := cast.Of(t.Of)
	if effort.Days != 0 {
		at, err := work.AddShare(d.now, float64(effort.Days)*factor)
		if err != nil {
			return d.now.Add(mostTime)
		}
		return at
	}
	return open(work, d.now, time.Duration(float64(effort.Open)*factor).Truncate(time.Second))
}

// finish lets who has a task in hand do it.
func (d *driver) finish(t request.Task) {
	key, holder := t.Key, t.Holder
	d.soon("finish "+key+" "+holder, d.takes(t), func() {
		now, _ := d.State.Task(key)
		if now == nil || now.State != plan.Taken || now.Holder != holder {
			return
		}
		d.complete(holder, *now)
	})
}

// complete ends a task with all that is needed for it.
func (d *driver) complete(who string, t request.Task) {
	commands := d.finishing(who, t.Key, false)
	var outputs map[string]string
	if t.Of != "" && t.Undo == nil {
		of := d.Offering.Plan.Outputs(t.Of)
		outputs = d.outputs(t.Key, of, nil)
		for _, o := range of {
			if o.Kind == plan.File && !o.Free && t.Outputs[o.Key] == "" {
				outputs[o.Key] = "file-" + t.Key
				commands = append(commands, d.attaching(t.Key))
			}
			if o.Secret && !o.Free {
				outputs[o.Key] = "not made" // it is asked for live; what is sealed is dropped here
			}
		}
	}
	for _, c := range append(commands, request.Complete{Task: t.Key, Outputs: outputs}) {
		if err := d.do(who, c); err != nil {
			d.refuse(-1, err)
			d.set["gave up "+t.Key] = true
			return
		}
		d.settle()
	}
}

// rescue lets somebody go on with what is stuck: they try it again, and do it by hand when
// that did not help.
func (d *driver) rescue(t request.Task) {
	key := t.Key
	d.soon("rescue "+key, open(d.hours(t.Team), d.now, usualAfter), func() {
		now, _ := d.State.Task(key)
		who := d.freest(t.Team)
		if now == nil || now.State != plan.Stuck || now.Undo != nil || who == "" {
			return
		}
		d.tried[key]++
		if d.tried[key] == 1 {
			_ = d.do(who, request.Retry{Task: key})
			return
		}
		d.complete(who, *now)
	})
}

// takingBack lets people take a task back that no system takes back.
func (d *driver) takingBack(t request.Task, members []string) {
	key, undo := t.Key, *t.Undo
	switch {
	case len(members) == 0:
	case undo.Text != "" && undo.State == plan.Ready:
		d.soon("take back "+key, d.opens(t.Team), func() { _ = d.do(d.freest(t.Team), request.Take{Task: key}) })
	case undo.State == plan.Taken:
		d.soon("taken back "+key, open(d.hours(t.Team), d.now, usualAfter), func() { _ = d.do(undo.Holder, request.Complete{Task: key}) })
	case undo.State == plan.Stuck:
		d.soon("back stuck "+key, open(d.hours(t.Team), d.now, usualAfter), func() {
			d.tried["undo "+key]++
			who := d.freest(t.Team)
			if d.tried["undo "+key] == 1 {
				_ = d.do(who, request.Retry{Task: key})
				return
			}
			_ = d.do(who, request.Complete{Task: key})
		})
	}
}
