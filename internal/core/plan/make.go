package plan

import (
	"fmt"
	"regexp"
	"slices"

	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Each is one of the things a task is made for.
type Each struct {
	Number    int               `json:"number"` // from 1
	Key       string            `json:"key,omitempty"`
	Name      string            `json:"name"`
	Quantity  int               `json:"quantity,omitempty"` // of a picked item
	Belonging *people.Belonging `json:"belonging,omitempty"`
}

// Made is a task as it is made for one request.
type Made struct {
	Key   string // of the task of the plan; with a number behind it when there is one for each
	Of    string // key of the task of the plan
	Name  string
	After []string // keys of made tasks
	Each  *Each
}

// Make makes the tasks of one request. Things lists what a source, such as an
// item pick, holds. A task that is made for none passes the waiting on to
// those it waits for itself; two tasks for each of the same follow each other
// thing by thing.
func (p *Plan) Make(things func(source string) []Each) []Made {
	each := map[string][]Each{}
	for i := range p.tasks {
		if source := p.tasks[i].Each; source != "" && each[source] == nil {
			each[source] = things(source)
		}
	}
	var made []Made
	for i := range p.tasks {
		t := &p.tasks[i]
		if t.OnDemand {
			continue
		}
		if t.Each == "" {
			made = append(made, Made{Key: t.Key, Of: t.Key, Name: t.Name, After: p.after(i, each, 0)})
			continue
		}
		for _, thing := range each[t.Each] {
			made = append(made, Made{Key: numbered(t.Key, thing.Number), Of: t.Key, Name: t.Name + ": " + thing.Name, After: p.after(i, each, thing.Number), Each: &thing})
		}
	}
	return made
}

func numbered(key string, n int) string { return fmt.Sprintf("%s.%d", key, n) }

// Run is the n-th run, from 1, of a task that is started on demand.
func (p *Plan) Run(key string, n int) Made {
	return Made{Key: fmt.Sprintf("%s-run-%d", key, n), Of: key, Name: p.task(key).Name}
}

// behind is what Make and Run put behind the key of a task of the plan.
var behind = regexp.MustCompile(`(\.|-run-)[0-9]+$`)

// Of finds the task of the plan that a task of a request was made of, by its key; false for
// one that the request made itself.
func (p *Plan) Of(made string) (Task, bool) {
	if t, there := p.Task(made); there {
		return t, true
	}
	return p.Task(behind.ReplaceAllString(made, ""))
}

// after lists the made tasks that the number-th one of a task waits for.
func (p *Plan) after(i int, each map[string][]Each, number int) []string {
	var keys []string
	for _, j := range p.forerunners(i) {
		t := &p.tasks[j]
		switch {
		case t.Each == "":
			keys = append(keys, t.Key)
		case len(each[t.Each]) == 0:
			keys = append(keys, p.after(j, each, 0)...)
		case t.Each == p.tasks[i].Each && number > 0:
			keys = append(keys, numbered(t.Key, number))
		default:
			for _, thing := range each[t.Each] {
				keys = append(keys, numbered(t.Key, thing.Number))
			}
		}
	}
	slices.Sort(keys)
	return slices.Compact(keys)
}

// CameOut is what came out of one made task: texts by the key of the output.
type CameOut struct {
	Each  *Each // what it was made for; nil of a single one
	Texts map[string]string
}

// Values adds what rules of a task read beside the answers: what came out of
// tasks, and what it is made for. Outputs gives what came out of all that were
// made of a task of the plan, in order.
func (p *Plan) Values(key string, base rule.Values, each *Each, outputs func(task string) []CameOut) rule.Values {
	record, source := rule.Record{}, p.tasks[p.index[key]].Each
	for i := range p.tasks {
		t := &p.tasks[i]
		if len(t.outputs) == 0 {
			continue
		}
		came, name := outputs(t.Key), "out_"+ident(t.Key)
		if t.Each != "" && t.Each != source {
			rows := []rule.Record{}
			for _, one := range came {
				if len(one.Texts) == 0 {
					continue
				}
				row := p.out(t, one.Texts)
				if one.Each != nil {
					row["name"], row["number"] = rule.OfText(one.Each.Name), rule.OfCount(one.Each.Number)
				}
				rows = append(rows, row)
			}
			record[ident(t.Key)] = rule.OfRecords(name, rows)
			continue
		}
		for _, one := range came {
			if len(one.Texts) > 0 && (one.Each == nil || each != nil && one.Each.Number == each.Number) {
				record[ident(t.Key)] = rule.OfRecord(name, p.out(t, one.Texts))
			}
		}
	}
	values := base.With("outputs", record)
	if each != nil {
		values = values.With("each", eachRecord(p.tasks[p.index[key]].Each, each, base))
	}
	return values
}

// out is what came out of a task, as rules read it.
func (p *Plan) out(t *compiled, texts map[string]string) rule.Record {
	out := rule.Record{}
	for _, o := range t.outputs {
		if value, ok := o.value(texts[o.Key], p.currency); ok {
			out[o.Key] = value
		}
	}
	return out
}

// eachRecord is a thing as rules read it; of a table with the answers of its
// row.
func eachRecord(source string, e *Each, base rule.Values) rule.Record {
	record := rule.Record{}
	if e.Belonging == nil {
		if rows := rule.Rows(base.Roots["answers"][source]); e.Number <= len(rows) {
			for key, value := range rows[e.Number-1] {
				record[key] = value
			}
		}
	}
	record["number"], record["name"], record["key"] = rule.OfCount(e.Number), rule.OfText(e.Name), rule.OfText(e.Key)
	if e.Quantity > 0 {
		record["quantity"] = rule.OfCount(e.Quantity)
	}
	if b := e.Belonging; b != nil {
		record["id"], record["kind"], record["detail"] = rule.OfText(b.ID), rule.OfText(b.Kind), rule.OfText(b.Detail)
	}
	return record
}
