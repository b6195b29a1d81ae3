package notice_test

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"reflect"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/ladder"
	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/offering"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// told drives a badge through commands and says who heard of the last one:
// "decide p-tomas".
type told struct {
	t     *testing.T
	facts request.Facts
	state request.State
	last  string
	all   []notice.Notice
}

func begin(t *testing.T, change ...func(*offering.Document)) *told {
	company, d := coretest.Company(), coretest.Badge()
	for _, c := range change {
		c(&d)
	}
	compiled, findings := offering.Compile(d, 1, company)
	require.Empty(t, findings)
	service, _ := company.Directory.Service("access")
	n := &told{t: t, facts: request.Facts{Company: company.Directory, Offering: compiled, Service: service, Now: time.Date(2027, 3, 12, 9, 0, 0, 0, time.UTC)}}
	n.do("p-ilse", request.Begin{ID: "r1"})
	return n
}

func (n *told) do(actor string, c request.Command) string {
	n.t.Helper()
	n.facts.Actor, n.facts.Now = actor, n.facts.Now.Add(time.Minute)
	events, _, err := request.Handle(n.state, c, n.facts)
	require.NoError(n.t, err)
	for _, e := range events {
		n.state.Apply(e)
	}
	n.all = notice.Of(n.state, events, n.facts.Company, n.facts.Service)
	var words []string
	for _, one := range n.all {
		words = append(words, string(one.Kind)+" "+one.Person)
	}
	n.last = strings.Join(words, ", ")
	return n.last
}

func send() request.Submit {
	return request.Submit{Prefix: "QS", Number: 10432, Answers: coretest.Answers(map[string]any{
		"port": "orm", "zones": []any{"fuel"}, "reason": "Bunkering", "start": "2027-03-20", "badge": []any{map[string]any{"item": "card", "quantity": 1.0}},
	})}
}

// One request from sending to the end: who hears of each step.
func TestWhoHears(t *testing.T) {
	n := begin(t)
	assert.Empty(t, n.last, "a draft is nobody else's business")
	assert.Equal(t, "sent p-ilse, decide p-tomas", n.do("p-ilse", send()))
	assert.Equal(t, "following p-olga", n.do("p-ilse", request.Follow{Person: "p-olga"}))
	assert.Equal(t, "asked p-ilse", n.do("p-tomas", request.AskBack{Rung: "manager", Text: "Why the fuel dock?"}))
	assert.Equal(t, "Why the fuel dock?", n.all[0].Said)
	assert.Equal(t, "answered p-tomas", n.do("p-ilse", request.Resubmit{Reply: "I bunker now."}), "and not that it is asked again as well")
	assert.Equal(t, "said p-ilse, said p-olga", n.do("p-tomas", request.Comment{Text: "Fine."}), "not who wrote it")
	assert.Equal(t, "decided p-ilse, decided p-olga, task p-caro, task p-keks, task p-kira", n.do("p-tomas", request.Decide{Rung: "manager", Decision: request.Approve}))
	assert.Equal(t, "said p-olga, said p-caro, said p-keks, said p-kira", n.do("p-ilse", request.Comment{Text: "Be quick."}), "nobody has taken anything yet")
	assert.Equal(t, "progress p-ilse, progress p-olga", n.do("p-caro", request.Take{Task: "safety"}))
	assert.Equal(t, "progress p-ilse, progress p-olga", n.do("p-caro", request.Complete{Task: "safety"}))
	n.do("p-kira", request.Take{Task: "photo"})
	assert.Equal(t, "progress p-ilse, progress p-olga", n.do("p-kira", request.Complete{Task: "photo"}), "an automatic task comes to nobody")
	for range 5 {
		assert.Empty(t, n.do(request.Program, request.Fail{Task: "write", Trouble: "Busy."}))
	}
	assert.Equal(t, "stuck p-keks, stuck p-kira, heldUp p-ilse, heldUp p-olga", n.do(request.Program, request.Fail{Task: "write", Trouble: "Busy."}))
	n.do("p-kira", request.Retry{Task: "write"})
	assert.Equal(t, "progress p-ilse, progress p-olga, delivered p-ilse, delivered p-olga", n.do(request.Program, request.Succeed{Task: "write"}))
	assert.Equal(t, "said p-olga, said p-caro, said p-kira, said p-keks", n.do("p-ilse", request.Comment{Text: "It squeaks."}), "who follows, who did the work, and the lead of the home team")
	assert.Equal(t, "said p-caro, said p-kira, said p-keks", n.do("p-ilse", request.Confirm{Remark: "Well done."}), "who did the work hears the word of the end")
}

func TestWhoHearsOfTheEnd(t *testing.T) {
	two := func(d *offering.Document) {
		d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.LineManager}, {Source: ladder.NamedPerson, Person: "noor"}}
		d.Ladder[0].Quorum, d.Ladder[0].Limit, d.Ladder[0].Remind, d.Ladder[0].Then = "all", "2d", []int{50}, ladder.Escalate
	}
	n := begin(t, two)
	assert.Equal(t, "sent p-ilse, decide p-tomas, decide p-noor", n.do("p-ilse", send()))
	n.do("p-tomas", request.Decide{Rung: "manager", Decision: request.Approve})
	n.facts.Now = n.facts.Now.AddDate(0, 0, 3)
	assert.Equal(t, "remind p-noor", n.do(request.Program, request.Tick{}), "only with whom it waits")
	assert.Equal(t, "ended p-noor", n.do("p-ilse", request.Withdraw{Reason: "Not needed."}))
	assert.Equal(t, "Not needed.", n.all[0].Said)

	n = begin(t, two)
	n.do("p-ilse", send())
	assert.Equal(t, "decide p-caro", n.do("p-tomas", request.PassOn{Rung: "manager", To: "p-caro", Reason: "Yours."}))
	assert.Equal(t, "over p-caro", n.do("p-tomas", request.TakeBack{Rung: "manager"}))
	assert.Equal(t, "decide p-caro", n.do("p-tomas", request.PassOn{Rung: "manager", To: "p-caro", Reason: "Yours, after all."}))
	assert.Equal(t, "ended p-ilse", n.do("p-caro", request.Decide{Rung: "manager", Decision: request.Decline, Reason: "Too dear."}))
	assert.Equal(t, "Too dear.", n.all[0].Said)
}

// Who hears of what happens beside the way: several rungs, a question taken back,
// somebody not eligible, a slip, and an end that asks for no word.
func TestWhoHearsBesideTheWay(t *testing.T) {
	two := func(d *offering.Document) {
		d.Ladder = append(d.Ladder, ladder.Rung{Key: "second", Name: "Second", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.NamedPerson, Person: "noor"}}})
		none := 0
		d.Promise.ConfirmWithin = &none
		d.Plan = d.Plan[:2]
	}
	n := begin(t, two)
	n.do("p-ilse", send())
	n.do("p-tomas", request.AskBack{Rung: "manager", Text: "Why?"})
	assert.Equal(t, "said p-ilse", n.do("p-tomas", request.Unask{Rung: "manager"}))
	assert.Equal(t, "passed p-ilse, decide p-noor", n.do("p-tomas", request.Decide{Rung: "manager", Decision: request.Approve}))
	n.do("p-noor", request.Decide{Rung: "second", Decision: request.Approve})
	assert.Equal(t, "said p-keks, said p-olga", n.do("p-kira", request.Doubt{Task: "photo", Reason: "They have one."}), "the leads, and the owner, never the asker")
	n.do("p-kira", request.Take{Task: "photo"})
	n.do("p-kira", request.AskAsker{Task: "photo", Text: "When?"})
	assert.Equal(t, "said p-ilse", n.do("p-kira", request.Hear{Task: "photo", Text: "At noon.", From: "p-ilse", How: "phone", At: n.facts.Now}), "who is said to have answered reads it")
	assert.Empty(t, n.do(request.Program, request.Foresee{Likely: n.facts.Now.AddDate(0, 0, 1)}), "after an act of their own it is only noted")
	assert.Equal(t, "slipped p-ilse", n.do(request.Program, request.Foresee{Likely: n.facts.Now.AddDate(0, 0, 9)}))
	n.do("p-kira", request.Complete{Task: "photo"})
	n.do("p-caro", request.Take{Task: "safety"})
	assert.Equal(t, "progress p-ilse, finished p-ilse", n.do("p-caro", request.Complete{Task: "safety"}), "it closes, and asks for nothing")
}

// Nobody is told of a request they may not read, or once they have left.
func TestNobodyElseHears(t *testing.T) {
	n := begin(t)
	n.do("p-ilse", send())
	events := []request.Event{{Seq: 9, Actor: "p-ilse", Body: request.Followed{Person: "p-last"}}, {Seq: 10, Actor: "p-ilse", Body: request.Followed{Person: "p-gone"}}}
	assert.Empty(t, notice.Of(n.state, events, n.facts.Company, n.facts.Service), "the state does not hold them as followers")
}

// Every kind of event is told to somebody, or silent on purpose: each stands once in
// the cases.
func TestEachEventIsToldOrSilent(t *testing.T) {
	file, err := parser.ParseFile(token.NewFileSet(), "notice.go", nil, 0)
	require.NoError(t, err)
	cases := map[string]int{}
	ast.Inspect(file, func(n ast.Node) bool {
		if c, ok := n.(*ast.CaseClause); ok {
			for _, of := range c.List {
				if name, ok := of.(*ast.SelectorExpr); ok && fmt.Sprint(name.X) == "request" {
					cases[name.Sel.Name]++
				}
			}
		}
		return true
	})
	for _, body := range request.Bodies() {
		name := reflect.TypeOf(body).Name()
		assert.Equal(t, 1, cases[name], name)
	}
}

// Whom a mark names hears of it, each once: whoever has it at that time.
func TestWhoHearsOfAMark(t *testing.T) {
	for told, want := range map[promise.Told]string{
		promise.TellHolder: "p-caro p-keks p-kira", // both tasks are there, and nobody has taken one
		promise.TellTeam:   "p-caro p-keks p-kira",
		promise.TellLead:   "p-caro p-keks",
		promise.TellUpward: "", // there is none
		promise.TellOwner:  "p-olga",
		promise.TellKeeper: "p-keks",
		promise.TellAsker:  "p-ilse",
	} {
		n := begin(t, func(d *offering.Document) {
			d.Promise.Targets = []promise.Target{{Name: "Usual", Fulfilment: "10h", Owner: "keks"}}
			d.Promise.Marks = []promise.Mark{{Share: 50, Tell: []promise.Told{told}, Text: "Hurry."}, {Share: 70, People: []string{"noor"}}}
		})
		n.do("p-ilse", send())
		n.do("p-tomas", request.Decide{Rung: "manager", Decision: request.Approve})
		n.facts.Now = n.facts.Now.Add(6 * time.Hour)
		n.do(request.Program, request.Tick{})
		var persons []string
		for _, one := range n.all {
			assert.Equal(t, message.Nearing, one.Kind)
			persons = append(persons, one.Person)
			assert.Equal(t, "50 % of the promised time is used: 6 h 2 min used, 3 h 58 min left.\n\nHurry.", one.Said)
		}
		assert.Equal(t, want, strings.Join(persons, " "), told)
		n.facts.Now = n.facts.Now.Add(2 * time.Hour)
		assert.Equal(t, "nearing p-noor", n.do(request.Program, request.Tick{}), "who is named sees how it stands")
		n.facts.Now = n.facts.Now.Add(72 * time.Hour)
		assert.Equal(t, "missed p-caro, missed p-keks, missed p-kira", n.do(request.Program, request.Tick{}), "who has it, and who answers for the promise")
	}
}

// Who has a task in hand that is left out hears of it, and so does everybody when staff close
// a request with a word.
func TestWhoHearsOfAClosing(t *testing.T) {
	n := begin(t)
	n.do("p-ilse", send())
	n.do("p-tomas", request.Decide{Rung: "manager", Decision: request.Approve})
	n.do("p-kira", request.Take{Task: "photo"})
	assert.Equal(t, "said p-kira, finished p-ilse", n.do("p-olga", request.Close{Word: "Done by phone."}))
	assert.Contains(t, n.all[0].Said, "is left out: Closed: Done by phone.")
	assert.Contains(t, n.all[1].Said, "Olga Ferreira: Done by phone.")
}
