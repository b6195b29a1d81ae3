package request_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// marked promises two working days with marks at 50 and 80 %, a first word within two hours
// with one at 50 %, and has Crewing above Keys. It was sent on Monday at 9:00.
func marked(t *testing.T, change ...func(*offering.Document)) *run {
	r := startTimed(t, append([]func(*offering.Document){func(d *offering.Document) {
		d.Promise.Marks = []promise.Mark{
			{Share: 80, Tell: []promise.Told{promise.TellLead}, HandUp: true},
			{Share: 50, Tell: []promise.Told{promise.TellHolder}, People: []string{"caro"}},
			{Clock: promise.OfResponse, Share: 50, Tell: []promise.Told{promise.TellHolder}},
		}
	}}, change...)...)
	company := r.facts.Company
	teams := company.Teams()
	for i := range teams {
		if teams[i].Key == "keys" {
			teams[i].Upward = "crew"
		}
	}
	hours, _ := company.Calendar("maravel")
	r.facts.Company = people.NewDirectory(people.Records{Persons: company.Persons(), Teams: teams, Services: company.Services(), Calendars: map[string]*calendar.Calendar{"maravel": hours}})
	return r.at("08 09:00", "p-ilse", begin(), submit())
}

// timer is when its timer goes off, in March.
func (r *run) timer() string { return r.effects["r1/tick"].At.Format("02 15:04:05.000") }

// lines tells the marks that were reached so far: the clock, the share, when, and + when
// somebody was told.
func (r *run) marks() []string {
	var all []string
	for _, e := range r.events {
		if b, is := e.Body.(request.MarkReached); is {
			told := ""
			if !b.Silent {
				told = " +"
			}
			all = append(all, b.Words()+", "+b.At.Format("02 15:04")+told)
		}
	}
	return all
}

func TestMarksTell(t *testing.T) {
	r := marked(t)
	assert.Equal(t, "08 10:00:00.000", r.timer())
	r.at("08 09:59", request.Program, request.Tick{})
	assert.Empty(t, r.marks(), "it comes too early, and the timer stays")
	r.at("08 10:00", request.Program, request.Tick{}, request.Tick{})
	assert.Equal(t, []string{"50 % of the time of the first word is used, 08 10:00 +"}, r.marks(), "once")
	assert.Equal(t, "08 11:00:00.001", r.timer())

	r.at("08 10:30", "p-tomas", approved)
	assert.Equal(t, "09 09:00:00.000", r.timer(), "the first word was said")

	r.at("08 16:30", "p-kira", request.Take{Task: "check"}, request.AskAsker{Task: "check", Text: "Which gate?"})
	r.at("09 09:00", request.Program, request.Tick{})
	assert.Len(t, r.marks(), 1, "it stands still")
	r.at("09 09:30", "p-ilse", request.Answer{Task: "check", Text: "North"})
	assert.Equal(t, "09 11:00:00.000", r.timer(), "and comes two hours later")

	// Nothing goes by itself for two days: the highest is told, and all are there.
	r.at("11 09:00", request.Program, request.Tick{})
	assert.Equal(t, []string{
		"50 % of the promised time is used, 09 11:00",
		"80 % of the promised time is used, 09 16:48",
		"The promised time is missed, 10 11:00 +",
	}, r.marks()[1:])
	assert.True(t, r.timer() < "11 09:00", "no mark is left")
	assert.Equal(t, []string{"p-caro", "p-olga"}, r.state.Warned, "whom the offering names, and who answers for the promise")
	assert.True(t, r.state.ViewerOf("p-caro", r.facts.Company, r.facts.Service).Any())
	assert.False(t, r.state.ViewerOf("p-caro", r.facts.Company, r.facts.Service).SeesRequest(), "they see how it stands, and no answers")
}

// What nobody has taken goes to the next team upward, and what somebody has stays.
func TestMarksHandUp(t *testing.T) {
	two := func(d *offering.Document) {
		d.Plan = []plan.Task{{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys"}, {Key: "hand", Name: "Hand out", Kind: plan.Manual, Team: "keys"}}
		d.Promise.Pauses = nil
	}
	r := marked(t, two)
	r.at("08 10:30", "p-tomas", approved).at("08 11:00", "p-kira", request.Take{Task: "hand"})
	r.at("09 14:48", request.Program, request.Tick{})
	check, _ := r.state.Task("check")
	hand, _ := r.state.Task("hand")
	assert.Equal(t, []string{"crew", "keys", "p-kira"}, []string{check.Team, hand.Team, hand.Holder})
	assert.Contains(t, r.told(), "Check: handed over to Crewing. Nobody of Keys & Badges had taken it at 80 % of the promised time.")
}

// A request that was sent back goes on with its clock, and is not told of twice.
func TestMarksAfterSendingBack(t *testing.T) {
	r := marked(t, func(d *offering.Document) {
		d.Plan = []plan.Task{{Key: "check", Name: "Check", Kind: plan.Manual, Team: "keys"}}
		d.Promise.Pauses = nil
	})
	r.at("08 10:30", "p-tomas", approved).at("09 09:00", request.Program, request.Tick{})
	require.Len(t, r.marks(), 1)
	r.at("09 10:00", "p-kira", request.Take{Task: "check"}).at("09 10:30", "p-kira", request.Complete{Task: "check"})
	require.Equal(t, request.Delivered, r.state.Status)
	r.at("10 10:30", "p-ilse", request.SendBack{Text: "The gate stays shut."})
	assert.Equal(t, "10 14:48:00.000", r.timer(), "what was left at the delivery is left")
	r.at("10 15:00", request.Program, request.Tick{})
	assert.Equal(t, []string{"50 % of the promised time is used, 09 09:00 +", "80 % of the promised time is used, 10 14:48 +"}, r.marks())
}

// Whatever has ended has no marks any more.
func TestMarksEnd(t *testing.T) {
	r := marked(t)
	r.at("08 09:30", "p-ilse", request.Withdraw{})
	r.at("15 09:00", request.Program)
	require.Error(t, r.do(request.Program, request.Tick{}))
	assert.Empty(t, r.marks())
}

// A changed calendar moves what has not been told yet.
func TestMarksFollowTheCalendar(t *testing.T) {
	r := marked(t)
	r.at("08 10:30", "p-tomas", approved)
	require.Equal(t, "09 09:00:00.000", r.timer())
	open := coretest.Week("Europe/Lisbon", []string{"mon", "tue", "wed", "thu", "fri"}, "08:30-20:30")
	d := r.facts.Offering.Document
	company := coretest.Company()
	company.Directory = people.NewDirectory(people.Records{Persons: company.Directory.Persons(), Teams: company.Directory.Teams(), Services: company.Directory.Services(), Calendars: map[string]*calendar.Calendar{"maravel": open}})
	compiled, findings := offering.Compile(d, 1, company)
	require.Empty(t, findings)
	r.facts.Offering = compiled
	r.at("08 12:00", request.Program, request.Settle{})
	assert.Equal(t, "08 17:00:00.000", r.timer())
	assert.Empty(t, r.marks())

	// What is over already by the new one is told at once.
	delete(r.effects, "r1/tick")
	r.at("08 18:00", request.Program, request.Settle{})
	assert.Equal(t, "08 17:00:00.000", r.timer())
	r.at("08 18:00", request.Program, request.Tick{})
	assert.Equal(t, []string{"50 % of the promised time is used, 08 17:00 +"}, r.marks())
}

// Where the time went: with whom it waited, until it was decided, and since.
func TestTheClockExplainsItself(t *testing.T) {
	r := marked(t)
	r.at("08 10:30", "p-tomas", approved).at("08 16:30", "p-kira", request.Take{Task: "check"}, request.AskAsker{Task: "check", Text: "Which gate?"})
	r.at("09 09:30", "p-ilse", request.Answer{Task: "check", Text: "North"}).at("09 12:30", "p-kira", request.Complete{Task: "check"})
	line := r.state.PromiseLine(r.facts.Offering, nil, coretest.At(t, "2027-03-09 15:30"))
	at := func(clock string) *time.Time { at := coretest.At(t, "2027-03-"+clock); return &at }
	assert.Equal(t, request.Counted{
		From: at("08 09:00"), Asker: 2 * 60, Deciding: 90, Us: 8 * 60, // 9.5 hours are used: 10:30 to 16:30 is five of them
		Pauses: []request.PauseLine{
			{From: *at("08 16:30"), Until: at("09 09:30"), Why: "a question waited for an answer"},
			{From: *at("09 12:30"), Why: "Hand out"},
		},
	}, line.Counted)
	assert.Equal(t, 9*60+30, line.Used)
}
