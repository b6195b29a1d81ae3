package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

// Each mistake in a plan is found at its place.
func TestFindings(t *testing.T) {
	change := func(c func(*plan.Task)) []plan.Task {
		one := task("a")
		c(&one)
		return []plan.Task{one, task("b")}
	}
	auto := func(inputs map[string]string, c func(*plan.Task)) []plan.Task {
		return change(func(x *plan.Task) {
			x.Kind, x.Action = plan.Automatic, &plan.Action{Connector: "badges", Do: "write", Inputs: inputs}
			if c != nil {
				c(x)
			}
		})
	}
	badge := map[string]string{"holder": "{{ asker.name }}", "opens": "Gate"}
	for name, c := range map[string]struct {
		tasks       []plan.Task
		code, place string
	}{
		"no task":                  {nil, "noTasks", "/plan"},
		"two of one key":           {[]plan.Task{task("a"), task("a")}, "duplicateKey", "/plan/1/key"},
		"a key that is none":       {[]plan.Task{task("-a")}, "badKey", "/plan/0/key"},
		"no name":                  {change(func(x *plan.Task) { x.Name = " " }), "noName", "/plan/0/name"},
		"no team":                  {change(func(x *plan.Task) { x.Team = "" }), "noTeam", "/plan/0/team"},
		"no such team":             {change(func(x *plan.Task) { x.Team = "cooks" }), "unknownTeam", "/plan/0/team"},
		"after nothing":            {[]plan.Task{task("a", "z")}, "unknownTask", "/plan/0/after/0"},
		"a circle":                 {[]plan.Task{task("a", "b"), task("b", "a")}, "circle", "/plan/0/after"},
		"a slice of nothing":       {change(func(x *plan.Task) { x.Slice = []string{"missing"} }), "unknownQuestion", "/plan/0/slice/0"},
		"shown outside its slice":  {change(func(x *plan.Task) { x.Instructions = "Go to {{ answers.port }}." }), "outsideSlice", "/plan/0/instructions"},
		"an unreadable text":       {change(func(x *plan.Task) { x.Instructions = "{{ asker. }}" }), "placeholder", "/plan/0/instructions"},
		"an effort that is none":   {change(func(x *plan.Task) { x.Effort = "soon" }), "length", "/plan/0/effort"},
		"a negative effort":        {change(func(x *plan.Task) { x.Effort = "-2h" }), "length", "/plan/0/effort"},
		"for each of no list":      {change(func(x *plan.Task) { x.Each = "port" }), "unknownQuestion", "/plan/0/each"},
		"lines of no list":         {change(func(x *plan.Task) { x.Lines = "ports" }), "noLines", "/plan/0/lines"},
		"an empty point":           {change(func(x *plan.Task) { x.MustDos = []string{"One", " "} }), "emptyPoint", "/plan/0/mustDos/1"},
		"an output without a name": {change(func(x *plan.Task) { x.Outputs = []plan.Output{{Key: "serial"}} }), "badOutput", "/plan/0/outputs/0"},
		"outputs of one key":       {change(func(x *plan.Task) { x.Outputs = []plan.Output{{Key: "s", Name: "S"}, {Key: "s", Name: "T"}} }), "badOutput", "/plan/0/outputs/1"},
		"an output from nowhere":   {change(func(x *plan.Task) { x.Outputs = []plan.Output{{Key: "s", Name: "S", From: "order"}} }), "badOutput", "/plan/0/outputs/0/from"},
		"a route without a rule":   {change(func(x *plan.Task) { x.Routes = []plan.Route{{Team: "keys"}} }), "noRule", "/plan/0/routes/0/when"},
		"a route to no team":       {change(func(x *plan.Task) { x.Routes = []plan.Route{{When: "true", Team: "cooks"}} }), "unknownTeam", "/plan/0/routes/0/team"},
		"due at nothing":           {change(func(x *plan.Task) { x.Due = &plan.Due{} }), "noDue", "/plan/0/due"},
		"due after no task":        {change(func(x *plan.Task) { x.Due = &plan.Due{Moment: plan.Moment{Task: "z"}} }), "unknownTask", "/plan/0/due/task"},
		"due before a task's end":  {change(func(x *plan.Task) { x.Due = &plan.Due{Moment: plan.Moment{Task: "b", Days: -1}} }), "before", "/plan/0/due/days"},
		"due at no clock time":     {change(func(x *plan.Task) { x.Due = &plan.Due{Moment: plan.Moment{Of: "today", At: "25:00"}} }), "clockTime", "/plan/0/due/at"},
		"due a year ahead":         {change(func(x *plan.Task) { x.Due = &plan.Due{Moment: plan.Moment{Of: "today", Days: 251}} }), "days", "/plan/0/due/days"},
		"a reminder that is none":  {change(func(x *plan.Task) { x.Due = &plan.Due{Within: "1d", Remind: []string{"often"}} }), "length", "/plan/0/due/remind/0"},
		"an undo of nothing":       {change(func(x *plan.Task) { x.Undo = &plan.Undo{} }), "noUndo", "/plan/0/undo"},
		"many of nobody":           {change(func(x *plan.Task) { x.People = &plan.People{Enough: "all"} }), "nobody", "/plan/0/people"},
		"many of no team":          {change(func(x *plan.Task) { x.People = &plan.People{Team: "cooks", Enough: "all"} }), "unknownTeam", "/plan/0/people/team"},
		"how many":                 {change(func(x *plan.Task) { x.People = &plan.People{Team: "keys", Enough: "most"} }), "enough", "/plan/0/people/enough"},
		"a belonging of nothing":   {change(func(x *plan.Task) { x.Belonging = &plan.Belonging{Does: plan.Make, Kind: "badge"} }), "noBelonging", "/plan/0/belonging"},
		"which is ended":           {change(func(x *plan.Task) { x.Belonging = &plan.Belonging{Does: plan.End} }), "noBelonging", "/plan/0/belonging/which"},
		"a belonging is lent":      {change(func(x *plan.Task) { x.Belonging = &plan.Belonging{Does: "lend"} }), "noBelonging", "/plan/0/belonging/does"},
		"an action by people":      {change(func(x *plan.Task) { x.Action = &plan.Action{Connector: "badges", Do: "write"} }), "action", "/plan/0/action"},
		"automatic with no action": {change(func(x *plan.Task) { x.Kind = plan.Automatic }), "noAction", "/plan/0/action"},
		"no such action":           {change(func(x *plan.Task) { x.Kind, x.Action = plan.Automatic, &plan.Action{Connector: "badges", Do: "burn"} }), "unknownAction", "/plan/0/action"},
		"an input is missing":      {auto(map[string]string{"opens": "Gate"}, nil), "noInput", "/plan/0/action/inputs/holder"},
		"an input too many":        {auto(map[string]string{"holder": "A", "opens": "Gate", "colour": "red"}, nil), "unknownInput", "/plan/0/action/inputs/colour"},
		"a try that is none":       {auto(badge, func(x *plan.Task) { x.Tries = []string{"1s", "soon"} }), "tries", "/plan/0/tries/1"},
		"a try after two days":     {auto(badge, func(x *plan.Task) { x.Tries = []string{"48h"} }), "tries", "/plan/0/tries/0"},
		"a wait for nothing":       {change(func(x *plan.Task) { x.Kind = plan.Wait }), "noWait", "/plan/0/wait"},
		"a message of nothing":     {change(func(x *plan.Task) { x.Kind = plan.Message }), "noWords", "/plan/0/words"},
		"a message to nobody": {change(func(x *plan.Task) {
			x.Kind, x.Words = plan.Message, &plan.Words{To: "everybody", Subject: "S", Text: "T"}
		}), "noReader", "/plan/0/words/to"},
		"no kind of task": {change(func(x *plan.Task) { x.Kind = "ritual" }), "badKind", "/plan/0/kind"},
		"read before it is known": {[]plan.Task{
			{Key: "a", Name: "A", Kind: plan.Manual, Team: "keys", Outputs: []plan.Output{{Key: "serial", Name: "Serial"}}},
			{Key: "b", Name: "B", Kind: plan.Manual, Team: "keys", Instructions: "{{ outputs.a.serial }}"},
		}, "notYetKnown", "/plan/1/instructions"},
	} {
		t.Run(name, func(t *testing.T) {
			_, found := examine(t, rule.Fields{"port": rule.Text}, c.tasks...)
			assert.Contains(t, codes(found), c.code+" "+c.place)
		})
	}
}

func codes(found finding.List) (all []string) {
	for _, f := range found {
		all = append(all, f.Code+" "+f.Place)
	}
	return all
}

// A task is made for each of the things a source holds; those for the same
// thing follow each other, one for none passes the waiting on.
func TestMake(t *testing.T) {
	each := func(key, source string, after ...string) plan.Task {
		x := task(key, after...)
		x.Each = source
		return x
	}
	p := compile(t, task("order"), each("pack", "cabins", "order"), each("send", "cabins", "pack"), each("stamp", "papers", "order"), task("close", "send", "stamp"))
	made := func(things map[string][]string) map[string][]string {
		out := map[string][]string{}
		for _, m := range p.Make(func(source string) (all []plan.Each) {
			for i, name := range things[source] {
				all = append(all, plan.Each{Number: i + 1, Name: name})
			}
			return all
		}) {
			out[m.Key+" "+m.Name] = m.After
		}
		return out
	}
	assert.Equal(t, map[string][]string{
		"order order": nil, "pack.1 pack: One": {"order"}, "pack.2 pack: Two": {"order"}, "send.1 send: One": {"pack.1"}, "send.2 send: Two": {"pack.2"},
		"stamp.1 stamp: Paper": {"order"}, "close close": {"send.1", "send.2", "stamp.1"},
	}, made(map[string][]string{"cabins": {"One", "Two"}, "papers": {"Paper"}}))
	assert.Equal(t, map[string][]string{"order order": nil, "close close": {"order"}}, made(nil), "nothing is picked: what comes after waits for what came before")
}

// The task of the plan is found by the key of any task that was made of it, and by none that
// a request made itself.
func TestOf(t *testing.T) {
	each := task("pack")
	each.Each = "cabins"
	p := compile(t, each, task("pack-run"), task("close"))
	for key, of := range map[string]string{
		"pack": "pack", "pack.12": "pack", "close-run-3": "close", "pack-run": "pack-run", "pack-run-2": "pack", "pack-run-run-2": "pack-run",
		"pack-2": "", "pack.": "", "added-4": "", "right-1": "", "packs": "", "": "",
	} {
		found, there := p.Of(key)
		assert.Equal(t, of, found.Key, key)
		assert.Equal(t, of != "", there, key)
	}
	for _, m := range append(p.Make(func(string) []plan.Each { return []plan.Each{{Number: 1}, {Number: 10}} }), p.Run("close", 7)) {
		found, there := p.Of(m.Key)
		assert.True(t, there, m.Key)
		assert.Equal(t, m.Of, found.Key, m.Key)
	}
}

// A plan with a circle is refused, and whatever is computed with it all the
// same comes to an end.
func TestACircleOfTasksForEach(t *testing.T) {
	a, b := task("a", "b"), task("b", "a")
	a.Each, b.Each = "cabins", "cabins"
	p, found := examine(t, nil, a, b, task("c", "a"))
	assert.Contains(t, codes(found), "circle /plan/0/after")
	assert.Len(t, p.Make(func(string) []plan.Each { return nil }), 1)
}

// Waits and due times, computed by hand in a week of Monday to Friday, 9 to 12
// and 13 to 17, in Lisbon, where summer time begins on Sunday, 28 March 2027.
func TestMoments(t *testing.T) {
	work := coretest.Week("Europe/Lisbon", []string{"mon", "tue", "wed", "thu", "fri"}, "09:00-12:00", "13:00-17:00")
	ended := coretest.At(t, "2027-03-12 15:30") // a Friday
	clocks := plan.Clocks{Work: work, Ended: func(string) (time.Time, bool) { return ended, true }}
	day := func(text string) rule.Values {
		d, err := calendar.ParseDate(text)
		require.NoError(t, err)
		return rule.Values{Roots: map[string]rule.Record{"answers": {"start": rule.OfDate(d)}}}
	}
	for name, c := range map[string]struct {
		moment    plan.Moment
		start     string
		wait, due string
	}{
		"on the day":                 {plan.Moment{Of: "answers.start"}, "2027-03-17", "2027-03-17T09:00:00Z", "2027-03-17T17:00:00Z"},
		"three days before":          {plan.Moment{Of: "answers.start", Days: -3}, "2027-03-17", "2027-03-12T09:00:00Z", "2027-03-12T17:00:00Z"},
		"two days after a Thursday":  {plan.Moment{Of: "answers.start", Days: 2}, "2027-03-18", "2027-03-22T09:00:00Z", "2027-03-22T17:00:00Z"},
		"at a clock time":            {plan.Moment{Of: "answers.start", Days: -1, At: "12:30"}, "2027-03-17", "2027-03-16T12:30:00Z", "2027-03-16T12:30:00Z"},
		"out of hours":               {plan.Moment{Of: "answers.start", At: "23:15"}, "2027-03-17", "2027-03-17T23:15:00Z", "2027-03-17T23:15:00Z"},
		"in summer time":             {plan.Moment{Of: "answers.start", Days: 1}, "2027-03-26", "2027-03-29T08:00:00Z", "2027-03-29T16:00:00Z"},
		"on a Saturday":              {plan.Moment{Of: "answers.start"}, "2027-03-20", "2027-03-22T09:00:00Z", "2027-03-19T17:00:00Z"},
		"after the end of another":   {plan.Moment{Task: "other", Days: 1}, "2027-03-17", "2027-03-15T09:00:00Z", "2027-03-15T17:00:00Z"},
		"on the day another ended":   {plan.Moment{Task: "other", At: "18:00"}, "2027-03-17", "2027-03-12T18:00:00Z", "2027-03-12T18:00:00Z"},
		"a date that has long gone":  {plan.Moment{Of: "answers.start", Days: -5}, "2026-01-09", "2026-01-02T09:00:00Z", "2026-01-02T17:00:00Z"},
		"beyond the end of the year": {plan.Moment{Of: "answers.start", Days: 3}, "2027-12-30", "2028-01-04T09:00:00Z", "2028-01-04T17:00:00Z"},
	} {
		t.Run(name, func(t *testing.T) {
			wait := plan.Task{Key: "wait", Name: "Wait", Kind: plan.Wait, Wait: &plan.Until{Moment: c.moment}}
			due := task("due")
			due.Due = &plan.Due{Moment: c.moment, Remind: []string{"2h", "1d"}}
			p, found := examine(t, rule.Fields{"start": rule.DateT}, wait, due, task("other"))
			closed := c.moment.Task == "" && c.moment.Days == 0 && c.moment.At == ""
			require.Len(t, found, map[bool]int{true: 1}[closed], "a date that may be a closed day is found: %v", found)
			assert.Equal(t, c.wait, p.WaitUntil("wait", day(c.start), clocks).UTC().Format(time.RFC3339))
			at, remind := p.Due("due", ended, day(c.start), clocks)
			assert.Equal(t, c.due, at.UTC().Format(time.RFC3339))
			require.Len(t, remind, 2)
			assert.True(t, remind[0].Before(remind[1]) && remind[1].Before(at), "the earlier first")
		})
	}
}

// Reminders so much open time before a task is due, over breaks and weekends; none
// comes at the beginning of a break, when nobody is there.
func TestReminders(t *testing.T) {
	work := coretest.Week("Europe/Lisbon", []string{"mon", "tue", "wed", "thu", "fri"}, "09:00-12:00", "13:00-17:00")
	start, err := calendar.ParseDate("2027-03-15")
	require.NoError(t, err)
	for before, want := range map[string]string{"1h": "2027-03-15T16:00:00Z", "4h": "2027-03-15T13:00:00Z", "5h": "2027-03-15T11:00:00Z", "8h": "2027-03-12T16:00:00Z", "1d": "2027-03-12T17:00:00Z"} {
		due := task("due")
		due.Due = &plan.Due{Moment: plan.Moment{Of: "answers.start"}, Remind: []string{before}}
		p, found := examine(t, rule.Fields{"start": rule.DateT}, due)
		require.Empty(t, found)
		_, remind := p.Due("due", time.Time{}, rule.Values{Roots: map[string]rule.Record{"answers": {"start": rule.OfDate(start)}}}, plan.Clocks{Work: work})
		require.Len(t, remind, 1)
		assert.Equal(t, want, remind[0].Format(time.RFC3339), before)
	}
}

// A task that is due so long after it could begin.
func TestDueWithin(t *testing.T) {
	work := coretest.Week("Europe/Lisbon", []string{"mon", "tue", "wed", "thu", "fri"}, "09:00-12:00", "13:00-17:00")
	for ready, want := range map[string]string{
		"2027-03-12 10:00": "2027-03-12T15:00:00Z", // two hours before noon, two after one
		"2027-03-12 16:00": "2027-03-15T12:00:00Z", // an hour on Friday, three on Monday
		"2027-03-13 11:00": "2027-03-15T14:00:00Z", // from Monday's opening
	} {
		x := task("a")
		x.Due = &plan.Due{Within: "4h"}
		at, _ := compile(t, x).Due("a", coretest.At(t, ready), rule.Values{}, plan.Clocks{Work: work})
		assert.Equal(t, want, at.UTC().Format(time.RFC3339), ready)
	}
}

// Whoever is asked to confirm: all of a team that are there, or those named.
func TestAsked(t *testing.T) {
	company := coretest.Company().Directory
	x := task("a")
	x.People = &plan.People{Team: "keys", Enough: "all"}
	asked := compile(t, x).Confirmers("a", company, nil)
	assert.ElementsMatch(t, company.Members("keys"), asked)
	x.People = &plan.People{Question: "crew", Enough: "any"}
	var anyone people.Person
	for _, p := range company.Persons() {
		anyone = p
	}
	asked = compile(t, x).Confirmers("a", company, func(string) []string { return []string{anyone.Login, "nobody", anyone.Login} })
	assert.Equal(t, []string{anyone.ID}, asked, "each once, and only who is known")
	assert.Nil(t, compile(t, task("a")).Confirmers("a", company, nil))
}
