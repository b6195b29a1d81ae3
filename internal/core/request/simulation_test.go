package request_test

import (
	"encoding/json"
	"flag"
	"fmt"
	"math/rand/v2"
	"runtime"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/measure"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

var (
	lives = flag.Int("lives", 3_000, "how many random requests live through the simulation")
	seed  = flag.Uint64("seed", 0, "seed of the simulation; 0 takes one from the time")
)

// system is another system as a request sees it: it does the work of a key
// once, may fail before or after doing it, and may report later.
type system struct {
	done   map[string]int  // how often the work of a key was done
	void   map[string]bool // keys that were undone before they were done
	undone map[string]bool
}

// live reports whether the system has what was done under a key.
func (s *system) live(key string) bool { return s.done[key] > 0 && !s.undone[key] }

// life is one random request on its way, with a clock of its own.
type life struct {
	*run
	random   *rand.Rand
	system   *system
	due      map[string]request.Effect
	people   []string
	held     map[string]request.Holding // what Ilse has, by ID
	size     int                        // seats that there are
	free     int                        // those that nobody has
	others   int                        // those that other requests have
	reserved map[string]bool            // tasks that have one
	history  []string
	other    request.State // another request, which it may wait for
	measured measured      // what is kept of it
}

// own is what Ilse had before.
func own() map[string]request.Holding {
	held := map[string]request.Holding{}
	for _, id := range []string{"own-1", "own-2"} {
		held[id] = request.Holding{Belonging: people.Belonging{ID: id, Kind: "badge", Name: "Badge " + id, Detail: "old"}, Person: "p-ilse"}
	}
	return held
}

// companies are the company as it is, and as it is when Kira has left.
var companies = [2]*people.Directory{coretest.Company().Directory, coretest.Company("p-kira").Directory}

// TestRandomLives lets random requests with random plans live among people and
// a system that fail and dawdle, and looks after every step whether what must
// always hold does. A failure names its seed.
func TestRandomLives(t *testing.T) {
	from := *seed
	if from == 0 {
		from = uint64(time.Now().UnixNano())
	}
	t.Logf("seed %d; -seed repeats it", from)
	if testing.Short() {
		*lives = 500
	}
	offerings := make([]*run, max(1, min(400, *lives/4))) // many lives share a plan, as compiling one takes longest
	for i := range offerings {
		offerings[i] = randomOffering(t, rand.New(rand.NewPCG(from, uint64(i))))
	}
	var mu sync.Mutex
	var all sync.WaitGroup
	ends := map[request.Outcome]int{}
	var told [][]request.Event // of some of them
	for worker := range runtime.NumCPU() {
		all.Go(func() {
			for i := worker; i < *lives; i += runtime.NumCPU() {
				random := rand.New(rand.NewPCG(from, uint64(i)+1<<32))
				l := begun(t, random, offerings[random.IntN(len(offerings))], i)
				l.live()
				mu.Lock()
				ends[l.state.Outcome]++
				if len(told) < 400 {
					told = append(told, l.events)
				}
				mu.Unlock()
			}
		})
	}
	all.Wait()
	t.Logf("ended: %v", ends)
	countsFromEvents(t, rand.New(rand.NewPCG(from, 1)), told)
	for _, outcome := range []request.Outcome{request.Fulfilled, request.Withdrawn, request.Cancelled, request.Expired} {
		require.Positive(t, ends[outcome], "some life must end as %s", outcome)
	}
}

// randomPlan makes some tasks of all kinds, each after some of those before.
func randomPlan(random *rand.Rand) []plan.Task {
	tasks := make([]plan.Task, 1+random.IntN(8))
	for i := range tasks {
		t := plan.Task{Key: fmt.Sprintf("t%d", i), Name: fmt.Sprintf("T%d", i), Kind: plan.Manual, Team: []string{"keys", "crew"}[random.IntN(2)]}
		for j := range i {
			if random.IntN(3) == 0 {
				t.After = append(t.After, fmt.Sprintf("t%d", j))
			}
		}
		switch random.IntN(6) {
		case 0, 1:
			t.Kind = plan.Automatic
			t.Action = &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "zones": "all"}}
			if random.IntN(3) > 0 {
				t.Undo = &plan.Undo{Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "zones": "none"}}}
			}
			switch random.IntN(5) {
			case 0, 1:
				t.Belonging = &plan.Belonging{Does: plan.Make, Kind: "badge", Name: "Badge {{ outputs." + t.Key + ".number }}"}
			case 2:
				t.Belonging = &plan.Belonging{Does: plan.Change, Which: "own-1", Detail: "by " + t.Key}
			}
			if random.IntN(3) == 0 {
				t.Pool = &plan.PoolUse{Pool: "seats"}
			}
		case 2:
			t.Kind, t.Team = plan.Wait, ""
			t.Wait = &plan.Until{Moment: plan.Moment{Of: "answers.start", Days: random.IntN(5) - 3, At: "09:00"}}
		case 3:
			t.MustDos = []string{"Look twice"}
			t.Undo = &plan.Undo{Text: "Put it back."}
			if random.IntN(2) == 0 {
				t.Each, t.Belonging = plan.Belongings, &plan.Belonging{Does: plan.End, Which: "{{ each.id }}"}
			}
		case 4:
			t.When = `answers.port == "maravel"`
			t.Each = "zones"
		case 5:
			t.People = &plan.People{Team: "keys", Enough: "any"}
		}
		tasks[i] = t
	}
	return tasks
}

func randomOffering(t *testing.T, random *rand.Rand) *run {
	return start(t, func(d *offering.Document) {
		d.Plan = randomPlan(random)
		if random.IntN(4) > 0 {
			d.Ladder = nil
		}
		within := random.IntN(3)
		d.Promise.ConfirmWithin = &within
		d.Promise.Targets = []promise.Target{{Name: "Quick", When: `answers.port == "maravel"`, Response: "4h", Fulfilment: "5h"}, {Name: "Usual", Response: "4h", Fulfilment: "20h"}}
		d.Promise.Urge = &promise.Urge{Question: "port", Choices: []string{"maravel"}}
		d.Promise.Marks = []promise.Mark{{Share: 50, Tell: []promise.Told{promise.TellHolder}}, {Share: 80, HandUp: true}, {Clock: promise.OfResponse, Share: 50, HandUp: true}}
		d.Promise.Rating = &promise.Rating{At: promise.RateDelivered, Pooled: random.IntN(2) == 0}
		if random.IntN(2) == 0 {
			d.Promise.Right = &promise.Right{Tasks: []string{d.Plan[0].Key, d.Plan[len(d.Plan)-1].Key}[:1+random.IntN(min(2, len(d.Plan)))], Undo: random.IntN(2) == 0}
		}
	})
}

func begun(t *testing.T, random *rand.Rand, of *run, number int) *life {
	l := &life{
		held: own(), size: 2, free: 1, others: 1, reserved: map[string]bool{}, run: &run{facts: of.facts}, random: random, due: map[string]request.Effect{}, people: []string{"p-keks", "p-kira", "p-caro", "p-olga"},
		system: &system{map[string]int{}, map[string]bool{}, map[string]bool{}},
	}
	l.t = named{t, l, number}
	for _, id := range []string{"own-1", "own-2"} {
		l.facts.Belongings = append(l.facts.Belongings, l.held[id].Belonging)
	}
	l.other = request.State{ID: "r2", Reference: "QS-10433-Q", Status: request.Delivering}
	l.facts.Request = func(id string) (request.State, bool) { return l.other, id == "r2" }
	l.facts.Holding = func(id string) (request.Holding, bool) {
		h, ok := l.held[id]
		return h, ok
	}
	return l
}

// named tells of a failure which life it was, and what happened in it.
type named struct {
	*testing.T
	life   *life
	number int
}

func (n named) FailNow() {
	n.Logf("life %d: %v", n.number, n.life.history)
	n.Fail()
	runtime.Goexit()
}

// live goes on until the request has closed.
func (l *life) live() {
	require.NoError(l.t, l.give("p-ilse", begin()))
	sent := submit()
	if l.random.IntN(2) == 0 {
		sent.Answers["port"], sent.Answers["zones"] = coretest.Answer("maravel"), coretest.Answer([]any{"office", "fuel"})
	}
	if l.random.IntN(2) == 0 {
		sent.Together = &request.Together{ID: "slip", Title: "With others"}
	}
	require.NoError(l.t, l.give("p-ilse", sent))
	defer func() { require.Equal(l.t, sent.Together, l.state.Together, "what was sent together stays so") }()
	for step := 0; l.state.Status != request.Closed; step++ {
		require.Less(l.t, step, 2000, "it must come to an end: %v", l.state.Tasks)
		switch l.random.IntN(6) {
		case 0, 1:
			l.systems()
		case 2:
			l.seats()
		default:
			l.person(step)
		}
	}
	l.settled()
}

// give sends a command; a refusal changes nothing.
func (l *life) give(actor string, c request.Command) error {
	l.facts.Actor = actor
	l.facts.Pools = map[string]int{"seats": l.free}
	if _, next := c.(request.Advance); !next && slices.ContainsFunc(l.state.Tasks, func(t request.Task) bool { return t.Place == request.Queued }) {
		l.facts.Pools["seats"] = 0 // somebody waits already
	}
	events, effects, err := request.Handle(l.state, c, l.facts)
	if err != nil {
		_, isRefusal := request.AsRefusal(err)
		require.True(l.t, isRefusal, "%T: %v", c, err)
		return err
	}
	l.history = append(l.history, fmt.Sprintf("%s %+v", actor, c))
	follow := measure.Begin(&l.state)
	for _, e := range events {
		l.promises(e)
		l.state.Apply(e)
		follow.Next(&l.state, e)
		require.False(l.t, len(l.events) > 0 && e.At.Before(l.events[len(l.events)-1].At), "the history runs backwards")
		l.events = append(l.events, e)
		l.releases(e)
		l.keep(e)
	}
	for _, e := range effects {
		l.due[e.Key] = e
	}
	l.measured.take(follow.Facts(&l.state))
	if l.state.Status == request.Closed || len(l.events)%8 == 0 { // to make all of them anew takes long
		l.measured.asEvents(l.t, l.events)
	}
	l.holds()
	return nil
}

// promises looks at what an event may not do: a mark is reached once, no sending back makes a
// clock shorter, and nothing ends before what it waits for, nor without an outcome.
func (l *life) promises(e request.Event) {
	switch b := e.Body.(type) {
	case request.MarkReached: // once for a promise: another one has its own
		require.False(l.t, slices.ContainsFunc(l.state.Marks, func(r request.Reached) bool { return r.Clock == b.Clock && r.Share == b.Share }), "%s is told twice", b.Words())
		require.False(l.t, b.At.After(e.At), "it is told before it is so")
	case request.SentBack:
		before, _ := l.state.Fulfilment(l.facts.Offering)
		after := l.state
		after.Apply(e)
		now, _ := after.Fulfilment(l.facts.Offering)
		require.GreaterOrEqual(l.t, now.Read(e.At).Used, before.Read(e.At).Used, "sending back made the clock shorter")
	case request.RequestClosed:
		require.NotEmpty(l.t, b.Outcome)
		require.Empty(l.t, l.state.Awaits(), "it ends before what it waits for")
	}
}

// keep lets an event change what Ilse has and how many seats are free.
func (l *life) keep(e request.Event) {
	switch b := e.Body.(type) {
	case request.HoldingMade:
		require.NotContains(l.t, l.held, b.Holding.ID, "nobody gets the same thing twice")
		l.held[b.Holding.ID] = b.Holding
	case request.HoldingChanged:
		h := l.held[b.Now.ID]
		h.Belonging = b.Now
		l.held[b.Now.ID] = h
	case request.HoldingEnded:
		delete(l.held, b.ID)
	case request.HoldingRestored:
		l.held[b.ID] = own()[b.ID]
	case request.PlaceReserved:
		l.free--
		l.reserved[b.Task] = true
	case request.PlaceReturned:
		if l.reserved[b.Task] {
			l.free++
		}
		delete(l.reserved, b.Task)
	}
	require.GreaterOrEqual(l.t, l.free, 0, "more seats are given out than there are")
}

// releases looks that no task begins before its forerunners have ended.
func (l *life) releases(e request.Event) {
	ready, ok := e.Body.(request.TaskReady)
	if !ok {
		return
	}
	task, _ := l.state.Task(ready.Task)
	for _, key := range task.Waits() {
		forerunner, _ := l.state.Task(key)
		require.True(l.t, forerunner.State.Ended(), "%s began before %s had ended", task.Key, key)
	}
}

// holds looks at what is true after every step.
func (l *life) holds() {
	replayed := request.Replay(l.events)
	require.Equal(l.t, text(l.t, l.state), text(l.t, replayed), "the state equals its replay")
	var read request.State
	require.NoError(l.t, json.Unmarshal([]byte(text(l.t, l.state)), &read))
	if l.state.Status != request.Closed {
		require.NotEmpty(l.t, l.state.Holders("keys"), "somebody or something has it: %s", l.state.Status)
	}
	if l.state.Status == request.Delivering || l.state.Status == request.Waiting {
		l.eachHasAHolder()
	}
	l.state = read // as the store gives it back
	if l.random.IntN(4) == 0 {
		l.brief()
	}
	for key, n := range l.system.done {
		require.Equal(l.t, 1, n, "the work of %s is done once", key)
	}
}

// eachHasAHolder looks that every task has ended, waits for one that has not,
// or lies with somebody or something.
func (l *life) eachHasAHolder() {
	with := map[string]bool{}
	for _, h := range l.state.Holders("keys") {
		with[h.Task] = true
	}
	for i := range l.state.Tasks {
		task := &l.state.Tasks[i]
		if task.State == plan.Blocked {
			redoing := task.Back > 0 && slices.ContainsFunc(l.state.Tasks, func(t request.Task) bool { return t.Redone && t.State == plan.Done && !t.Left })
			require.True(l.t, redoing || slices.ContainsFunc(task.Waits(), func(key string) bool {
				forerunner, _ := l.state.Task(key)
				return !forerunner.State.Ended()
			}), "%s waits for nothing", task.Key)
		} else if !task.State.Ended() {
			require.True(l.t, with[task.Key], "nobody has %s, which is %s", task.Key, task.State)
		}
	}
}

func text(t require.TestingT, s request.State) string {
	data, err := json.Marshal(s)
	require.NoError(t, err)
	return string(data)
}

// seats lets other requests give a seat back or take one, and gives a free one
// to who waits for it.
func (l *life) seats() {
	switch {
	case l.others > 0 && l.random.IntN(2) == 0:
		l.others, l.free = l.others-1, l.free+1
	case l.free > 0 && l.random.IntN(3) == 0:
		l.others, l.free = l.others+1, l.free-1
	}
	for i := range l.state.Tasks {
		if l.state.Tasks[i].Place == request.Queued {
			_ = l.give(request.Program, request.Advance{Task: l.state.Tasks[i].Key})
			return
		}
	}
}

// systems lets what is due happen: timers go off, calls are made, and fail.
func (l *life) systems() {
	if len(l.due) == 0 {
		l.facts.Now = l.facts.Now.Add(time.Duration(l.random.IntN(600)) * time.Minute)
		return
	}
	keys := slices.Sorted(mapsKeys(l.due))
	e := l.due[keys[l.random.IntN(len(keys))]]
	delete(l.due, e.Key)
	if e.At.After(l.facts.Now) {
		l.facts.Now = e.At
	}
	switch e.Kind {
	case request.TickTimer:
		_ = l.give(request.Program, request.Tick{})
	case request.LapseTimer:
		_ = l.give(request.Program, request.Lapse{})
	default:
		l.call(e)
	}
}

func mapsKeys(m map[string]request.Effect) func(func(string) bool) {
	return func(yield func(string) bool) {
		for key := range m {
			if !yield(key) {
				return
			}
		}
	}
}

func (l *life) call(e request.Effect) {
	undo := e.Undoes != ""
	works := func() {
		switch {
		case undo && l.system.done[e.Undoes] > 0:
			l.system.undone[e.Undoes] = true
		case undo:
			l.system.void[e.Undoes] = true
		case !l.system.void[e.Key] && l.system.done[e.Key] == 0:
			l.system.done[e.Key]++
		}
	}
	fail := request.Fail{Task: e.Task, Undo: undo, Trouble: "Down.", Final: l.random.IntN(12) == 0, Jitter: l.random.Float64()}
	switch l.random.IntN(6) {
	case 0:
		_ = l.give(request.Program, fail)
	case 1: // it did the work, and said that it failed
		works()
		_ = l.give(request.Program, fail)
	case 2: // the answer comes twice
		works()
		_ = l.give(request.Program, request.Succeed{Task: e.Task, Undo: undo, Outputs: map[string]string{"number": "QB-1"}})
		_ = l.give(request.Program, request.Succeed{Task: e.Task, Undo: undo, Outputs: map[string]string{"number": "QB-2"}})
	case 3:
		if undo {
			works()
			_ = l.give(request.Program, request.Succeed{Task: e.Task, Undo: true})
			return
		}
		works()
		if l.random.IntN(2) == 0 { // the report is faster than the answer
			_ = l.give(request.Program, request.Report{Task: e.Task, Step: "1", Outputs: map[string]string{"number": "QB-3"}, Final: l.random.IntN(2) == 0})
		}
		_ = l.give(request.Program, request.Succeed{Task: e.Task, Later: true})
		l.due[e.Key+"/report"] = request.Effect{Kind: "report", Key: e.Key + "/report", Task: e.Task, At: l.facts.Now.Add(30 * time.Hour)}
	default:
		if e.Kind == "report" {
			_ = l.give(request.Program, request.Report{Task: e.Task, Step: "2", Outputs: map[string]string{"number": "QB-4"}, Final: true, Failed: l.random.IntN(8) == 0})
			_ = l.give(request.Program, request.Report{Task: e.Task, Step: "2", Final: true})
			return
		}
		works()
		_ = l.give(request.Program, request.Succeed{Task: e.Task, Undo: undo, Outputs: map[string]string{"number": "QB-5"}})
	}
	if e.Kind == "report" && l.due[e.Key].Key == "" { // it comes at last
		l.due[e.Key] = request.Effect{Kind: "report", Key: e.Key, Task: e.Task, At: l.facts.Now.Add(time.Hour)}
		if task, ok := l.state.Task(e.Task); !ok || task.State != plan.Ready || !task.Accepted {
			delete(l.due, e.Key)
		}
	}
}

// anyTask picks a task, most often one that waits for people: they look at what
// is theirs to do.
func (l *life) anyTask() string {
	var waiting []string
	for i := range l.state.Tasks {
		if task := &l.state.Tasks[i]; task.ForPeople() || task.State == plan.Ready && len(task.Confirmers) > 0 {
			waiting = append(waiting, task.Key)
		}
	}
	switch n := len(l.state.Tasks); {
	case n == 0:
		return "none"
	case len(waiting) > 0 && l.random.IntN(4) > 0:
		return waiting[l.random.IntN(len(waiting))]
	default:
		return l.state.Tasks[l.random.IntN(n)].Key
	}
}

// person lets somebody do something that may be allowed or not.
func (l *life) person(step int) {
	l.facts.Now = l.facts.Now.Add(time.Duration(l.random.IntN(100)-10) * time.Minute) // sometimes the clock is set back
	who := l.people[l.random.IntN(len(l.people))]
	task := l.anyTask()
	switch l.random.IntN(26) {
	case 0:
		_ = l.give("p-tomas", approve())
	case 23:
		_ = l.give("p-ilse", request.Rate{Stars: 1 + l.random.IntN(5)})
		for _, rating := range l.state.Ratings {
			require.Equal(l.t, !rating.Pooled, l.state.ViewerOf("p-olga", l.facts.Company, l.facts.Service).SeesRating(rating), "who rated is told")
		}
	case 24:
		_ = l.give("p-olga", request.Tie{Kind: request.Linking("").All()[l.random.IntN(3)], Other: "r2"})
		_ = l.give("p-olga", request.OpenToAll{Sentence: "The reader is dark."})
		_ = l.give("p-caro", request.Join{Line: "Mine, too."})
		_ = l.give("p-ilse", request.Urge{Choice: "maravel", Reason: "Now."})
	case 25:
		if l.random.IntN(4) == 0 {
			l.other.Status, l.other.Outcome = request.Closed, []request.Outcome{request.Fulfilled, request.Cancelled}[l.random.IntN(2)]
		}
		_ = l.give(request.Program, request.Heed{})
		if step > 20 && l.random.IntN(8) == 0 {
			_ = l.give("p-olga", request.Untie{Kind: request.WaitsFor, Other: "r2"})
			_ = l.give("p-olga", request.Close{Word: "Done by phone."})
		}
	case 22: // Kira leaves, or comes back
		l.facts.Company = companies[l.random.IntN(2)]
		_ = l.give(request.Program, request.Relieve{})
		for i := range l.state.Tasks {
			_ = l.give(request.Program, request.Free{Task: l.state.Tasks[i].Key})
		}
	case 1, 2, 3:
		_ = l.give(who, request.Take{Task: task})
	case 4, 5, 6:
		_ = l.give(who, request.Check{Task: task, Done: true})
		_ = l.give(who, request.Complete{Task: task, Outputs: map[string]string{"number": "QB-6"}, Word: "By hand."})
	case 7:
		_ = l.give(who, request.HandOver{Task: task, Team: []string{"keys", "crew"}[l.random.IntN(2)], Reason: "Yours."})
	case 8:
		_ = l.give(who, request.GetStuck{Task: task, Reason: "No key."})
	case 9, 10:
		_ = l.give(who, request.Retry{Task: task})
	case 11:
		_ = l.give(who, request.AskAsker{Task: task, Text: "Which?"})
	case 12, 13:
		_ = l.give("p-ilse", request.Answer{Task: task, Text: "This."})
	case 14:
		_ = l.give(who, request.Skip{Task: task, Reason: "Not needed."})
	case 15:
		if t, ok := l.state.Task(task); ok && len(t.Waits()) > 0 {
			_ = l.give(who, request.Waive{Task: task, After: t.Waits()[0], Reason: "It can."})
		}
	case 16:
		if len(l.state.Tasks) < 12 {
			_ = l.give(who, request.AddTask{Name: "More", Team: "crew", Before: task, Reason: "Needed."})
		}
	case 17, 18:
		_ = l.give(who, request.ConfirmPart{Task: task})
	case 19:
		if l.random.IntN(2) == 0 && len(l.state.Backs) < 3 {
			_ = l.give("p-ilse", request.SendBack{Text: "Not right."})
		}
		_ = l.give("p-ilse", request.Confirm{})
	case 20:
		if step > 20 && l.random.IntN(8) == 0 {
			_ = l.give("p-ilse", request.Withdraw{})
		}
	case 21:
		if step > 20 && l.random.IntN(12) == 0 {
			_ = l.give("p-olga", request.Cancel{Reason: "Closed."})
		}
	}
}

// settled looks at a request that has closed: undone means undone, what Ilse has
// is what the systems have, and who has no seat any more has given it back.
func (l *life) settled() {
	seats, changed := 0, false
	for i := range l.state.Tasks {
		task := &l.state.Tasks[i]
		require.True(l.t, task.State.Ended(), "%s of a closed request is %s", task.Key, task.State)
		require.Nil(l.t, task.Undo)
		key := request.CallKey("r1", task.Key, false)
		_, made := l.held[request.HoldingID("r1", task.Key)]
		of, _ := l.facts.Offering.Plan.Task(task.Of)
		if task.Place == request.Reserved {
			seats++
		}
		if task.State == plan.Done && of.Belonging != nil {
			changed = true
		}
		if of.Kind == plan.Automatic && !byHand(l.events, task.Key) && (of.Undo != nil || task.State != plan.Stopped) {
			require.Equal(l.t, task.State == plan.Done, l.system.live(key), "%s is %s", task.Key, task.State)
		}
		if of.Belonging != nil && of.Belonging.Does == plan.Make {
			require.Equal(l.t, task.State == plan.Done, made, "%s is %s", task.Key, task.State)
		}
	}
	require.Equal(l.t, l.size, l.free+l.others+seats, "seats are lost or doubled")
	if !changed {
		require.Equal(l.t, own(), l.held, "all that was done was taken back")
	}
}

// byHand reports whether people ended a task or its undo in place of the system,
// or left one of them out.
func byHand(events []request.Event, key string) bool {
	return slices.ContainsFunc(events, func(e request.Event) bool {
		if left, is := e.Body.(request.TaskSkipped); is && left.Task == key && left.Reason != "" {
			return true // with the one it is the same as
		}
		if e.Actor == request.Program {
			return false
		}
		switch b := e.Body.(type) {
		case request.TaskDone:
			return b.Task == key
		case request.TaskUndone:
			return b.Task == key
		case request.UndoLeft:
			return b.Task == key
		}
		return false
	})
}
