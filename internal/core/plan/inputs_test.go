package plan_test

import (
	"encoding/json"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/finding"
	"heptad/internal/core/plan"
	"heptad/internal/core/rule"
)

// web compiles a task that calls an address with a body, both with placeholders.
func web(t require.TestingT, address, body string) (*plan.Plan, func(name string) rule.Values) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"name": rule.Text, "copies": rule.Number}}})
	require.NoError(t, err)
	connectors := []plan.Connector{{Key: "web", Name: "Web call", Actions: []plan.ActionType{{
		Key: "call", Free: true, Inputs: []plan.Field{{Key: "method"}, {Key: "url", Form: plan.URL}, {Key: "body", Form: plan.JSON, Free: true}},
	}}}}
	inputs := map[string]string{"method": "POST", "url": address}
	if body != "" {
		inputs["body"] = body
	}
	findings := finding.List{}
	p := plan.Compile([]plan.Task{{Key: "call", Name: "Call", Kind: plan.Automatic, Team: "keys", Action: &plan.Action{Connector: "web", Do: "call", Inputs: inputs}}}, plan.Surroundings{
		Env: env, Connectors: connectors, Question: func(string) bool { return true }, Person: func(string) bool { return true }, Thing: things, Fields: func(string) rule.Fields { return nil },
	}, &findings)
	require.Empty(t, findings)
	return p, func(name string) rule.Values {
		return rule.Values{Roots: map[string]rule.Record{"answers": {"name": rule.OfText(name), "copies": rule.OfNumber(2)}}}
	}
}

// Whatever somebody has typed stays inside the string it was put into, and
// inside its part of the address.
func TestWhatFillsAnInputStaysInside(t *testing.T) {
	p, values := web(t, "/bookings/{{ answers.name }}/rows?of={{ answers.name }}", `{"what": "Berth for {{ answers.name }}", "copies": {{ answers.copies }}}`)
	rapid.Check(t, func(t *rapid.T) {
		name := rapid.String().Filter(func(s string) bool { return s != "" }).Draw(t, "name")
		inputs, err := p.Inputs("call", values(name), nil)
		require.NoError(t, err)
		var body map[string]any
		require.NoError(t, json.Unmarshal([]byte(inputs["body"]), &body), inputs["body"])
		valid, err := json.Marshal(name) // what is no UTF-8 is replaced
		require.NoError(t, err)
		var want string
		require.NoError(t, json.Unmarshal(valid, &want))
		assert.Equal(t, map[string]any{"what": "Berth for " + want, "copies": 2.0}, body)
		at, err := url.Parse("https://planner.example" + inputs["url"])
		require.NoError(t, err)
		assert.Equal(t, "planner.example", at.Host)
		assert.Equal(t, name, at.Query().Get("of"))
		assert.Equal(t, "/bookings/"+name+"/rows", at.Path)
	})
	inputs, err := p.Inputs("call", values(`N", "copies": 900, "x": "`), nil)
	require.NoError(t, err)
	assert.JSONEq(t, `{"what": "Berth for N\", \"copies\": 900, \"x\": \"", "copies": 2}`, inputs["body"])
	assert.NotContains(t, inputs["url"][len("/bookings/"):], `"`)
}

// A whole address may come from an answer or from another task; a call without
// a body has none.
func TestAWholeAddress(t *testing.T) {
	p, values := web(t, "{{ answers.name }}?copies={{ answers.copies }}", "")
	inputs, err := p.Inputs("call", values("https://planner.example/b"), nil)
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"method": "POST", "url": "https://planner.example/b?copies=2"}, inputs)
}
