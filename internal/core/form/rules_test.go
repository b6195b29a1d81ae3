package form_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
)

// state writes every question as key, - when hidden, else = and its value in
// JSON, ! when required, # when locked, {choices} when narrowed, and ?code for
// each problem, with its row and column.
func state(t *testing.T, r form.Result) string {
	var out []string
	for _, q := range r.Questions {
		text := q.Key
		if !q.Shown {
			out = append(out, text+"-")
			continue
		}
		if !q.Value.None() {
			data, err := json.Marshal(q.Value)
			require.NoError(t, err)
			text += "=" + string(data)
		}
		if q.Required {
			text += "!"
		}
		if q.Locked {
			text += "#"
		}
		if q.Narrowed {
			text += "{" + strings.Join(q.Choices, ",") + "}"
		}
		for _, p := range q.Problems {
			text += "?" + p.Code
			if p.Row > 0 {
				text += fmt.Sprintf("@%d%s", p.Row, p.Column)
			}
		}
		out = append(out, text)
	}
	return strings.Join(out, " ")
}

func ask(key string, kind form.Kind, change ...func(*form.Question)) form.Question {
	q := form.Question{Key: key, Kind: kind, Label: strings.ToUpper(key)}
	if kind.HasOptions() {
		q.Choices = []form.Option{{Key: "x", Label: "X", Group: "early"}, {Key: "y", Label: "Y", Group: "late"}, {Key: "z", Label: "Z", Group: "late"}}
	}
	for _, c := range change {
		c(&q)
	}
	return q
}

func show(r string) func(*form.Question)      { return func(q *form.Question) { q.Show = r } }
func need(r string) func(*form.Question)      { return func(q *form.Question) { q.Require = r } }
func lock(r string) func(*form.Question)      { return func(q *form.Question) { q.Lock = r } }
func preset(r string) func(*form.Question)    { return func(q *form.Question) { q.Preset = r } }
func offer(r string) func(*form.Question)     { return func(q *form.Question) { q.Offer = r } }
func section(key string) func(*form.Question) { return func(q *form.Question) { q.Section = key } }
func good(r string) func(*form.Question) {
	return func(q *form.Question) { q.Check = append(q.Check, form.Check{Rule: r, Message: "No."}) }
}
func gives(k form.Kind, r string) func(*form.Question) {
	return func(q *form.Question) { q.Gives, q.Compute = k, r }
}
func columns(list ...form.Question) func(*form.Question) {
	return func(q *form.Question) { q.Columns = list }
}

// Worked by hand: every sort of rule, alone and on top of each other. Today is
// Friday 12 March 2027; Ilse asks, of Fleet, on MV Grey Heron.
func TestRules(t *testing.T) {
	type questions = []form.Question
	sizes := ask("sizes", form.Table, columns(ask("size", form.Choice, need("true")), ask("count", form.Number, need("true"))), good("sum(answers.sizes.map(r, r.count)) == answers.n"))
	desks := ask("desks", form.Table, columns(ask("desk", form.Text, good("answers.desks.filter(d, d.desk == row.desk).size() == 1"))))
	inner := ask("rows", form.Table, columns(
		ask("kind", form.Choice), ask("why", form.Text, show(`row.kind == "y"`), need(`row.kind == "y"`)),
		ask("n", form.Number, preset("2.0")), ask("twice", form.Computed, gives(form.Number, "row.n * 2.0")),
	))
	for name, c := range map[string]struct {
		questions questions
		answers   string
		want      string
	}{
		// show
		"shown by a choice":           {questions{ask("a", form.Choice), ask("b", form.Text, show(`answers.a == "x"`))}, `{"a":"x","b":"1"}`, `a="x" b="1"`},
		"hidden by a choice":          {questions{ask("a", form.Choice), ask("b", form.Text, show(`answers.a == "x"`))}, `{"a":"y","b":"1"}`, `a="y" b-`},
		"shown by what comes later":   {questions{ask("b", form.Text, show(`answers.a == "x"`)), ask("a", form.Choice)}, `{"a":"x","b":"1"}`, `b="1" a="x"`},
		"shown by the asker":          {questions{ask("a", form.Text, show(`asker.department == "Fleet"`)), ask("b", form.Text, show(`asker.department == "Finance"`))}, `{}`, `a b-`},
		"shown by the manager chain":  {questions{ask("a", form.Text, show(`"noor" in asker.managers`)), ask("b", form.Text, show(`"kira" in asker.managers`))}, `{}`, `a b-`},
		"shown by an unknown grade":   {questions{ask("a", form.Text, show(`asker.grade == "7"`))}, `{}`, `a-`},
		"shown by several choices":    {questions{ask("a", form.Choices), ask("b", form.Text, show(`answers.a.exists(k, k in ["x","z"])`))}, `{"a":["y","z"]}`, `a=["y","z"] b`},
		"shown by a date":             {questions{ask("a", form.Date), ask("b", form.Text, show(`answers.a <= addWorkdays(today, 5)`))}, `{"a":"2027-03-19"}`, `a="2027-03-19" b`},
		"a day later":                 {questions{ask("a", form.Date), ask("b", form.Text, show(`answers.a <= addWorkdays(today, 5)`))}, `{"a":"2027-03-20"}`, `a="2027-03-20" b-`},
		"shown by a person's place":   {questions{ask("a", form.Person), ask("b", form.Text, show(`answers.a.location == "MV Grey Heron"`))}, `{"a":"ilse"}`, `a="ilse" b`},
		"a person without that place": {questions{ask("a", form.Person), ask("b", form.Text, show(`answers.a.location == "MV Grey Heron"`))}, `{"a":"kira"}`, `a="kira" b-`},
		"shown by a belonging":        {questions{ask("a", form.Belonging), ask("b", form.Text, show(`answers.a.kind == "tablet"`))}, `{"a":"b2"}`, `a="b2"{b1,b2} b`},
		"shown by an instant":         {questions{ask("a", form.DateTime), ask("b", form.Text, show(`answers.a > now && date(answers.a) == today`))}, `{"a":"2027-03-12T23:00:00Z"}`, `a="2027-03-12T23:00:00Z" b`},
		// require
		"required and missing":    {questions{ask("a", form.Text, need("true"))}, `{}`, `a!?required`},
		"required and there":      {questions{ask("a", form.Text, need("true"))}, `{"a":"1"}`, `a="1"!`},
		"required by another":     {questions{ask("a", form.YesNo), ask("b", form.Text, need("answers.a"))}, `{"a":true}`, `a=true b!?required`},
		"not required by no":      {questions{ask("a", form.YesNo), ask("b", form.Text, need("answers.a"))}, `{"a":false}`, `a=false b`},
		"hidden is not required":  {questions{ask("a", form.Text, show("false"), need("true"))}, `{}`, `a-`},
		"wrong is not missing":    {questions{ask("a", form.Number, need("true"))}, `{"a":"three"}`, `a!?invalid`},
		"a statement never fails": {questions{ask("a", form.Statement, need("true"))}, `{}`, `a!`},
		// lock and preset
		"preset untouched":           {questions{ask("a", form.Text, preset(`"Berth 4"`))}, `{}`, `a="Berth 4"`},
		"preset touched":             {questions{ask("a", form.Text, preset(`"Berth 4"`))}, `{"a":"Berth 5"}`, `a="Berth 5"`},
		"preset emptied":             {questions{ask("a", form.Text, preset(`"Berth 4"`))}, `{"a":null}`, `a`},
		"preset satisfies require":   {questions{ask("a", form.Text, preset("asker.department"), need("true"))}, `{}`, `a="Fleet"!`},
		"preset of an unknown fact":  {questions{ask("a", form.Text, preset("asker.email"))}, `{}`, `a`},
		"preset follows an answer":   {questions{ask("a", form.Choice), ask("b", form.Date, preset(`answers.a == "x" ? addWorkdays(today, 1) : addWorkdays(today, 10)`))}, `{"a":"x"}`, `a="x" b="2027-03-15"`},
		"preset hangs on nothing":    {questions{ask("a", form.Choice), ask("b", form.Text, preset("answers.a"))}, `{}`, `a b`},
		"preset not offered":         {questions{ask("a", form.Choice, preset(`"w"`))}, `{}`, `a`},
		"preset of several":          {questions{ask("a", form.Choices, preset(`["z","x"]`))}, `{}`, `a=["x","z"]`},
		"preset person":              {questions{ask("a", form.Person, preset("asker.managers[0]"))}, `{}`, `a="tomas"`},
		"preset sum":                 {questions{ask("a", form.Money, preset(`money("5")`))}, `{}`, `a="5.00"`},
		"preset instant":             {questions{ask("a", form.DateTime, preset("now"))}, `{}`, `a="2027-03-12T09:00:00Z"`},
		"locked has its preset":      {questions{ask("a", form.Text, preset(`"Fleet"`), lock("true"))}, `{"a":"Finance"}`, `a="Fleet"#`},
		"locked without a preset":    {questions{ask("a", form.Text, lock("true"))}, `{"a":"Finance"}`, `a#`},
		"locked, required, nothing":  {questions{ask("a", form.Text, lock("true"), need("true"))}, `{}`, `a!#`},
		"unlocked keeps the answer":  {questions{ask("a", form.YesNo), ask("b", form.Text, preset(`"1"`), lock("answers.a"))}, `{"a":false,"b":"2"}`, `a=false b="2"`},
		"locked by an answer":        {questions{ask("a", form.YesNo), ask("b", form.Text, preset(`"1"`), lock("answers.a"))}, `{"a":true,"b":"2"}`, `a=true b="1"#`},
		"a locked table has no rows": {questions{ask("a", form.Table, lock("true"), columns(ask("n", form.Number)))}, `{"a":[{"n":1}]}`, `a#`},
		// offer
		"narrowed":                    {questions{ask("a", form.YesNo), ask("b", form.Choice, offer(`choice.group == "late" || !answers.a`))}, `{"a":true,"b":"y"}`, `a=true b="y"{y,z}`},
		"absent, yet clear for some":  {questions{ask("a", form.YesNo), ask("b", form.Choice, offer(`answers.a && choice.key == "y"`))}, `{"b":"x"}`, `a b{y}?invalid`},
		"absent keeps all":            {questions{ask("a", form.Text), ask("b", form.Choice, offer(`choice.group == answers.a`))}, `{"b":"x"}`, `a b="x"{x,y,z}`},
		"no longer offered":           {questions{ask("a", form.YesNo), ask("b", form.Choice, offer(`choice.group == "late" || !answers.a`))}, `{"a":true,"b":"x"}`, `a=true b{y,z}?invalid`},
		"one of several not offered":  {questions{ask("b", form.Choices, offer(`choice.key != "x"`))}, `{"b":["x","y"]}`, `b{y,z}?invalid`},
		"what hangs on it is absent":  {questions{ask("a", form.Choice, offer(`choice.key != "x"`)), ask("b", form.Text, show(`answers.a == "x"`))}, `{"a":"x"}`, `a{y,z}?invalid b-`},
		"a person not offered":        {questions{ask("a", form.Person, offer(`choice.department == "Fleet"`))}, `{"a":"kira"}`, `a?invalid`},
		"a person offered":            {questions{ask("a", form.Person, offer(`choice.department == "Fleet"`))}, `{"a":"ilse"}`, `a="ilse"`},
		"a team not offered":          {questions{ask("a", form.Team, offer(`choice.key == "crew"`))}, `{"a":"keys"}`, `a?invalid`},
		"a place offered":             {questions{ask("a", form.Location, offer(`choice.name.startsWith("MV ")`))}, `{"a":"MV Grey Heron"}`, `a="MV Grey Heron"`},
		"belongings of one kind":      {questions{ask("a", form.Belonging, offer(`choice.kind == "badge"`))}, `{"a":"b2"}`, `a{b1}?invalid`},
		"nothing is left, and needed": {questions{ask("a", form.Choice, offer("false"), need("true"))}, `{}`, `a!{}?required`},
		// check
		"a check that fails":         {questions{ask("a", form.Number, good("answers.a > 3"))}, `{"a":3}`, `a=3?check`},
		"a check without an answer":  {questions{ask("a", form.Number, good("answers.a > 3"))}, `{}`, `a`},
		"a check of another, absent": {questions{ask("a", form.Number, good("answers.a > answers.b")), ask("b", form.Number)}, `{"a":3}`, `a=3 b`},
		"a check of another":         {questions{ask("a", form.Number, good("answers.a > answers.b")), ask("b", form.Number)}, `{"a":3,"b":4}`, `a=3?check b=4`},
		"two checks":                 {questions{ask("a", form.Number, good("answers.a > 3"), good("answers.a > 4"))}, `{"a":2}`, `a=2?check?check`},
		"a check with a fault":       {questions{ask("a", form.Number, good("1 / int(answers.a) > 0"))}, `{"a":0}`, `a=0?fault`},
		// compute
		"computed":              {questions{ask("a", form.Number), ask("b", form.Computed, gives(form.Number, "answers.a * 2.0"))}, `{"a":3,"b":99}`, `a=3 b=6#`},
		"computed of nothing":   {questions{ask("a", form.Number), ask("b", form.Computed, gives(form.Number, "answers.a * 2.0"))}, `{}`, `a b#`},
		"computed whole number": {questions{ask("a", form.Date), ask("b", form.Computed, gives(form.Number, "workdays(today, answers.a)"))}, `{"a":"2027-03-17"}`, `a="2027-03-17" b=3#`},
		"computed in a chain":   {questions{ask("c", form.Computed, gives(form.YesNo, "answers.b > 5")), ask("b", form.Computed, gives(form.Number, "answers.a * 2.0")), ask("a", form.Number)}, `{"a":3}`, `c=true# b=6# a=3`},
		"computed date":         {questions{ask("a", form.Date), ask("b", form.Computed, gives(form.Date, "addWorkdays(answers.a, -3)"))}, `{"a":"2027-03-15"}`, `a="2027-03-15" b="2027-03-10"#`},
		"computed sum":          {questions{ask("a", form.Money), ask("b", form.Computed, gives(form.Money, `answers.a * 3 - money("1.00")`))}, `{"a":"2.50"}`, `a="2.50" b="6.50"#`},
		"computed text":         {questions{ask("a", form.Text), ask("b", form.Computed, gives(form.Text, `answers.a + "!"`))}, `{"a":"Hi"}`, `a="Hi" b="Hi!"#`},
		// tables
		"sizes add up":            {questions{ask("n", form.Number), sizes}, `{"n":5,"sizes":[{"size":"x","count":2},{"size":"y","count":3}]}`, `n=5 sizes=[{"count":2,"size":"x"},{"count":3,"size":"y"}]`},
		"sizes do not":            {questions{ask("n", form.Number), sizes}, `{"n":6,"sizes":[{"size":"x","count":2},{"size":"y","count":3}]}`, `n=6 sizes=[{"count":2,"size":"x"},{"count":3,"size":"y"}]?check`},
		"a cell is missing":       {questions{ask("n", form.Number), sizes}, `{"n":2,"sizes":[{"size":"x","count":2},{"size":"y"}]}`, `n=2 sizes=[{"count":2,"size":"x"},{"size":"y"}]?required@2count`},
		"a cell is wrong":         {questions{ask("n", form.Number), sizes}, `{"n":2,"sizes":[{"size":"w","count":2}]}`, `n=2 sizes=[{"count":2}]?invalid@1size`},
		"a desk twice":            {questions{desks}, `{"desks":[{"desk":"A1"},{"desk":"A2"},{"desk":"A1"}]}`, `desks=[{"desk":"A1"},{"desk":"A2"},{"desk":"A1"}]?check@1desk?check@3desk`},
		"rules inside a row":      {questions{inner}, `{"rows":[{"kind":"y"},{"kind":"x","why":"left over","n":5},{}]}`, `rows=[{"kind":"y","n":2,"twice":4},{"kind":"x","n":5,"twice":10},{"n":2,"twice":4}]?required@1why`},
		"no rows, but needed":     {questions{ask("a", form.Table, need("true"), columns(ask("n", form.Number)))}, `{"a":[]}`, `a!?required`},
		"shown by an empty table": {questions{ask("a", form.Table, columns(ask("n", form.Number))), ask("b", form.Text, show("answers.a.size() == 0"))}, `{}`, `a b`},
		"a table that is hidden":  {questions{ask("a", form.Table, show("false"), columns(ask("n", form.Number))), ask("b", form.Text, show("answers.a.all(r, r.n > 1)"))}, `{"a":[{"n":0}]}`, `a- b`},
		"too many rows":           {questions{ask("a", form.Table, columns(ask("n", form.Number)), func(q *form.Question) { q.MaxCount = 1 })}, `{"a":[{"n":1},{"n":2}]}`, `a=[{"n":1},{"n":2}]?invalid`},
	} {
		t.Run(name, func(t *testing.T) {
			f, findings := compile(t, c.questions, price.List{Currency: "EUR"})
			require.Empty(t, findings)
			result := f.Evaluate(answers(t, c.answers), values(), facts)
			assert.Equal(t, c.want, state(t, result))
			assert.Equal(t, !strings.Contains(c.want, "?"), result.Complete)
		})
	}
}

// Chains of absence, worked by hand: a question that hangs on a question that
// hangs on a question. Each letter shows when the one before it is x.
func TestChainsOfAbsence(t *testing.T) {
	chain := func(rules ...string) []form.Question {
		list := []form.Question{ask("a", form.Text)}
		for i, r := range rules {
			list = append(list, ask(string(rune('b'+i)), form.Text, show(r)))
		}
		return list
	}
	all := `{"a":"x","b":"x","c":"x","d":"x"}`
	for i, c := range []struct {
		questions []form.Question
		answers   string
		want      string
	}{
		{chain(`answers.a == "x"`, `answers.b == "x"`, `answers.c == "x"`), all, `a="x" b="x" c="x" d="x"`},
		{chain(`answers.a == "y"`, `answers.b == "x"`, `answers.c == "x"`), all, `a="x" b- c- d-`},
		{chain(`answers.a == "x"`, `answers.b == "y"`, `answers.c == "x"`), all, `a="x" b="x" c- d-`},
		{chain(`answers.a == "y"`, `answers.b != "x"`, `answers.c == "x"`), all, `a="x" b- c- d-`},
		{chain(`answers.a == "y"`, `!has(answers.b)`, `answers.c == "x"`), all, `a="x" b- c="x" d="x"`},
		{chain(`answers.a == "y"`, `!has(answers.b)`, `!has(answers.c)`), all, `a="x" b- c="x" d-`},
		{chain(`answers.a == "y"`, `has(answers.b) || answers.a == "x"`, `answers.c == "x"`), all, `a="x" b- c="x" d="x"`},
		{chain(`answers.a == "y"`, `answers.b == "x" || answers.a == "x"`, `answers.c == "x"`), all, `a="x" b- c="x" d="x"`},
		{chain(`answers.a == "y"`, `answers.b == "x" && answers.a == "x"`, `answers.c == "x"`), all, `a="x" b- c- d-`},
		{chain(`answers.a == "y"`, `!(answers.b == "x" && answers.a == "z")`, `answers.c == "x"`), all, `a="x" b- c="x" d="x"`},
		{chain(`answers.a == "y"`, `!(answers.b == "x")`, `answers.c == "x"`), all, `a="x" b- c- d-`},
		{chain(`answers.a == "x"`, `answers.b == "x"`, `answers.c == "x"`), `{"a":"x","c":"x","d":"x"}`, `a="x" b c- d-`},
		{chain(`answers.a == "x"`, `!has(answers.b)`, `answers.c == "x"`), `{"a":"x","c":"x","d":"x"}`, `a="x" b c="x" d="x"`},
		{chain(`answers.a != "x"`, `answers.b == "x"`, `answers.c == "x"`), `{"b":"x","c":"x","d":"x"}`, `a b- c- d-`},
		{chain(`!has(answers.a)`, `answers.b == "x"`, `answers.c == "x"`), `{"b":"x","c":"x","d":"x"}`, `a b="x" c="x" d="x"`},
		{chain(`answers.a == "x"`, `answers.b == "x" ? true : false`, `answers.c == "x"`), `{"a":"x"}`, `a="x" b c- d-`},
		{chain(`answers.a == "y" || true`, `answers.b == "x"`, `answers.c == "y" || answers.b == "x"`), all, `a="x" b="x" c="x" d="x"`},
		{chain(`answers.a == "y"`, `answers.b.startsWith("x")`, `has(answers.b) || has(answers.c) || has(answers.a)`), all, `a="x" b- c- d="x"`},
		{append(chain(`answers.a == "y"`), ask("n", form.Number, need(`answers.b == "x"`))), all, `a="x" b- n`},
		{append(chain(`answers.a == "y"`), ask("n", form.Number, lock(`answers.b == "x"`))), `{"a":"x","n":2}`, `a="x" b- n=2`},
		{append(chain(`answers.a == "y"`), ask("n", form.Text, preset(`answers.b`))), all, `a="x" b- n`},
		{append(chain(`answers.a == "y"`), ask("n", form.Number, good(`answers.b == "y"`))), `{"a":"x","b":"x","n":2}`, `a="x" b- n=2`},
		{append(chain(`answers.a == "y"`), ask("n", form.Choice, offer(`choice.key == answers.b`))), all, `a="x" b- n{x,y,z}`},
		{append(chain(`answers.a == "y"`), ask("n", form.Computed, gives(form.Text, `answers.b + "!"`))), all, `a="x" b- n#`},
		{append(chain(`answers.a == "y"`), ask("n", form.Computed, gives(form.YesNo, `has(answers.b)`))), all, `a="x" b- n=false#`},
	} {
		f, findings := compile(t, c.questions, price.List{})
		require.Empty(t, findings)
		assert.Equal(t, c.want, state(t, f.Evaluate(answers(t, c.answers), values(), facts)), "chain %d", i)
	}
}

func TestSectionsHideTheirQuestions(t *testing.T) {
	source := form.Source{
		Sections:  []form.Section{{Key: "late", Name: "Late", Page: true, Show: `answers.a == "x"`}},
		Questions: []form.Question{ask("a", form.Choice), ask("b", form.Text, section("late"), need("true")), ask("c", form.Text, section("late"), show("false"))},
	}
	f, findings := compileIn(t, source, price.List{})
	require.Empty(t, findings)
	assert.Equal(t, `a="y" b- c-`, state(t, f.Evaluate(answers(t, `{"a":"y","b":"1"}`), values(), facts)))
	assert.Equal(t, `a="x" b!?required c-`, state(t, f.Evaluate(answers(t, `{"a":"x"}`), values(), facts)))
	assert.Equal(t, "Its section is shown when A is X.", f.Evaluate(nil, values(), facts).Questions[1].Reason)
}

// What can be picked, what is picked by itself, and what rules read of it.
func TestItemsInTheForm(t *testing.T) {
	items := price.List{Currency: "EUR", List: []price.Item{
		{Key: "small", Name: "Small", Price: price.Charge{Amount: "300.00", Per: price.Once}, Default: true, Min: 2},
		{Key: "large", Name: "Large", Price: price.Charge{Amount: "900.00", Per: price.Once}, When: `asker.department == "Finance" || answers.a == "x"`},
	}, Surcharges: []price.Surcharge{{Key: "fast", Name: "Fast", When: `answers.a == "y"`, Percent: "10"}}}
	f, findings := compile(t, []form.Question{
		ask("why", form.Text, show(`cost.once > money("500")`)), ask("a", form.Choice),
		ask("p", form.Items, func(q *form.Question) { q.Items = []string{"small", "large"} }, good(`cost.once < money("5000")`)),
	}, items)
	require.Empty(t, findings)
	for given, want := range map[string]string{
		`{}`:                                    `why a p=[{"item":"small","quantity":2}]`,
		`{"p":[]}`:                              `why- a p`,
		`{"p":null,"a":"z"}`:                    `why- a="z" p{small}`,
		`{"p":[{"item":"large","quantity":1}]}`: `why a p=[{"item":"large","quantity":1}]`,
		`{"a":"y","p":[{"item":"large","quantity":1}]}`:                                `why- a="y" p{small}?invalid`,
		`{"a":"x","p":[{"item":"large","quantity":9}]}`:                                `why a="x" p=[{"item":"large","quantity":9}]?check`,
		`{"a":"y","p":[{"item":"small","quantity":1}]}`:                                `why- a="y" p{small}?invalid`,
		`{"p":[{"item":"small","quantity":2},{"item":"small","quantity":2}]}`:          `why- a p?invalid`,
		`{"p":[{"item":"small","quantity":2,"options":{"colour":"red"}}]}`:             `why- a p?invalid`,
		`{"p":[{"item":"small","quantity":2,"extras":[{"extra":"no","quantity":1}]}]}`: `why- a p?invalid`,
	} {
		assert.Equal(t, want, state(t, f.Evaluate(answers(t, given), values(), facts)), given)
	}
	assert.Equal(t, "660.00", f.Evaluate(answers(t, `{"a":"y"}`), values(), facts).Price.Once.Decimal(), "two small ones and a tenth")
}

// Findings of the new parts: one thing wrong at a time.
func TestCompileFindsInRules(t *testing.T) {
	col := func(q form.Question) form.Question { return ask("t", form.Table, columns(q)) }
	for name, c := range map[string]struct {
		question form.Question
		code     string
		place    string
	}{
		"unknown section":        {ask("a", form.Text, section("x")), "unknownSection", "/questions/0/section"},
		"preset of another type": {ask("a", form.Date, preset(`"tomorrow"`)), "rule", "/questions/0/preset"},
		"preset of a table":      {ask("a", form.Table, columns(ask("n", form.Number)), preset("[]")), "preset", "/questions/0/preset"},
		"offer without choices":  {ask("a", form.Text, offer("true")), "offer", "/questions/0/offer"},
		"offer of no choice":     {ask("a", form.Choice, offer("choice.shoe")), "rule", "/questions/0/offer"},
		"computes nothing":       {ask("a", form.Computed, gives(form.Number, "")), "noRule", "/questions/0/compute"},
		"computes what":          {ask("a", form.Computed, gives("", "1")), "badKind", "/questions/0/gives"},
		"computes another type":  {ask("a", form.Computed, gives(form.Number, `"x"`)), "rule", "/questions/0/compute"},
		"text that computes":     {ask("a", form.Text, gives("", `"x"`)), "compute", "/questions/0/compute"},
		"a table in a table":     {col(ask("n", form.Table)), "badKind", "/questions/0/columns/0/kind"},
		"items in a table":       {col(ask("n", form.Items)), "badKind", "/questions/0/columns/0/kind"},
		"no columns":             {ask("t", form.Table), "noColumns", "/questions/0/columns"},
		"columns in a circle":    {ask("t", form.Table, columns(ask("n", form.Number, show("row.m > 1")), ask("m", form.Number, show("row.n > 1")))), "circle", "/questions/0/columns/0"},
		"column twice":           {ask("t", form.Table, columns(ask("n", form.Number), ask("n", form.Number))), "duplicateKey", "/questions/0/columns/1/key"},
		"reads its own table":    {col(ask("n", form.Number, show("answers.t.size() > 1"))), "circle", "/questions/0"},
		"row outside a table":    {ask("a", form.Text, show("row.n > 1")), "rule", "/questions/0/show"},
		"broken pattern":         {ask("a", form.Text, func(q *form.Question) { q.Pattern = "[" }), "limit", "/questions/0/pattern"},
		"example that fails":     {ask("a", form.Text, func(q *form.Question) { q.Pattern, q.Example = "[0-9]+", "x" }), "limit", "/questions/0/example"},
		"lengths crossed":        {ask("a", form.Text, func(q *form.Question) { q.MinLength, q.MaxLength = 5, 4 }), "limit", "/questions/0/minLength"},
		"counts crossed":         {ask("a", form.Choices, func(q *form.Question) { q.MinCount, q.MaxCount = 3, 2 }), "limit", "/questions/0/minCount"},
		"strange number":         {ask("a", form.Number, func(q *form.Question) { q.Min = "1/3" }), "limit", "/questions/0/min"},
		"step of nothing":        {ask("a", form.Number, func(q *form.Question) { q.Step = "0" }), "limit", "/questions/0/step"},
		"strange date":           {ask("a", form.Date, func(q *form.Question) { q.Max = "soon" }), "limit", "/questions/0/max"},
		"half days from today":   {ask("a", form.Date, func(q *form.Question) { q.Min = "today+1.5" }), "limit", "/questions/0/min"},
		"limit of a text":        {ask("a", form.Text, func(q *form.Question) { q.Max = "3" }), "limit", "/questions/0/max"},
		"no media type":          {ask("a", form.File, func(q *form.Question) { q.FileTypes = []string{"png"} }), "limit", "/questions/0/fileTypes/0"},
		"a huge file":            {ask("a", form.File, func(q *form.Question) { q.MaxSize = 27_000 }), "limit", "/questions/0/maxSize"},
		"a script as a picture":  {ask("a", form.Text, func(q *form.Question) { q.Picture = "data:image/svg+xml;base64,AA==" }), "picture", "/questions/0/picture"},
	} {
		t.Run(name, func(t *testing.T) {
			_, findings := compile(t, []form.Question{c.question}, price.List{Currency: "EUR"})
			require.Len(t, findings, 1, "%+v", findings)
			assert.Equal(t, c.code, findings[0].Code)
			assert.Equal(t, c.place, findings[0].Place)
			assert.Equal(t, finding.Error, findings[0].Severity)
		})
	}
}

func TestReasonsSayWhy(t *testing.T) {
	f, findings := compile(t, []form.Question{
		ask("a", form.YesNo),
		ask("b", form.Text, show("answers.a == true"), need(`asker.department == "Fleet"`)),
		ask("c", form.Text, preset(`"1"`), lock("answers.a == true")),
		ask("d", form.Text, preset(`"1"`)),
		ask("e", form.Choice, offer(`choice.group in ["late"]`)),
		ask("f", form.Computed, gives(form.Number, "1 + 1")),
	}, price.List{})
	require.Empty(t, findings)
	var reasons []string
	for _, q := range f.Evaluate(answers(t, `{"a":true}`), values(), facts).Questions {
		reasons = append(reasons, q.Reason)
	}
	assert.Equal(t, []string{
		"", "Shown because A is yes. Needed because the asker's department is Fleet.", "Set by the offering because A is yes.",
		"Filled in from what is known; you can change it.", "Offered is what fits: its group is one of late.", "Worked out: 1 + 1.",
	}, reasons)
}

func TestFilesAreWhatTheyAreKnownToBe(t *testing.T) {
	f, _ := compile(t, []form.Question{ask("a", form.File)}, price.List{})
	known := facts
	known.Files = func(id string) (form.Upload, bool) {
		return form.Upload{ID: id, Name: "deck.png", Type: "image/png", Size: 5}, id == "u1"
	}
	r := f.Evaluate(answers(t, `{"a":[{"id":"u1","name":"virus.exe","type":"text/plain","size":1}]}`), values(), known)
	assert.Equal(t, `a=[{"id":"u1","name":"deck.png","size":5,"type":"image/png"}]`, state(t, r), "what was said of it does not count")
	assert.Equal(t, `a?invalid`, state(t, f.Evaluate(answers(t, `{"a":[{"id":"u2"}]}`), values(), known)))
}

// What was sent reads the same for rules after the person has left and the
// choice is no longer offered.
func TestSentStays(t *testing.T) {
	f, _ := compile(t, []form.Question{
		ask("a", form.Person, offer("false")), ask("b", form.Choices), ask("c", form.Computed, gives(form.Number, "2")),
		ask("t", form.Table, columns(ask("n", form.Number))), ask("p", form.Location),
	}, price.List{Currency: "EUR"})
	sent := f.Sent(coretest.Answers(map[string]any{"a": "gone", "c": 2.0, "t": []any{map[string]any{"n": 4.0}}, "p": "Old Pier"}), price.Price{}, values(), facts)
	env, err := ruleEnv([]form.Question{ask("a", form.Person), ask("b", form.Choices), ask("c", form.Computed, gives(form.Number, "2")), ask("t", form.Table, columns(ask("n", form.Number))), ask("p", form.Location)})
	require.NoError(t, err)
	for source, want := range map[string]bool{
		`answers.a.login == "gone"`: true, `answers.b.size() == 0`: true, `answers.c == 2`: true, `answers.t[0].n == 4`: true, `answers.p == "Old Pier"`: true,
	} {
		r, err := env.Compile(source, yesNo)
		require.NoError(t, err, source)
		got, err := r.Holds(sent, !want)
		require.NoError(t, err, source)
		assert.Equal(t, want, got, source)
	}
}

// Rules that take too long stop one evaluation, with a sentence, and soon.
func TestRulesThatTakeTooLong(t *testing.T) {
	big := ask("list", form.Choices)
	big.Choices = nil
	keys := []string{}
	for i := range 150 {
		key := fmt.Sprintf("k%d", i)
		big.Choices = append(big.Choices, form.Option{Key: key, Label: key})
		keys = append(keys, key)
	}
	questions := []form.Question{big}
	for i := range 100 {
		questions = append(questions, ask(fmt.Sprintf("q%d", i), form.Text, show(`answers.list.all(a, answers.list.all(b, a != b || a == b))`)))
	}
	f, findings := compile(t, questions, price.List{})
	require.Empty(t, findings)
	began := time.Now()
	result := f.Evaluate(coretest.Answers(map[string]any{"list": keys}), values(), facts)
	assert.False(t, result.Complete)
	last := result.Questions[len(questions)-1]
	require.NotEmpty(t, last.Problems)
	assert.Contains(t, last.Problems[0].Sentence, "take too long")
	assert.Less(t, time.Since(began), 20*time.Second)
}
