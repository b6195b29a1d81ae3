package work_test

import (
	"bytes"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/intake"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// errands are three tasks of Keys & Badges on three requests of an offering
// "errands": one long promised, one free, one taken by Ysolde Marrec and stuck.
func errands(t *testing.T) (o *demotest.Office, ids [3]string) {
	o = demotest.New(t)
	publish(t, o, "errands", plan.Task{Key: "run", Name: "Run the errand", Kind: plan.Manual, Team: "keys-badges", Effort: "2h"}, plan.Task{Key: "tell", Name: "Tell of it", Kind: plan.Manual, Team: "premises-crew", After: []string{"run"}})
	for i, login := range []string{"sarmento", "castelo", "quist"} {
		ids[i] = o.Send(login, "errands", form.Answers{}, offering.Beneficiary{}).ID
		o.Clock.Pass(time.Hour)
	}
	o.Must("marrec", ids[1], request.Take{Task: "run"})
	o.Must("marrec", ids[2], request.GetStuck{Task: "run", Reason: "The key is lost."})
	_, err := o.Running.RunDue(ctx) // works out when each must begin
	require.NoError(t, err)
	return o, ids
}

// The list of a team by whose tasks they are, by state and words, in each order,
// page by page.
func TestTheListOfATeam(t *testing.T) {
	o, ids := errands(t)
	list := func(login string, q store.Tasks) (found []string) {
		t.Helper()
		q.Limit, q.Offering = 10, "errands"
		entries, err := o.Delivering.Tasks(ctx, demo.ID(login), q)
		require.NoError(t, err)
		for _, e := range entries {
			found = append(found, e.State.ID)
		}
		return found
	}
	all := []string{ids[2], ids[0], ids[1]} // what is stuck before all
	for name, c := range map[string]struct {
		login string
		q     store.Tasks
		want  []string
	}{
		"all":                     {"marrec", store.Tasks{}, all},
		"by waiting":              {"marrec", store.Tasks{Sort: "ready"}, ids[:]},
		"mine":                    {"marrec", store.Tasks{Who: "mine"}, []string{ids[1]}},
		"nobody's":                {"marrec", store.Tasks{Who: "free"}, []string{ids[2], ids[0]}},
		"of others, for them":     {"ekvall", store.Tasks{Who: "others"}, []string{ids[1]}},
		"of others, for her":      {"marrec", store.Tasks{Who: "others"}, nil},
		"stuck":                   {"marrec", store.Tasks{State: "stuck"}, []string{ids[2]}},
		"taken":                   {"marrec", store.Tasks{State: "taken"}, []string{ids[1]}},
		"asking":                  {"marrec", store.Tasks{State: "asking"}, nil},
		"of the service":          {"marrec", store.Tasks{Service: "parking"}, all},
		"of another service":      {"marrec", store.Tasks{Service: "access"}, nil},
		"words of the asker":      {"marrec", store.Tasks{Words: "inês"}, []string{ids[1]}},
		"words with a percent":    {"marrec", store.Tasks{Words: "%"}, nil},
		"of one of her teams":     {"marrec", store.Tasks{Teams: []string{"keys-badges"}}, all},
		"of a team of others":     {"marrec", store.Tasks{Teams: []string{"crewing"}}, nil},
		"who is in another team":  {"okonjo", store.Tasks{}, nil},
		"none must have begun":    {"marrec", store.Tasks{Late: true}, nil},
		"who asked sees no tasks": {"sarmento", store.Tasks{}, nil},
	} {
		t.Run(name, func(t *testing.T) { assert.Equal(t, c.want, list(c.login, c.q)) })
	}
	assert.ElementsMatch(t, all, list("marrec", store.Tasks{Sort: "due"}), "none is due before another")
	o.Must("sarmento", ids[0], request.Comment{Text: "Any news?"})
	_, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Equal(t, all, list("marrec", store.Tasks{}), "a word does not push it back")
	o.Clock.Pass(21 * 24 * time.Hour)
	assert.Len(t, list("marrec", store.Tasks{Late: true}), 0, "nothing is promised, so nothing is late")

	var paged []string
	for cursor, q := "", (store.Tasks{Page: store.Page{Limit: 1}, Offering: "errands"}); ; {
		q.Cursor = cursor
		entries, err := o.Delivering.Tasks(ctx, demo.ID("marrec"), q)
		require.NoError(t, err)
		if len(entries) == 0 {
			break
		}
		paged, cursor = append(paged, entries[0].State.ID), entries[0].Next
	}
	assert.Equal(t, all, paged)

	loads, err := o.Delivering.Loads(ctx, demo.ID("ekvall"), "keys-badges")
	require.NoError(t, err)
	assert.Empty(t, loads[0].Person, "first what nobody has")
	assert.Equal(t, 1, loads[0].Stuck)
	_, err = o.Delivering.Loads(ctx, demo.ID("okonjo"), "keys-badges")
	assert.ErrorIs(t, err, work.ErrNotFound, "what others have to do is theirs")
}

// A view or a prepared reply is one's own, or by its lead the team's; nobody else
// changes or sees it.
func TestViewsAndReplies(t *testing.T) {
	o, ids := errands(t)
	marrec, ekvall, okonjo := demo.ID("marrec"), demo.ID("ekvall"), demo.ID("okonjo")
	names := func(person string) (all []string) {
		views, err := o.Delivering.Views(ctx, person)
		require.NoError(t, err)
		for _, v := range views {
			all = append(all, v.Name)
		}
		return all
	}
	own, err := o.Delivering.SaveView(ctx, store.View{Person: marrec, Name: " Mine ", Query: `{"who":"mine"}`})
	require.NoError(t, err)
	team, err := o.Delivering.SaveView(ctx, store.View{Person: ekvall, Team: "keys-badges", Name: "Late", Query: `{"late":true}`})
	require.NoError(t, err)
	assert.Equal(t, []string{"Late", "Mine"}, names(marrec))
	assert.Equal(t, []string{"Late"}, names(ekvall))
	assert.Empty(t, names(okonjo))
	for name, v := range map[string]struct {
		view store.View
		code string
	}{
		"for a team one does not lead":  {store.View{Person: marrec, Team: "keys-badges", Name: "Late"}, "notYours"},
		"for a team of others":          {store.View{Person: okonjo, Team: "keys-badges", Name: "Late"}, "notYours"},
		"without a name":                {store.View{Person: marrec, Name: " "}, "noName"},
		"one that is another's":         {store.View{ID: own.ID, Person: okonjo, Name: "Hers"}, ""},
		"one that is not there":         {store.View{ID: "none", Person: marrec, Name: "Lost"}, ""},
		"the team's, by a member of it": {store.View{ID: team.ID, Person: marrec, Name: "Ours"}, ""},
	} {
		_, err := o.Delivering.SaveView(ctx, v.view)
		if v.code == "" {
			assert.ErrorIs(t, err, work.ErrNotFound, name)
		} else {
			refused(t, err, v.code)
		}
	}
	own.Name = "My own"
	_, err = o.Delivering.SaveView(ctx, own)
	require.NoError(t, err)
	assert.Equal(t, []string{"Late", "My own"}, names(marrec))
	require.ErrorIs(t, o.Delivering.DropView(ctx, marrec, team.ID), work.ErrNotFound)
	require.NoError(t, o.Delivering.DropView(ctx, ekvall, team.ID))
	assert.Equal(t, []string{"My own"}, names(marrec))

	reply, err := o.Delivering.SaveReply(ctx, store.Reply{Person: ekvall, Team: "keys-badges", Offering: "errands", Name: "On its way", Text: "{{ request.by }} does {{ request.task }} of {{ request.reference }} for {{ request.asker }}."})
	require.NoError(t, err)
	_, err = o.Delivering.SaveReply(ctx, store.Reply{Person: marrec, Offering: "quay-access-badge", Name: "Badge", Text: "Bring it along."})
	require.NoError(t, err)
	_, err = o.Delivering.SaveReply(ctx, store.Reply{Person: marrec, Name: "Odd", Text: "{{ request.nothing }}"})
	require.Error(t, err, "a placeholder that is none")
	_, err = o.Delivering.SaveReply(ctx, store.Reply{Person: marrec, Team: "keys-badges", Name: "Ours", Text: "Hello."})
	refused(t, err, refusal.NotYours)
	state, err := o.Store.Request(ctx, ids[1])
	require.NoError(t, err)
	fits, err := o.Delivering.Replies(ctx, marrec, &state, "run")
	require.NoError(t, err)
	require.Len(t, fits, 1, "only what is for this offering")
	assert.Equal(t, "Ysolde Marrec does Run the errand of "+state.Reference+" for Inês Castelo.", fits[0].Text)
	all, err := o.Delivering.Replies(ctx, marrec, nil, "")
	require.NoError(t, err)
	assert.Len(t, all, 2)
	none, err := o.Delivering.Replies(ctx, okonjo, &state, "run")
	require.NoError(t, err)
	for _, r := range none {
		assert.NotEqual(t, reply.ID, r.ID)
	}
	require.ErrorIs(t, o.Delivering.DropReply(ctx, okonjo, reply.ID), work.ErrNotFound)
	require.NoError(t, o.Delivering.DropReply(ctx, ekvall, reply.ID))
}

// A request is found by its reference, by who asked or whom it is for, and by
// words; by those whose business it is. A mistyped reference is told.
func TestFindingARequest(t *testing.T) {
	o, ids := errands(t)
	state, err := o.Store.Request(ctx, ids[1])
	require.NoError(t, err)
	newcomer := signOn(t, o, 1)
	find := func(login, words string) (found []string) {
		t.Helper()
		page, err := o.Following.Find(ctx, demo.ID(login), store.Wanted{Words: words})
		require.NoError(t, err)
		for _, e := range page.Entries {
			found = append(found, e.State.ID)
		}
		return found
	}
	for _, c := range []struct {
		login, words string
		want         []string
	}{
		{"castelo", state.Reference, []string{ids[1]}}, {"castelo", strings.ToLower(state.Reference), []string{ids[1]}}, {"marrec", state.Reference, []string{ids[1]}},
		{"falkenau", state.Reference, []string{ids[1]}}, {"abelsen", state.Reference, []string{ids[1]}}, {"okonjo", state.Reference, nil}, {"lindskaug", state.Reference, nil},
		{"marrec", "castelo errands", []string{ids[1]}}, {"okonjo", "castelo errands", nil}, {"castelo", "errands", []string{ids[1]}}, {"marrec", "100%", nil}, {"marrec", " ", nil},
		{"okonjo", "halvorsen", []string{newcomer}}, {"quist", "noor halvorsen", []string{newcomer}}, {"castelo", "halvorsen", nil},
		{"quist", "noor halvroson", nil}, {"quist", "noor halvrosen", []string{newcomer}}, {"okonjo", "HALVOR", []string{newcomer}}, {"castelo", "eranbds", nil},
		{"castelo", strings.Split(state.Reference, "-")[1], []string{ids[1]}}, {"castelo", strings.TrimSuffix(state.Reference, state.Reference[len(state.Reference)-2:]), []string{ids[1]}}, {"okonjo", strings.Split(state.Reference, "-")[1], nil},
		{"castelo", `"errands" OR (x`, nil}, {"castelo", "err*nds", nil},
	} {
		assert.Equal(t, c.want, find(c.login, c.words), "%s: %s", c.login, c.words)
	}
	letter := state.Reference[len(state.Reference)-1:]
	wrong := state.Reference[:len(state.Reference)-1] + map[bool]string{true: "B", false: "A"}[letter == "A"]
	_, err = o.Following.Find(ctx, demo.ID("castelo"), store.Wanted{Words: wrong})
	refused(t, err, refusal.Mistyped)
	swapped := []byte(state.Reference)
	for i := 3; i+1 < len(swapped); i++ {
		if swapped[i] != swapped[i+1] && swapped[i+1] != '-' {
			swapped[i], swapped[i+1] = swapped[i+1], swapped[i]
			break
		}
	}
	_, err = o.Following.Find(ctx, demo.ID("castelo"), store.Wanted{Words: string(swapped)})
	refused(t, err, refusal.Mistyped)
}

// Secrets of other systems stand nowhere as they are, are used in calls, and go
// to no new address: there they are typed anew. Only administrators set them.
func TestSecretsAreKeptEncrypted(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	const secret = "the tide turns at nine"
	require.NoError(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "licences", URL: "https://licences.example/ ", Secret: secret, AtOnce: 2}))
	for _, url := range []string{"https://licences.example:8443", "http://licences.example", "https://licences.example/other", "https://elsewhere.example"} {
		refused(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "licences", URL: url, AtOnce: 3}), refusal.SecretAnew)
	}
	require.NoError(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "licences", URL: "https://licences.example", AtOnce: 3}), "all else can change")
	system, err := work.Reach(o.Store, o.Sealed, "licences")(ctx)
	require.NoError(t, err)
	assert.Equal(t, secret, system.Secret)
	assert.Equal(t, "https://licences.example", system.URL)
	wrong := bytes.Repeat([]byte{7}, 32)
	_, err = work.Reach(o.Store, wrong, "licences")(ctx)
	assert.Error(t, err, "with another key nobody reads it")
	entries, err := os.ReadDir(o.Dir)
	require.NoError(t, err)
	for _, e := range entries {
		data, err := os.ReadFile(filepath.Join(o.Dir, e.Name()))
		if err == nil {
			assert.NotContains(t, string(data), secret, e.Name())
		}
	}
	for name, c := range map[string]struct {
		connection work.Connection
		code       string
	}{
		"no address":         {work.Connection{Key: "licences", URL: "licences.example", AtOnce: 1}, "url"},
		"another protocol":   {work.Connection{Key: "licences", URL: "ftp://licences.example", AtOnce: 1}, "url"},
		"nothing at once":    {work.Connection{Key: "licences", URL: "https://licences.example"}, "atOnce"},
		"far too much":       {work.Connection{Key: "licences", URL: "https://licences.example", AtOnce: 51}, "atOnce"},
		"a host that is no":  {work.Connection{Key: "web", AtOnce: 1, Hosts: "https://planner.example/x"}, "host"},
		"a host with a user": {work.Connection{Key: "web", AtOnce: 1, Hosts: "me@planner.example"}, "host"},
	} {
		t.Run(name, func(t *testing.T) { refused(t, o.Connecting.Connect(ctx, admin, c.connection), c.code) })
	}
	assert.ErrorIs(t, o.Connecting.Connect(ctx, demo.ID("falkenau"), work.Connection{Key: "licences", AtOnce: 1}), work.ErrNotFound)
	assert.ErrorIs(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "nothing", AtOnce: 1}), work.ErrNotFound)
	require.NoError(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "licences", URL: "", AtOnce: 3}))
	require.NoError(t, o.Connecting.Connect(ctx, admin, work.Connection{Key: "licences", URL: "https://elsewhere.example", AtOnce: 3}))
	system, err = work.Reach(o.Store, o.Sealed, "licences")(ctx)
	require.NoError(t, err)
	assert.Empty(t, system.Secret, "nor by way of no address")
}

// A supplier answers by the link of the mail: that it has begun, why it cannot
// be done, or that it is done, each once; with another link nobody answers.
func TestASuppliersAnswer(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "sails", plan.Task{
		Key: "sew", Name: "Have it sewn", Kind: plan.Automatic, Team: "premises-crew",
		Action: &plan.Action{Connector: "mail", Do: "ask", Inputs: map[string]string{"to": "loft@sails.example", "name": "The loft", "subject": "A cover", "text": "Please sew it."}},
	})
	id := o.Send("castelo", "sails", form.Answers{}, offering.Beneficiary{}).ID
	runAll(t, o, time.Hour)
	require.True(t, taskOf(t, o, id, "sew").Accepted)
	link := work.SupplierLink("", o.Mailing.Secret)(id + "/sew")
	token := strings.TrimPrefix(link, "/supplier/")
	seen, err := o.Connecting.OpenSupplier(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, "A cover", seen.Subject)
	assert.Empty(t, seen.Trouble)
	for _, bad := range []string{"", "x", token + "x", strings.Replace(token, ".", "..", 1), strings.TrimPrefix(work.SupplierLink("", []byte("another secret"))(id+"/sew"), "/supplier/")} {
		_, err := o.Connecting.OpenSupplier(ctx, bad)
		assert.ErrorIs(t, err, work.ErrNotFound, bad)
		assert.ErrorIs(t, o.Connecting.AnswerSupplier(ctx, bad, work.SupplierAnswer{State: "done"}), work.ErrNotFound, bad)
	}
	refused(t, o.Connecting.AnswerSupplier(ctx, token, work.SupplierAnswer{State: "refused"}), refusal.ReasonNeeded)
	begun := work.SupplierAnswer{State: "begun", Number: "L-88", Words: "By Friday."}
	require.NoError(t, o.Connecting.AnswerSupplier(ctx, token, begun))
	require.NoError(t, o.Connecting.AnswerSupplier(ctx, token, begun), "the same words twice are no trouble")
	events, err := o.Store.Events(ctx, id)
	require.NoError(t, err)
	reported := 0
	for _, e := range events {
		if _, ok := e.Body.(request.Reported); ok {
			reported++
		}
	}
	assert.Equal(t, 1, reported)
	require.NoError(t, o.Connecting.AnswerSupplier(ctx, token, work.SupplierAnswer{State: "done", Day: "2027-03-12"}))
	task := taskOf(t, o, id, "sew")
	assert.Equal(t, plan.Done, task.State)
	assert.Equal(t, map[string]string{"number": "L-88", "day": "2027-03-12"}, task.Outputs)
	refused(t, o.Connecting.AnswerSupplier(ctx, token, work.SupplierAnswer{State: "begun"}), refusal.Late)
	seen, err = o.Connecting.OpenSupplier(ctx, token)
	require.NoError(t, err)
	assert.NotEmpty(t, seen.Trouble)
}

// What hangs on one system is tried again all at once, by administrators.
func TestTryingAllAgain(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "passes", plan.Task{
		Key: "write", Name: "Write it", Kind: plan.Automatic, Team: "keys-badges", Tries: []string{"1s"},
		Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "opens": "Gate"}},
	})
	o.Badges.Down(true)
	var ids []string
	for _, login := range []string{"castelo", "sarmento", "quist"} {
		ids = append(ids, o.Send(login, "passes", form.Answers{}, offering.Beneficiary{}).ID)
	}
	runAll(t, o, time.Hour)
	for _, id := range ids {
		assert.Equal(t, plan.Stuck, taskOf(t, o, id, "write").State)
	}
	_, err := o.Connecting.RetryAll(ctx, demo.ID("marrec"), "badges")
	require.ErrorIs(t, err, work.ErrNotFound)
	o.Badges.Down(false)
	n, err := o.Connecting.RetryAll(ctx, demo.ID("lindskaug"), "licences")
	require.NoError(t, err)
	assert.Zero(t, n, "that is another system")
	n, err = o.Connecting.RetryAll(ctx, demo.ID("lindskaug"), "badges")
	require.NoError(t, err)
	assert.Equal(t, 3, n)
	runAll(t, o, time.Hour)
	for _, id := range ids {
		assert.Equal(t, plan.Done, taskOf(t, o, id, "write").State)
	}
	b, err := o.Connecting.Background(ctx, demo.ID("lindskaug"))
	require.NoError(t, err)
	for _, c := range b.Connectors {
		assert.Zero(t, c.Stuck+c.Waiting+c.Running, c.Key)
		if c.Key == "badges" {
			assert.Empty(t, c.Trouble, "the last call went well")
			assert.False(t, c.Success.IsZero())
		}
	}
}

// What somebody has is listed with what fits it, is handed back or changed, and
// its place in a pool is free again.
func TestWhatSomebodyHas(t *testing.T) {
	o := demotest.New(t)
	have := func(login string) map[string]work.Have {
		all, err := o.Following.HaveOf(ctx, demo.ID(login))
		require.NoError(t, err)
		out := map[string]work.Have{}
		for _, h := range all {
			out[h.Kind] = h
		}
		return out
	}
	fits := func(h work.Have) (all []string) {
		for _, f := range h.Fits {
			all = append(all, f.Does+" "+f.Offering)
		}
		return all
	}
	assert.ElementsMatch(t, []string{"change quay-access-badge", "handBack hand-something-back"}, fits(have("castelo")["badge"]))
	assert.ElementsMatch(t, []string{"extend voyage-planner-seat", "handBack hand-something-back"}, fits(have("castelo")["licence"]))

	free := func() int {
		pools, err := o.Store.Pools(ctx)
		require.NoError(t, err)
		for _, p := range pools {
			if p.Key == "planner-seats" {
				return p.Free()
			}
		}
		return -1
	}
	before := free()
	id := o.Send("castelo", "hand-something-back", coretest.Answers(map[string]any{"what": "own-1004", "day": "2027-03-11"}), offering.Beneficiary{}).ID
	runAll(t, o, time.Hour)
	assert.Equal(t, plan.Done, taskOf(t, o, id, "release").State)
	assert.NotContains(t, have("castelo"), "licence")
	assert.Equal(t, before+1, free())
	assert.True(t, o.Licences.List()["own-1004"].Released, "at the licence server, too")

	id = o.Send("castelo", "quay-access-badge", coretest.Answers(map[string]any{"has": "own-1002", "port": "maravel", "zones": []any{"workshop"}, "from": "2027-03-15"}), offering.Beneficiary{}).ID
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "QB-20012 offices and workshop", state.Present["zones"], "how it is now, beside what is wanted")
	o.Must("bjarnason", id, request.Decide{Rung: "manager", Decision: request.Approve})
	o.Must("okonjo", id, request.Take{Task: "safety"}, request.Complete{Task: "safety"})
	runAll(t, o, time.Hour)
	assert.Equal(t, "QB-20012 Workshop Hall", have("castelo")["badge"].Detail)
	assert.Equal(t, "Workshop Hall, Maravel", o.Badges.List()["own-1002"].Opens)
}

// A change that is taken back is as it was, here and at the other system.
func TestAChangeTakenBack(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "gates",
		plan.Task{
			Key: "change", Name: "Change it", Kind: plan.Automatic, Team: "keys-badges",
			Action:    &plan.Action{Connector: "badges", Do: "change", Inputs: map[string]string{"number": "QB-20012", "opens": "the gate"}},
			Undo:      &plan.Undo{Action: &plan.Action{Connector: "badges", Do: "change", Inputs: map[string]string{"number": "QB-20012", "opens": "offices and workshop"}}},
			Belonging: &plan.Belonging{Does: plan.Change, Which: "own-1002", Detail: "QB-20012 the gate"},
		}, plan.Task{Key: "hand", Name: "Hand it out", Kind: plan.Manual, Team: "keys-badges", After: []string{"change"}})
	id := o.Send("castelo", "gates", form.Answers{}, offering.Beneficiary{}).ID
	runAll(t, o, time.Hour)
	held, err := o.Store.Holding(ctx, "own-1002")
	require.NoError(t, err)
	assert.Equal(t, "QB-20012 the gate", held.Detail)
	o.Must("castelo", id, request.Withdraw{Reason: "Not needed any more."})
	runAll(t, o, time.Hour)
	state, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, request.Withdrawn, state.Outcome)
	held, err = o.Store.Holding(ctx, "own-1002")
	require.NoError(t, err)
	assert.Equal(t, "QB-20012 offices and workshop", held.Detail)
	assert.Equal(t, "offices and workshop", o.Badges.List()["own-1002"].Opens)
}

// What ends soon is told its holder once, and again when it was extended and
// ends soon anew.
func TestWhatEndsSoon(t *testing.T) {
	o := demotest.New(t)
	told := func() (n int) {
		messages, err := o.Store.MessagesOf(ctx, demo.ID("castelo"), false, store.Page{Limit: 100})
		require.NoError(t, err)
		for _, m := range messages {
			if m.Kind == "expiring" {
				n++
			}
		}
		return n
	}
	_, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Zero(t, told(), "her seat ends on the last of June")
	o.Clock.Pass(demotest.Start.AddDate(0, 3, 6).Sub(demotest.Start)) // 17 June
	for range 3 {
		_, err = o.Running.RunDue(ctx)
		require.NoError(t, err)
	}
	assert.Equal(t, 1, told())
	o.Send("castelo", "voyage-planner-seat", coretest.Answers(map[string]any{"has": "own-1004", "seat": []any{map[string]any{"item": "full", "quantity": 1.0}}, "from": "2027-06-17", "months": 1.0}), offering.Beneficiary{})
	runAll(t, o, time.Hour)
	held, err := o.Store.Holding(ctx, "own-1004")
	require.NoError(t, err)
	assert.Equal(t, "2027-07-17", held.Until)
	assert.Equal(t, "2027-07-17", o.Licences.List()["own-1004"].Until)
	assert.Equal(t, 1, told())
	o.Clock.Pass(17 * 24 * time.Hour)
	_, err = o.Running.RunDue(ctx)
	require.NoError(t, err)
	assert.Equal(t, 2, told())
}

// What a newcomer gets becomes theirs once they are in the directory, under the
// login that a task has made, whichever of the two came first.
func TestWhatANewcomerGets(t *testing.T) {
	o := demotest.New(t)
	id := signOn(t, o, 1)
	runAll(t, o, time.Hour)
	held, err := o.Store.Holding(ctx, request.HoldingID(id, "badge"))
	require.NoError(t, err)
	assert.Equal(t, "Noor Halvorsen", held.Newcomer)
	assert.Empty(t, held.Person)
	o.Must("haddad-lis", id, request.Take{Task: "contract"}, request.Check{Task: "contract", Point: 0, Done: true}, request.Check{Task: "contract", Point: 1, Done: true}, request.Complete{Task: "contract"})
	o.Must("okonjo", id, request.Skip{Task: "near", Reason: "She comes earlier."})
	runAll(t, o, time.Hour)
	login := taskOf(t, o, id, "account").Outputs["login"]
	require.NotEmpty(t, login)
	noor := people.Person{ID: "p-noor", Login: login, Name: "Noor Halvorsen", Department: "Fleet"}
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddCompany(people.Records{Persons: []people.Person{noor}})
	}))
	all, err := o.Store.HoldingsOf(ctx, noor.ID)
	require.NoError(t, err)
	var kinds []string
	for _, h := range all {
		kinds = append(kinds, h.Kind)
	}
	assert.Contains(t, kinds, "badge")
	assert.Contains(t, kinds, "account")
}

// passes are many calls of one system that is at a URL.
func passes(t *testing.T, url string, n int) (o *demotest.Office, ids []string) {
	t.Helper()
	o = demotest.New(t)
	require.NoError(t, o.Connecting.SetConnection(ctx, work.Connection{Key: "badges", URL: url, Secret: "new", AtOnce: 2}))
	publish(t, o, "passes", plan.Task{
		Key: "write", Name: "Write it", Kind: plan.Automatic, Team: "keys-badges",
		Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}", "opens": "Gate"}},
	})
	persons := o.Company().Persons()
	for i := range n {
		ids = append(ids, o.Send(persons[i].Login, "passes", form.Answers{}, offering.Beneficiary{}).ID)
	}
	return o, ids
}

// A system that does not answer is left alone, longer each time, however much
// waits for it; once it is back all goes on by itself, and nothing got stuck.
func TestASystemThatIsDownIsNotHammered(t *testing.T) {
	var calls, up atomic.Int32
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		n := calls.Add(1)
		if up.Load() == 0 {
			connection, _, err := http.NewResponseController(w).Hijack()
			assert.NoError(t, err)
			_ = connection.Close()
			return
		}
		_, _ = fmt.Fprintf(w, `{"number": "QB-%d"}`, n)
	}))
	defer server.Close()
	o, ids := passes(t, server.URL, 20)
	pass := func(whole time.Duration) {
		for end := o.Clock.Now().Add(whole); o.Clock.Now().Before(end); o.Clock.Pass(5 * time.Second) {
			_, err := o.Running.RunDue(ctx)
			require.NoError(t, err)
		}
	}
	pass(time.Hour)
	assert.GreaterOrEqual(t, calls.Load(), int32(10), "it is tried now and then")
	assert.LessOrEqual(t, calls.Load(), int32(25), "of twenty calls that wait, one tries")
	b, err := o.Connecting.Background(ctx, demo.ID("lindskaug"))
	require.NoError(t, err)
	for _, c := range b.Connectors {
		if c.Key == "badges" {
			assert.True(t, c.Paused.After(o.Clock.Now().Add(-10*time.Second)))
			assert.Equal(t, "The badge system does not answer.", c.Trouble)
			assert.Equal(t, 20, c.Waiting)
		}
	}
	up.Store(1)
	pass(10 * time.Minute)
	numbers := map[string]bool{}
	for _, id := range ids {
		task := taskOf(t, o, id, "write")
		assert.Equal(t, plan.Done, task.State)
		numbers[task.Outputs["number"]] = true
	}
	assert.Len(t, numbers, 20)
}

// No more calls of a system run at the same time than it is said to bear.
func TestCallsAtTheSameTime(t *testing.T) {
	var now, most atomic.Int32
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		for n := now.Add(1); ; {
			before := most.Load()
			if n <= before || most.CompareAndSwap(before, n) {
				break
			}
		}
		time.Sleep(20 * time.Millisecond) // so that calls overlap
		now.Add(-1)
		_, _ = fmt.Fprintf(w, `{"number": "QB-%s"}`, r.Header.Get("Idempotency-Key"))
	}))
	defer server.Close()
	o, ids := passes(t, server.URL, 8)
	runAll(t, o, time.Hour)
	assert.Equal(t, int32(2), most.Load())
	for _, id := range ids {
		assert.Equal(t, "QB-"+id+"/write", taskOf(t, o, id, "write").Outputs["number"])
	}
}

// The list of a team stands in the order of what it shows: what must begin, or
// end once it has begun, is pressed by the promise, the least slack first, after what is stuck.
func TestTheLeastSlackFirst(t *testing.T) {
	o := demotest.Season(t)
	for _, login := range []string{"okonjo", "marrec", "abelsen", "haddad-lis", "achterberg"} {
		entries, err := o.Delivering.Tasks(ctx, demo.ID(login), store.Tasks{Page: store.Page{Limit: 200}})
		require.NoError(t, err)
		require.NotEmpty(t, entries, login)
		for i, e := range entries {
			task, _ := e.State.Task(e.Key)
			f, err := o.Forecast(ctx, e.State)
			require.NoError(t, err)
			shown, err := o.Delivering.PlaceOf(ctx, e.State, task, f)
			require.NoError(t, err)
			assert.Equal(t, e.Place, shown, "the sheet shows what the list shows")
			if task.State == plan.Taken && !e.Due.IsZero() {
				assert.Equal(t, e.Due, e.Latest, "what is begun must end")
			}
			if i > 0 && entries[i-1].Stuck == e.Stuck {
				assert.False(t, e.Latest.Before(entries[i-1].Latest), "%s: %s", login, e.State.Reference)
			}
			assert.False(t, i > 0 && e.Stuck && !entries[i-1].Stuck, "what is stuck before all")
		}
	}
}

// What is under way is counted by service and standing, of what one may see; each
// count is as long as the list behind it.
func TestWhatIsUnderWay(t *testing.T) {
	o := demotest.Season(t)
	total := map[string]int{}
	for _, login := range []string{"falkenau", "abelsen", "okonjo", "marrec", "lindskaug", "castelo"} {
		counts, err := o.Following.Overview(ctx, demo.ID(login))
		require.NoError(t, err)
		for _, c := range counts {
			total[login] += c.Count
			list := func(w store.Wanted) int {
				w.Service, w.Standing = c.Service, c.Standing
				entries := findAll(t, o, login, w)
				for _, e := range entries {
					assert.True(t, o.Viewer(demo.ID(login), e.State).Any(), "%s: %s", login, e.State.Reference)
				}
				return len(entries)
			}
			assert.Equal(t, c.Count, list(store.Wanted{}), "%s: %s %s", login, c.Service, c.Standing)
			assert.Equal(t, c.Late, list(store.Wanted{Late: true}))
			assert.Equal(t, c.Stuck, list(store.Wanted{Stuck: true}))
		}
	}
	assert.Greater(t, total["falkenau"], 10, "her services")
	assert.Less(t, total["lindskaug"], total["okonjo"], "an administrator sees no more by that role")
	assert.Less(t, total["castelo"], 5)
	pressed, err := o.Following.Find(ctx, demo.ID("falkenau"), store.Wanted{Standing: store.BeingDone})
	require.NoError(t, err)
	f, err := o.Forecast(ctx, pressed.Entries[0].State)
	require.NoError(t, err)
	assert.True(t, f.Unknown || f.Slack < 0, "what is stuck, and then the most pressed first")
	none, err := o.Following.Find(ctx, demo.ID("falkenau"), store.Wanted{})
	require.NoError(t, err)
	assert.Empty(t, none.Entries, "nothing is looked for")
}

// findAll is all that a person finds, page by page.
func findAll(t *testing.T, o *demotest.Office, login string, w store.Wanted) (all []store.Entry) {
	t.Helper()
	for range 100 {
		page, err := o.Following.Find(ctx, demo.ID(login), w)
		require.NoError(t, err)
		require.LessOrEqual(t, len(page.Entries), 30)
		all = append(all, page.Entries...)
		if w.After = page.Next; page.Next == "" {
			return all
		}
		require.Len(t, page.Entries, 30, "only the last page is short")
	}
	require.Fail(t, "it never ends")
	return nil
}

// A record that cannot be read ends no list: what comes after it is on its page,
// under way and closed.
func TestFindingPassesWhatIsBroken(t *testing.T) {
	for name, closed := range map[string]bool{"under way": false, "closed": true} {
		t.Run(name, func(t *testing.T) {
			o := demotest.New(t)
			require.NoError(t, demotest.AddMany(ctx, o.Store, o.Clock.Now(), 70, nil))
			if closed {
				behind(t, o, "UPDATE requests SET status = 'closed' WHERE number IS NOT NULL")
			}
			all := findAll(t, o, "marrec", store.Wanted{Words: "place"})
			require.Greater(t, len(all), 65)
			for _, broken := range []int{3, 40} {
				behind(t, o, "UPDATE requests SET state = packed('states', 'broken'), brief = x'7f6272' WHERE id = ?", all[broken].State.ID)
			}
			left := 0
			for w := (store.Wanted{Words: "place"}); ; {
				page, err := o.Following.Find(ctx, demo.ID("marrec"), w)
				require.NoError(t, err)
				left += len(page.Entries)
				if w.After = page.Next; w.After == "" {
					break
				}
			}
			assert.Equal(t, len(all)-2, left)
		})
	}
}

// The index finds what looking at every request would, for everybody, each once:
// what is under way first.
func TestFindingIsLookingAtAll(t *testing.T) {
	o := demotest.Season(t)
	var all []request.State
	for number := int64(1); number < 20_000; number++ {
		if state, err := o.Store.ByReference(ctx, request.Reference(o.Organisation().Prefix, number)); err == nil {
			all = append(all, state)
		}
	}
	require.Greater(t, len(all), 100)
	compare := func(login, words string) int {
		t.Helper()
		want := map[string]bool{}
		for _, s := range all {
			name := o.Company().Name(s.Asker) + " " + o.Company().Name(s.For.Person)
			if s.For.Newcomer != nil {
				name += " " + s.For.Newcomer.Name
			}
			if v := o.Viewer(demo.ID(login), s); !v.Asker && !v.Receiver && !v.Owner && !v.HomeLead && !v.Follower && len(v.Tasks) == 0 {
				continue
			}
			there := true
			for _, word := range strings.Fields(words) {
				there = there && strings.Contains(" "+strings.ToLower(s.Title+" "+name), " "+word)
			}
			want[s.ID] = there
		}
		got, closed := map[string]bool{}, false
		for _, e := range findAll(t, o, login, store.Wanted{Words: words}) {
			assert.False(t, got[e.State.ID], "%s is there twice", e.State.Reference)
			got[e.State.ID] = true
			assert.False(t, closed && e.State.Status != request.Closed, "what is under way comes first")
			closed = e.State.Status == request.Closed
		}
		n := 0
		for id, is := range want {
			if is {
				n++
			}
			assert.Equal(t, is, got[id], "%s, %s: %s", login, words, id)
		}
		assert.Len(t, got, n, "%s, %s", login, words)
		return n
	}
	most := 0
	for _, login := range []string{"falkenau", "abelsen", "okonjo", "marrec", "quist", "castelo", "lindskaug"} {
		for _, words := range []string{"badge", "quay bad", "for", "sarmento", "maravel", "m", "b"} {
			most = max(most, compare(login, words))
		}
	}
	assert.Greater(t, most, 30, "more than one page")
}

// A list never says that something was likely done before now: what takes longer than the
// runner has foreseen is foreseen again.
func TestAListForeseesNothingForThePast(t *testing.T) {
	o := demotest.New(t)
	o.Ask("castelo", "open")
	_, err := o.Running.RunDue(ctx)
	require.NoError(t, err)
	first := func() work.Entry {
		entries, err := o.Following.RequestsOf(ctx, demo.ID("castelo"), store.Mine{Page: store.Page{Limit: 10}, Group: store.ForWork})
		require.NoError(t, err)
		require.NotEmpty(t, entries)
		return entries[0]
	}
	e := first()
	require.NotNil(t, e.Outlook)
	said, err := o.Following.OutlookOf(ctx, e)
	require.NoError(t, err)
	assert.Equal(t, *e.Outlook, said, "as it was worked out")
	o.Clock.Pass(e.Outlook.Finish.Sub(o.Clock.Now()) + 48*time.Hour)
	e = first()
	require.True(t, e.Outlook.Finish.Before(o.Clock.Now()))
	said, err = o.Following.OutlookOf(ctx, e)
	require.NoError(t, err)
	assert.False(t, said.Finish.Before(o.Clock.Now()))
	assert.NotEmpty(t, said.Critical)
}

// Somebody who is given another name is found by it in what is under way and what is closed,
// in any letters, and no more by that of before.
func TestWhoIsRenamedIsFoundByTheNewName(t *testing.T) {
	o, ids := errands(t)
	closed := o.Send("castelo", "errands", form.Answers{}, offering.Beneficiary{}).ID
	o.Must("castelo", closed, request.Withdraw{Reason: "No longer needed."})
	rename := func(name string) {
		t.Helper()
		for r := range intake.Records(intake.People, o.Company()) {
			if r.ID == demo.ID("castelo") {
				r.Cells["name"] = name
				_, err := o.Keeping.SaveRecord(ctx, demo.ID("lindskaug"), intake.People, r.ID, r.Cells)
				require.NoError(t, err)
			}
		}
	}
	find := func(words string) (found []string) {
		for _, e := range findAll(t, o, "falkenau", store.Wanted{Words: words}) {
			found = append(found, e.State.ID)
		}
		return found
	}
	hers := find("inês castelo")
	require.Subset(t, hers, []string{ids[1], closed})
	for _, c := range []struct {
		name string
		by   []string
		not  []string
	}{
		{"Inês Καστέλος", []string{"ines καστελ", "ΚΑΣΤΈΛΟΣ", "καστέλος"}, []string{"castelo"}},
		{"Инес Кастейло", []string{"кастейло", "КАСТЕЙ", "кастеи инес"}, []string{"καστέλος", "ines"}},
		{"Inês O'Straße-Castelo", []string{"strasse", "straße", "o'stra", "castelo o"}, []string{"кастейло", "tello"}},
	} {
		rename(c.name)
		for _, words := range c.by {
			assert.Equal(t, hers, find(words), "%s by %s", c.name, words)
		}
		for _, words := range c.not {
			assert.Empty(t, find(words), "%s by %s", c.name, words)
		}
	}
}

// Those who are to confirm a part read what it is, and the part is gone from their list once
// they have.
func TestPartsToConfirm(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "drill", plan.Task{Key: "read", Name: "Read the drill", Kind: plan.Manual, Team: "keys-badges", Instructions: "Meet at the berth.", People: &plan.People{Team: "keys-badges", Enough: "all"}})
	state := o.Send("sarmento", "drill", form.Answers{}, offering.Beneficiary{})
	task, ok := state.Task("read")
	require.True(t, ok)
	require.Greater(t, len(task.Confirmers), 1)
	for i, person := range task.Confirmers {
		parts, err := o.Delivering.ToConfirm(ctx, person)
		require.NoError(t, err)
		require.Len(t, parts, 1)
		part, ok := parts[0].State.Task(parts[0].Key)
		require.True(t, ok)
		assert.Equal(t, "Meet at the berth.", part.Instructions)
		assert.Len(t, part.Confirmed, i)
		_, err = o.Do(ctx, person, state.ID, request.ConfirmPart{Task: "read"})
		require.NoError(t, err)
		parts, err = o.Delivering.ToConfirm(ctx, person)
		require.NoError(t, err)
		assert.Empty(t, parts)
	}
}
