package request

import (
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"heptad/internal/core/audience"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

// Handle decides what a command leads to: events and effects, or a *Refusal.
// The given state is not changed.
func Handle(s State, c Command, f Facts) ([]Event, []Effect, error) {
	f.Now = f.Now.UTC().Truncate(time.Millisecond)
	t := &turn{state: s.clone(), facts: f}
	if err := t.handle(c); err != nil {
		return nil, nil, err
	}
	if next := t.state.nextTick(); !next.IsZero() && !next.Equal(s.nextTick()) {
		t.effects = append(t.effects, Effect{Kind: TickTimer, Key: s.ID + "/tick", At: next})
	}
	return t.events, t.effects, nil
}

// turn is one command on its way.
type turn struct {
	state   State
	facts   Facts
	events  []Event
	effects []Effect
}

// emit adds an event and takes it into the state, so that what follows sees it.
func (t *turn) emit(body Body) {
	e := Event{Seq: t.state.Seq + 1, At: t.facts.Now, Actor: t.facts.Actor, Body: body}
	t.state.Apply(e)
	t.events = append(t.events, e)
}

func (t *turn) handle(c Command) error {
	switch c := c.(type) {
	case Begin:
		return t.begin(c)
	case Discard:
		return t.discard()
	case Submit:
		return t.submit(c)
	case Decide:
		return t.decide(c)
	case AskBack:
		return t.askBack(c)
	case Resubmit:
		return t.resubmit(c)
	case PassOn:
		return t.passOn(c)
	case Withdraw:
		return t.withdraw(c)
	case Comment:
		return t.comment(c)
	case Follow:
		return t.follow(c)
	case Unfollow:
		return t.unfollow(c)
	case Tick:
		return t.tick()
	case Relieve:
		return t.relieve()
	case Take:
		return t.take(c)
	case Complete:
		return t.complete(c)
	case Succeed:
		return t.succeed(c)
	case Fail:
		return t.fail(c)
	case Retry:
		return t.retry(c)
	case Confirm:
		return t.confirm(c)
	case Lapse:
		return t.lapse()
	}
	return fmt.Errorf("unknown command %T", c)
}

func conflict(code, format string, args ...any) *Refusal {
	return &Refusal{Kind: Conflict, Code: code, Sentence: fmt.Sprintf(format, args...)}
}

func notYours(format string, args ...any) *Refusal {
	return &Refusal{Kind: NotYours, Code: "notYours", Sentence: fmt.Sprintf(format, args...)}
}

func (t *turn) begin(c Begin) error {
	if t.state.ID != "" {
		return conflict("begun", "This draft is there already.")
	}
	asker, _ := t.facts.Company.Person(t.facts.Actor)
	if ok, why := t.facts.Offering.Audience.MayAsk(audience.Of(asker, t.facts.Company)); !ok || t.facts.Offering.Audience.Inner {
		return notYours("You cannot ask for this: %s", why)
	}
	purpose := t.facts.Offering.Document.Purpose
	t.emit(DraftBegun{c.ID, t.facts.Offering.Document.Key, purpose.Name, purpose.Service})
	return nil
}

func (t *turn) discard() error {
	switch {
	case t.state.Asker != t.facts.Actor:
		return notYours("Only %s can discard this draft.", t.facts.Company.Name(t.state.Asker))
	case t.state.Status != Draft:
		return conflict("notDraft", "This is no draft any more.")
	}
	t.emit(RequestClosed{Outcome: Withdrawn})
	return nil
}

func (t *turn) submit(c Submit) error {
	s, o := &t.state, t.facts.Offering
	switch {
	case s.Asker != t.facts.Actor:
		return notYours("Only %s can send this draft.", t.facts.Company.Name(s.Asker))
	case s.Status != Draft:
		return conflict("alreadySent", "This has been sent already, as %s.", s.Reference)
	}
	parties := t.parties(c.For)
	if ok, why := o.Audience.MayAsk(audience.Of(parties.Asker, t.facts.Company)); !ok {
		return notYours("You cannot ask for this: %s", why)
	}
	if ok, why := o.MayAsk(parties); !ok {
		return &Refusal{Kind: Invalid, Code: "notFor", Sentence: "You cannot ask for this: " + why, Place: "/for"}
	}
	result, refused := t.evaluate(c.Answers, c.Slip, parties)
	if refused != nil {
		return refused
	}
	rungs, err := t.rungs(result, parties)
	if err != nil {
		return &Refusal{Kind: Invalid, Code: "nobodyDecides", Sentence: "This cannot be sent yet: " + err.Error() + "."}
	}
	t.emit(Submitted{
		Reference: Reference(c.Prefix, c.Number), Version: o.Version, Title: o.Title(result.Values, o.Show(result.Kept(), t.facts.Company)),
		Service: o.Document.Purpose.Service, For: parties.Beneficiary, Told: o.Document.Audience.Told, Answers: result.Kept(), Price: result.Price, Rungs: rungs, Promise: o.Promise.Promised(result.Values),
	})
	t.climb()
	return nil
}

// evaluate works out answers that are sent, and refuses those that are not
// complete, or whose slip is another than the asker saw.
func (t *turn) evaluate(answers form.Answers, slip string, parties offering.Parties) (form.Result, *Refusal) {
	o, facts := t.facts.Offering, parties.Facts()
	facts.Files = t.facts.Files
	result := o.Form.Evaluate(answers, o.Values(parties, t.facts.Now), facts)
	if slip != "" && slip != Slip(o, result) {
		return result, conflict("slipChanged", "What this asks for has changed while you were writing. Look through it and send again.")
	}
	if !result.Complete {
		refusal := &Refusal{Kind: Invalid, Code: "incomplete", Sentence: "Some answers are missing or not right."}
		for _, q := range result.Questions {
			for _, p := range q.Problems {
				refusal.Details = append(refusal.Details, Refusal{Kind: Invalid, Code: p.Code, Sentence: p.Sentence, Place: place(q.Key, p)})
			}
		}
		return result, refusal
	}
	return result, nil
}

// place of a problem in the command.
func place(question string, p form.Problem) string {
	if p.Row == 0 {
		return "/answers/" + question
	}
	return fmt.Sprintf("/answers/%s/%d/%s", question, p.Row-1, p.Column)
}

// parties are who asks and for whom; nobody named is the asker.
func (t *turn) parties(b offering.Beneficiary) offering.Parties {
	asker, _ := t.facts.Company.Person(t.state.Asker)
	if b.Person == "" && b.Newcomer == nil {
		b.Person = asker.ID
	}
	return offering.Parties{Asker: asker, Beneficiary: b, Belongings: t.facts.Belongings, Company: t.facts.Company}
}

// Slip is a fingerprint of what an asker sees before sending: the questions
// shown, the price and the decisions needed.
func Slip(o *offering.Compiled, result form.Result) string {
	hash := sha256.New()
	for _, q := range result.Questions {
		if question, ok := o.Form.Question(q.Key); ok && q.Shown {
			_, _ = fmt.Fprintf(hash, "%s %q %v\n", q.Key, question.Label, q.Required) // a hash never fails
		}
	}
	for _, l := range result.Price.Lines {
		_, _ = fmt.Fprintf(hash, "%q %d %s %s\n", l.Name, l.Quantity, l.Per, l.Sum)
	}
	for _, r := range o.Ladder.Needed(result.Values) {
		_, _ = fmt.Fprintf(hash, "%s %q\n", r.Key, r.Name)
	}
	return hex.EncodeToString(hash.Sum(nil)[:12])
}

// values are what the rules of the offering read after sending.
func (t *turn) values() rule.Values {
	o, parties := t.facts.Offering, t.parties(t.state.For)
	return o.Form.Sent(t.state.Answers, t.state.Price, o.Values(parties, t.facts.Now), parties.Facts())
}

func (t *turn) plan() error {
	o := t.facts.Offering
	values, show := t.values(), o.Show(t.state.Answers, t.facts.Company)
	planned := Planned{Tasks: []Task{}}
	for _, task := range o.Plan.Tasks() {
		instructions, err := o.Plan.Instructions(task.Key, values, show)
		if err != nil {
			instructions = task.Instructions // a faulty placeholder must not stop the work
		}
		planned.Tasks = append(planned.Tasks, Task{
			Key: task.Key, Name: task.Name, Kind: task.Kind, Team: task.Team, After: task.After, Slice: task.Slice,
			Instructions: instructions, State: plan.Blocked, Connector: connectorOf(task),
		})
	}
	t.emit(planned)
	t.release()
	return nil
}

func connectorOf(task plan.Task) string {
	if task.Action == nil {
		return ""
	}
	return task.Action.Connector
}

// release readies every task whose forerunners have ended, and delivers the
// request when all have.
func (t *turn) release() {
	values := t.values()
	state := func(key string) plan.State { return t.state.task(key).State }
	for again := true; again; {
		again = false
		for _, task := range t.state.Tasks {
			if state(task.Key) != plan.Blocked || !plan.Released(task.After, state) {
				continue
			}
			if wanted, err := t.facts.Offering.Plan.Wanted(task.Key, values); err == nil && !wanted {
				t.emit(TaskSkipped{task.Key})
				again = true
				continue
			}
			t.emit(TaskReady{task.Key})
			if task.Kind == plan.Automatic {
				t.call(task.Key, t.facts.Now)
			}
		}
	}
	for _, task := range t.state.Tasks {
		if !task.State.Ended() {
			return
		}
	}
	t.deliver()
}

func (t *turn) deliver() {
	by := t.facts.Offering.Promise.ConfirmBy(t.facts.Now)
	t.emit(WorkDelivered{ConfirmBy: by})
	if !by.After(t.facts.Now) {
		t.emit(RequestClosed{Outcome: Fulfilled})
		return
	}
	t.effects = append(t.effects, Effect{Kind: LapseTimer, Key: t.state.ID + "/lapse", At: by})
}

// call asks for the action of an automatic task at an instant.
func (t *turn) call(key string, at time.Time) {
	o := t.facts.Offering
	inputs, err := o.Plan.Inputs(key, t.values(), o.Show(t.state.Answers, t.facts.Company))
	if err != nil {
		t.emit(TaskStuck{key, "What to send could not be worked out: " + err.Error() + "."})
		return
	}
	action := o.Plan.Task(key).Action
	t.effects = append(t.effects, Effect{
		Kind: Call, Key: t.state.ID + "/" + key, At: at, Task: key,
		Connector: action.Connector, Do: action.Do, Inputs: inputs,
	})
}

// open finds a task that still can be worked on.
func (t *turn) open(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	switch {
	case !ok:
		return nil, conflict("noTask", "This request has no such task.")
	case task.State == plan.Blocked:
		return nil, conflict("blocked", "%q still waits for other tasks.", task.Name)
	case task.State.Ended():
		return nil, conflict("ended", "%q is already %s.", task.Name, task.State)
	}
	return task, nil
}

// openToMember finds a task that the actor's team works on.
func (t *turn) openToMember(key string) (*Task, error) {
	task, ok := t.state.Task(key)
	if ok && !t.facts.Company.InTeam(t.facts.Actor, task.Team) {
		return nil, notYours("%q is a task of %s.", task.Name, t.facts.Company.TeamName(task.Team))
	}
	return t.open(key)
}

func (t *turn) take(c Take) error {
	task, err := t.openToMember(c.Task)
	switch {
	case err != nil:
		return err
	case task.Kind == plan.Automatic:
		return conflict("automatic", "%q is done by itself.", task.Name)
	case task.State == plan.Taken:
		return conflict("taken", "%s has taken %q already.", t.facts.Company.Name(task.Holder), task.Name)
	}
	t.emit(TaskTaken(c))
	return nil
}

func (t *turn) complete(c Complete) error {
	task, err := t.openToMember(c.Task)
	switch {
	case err != nil:
		return err
	case task.State != plan.Taken:
		return conflict("notTaken", "Take %q before you end it.", task.Name)
	case task.Holder != t.facts.Actor:
		return notYours("%q is with %s.", task.Name, t.facts.Company.Name(task.Holder))
	}
	t.emit(TaskDone{Task: c.Task})
	t.release()
	return nil
}

func (t *turn) succeed(c Succeed) error {
	if _, err := t.open(c.Task); err != nil {
		return err
	}
	t.emit(TaskDone(c))
	t.release()
	return nil
}

// delays between the tries of an automatic task. After the last it is stuck.
var delays = []time.Duration{time.Second, 5 * time.Second, 20 * time.Second, 2 * time.Minute, 10 * time.Minute}

func (t *turn) fail(c Fail) error {
	task, err := t.open(c.Task)
	if err != nil {
		return err
	}
	attempt := task.Attempts + 1
	if attempt > len(delays) {
		t.emit(TaskStuck{c.Task, fmt.Sprintf("Tried %d times. %s", attempt, c.Trouble)})
		return nil
	}
	delay := delays[attempt-1]
	delay += time.Duration(c.Jitter * float64(delay) / 4)
	at := t.facts.Now.Add(delay).Truncate(time.Millisecond)
	t.emit(CallFailed{Task: c.Task, Attempt: attempt, Trouble: c.Trouble, RetryAt: at})
	t.call(c.Task, at)
	return nil
}

func (t *turn) retry(c Retry) error {
	task, err := t.openToMember(c.Task)
	switch {
	case err != nil:
		return err
	case task.State != plan.Stuck:
		return conflict("notStuck", "%q is not stuck.", task.Name)
	}
	t.emit(TaskRetried(c))
	t.call(c.Task, t.facts.Now)
	return nil
}

func (t *turn) confirm(c Confirm) error {
	switch {
	case t.state.Asker != t.facts.Actor:
		return notYours("Only %s can confirm this.", t.facts.Company.Name(t.state.Asker))
	case t.state.Status == Closed:
		return conflict("closed", "This request is closed already.")
	case t.state.Status != Delivered:
		return conflict("notDelivered", "There is still work to be done before you can confirm.")
	}
	t.emit(Confirmed{Remark: strings.TrimSpace(c.Remark)})
	t.emit(RequestClosed{Outcome: Fulfilled})
	return nil
}

func (t *turn) lapse() error {
	if t.state.Status != Delivered {
		return conflict("notDelivered", "This request does not wait for a confirmation.")
	}
	t.emit(RequestClosed{Outcome: Fulfilled, Silent: true})
	return nil
}

// AsRefusal gives the refusal in an error, if it is one.
func AsRefusal(err error) (*Refusal, bool) {
	var r *Refusal
	return r, errors.As(err, &r)
}
