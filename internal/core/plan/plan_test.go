package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

func compile(t require.TestingT, tasks ...plan.Task) *plan.Plan {
	p, findings := examine(t, rule.Fields{"port": rule.Text, "copies": rule.Number}, tasks...)
	require.Empty(t, findings)
	return p
}

// examine compiles tasks beside a form of some fields; of them "missing" is no
// question.
func examine(t require.TestingT, answers rule.Fields, tasks ...plan.Task) (*plan.Plan, finding.List) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": answers, "asker": rule.PersonFields}})
	require.NoError(t, err)
	company, findings := coretest.Company(), finding.List{}
	p := plan.Compile(tasks, plan.Surroundings{
		Env: env, Company: company.Directory, Connectors: company.Connectors, Thing: things, Fields: func(string) rule.Fields { return nil },
		Question: func(key string) bool { return key != "missing" }, Person: func(string) bool { return true },
	}, &findings)
	return p, findings
}

// things are what the tests make tasks for each of.
func things(source string) plan.Thing {
	return map[string]plan.Thing{"cabins": plan.Picks, "papers": plan.Rows, "ports": plan.Choices, plan.Belongings: plan.Holdings}[source]
}

func task(key string, after ...string) plan.Task {
	return plan.Task{Key: key, Name: key, Kind: plan.Manual, Team: "keys", After: after}
}

func port(name string) rule.Values {
	answers := rule.Record{}
	if name != "" {
		answers["port"] = rule.OfText(name)
	}
	return rule.Values{Roots: map[string]rule.Record{"answers": answers}}
}

// A task whose rule hangs on a missing answer is skipped.
func TestWanted(t *testing.T) {
	for when, want := range map[string][2]bool{ // with the port orm, and without one
		"":                              {true, true},
		`answers.port == "orm"`:         {true, false},
		`answers.port != "orm"`:         {false, false},
		`has(answers.port)`:             {true, false},
		`!has(answers.port)`:            {false, true},
		`answers.port == "orm" || true`: {true, true},
		`answers.copies > 1.0`:          {false, false},
		`answers.port.startsWith("or")`: {true, false},
	} {
		one := task("a")
		one.When = when
		p := compile(t, one)
		for i, values := range []rule.Values{port("orm"), port("")} {
			got, err := p.Wanted("a", values)
			require.NoError(t, err)
			assert.Equal(t, want[i], got, "%q, %d", when, i)
		}
	}
	faulty := task("a")
	faulty.When = "1 / 0 == 1"
	_, err := compile(t, faulty).Wanted("a", port("orm"))
	assert.Error(t, err)
}

func TestPlaceholders(t *testing.T) {
	one := task("a")
	one.Slice = []string{"port"}
	one.Instructions = "Go to {{ answers.port }}, copies: {{ answers.port.size() + 1 }}"
	auto := plan.Task{Key: "b", Name: "b", Kind: plan.Automatic, Team: "keys", Action: &plan.Action{
		Connector: "badges", Do: "write", Inputs: map[string]string{"holder": "{{ answers.port }}", "zones": "always"},
	}}
	p := compile(t, one, auto)
	label := func(root, field string) (string, bool) { return "Sankt Orm", field == "port" }
	text, err := p.Instructions("a", port("orm"), label)
	require.NoError(t, err)
	assert.Equal(t, "Go to Sankt Orm, copies: 4", text)
	text, err = p.Instructions("a", port(""), nil)
	require.NoError(t, err)
	assert.Equal(t, "Go to —, copies: —", text)
	inputs, err := p.Inputs("b", port("orm"), nil)
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"holder": "orm", "zones": "always"}, inputs)
}

func TestReleased(t *testing.T) {
	states := map[string]plan.State{"done": plan.Done, "skipped": plan.Skipped, "ready": plan.Ready, "taken": plan.Taken, "stuck": plan.Stuck, "blocked": plan.Blocked}
	state := func(key string) plan.State { return states[key] }
	for _, c := range []struct {
		after []string
		want  bool
	}{
		{nil, true}, {[]string{"done"}, true}, {[]string{"skipped"}, true}, {[]string{"done", "skipped"}, true},
		{[]string{"ready"}, false}, {[]string{"taken"}, false}, {[]string{"stuck"}, false}, {[]string{"blocked"}, false}, {[]string{"done", "taken"}, false},
	} {
		assert.Equal(t, c.want, plan.Released(c.after, state), "%v", c.after)
	}
}

// Whatever the plan, doing what is released one after the other does it all.
func TestEveryPlanWithoutACircleComesToItsEnd(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 12).Draw(t, "tasks")
		tasks := make([]plan.Task, n)
		for i := range tasks {
			tasks[i] = task(string(rune('a' + i)))
			for j := range i {
				if rapid.Bool().Draw(t, "waits") {
					tasks[i].After = append(tasks[i].After, tasks[j].Key)
				}
			}
		}
		states := map[string]plan.State{}
		state := func(key string) plan.State { return states[key] }
		for range n {
			var ready []string
			for _, one := range compile(t, rapid.Permutation(tasks).Draw(t, "order")...).Tasks() {
				if !states[one.Key].Ended() && plan.Released(one.After, state) {
					ready = append(ready, one.Key)
				}
			}
			require.NotEmpty(t, ready)
			states[rapid.SampledFrom(ready).Draw(t, "next")] = plan.Done
		}
		assert.Len(t, states, n)
	})
}
