package rehearse

import (
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// made are keys of tasks that no plan has, as a request makes them itself.
var made = regexp.MustCompile(`^(added|right)-[0-9]+$`)

// checkLine says what a line names that is not there; nil for nothing.
func (d *driver) checkLine(line script.Line) error {
	for _, login := range []string{line.Who, line.Person} {
		if login == "" {
			continue
		}
		if _, there := d.person(login); !there {
			return fmt.Errorf("nobody has the login %q", login)
		}
	}
	for _, key := range []string{line.Task, line.Before, line.Skips} {
		if _, there := d.Offering.Plan.Of(key); key != "" && !there && !made.MatchString(key) {
			return fmt.Errorf("the plan has no task %q", key)
		}
	}
	if line.Rung != "" && !slices.ContainsFunc(d.Offering.Document.Ladder, func(r ladder.Rung) bool { return r.Key == line.Rung }) {
		return fmt.Errorf("the ladder has no rung %q", line.Rung)
	}
	if _, there := d.Company.Team(line.Team); line.Team != "" && !there {
		return fmt.Errorf("there is no team %q", line.Team)
	}
	for _, key := range slices.Sorted(maps.Keys(line.Answers)) {
		if _, there := d.Offering.Form.Question(key); !there {
			return fmt.Errorf("there is no question %q", key)
		}
	}
	for _, key := range slices.Sorted(maps.Keys(line.Lines)) {
		if n, err := strconv.Atoi(key); err != nil || n < 0 {
			return fmt.Errorf("%q is no number of a line, from 0", key)
		}
	}
	return nil
}

// person finds somebody whom a script names.
func (d *driver) person(login string) (string, bool) {
	if p, there := d.Company.ByLogin(login); there {
		return p.ID, true
	}
	switch login {
	case asAsker:
		return d.asker.ID, true
	case asBeneficiary:
		return d.whom.Person, d.whom.Person != ""
	}
	return "", false
}

// lineDue is when the next line of the script is to happen.
func (d *driver) lineDue() (time.Time, bool) {
	if d.line >= len(d.Script.Script) {
		return time.Time{}, false
	}
	line := d.Script.Script[d.line]
	if line.After != nil {
		return d.Offering.Promise.Calendar().After(d.lineAt, line.After.Length), true
	}
	return line.At.UTC(), true
}

// perfLine does a line of the script. What the core refuses is noted, and the run goes on.
func (d *driver) perfLine(i int) {
	line := d.Script.Script[i]
	if line.Down != nil {
		d.offTill = d.now.Add(line.Down.Open)
		return
	}
	if d.now.Before(d.offTill) {
		d.Refused = append(d.Refused, Refused{Line: i, At: d.now, Code: refusal.Off, Sentence: "Heptad is off."})
		return
	}
	who := request.Program
	if line.Who != "" {
		who, _ = d.person(line.Who) // checked before it began
	}
	for _, c := range d.commands(who, line) {
		if err := d.do(who, c); err != nil {
			d.refuse(i, err)
			return
		}
		d.settle() // as the runner does after each
	}
}

// commands are what a line stands for: what comes before it, such as taking a task that is
// to be done, and itself.
func (d *driver) commands(who string, line script.Line) []request.Command {
	rung := line.Rung
	if open, is := d.State.OpenRung(); rung == "" && is {
		rung = open.Key
	}
	other, _ := d.person(line.Person)
	one := func(c request.Command) []request.Command { return []request.Command{c} }
	switch line.Do {
	case script.Approve:
		return one(request.Decide{Rung: rung, Decision: request.Approve, Reason: line.Reason})
	case script.Decline:
		return one(request.Decide{Rung: rung, Decision: request.Decline, Reason: line.Reason})
	case script.AskBack:
		return one(request.AskBack{Rung: rung, Text: line.Text})
	case script.Unask:
		if line.Task != "" {
			return one(request.UnaskAsker{Task: line.Task})
		}
		return one(request.Unask{Rung: rung})
	case script.PassOn:
		return one(request.PassOn{Rung: rung, To: other, Reason: line.Reason})
	case script.TakeBack:
		return one(request.TakeBack{Rung: rung})
	case script.Answer:
		return one(d.answering(line))
	case script.Hear:
		return one(request.Hear{Task: line.Task, Text: line.Text, From: other, How: line.How, At: d.now})
	case script.Comment:
		return one(request.Comment{Task: line.Task, Text: line.Text, To: request.To(line.To)})
	case script.Note:
		return one(request.Note{Task: line.Task, Text: line.Text, To: request.To(line.To)})
	case script.Attach:
		return one(request.Attach{Task: line.Task, To: request.To(line.To), File: form.Upload{ID: "file-" + line.Name, Name: line.Name, Type: "application/octet-stream"}})
	case script.Follow:
		return one(request.Follow{Person: other})
	case script.Unfollow:
		return one(request.Unfollow{Person: other})
	case script.Urge:
		return one(request.Urge{Choice: line.Choice, Reason: line.Reason})
	case script.Withdraw:
		return one(request.Withdraw{Chosen: line.Chosen, Reason: line.Reason})
	case script.Cancel:
		return one(request.Cancel{Chosen: line.Chosen, Reason: line.Reason})
	case script.Close:
		return one(request.Close{Word: line.Text})
	case script.Confirm:
		return one(request.Confirm{Remark: line.Text})
	case script.SendBack:
		return one(request.SendBack{Text: line.Text, Lines: line.Wrong})
	case script.Rate:
		return one(request.Rate{Stars: line.Stars, Text: line.Text, Answers: line.Ratings})
	case script.AddTask:
		return one(request.AddTask{Name: line.Name, Team: line.Team, Instructions: line.Text, Effort: line.Effort, Before: line.Before, Reason: line.Reason})
	}
	return d.onTask(who, line, other)
}

// onTask are the commands on one task.
func (d *driver) onTask(who string, line script.Line, other string) []request.Command {
	key := line.Task
	switch line.Do {
	case script.Take:
		return []request.Command{request.Take{Task: key}}
	case script.HandOver:
		return []request.Command{request.HandOver{Task: key, Person: other, Team: line.Team, Upward: line.Upward, Reason: line.Reason}}
	case script.Tick:
		return append(d.taking(who, key), request.Check{Task: key, Point: *line.Point, Done: !line.Off})
	case script.Count:
		return append(d.taking(who, key), counts(key, numbered(line.Lines))...)
	case script.ConfirmPart:
		return []request.Command{request.ConfirmPart{Task: key}}
	case script.Ask:
		return append(d.taking(who, key), request.AskAsker{Task: key, Text: line.Text})
	case script.Doubt:
		return []request.Command{request.Doubt{Task: key, Reason: line.Reason}}
	case script.Stuck:
		return []request.Command{request.GetStuck{Task: key, Reason: line.Reason}}
	case script.Retry:
		return []request.Command{request.Retry{Task: key, Inputs: line.Inputs, Reason: line.Reason}}
	case script.Skip:
		return []request.Command{request.Skip{Task: key, Reason: line.Reason}}
	case script.Waive:
		return []request.Command{request.Waive{Task: key, After: line.Skips, Reason: line.Reason}}
	case script.RunNow:
		return []request.Command{request.RunNow{Action: key, Inputs: line.Inputs, Word: line.Text}}
	case script.Reporting:
		return []request.Command{request.Report{Task: key, Step: line.Step, Words: line.Text, Outputs: line.Outputs, Lines: numbered(line.Lines), Final: line.State == script.Done, Failed: line.State == script.Failed}}
	case script.Complete:
		out := append(d.taking(who, key), d.finishing(who, key, line.Text != "")...)
		return append(out, request.Complete{Task: key, Outputs: line.Outputs, Word: line.Text})
	}
	return nil
}

// taking takes a task first that nobody has in hand.
func (d *driver) taking(who, key string) []request.Command {
	t, there := d.State.Task(key)
	if !there || !d.Company.InTeam(who, t.Team) || len(t.Confirmers) > 0 {
		return nil
	}
	byHand := t.Undo != nil && t.Undo.Text != "" && t.Undo.State == plan.Ready
	if byHand || t.Undo == nil && t.Kind == plan.Manual && t.State == plan.Ready && t.Place != request.Queued {
		return []request.Command{request.Take{Task: key}}
	}
	return nil
}

// finishing ticks what is still to be ticked, and counts what is still to be counted, unless
// that is left with a word.
func (d *driver) finishing(who, key string, left bool) []request.Command {
	t, there := d.State.Task(key)
	if !there || t.Undo != nil || t.State != plan.Taken && t.State != plan.Ready && t.State != plan.Stuck || t.Holder != "" && t.Holder != who && t.State != plan.Stuck {
		return nil
	}
	var out []request.Command
	for i, point := range t.MustDos {
		if !point.Done && t.State != plan.Stuck {
			out = append(out, request.Check{Task: key, Point: i, Done: true})
		}
	}
	for i, line := range t.Lines {
		if line.Done < line.Of && !left {
			out = append(out, request.Count{Task: key, Line: i, Done: line.Of})
		}
	}
	return out
}

// numbered are lines by their number; that they are numbers was checked before it began.
func numbered(lines map[string]int) map[int]int {
	out := map[int]int{}
	for text, done := range lines {
		i, _ := strconv.Atoi(text)
		out[i] = done
	}
	return out
}

// counts are the lines of a task that are done, in order.
func counts(key string, lines map[int]int) []request.Command {
	var out []request.Command
	for _, i := range slices.Sorted(maps.Keys(lines)) {
		out = append(out, request.Count{Task: key, Line: i, Done: lines[i]})
	}
	return out
}

// answering answers what was asked about a task, else what was asked back.
func (d *driver) answering(line script.Line) request.Command {
	if d.State.Status != request.Returned {
		key := line.Task
		for i := range d.State.Tasks {
			if t := &d.State.Tasks[i]; key == "" && t.Question != nil {
				key = t.Key
			}
		}
		return request.Answer{Task: key, Text: line.Text}
	}
	answers := maps.Clone(d.State.Answers)
	maps.Copy(answers, line.Answers)
	return request.Resubmit{Answers: answers, Reply: line.Text}
}

// outputs are values such as come out of a task, for what must be given; those that are
// there already stay. Secrets are never made.
func (d *driver) outputs(key string, of []plan.Output, given map[string]string) map[string]string {
	t, _ := d.State.Task(key)
	out := map[string]string{}
	for _, o := range of {
		text, said := given[o.Key]
		switch {
		case said:
			out[o.Key] = text
		case o.Secret || o.Kind == plan.File || t != nil && t.Outputs[o.Key] != "":
		default:
			out[o.Key] = o.Kind.MadeUp("sample-"+key+"-"+o.Key, d.Offering.Promise.Today(d.now).String(), d.State.Price.Once.Decimal())
		}
	}
	return out
}
