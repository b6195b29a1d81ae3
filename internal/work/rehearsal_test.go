package work_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/systems"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

var (
	rehearsed     = flag.Int("rehearsed", 500, "how many random lives are rehearsed and lived")
	rehearsedSeed = flag.Uint64("rehearsedseed", 0, "seed of them; 0 takes one from the time")
)

// actor is another system that does as it did in a rehearsal.
type actor struct {
	plan.Connector
	calls *[]rehearse.Call // that are still to come
	t     *testing.T
}

func (a actor) Describe() plan.Connector { return a.Connector }

func (a actor) Do(_ context.Context, c connect.Call) (connect.Reply, error) {
	for len(*a.calls) > 0 {
		next := (*a.calls)[0]
		*a.calls = (*a.calls)[1:]
		failed, fails := next.Reply.(request.Fail)
		if fails && failed.Final {
			continue // what Heptad says by itself, before it calls
		}
		if next.Of.Connector != a.Key || next.Of.Do != c.Do {
			return connect.Reply{}, connect.Trouble{Sentence: fmt.Sprintf("%s was to be called for %s, not %s for %s", next.Of.Connector, next.Of.Do, a.Key, c.Do), Final: true}
		}
		if fails {
			return connect.Reply{}, connect.Trouble{Sentence: failed.Trouble}
		}
		done := next.Reply.(request.Succeed)
		return connect.Reply{Outputs: done.Outputs, Later: done.Later}, nil
	}
	return connect.Reply{}, connect.Trouble{Sentence: "no call was to come", Final: true}
}

// stage is the demo's company without anything going on, and an office in it whose other
// systems do as they did in a rehearsal.
type stage struct {
	*work.Office
	t     *testing.T
	clock *demotest.Clock
	db    *sqlx.DB
	calls []rehearse.Call
}

func newStage(t *testing.T) *stage {
	o := demotest.New(t)
	db, err := sqlx.Open("sqlite", "file:"+filepath.Join(o.Dir, "heptad.db")+"?_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, db.Close()) })
	s := &stage{t: t, clock: o.Clock, db: db}
	s.clear()
	settings := work.Settings{Store: o.Store, Clock: o.Clock.Now, Sealed: []byte("a secret of the tests, 32 bytes."), Log: slog.New(slog.DiscardHandler), Jitter: func() float64 { return 0 }}
	for _, c := range systems.Described() {
		settings.Connectors = append(settings.Connectors, actor{c, &s.calls, t})
	}
	s.Office, err = work.New(ctx, settings)
	require.NoError(t, err)
	return s
}

// clear takes away what others do: requests with all that is worked out from their events.
func (s *stage) clear() {
	for _, table := range []string{"effects", "hands", "forecasts", "measures", "messages", "pool_places", "seats", "tasks", "task_people", "followers", "facts_made", "requests", "closed_counts", "asked_weeks", "found"} {
		_, err := s.db.Exec("DELETE FROM " + table)
		require.NoError(s.t, err, table)
	}
}

// ground is what a rehearsal in the company as it is stands on.
func (s *stage) ground(key, whom string) rehearse.Ground {
	c, err := s.Version(ctx, key, s.number(key))
	require.NoError(s.t, err)
	free, err := s.FreePlaces(ctx)
	require.NoError(s.t, err)
	has, err := s.BelongingsOf(ctx, whom)
	require.NoError(s.t, err)
	return rehearse.Ground{
		Company: s.Company(), Connectors: s.Connectors(), Prefix: s.Organisation().Prefix, Grants: s.GrantsOf, Measures: s.MeasuresOf(ctx, key), Pools: free,
		Compile:    func(*people.Directory) (*offering.Compiled, finding.List) { return c, nil },
		Belongings: func(c *offering.Compiled) []people.Belonging { return has },
	}
}

func (s *stage) number(key string) int {
	n, err := s.Store.CurrentNumber(ctx, key)
	require.NoError(s.t, err)
	return n
}

// TestRehearsalsAreAsLife rehearses random lives, and lives them: through the office and its
// runner, with what people did in the rehearsal at the same instants, and systems that do
// the same. The events are the same bytes, but for identifiers.
func TestRehearsalsAreAsLife(t *testing.T) {
	seed := *rehearsedSeed
	if seed == 0 {
		seed = uint64(time.Now().UnixNano())
	}
	t.Logf("seed %d; -rehearsedseed repeats it", seed)
	if testing.Short() {
		*rehearsed = 60
	}
	random := rand.New(rand.NewPCG(seed, 1))
	s := newStage(t)
	habits, err := demo.Habits()
	require.NoError(t, err)
	ends, lived := map[string]int{}, 0
	for tries := 0; lived < *rehearsed; tries++ {
		require.Less(t, tries, 20**rehearsed, "too few can be sent")
		h := habits[random.IntN(len(habits))]
		key, whom := s.cast(random, h)
		if key == "" {
			continue
		}
		g := s.ground(h.Offering, whom)
		first, err := rehearse.Run(g, s.script(random, h, key, whom))
		require.NoError(t, err)
		if first.End == rehearse.Unsent {
			continue
		}
		changed := first.Script
		changed.Script = twists(random, s.Company(), first)
		life, err := rehearse.Run(g, changed)
		require.NoError(t, err)
		s.live(life, lived, seed)
		ends[string(life.End)+" "+string(life.State.Outcome)]++
		lived++
		s.clear()
	}
	t.Logf("ended: %v", ends)
	for _, end := range []string{"closed fulfilled", "closed declined", "closed withdrawn", "closed cancelled"} {
		require.Positive(t, ends[end], end)
	}
}

// cast chooses who asks, and for whom, of those who may.
func (s *stage) cast(random *rand.Rand, h demo.Habit) (asker, whom string) {
	all := s.Company().Persons()
	c, err := s.Version(ctx, h.Offering, s.number(h.Offering))
	require.NoError(s.t, err)
	for range 40 {
		p := all[random.IntN(len(all))]
		of := offering.Beneficiary{Person: p.ID}
		if len(h.Newcomers) > 0 {
			of = offering.Beneficiary{Newcomer: &people.Newcomer{Name: h.Newcomers[0], Department: "Fleet"}}
		}
		if may, _ := c.MayAsk(offering.Parties{Asker: p, Beneficiary: of, Company: s.Company()}); may && !p.Former {
			return p.Login, of.Person
		}
	}
	return "", ""
}

// script is a random one without lines.
func (s *stage) script(random *rand.Rand, h demo.Habit, asker, whom string) script.Script {
	s.clock.Pass(time.Duration(random.IntN(50_000)) * time.Second)
	out := script.Script{Format: script.Format, Asker: script.Who{Login: asker}, Send: s.clock.Now(), Answers: h.Dated(random.IntN(len(h.Answers)), s.clock.Now())}
	if len(h.Newcomers) > 0 {
		out.For = &script.Who{Made: &script.Person{Name: h.Newcomers[0], Department: "Fleet"}}
	}
	out.Cast.Asker = []script.Asking{script.Confirms, script.Confirms, script.Answers, script.Silent}[random.IntN(4)]
	out.Cast.Approvers.After.Length = script.Lasting(time.Duration(random.IntN(40)) * time.Hour / 4)
	out.Cast.Tasks.Factor = 0.25 + 3*random.Float64()
	if random.IntN(2) == 0 {
		out.Cast.Systems = map[string]script.System{}
		for _, key := range []string{"badges", "directory", "licences", "purchasing", "web"} {
			out.Cast.Systems[key] = script.System{Refuse: random.IntN(4)}
		}
	}
	return out
}

// twists are lines that make a life go otherwise, made of how it went.
func twists(random *rand.Rand, company *people.Directory, life *rehearse.Life) []script.Line {
	var lines []script.Line
	login := func(id string) string { p, _ := company.Person(id); return p.Login }
	home, _ := company.Team(life.Service.Home)
	for range random.IntN(4) {
		step := life.Steps[2+random.IntN(max(1, len(life.Steps)-2))%max(1, len(life.Steps)-2)]
		at := step.At.Add(-time.Duration(random.IntN(90)) * time.Minute)
		if at.Before(life.Script.Send) {
			at = life.Script.Send
		}
		line := script.Line{At: at, Who: login(life.State.Asker)}
		switch random.IntN(12) {
		case 0:
			line.Do, line.Reason = script.Withdraw, "I do not need it any more."
		case 1:
			line.Who, line.Do, line.Reason = login(life.Service.Owner), script.Cancel, "It is offered no more."
		case 2:
			line.Do, line.Text, line.At = script.SendBack, "It is not what I asked for.", life.Until.Add(time.Hour)
		case 3:
			line.Do, line.Text = script.Comment, "Thank you all."
		case 4:
			line.Who, line.Do, line.Text = home.Lead, script.Close, "Done by hand."
			line.Who = login(home.Lead)
		default:
			switch c := step.Did.(type) {
			case request.Decide:
				line.Who, line.Rung = login(step.Actor), c.Rung
				line.Do, line.Reason = script.Decline, "Too dear."
				if random.IntN(2) == 0 {
					line.Do, line.Reason, line.Text = script.AskBack, "", "For whom is it?"
				}
			case request.Take:
				line.Who, line.Task = login(step.Actor), c.Task
				line.Do, line.Reason = script.Stuck, "The key is missing."
				if random.IntN(2) == 0 {
					line.Do, line.Reason, line.Text = script.Ask, "", "Does the morning suit you?"
				}
			case request.Complete:
				line.Who, line.Task = login(home.Lead), c.Task
				line.Do, line.Reason = script.Skip, "It is there already."
				if random.IntN(2) == 0 {
					line.Who, line.Do, line.Team, line.At = login(step.Actor), script.HandOver, home.Key, step.At.Add(-time.Second)
				}
			default:
				continue
			}
		}
		if line.At.Before(life.Script.Send) {
			line.At = life.Script.Send
		}
		lines = append(lines, line)
	}
	slices.SortStableFunc(lines, func(a, b script.Line) int { return a.At.Compare(b.At) })
	return lines
}

// live lets a rehearsed life happen.
func (s *stage) live(life *rehearse.Life, number int, seed uint64) {
	t := s.t
	s.calls = slices.Clone(life.Calls)
	f, err := s.Asking.SaveDraft(ctx, life.State.Asker, life.State.Offering, life.Script.Answers, life.State.For)
	require.NoError(t, err)
	id := f.Draft
	_, err = s.Asking.Submit(ctx, life.State.Asker, id, request.Submit{Answers: life.Script.Answers, For: life.State.For})
	require.NoError(t, err)
	s.settle()
	for _, step := range life.Steps[2:] {
		_, reports := step.Did.(request.Report)
		if step.Actor == request.Program && !reports {
			continue
		}
		s.until(step.At)
		if reports {
			_, err = s.ByItself(ctx, id, step.Did)
		} else {
			_, err = s.Do(ctx, step.Actor, id, step.Did)
		}
		require.NoError(t, err, "life %d of seed %d: %T %+v of %s", number, seed, step.Did, step.Did, step.Actor)
		s.settle()
	}
	s.until(life.Until)
	want, got := bytesOf(t, life.Events, "", ""), s.happened(id, life)
	for i := range min(len(want), len(got)) {
		require.Equal(t, want[i], got[i], "life %d of seed %d: %s event %d of %s", number, seed, life.State.Offering, i, strings.Join(want, "\n"))
	}
	require.Len(t, got, len(want), "life %d of seed %d: %s", number, seed, life.State.Offering)
	now := s.clock.Now()
	s.clock.Pass(max(0, life.Until.Sub(now)))
}

// settle lets the runner do what is due now.
func (s *stage) settle() {
	for range 1000 {
		did, err := s.Running.RunOne(ctx)
		require.NoError(s.t, err)
		if !did {
			return
		}
	}
	require.Fail(s.t, "there is no end of it")
}

// until lets the runner do what falls due before an instant, and sets the clock to it.
func (s *stage) until(at time.Time) {
	for range 100_000 {
		next, is := s.Running.NextBy(ctx)
		if !is || next.After(at) {
			break
		}
		if now := s.clock.Now(); next.After(now) {
			s.clock.Pass(next.Sub(now))
		}
		s.settle()
		if again, is := s.Running.NextBy(ctx); is && !again.After(s.clock.Now()) {
			break // it has done what it could
		}
	}
	if now := s.clock.Now(); at.After(now) {
		s.clock.Pass(at.Sub(now))
	}
	s.settle()
}

// happened are the events of a request that was lived, with the identifiers of the rehearsal.
func (s *stage) happened(id string, life *rehearse.Life) []string {
	events, err := s.Store.Events(ctx, id)
	require.NoError(s.t, err)
	state := request.Replay(events)
	return bytesOf(s.t, events, id+"\x00"+life.State.ID, state.Reference+"\x00"+life.State.Reference)
}

// bytesOf are events as text, with identifiers put for others.
func bytesOf(t *testing.T, events []request.Event, swaps ...string) []string {
	var out []string
	for _, e := range events {
		body, err := json.Marshal(e.Body)
		require.NoError(t, err)
		text := fmt.Sprintf("%d %s %s %s %s", e.Seq, e.At.UTC().Format(time.RFC3339Nano), e.Actor, e.Kind(), body)
		for _, swap := range swaps {
			if from, to, is := strings.Cut(swap, "\x00"); is {
				text = strings.ReplaceAll(text, from, to)
			}
		}
		out = append(out, text)
	}
	return out
}
