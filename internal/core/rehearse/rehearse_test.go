package rehearse_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// badge is the document of the badge of the small company, with changes.
func badge(change ...func(*offering.Document)) offering.Document {
	d := coretest.Badge()
	d.Promise.Targets = []promise.Target{{Name: "Usual", Response: "8h", Fulfilment: "5d"}}
	for _, c := range change {
		c(&d)
	}
	return d
}

// ground is that of the badge in the small company.
func ground(change ...func(*offering.Document)) rehearse.Ground {
	return groundOf(badge(change...), coretest.Company())
}

// groundOf is that of an offering in a company.
func groundOf(d offering.Document, company offering.Company) rehearse.Ground {
	return rehearse.Ground{
		Company: company.Directory, Connectors: company.Connectors, Prefix: "QS",
		Compile: func(in *people.Directory) (*offering.Compiled, finding.List) {
			return offering.Compile(d, 1, offering.Company{Directory: in, Connectors: company.Connectors})
		},
	}
}

// sent is Ilse's badge, sent on a Monday at nine.
const sent = `
format: heptad/rehearsal/1
asker: ilse
send: 2027-03-08T09:00:00Z
answers: {port: orm, zones: [fuel], reason: Bunkering, start: 2027-03-15, badge: [{item: card, quantity: 1}]}
`

func read(t *testing.T, text string) script.Script {
	t.Helper()
	s, _, err := script.Parse([]byte(text))
	require.NoError(t, err)
	return s
}

func run(t *testing.T, g rehearse.Ground, text string) *rehearse.Life {
	t.Helper()
	life, err := rehearse.Run(g, read(t, text))
	require.NoError(t, err)
	return life
}

// kinds are the events of a life: when, who and what.
func kinds(l *rehearse.Life) []string {
	var out []string
	for _, e := range l.Result().Events {
		out = append(out, e.At.Format("02 15:04")+" "+strings.TrimSpace(e.By+" "+e.Kind))
	}
	return out
}

// A whole life worked out by hand: Tomas approves after an hour; Caro and Keks work four
// hours of their plain calendar, which is open round the clock; the badge is written at
// once; Ilse confirms an hour later.
func TestALifeFromSendingToClosing(t *testing.T) {
	life := run(t, ground(), sent)
	assert.Equal(t, []string{
		"08 09:00 ilse drafted", "08 09:00 ilse submitted", "08 09:00 ilse rungOpened", "08 09:00 ilse dueSet",
		"08 10:00 tomas voted", "08 10:00 tomas clockEnded", "08 10:00 tomas rungEnded", "08 10:00 tomas decided", "08 10:00 tomas planned", "08 10:00 tomas taskReady", "08 10:00 tomas taskReady",
		"08 10:00 caro taskTaken", "08 10:00 keks taskTaken", "08 14:00 caro taskDone", "08 14:00 keks taskDone", "08 14:00 keks taskReady",
		"08 14:00 taskDone", "08 14:00 delivered", "08 14:00 clockEnded", "08 15:00 ilse confirmed", "08 15:00 ilse closed",
	}, kinds(life))
	r := life.Result()
	assert.Equal(t, rehearse.Closed, r.End)
	assert.Equal(t, request.Fulfilled, r.Request.Outcome)
	assert.Equal(t, "12.50", r.Request.Price.Once)
	assert.True(t, *r.Promise.Kept)
	assert.Equal(t, "PT5H", r.Promise.Used.String())
	assert.Equal(t, rehearse.Counts{Rungs: 1, Tasks: 3, Messages: len(r.Messages), Calls: 1}, r.Counts)
	assert.Equal(t, "Ilse Brandvik", r.Calls[0].Inputs["holder"])
	assert.Equal(t, []string{"photo", "safety"}, r.Tasks[2].After)
	assert.Equal(t, "Fuel dock", r.Tasks[0].Slice[0].Text)
	require.Len(t, r.Held, 3, "a system that answers at once holds nothing: %v", r.Held)
	assert.Equal(t, []string{"Tomas Lindqvist"}, r.Held[0].Who)
	assert.Equal(t, []string{"Caro Vintila", "Keks Oyelaran"}, r.Held[1].Who)
	assert.Equal(t, []string{"Ilse Brandvik"}, r.Held[2].Who)
	assert.Equal(t, "-P", r.Sending.Off[:2], "it was quicker than foreseen")
	var subjects []string
	for _, m := range r.Messages {
		if m.To == "tomas" {
			subjects = append(subjects, m.Subject)
		}
	}
	assert.Equal(t, []string{"Your decision: Quay access badge"}, subjects)
}

// Two runs of one script give the same bytes.
func TestTwoRunsAreTheSame(t *testing.T) {
	text := sent + "cast: {systems: {badges: {refuse: 2}}}\nscript: [{after: PT30M, who: tomas, do: askBack, text: For whom}]\n"
	one, err := json.Marshal(run(t, ground(), text).Result())
	require.NoError(t, err)
	for range 5 {
		again, err := json.Marshal(run(t, ground(), text).Result())
		require.NoError(t, err)
		require.Equal(t, string(one), string(again))
	}
}

func TestMishaps(t *testing.T) {
	gone := func(d *offering.Document) { d.Plan[1].Undo = &plan.Undo{Text: "Throw it away."} }
	for name, c := range map[string]struct {
		more  string
		ends  string
		shows []string // of what happened
	}{
		"declined":            {`script: [{at: 2027-03-08T09:30:00Z, who: tomas, do: decline, reason: Too dear}]`, "closed declined", []string{"08 09:30 tomas voted"}},
		"refused twice":       {`cast: {systems: {badges: {refuse: 2}}}`, "closed fulfilled", []string{"08 14:00 callFailed"}},
		"down for a time":     {`cast: {systems: {badges: {down: [2027-03-08T14:00:00Z, 2027-03-08T14:00:20Z]}}}`, "closed fulfilled", []string{"08 14:00 callFailed"}},
		"never works":         {`cast: {systems: {badges: {refuse: 10000}}}`, "closed fulfilled", []string{"taskStuck", "taskRetried", "keks taskDone"}},
		"the asker is silent": {`cast: {asker: silent}`, "closed fulfilled", []string{"15 14:00 closed"}},
		"nobody decides":      {`cast: {approvers: none}`, "closed expired", []string{"05 08:00 closed"}},
		"nobody works":        {`cast: {tasks: none}` + "\nuntil: 2027-03-20T09:00:00Z", "until ", []string{"15 09:00 markReached"}},
		"a slow task":         {`cast: {tasks: {each: {photo: {factor: 3}}}}`, "closed fulfilled", []string{"08 22:00 keks taskDone"}},
		"asked back":          {`script: [{after: PT30M, who: tomas, do: askBack, text: For whom}]`, "closed fulfilled", []string{"08 09:30 tomas askedBack", "08 10:30 ilse resubmitted", "08 11:30 tomas voted"}},
		"asked at work":       {`script: [{at: 2027-03-08T11:00:00Z, who: caro, do: ask, task: safety, text: When}]`, "closed fulfilled", []string{"08 11:00 caro taskTaken", "08 11:00 caro askerAsked", "08 12:00 ilse askerAnswered"}},
		"stuck at work":       {`script: [{at: 2027-03-08T11:00:00Z, who: caro, do: stuck, task: safety, reason: No key}]`, "closed fulfilled", []string{"08 11:00 caro taskStuck", "08 12:00 caro taskRetried"}},
		"taken back":          {`script: [{at: 2027-03-08T14:00:00Z, who: asker, do: sendBack, text: Wrong name}]`, "closed fulfilled", []string{"08 14:00 ilse sentBack"}},
		"withdrawn":           {`script: [{at: 2027-03-08T12:00:00Z, who: ilse, do: withdraw}]`, "closed withdrawn", []string{"08 12:00 ilse undoingBegun"}},
		"Heptad is off":       {`script: [{at: 2027-03-08T09:30:00Z, down: PT6H}]`, "closed fulfilled", []string{"08 15:30 tomas voted"}},
		"an hour after":       {`script: [{after: PT1H, who: ilse, do: comment, text: Hello}, {after: PT2H, who: ilse, do: comment, text: Again}]`, "closed fulfilled", []string{"08 10:00 ilse commented", "08 12:00 ilse commented"}},
	} {
		t.Run(name, func(t *testing.T) {
			life := run(t, ground(gone), sent+c.more+"\n")
			assert.Equal(t, c.ends, string(life.End)+" "+string(life.State.Outcome), "%v %v", kinds(life), life.Refused)
			all := strings.Join(kinds(life), "\n")
			for _, show := range c.shows {
				assert.Contains(t, all, show)
			}
		})
	}
}

// What the core refuses stands in the result with its reason, and the run goes on.
func TestRefusalsAreToldAndPassed(t *testing.T) {
	life := run(t, ground(), sent+`script:
  - {at: 2027-03-08T09:10:00Z, who: ilse, do: approve}
  - {at: 2027-03-08T09:20:00Z, who: olga, do: complete, task: photo}
  - {at: 2027-03-08T09:30:00Z, down: PT1H}
  - {at: 2027-03-08T09:40:00Z, who: ilse, do: comment, text: Hello}
`)
	r := life.Result()
	require.Len(t, r.Refused, 3)
	assert.Equal(t, 1, *r.Refused[0].Line)
	assert.Equal(t, "notYours", r.Refused[0].Code)
	assert.Equal(t, 2, *r.Refused[1].Line)
	assert.Equal(t, "Heptad is off.", r.Refused[2].Sentence)
	assert.Equal(t, request.Fulfilled, r.Request.Outcome)
}

// A line names a task that is made for each thing by the key it has in the request.
func TestALineOnOneOfSeveral(t *testing.T) {
	each := ground(func(d *offering.Document) { d.Plan[1].Each = "badge" })
	life := run(t, each, sent+"script: [{at: 2027-03-08T12:00:00Z, who: keks, do: stuck, task: photo.1, reason: No camera}]\n")
	assert.Empty(t, life.Refused)
	photo, there := life.State.Task("photo.1")
	require.True(t, there)
	assert.Equal(t, "photo", photo.Of)
	assert.Contains(t, kinds(life), "08 12:00 keks taskStuck")
}

// What cannot be sent says which answers would not do.
func TestUnsent(t *testing.T) {
	r := run(t, ground(), strings.Replace(sent, "reason: Bunkering, ", "", 1)).Result()
	assert.Equal(t, rehearse.Unsent, r.End)
	require.Len(t, r.Refused, 1)
	assert.Equal(t, 0, *r.Refused[0].Line)
	assert.Contains(t, strings.Join(r.Refused[0].Details, " "), "Reason")
}

// A script that names what is not there does not begin.
func TestScriptsNameWhatIsThere(t *testing.T) {
	for more, c := range map[string]struct {
		line int
		says string
	}{
		"script: [{after: PT1H, who: nobody, do: approve}]":                              {0, `Nobody has the login "nobody"`},
		"script: [{after: PT1H, who: tomas, do: approve, rung: third}]":                  {0, `no rung "third"`},
		"script: [{after: PT1H, who: keks, do: take, task: other}]":                      {0, `no task "other"`},
		"script: [{after: PT1H, who: keks, do: handOver, task: photo, team: other}]":     {0, `no team "other"`},
		"script: [{after: PT1H, who: ilse, do: answer, text: So, answers: {colour: a}}]": {0, `no question "colour"`},
		"cast: {systems: {printer: {refuse: 1}}}":                                        {-1, `no connector "printer"`},
		"cast: {tasks: {each: {other: {factor: 2}}}}":                                    {-1, `no task "other"`},
		"for: nobody": {-1, `Nobody has the login "nobody"`},
		"company: {teams: [{key: x, lead: nobody}]}":                                {-1, `nobody with the login "nobody"`},
		"company: {calendars: {a: {format: heptad/calendar/1, zone: X, week: {}}}}": {-1, "cannot be used"},
	} {
		_, err := rehearse.Run(ground(), read(t, sent+more+"\n"))
		var wrong *script.Wrong
		require.ErrorAs(t, err, &wrong, more)
		assert.Equal(t, c.line, wrong.Line, more)
		assert.Contains(t, wrong.Sentence, c.says)
	}
	_, err := rehearse.Run(ground(func(d *offering.Document) { d.Plan[0].Team = "nowhere" }), read(t, sent))
	assert.ErrorContains(t, err, `there is no team "nowhere"`)
}

// A company without anybody in a team comes to a stand, and says why; one that waits for a
// day years ahead is stopped.
func TestItEndsInAnyCase(t *testing.T) {
	life := run(t, ground(), sent+"company: {teams: [{key: crew, name: Crewing, members: []}, {key: keys, name: Keys, members: []}]}\n")
	assert.Equal(t, rehearse.Quiet, life.End)
	assert.Contains(t, life.Why, "Check safety record, with Crewing, where nobody is")
	far := ground(func(d *offering.Document) {
		d.Plan = append(d.Plan, plan.Task{Key: "wait", Name: "Wait", Kind: plan.Wait, Wait: &plan.Until{Moment: plan.Moment{Of: "answers.start", Days: 200}}})
	})
	life = run(t, far, strings.Replace(sent, "start: 2027-03-15", "start: 2029-03-15", 1))
	assert.Equal(t, rehearse.TooLong, life.End)
	past := ground(func(d *offering.Document) {
		d.Plan = append(d.Plan, plan.Task{Key: "wait", Name: "Wait", Kind: plan.Wait, Wait: &plan.Until{Moment: plan.Moment{Of: "answers.start", Days: -100}}})
	})
	life = run(t, past, sent)
	assert.Equal(t, rehearse.Closed, life.End, "a wait for a day that is over ends at once")
}

// Of people rules know no more than the ground lets them.
func TestRulesKnowWhatTheGroundLetsThem(t *testing.T) {
	g := ground(func(d *offering.Document) { d.Ladder[0].When = `asker.department == "Fleet"` })
	assert.Len(t, run(t, g, sent).State.Rungs, 1)
	g.Known = func(p people.Person) people.Person {
		return people.Person{ID: p.ID, Login: p.Login, Name: p.Name, Department: "Nobody's business"}
	}
	assert.Empty(t, run(t, g, sent).State.Rungs)
}

// Somebody made up asks, for a newcomer, in a company that the script carries whole.
func TestACompanyOfTheScriptAlone(t *testing.T) {
	d := badge(func(d *offering.Document) { d.Audience.Newcomers = true })
	life, err := rehearse.Run(rehearse.Carried(d, nil, coretest.Company().Connectors), read(t, strings.Replace(sent, "asker: ilse", `asker: {name: Ada Lund, manager: boss}
for: {name: New Colleague}
company:
  alone: true
  people: [{login: boss, name: The Boss}, {login: one, name: First Doer}]
  teams: [{key: keys, name: Keys, lead: one, members: [one]}, {key: crew, name: Crew, lead: one, members: [one]}]
  services: [{key: access, name: Access, area: Facilities, owner: boss, home: keys}]`, 1)))
	require.NoError(t, err)
	r := life.Result()
	assert.Equal(t, request.Fulfilled, r.Request.Outcome)
	assert.Equal(t, "The Boss", r.Names[r.Rungs[0].Seats[0].Person])
	assert.Equal(t, "New Colleague", life.State.For.Newcomer.Name)
}

// The moments of a life are as its events were by then.
func TestMoments(t *testing.T) {
	life := run(t, ground(), sent)
	frames := life.Frames()
	require.Len(t, frames, 4)
	assert.Equal(t, []string{"decision", "decision", "stage", "stage"}, []string{frames[0].Kind, frames[1].Kind, frames[2].Kind, frames[3].Kind})
	m := life.Moment(frames[1].Events, frames[1].At)
	assert.Equal(t, request.Delivering, m.State.Status)
	assert.Equal(t, time.Date(2027, 3, 8, 14, 0, 0, 0, time.UTC), m.Forecast.Finish.UTC())
	assert.Equal(t, request.Closed, life.Moment(frames[3].Events, frames[3].At).State.Status)
	assert.Empty(t, life.Moment(0, frames[0].At).State.Reference)
}
