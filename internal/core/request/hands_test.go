package request_test

import (
	"slices"
	"testing"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// deskWork is a plan with a task of each sort. Keks leads Keys, of which Kira is
// a member, too; Caro leads Crew; Olga owns the service; Tomas has no part in it.
func deskWork(d *offering.Document) {
	d.Ladder = nil
	call := &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "x", "zones": "y"}}
	d.Plan = []plan.Task{
		{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys", MustDos: []string{"Look twice"}, Lines: "badge", Outputs: []plan.Output{{Key: "weight", Name: "Weight", Kind: plan.Number}, {Key: "remark", Name: "Remark", Free: true}}},
		{Key: "write", Name: "Write", Kind: plan.Automatic, Team: "keys", Action: call, Undo: &plan.Undo{Action: call}},
		{Key: "later", Name: "Later", Kind: plan.Manual, Team: "crew", After: []string{"check"}},
		{Key: "many", Name: "Many", Kind: plan.Manual, Team: "keys", People: &plan.People{Team: "keys", Enough: "all"}},
		{Key: "wait", Name: "Wait", Kind: plan.Wait, Wait: &plan.Until{Moment: plan.Moment{Of: "answers.start", At: "09:00"}}},
		{Key: "seat", Name: "Seat", Kind: plan.Manual, Team: "crew", Pool: &plan.PoolUse{Pool: "seats"}},
	}
}

func take(task string) request.Take { return request.Take{Task: task} }

// What is refused, to whom and why; an empty code is allowed. What was done
// before stands first.
func TestWhatIsRefused(t *testing.T) {
	type said struct {
		who string
		c   request.Command
	}
	taken := []said{{"p-kira", take("check")}}
	asked := slices.Concat(taken, []said{{"p-kira", request.AskAsker{Task: "check", Text: "Which?"}}})
	stuck := []said{{"p-kira", request.GetStuck{Task: "check", Reason: "No key."}}}
	failed := []said{{request.Program, request.Fail{Task: "write", Trouble: "No.", Final: true}}}
	accepted := []said{{request.Program, request.Succeed{Task: "write", Later: true}}}
	back := []said{{"p-ilse", request.Withdraw{}}}
	undoing := slices.Concat(failed, back, []said{{request.Program, request.Fail{Task: "write", Undo: true, Trouble: "No.", Final: true}}})
	gone := slices.Concat(undoing, []said{{"p-kira", request.Skip{Task: "write", Reason: "Nothing was written."}}})
	for name, c := range map[string]struct {
		before []said
		who    string
		c      request.Command
		want   string
	}{
		"a task that is not there":           {nil, "p-kira", take("none"), refusal.NoTask},
		"of another team":                    {nil, "p-caro", take("check"), refusal.NotYours},
		"a task that waits for others":       {nil, "p-caro", take("later"), refusal.Blocked},
		"an automatic task":                  {nil, "p-kira", take("write"), refusal.Automatic},
		"one that many confirm":              {nil, "p-kira", take("many"), refusal.AsksMany},
		"one on a waiting list":              {nil, "p-caro", take("seat"), refusal.Queued},
		"taken by somebody else":             {taken, "p-keks", take("check"), refusal.Taken},
		"taken, and asking":                  {asked, "p-keks", take("check"), refusal.Taken},
		"stuck":                              {stuck, "p-keks", take("check"), refusal.Stuck},
		"take":                               {nil, "p-kira", take("check"), ""},
		"a request that is being taken back": {back, "p-kira", take("check"), refusal.Undoing},
		"a request that has closed":          {gone, "p-kira", take("check"), refusal.Closed},

		"hand over, of another team":       {nil, "p-caro", request.HandOver{Task: "check", Person: "p-caro"}, refusal.NotYours},
		"hand over what somebody has":      {slices.Concat(taken, []said{{"p-kira", request.HandOver{Task: "check", Person: "p-keks"}}}), "p-kira", request.HandOver{Task: "check"}, refusal.NotYours},
		"the lead hands over what one has": {taken, "p-keks", request.HandOver{Task: "check"}, ""},
		"the owner does so, too":           {taken, "p-olga", request.HandOver{Task: "check", Person: "p-keks"}, ""},
		"to nobody's team":                 {nil, "p-kira", request.HandOver{Task: "check", Team: "none"}, refusal.HandTo},
		"to a stranger":                    {nil, "p-kira", request.HandOver{Task: "check", Person: "p-caro"}, refusal.HandTo},
		"to one who has left":              {nil, "p-kira", request.HandOver{Task: "check", Person: "p-gone"}, refusal.HandTo},
		"to where it is":                   {nil, "p-kira", request.HandOver{Task: "check"}, refusal.HandTo},
		"to another team without a reason": {nil, "p-kira", request.HandOver{Task: "check", Team: "crew"}, refusal.ReasonNeeded},
		"to another team":                  {nil, "p-kira", request.HandOver{Task: "check", Team: "crew", Reason: "Yours."}, ""},
		"upward where nobody is":           {nil, "p-kira", request.HandOver{Task: "check", Upward: true, Reason: "Help."}, refusal.NoUpward},
		"hand over what goes by itself":    {nil, "p-kira", request.HandOver{Task: "write", Person: "p-keks"}, refusal.NotNow},
		"but when it is stuck":             {failed, "p-kira", request.HandOver{Task: "write", Person: "p-keks"}, ""},
		"hand over while it asks":          {asked, "p-kira", request.HandOver{Task: "check", Person: "p-keks"}, refusal.Asking},

		"tick before taking":      {nil, "p-kira", request.Check{Task: "check", Done: true}, refusal.NotTaken},
		"tick for somebody":       {taken, "p-keks", request.Check{Task: "check", Done: true}, refusal.NotYours},
		"a point that is not":     {taken, "p-kira", request.Check{Task: "check", Point: 1, Done: true}, refusal.NoPoint},
		"a line that is not":      {taken, "p-kira", request.Count{Task: "check", Line: 3, Done: 1}, refusal.NoLine},
		"more than there is":      {taken, "p-kira", request.Count{Task: "check", Line: 0, Done: 2}, refusal.Range},
		"confirm unasked":         {nil, "p-caro", request.ConfirmPart{Task: "many"}, refusal.NotYours},
		"confirm twice":           {[]said{{"p-kira", request.ConfirmPart{Task: "many"}}}, "p-kira", request.ConfirmPart{Task: "many"}, refusal.Confirmed},
		"confirm what is over":    {[]said{{"p-keks", request.Skip{Task: "many", Reason: "Known."}}}, "p-kira", request.ConfirmPart{Task: "many"}, refusal.Ended},
		"ask before taking":       {nil, "p-kira", request.AskAsker{Task: "check", Text: "Which?"}, refusal.NotTaken},
		"ask nothing":             {taken, "p-kira", request.AskAsker{Task: "check", Text: " "}, refusal.ReasonNeeded},
		"answer for the asker":    {asked, "p-tomas", request.Answer{Task: "check", Text: "This."}, refusal.NotYours},
		"answer unasked":          {taken, "p-ilse", request.Answer{Task: "check", Text: "This."}, refusal.NotAsked},
		"answer nothing":          {asked, "p-ilse", request.Answer{Task: "check"}, refusal.ReasonNeeded},
		"stuck on nothing":        {taken, "p-kira", request.GetStuck{Task: "check"}, refusal.ReasonNeeded},
		"stuck on another's":      {taken, "p-keks", request.GetStuck{Task: "check", Reason: "No key."}, refusal.NotYours},
		"a system that is stuck":  {nil, "p-kira", request.GetStuck{Task: "write", Reason: "No key."}, refusal.NotNow},
		"end before taking":       {nil, "p-kira", request.Complete{Task: "check"}, refusal.NotTaken},
		"end for somebody":        {taken, "p-keks", request.Complete{Task: "check"}, refusal.NotYours},
		"end while it asks":       {asked, "p-kira", request.Complete{Task: "check"}, refusal.Asking},
		"end what many confirm":   {nil, "p-kira", request.Complete{Task: "many"}, refusal.AsksMany},
		"end a call under way":    {nil, "p-kira", request.Complete{Task: "write"}, refusal.NotTaken},
		"a call that reports":     {accepted, "p-kira", request.Complete{Task: "write", Outputs: map[string]string{"number": "QB-7"}}, ""},
		"a call that is stuck":    {failed, "p-kira", request.Complete{Task: "write", Outputs: map[string]string{"number": "QB-7"}}, ""},
		"try again what is not":   {nil, "p-kira", request.Retry{Task: "write"}, refusal.NotStuck},
		"try again":               {failed, "p-kira", request.Retry{Task: "write"}, ""},
		"not of one's team":       {failed, "p-caro", request.Retry{Task: "write"}, refusal.NotYours},
		"a report that is late":   {failed, request.Program, request.Succeed{Task: "write"}, refusal.Ended},
		"a failure that is late":  {failed, request.Program, request.Fail{Task: "write", Trouble: "No."}, refusal.Ended},
		"an undo nobody asked":    {nil, request.Program, request.Succeed{Task: "write", Undo: true}, refusal.Ended},
		"accepted twice":          {accepted, request.Program, request.Succeed{Task: "write", Later: true}, refusal.Seen},
		"a report of people":      {nil, request.Program, request.Report{Task: "check", Step: "1"}, refusal.Ended},
		"a line of another order": {accepted, request.Program, request.Report{Task: "write", Step: "1", Lines: map[int]int{4: 1}}, refusal.Range},
		"the same step twice":     {slices.Concat(accepted, []said{{request.Program, request.Report{Task: "write", Step: "1"}}}), request.Program, request.Report{Task: "write", Step: "1"}, refusal.Seen},

		"leave out, not the lead":        {nil, "p-kira", request.Skip{Task: "check", Reason: "Known."}, refusal.NotYours},
		"leave out without a reason":     {nil, "p-keks", request.Skip{Task: "check"}, refusal.ReasonNeeded},
		"leave out a call under way":     {nil, "p-keks", request.Skip{Task: "write", Reason: "Known."}, refusal.Calling},
		"a member leaves out the stuck":  {failed, "p-kira", request.Skip{Task: "write", Reason: "Known."}, ""},
		"leave out what has ended":       {[]said{{"p-keks", request.Skip{Task: "check", Reason: "Known."}}}, "p-keks", request.Skip{Task: "check", Reason: "Known."}, refusal.Ended},
		"leave out while it is undone":   {back, "p-keks", request.Skip{Task: "check", Reason: "Known."}, refusal.Undoing},
		"leave an undo under way":        {slices.Concat(failed, back), "p-keks", request.Skip{Task: "write", Reason: "Known."}, refusal.Calling},
		"leave an undo that is stuck":    {undoing, "p-kira", request.Skip{Task: "write", Reason: "Nothing was written."}, ""},
		"do the undo by hand, untaken":   {undoing, "p-kira", request.Complete{Task: "write"}, ""},
		"of another's hand":              {slices.Concat(undoing, []said{{"p-kira", take("write")}}), "p-keks", request.Complete{Task: "write"}, refusal.NotYours},
		"begin earlier, not the lead":    {nil, "p-kira", request.Waive{Task: "later", After: "check", Reason: "Known."}, refusal.NotYours},
		"begin earlier than what is not": {nil, "p-caro", request.Waive{Task: "later", After: "write", Reason: "Known."}, refusal.NotAfter},
		"begin earlier what can begin":   {nil, "p-keks", request.Waive{Task: "check", After: "write", Reason: "Known."}, refusal.NotBlocked},
		"begin earlier for no reason":    {nil, "p-caro", request.Waive{Task: "later", After: "check"}, refusal.ReasonNeeded},
		"begin earlier":                  {nil, "p-caro", request.Waive{Task: "later", After: "check", Reason: "Known."}, ""},

		"add a task, not a lead":     {nil, "p-kira", request.AddTask{Name: "More", Team: "keys", Reason: "Needed."}, refusal.NotYours},
		"without a name":             {nil, "p-keks", request.AddTask{Team: "keys", Reason: "Needed."}, refusal.BadTask},
		"for nobody":                 {nil, "p-keks", request.AddTask{Name: "More", Reason: "Needed."}, refusal.BadTask},
		"before what has begun":      {nil, "p-keks", request.AddTask{Name: "More", Team: "keys", Before: "check", Reason: "Needed."}, refusal.BadTask},
		"of an effort that is none":  {nil, "p-keks", request.AddTask{Name: "More", Team: "keys", Effort: "long", Reason: "Needed."}, refusal.BadTask},
		"of less than no effort":     {nil, "p-keks", request.AddTask{Name: "More", Team: "keys", Effort: "-1h", Reason: "Needed."}, refusal.BadTask},
		"without a reason":           {nil, "p-keks", request.AddTask{Name: "More", Team: "keys"}, refusal.ReasonNeeded},
		"to what is taken back":      {back, "p-keks", request.AddTask{Name: "More", Team: "keys", Reason: "Needed."}, refusal.NotNow},
		"add a task":                 {nil, "p-caro", request.AddTask{Name: "More", Team: "keys", Before: "later", Effort: "2h", Reason: "Needed."}, ""},
		"cancel, not a lead":         {nil, "p-kira", request.Cancel{Reason: "No."}, refusal.NotYours},
		"cancel without a reason":    {nil, "p-keks", request.Cancel{}, refusal.ReasonNeeded},
		"cancel with no reason left": {nil, "p-keks", request.Cancel{Chosen: "Doubled"}, refusal.ReasonNeeded},
		"cancel what is taken back":  {back, "p-keks", request.Cancel{Reason: "No."}, refusal.NotNow},
		"take back what is not mine": {nil, "p-kira", request.Withdraw{}, refusal.NotYours},
		"take back twice":            {back, "p-ilse", request.Withdraw{}, refusal.NotNow},
		"a place nobody waits for":   {nil, request.Program, request.Advance{Task: "check"}, refusal.NoPlace},
		"a place that is not free":   {nil, request.Program, request.Advance{Task: "seat"}, refusal.NoPlace},
		"one who is there":           {taken, request.Program, request.Free{Task: "check"}, refusal.NotNeeded},
	} {
		t.Run(name, func(t *testing.T) {
			r := start(t, deskWork).must("p-ilse", begin(), submit())
			for _, s := range c.before {
				r.must(s.who, s.c)
			}
			state, err := text(t, r.state), r.do(c.who, c.c)
			if c.want == "" {
				require.NoError(t, err)
				assert.NotEqual(t, state, text(t, r.state))
				return
			}
			why, ok := request.AsRefusal(err)
			require.True(t, ok, "%v", err)
			assert.Equal(t, c.want, why.Code)
			assert.Regexp(t, `^["A-Z].*\.$`, why.Sentence)
			assert.Equal(t, state, text(t, r.state), "what is refused changes nothing")
		})
	}
}

// All that is missing for the end of a task is told at once, each at its place.
func TestWhatIsMissingForTheEnd(t *testing.T) {
	r := start(t, deskWork).must("p-ilse", begin(), submit()).must("p-kira", take("check"))
	places := func(c request.Complete) (all []string) {
		why, ok := request.AsRefusal(r.do("p-kira", c))
		require.True(t, ok)
		assert.Equal(t, refusal.Incomplete, why.Code)
		for _, d := range why.Details {
			all = append(all, d.Code+" "+d.Place)
		}
		return all
	}
	done := request.Complete{Task: "check", Outputs: map[string]string{"weight": "heavy"}}
	assert.Equal(t, []string{"mustDo /mustDos/0", "line /lines/0", "output /outputs/weight"}, places(done))
	r.must("p-kira", request.Check{Task: "check", Done: true})
	assert.Equal(t, []string{"line /lines/0", "output /outputs/weight"}, places(done))
	r.must("p-kira", request.Count{Task: "check", Done: 1})
	assert.Equal(t, []string{"output /outputs/weight"}, places(done))
	done.Outputs = map[string]string{"weight": "12.5"}
	r.must("p-kira", done)
	task, _ := r.state.Task("check")
	assert.Equal(t, map[string]string{"weight": "12.5"}, task.Outputs, "what is free may be left out")
	later, _ := r.state.Task("later")
	assert.Equal(t, plan.Ready, later.State)

	r = start(t, deskWork).must("p-ilse", begin(), submit()).must("p-kira", take("check"), request.Check{Task: "check", Done: true})
	r.must("p-kira", request.Complete{Task: "check", Outputs: map[string]string{"weight": "1"}, Word: "The rest follows."})
	task, _ = r.state.Task("check")
	assert.Equal(t, "The rest follows.", task.Word, "with a word it may end in part")
}

// What the screens offer is what is not refused: whoever may give a command by
// the list can give it, and nobody else.
func TestOnlyAllowedStepsAreOffered(t *testing.T) {
	for _, before := range [][]request.Command{
		nil, {take("check")}, {take("check"), request.AskAsker{Task: "check", Text: "Which?"}}, {request.GetStuck{Task: "check", Reason: "No key."}},
	} {
		for _, person := range []string{"p-kira", "p-keks", "p-caro", "p-olga", "p-tomas"} {
			for name, c := range map[request.Offer]request.Command{
				"take": take("check"), "complete": request.Complete{Task: "check", Outputs: map[string]string{"weight": "1"}, Word: "Done."}, "askAsker": request.AskAsker{Task: "check", Text: "Which?"},
				"getStuck": request.GetStuck{Task: "check", Reason: "No key."}, "skip": request.Skip{Task: "check", Reason: "Known."}, "retry": request.Retry{Task: "check"},
				"handOver": request.HandOver{Task: "check", Team: "crew", Reason: "Yours."}, "check": request.Check{Task: "check", Done: true}, "waive": request.Waive{Task: "check", After: "write", Reason: "Known."},
			} {
				r := start(t, func(d *offering.Document) { deskWork(d); d.Plan[0].MustDos = nil })
				if name == "check" {
					r = start(t, deskWork)
				}
				r.must("p-ilse", begin(), submit()).must("p-kira", before...)
				offered := r.allowed(person, "check")
				if err := r.do(person, c); err == nil {
					assert.Contains(t, offered, name, "%s may %s after %v", person, name, before)
				} else {
					assert.NotContains(t, offered, name, "%s may not %s after %v: %v", person, name, before, err)
				}
			}
		}
	}
}

// The same while what was done is being taken back: by a call under way, by one
// that is stuck, by hand, and by somebody who has taken it.
func TestOnlyAllowedStepsAreOfferedOfAnUndo(t *testing.T) {
	fails := request.Fail{Task: "write", Undo: true, Trouble: "No.", Final: true}
	call := &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "x", "zones": "y"}}
	for name, c := range map[string]struct {
		undo   plan.Undo
		before func(r *run)
	}{
		"a call under way":  {plan.Undo{Action: call}, func(*run) {}},
		"a call stuck":      {plan.Undo{Action: call}, func(r *run) { r.must(request.Program, fails) }},
		"taken when stuck":  {plan.Undo{Action: call}, func(r *run) { r.must(request.Program, fails).must("p-kira", take("write")) }},
		"by hand":           {plan.Undo{Text: "End it."}, func(*run) {}},
		"by hand and taken": {plan.Undo{Text: "End it."}, func(r *run) { r.must("p-kira", take("write")) }},
	} {
		for _, person := range []string{"p-kira", "p-keks", "p-caro", "p-olga"} {
			for deed, command := range map[request.Offer]request.Command{
				"take": take("write"), "complete": request.Complete{Task: "write"}, "retry": request.Retry{Task: "write"}, "skip": request.Skip{Task: "write", Reason: "Let it be."},
				"handOver": request.HandOver{Task: "write", Team: "crew", Reason: "Yours."}, "getStuck": request.GetStuck{Task: "write", Reason: "No key."},
			} {
				r := start(t, func(d *offering.Document) { deskWork(d); d.Plan[1].Undo = &c.undo })
				r.must("p-ilse", begin(), submit()).must(request.Program, request.Succeed{Task: "write", Outputs: map[string]string{"number": "QB-7"}}).must("p-ilse", request.Withdraw{})
				c.before(r)
				offered := r.allowed(person, "write")
				if err := r.do(person, command); err == nil {
					assert.Contains(t, offered, deed, "%s: %s may %s", name, person, deed)
				} else {
					assert.NotContains(t, offered, deed, "%s: %s may not %s: %v", name, person, deed, err)
				}
			}
		}
	}
}
