package script_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/script"
)

const whole = `format: heptad/rehearsal/1
asker: d.sarmento
for: {name: Ada Lund}
send: 2026-05-18T09:10:00+01:00
answers: {contract: seasonal, start: 2026-06-01}
company:
  teams: [{key: purchasing, name: Purchasing, lead: x.y, members: [x.y], calendar: maravel}]
  absences: [{person: r.quist, from: 2026-05-18T00:00:00Z, until: 2026-05-25T00:00:00Z, standIn: x.y}]
  costCentres: [{key: "4100", name: Decks, owner: x.y}]
  pools: {planner: 3}
cast:
  approvers: {after: PT1H}
  tasks: {factor: 2, each: {photo: {factor: 3}}}
  systems: {badges: {refuse: 2}, supplier: {report: [{after: P2D, step: a, state: underway, delivered: 3}]}}
  asker: silent
script:
  - {at: 2026-05-19T10:00:00Z, who: r.quist, do: approve, rung: head}
  - {after: PT2H30M, who: d.sarmento, do: comment, text: "How far is it?"}
  - {at: 2026-05-20T09:00:00Z, down: PT6H}
  - {at: 2026-05-21T09:00:00Z, who: x.y, do: complete, task: t1, outputs: {staffNumber: N-1041}}
until: closed
`

func TestParse(t *testing.T) {
	s, lines, err := script.Parse([]byte(whole))
	require.NoError(t, err)
	assert.Equal(t, "d.sarmento", s.Asker.Login)
	assert.Equal(t, "Ada Lund", s.For.Made.Name)
	assert.Equal(t, time.Date(2026, 5, 18, 8, 10, 0, 0, time.UTC), s.Send.UTC())
	day, _ := s.Answers["start"].Text()
	assert.Equal(t, "2026-06-01", day, "a date stays the text that it is")
	assert.Equal(t, time.Hour, s.Cast.Approvers.After.Open)
	assert.InDelta(t, 3.0, s.Cast.Tasks.Of("photo"), 0)
	assert.InDelta(t, 2.0, s.Cast.Tasks.Of("other"), 0)
	assert.Equal(t, 2, s.Cast.Systems["supplier"].Report[0].After.Days)
	assert.Equal(t, 150*time.Minute, s.Script[1].After.Open)
	assert.Equal(t, script.Lines{17, 18, 19, 20}, lines)
	assert.Equal(t, []string{"r.quist", "d.sarmento", "x.y"}, s.Names())
}

// What is written is read again as the same, in JSON too.
func TestThereAndBack(t *testing.T) {
	s, _, err := script.Parse([]byte(whole))
	require.NoError(t, err)
	data, err := json.MarshalIndent(s, "", "\t")
	require.NoError(t, err)
	again, _, err := script.Parse(data)
	require.NoError(t, err)
	once, err := json.Marshal(s)
	require.NoError(t, err)
	twice, err := json.Marshal(again)
	require.NoError(t, err)
	assert.JSONEq(t, string(once), string(twice))
	for _, cast := range []string{`{"approvers":"none","tasks":"none"}`, `{"approvers":{"after":"measured"},"tasks":{"measured":true}}`} {
		var c script.Cast
		require.NoError(t, json.Unmarshal([]byte(cast), &c))
		data, err := json.Marshal(c)
		require.NoError(t, err)
		assert.JSONEq(t, cast, string(data))
	}
}

// What is not understood is an error with its line, and never left out.
func TestErrorsNameTheirLine(t *testing.T) {
	for name, c := range map[string]struct {
		old, new string
		line     int
		says     string
	}{
		"a field of the script":      {"until: closed", "til: closed", 21, `no field "til"`},
		"a field of a line":          {"rung: head}", "rungs: head}", 17, `no field "rungs"`},
		"a field of a system":        {"refuse: 2", "refuses: 2", 14, `no field "refuses"`},
		"a command there is not":     {"do: approve", "do: agree", 17, `There is no "agree"`},
		"a command to come":          {"do: comment", "do: amend", 18, `There will be "amend"`},
		"nobody does it":             {"who: r.quist, do", "do", 17, "who does it"},
		"nothing is done":            {", do: approve, rung: head", "", 17, "what is done"},
		"a field it does not read":   {"do: approve, rung: head", "do: approve, task: t1", 17, `Approve does not read "task"`},
		"a field it needs":           {`, text: "How far is it?"`, "", 18, `Comment needs "text"`},
		"no time":                    {"{at: 2026-05-19T10:00:00Z, who", "{who", 17, "when it happens"},
		"two times":                  {"after: PT2H30M", "after: PT2H30M, at: 2026-05-19T12:00:00Z", 18, "when it happens"},
		"before it is sent":          {"at: 2026-05-19T10:00:00Z", "at: 2026-05-17T10:00:00Z", 17, "before it is sent"},
		"out of order":               {"at: 2026-05-21T09:00:00Z", "at: 2026-05-19T09:00:00Z", 20, "before what stands above"},
		"no length":                  {"after: PT2H30M", "after: 2h", 18, "no length"},
		"no instant":                 {"at: 2026-05-21T09:00:00Z", "at: tomorrow", 20, "no instant"},
		"off, and somebody acts":     {"down: PT6H", "down: PT6H, who: x.y", 19, `take "who" out`},
		"off for working days":       {"down: PT6H", "down: P1D", 19, "on the clock"},
		"another format":             {"heptad/rehearsal/1", "heptad/rehearsal/2", 1, "is needed"},
		"nobody asks":                {"asker: d.sarmento\n", "", 1, "who asks"},
		"never sent":                 {"send: 2026-05-18T09:10:00+01:00\n", "", 1, "when it is sent"},
		"a newcomer without a name":  {"{name: Ada Lund}", "{department: Fleet}", 3, "whom it is for"},
		"until before it":            {"until: closed", "until: 2026-05-01T00:00:00Z", 21, "before it is sent"},
		"until something":            {"until: closed", "until: done", 21, "closed, or an instant"},
		"down from nowhere":          {"refuse: 2", "down: [2026-05-20T09:00:00Z, 2026-05-19T09:00:00Z]", 12, "[from, until]"},
		"somebody reports in person": {"do: comment, text", "do: report, task: a, step: b, text", 18, "A system reports"},
		"twice":                      {"until: closed", "until: closed\nuntil: closed", 22, "stands here twice"},
		"no YAML":                    {"until: closed", "until: [", 0, "neither JSON nor YAML"},
		"an alias":                   {"until: closed", "until: &a closed\nx: *a", 22, "another place"},
		"approvers of no kind":       {"{after: PT1H}", "soon", 12, "none, or {after: PT1H}"},
		"a factor that is none":      {"factor: 2", "factor: two", 13, "another kind of value"},
	} {
		t.Run(name, func(t *testing.T) {
			require.Contains(t, whole, c.old)
			_, _, err := script.Parse([]byte(strings.Replace(whole, c.old, c.new, 1)))
			var wrong *script.ParseError
			require.ErrorAs(t, err, &wrong)
			assert.Contains(t, wrong.Sentence, c.says)
			assert.Equal(t, c.line, wrong.Line, wrong.Sentence)
		})
	}
}

func TestLengths(t *testing.T) {
	for text, want := range map[string]string{"PT1H": "PT1H", "PT90M": "PT1H30M", "P2D": "P2D", "PT0S": "PT0S", "PT3600S": "PT1H", "PT1H2M3S": "PT1H2M3S"} {
		l, err := script.ParseLength(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, l.String())
	}
	for _, text := range []string{"", "P", "PT", "1h", "P1DT2H", "-PT1H", "PT1.5H", "P1W"} {
		_, err := script.ParseLength(text)
		assert.Error(t, err, text)
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(whole))
	f.Add([]byte(`{"format":"heptad/rehearsal/1","asker":"a","send":"2026-05-18T09:10:00Z"}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		s, _, err := script.Parse(data)
		if err != nil {
			return
		}
		written, err := json.Marshal(s)
		require.NoError(t, err)
		again, _, err := script.Parse(written)
		require.NoError(t, err, "%s", written)
		twice, err := json.Marshal(again)
		require.NoError(t, err)
		require.JSONEq(t, string(written), string(twice))
	})
}
