package offering_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

func errorsOf(findings finding.List) map[string]string {
	out := map[string]string{}
	for _, f := range findings {
		if f.Severity == finding.Error {
			out[f.Place] = f.Code
		}
	}
	return out
}

// A private answer is read by the rules of the form that show, require, lock and
// check, and by nothing that would write it down elsewhere; an answer for staff
// by nothing that the asker's side reads.
func TestWhatReadsPrivateAnswers(t *testing.T) {
	for name, c := range map[string]struct {
		spoil func(d *offering.Document)
		want  map[string]string
	}{
		"rules that write nothing down": {func(d *offering.Document) {
			d.Questions[2].Show, d.Questions[2].Require = `answers.cause == "a"`, `answers.cause == "a"`
			d.Questions[3].Check = []form.Check{{Rule: `answers.cause != "x"`, Message: "No."}}
		}, map[string]string{}},
		"a private one from a private one": {func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "more", Kind: form.Text, Label: "More", Readers: form.Private, Preset: "answers.cause"})
		}, map[string]string{}},
		"a computed answer": {func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "more", Kind: form.Computed, Gives: form.Text, Label: "More", Compute: "answers.cause"})
		}, map[string]string{"/questions/7/compute": "rule"}},
		"a preset":             {func(d *offering.Document) { d.Questions[2].Preset = "answers.cause" }, map[string]string{"/questions/2/preset": "rule"}},
		"what is now":          {func(d *offering.Document) { d.Questions[2].Present = "{{ answers.cause }}" }, map[string]string{"/questions/2/present": "placeholder"}},
		"the title":            {func(d *offering.Document) { d.Purpose.Title = "{{ answers.cause }}" }, map[string]string{"/purpose/title": "placeholder"}},
		"the title, for staff": {func(d *offering.Document) { d.Purpose.Title = "{{ answers.class }}" }, map[string]string{"/purpose/title": "placeholder"}},
		"a decision":           {func(d *offering.Document) { d.Ladder[0].When = `answers.cause == "a"` }, map[string]string{"/ladder/0/when": "rule"}},
		"what a decision says": {func(d *offering.Document) { d.Ladder[0].Say = "{{ answers.cause }}" }, map[string]string{"/ladder/0/say": "placeholder"}},
		"a task's rule":        {func(d *offering.Document) { d.Plan[0].When = `answers.cause == "a"` }, map[string]string{"/plan/0/when": "rule"}},
		"instructions":         {func(d *offering.Document) { d.Plan[0].Instructions = "{{ answers.cause }}" }, map[string]string{"/plan/0/instructions": "placeholder"}},
		"a call":               {func(d *offering.Document) { d.Plan[2].Action.Inputs["zones"] = "{{ answers.cause }}" }, map[string]string{"/plan/2/action/inputs/zones": "placeholder"}},
		"a price": {func(d *offering.Document) {
			d.Items.Surcharges = []price.Surcharge{{Name: "More", Percent: "10", When: `answers.cause == "a"`}}
		}, map[string]string{"/items/surcharges/0/when": "rule"}},
		"a slice that names it": {func(d *offering.Document) { d.Plan[0].Slice = []string{"zones", "reason", "cause", "class"} }, map[string]string{}},
		"a rung that names it":  {func(d *offering.Document) { d.Ladder[0].Facts = []string{"cause"} }, map[string]string{}},
		"instructions, for staff": {func(d *offering.Document) {
			d.Plan[1].Instructions, d.Plan[1].Slice = "{{ answers.class }}", []string{"class"}
		}, map[string]string{}},
		"a word to the asker": {func(d *offering.Document) { d.Plan = append(d.Plan, written("asker")) }, map[string]string{"/plan/3/words/text": "forStaff"}},
		"a word to a team":    {func(d *offering.Document) { d.Plan = append(d.Plan, written("team")) }, map[string]string{}},
		"a belonging": {func(d *offering.Document) {
			d.Plan[1].Belonging = &plan.Belonging{Does: plan.Make, Kind: "badge", Name: "{{ answers.class }}"}
		}, map[string]string{"/plan/1/belonging/name": "forStaff"}},
		"a private item pick":      {func(d *offering.Document) { d.Questions[4].Readers = form.Private }, map[string]string{"/questions/4/readers": "privateKind"}},
		"one for staff without it": {func(d *offering.Document) { d.Questions[2].Readers = form.ForStaff }, map[string]string{"/questions/2/readers": "nobodyAnswers"}},
		"nobody's":                 {func(d *offering.Document) { d.Questions[2].Readers = "all" }, map[string]string{"/questions/2/readers": "readers"}},
	} {
		d := badge()
		d.Questions = append(d.Questions,
			form.Question{Key: "cause", Kind: form.Text, Label: "Cause", Readers: form.Private},
			form.Question{Key: "class", Kind: form.Computed, Gives: form.Text, Label: "Class", Compute: `"A"`, Readers: form.ForStaff})
		c.spoil(&d)
		_, findings := offering.Compile(d, 1, coretest.Company())
		assert.Equal(t, c.want, errorsOf(findings), "%s: %v", name, findings)
	}
}

func written(to string) plan.Task {
	return plan.Task{Key: "tell", Name: "Tell", Kind: plan.Message, Team: "keys", Words: &plan.Words{To: to, Subject: "Yours", Text: "Class {{ answers.class }}"}}
}

// No rule and no text reads a secret that came out of a task.
func TestNothingReadsASecret(t *testing.T) {
	d := badge()
	d.Plan[0].Outputs = []plan.Output{{Key: "pin", Name: "Code", Secret: true}, {Key: "number", Name: "Number"}}
	d.Plan[2].Action.Inputs["zones"] = "{{ outputs.safety.pin }}"
	d.Plan[2].When = `outputs.safety.number == "1"`
	_, findings := offering.Compile(d, 1, coretest.Company())
	assert.Equal(t, map[string]string{"/plan/2/action/inputs/zones": "placeholder"}, errorsOf(findings))
}

// A name, a label or a subject has no line break that could end a header or
// hide what follows.
func TestNamesStandOnOneLine(t *testing.T) {
	d := badge()
	d.Purpose.Name, d.Questions[0].Label, d.Plan[1].Name, d.Ladder[0].Name = "A\nB", "A\u202eB", "A\rB", "A\u2028B"
	_, findings := offering.Compile(d, 1, coretest.Company())
	assert.Equal(t, map[string]string{"/purpose/name": "oneLine", "/questions/0/label": "oneLine", "/plan/1/name": "oneLine", "/ladder/0/name": "oneLine"}, errorsOf(findings))
}

// guarded is a company whose directory has sensitive actions. Bo is Ann's
// manager; Own owns the service and is in the team Guards, which Lea leads.
func guarded(grants ...plan.Grant) offering.Company {
	login := plan.Field{Key: "login", Name: "Login", Person: true}
	persons := []people.Person{{ID: "bo", Login: "bo", Name: "Bo"}, {ID: "ann", Login: "ann", Name: "Ann", Manager: "bo"}, {ID: "own", Login: "own", Name: "Own", Teams: []string{"guards"}}, {ID: "lea", Login: "lea", Name: "Lea", Teams: []string{"guards"}}, {ID: "edi", Login: "edi", Name: "Edi"}}
	return offering.Company{
		Directory: people.NewDirectory(people.Records{
			Persons: persons, Teams: []people.Team{{Key: "guards", Name: "Guards", Lead: "lea"}}, Services: []people.Service{{Key: "s", Name: "Service", Owner: "own", Home: "guards"}},
		}),
		Connectors: []plan.Connector{{Key: "dir", Name: "Directory", Actions: []plan.ActionType{
			{Key: "make", Name: "Make", Makes: true, Undo: "disable", Inputs: []plan.Field{{Key: "name", Name: "Name"}}, Outputs: []plan.Field{{Key: "login", Name: "Login"}}},
			{Key: "change", Name: "Change", Inputs: []plan.Field{login, {Key: "title", Name: "Title", Free: true}}, Outputs: []plan.Field{{Key: "login", Name: "Login"}}},
			{Key: "disable", Name: "Disable", Sensitive: true, Inputs: []plan.Field{login}, Outputs: []plan.Field{}},
			{Key: "join", Name: "Join", Inputs: []plan.Field{login, {Key: "group", Name: "Group", Group: true}}, Outputs: []plan.Field{}},
		}}},
		Editors: []string{"edi"},
		Grants: func(string) plan.Grants {
			return plan.Grants{All: grants, Sensitive: map[string][]string{"dir": {"Bridge"}}}
		},
	}
}

func call(do string, inputs ...string) plan.Task {
	a := plan.Action{Connector: "dir", Do: do, Inputs: map[string]string{}}
	for i := 0; i < len(inputs); i += 2 {
		a.Inputs[inputs[i]] = inputs[i+1]
	}
	return plan.Task{Key: do, Name: "Do " + do, Kind: plan.Automatic, Team: "guards", Action: &a}
}

func may(use plan.May, values ...string) plan.InputUse {
	return plan.InputUse{May: use, Values: values}
}

// What a service may do in another system, with which inputs, and what needs
// somebody's yes first.
func TestGrants(t *testing.T) {
	grant := func(action string, inputs map[string]plan.InputUse) plan.Grant {
		return plan.Grant{Connector: "dir", Action: action, Inputs: inputs}
	}
	alone := plan.Grant{Connector: "dir", Action: "disable", Inputs: map[string]plan.InputUse{"login": may(plan.FromAsker)}, Alone: true}
	rung := func(sources ...ladder.Source) []ladder.Rung {
		return []ladder.Rung{{Key: "yes", Name: "Yes", Quorum: "any", Approvers: sources}}
	}
	manager := ladder.Source{Source: ladder.LineManager}
	const for1, bySender, at = "{{ beneficiary.login }}", "{{ asker.login }}", "/plan/0/action/inputs/login"
	for name, c := range map[string]struct {
		grants []plan.Grant
		plan   []plan.Task
		ladder []ladder.Rung
		want   map[string]string
	}{
		"nothing is granted":              {nil, []plan.Task{call("change", "login", for1)}, nil, map[string]string{"/plan/0/action": "notGranted"}},
		"another action is":               {[]plan.Grant{grant("make", nil)}, []plan.Task{call("change", "login", for1)}, nil, map[string]string{"/plan/0/action": "notGranted"}},
		"for whom it is for":              {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", for1)}, nil, map[string]string{}},
		"a person written down":           {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", "vidigal")}, nil, map[string]string{at: "inputUse"}},
		"a text within the placeholder":   {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", `{{ beneficiary.login == "x" ? "a" : "vidigal" }}`)}, nil, map[string]string{at: "inputUse"}},
		"a text beside the placeholder":   {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", "x{{ beneficiary.login }}")}, nil, map[string]string{at: "inputUse"}},
		"who is typed into the form":      {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", "{{ answers.who }}")}, nil, map[string]string{at: "inputUse"}},
		"the asker, ungranted":            {[]plan.Grant{grant("change", nil)}, []plan.Task{call("change", "login", bySender)}, nil, map[string]string{at: "inputUse"}},
		"the asker":                       {[]plan.Grant{grant("change", map[string]plan.InputUse{"login": may(plan.FromAsker)})}, []plan.Task{call("change", "login", bySender)}, nil, map[string]string{}},
		"anybody, granted so":             {[]plan.Grant{grant("change", map[string]plan.InputUse{"login": may(plan.Free)})}, []plan.Task{call("change", "login", "{{ answers.who }}")}, nil, map[string]string{}},
		"who was made here":               {[]plan.Grant{grant("make", nil), grant("change", nil)}, []plan.Task{call("change", "login", "{{ outputs.make.login }}"), call("make", "name", "{{ beneficiary.name }}")}, nil, map[string]string{}},
		"who came out of elsewhere":       {[]plan.Grant{grant("change", map[string]plan.InputUse{"login": may(plan.Free)}), grant("join", nil)}, []plan.Task{call("join", "login", "{{ outputs.change.login }}", "group", "crew"), call("change", "login", for1)}, nil, map[string]string{at: "inputUse"}},
		"a group that is granted":         {[]plan.Grant{grant("join", map[string]plan.InputUse{"group": may(plan.Fixed, "crew")})}, []plan.Task{call("join", "login", for1, "group", "crew")}, nil, map[string]string{}},
		"another group":                   {[]plan.Grant{grant("join", map[string]plan.InputUse{"group": may(plan.Fixed, "crew")})}, []plan.Task{call("join", "login", for1, "group", "chiefs")}, nil, map[string]string{"/plan/0/action/inputs/group": "inputUse"}},
		"a group that is typed":           {[]plan.Grant{grant("join", map[string]plan.InputUse{"group": may(plan.Fixed)})}, []plan.Task{call("join", "login", for1, "group", "{{ answers.who }}")}, nil, map[string]string{"/plan/0/action/inputs/group": "inputUse", "/plan/0/action": "sensitiveRung"}},
		"a sensitive group":               {[]plan.Grant{grant("join", nil)}, []plan.Task{call("join", "login", for1, "group", "bridge")}, nil, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a sensitive group, with a yes":   {[]plan.Grant{grant("join", nil)}, []plan.Task{call("join", "login", for1, "group", "bridge")}, rung(manager), map[string]string{}},
		"sensitive, with nobody":          {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, nil, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"sensitive, with a yes":           {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, rung(manager), map[string]string{}},
		"a yes that is not always needed": {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, []ladder.Rung{{Key: "yes", Name: "Yes", Quorum: "any", When: "cost.once > money(\"5\")", Approvers: []ladder.Source{manager}}}, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a yes by time":                   {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, []ladder.Rung{{Key: "yes", Name: "Yes", Quorum: "any", Limit: "1d", Then: ladder.Approve, Approvers: []ladder.Source{manager}}}, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a yes of the owner":              {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, rung(ladder.Source{Source: ladder.ServiceOwner}), map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a yes of the author":             {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, rung(ladder.Source{Source: ladder.NamedPerson, Person: "edi"}), map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a yes of the owner's team":       {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, rung(ladder.Source{Source: ladder.WholeTeam, Team: "guards"}), map[string]string{"/plan/0/action": "sensitiveRung"}},
		"a yes of its lead":               {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, rung(ladder.Source{Source: ladder.TeamLead, Team: "guards"}), map[string]string{}},
		"the owner as a fallback":         {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, []ladder.Rung{{Key: "yes", Name: "Yes", Quorum: "any", Approvers: []ladder.Source{manager}, Fallback: []ladder.Source{{Source: ladder.ServiceOwner}}}}, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"one good rung of two":            {[]plan.Grant{grant("disable", nil)}, []plan.Task{call("disable", "login", for1)}, append(rung(manager), ladder.Rung{Key: "more", Name: "More", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.ServiceOwner}}}), map[string]string{}},
		"alone, about oneself":            {[]plan.Grant{alone}, []plan.Task{call("disable", "login", bySender)}, nil, map[string]string{}},
		"alone, about another":            {[]plan.Grant{{Connector: "dir", Action: "disable", Alone: true}}, []plan.Task{call("disable", "login", for1)}, nil, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"what takes back what is granted": {[]plan.Grant{grant("make", nil)}, []plan.Task{undone(call("make", "name", "x"), call("disable", "login", "{{ outputs.make.login }}"))}, nil, map[string]string{}},
		"typed by who starts it":          {[]plan.Grant{grant("change", nil)}, []plan.Task{onDemand(call("change"))}, nil, map[string]string{at: "inputUse"}},
		"typed by them, granted so":       {[]plan.Grant{grant("change", map[string]plan.InputUse{"login": may(plan.Free)})}, []plan.Task{onDemand(call("change"))}, nil, map[string]string{}},
		"a group that they type":          {[]plan.Grant{grant("join", map[string]plan.InputUse{"group": may(plan.Free)})}, []plan.Task{onDemand(call("join", "login", for1))}, nil, map[string]string{"/plan/0/action/inputs/group": "inputUse"}},
		"sensitive, started by hand":      {[]plan.Grant{grant("disable", nil)}, []plan.Task{onDemand(call("disable", "login", for1))}, nil, map[string]string{"/plan/0/action": "sensitiveRung"}},
		"an undo that is another deed":    {[]plan.Grant{grant("change", nil)}, []plan.Task{undone(call("change", "login", for1), call("disable", "login", for1))}, nil, map[string]string{"/plan/0/undo/action": "notGranted"}},
	} {
		d := offering.New("a", "A", "s", "EUR", "UTC")
		d.Purpose.Text = "x"
		d.Questions = []form.Question{{Key: "who", Kind: form.Text, Label: "Who"}}
		d.Plan, d.Ladder = c.plan, c.ladder
		_, findings := offering.Compile(d, 1, guarded(c.grants...))
		assert.Equal(t, c.want, errorsOf(findings), "%s: %v", name, findings)
	}
}

func onDemand(t plan.Task) plan.Task {
	t.OnDemand = true
	return t
}

func undone(t, by plan.Task) plan.Task {
	t.Undo = &plan.Undo{Action: by.Action}
	return t
}

// Who designs what is sensitive decides on it by no way: not by name, not as a
// stand-in, not when it escalates, not when nobody else is there.
func TestWhoDesignsDoesNotDecide(t *testing.T) {
	company := guarded(plan.Grant{Connector: "dir", Action: "disable"})
	d := offering.New("a", "A", "s", "EUR", "UTC")
	d.Plan = []plan.Task{call("disable", "login", "{{ beneficiary.login }}")}
	d.Ladder = []ladder.Rung{{Key: "yes", Name: "Yes", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.LineManager}}}}
	c, _ := offering.Compile(d, 1, company)
	require.Equal(t, []string{"edi"}, c.Barred)
	service, _ := company.Directory.Service("s")
	for asker, want := range map[string]string{"ann": "bo", "edi": "lea", "bo": "lea"} { // who has no manager falls back past the owner
		p, _ := company.Directory.Person(asker)
		facts := c.LadderFacts(offering.Self(p, company.Directory), form.Answers{}, price.Price{}, service, coretest.At(t, "2027-03-12 09:00"))
		seats, err := ladder.Seats(d.Ladder[0], facts)
		require.NoError(t, err)
		require.Len(t, seats, 1)
		assert.Equal(t, want, seats[0].Person, asker)
		other, ok := ladder.Escalation("bo", nil, facts)
		assert.False(t, ok && (other.Person == "own" || other.Person == "edi"))
	}
}
