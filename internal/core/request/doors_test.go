package request_test

import (
	"encoding/json"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// How much is seen of an answer, by who reads it and through what (rules.md 9).
func TestSight(t *testing.T) {
	const hidden, sealed, asking, open = request.Hidden, request.Sealed, request.Asking, request.Open
	whole := func(v request.Viewer) request.Sight { return v.Whole() }
	all, some := &request.Rung{}, &request.Rung{Facts: []string{"plain", "private"}}
	slice, none := &request.Task{Slice: []string{"plain", "private", "staff"}}, &request.Task{}
	for name, c := range map[string]struct {
		sight                 request.Sight
		plain, private, staff request.Seeing
	}{
		"the asker":                        {whole(request.Viewer{Asker: true}), open, asking, hidden},
		"who it is for":                    {whole(request.Viewer{Receiver: true}), open, sealed, hidden},
		"a follower":                       {whole(request.Viewer{Follower: true}), open, hidden, hidden},
		"the owner":                        {whole(request.Viewer{Owner: true}), open, sealed, open},
		"the home lead":                    {whole(request.Viewer{HomeLead: true}), open, sealed, open},
		"an owner who follows":             {whole(request.Viewer{Owner: true, Follower: true}), open, sealed, open},
		"an approver, of the whole":        {whole(request.Viewer{Approver: true, Rungs: []string{"a"}}), hidden, hidden, hidden},
		"a team member, of the whole":      {whole(request.Viewer{Tasks: []string{"a"}}), hidden, hidden, hidden},
		"a stranger":                       {whole(request.Viewer{}), hidden, hidden, hidden},
		"a rung that shows all":            {all.Sight(), open, sealed, open},
		"a rung that names some":           {some.Sight(), open, asking, hidden},
		"a task with a slice":              {slice.Sight(), open, asking, open},
		"a task whose slice names nothing": {none.Sight(), hidden, hidden, hidden},
	} {
		of := func(key string, r form.Readers) request.Seeing {
			return c.sight.Of(form.Question{Key: key, Readers: r})
		}
		assert.Equal(t, c.plain, of("plain", form.Everybody), "%s: plain", name)
		assert.Equal(t, c.private, of("private", form.Private), "%s: private", name)
		assert.Equal(t, c.staff, of("staff", form.ForStaff), "%s: for staff", name)
	}
}

// Who reads what was written, by who wrote it, when, and to whom. Ilse asks,
// Tomas decides, Kira is in Keys (photo, write), Caro in Crew (safety), Keks
// leads the home team, Olga owns the service, Noor follows, Bert has no part.
func TestWhoReadsWords(t *testing.T) {
	readers := func(r *run, file bool) []string {
		var out []string
		event := r.events[len(r.events)-1]
		for _, person := range []string{"p-ilse", "p-noor", "p-tomas", "p-kira", "p-caro", "p-keks", "p-olga"} {
			v := r.state.ViewerOf(person, r.facts.Company, r.facts.Service)
			told := request.History(r.events, r.facts.Company, v)
			opens := len(told) > 0 && told[len(told)-1].At.Equal(event.At) && told[len(told)-1].Readers != ""
			if file {
				require.Equal(t, r.state.Files[len(r.state.Files)-1].Opens(v), opens, "what is shown is what can be opened")
			}
			if opens {
				out = append(out, person[2:])
				require.True(t, len(v.Tasks) == 0 || v.HomeLead || v.Owner || slices.ContainsFunc(v.Tasks, func(task string) bool {
					return told[len(told)-1].Concerns(task) && (!file || r.state.Files[len(r.state.Files)-1].Concerns(task))
				}), "what a team may read stands on a task of theirs")
			}
		}
		return out
	}
	deciding := func() *run { return start(t).must("p-ilse", begin(), submit(), request.Follow{Person: "p-noor"}) }
	working := func() *run { return deciding().must("p-tomas", approve()) }
	delivered := func() *run {
		return working().must("p-caro", take("safety"), request.Complete{Task: "safety"}).must("p-kira", take("photo"), request.Complete{Task: "photo"}).
			must(request.Program, request.Succeed{Task: "write"})
	}
	file := form.Upload{ID: "f", Name: "a.png"}
	lead := []string{"keks", "olga"}
	with := func(names ...string) []string { return append(names, lead...) }
	for name, c := range map[string]struct {
		at   func() *run
		who  string
		c    request.Command
		want []string
	}{
		"the asker, while it is decided":           {deciding, "p-ilse", request.Comment{Text: "x"}, with("ilse", "noor", "tomas")},
		"the asker, to the request":                {deciding, "p-ilse", request.Comment{Text: "x", To: request.ToRequest}, with("ilse", "noor")},
		"who decides":                              {deciding, "p-tomas", request.Comment{Text: "x"}, with("ilse", "noor", "tomas")},
		"the asker, during the work":               {working, "p-ilse", request.Comment{Text: "x"}, with("ilse", "noor", "kira", "caro")},
		"the asker, to the request, at work":       {working, "p-ilse", request.Comment{Text: "x", To: request.ToRequest}, with("ilse", "noor")},
		"the asker, to one team":                   {working, "p-ilse", request.Comment{Text: "x", To: request.ToTask, Task: "safety"}, with("ilse", "noor", "caro")},
		"the asker, to all teams":                  {working, "p-ilse", request.Comment{Text: "x", To: request.ToStaff}, with("ilse", "noor", "kira", "caro")},
		"a follower":                               {working, "p-noor", request.Comment{Text: "x"}, with("ilse", "noor", "kira", "caro")},
		"who has decided":                          {working, "p-tomas", request.Comment{Text: "x"}, with("ilse", "noor", "tomas")},
		"the asker, after delivery":                {delivered, "p-ilse", request.Comment{Text: "x"}, with("ilse", "noor", "kira", "caro")},
		"a team, to the asker":                     {working, "p-caro", request.Comment{Text: "x", Task: "safety"}, with("ilse", "noor", "caro")},
		"a team, to the asker and all teams":       {working, "p-caro", request.Comment{Text: "x", Task: "safety", To: request.ToStaff}, with("ilse", "noor", "kira", "caro")},
		"a note of a team":                         {working, "p-caro", request.Note{Text: "x", Task: "safety"}, with("caro")},
		"a note to all teams":                      {working, "p-caro", request.Note{Text: "x", Task: "safety", To: request.ToStaff}, with("kira", "caro")},
		"the owner":                                {working, "p-olga", request.Comment{Text: "x"}, with("ilse", "noor")},
		"the owner, a note on a task":              {working, "p-olga", request.Note{Text: "x", Task: "photo"}, with("kira")},
		"a file of the asker, during the work":     {working, "p-ilse", request.Attach{File: file}, with("ilse", "kira", "caro")},
		"a file of the asker, to the request":      {working, "p-ilse", request.Attach{File: file, To: request.ToRequest}, with("ilse")},
		"a file of the asker, while it is decided": {deciding, "p-ilse", request.Attach{File: file}, with("ilse", "tomas")},
		"a file of a team":                         {working, "p-caro", request.Attach{File: file, Task: "safety"}, with("ilse", "caro")},
	} {
		r := c.at().must(c.who, c.c)
		_, isFile := c.c.(request.Attach)
		assert.ElementsMatch(t, c.want, readers(r, isFile), name)
	}
	for _, c := range []request.Command{request.Comment{Text: "x", To: request.ToTask}, request.Comment{Text: "x", Task: "none"}, request.Attach{File: file, To: request.ToTask, Task: "none"}} {
		assert.Error(t, working().do("p-ilse", c), "%+v", c)
	}
}

// What was written before readers could be chosen is read as it was then.
func TestWordsOfBefore(t *testing.T) {
	for name, c := range map[string]struct {
		body string
		want map[string]bool
	}{
		"commented": {`{"text":"x"}`, map[string]bool{"asker": true, "team": true, "other": true}},
		"noted":     {`{"text":"x"}`, map[string]bool{"asker": false, "team": true, "other": true}},
		"attached":  {`{"file":{"id":"f"},"task":"a"}`, map[string]bool{"asker": true, "team": true, "other": false}},
	} {
		body, err := request.DecodeBody(name, []byte(c.body))
		require.NoError(t, err)
		events := []request.Event{{Seq: 1, Actor: "p-olga", Body: request.DraftBegun{ID: "r"}}, {Seq: 2, Actor: "p-olga", Body: body}}
		for who, v := range map[string]request.Viewer{"asker": {Asker: true}, "team": {Tasks: []string{"a"}}, "other": {Tasks: []string{"b"}}} {
			assert.Equal(t, c.want[who], len(request.History(events, start(t).facts.Company, v)) == 2, "%s, %s", name, who)
		}
	}
}

// Secrets and private answers stand in no event and no state, whatever brings
// them; they are kept apart for whom they are for.
func TestWhatIsKeptApart(t *testing.T) {
	secret := func(d *offering.Document) {
		deskWork(d)
		d.Plan[0].Outputs = append(d.Plan[0].Outputs, plan.Output{Key: "pin", Name: "Code", Secret: true})
		d.Plan[0].MustDos, d.Plan[0].Lines = nil, ""
		d.Questions = append(d.Questions, form.Question{Key: "cause", Kind: form.Text, Label: "Cause", Readers: form.Private})
	}
	r := start(t, secret)
	answers := full()
	answers["cause"] = form.OfText("a fall from the mast")
	sealed := map[string]string{}
	do := func(who string, c request.Command) {
		t.Helper()
		r.facts.Actor = who
		events, effects, err := request.Handle(r.state, c, r.facts)
		require.NoError(t, err)
		for _, e := range events {
			r.state.Apply(e)
		}
		r.events = append(r.events, events...)
		for _, e := range effects {
			if e.Kind == request.Seal {
				sealed[e.Seals.Task+"/"+e.Seals.Key+"/"+e.Seals.For], _ = e.Seals.Value.Text()
			}
		}
	}
	do("p-ilse", begin())
	do("p-ilse", request.Submit{Answers: answers, Prefix: "QS", Number: 10432})
	do("p-kira", take("check"))
	err := r.do("p-kira", request.Complete{Task: "check", Outputs: map[string]string{"weight": "2"}})
	assert.ErrorContains(t, err, "Code", "a secret that is wanted must be given")
	do("p-kira", request.Complete{Task: "check", Outputs: map[string]string{"weight": "2", "pin": "4711-ZX"}})
	assert.Equal(t, map[string]string{"/cause/": "a fall from the mast", "check/pin/p-ilse": "4711-ZX"}, sealed)
	assert.Equal(t, []string{"cause"}, r.state.Private)
	check, _ := r.state.Task("check")
	assert.Equal(t, []string{"pin"}, check.Secrets)
	var all []any
	for _, e := range r.events {
		all = append(all, e.Body)
	}
	text, err := json.Marshal([]any{all, r.state, request.History(r.events, r.facts.Company, request.Viewer{Owner: true})})
	require.NoError(t, err)
	assert.NotContains(t, string(text), "mast")
	assert.NotContains(t, string(text), "4711")
}

// An answer to a question counts the private answers as they are, and says
// which are gone.
func TestPrivateAnswersOfAReturnedRequest(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Questions = append(d.Questions, form.Question{Key: "cause", Kind: form.Text, Label: "Cause", Readers: form.Private, Require: "true"})
	})
	answers := full()
	answers["cause"] = coretest.Answer("a fall")
	r.must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432}).must("p-tomas", request.AskBack{Rung: "manager", Text: "Why?"})
	r.facts.Private = coretest.Answers(map[string]any{"cause": "a fall"})
	r.must("p-ilse", request.Resubmit{Reply: "So."})
	assert.Equal(t, []string{"cause"}, r.state.Private, "it is still there")
	b := r.events[len(r.events)-2].Body
	if again, ok := b.(request.Resubmitted); ok {
		assert.Empty(t, again.Changed)
	}
}

// A clock that ran years ahead and was set back holds nothing up: history goes
// on in the instant of the last event, and timers go by the clock.
func TestAClockThatRanAheadHoldsNothingUp(t *testing.T) {
	r := start(t)
	now := r.facts.Now
	r.facts.Now = now.AddDate(10, 0, 0)
	answers := full()
	answers["start"] = coretest.Answer("2037-03-20")
	r.must("p-ilse", begin(), request.Submit{Answers: answers, Prefix: "QS", Number: 10432})
	ahead := r.state.At
	r.facts.Now = now
	r.must("p-tomas", approve()).must("p-caro", take("safety"), request.Complete{Task: "safety"}).must("p-kira", take("photo"), request.Complete{Task: "photo"})
	assert.Equal(t, ahead, r.state.At, "history never runs backwards")
	assert.True(t, r.effects["r1/write"].At.Before(now.Add(time.Hour)), "what is to be called is called now")
	r.must(request.Program, request.Fail{Task: "write", Trouble: "Busy."})
	assert.True(t, r.effects["r1/write"].At.Before(now.Add(2*time.Hour)), "and again soon")
	r.must(request.Program, request.Succeed{Task: "write"})
	require.Equal(t, request.Delivered, r.state.Status)
	assert.True(t, r.state.ConfirmBy.Before(now.AddDate(0, 1, 0)), "it lapses in days, not in ten years")
	assert.True(t, r.effects["r1/lapse"].At.Before(now.AddDate(0, 1, 0)))
}
