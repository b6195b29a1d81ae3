package request_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// The company of the ladders. Ann asks; Bo is her manager, Cy his, Dee the
// top. Eli is sometimes who it is for, and Fay his manager. Gus, Hal and Ivy
// are the board, which Gus leads. Kim owns the cost centres A and C, Lou B, Ann D,
// nobody E, and Gone, who has left, F. Own
// owns the service, whose home team Hana leads. Gone has left.
func ladderCompany(absences []people.Absence, left ...string) *people.Directory {
	var persons []people.Person
	for line := range strings.FieldsSeq("dee: cy:dee bo:cy ann:bo eli:fay fay:dee gus:dee hal:dee ivy:dee kim:dee lou:dee own:dee hana:own stan:dee sue:dee ted:dee gone:") {
		login, manager, _ := strings.Cut(line, ":")
		p := people.Person{ID: login, Login: login, Name: strings.ToUpper(login[:1]) + login[1:], Manager: manager, Former: login == "gone"}
		switch login {
		case "gus", "hal", "ivy":
			p.Teams = []string{"board"}
		case "hana":
			p.Teams = []string{"home"}
		case "ann":
			p.CostCentre = "A"
		case "eli":
			p.CostCentre = "B"
		}
		for _, l := range left {
			p.Former = p.Former || l == login
		}
		persons = append(persons, p)
	}
	return people.NewDirectory(people.Records{
		Persons:     persons,
		Teams:       []people.Team{{Key: "board", Name: "Board", Lead: "gus"}, {Key: "home", Name: "Home", Lead: "hana"}, {Key: "empty", Name: "Empty"}},
		Services:    []people.Service{{Key: "s", Name: "Service", Owner: "own", Home: "home", Place: people.Offered}},
		CostCentres: []people.CostCentre{{Key: "A", Name: "A", Owner: "kim"}, {Key: "B", Name: "B", Owner: "lou"}, {Key: "C", Owner: "kim"}, {Key: "D", Owner: "ann"}, {Key: "E"}, {Key: "F", Owner: "gone"}},
		Absences:    absences,
	})
}

// The offering of the ladders: a pick, a note, a mate, shares of cost centres.
func ladderOffering(rungs ...ladder.Rung) offering.Document {
	d := offering.New("thing", "Thing", "s", "EUR", "UTC")
	d.Purpose.Text = "A thing."
	d.Audience.For, d.Audience.Newcomers = "true", true
	days := 10
	d.Promise = promise.Promise{Zone: "UTC", AnswerWithin: &days}
	d.Items.List = []price.Item{
		{Key: "small", Name: "Small", Price: price.Charge{Amount: "100.00", Per: price.Once}},
		{Key: "big", Name: "Big", Price: price.Charge{Amount: "3000.00", Per: price.Once}},
		{Key: "rent", Name: "Rent", Price: price.Charge{Amount: "40.00", Per: price.Month}, Options: []price.OptionGroup{{Key: "size", Name: "Size", Choices: []price.Option{{Key: "s", Name: "Small"}, {Key: "l", Name: "Large", Amount: "20.00"}, {Key: "x", Name: "Extra", Amount: "20.00"}}}}},
	}
	d.Items.Term = &price.Term{Question: "months"}
	d.Items.CostCentres = &price.CostCentres{Question: "split", Centre: "centre", Percent: "percent"}
	d.Questions = []form.Question{
		{Key: "pick", Kind: form.Items, Label: "Pick", Items: []string{"small", "big", "rent"}},
		{Key: "months", Kind: form.Number, Label: "Months"},
		{Key: "note", Kind: form.Text, Label: "Note"},
		{Key: "mate", Kind: form.Person, Label: "Mate"},
		{Key: "split", Kind: form.Table, Label: "Split", Columns: []form.Question{{Key: "centre", Kind: form.Text, Label: "Centre"}, {Key: "percent", Kind: form.Number, Label: "Percent"}}},
	}
	for i := range rungs {
		rungs[i].Key, rungs[i].Name = fmt.Sprintf("r%d", i+1), fmt.Sprintf("Rung %d", i+1)
		if rungs[i].Quorum == "" {
			rungs[i].Quorum = "any"
		}
	}
	d.Ladder = rungs
	d.Plan = []plan.Task{{Key: "do", Name: "Do it", Kind: plan.Manual, Team: "home"}}
	return d
}

// rung makes one from words: "team:board person:kim", and what changes it.
func rung(sources string, change ...func(*ladder.Rung)) ladder.Rung {
	r := ladder.Rung{Approvers: sourcesOf(sources)}
	for _, c := range change {
		c(&r)
	}
	return r
}

func sourcesOf(words string) []ladder.Source {
	var all []ladder.Source
	for word := range strings.FieldsSeq(words) {
		kind, of, _ := strings.Cut(word, ":")
		s := ladder.Source{Source: kind}
		switch kind {
		case ladder.NthManager:
			_, _ = fmt.Sscanf(of, "%d", &s.Level) // the test says a number
		case ladder.NamedPerson:
			s.Person = of
		case ladder.TeamLead, ladder.WholeTeam:
			s.Team = of
		case ladder.InAnswer:
			s.Question = of
		}
		all = append(all, s)
	}
	return all
}

func quorum(q string) func(*ladder.Rung)      { return func(r *ladder.Rung) { r.Quorum = q } }
func when(rule string) func(*ladder.Rung)     { return func(r *ladder.Rung) { r.When = rule } }
func shows(keys ...string) func(*ladder.Rung) { return func(r *ladder.Rung) { r.Facts = keys } }
func within(limit string, then ladder.Then, remind ...int) func(*ladder.Rung) {
	return func(r *ladder.Rung) { r.Limit, r.Then, r.Remind = limit, then, remind }
}
func fallback(words string) func(*ladder.Rung) {
	return func(r *ladder.Rung) { r.Fallback = sourcesOf(words) }
}
func afresh(r *ladder.Rung)   { r.Afresh = true }
func noPrice(r *ladder.Rung)  { r.NoPrice = true }
func sendBack(r *ladder.Rung) { r.SendBack = true }

// climbing drives one request up a ladder. Monday 1 March 2027, 09:00 UTC, is
// when it is sent.
type climbing struct {
	run
	absences []people.Absence
	left     []string
	answers  form.Answers
}

func (c *climbing) look() { c.facts.Company = ladderCompany(c.absences, c.left...) }

// say does one step: "bo+" and "bo-" decide, "bo?" asks back, "ann=" answers,
// "ann=big" and the like change an answer, "bo>sue" passes on, "bo<" takes that
// back, "bo*" takes a question back, "ann!" takes the request back, "+2d" lets time
// pass, "bo~stan" makes absent with a stand-in ("bo~" without), "bo^" is back,
// "left:bo" leaves. A step in brackets must be refused.
func (c *climbing) say(step string) {
	c.state = stored(c.t, c.state)
	refused := strings.HasPrefix(step, "(")
	step = strings.Trim(step, "()")
	rungKey := "none"
	if r, open := c.state.OpenRung(); open {
		rungKey = r.Key
	} else if n := len(c.state.Rungs); n > 0 {
		rungKey = c.state.Rungs[n-1].Key
	}
	var err error
	switch at := strings.IndexAny(step, "+-?=><!~^*:"); {
	case step[0] == '+':
		var days int
		_, _ = fmt.Sscanf(step, "+%dd", &days) // the test says a number
		c.facts.Now = c.facts.Now.Add(-time.Minute)
		for range days {
			c.facts.Now = c.facts.Now.AddDate(0, 0, 1)
			for c.facts.Now.Weekday() == time.Saturday || c.facts.Now.Weekday() == time.Sunday {
				c.facts.Now = c.facts.Now.AddDate(0, 0, 1)
			}
		}
		for seq := -1; seq != c.state.Seq; { // as the runner does: all that is due
			seq = c.state.Seq
			if c.do(request.Program, request.Tick{}) == nil {
				c.facts.Now = c.facts.Now.Add(-time.Minute)
			}
		}
	case strings.HasPrefix(step, "left:"):
		c.left = append(c.left, step[5:])
		c.look()
		err = c.do(request.Program, request.Relieve{})
	case step[at] == '^':
		c.absences = slices.DeleteFunc(c.absences, func(a people.Absence) bool { return a.Person == step[:at] })
		c.look()
		err = c.do(request.Program, request.Relieve{})
	case step[at] == '~':
		c.absences = append(c.absences, people.Absence{Person: step[:at], StandIn: step[at+1:], From: c.facts.Now, Until: c.facts.Now.AddDate(1, 0, 0)})
		c.look()
		err = c.do(request.Program, request.Relieve{})
	default:
		who, rest := step[:at], step[at+1:]
		command := map[byte]request.Command{
			'+': request.Decide{Rung: rungKey, Decision: request.Approve},
			'-': request.Decide{Rung: rungKey, Decision: request.Decline, Reason: "No."},
			'?': request.AskBack{Rung: rungKey, Text: "Why?"},
			'>': request.PassOn{Rung: rungKey, To: rest, Reason: "You know better."},
			'<': request.TakeBack{Rung: rungKey},
			'*': request.Unask{Rung: rungKey},
			'!': request.Withdraw{Reason: "Not needed."},
		}[step[at]]
		if step[at] == '=' {
			reply := ""
			switch key, value, _ := strings.Cut(rest, ":"); key {
			case "":
				reply = "Because."
			case "split":
				c.answers["split"] = coretest.Answer(split(value))
			default:
				answer(c.answers, key, value)
			}
			command = request.Resubmit{Answers: c.answers, Reply: reply}
		}
		err = c.do(who, command)
	}
	if refused {
		_, is := request.AsRefusal(err)
		require.True(c.t, is, "%s must be refused, got %v", step, err)
		return
	}
	require.NoError(c.t, err, step)
}

// stored is a state as it comes back from where it is kept.
func stored(t require.TestingT, s request.State) request.State {
	var read request.State
	require.NoError(t, json.Unmarshal([]byte(written(t, s)), &read))
	return read
}

func written(t require.TestingT, s request.State) string {
	data, err := json.Marshal(s)
	require.NoError(t, err)
	return string(data)
}

// answer puts one in: "months:5", "note:x", or picks such as "big", "2small",
// "small+big" and "rent/l".
func answer(answers form.Answers, key, value string) {
	switch {
	case key == "months":
		var months float64
		_, _ = fmt.Sscanf(value, "%g", &months) // the test says a number
		answers[key] = coretest.Answer(months)
	case value != "":
		answers[key] = coretest.Answer(value)
	default:
		var picks []any
		for pick := range strings.SplitSeq(key, "+") {
			item := strings.TrimLeft(pick, "0123456789")
			quantity := 1.0
			_, _ = fmt.Sscanf(pick, "%g", &quantity) // none is one
			item, size, _ := strings.Cut(item, "/")
			picks = append(picks, map[string]any{"item": item, "quantity": quantity, "options": map[string]any{"size": size}})
		}
		answers["pick"] = coretest.Answer(picks)
	}
}

// split reads "A60,B40".
func split(text string) []any {
	var rows []any
	for part := range strings.SplitSeq(text, ",") {
		var percent float64
		_, _ = fmt.Sscanf(part[1:], "%g", &percent) // the test says a number
		rows = append(rows, map[string]any{"centre": part[:1], "percent": percent})
	}
	return rows
}

// stands tells how a request stands: its outcome or status, then each rung with
// its seats. "gus+" approved, "gus-" declined, "gus+*" as before; "gus/stan+" by
// stan for gus; "gus>stan" stan is asked for gus, "gus&dee" dee as well.
func stands(s request.State) string {
	out := string(s.Status)
	if s.Outcome != "" {
		out = string(s.Outcome)
	}
	for i := range s.Rungs {
		r := &s.Rungs[i]
		out += " | " + r.Key
		switch {
		case r.Outcome != ladder.Open:
			out += " " + string(r.Outcome)
		case r.Opened.IsZero():
			out += " later"
		}
		for _, seat := range r.Seats {
			out += " " + seat.Person
			if seat.Part != "" {
				out += "(" + seat.Part + ")"
			}
			vote, filled := r.VoteFor(seat)
			switch {
			case filled:
				if vote.Person != seat.Person {
					out += "/" + vote.Person
				}
				out += map[request.Decision]string{request.Approve: "+", request.Decline: "-"}[vote.Decision]
				if vote.Carried {
					out += "*"
				}
			case len(seat.Others) > 0:
				asked := seat.DecidingNow()
				sign := "&"
				if asked[0] != seat.Person {
					sign = ">"
				}
				for _, person := range asked {
					if person != seat.Person {
						out += sign + person
					}
				}
			}
		}
	}
	return out
}

func climb(t require.TestingT, d offering.Document, absences []people.Absence, answers form.Answers, whom offering.Beneficiary) *climbing {
	c := &climbing{absences: absences, answers: answers}
	c.t, c.effects = t, map[string]request.Effect{}
	c.look()
	compiled, findings := offering.Compile(d, 1, offering.Company{Directory: c.facts.Company})
	for _, f := range findings {
		require.NotEqual(t, finding.Error, f.Severity, f.Sentence)
	}
	c.facts.Offering = compiled
	c.facts.Service, _ = c.facts.Company.Service("s")
	c.facts.Now = time.Date(2027, 3, 1, 8, 58, 0, 0, time.UTC)
	c.must("ann", begin(), request.Submit{Answers: answers, For: whom, Prefix: "QS", Number: 10432})
	return c
}

// The ladders, worked out by hand (rules.md 5).
func TestLadders(t *testing.T) {
	board := "team:board"
	for _, c := range []struct {
		name   string
		rungs  []ladder.Rung
		before string // absences when it is sent: "bo~stan"
		sent   string // answers: "big note:x mate:sue split:A60,B40 for:eli"
		steps  string
		want   string
	}{
		// Who decides.
		{"no rung", nil, "", "", "", "delivering"},
		{"line manager", []ladder.Rung{rung("lineManager")}, "", "", "bo+", "delivering | r1 passed bo+"},
		{"second manager up", []ladder.Rung{rung("manager:2")}, "", "", "", "deciding | r1 cy"},
		{"higher than the top", []ladder.Rung{rung("manager:4")}, "", "", "", "deciding | r1 own"},
		{"manager of who it is for", []ladder.Rung{rung("beneficiaryManager")}, "", "for:eli", "", "deciding | r1 fay"},
		{"manager of somebody new is the asker's", []ladder.Rung{rung("beneficiaryManager")}, "", "for:new", "", "deciding | r1 bo"},
		{"owner of the cost centre", []ladder.Rung{rung("costCentreOwner")}, "", "small", "", "deciding | r1 kim"},
		{"cost centre of who it is for", []ladder.Rung{rung("costCentreOwner")}, "", "small for:eli", "", "deciding | r1 lou"},
		{"owners of the shares, each their part", []ladder.Rung{rung("costCentreOwner", quorum("all"))}, "", "small split:A60,B40", "", "deciding | r1 kim(A) lou(B)"},
		{"owner of the service", []ladder.Rung{rung("serviceOwner")}, "", "", "", "deciding | r1 own"},
		{"lead of a team", []ladder.Rung{rung("teamLead:board")}, "", "", "", "deciding | r1 gus"},
		{"all of a team", []ladder.Rung{rung(board)}, "", "", "", "deciding | r1 gus hal ivy"},
		{"the person in an answer", []ladder.Rung{rung("answer:mate")}, "", "mate:sue", "", "deciding | r1 sue"},
		{"no answer names anybody", []ladder.Rung{rung("answer:mate")}, "", "", "", "deciding | r1 own"},
		{"a team of nobody", []ladder.Rung{rung("team:empty")}, "", "", "", "deciding | r1 own"},
		{"several sources, one person once", []ladder.Rung{rung("person:gus teamLead:board person:kim")}, "", "", "", "deciding | r1 gus kim"},
		// Neither asker nor beneficiary.
		{"the asker in a group is left out", []ladder.Rung{rung("person:ann person:kim")}, "", "", "", "deciding | r1 kim"},
		{"who it is for in a group is left out", []ladder.Rung{rung("person:eli person:kim")}, "", "for:eli", "", "deciding | r1 kim"},
		{"the asker alone: their manager", []ladder.Rung{rung("person:ann")}, "", "", "", "deciding | r1 bo"},
		{"who it is for alone: their manager", []ladder.Rung{rung("person:eli")}, "", "for:eli", "", "deciding | r1 fay"},
		{"manager who is it for: the next above", []ladder.Rung{rung("lineManager")}, "", "for:bo", "", "deciding | r1 cy"},
		{"the top asks nobody: the fallback", []ladder.Rung{rung("manager:9", fallback("person:ted"))}, "", "", "", "deciding | r1 ted"},
		{"left the company: the fallback", []ladder.Rung{rung("answer:mate", fallback("person:ann person:ted"))}, "", "", "", "deciding | r1 ted"},
		// Quorum.
		{"any of three", []ladder.Rung{rung(board)}, "", "", "hal+", "delivering | r1 passed gus hal+ ivy"},
		{"any of three, after two declined", []ladder.Rung{rung(board)}, "", "", "gus- hal- ivy+", "delivering | r1 passed gus- hal- ivy+"},
		{"all of three, one declines", []ladder.Rung{rung(board, quorum("all"))}, "", "", "gus+ hal-", "declined | r1 declined gus+ hal- ivy"},
		{"two of three", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ hal- ivy+", "delivering | r1 passed gus+ hal- ivy+"},
		{"two of three cannot be reached", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus- hal-", "declined | r1 declined gus- hal- ivy"},
		{"half of three is two", []ladder.Rung{rung(board, quorum("50%"))}, "", "", "gus+", "deciding | r1 gus+ hal ivy"},
		{"half of three is reached by two", []ladder.Rung{rung(board, quorum("50%"))}, "", "", "gus+ ivy+", "delivering | r1 passed gus+ hal ivy+"},
		{"a third of three is one", []ladder.Rung{rung(board, quorum("33%"))}, "", "", "ivy+", "delivering | r1 passed gus hal ivy+"},
		{"more than there are: all of them", []ladder.Rung{rung(board, quorum("5"))}, "", "", "gus+ hal+", "deciding | r1 gus+ hal+ ivy"},
		{"nobody votes twice", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ (gus+)", "deciding | r1 gus+ hal ivy"},
		// Absence.
		{"absent with a stand-in", []ladder.Rung{rung("lineManager")}, "bo~stan", "", "stan+", "delivering | r1 passed bo/stan+"},
		{"absent, and decides nevertheless", []ladder.Rung{rung("lineManager")}, "bo~stan", "", "bo+", "delivering | r1 passed bo+"},
		{"three hops", []ladder.Rung{rung("lineManager")}, "bo~stan stan~sue sue~ted", "", "", "deciding | r1 bo>ted"},
		{"four hops are one too many", []ladder.Rung{rung("lineManager")}, "bo~stan stan~sue sue~ted ted~kim", "", "", "deciding | r1 own"},
		{"a circle of stand-ins", []ladder.Rung{rung("lineManager")}, "bo~stan stan~bo", "", "", "deciding | r1 own"},
		{"the stand-in is the asker", []ladder.Rung{rung("lineManager")}, "bo~ann", "", "", "deciding | r1 own"},
		{"absent without a stand-in, alone", []ladder.Rung{rung("lineManager")}, "bo~", "", "", "deciding | r1 own"},
		{"absent without a stand-in, in a group", []ladder.Rung{rung(board, quorum("2"))}, "gus~", "", "", "deciding | r1 gus hal ivy"},
		{"all of a team are absent", []ladder.Rung{rung(board, quorum("2"))}, "gus~ hal~ ivy~", "", "", "deciding | r1 own"},
		{"the stand-in decides already", []ladder.Rung{rung(board, quorum("all"))}, "gus~hal", "", "hal+ ivy+", "delivering | r1 passed hal+ ivy+"},
		{"two share a stand-in: one seat", []ladder.Rung{rung(board, quorum("2"))}, "gus~stan hal~stan", "", "stan+", "deciding | r1 gus/stan+ ivy"},
		{"the service owner is absent, too: who is above", []ladder.Rung{rung("serviceOwner")}, "own~", "", "", "deciding | r1 dee"},
		{"absent while it is open", []ladder.Rung{rung("lineManager")}, "", "", "bo~stan stan+", "delivering | r1 passed bo/stan+"},
		{"absent while it is open, both may decide", []ladder.Rung{rung("lineManager")}, "", "", "bo~stan bo+ (stan-)", "delivering | r1 passed bo+"},
		{"leaves while it is open: the manager is asked", []ladder.Rung{rung("lineManager")}, "", "", "left:bo cy+", "delivering | r1 passed bo/cy+"},
		// Conditions and several rungs.
		{"not needed", []ladder.Rung{rung("lineManager", when(`answers.note == "x"`))}, "", "note:y", "", "delivering"},
		{"needed as its answer is missing", []ladder.Rung{rung("lineManager", when(`answers.note == "x"`))}, "", "", "", "deciding | r1 bo"},
		{"by price", []ladder.Rung{rung("lineManager"), rung("costCentreOwner", when(`cost.once > money("2000.00")`))}, "", "big", "bo+", "deciding | r1 passed bo+ | r2 kim"},
		{"one after the other", []ladder.Rung{rung("lineManager"), rung(board)}, "", "", "", "deciding | r1 bo | r2 later"},
		{"who approved before counts", []ladder.Rung{rung("person:gus"), rung(board)}, "", "", "gus+", "delivering | r1 passed gus+ | r2 passed gus+* hal ivy"},
		{"unless the rung says no", []ladder.Rung{rung("person:gus"), rung(board, afresh)}, "", "", "gus+", "deciding | r1 passed gus+ | r2 gus hal ivy"},
		{"a declined vote does not carry", []ladder.Rung{rung(board), rung("person:gus")}, "", "", "gus- hal+", "deciding | r1 passed gus- hal+ ivy | r2 gus"},
		{"a stand-in's own yes carries to their own seat", []ladder.Rung{rung("lineManager"), rung("person:stan person:kim", quorum("all"))}, "bo~stan", "", "stan+", "deciding | r1 passed bo/stan+ | r2 stan+* kim"},
		{"a yes to a part does not carry", []ladder.Rung{rung("costCentreOwner", quorum("all")), rung("person:kim")}, "", "small split:A60,B40", "kim+ lou+", "deciding | r1 passed kim(A)+ lou(B)+ | r2 kim"},
		{"declined on the second rung", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "", "bo+ own-", "declined | r1 passed bo+ | r2 declined own-"},
		// Time.
		{"reminded, and waits", []ladder.Rung{rung("lineManager", within("4d", ladder.Remind, 50))}, "", "", "+2d", "deciding | r1 bo"},
		{"escalated, and the first stays", []ladder.Rung{rung("lineManager", within("2d", ladder.Escalate))}, "", "", "+2d", "deciding | r1 bo&cy"},
		{"escalated, and the second decides", []ladder.Rung{rung("lineManager", within("2d", ladder.Escalate))}, "", "", "+2d cy+ (bo-)", "delivering | r1 passed bo/cy+"},
		{"escalated for open seats only", []ladder.Rung{rung("person:bo person:eli", quorum("all"), within("2d", ladder.Escalate))}, "", "", "eli+ +2d", "deciding | r1 bo&cy eli+"},
		{"escalated past the top: the service owner", []ladder.Rung{rung("person:dee", within("2d", ladder.Escalate))}, "", "", "+2d", "deciding | r1 dee&own"},
		{"approves by itself", []ladder.Rung{rung("lineManager", within("2d", ladder.Approve))}, "", "", "+2d", "delivering | r1 passed bo"},
		{"declines by itself", []ladder.Rung{rung("lineManager", within("2d", ladder.Decline))}, "", "", "+2d", "declined | r1 declined bo"},
		{"a day before the limit", []ladder.Rung{rung("lineManager", within("2d", ladder.Decline))}, "", "", "+1d", "deciding | r1 bo"},
		{"expires after twenty days", []ladder.Rung{rung("lineManager")}, "", "", "+20d", "expired | r1 bo"},
		{"not after nineteen", []ladder.Rung{rung("lineManager")}, "", "", "+19d", "deciding | r1 bo"},
		{"twenty days after its limit", []ladder.Rung{rung("lineManager", within("2d", ladder.Escalate))}, "", "", "+22d", "expired | r1 bo&cy"},
		{"a long standstill: the limit comes first", []ladder.Rung{rung("lineManager", within("2d", ladder.Approve))}, "", "", "+40d", "delivering | r1 passed bo"},
		// Asked back, and decided again.
		{"returned to the asker", []ladder.Rung{rung("lineManager")}, "", "", "bo?", "returned | r1 bo"},
		{"nobody decides meanwhile", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ hal? (ivy+)", "returned | r1 gus+ hal ivy"},
		{"answered, votes stay", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ hal? ann= hal+", "delivering | r1 passed gus+ hal+ ivy"},
		{"another answer, votes fall", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ hal? ann=note:x", "deciding | r1 gus hal ivy"},
		{"an answer they do not see, votes stay", []ladder.Rung{rung(board, quorum("2"), shows("pick"))}, "", "small", "gus+ hal? ann=note:x", "deciding | r1 gus+ hal ivy"},
		{"an earlier rung is asked again", []ladder.Rung{rung("lineManager", shows("note")), rung("serviceOwner", shows("mate"))}, "", "", "bo+ own? ann=note:x", "deciding | r1 bo | r2 later own"},
		{"and then the later one goes on", []ladder.Rung{rung("lineManager", shows("note")), rung("serviceOwner", shows("mate"))}, "", "", "bo+ own? ann=note:x bo+ own+", "delivering | r1 passed bo+ | r2 passed own+"},
		{"a dearer pick asks again", []ladder.Rung{rung("lineManager", shows("note")), rung("serviceOwner", shows("note"))}, "", "small", "bo+ own? ann=big", "deciding | r1 bo | r2 later own"},
		{"but not who does not see the price", []ladder.Rung{rung("lineManager", shows("note"), noPrice), rung("serviceOwner", shows("note"))}, "", "small", "bo+ own? ann=big", "deciding | r1 passed bo+ | r2 own"},
		{"a cheaper pick asks nobody", []ladder.Rung{rung("lineManager", shows("note")), rung("serviceOwner", shows("note"))}, "", "big", "bo+ own? ann=small", "deciding | r1 passed bo+ | r2 own"},
		{"a cheaper pick drops a rung", []ladder.Rung{rung("lineManager", shows("note")), rung("costCentreOwner", when(`cost.once > money("2000.00")`))}, "", "big", "bo+ kim? ann=small", "delivering | r1 passed bo+"},
		{"a dearer pick adds a rung", []ladder.Rung{rung("lineManager"), rung("costCentreOwner", when(`cost.once > money("2000.00")`))}, "", "small", "bo? ann=big bo+", "deciding | r1 passed bo+ | r2 kim"},
		{"only the part that rose is asked again", []ladder.Rung{rung("costCentreOwner", quorum("all"), shows("note")), rung("lineManager", shows("note"))}, "", "big split:A60,B40", "kim+ lou+ bo? ann=split:A50,B50", "deciding | r1 kim(A)+ lou(B) | r2 later bo"},
		{"a question nobody answers", []ladder.Rung{rung("lineManager")}, "", "", "bo? +10d", "expired | r1 bo"},
		{"answered on the ninth day", []ladder.Rung{rung("lineManager")}, "", "", "bo? +9d ann=", "deciding | r1 bo"},
		{"an answer that says nothing", []ladder.Rung{rung("lineManager")}, "", "note:x", "bo? (ann=note:x)", "returned | r1 bo"},
		{"a decline that sends back", []ladder.Rung{rung("lineManager", sendBack)}, "", "", "bo-", "returned | r1 bo"},
		{"who decides is another after the answer", []ladder.Rung{rung("answer:mate person:kim", quorum("all"), shows("note"))}, "", "mate:sue", "kim+ sue? ann=mate:ted", "deciding | r1 ted kim+"},
		// A part is decided by its owner alone, and every part needs its yes.
		{"one yes of two parts is not enough", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,B50", "kim+", "deciding | r1 kim(A)+ lou(B)"},
		{"the yes of both parts is", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,B50", "kim+ lou+", "delivering | r1 passed kim(A)+ lou(B)+"},
		{"a part that is declined declines", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,B50", "kim+ lou-", "declined | r1 declined kim(A)+ lou(B)-"},
		{"a part of an unknown centre: the service owner", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,X50", "kim+", "deciding | r1 kim(A)+ own(X)"},
		{"a part without an owner: the fallback", []ladder.Rung{rung("costCentreOwner", fallback("person:ann person:ted"))}, "", "small split:A50,E50", "kim+ ted+", "delivering | r1 passed kim(A)+ ted(E)+"},
		{"a part whose owner has left: the service owner", []ladder.Rung{rung("costCentreOwner")}, "", "small split:F50,A50", "", "deciding | r1 own(F) kim(A)"},
		{"the asker owns nearly all: their manager", []ladder.Rung{rung("costCentreOwner")}, "", "small split:D90,B10", "lou+", "deciding | r1 bo(D) lou(B)+"},
		{"the owner of two of three decides on two", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A30,C30,B40", "kim+", "deciding | r1 kim(A)+ kim(C)+ lou(B)"},
		{"an absent owner without a stand-in: their manager", []ladder.Rung{rung("costCentreOwner", fallback("person:ted"))}, "kim~", "small split:A50,B50", "", "deciding | r1 dee(A) lou(B)"},
		{"one stands in for two owners", []ladder.Rung{rung("costCentreOwner")}, "kim~stan lou~stan", "small split:A50,B50", "stan+", "delivering | r1 passed kim(A)/stan+ lou(B)/stan+"},
		{"an owner stands in for another", []ladder.Rung{rung("costCentreOwner")}, "kim~lou", "small split:A50,B50", "lou+", "delivering | r1 passed kim(A)/lou+ lou(B)+"},
		{"absent while it is open, for both", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,B50", "kim~stan lou~stan stan+", "delivering | r1 passed kim(A)/stan+ lou(B)/stan+"},
		{"parts are escalated to one who is above both", []ladder.Rung{rung("costCentreOwner", within("2d", ladder.Escalate))}, "", "small split:A50,B50", "kim+ +2d dee+", "delivering | r1 passed kim(A)+ lou(B)/dee+"},
		{"parts beside the whole", []ladder.Rung{rung("lineManager costCentreOwner")}, "", "small split:A50,B50", "bo+ kim+", "deciding | r1 bo+ kim(A)+ lou(B)"},
		{"parts do not count for the whole", []ladder.Rung{rung("team:board costCentreOwner", quorum("2"))}, "", "small split:A50,B50", "kim+ lou+ gus+", "deciding | r1 gus+ hal ivy kim(A)+ lou(B)+"},
		{"the quorum of the whole and every part", []ladder.Rung{rung("team:board costCentreOwner", quorum("2"))}, "", "small split:A50,B50", "kim+ lou+ gus+ hal-", "deciding | r1 gus+ hal- ivy kim(A)+ lou(B)+"},
		{"one who sits for the whole and a part says both", []ladder.Rung{rung("person:kim costCentreOwner")}, "", "small split:A50,B50", "kim+ lou+", "delivering | r1 passed kim+ kim(A)+ lou(B)+"},
		{"a yes to the whole carries to a part", []ladder.Rung{rung("person:kim"), rung("costCentreOwner")}, "", "small split:A50,B50", "kim+", "deciding | r1 passed kim+ | r2 kim(A)+* lou(B)"},
		{"a part is passed on", []ladder.Rung{rung("costCentreOwner")}, "", "small split:A50,B50", "kim>dee dee+ lou+", "delivering | r1 passed kim(A)/dee+ lou(B)+"},
		{"a part that is declined to be mended", []ladder.Rung{rung("costCentreOwner", sendBack)}, "", "small split:A50,B50", "kim+ lou- ann=split:A60,B40", "deciding | r1 kim(A) lou(B)"},
		{"one centre alone is the whole", []ladder.Rung{rung("costCentreOwner")}, "", "small split:B100", "", "deciding | r1 lou"},
		// What asks again, with all shown.
		{"shares that move ask nobody who decides on the whole", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "small split:A60,B40", "bo+ own? ann=split:A50,B50", "deciding | r1 passed bo+ | r2 own"},
		{"a new share asks nobody either", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "small split:A60,B40", "bo+ own? ann=split:A40,B40,C20", "deciding | r1 passed bo+ | r2 own"},
		{"a part that fell is not asked again", []ladder.Rung{rung("costCentreOwner"), rung("lineManager")}, "", "big split:A60,B40", "kim+ lou+ bo? ann=split:A50,B50", "deciding | r1 kim(A)+ lou(B) | r2 later bo"},
		{"a line that is gone asks nobody", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "small+big", "bo+ own? ann=big", "deciding | r1 passed bo+ | r2 own"},
		{"fewer of a line ask nobody", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "3small", "bo+ own? ann=2small", "deciding | r1 passed bo+ | r2 own"},
		{"more of a line asks again", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "2small", "bo+ own? ann=3small", "deciding | r1 bo | r2 later"},
		{"an added line asks again, though it is cheaper", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "big", "bo+ own? ann=small", "deciding | r1 bo | r2 later"},
		{"a cheaper option asks nobody", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "rent/l months:5", "bo+ own? ann=rent/s", "deciding | r1 passed bo+ | r2 own"},
		{"another option as dear asks again", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "rent/l months:5", "bo+ own? ann=rent/x", "deciding | r1 bo | r2 later"},
		{"more months, though they are not shown", []ladder.Rung{rung("lineManager", shows("pick")), rung("serviceOwner", shows("pick"))}, "", "rent/s months:5", "bo+ own? ann=months:50", "deciding | r1 bo | r2 later own"},
		{"fewer months, not shown", []ladder.Rung{rung("lineManager", shows("pick")), rung("serviceOwner", shows("pick"))}, "", "rent/s months:50", "bo+ own? ann=months:5", "deciding | r1 passed bo+ | r2 own"},
		{"more months of a part", []ladder.Rung{rung("costCentreOwner", shows("pick")), rung("lineManager", shows("pick"))}, "", "rent/s months:5 split:A50,B50", "kim+ lou+ bo? ann=months:50", "deciding | r1 kim(A) lou(B) | r2 later bo"},
		// Passing on, changing one's mind, taking back.
		{"passed on, up", []ladder.Rung{rung("lineManager")}, "", "", "bo>cy (bo+) cy+", "delivering | r1 passed bo/cy+"},
		{"passed on, up two", []ladder.Rung{rung("lineManager")}, "", "", "bo>dee dee+", "delivering | r1 passed bo/dee+"},
		{"passed on, beside", []ladder.Rung{rung("teamLead:board")}, "", "", "gus>kim kim+", "delivering | r1 passed gus/kim+"},
		{"passed on, to whom the rung names", []ladder.Rung{rung("lineManager", fallback("person:sue"))}, "", "", "bo>sue sue+", "delivering | r1 passed bo/sue+"},
		{"not to just anybody", []ladder.Rung{rung("lineManager")}, "", "", "(bo>sue) (bo>hana)", "deciding | r1 bo"},
		{"not to a subordinate, even where named", []ladder.Rung{rung("manager:2", fallback("person:bo"))}, "", "", "(cy>bo)", "deciding | r1 cy"},
		{"passed on and taken back", []ladder.Rung{rung("lineManager")}, "", "", "bo>cy bo< (cy+) bo+", "delivering | r1 passed bo+"},
		{"not taken back once it is decided", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "", "bo>cy cy+ (bo<)", "deciding | r1 passed bo/cy+ | r2 own"},
		{"not by somebody else", []ladder.Rung{rung("lineManager")}, "", "", "bo>cy (gus<)", "deciding | r1 bo>cy"},
		{"back from an absence: the stand-in decides no more", []ladder.Rung{rung("lineManager")}, "bo~stan", "", "bo^ (stan+) bo+", "delivering | r1 passed bo+"},
		{"back before, of two", []ladder.Rung{rung("team:board", quorum("all"))}, "gus~stan hal~sue", "", "gus^ (stan+) gus+ sue+ ivy+", "delivering | r1 passed gus+ hal/sue+ ivy+"},
		{"absent again", []ladder.Rung{rung("lineManager")}, "bo~stan", "", "bo^ bo~stan stan+", "delivering | r1 passed bo/stan+"},
		{"a question taken back", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus+ hal? (ivy*) hal* hal+", "delivering | r1 passed gus+ hal+ ivy"},
		{"not once it is answered", []ladder.Rung{rung("lineManager")}, "", "", "bo? ann= (bo*)", "deciding | r1 bo"},
		{"not to the asker, nor who decides, nor who has left", []ladder.Rung{rung(board)}, "", "", "(gus>ann) (gus>hal) (gus>gone)", "deciding | r1 gus hal ivy"},
		{"a stand-in passes on", []ladder.Rung{rung("lineManager")}, "bo~stan", "", "stan>sue sue+", "delivering | r1 passed bo/sue+"},
		{"a changed mind", []ladder.Rung{rung(board, quorum("2"))}, "", "", "gus- gus+ hal+", "delivering | r1 passed gus+ hal+ ivy"},
		{"not once the rung is passed", []ladder.Rung{rung("lineManager"), rung("serviceOwner")}, "", "", "bo+ (bo-)", "deciding | r1 passed bo+ | r2 own"},
		{"taken back", []ladder.Rung{rung("lineManager")}, "", "", "ann! (bo+)", "withdrawn | r1 bo"},
		{"taken back while returned", []ladder.Rung{rung("lineManager")}, "", "", "bo? ann!", "withdrawn | r1 bo"},
		{"during the work as well", []ladder.Rung{rung("lineManager")}, "", "", "bo+ ann! (ann!)", "withdrawn | r1 passed bo+"},
		{"not by anybody else", []ladder.Rung{rung("lineManager")}, "", "", "(kim+) (ann+) (bo!) (kim?) (kim=)", "deciding | r1 bo"},
	} {
		t.Run(c.name, func(t *testing.T) {
			var absences []people.Absence
			for a := range strings.FieldsSeq(c.before) {
				person, standIn, _ := strings.Cut(a, "~")
				absences = append(absences, people.Absence{Person: person, StandIn: standIn, From: time.Unix(0, 0), Until: time.Unix(1e11, 0)})
			}
			answers, whom := form.Answers{}, offering.Beneficiary{}
			for word := range strings.FieldsSeq(c.sent) {
				switch key, value, _ := strings.Cut(word, ":"); {
				case key == "split":
					answers["split"] = coretest.Answer(split(value))
				case word == "for:new":
					whom.Newcomer = &people.Newcomer{Name: "Nia New"}
				case key == "for":
					whom.Person = value
				default:
					answer(answers, key, value)
				}
			}
			climbed := climb(t, ladderOffering(c.rungs...), absences, answers, whom)
			for step := range strings.FieldsSeq(c.steps) {
				climbed.say(step)
			}
			assert.Equal(t, c.want, stands(climbed.state))
			assert.JSONEq(t, written(t, climbed.state), written(t, request.Replay(climbed.events)), "the events alone give the same ladder")
			if climbed.state.Status != request.Closed {
				assert.NotEmpty(t, climbed.state.Holders("home"), "somebody holds it")
			}
		})
	}
}

// Whatever happens in whatever order: no task without every needed rung
// passed, no person's vote counts twice on a rung, neither asker nor
// beneficiary decides, and after enough time the ladder has ended.
func TestLaddersHold(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		sources := []string{"lineManager", "manager:2", "beneficiaryManager", "costCentreOwner", "serviceOwner", "team:board", "teamLead:board", "person:ann", "person:eli", "answer:mate", "person:stan"}
		var rungs []ladder.Rung
		for range rapid.IntRange(1, 4).Draw(t, "rungs") {
			r := rung(strings.Join(rapid.SliceOfN(rapid.SampledFrom(sources), 1, 3).Draw(t, "sources"), " "), quorum(rapid.SampledFrom([]string{"any", "all", "2", "60%"}).Draw(t, "quorum")))
			r.Afresh = rapid.Bool().Draw(t, "afresh")
			r.SendBack = rapid.Bool().Draw(t, "sendBack")
			if rapid.Bool().Draw(t, "limited") {
				within("2d", rapid.SampledFrom([]ladder.Then{ladder.Remind, ladder.Escalate, ladder.Approve, ladder.Decline}).Draw(t, "then"), 50)(&r)
			}
			if rapid.Bool().Draw(t, "slice") {
				r.Facts = []string{"note"}
			}
			rungs = append(rungs, r)
		}
		everybody := []string{"ann", "bo", "cy", "dee", "eli", "fay", "gus", "hal", "ivy", "kim", "lou", "own", "hana", "stan", "sue"}
		whom := offering.Beneficiary{Person: rapid.SampledFrom([]string{"ann", "eli", "bo"}).Draw(t, "whom")}
		c := climb(t, ladderOffering(rungs...), nil, coretest.Answers(map[string]any{"mate": "sue"}), whom)
		for range rapid.IntRange(0, 25).Draw(t, "steps") {
			who := rapid.SampledFrom(everybody).Draw(t, "who")
			key := rapid.SampledFrom([]string{"r1", "r2", "r3", "r4"}).Draw(t, "rung")
			if r, open := c.state.OpenRung(); open {
				key = r.Key
			}
			switch rapid.IntRange(0, 7).Draw(t, "what") {
			case 0:
				_ = c.do(who, request.Decide{Rung: key, Decision: request.Decline, Reason: "No."})
			case 1:
				_ = c.do(who, request.AskBack{Rung: key, Text: "Why?"})
			case 2:
				_ = c.do("ann", request.Resubmit{Answers: coretest.Answers(map[string]any{"mate": "sue", "note": who}), Reply: "So."})
			case 3:
				_ = c.do(who, request.PassOn{Rung: key, To: rapid.SampledFrom(everybody).Draw(t, "to"), Reason: "You."})
			case 4:
				c.absences = append(c.absences, people.Absence{Person: who, StandIn: rapid.SampledFrom(everybody).Draw(t, "standIn"), From: c.facts.Now, Until: c.facts.Now.AddDate(0, 0, 9)})
				c.look()
				_ = c.do(request.Program, request.Relieve{})
			case 5:
				c.say("+1d")
			default:
				_ = c.do(who, request.Decide{Rung: key, Decision: request.Approve})
			}
			holds(t, c, whom.Person)
		}
		for range 10 { // four rungs, each with its limit and twenty days more
			c.say("+25d")
			holds(t, c, whom.Person)
		}
		_, open := c.state.OpenRung()
		assert.False(t, open, "the ladder always ends: %s", stands(c.state))
	})
}

func holds(t *rapid.T, c *climbing, beneficiary string) {
	for i := range c.state.Rungs {
		r := &c.state.Rungs[i]
		seats, persons := map[string]bool{}, map[string]bool{}
		for _, v := range r.Votes {
			assert.False(t, seats[v.Seat+"/"+v.Part] || v.Part == "" && persons[v.Person], "one vote a seat, and for the whole a person: %s", stands(c.state))
			seats[v.Seat+"/"+v.Part], persons[v.Person] = true, v.Part == "" || persons[v.Person]
			assert.NotContains(t, []string{"ann", beneficiary}, v.Person)
		}
		if len(c.state.Tasks) > 0 {
			assert.Equal(t, ladder.Passed, r.Outcome, stands(c.state))
		}
	}
	assert.JSONEq(t, written(t, c.state), written(t, request.Replay(c.events)))
	if c.state.Status != request.Closed {
		assert.NotEmpty(t, c.state.Holders("home"), stands(c.state))
	}
}

// After a standstill of several marks only the highest is told, and the ones
// below are written down.
func TestOfSeveralRemindersOnlyTheHighestIsTold(t *testing.T) {
	c := climb(t, ladderOffering(rung("lineManager", within("10d", ladder.Remind, 20, 50, 80))), nil, form.Answers{}, offering.Beneficiary{})
	assert.Equal(t, "2027-03-03T09:00:00Z", c.effects["r1/tick"].At.Format(time.RFC3339), "a fifth of ten days")
	c.say("+6d")
	reminded, ok := c.events[len(c.events)-1].Body.(request.RungReminded)
	require.True(t, ok)
	assert.Equal(t, request.RungReminded{Rung: "r1", Share: 50, Passed: []int{20}}, reminded)
	assert.Equal(t, "2027-03-11T09:00:00Z", c.effects["r1/tick"].At.Format(time.RFC3339))
	c.say("+1d")
	assert.Equal(t, reminded, c.events[len(c.events)-1].Body, "nothing twice")
}
