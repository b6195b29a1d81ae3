package request_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// What a request waits for, worked out by hand, read on Monday at 12:00. The first
// task, "check", is manual; "write" runs by itself beside it.
func TestHeldUp(t *testing.T) {
	noRung := func(d *offering.Document) { d.Ladder = nil }
	for name, c := range map[string]struct {
		of    []func(*offering.Document)
		do    func(r *run)
		what  string
		who   []request.Holder
		open  time.Duration // until 12:00
		stuck bool
	}{
		"a rung that is open":      {nil, func(*run) {}, "Line manager", []request.Holder{{Person: "p-tomas"}}, 3*time.Hour - time.Minute, false},
		"a question back to asker": {nil, func(r *run) { r.at("08 10:00", "p-tomas", request.AskBack{Rung: "manager", Text: "Why?"}) }, "Line manager", []request.Holder{{Person: "p-ilse"}}, 3*time.Hour - time.Minute, false},
		"what the finish hangs on": {[]func(*offering.Document){noRung}, func(*run) {}, "Check", []request.Holder{{Team: "keys", Task: "check"}}, 3*time.Hour - time.Minute, false},
		"the one who has taken it": {[]func(*offering.Document){noRung}, func(r *run) { r.at("08 10:00", "p-kira", request.Take{Task: "check"}) }, "Check", []request.Holder{{Person: "p-kira", Team: "keys", Task: "check"}}, 3*time.Hour - time.Minute, false},
		"what is stuck, before all": {[]func(*offering.Document){noRung}, func(r *run) {
			r.at("08 10:00", request.Program, request.Fail{Task: "write", Trouble: "No.", Final: true})
		}, "Write", []request.Holder{{Team: "keys", Task: "write"}}, 3*time.Hour - time.Minute, true},
	} {
		t.Run(name, func(t *testing.T) {
			r := startTimed(t, c.of...).at("08 09:00", "p-ilse", begin(), submit())
			c.do(r)
			r.facts.Now = coretest.At(t, "2027-03-08 12:00")
			f := r.state.Forecast(r.facts, unmeasured{})
			held, found := r.state.HeldUp(f.Outlook(), r.facts.Offering, r.facts.Company, "keys", r.facts.Now)
			require.True(t, found)
			assert.Equal(t, c.what, held.What)
			assert.Equal(t, c.who, held.Who)
			assert.InDelta(t, c.open, held.Open, float64(2*time.Minute))
			assert.Equal(t, c.stuck, held.Stuck)
		})
	}
	r := startTimed(t).at("08 09:00", "p-ilse", begin(), submit()).at("08 10:00", "p-ilse", request.Withdraw{})
	_, found := r.state.HeldUp(request.Outlook{}, r.facts.Offering, r.facts.Company, "keys", r.facts.Now)
	assert.False(t, found, "nothing is in hand of what is closed")
}

// Holders in words, and what they have to do.
func TestHoldersInWords(t *testing.T) {
	r := startTimed(t, func(d *offering.Document) { d.Ladder = nil }).at("08 09:00", "p-ilse", begin())
	words := func() (all []string) {
		for _, h := range r.state.Holders("keys") {
			what, _ := r.state.HasToDo(h)
			all = append(all, h.Name(r.facts.Company, func(key string) string { return "System " + key })+": "+what)
		}
		return all
	}
	assert.Equal(t, []string{"Ilse Brandvik: finish and send"}, words())
	r.at("08 09:30", "p-ilse", submit())
	assert.Equal(t, []string{"System badges (by itself): Write", "Keys & Badges: Check"}, words())
	r.at("08 10:00", "p-kira", request.Take{Task: "check"}, request.AskAsker{Task: "check", Text: "Which?"})
	assert.Equal(t, []string{"System badges (by itself): Write", "Ilse Brandvik: answer a question on Check"}, words())
	r.at("08 10:30", request.Program, request.Fail{Task: "write", Trouble: "No.", Final: true})
	assert.Contains(t, words(), "Keys & Badges: Write (stuck)")
}

// The line of a promise of sixteen working hours that started on Monday at 9:00:
// at noon three are gone of sixteen; from 10:00 to 11:00 it stood still where it
// was returned, so that it is due an hour later.
func TestPromiseLine(t *testing.T) {
	at := func(r *run, clock string) *request.PromiseLine {
		return r.state.PromiseLine(r.facts.Offering, nil, coretest.At(t, "2027-03-"+clock))
	}
	r := startTimed(t).at("08 09:00", "p-ilse", begin(), submit())
	line := at(r, "08 12:00")
	require.NotNil(t, line)
	assert.Equal(t, promise.Running, line.State)
	assert.Equal(t, []string{"gone 0.00 0.19", "left 0.19 1.00"}, strung(line))
	assert.InDelta(t, 1, *line.End, 0.001)

	r.at("08 10:00", "p-tomas", request.AskBack{Rung: "manager", Text: "Why?"}).at("08 11:00", "p-ilse", request.Resubmit{Answers: r.state.Answers, Reply: "Because."})
	line = at(r, "08 12:00")
	assert.Equal(t, []string{"gone 0.00 0.06", "paused 0.06 0.12", "gone 0.12 0.18", "left 0.18 1.00"}, strung(line))
	assert.Equal(t, coretest.At(t, "2027-03-10 10:00"), *line.Due)

	late := at(r, "10 12:30") // two and a half hours after it was due, of nineteen and a half
	assert.True(t, late.Late)
	assert.Equal(t, []string{"gone 0.00 0.05", "paused 0.05 0.10", "gone 0.10 1.00"}, strung(late))
	assert.InDelta(t, 17.0/19.5, *late.End, 0.001)

	none := startTimed(t, func(d *offering.Document) { d.Promise.Targets = nil }).at("08 09:00", "p-ilse", begin(), submit())
	assert.Nil(t, at(none, "08 12:00"), "nothing is promised")
}

func strung(line *request.PromiseLine) (parts []string) {
	for _, p := range line.Parts {
		parts = append(parts, fmt.Sprintf("%s %.2f %.2f", p.Kind, p.From, p.To))
	}
	return parts
}
