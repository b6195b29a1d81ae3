package work_test

import (
	"database/sql"
	"encoding/json"
	"fmt"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/purchasing"
	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/work"
)

// publish puts an offering with one plan on Ask, of the service of parking.
func publish(t testing.TB, o *demotest.Office, key string, tasks ...plan.Task) {
	t.Helper()
	owner := demo.ID("falkenau")
	opened, err := o.Designing.Create(ctx, owner, work.Beginning{Service: "parking", Name: key})
	require.NoError(t, err)
	d := opened.Document
	d.Purpose.Text, d.Plan = "Made for a test.", tasks
	d.Audience.Ask = "true"
	for _, task := range tasks {
		for _, action := range []*plan.Action{task.Action, undoOf(task)} {
			if action != nil {
				grant(t, o, *action)
			}
		}
	}
	opened, err = o.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	var accepted []string
	for _, f := range opened.Findings {
		accepted = append(accepted, f.Name())
	}
	_, err = o.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: opened.Revision, Accepted: accepted})
	require.NoError(t, err, "%v", opened.Findings)
}

func undoOf(task plan.Task) *plan.Action {
	if task.Undo == nil {
		return nil
	}
	return task.Undo.Action
}

// grant lets the service of parking use an action, whoever it is about.
func grant(t testing.TB, o *demotest.Office, a plan.Action) {
	t.Helper()
	g := plan.Grant{Connector: a.Connector, Action: a.Do, Inputs: map[string]plan.InputUse{}}
	for key := range a.Inputs {
		g.Inputs[key] = plan.InputUse{May: plan.Free}
	}
	require.NoError(t, o.Connecting.SetGrant(ctx, "", "parking", g))
}

func taskOf(t testing.TB, o *demotest.Office, id, key string) request.Task {
	t.Helper()
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	task, ok := state.Task(key)
	require.True(t, ok, key)
	return *task
}

// signOn sends the signing on of a crew member that is approved and checked, so
// that the uniforms are to be ordered.
func signOn(t testing.TB, o *demotest.Office, uniforms int) string {
	t.Helper()
	pick := func(item string, n int, options map[string]any) []any {
		return []any{map[string]any{"item": item, "quantity": float64(n), "options": options}}
	}
	id := o.Send("quist", "sign-on-a-crew-member", coretest.Answers(map[string]any{
		"contract": "season", "ends": "2027-09-30", "vessel": "heron", "rank": "second", "start": "2027-04-01", "aid": []any{},
		"cabin": pick("cabin-single", 1, nil), "uniform": pick("uniform-bridge", uniforms, map[string]any{"size": "m"}),
		"certificates": []any{map[string]any{"kind": "basic", "number": "BS-1", "until": "2029-01-31"}},
	}), offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Noor Halvorsen", Department: "Fleet"}}).ID
	o.Must("okonjo", id, request.Decide{Rung: "crewing", Decision: request.Approve}, request.Take{Task: "check"}, request.Complete{Task: "check"})
	return id
}

// A report of purchasing counts once, whenever it comes: before its own order
// was recorded, in parts, twice, after the end, for something unknown, or days
// late; a forged one changes nothing.
func TestReportsOfPurchasing(t *testing.T) {
	o := demotest.New(t)
	system, err := work.Reach(o.Store, o.Sealed, "purchasing")(ctx)
	require.NoError(t, err)
	report := func(d purchasing.Delivery) string {
		t.Helper()
		body, err := json.Marshal(d)
		require.NoError(t, err)
		signature, stamp := connect.Sign(system.Secret, o.Clock.Now(), body)
		verdict, err := o.Connecting.Reported(ctx, "purchasing", body, signature, stamp)
		require.NoError(t, err)
		return verdict
	}
	id := signOn(t, o, 3)
	key := id + "/uniform"
	leased, _, err := o.Store.LeaseDue(ctx, "purchasing", o.Clock.Now(), 8)
	require.NoError(t, err)
	require.Len(t, leased, 1, "the order is out, and its number is not recorded yet")
	assert.Contains(t, report(purchasing.Delivery{Key: key, Step: "1", State: "partial", Delivered: 2, Supplier: "S-9"}), "taken")
	task := taskOf(t, o, id, "uniform")
	assert.Equal(t, 2, task.Lines[0].Done)
	assert.Equal(t, "seen before", report(purchasing.Delivery{Key: key, Step: "1", State: "delivered", Delivered: 3}))
	assert.Equal(t, plan.Ready, taskOf(t, o, id, "uniform").State, "a repeated step changes nothing, whatever it says")

	require.NoError(t, o.Store.ReleaseRunning(ctx))
	before := len(o.Purchasing.Orders())
	runAll(t, o, time.Hour)
	assert.Len(t, o.Purchasing.Orders(), before+1, "ordered once")
	assert.Equal(t, 3, o.Purchasing.Orders()[before].Quantity)

	body := []byte(fmt.Sprintf(`{"key":%q,"step":"2","state":"delivered","delivered":3}`, key))
	signature, stamp := connect.Sign("not the secret", o.Clock.Now(), body)
	_, err = o.Connecting.Reported(ctx, "purchasing", body, signature, stamp)
	assert.ErrorIs(t, err, work.ErrForged)
	signature, stamp = connect.Sign(system.Secret, o.Clock.Now(), body)
	o.Clock.Pass(24 * time.Hour)
	_, err = o.Connecting.Reported(ctx, "purchasing", body, signature, stamp)
	assert.ErrorIs(t, err, work.ErrForged, "a signature of yesterday may have been overheard")
	assert.Equal(t, plan.Ready, taskOf(t, o, id, "uniform").State)

	assert.Contains(t, report(purchasing.Delivery{Key: key, Step: "2", State: "delivered", Delivered: 3, Cost: "780"}), "taken", "a day later, signed anew")
	task = taskOf(t, o, id, "uniform")
	assert.Equal(t, plan.Done, task.State)
	assert.Equal(t, "S-9", task.Outputs["supplier"])
	assert.NotEmpty(t, task.Outputs["order"])
	assert.Contains(t, report(purchasing.Delivery{Key: key, Step: "3", State: "refused"}), "late")
	assert.Equal(t, plan.Done, taskOf(t, o, id, "uniform").State)
	assert.Equal(t, work.Unknown, report(purchasing.Delivery{Key: "nothing/uniform", Step: "1", State: "delivered"}))

	background, err := o.Connecting.Background(ctx, demo.ID("lindskaug"))
	require.NoError(t, err)
	assert.Len(t, background.Reports, 5, "all that were signed are in the log")
	require.Len(t, background.Forgeries, 1)
	assert.Equal(t, 2, background.Forgeries[0].Count, "the others are counted")
	_, err = o.Connecting.Background(ctx, demo.ID("quist"))
	assert.ErrorIs(t, err, work.ErrNotFound)
}

// Of a pool as many get a place as there are, in the order of sending; the next
// waits, is told so, and moves up when a place is given back.
func TestAPoolAndItsWaitingList(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "seats", plan.Task{
		Key: "seat", Name: "Give a seat", Kind: plan.Manual, Team: "keys-badges", Pool: &plan.PoolUse{Pool: "simulator-seats"}, Undo: &plan.Undo{Text: "Take it back."},
	})
	var ids []string
	for _, login := range []string{"sarmento", "quist", "castelo", "okonjo", "petrovan", "coutinho", "abelsen", "vidigal"} {
		ids = append(ids, o.Send(login, "seats", form.Answers{}, offering.Beneficiary{}).ID)
	}
	places := func() (out []request.Place) {
		for _, id := range ids {
			out = append(out, taskOf(t, o, id, "seat").Place)
		}
		return out
	}
	const has, waits = request.Reserved, request.Queued
	assert.Equal(t, []request.Place{has, has, has, has, has, has, waits, waits}, places())
	_, err := o.Do(ctx, demo.ID("marrec"), ids[6], request.Take{Task: "seat"})
	refused(t, err, refusal.Queued)

	o.Must("marrec", ids[1], request.Take{Task: "seat"}, request.Complete{Task: "seat"})
	o.Must("marrec", ids[0], request.Take{Task: "seat"}, request.Complete{Task: "seat"})
	_, err = o.Do(ctx, demo.ID("castelo"), ids[2], request.Withdraw{}) // nothing was done for it yet
	require.NoError(t, err)
	runAll(t, o, time.Minute)
	assert.Equal(t, has, taskOf(t, o, ids[6], "seat").Place, "who waited longest moves up")
	assert.Equal(t, waits, taskOf(t, o, ids[7], "seat").Place)
	o.Must("marrec", ids[6], request.Take{Task: "seat"})
	o.Must("sarmento", ids[0], request.Confirm{}) // nothing that lasts was made of the place
	runAll(t, o, time.Minute)
	assert.Equal(t, has, taskOf(t, o, ids[7], "seat").Place)
}

// reorganise changes the company as its directory would.
func reorganise(t *testing.T, o *demotest.Office, statement string) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+filepath.Join(o.Dir, "heptad.db")+"?_pragma=busy_timeout(5000)")
	require.NoError(t, err)
	_, err = db.Exec(statement)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, o.ReadCompany(ctx))
}

// Work for a team that nobody is in goes to the home team of the service, with
// the reason in the history.
func TestATeamWithoutMembers(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "lamps", plan.Task{Key: "buy", Name: "Buy a lamp", Kind: plan.Manual, Team: "purchasing"})
	reorganise(t, o, "DELETE FROM team_members WHERE team = 'purchasing'")
	id := o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{}).ID
	assert.Equal(t, "premises-crew", taskOf(t, o, id, "buy").Team)
	events, err := o.Store.Events(ctx, id)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(request.History(events, o.Company(), request.Viewer{Owner: true})), "Purchasing has no members.")
	o.Must("coutinho", id, request.Take{Task: "buy"}, request.Complete{Task: "buy"})
}

// What somebody had taken who left the company is nobody's again, and another
// of the team takes it.
func TestALeaversTask(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("castelo", "open").ID
	o.Must("marrec", id, request.Take{Task: "check"})
	reorganise(t, o, "UPDATE people SET away = 1 WHERE login = 'marrec'")
	runAll(t, o, time.Minute)
	task := taskOf(t, o, id, "check")
	assert.Equal(t, plan.Ready, task.State)
	assert.Empty(t, task.Holder)
	o.Must("ekvall", id, request.Take{Task: "check"}, request.Complete{Task: "check"})
}

// A clock that is set back makes nothing happen twice, and history stays in
// order.
func TestTheClockIsSetBack(t *testing.T) {
	o := demotest.New(t)
	id := o.Ask("castelo", "open").ID
	done(o, id)
	runAll(t, o, time.Hour)
	badges := len(o.Badges.List())
	o.Clock.Pass(-48 * time.Hour)
	state := o.Must("castelo", id, request.Confirm{})
	assert.Equal(t, request.Closed, state.Status)
	runAll(t, o, time.Hour)
	assert.Len(t, o.Badges.List(), badges)
	events, err := o.Store.Events(ctx, id)
	require.NoError(t, err)
	for i := 1; i < len(events); i++ {
		assert.False(t, events[i].At.Before(events[i-1].At), "event %d", i)
		assert.Equal(t, events[i-1].Seq+1, events[i].Seq)
	}
}

// A plan of 200 tasks, most of them in a row, is made, forecast and worked off.
func TestTwoHundredTasks(t *testing.T) {
	o := demotest.New(t)
	tasks := make([]plan.Task, 200)
	for i := range tasks {
		tasks[i] = plan.Task{Key: fmt.Sprintf("t%d", i), Name: fmt.Sprintf("Step %d", i), Kind: plan.Manual, Team: "keys-badges", Effort: "1h"}
		if i > 0 {
			tasks[i].After = []string{fmt.Sprintf("t%d", (i-1)/2*2)}
		}
	}
	publish(t, o, "long", tasks...)
	state := o.Send("castelo", "long", form.Answers{}, offering.Beneficiary{})
	f, err := o.Forecast(ctx, state)
	require.NoError(t, err)
	assert.Equal(t, 101, int(o.Company().TeamHours("keys-badges", nil).Between(o.Clock.Now(), f.Finish).Hours()), "an hour for each of those in a row")
	for i := range tasks {
		key := tasks[i].Key
		o.Must("marrec", state.ID, request.Take{Task: key}, request.Complete{Task: key})
	}
	state, err = o.Store.Request(ctx, state.ID)
	require.NoError(t, err)
	assert.Equal(t, request.Delivered, state.Status)
}
