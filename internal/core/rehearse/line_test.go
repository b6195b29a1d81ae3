package rehearse_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
)

// deeds is the badge with all that the lines of a script can be about: points to tick, lines
// to count, many to confirm, a speed to ask for, and an action to start.
func deeds(d *offering.Document) {
	d.Plan[1].MustDos = []string{"Wipe the lens", "Smile"}
	d.Plan = append(d.Plan,
		plan.Task{Key: "stamp", Name: "Stamp them", Kind: plan.Manual, Team: "keys", Lines: "badge", After: []string{"photo"}},
		plan.Task{Key: "read", Name: "Read the rules", Kind: plan.Manual, Team: "keys", People: &plan.People{Team: "keys", Enough: "all"}},
		plan.Task{Key: "reset", Name: "Write it again", Kind: plan.Automatic, OnDemand: true, Team: "keys", Action: &plan.Action{Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ asker.name }}"}}},
	)
	d.Questions = append(d.Questions, form.Question{Key: "speed", Kind: form.Choice, Label: "Speed", Choices: []form.Option{{Key: "usual", Label: "Usual"}, {Key: "soon", Label: "Soon"}}, Preset: `"usual"`})
	d.Promise.Urge = &promise.Urge{Question: "speed", Choices: []string{"soon"}}
	d.Promise.Targets = append([]promise.Target{{Name: "Soon", When: `answers.speed == "soon"`, Fulfilment: "1d"}}, d.Promise.Targets...)
}

// Everything that a script can say is done, as it would be by a person: the command is taken
// and told in the history. Tomas decides after an hour, tasks take four hours from ten.
func TestEveryDeedOfAScript(t *testing.T) {
	const (
		asks  = "{at: 2027-03-08T11:00:00Z, who: caro, do: ask, task: safety, text: When}"
		never = "cast: {systems: {badges: {refuse: 100}}}\n"
		later = "cast: {systems: {badges: {report: [{after: PT9H, step: shipped, state: done}]}}}\n"
	)
	tested := map[script.Do]bool{}
	for _, c := range []struct {
		cast  string
		lines []string
		shows []string // of what happened, and how it is told, in this order
	}{
		{"", []string{"{after: PT20M, who: tomas, do: approve, reason: Needed}"}, []string{"08 09:20 tomas voted"}},
		{"", []string{"{after: PT20M, who: tomas, do: decline, reason: Too dear}"}, []string{"08 09:20 tomas voted", "08 09:20 tomas closed"}},
		{"", []string{"{after: PT10M, who: tomas, do: askBack, text: Why}", "{after: PT10M, who: tomas, do: unask}"}, []string{"08 09:10 tomas askedBack: Asked a question back", "08 09:20 tomas questionDropped: Took the question back", "08 10:20 tomas voted"}},
		{"", []string{"{after: PT10M, who: tomas, do: askBack, text: Why}", "{after: PT10M, who: ilse, do: answer, text: Because, answers: {reason: Fuel}}"}, []string{"08 09:20 ilse resubmitted: Answered, and changed 1 answer", "08 10:20 tomas voted"}},
		{"", []string{"{after: PT10M, who: tomas, do: passOn, person: olga, reason: She knows}", "{after: PT10M, who: tomas, do: takeBack}"}, []string{"08 09:10 tomas seatJoined", "08 09:20 tomas seatLeft: Took the decision back from Olga Ferreira", "08 10:20 tomas voted"}},
		{"", []string{"{after: PT10M, who: tomas, do: passOn, person: olga, reason: She knows}"}, []string{"08 09:10 tomas seatJoined", "08 10:10 olga voted: Approved, for Tomas Lindqvist"}},
		{"", []string{asks, "{after: PT10M, who: ilse, do: answer, text: At noon}"}, []string{"08 11:00 caro askerAsked: Check safety record: asked a question", "08 11:10 ilse askerAnswered: Check safety record: answered"}},
		{"", []string{asks, "{after: PT10M, who: caro, do: hear, task: safety, text: At noon, person: ilse, how: phone}"}, []string{"08 11:10 caro askerAnswered: Check safety record: answered"}},
		{"", []string{asks, "{after: PT10M, who: caro, do: unask, task: safety}"}, []string{"08 11:10 caro taskQuestionDropped: Check safety record: took the question back"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: ilse, do: comment, text: Hello}", "{after: PT10M, who: caro, do: note, text: Known, to: staff}"}, []string{"08 11:00 ilse commented", "08 11:10 caro noted: Noted for staff"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: caro, do: attach, task: safety, name: scan.png}"}, []string{"08 11:00 caro attached: Added a file, on Check safety record"}},
		{"", []string{"{after: PT10M, who: ilse, do: follow, person: kira}", "{after: PT10M, who: ilse, do: unfollow, person: kira}"}, []string{"08 09:10 ilse followed: Added Kira Matsuda, to hear of it", "08 09:20 ilse unfollowed: Kira Matsuda no longer hears of it"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: ilse, do: urge, choice: soon, reason: The ship sails}"}, []string{"08 11:00 ilse urged: Asked for more urgency: Soon"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: olga, do: cancel, reason: No longer made}"}, []string{"08 11:00 olga undoingBegun: Cancelled it: what is open stops, what was done is taken back", "08 11:00 olga closed: Closed as cancelled"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: ilse, do: withdraw, reason: Found it}"}, []string{"08 11:00 ilse undoingBegun: Took it back: what is open stops, what was done is taken back", "08 11:00 ilse closed: Closed as withdrawn"}},
		{"", []string{"{at: 2027-03-08T18:30:00Z, who: olga, do: close, text: It is done}"}, []string{"08 18:30 olga closed: Closed it as done"}},
		{"", []string{"{at: 2027-03-08T18:30:00Z, who: ilse, do: sendBack, text: It is bent}"}, []string{"08 18:30 ilse sentBack: Sent back: it is not right"}},
		{"", []string{"{at: 2027-03-08T18:30:00Z, who: ilse, do: confirm, text: Thanks}", "{after: PT10M, who: ilse, do: rate, stars: 5, text: Quick}"}, []string{"08 18:30 ilse confirmed: Confirmed that it is done", "08 18:40 ilse rated: Rated it 5 of 5"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: caro, do: addTask, name: Look twice, team: crew, text: At the lock, effort: 1h, before: write, reason: It sticks}"}, []string{"08 11:00 caro taskAdded: Added the task \"Look twice\", for Crewing", "08 12:00 caro taskDone"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: kira, do: take, task: photo}"}, []string{"08 10:10 kira taskTaken", "08 14:10 kira taskDone"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: caro, do: handOver, task: safety, team: keys, reason: They hold it}"}, []string{"08 10:10 caro taskHanded: Check safety record: handed over to Keys & Badges", "08 10:10 kira taskTaken"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: keks, do: tick, task: photo, point: 0}", "{after: PT10M, who: keks, do: tick, task: photo, point: 0, off: true}"}, []string{"08 10:10 keks pointTicked", "08 10:20 keks pointTicked", "08 14:20 keks pointTicked", "08 14:20 keks pointTicked"}},
		{"", []string{"{at: 2027-03-08T14:10:00Z, who: keks, do: count, task: stamp, lines: {0: 1}}"}, []string{"08 14:10 keks lineDone: Stamp them: 1 of 1 done of Card", "08 18:10 keks taskDone"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: kira, do: confirmPart, task: read}"}, []string{"08 10:10 kira partConfirmed: Read the rules: confirmed", "08 11:10 keks partConfirmed"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: caro, do: complete, task: safety}", "{after: PT10M, who: caro, do: doubt, task: safety, reason: The paper is old}"}, []string{"08 10:10 caro taskDone", "08 10:20 caro doubted: Says that Ilse Brandvik is not eligible, on Check safety record"}},
		{"", []string{"{at: 2027-03-08T11:00:00Z, who: caro, do: stuck, task: safety, reason: No key}", "{after: PT10M, who: caro, do: retry, task: safety, reason: Found it}"}, []string{"08 11:00 caro taskStuck: Check safety record: stuck, with Crewing", "08 11:10 caro taskRetried: Check safety record: started again"}},
		{never, []string{"{at: 2027-03-08T20:00:00Z, who: keks, do: retry, task: write, inputs: {zones: Fuel}, reason: Zones were wrong}"}, []string{"taskStuck", "08 20:00 keks taskRetried: Write badge: corrected what is asked for, and started again"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: keks, do: waive, task: write, skips: safety, reason: Urgent}"}, []string{"08 10:10 keks taskWaived: Write badge: need not wait for \"Check safety record\""}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: caro, do: skip, task: safety, reason: Known}"}, []string{"08 10:10 caro taskSkipped: Check safety record: left out"}},
		{"", []string{"{at: 2027-03-08T10:10:00Z, who: keks, do: runNow, task: reset, inputs: {zones: Fuel}, text: Lost}"}, []string{"08 10:10 keks taskAdded: Write it again: started by hand", "08 10:10 taskDone"}},
		{later, []string{"{at: 2027-03-08T15:00:00Z, do: report, task: write, step: printed, text: On paper}"}, []string{"08 15:00 reported: Write badge: the other side reports", "08 23:00 reported: Write badge: the other side reports", "08 23:00 taskDone"}},
	} {
		g := ground(deeds)
		if c.cast == later {
			company := coretest.Company()
			company.Connectors[0].Actions[0].Later = true
			g = groundOf(badge(deeds), company)
		}
		life := run(t, g, sent+c.cast+"script:\n  - "+strings.Join(c.lines, "\n  - ")+"\n")
		for _, line := range life.Script.Script {
			tested[line.Do] = true
		}
		assert.Empty(t, life.Refused, c.lines)
		told := kinds(life)
		for i, e := range life.Result().Events {
			told[i] += ": " + e.Text
		}
		rest := "\n" + strings.Join(told, "\n") + "\n"
		for _, show := range c.shows {
			_, after, there := strings.Cut(rest, show)
			if assert.True(t, there, "%s of %v in\n%s", show, c.lines, rest) {
				rest = after
			}
		}
	}
	for _, do := range script.Do("").All() {
		assert.True(t, tested[do], "nothing is tested of %s", do)
	}
}

// What a line names that is not there is told with the line, before anything is done.
func TestALineNamesWhatIsThere(t *testing.T) {
	for line, says := range map[string]string{
		"{after: PT1H, who: nemo, do: comment, text: Hello}":                                                  `line 1 of the script: Nobody has the login "nemo"`,
		"{after: PT1H, who: tomas, do: passOn, person: nemo}":                                                 `line 1 of the script: Nobody has the login "nemo"`,
		"{after: PT1H, who: caro, do: take, task: sail}":                                                      `line 1 of the script: The plan has no task "sail"`,
		"{after: PT1H, who: caro, do: waive, task: write, skips: sail, reason: So}":                           `line 1 of the script: The plan has no task "sail"`,
		"{after: PT1H, who: caro, do: addTask, name: X, team: crew, before: sail, reason: So}":                `line 1 of the script: The plan has no task "sail"`,
		"{after: PT1H, who: tomas, do: approve, rung: board}":                                                 `line 1 of the script: The ladder has no rung "board"`,
		"{after: PT1H, who: caro, do: handOver, task: safety, team: movers}":                                  `line 1 of the script: There is no team "movers"`,
		"{after: PT1H, who: ilse, do: answer, text: So, answers: {ship: Heron}}":                              `line 1 of the script: There is no question "ship"`,
		"{after: PT1H, who: keks, do: count, task: photo, lines: {first: 1}}":                                 `"first" is no number of a line, from 0`,
		"{after: PT1H, who: keks, do: count, task: photo, lines: {-1: 1}}":                                    `"-1" is no number of a line, from 0`,
		"{after: PT1H, who: beneficiary, do: comment, text: For me}":                                          "",
		"{at: 2027-03-08T11:00:00Z, who: caro, do: complete, task: added-1}":                                  "",
		"{at: 2027-03-08T11:00:00Z, who: asker, do: comment, task: right-2, text: To what is put right once}": "",
	} {
		_, err := rehearse.Run(ground(), read(t, sent+"script: ["+line+"]\n"))
		if says == "" {
			assert.NoError(t, err, line)
			continue
		}
		assert.ErrorContains(t, err, says, line)
	}
}
