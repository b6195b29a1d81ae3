package form

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/order"
	"heptad/internal/core/picture"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// Form is a compiled list of questions. It never changes and is safe for
// concurrent use.
type Form struct {
	questions []question
	order     []int // of evaluation
	index     map[string]int
	catalog   *price.Catalog
	currency  string
	hasItems  []int // numbers of the item picks
}

type question struct {
	Question
	labels   map[string]string // of choices and items
	offered  []string          // keys of all choices or items, in order
	pattern  *regexp.Regexp    // nil for none
	bounds   bounds
	currency string   // of sums
	section  *section // nil before all sections
	columns  []question
	order    []int // of evaluation of the columns

	show    *rule.Rule // nil: always
	require *rule.Rule // nil: never
	lock    *rule.Rule // nil: never
	preset  *rule.Rule
	offer   *rule.Rule
	compute *rule.Rule
	checks  []check
	present *rule.Placeholder
	when    whenWords
}

// whenWords are the rules in words, for reasons.
type whenWords struct{ show, require, lock, preset, offer string }

type section struct {
	Section
	show *rule.Rule
	when string
}

type check struct {
	rule    *rule.Rule
	message string
}

// Source is what a form is made of.
type Source struct {
	Questions []Question
	Sections  []Section
	Currency  string
}

// compiling is a form on its way.
type compiling struct {
	*Form
	env      *rule.Env
	choice   map[Kind]*rule.Env // with the root choice
	findings *finding.List
	sections map[string]*section
	all      []Question
	opened   map[*rule.Env]*rule.Env // without the private answers
}

// open is the environment in which the answer to a question is worked out: a
// private answer goes into no other that is not private, too.
func (c *compiling) open(q Question, env *rule.Env) *rule.Env {
	if q.Readers == Private || !slices.ContainsFunc(c.all, func(q Question) bool { return q.Readers == Private }) {
		return env
	}
	if c.opened[env] == nil {
		c.opened[env] = env.Within(Outer(env.Scope(), c.all, Private))
	}
	return c.opened[env]
}

// Compile checks the questions and puts them in their order of evaluation.
// Whatever is wrong goes to the findings; the form must not be used when there
// are errors among them.
func Compile(source Source, catalog *price.Catalog, env *rule.Env, findings *finding.List) *Form {
	f := &Form{index: map[string]int{}, catalog: catalog, currency: source.Currency}
	if n := count(source.Questions); n > MaxQuestions {
		findings.Error(finding.TooManyQuestions, "/questions", fmt.Sprintf("There are %d questions; %d are the most.", n, MaxQuestions), "Split the offering.")
		return f
	}
	c := &compiling{Form: f, env: env, choice: map[Kind]*rule.Env{}, findings: findings, sections: map[string]*section{}, all: source.Questions, opened: map[*rule.Env]*rule.Env{}}
	c.compileSections(source.Sections)
	for i, q := range source.Questions {
		at := finding.At("questions", i)
		if _, twice := f.index[q.Key]; twice {
			findings.Error(finding.DuplicateKey, at+"/key", fmt.Sprintf("Two questions have the key %q.", q.Key), "Give one of them another key.")
		}
		f.index[q.Key] = i
		if q.Kind == Items {
			f.hasItems = append(f.hasItems, i)
		}
		checkReaders(q, at, findings)
		f.questions = append(f.questions, c.compileQuestion(q, at, env))
	}
	c.nameReasons()
	f.order = f.sort(findings)
	return f
}

// count counts questions with the columns of tables.
func count(questions []Question) int {
	n := len(questions)
	for _, q := range questions {
		n += len(q.Columns)
	}
	return n
}

func (c *compiling) compileSections(sections []Section) {
	for i, s := range sections {
		at := finding.At("sections", i)
		if c.sections[s.Key] != nil || s.Key == "" {
			c.findings.Error(finding.DuplicateKey, at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the sections.", s.Key), "Give every section a key of its own.")
		}
		if strings.TrimSpace(s.Name) == "" {
			c.findings.Error(finding.NoName, at+"/name", "A section has no heading.", "Say what its questions are about.")
		}
		c.sections[s.Key] = &section{Section: s, show: c.env.Condition(s.Show, at+"/show", c.findings)}
	}
}

// nameReasons puts rules into words, once all labels are known.
func (c *compiling) nameReasons() {
	for _, s := range c.sections {
		s.when = c.inWords(s.Show, nil)
	}
	for i := range c.questions {
		c.nameReason(&c.questions[i], nil)
	}
}

func (c *compiling) nameReason(q *question, row *question) {
	q.when = whenWords{c.inWords(q.Show, row), c.inWords(q.Require, row), c.inWords(q.Lock, row), c.inWords(q.Preset, row), c.inWords(q.Offer, row)}
	for j := range q.columns {
		c.nameReason(&q.columns[j], q)
	}
}

// compileQuestion compiles a question, or a column when env knows a row.
func (c *compiling) compileQuestion(q Question, at string, env *rule.Env) question {
	out := question{Question: q, labels: map[string]string{}, currency: c.currency}
	if !keyIsGood(q.Key) {
		c.findings.Error(finding.BadKey, at+"/key", fmt.Sprintf("%q cannot be the key of a question.", q.Key), "Begin with a small letter; letters, digits and _ may follow.")
	}
	if strings.TrimSpace(q.Label) == "" {
		c.findings.Error(finding.NoLabel, at+"/label", "A question does not say what it asks.", "Write the question as the asker reads it.")
	}
	if !picture.Good(q.Picture) {
		c.findings.Error(finding.Picture, at+"/picture", "This is no picture.", "Use a PNG, JPEG or WebP, or an SVG of plain shapes, of less than 60 kB.")
	}
	if _, ok := typeOf(q); !ok && q.Kind != Statement {
		if q.Kind == Computed {
			c.findings.Error(finding.BadKind, at+"/gives", "Nothing says what kind of answer is computed.", "Choose text, number, money, date or yes/no.")
		} else {
			c.findings.Error(finding.BadKind, at+"/kind", fmt.Sprintf("%q is no kind of question.", q.Kind), "")
		}
	}
	if q.Section != "" {
		if out.section = c.sections[q.Section]; out.section == nil {
			c.findings.Error(finding.UnknownSection, at+"/section", fmt.Sprintf("There is no section %q.", q.Section), "Choose a section that is there.")
		}
	}
	out.compileChoices(at, c.catalog, c.findings)
	out.compileLimits(at, c.currency, c.findings)
	c.compileRules(&out, at, env)
	if q.Kind == Table {
		c.compileColumns(&out, at)
	}
	return out
}

func (c *compiling) compileRules(q *question, at string, env *rule.Env) {
	q.show = env.Condition(q.Show, at+"/show", c.findings)
	q.require = env.Condition(q.Require, at+"/require", c.findings)
	q.lock = env.Condition(q.Lock, at+"/lock", c.findings)
	if t, ok := presetType(q.Kind); ok {
		q.preset = c.open(q.Question, env).Value(q.Preset, t, at+"/preset", c.findings)
	} else if q.Preset != "" {
		c.findings.Error(finding.Preset, at+"/preset", "This kind of question cannot have a preset.", "Take the rule away.")
	}
	if q.Kind.info().choice != nil {
		q.offer = c.choiceEnv(q.Kind, env).Condition(q.Offer, at+"/offer", c.findings)
	} else if q.Offer != "" {
		c.findings.Error(finding.Offer, at+"/offer", "This kind of question has no choices.", "Take the rule away.")
	}
	present, err := c.open(q.Question, env).CompileText(q.Present)
	if err != nil {
		c.findings.Error(finding.Placeholder, at+"/present", "A placeholder cannot be read: "+err.Error()+".", "")
	}
	q.present = present
	switch t, ok := typeOf(q.Question); {
	case q.Kind == Computed && strings.TrimSpace(q.Compute) == "":
		c.findings.Error(finding.NoRule, at+"/compute", "Nothing says how this is computed.", "Write the rule that computes it.")
	case q.Kind == Computed && ok:
		q.compute = c.open(q.Question, env).Value(q.Compute, t, at+"/compute", c.findings)
	case q.Compute != "" && q.Kind != Computed:
		c.findings.Error(finding.Compute, at+"/compute", "Only a computed question computes.", "Change its kind or take the rule away.")
	}
	for j, ch := range q.Check {
		place := at + finding.At("check", j)
		if strings.TrimSpace(ch.Rule) == "" {
			c.findings.Error(finding.NoRule, place+"/rule", "A check has no rule.", "Write the rule or remove the check.")
		}
		if strings.TrimSpace(ch.Message) == "" {
			c.findings.Error(finding.NoMessage, place+"/message", "A check does not say what is wrong.", "Write what the asker reads when the answer is not good.")
		}
		if r := env.Condition(ch.Rule, place+"/rule", c.findings); r != nil {
			q.checks = append(q.checks, check{r, ch.Message})
		}
	}
}

// presetType gives the type of what a preset gives: keys and logins for what
// is chosen.
func presetType(k Kind) (rule.Type, bool) {
	switch k {
	case Person, Belonging:
		return rule.Text, true
	case Items:
		return rule.Texts, true
	case Table, File, Computed, Statement:
		return nil, false
	}
	t := k.info().answer
	return t, t != nil
}

// choiceEnv knows the choices of a kind beside what env knows.
func (c *compiling) choiceEnv(k Kind, env *rule.Env) *rule.Env {
	if env != c.env {
		return env.With("choice", k.info().choice)
	}
	if c.choice[k] == nil {
		c.choice[k] = env.With("choice", k.info().choice)
	}
	return c.choice[k]
}

func (c *compiling) compileColumns(q *question, at string) {
	if len(q.Columns) == 0 {
		c.findings.Error(finding.NoColumns, at+"/columns", "A table has no columns.", "Add the questions of a row.")
		return
	}
	env := c.env.With("row", fields(q.Columns))
	index := map[string]int{}
	for j, column := range q.Columns {
		place := at + finding.At("columns", j)
		if _, twice := index[column.Key]; twice {
			c.findings.Error(finding.DuplicateKey, place+"/key", fmt.Sprintf("Two columns have the key %q.", column.Key), "Give one of them another key.")
		}
		index[column.Key] = j
		if info := column.Kind.info(); info.Kind != "" && !info.Column {
			c.findings.Error(finding.BadKind, place+"/kind", "A column cannot be a table, an item pick or a statement.", "Choose another kind.")
			continue
		}
		q.columns = append(q.columns, c.compileQuestion(column, place, env))
	}
	if len(q.columns) < len(q.Columns) {
		return
	}
	var circle []int
	q.order, circle = order.Sort(len(q.columns), func(j int) []int { return q.columns[j].readsOf("row", index, j) })
	if circle != nil {
		c.findings.Error(finding.Circle, at+finding.At("columns", circle[0]), "These columns wait for each other in a circle: "+path(circle, q.columns)+".", "Take one of the rules away.")
	}
}

func (q *question) compileChoices(at string, catalog *price.Catalog, findings *finding.List) {
	if len(q.Choices) > MaxChoices {
		findings.Error(finding.TooManyChoices, at+"/choices", fmt.Sprintf("There are %d choices; %d are the most.", len(q.Choices), MaxChoices), "Split the question, or let people be looked up.")
		return
	}
	for j, o := range q.Choices {
		if _, twice := q.labels[o.Key]; twice || o.Key == "" {
			findings.Error(finding.DuplicateKey, at+finding.At("choices", j, "key"), fmt.Sprintf("The key %q is empty or stands twice among the choices.", o.Key), "Give every choice a key of its own.")
		}
		if strings.TrimSpace(o.Label) == "" {
			findings.Error(finding.NoLabel, at+finding.At("choices", j, "label"), "A choice has no words.", "Write what the asker chooses.")
		}
		q.labels[o.Key] = o.Label
		q.offered = append(q.offered, o.Key)
	}
	for j, key := range q.Items {
		item, ok := catalog.Item(key)
		if !ok {
			findings.Error(finding.UnknownItem, at+finding.At("items", j), fmt.Sprintf("There is no item %q.", key), "Add it on the items side or take it out here.")
		}
		q.labels[key] = item.Name
		q.offered = append(q.offered, key)
	}
	switch {
	case q.Kind.HasOptions() && len(q.Choices) == 0:
		findings.Error(finding.NoChoices, at+"/choices", "There is nothing to choose from.", "Add choices.")
	case q.Kind == Items && len(q.Items) == 0:
		findings.Error(finding.NoChoices, at+"/items", "There is no item to pick.", "Choose the items that can be picked here.")
	}
}

// Usable reports whether the questions could be put in an order, so that the
// form can be shown, though it may have other errors.
func (f *Form) Usable() bool {
	return len(f.order) == len(f.questions) && !slices.ContainsFunc(f.questions, func(q question) bool {
		return len(q.order) != len(q.Columns)
	})
}
