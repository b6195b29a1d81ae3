package rule

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/cost"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/ext"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// Fields are the names of a record with their types.
type Fields map[string]Type

// Scope says what rules may read: the records by their name, such as
// "answers", and the kinds of record that stand in lists, such as "pick".
type Scope struct {
	Roots    map[string]Fields
	Elements map[string]Fields
	Currency string             // ISO 4217; of the sums that money("…") makes; may be empty
	Calendar *calendar.Calendar // of working days, and whose zone gives an instant its date; Monday to Friday in UTC when nil
}

// WithElement is the scope with one kind of record more.
func (s Scope) WithElement(name string, fields Fields) Scope {
	s.Elements = maps.Clone(s.Elements)
	if s.Elements == nil {
		s.Elements = map[string]Fields{}
	}
	s.Elements[name] = fields
	return s
}

// With is the scope with one root more.
func (s Scope) With(root string, fields Fields) Scope {
	s.Roots = maps.Clone(s.Roots)
	s.Roots[root] = fields
	return s
}

// Env compiles rules for one scope. It is safe for concurrent use.
type Env struct {
	scope Scope
	cel   *cel.Env
}

// Limits of rules: characters of one source, cost units of running one rule
// once, and of all rules of one evaluation together (rules.md 2).
const (
	maxSource = 4000
	maxCost   = 200_000
	maxTotal  = 4_000_000
	// A rule whose cost can be foreseen to stay below this is not counted.
	smallCost = 2_000
)

// pools is the name under which rules read what there is only so much of, such
// as pools["planner"] == 0.
const pools = "pools"

// Budget is what the rules of one evaluation may cost together.
type Budget struct{ left int64 }

// NewBudget is a full one.
func NewBudget() *Budget { return &Budget{maxTotal} }

// ErrTooLong says that rules need more work than they may.
var ErrTooLong = errors.New("its rules take too long to work out; fewer or simpler ones are needed")

// NewEnv makes the environment of a scope. It fails only when the scope is
// itself nonsense, for instance with a name that CEL does not allow.
func NewEnv(scope Scope) (*Env, error) {
	registry, err := types.NewRegistry()
	if err != nil {
		return nil, err
	}
	options := append([]cel.EnvOption{
		cel.CustomTypeAdapter(registry),
		cel.CustomTypeProvider(&provider{Registry: registry, scope: scope}),
		cel.CrossTypeNumericComparisons(true),
		cel.ParserExpressionSizeLimit(maxSource),
		cel.ParserRecursionLimit(60),
		cel.Variable("today", DateT),
		cel.Variable("now", cel.TimestampType),
		cel.Variable(pools, cel.MapType(Text, Count)),
		ext.Strings(),
	}, functions(scope)...)
	for root := range scope.Roots {
		options = append(options, cel.Variable(root, cel.ObjectType(root)))
	}
	env, err := cel.NewEnv(options...)
	if err != nil {
		return nil, err
	}
	return &Env{scope: scope, cel: env}, nil
}

// provider tells CEL the fields of our records.
type provider struct {
	*types.Registry
	scope Scope
}

func (p *provider) fields(name string) (Fields, bool) {
	if f, ok := p.scope.Roots[name]; ok {
		return f, true
	}
	f, ok := p.scope.Elements[name]
	return f, ok
}

func (p *provider) FindStructType(name string) (*types.Type, bool) {
	if _, ok := p.fields(name); ok {
		return types.NewTypeTypeWithParam(types.NewObjectType(name)), true
	}
	return p.Registry.FindStructType(name)
}

func (p *provider) FindStructFieldNames(name string) ([]string, bool) {
	fields, ok := p.fields(name)
	if !ok {
		return p.Registry.FindStructFieldNames(name)
	}
	return slices.Sorted(maps.Keys(fields)), true
}

func (p *provider) FindStructFieldType(name, field string) (*types.FieldType, bool) {
	fields, ok := p.fields(name)
	if !ok {
		return p.Registry.FindStructFieldType(name, field)
	}
	t, ok := fields[field]
	if !ok {
		return nil, false
	}
	return &types.FieldType{
		Type: t,
		IsSet: func(target any) bool {
			_, ok := target.(Record)[field]
			return ok
		},
		GetFrom: func(target any) (any, error) {
			if v, ok := target.(Record)[field]; ok {
				return v, nil
			}
			return nil, ErrAbsent
		},
	}, true
}

// Rule is a compiled expression. It is safe for concurrent use.
type Rule struct {
	Source  string
	ast     *cel.Ast
	program cel.Program
	reads   map[string][]string
	uses    map[string][]string // what it reads other than by has()
	counted bool                // whether running it is counted
	moves   bool                // whether it reads now, today or pools
	pools   []string            // the keys of the pools it reads
	texts   []string            // the texts that stand in it
}

// Gives reports whether a rule gives a value of a type; one that is not there gives
// none.
func (r *Rule) Gives(t Type) bool { return r != nil && r.ast.OutputType().IsExactType(t) }

// Compile parses and checks an expression that must give the wanted type. The
// error is a sentence for the designer of an offering.
func (e *Env) Compile(source string, want Type) (*Rule, error) {
	checked, err := e.check(source)
	if err != nil {
		return nil, err
	}
	if got := checked.OutputType(); !got.IsExactType(want) && !got.IsEquivalentType(want) && !(want == Number && got.IsExactType(Count)) {
		return nil, fmt.Errorf("this gives %s, but %s is needed here", InWords(got), InWords(want))
	}
	r := &Rule{Source: source, ast: checked}
	if err := e.readsOf(r); err != nil {
		return nil, err
	}
	options := []cel.ProgramOption{cel.EvalOptions(cel.OptOptimize)}
	if estimate, err := e.cel.EstimateCost(checked, sizes{}); err != nil || estimate.Max > smallCost {
		r.counted = true
		options = []cel.ProgramOption{cel.CostLimit(maxCost), cel.EvalOptions(cel.OptOptimize, cel.OptTrackCost)}
	}
	r.program, err = e.cel.Program(checked, options...)
	return r, err
}

// check parses an expression and checks its types.
func (e *Env) check(source string) (*cel.Ast, error) {
	parsed, issues := e.cel.Parse(source)
	if issues.Err() != nil {
		return nil, errors.New(e.explain(issues))
	}
	checked, issues := e.cel.Check(parsed)
	if issues.Err() != nil && widen(parsed.NativeRep(), issues) {
		checked, issues = e.cel.Check(parsed)
	}
	if issues.Err() != nil {
		return nil, errors.New(e.explain(issues))
	}
	return checked, nil
}

// widen turns the whole number of a comparison with a number into a number, as
// CEL orders numbers across kinds, but does not type equality across them. It
// reports whether it found any.
func widen(tree *ast.AST, issues *cel.Issues) bool {
	factory, next, found := ast.NewExprFactory(), ast.MaxID(tree), false
	for _, issue := range issues.Errors() {
		_, applied, _ := strings.Cut(issue.Message, "applied to ")
		whole := map[string]int{"'(double, int)'": 1, "'(int, double)'": 0}
		side, ok := whole[applied]
		if !ok {
			continue
		}
		for _, node := range ast.MatchDescendants(ast.NavigateAST(tree), ast.KindMatcher(ast.CallKind)) {
			name := node.AsCall().FunctionName()
			if node.ID() != issue.ExprID || (name != operators.Equals && name != operators.NotEquals) {
				continue
			}
			args := slices.Clone(node.AsCall().Args())
			next++
			args[side] = factory.NewCall(next, "double", factory.CopyExpr(args[side]))
			node.SetKindCase(factory.NewCall(node.ID(), name, args...))
			found = true
		}
	}
	return found
}

// sizes tells the estimation of costs nothing: texts and lists may be long.
type sizes struct{}

func (sizes) EstimateSize(cost.AstNode) *cost.SizeEstimate { return nil }

func (sizes) EstimateCallCost(string, string, *cost.AstNode, []cost.AstNode) *cost.CallEstimate {
	return nil
}

// With is an environment with one root more.
func (e *Env) With(root string, fields Fields) *Env {
	return e.Within(e.scope.With(root, fields))
}

// Within is an environment of another scope, made from this one's.
func (e *Env) Within(scope Scope) *Env {
	wider, err := NewEnv(scope)
	if err != nil {
		panic(err) // only the names of roots could be nonsense
	}
	return wider
}

// Scope is what the rules may read.
func (e *Env) Scope() Scope { return e.scope }

// Value compiles a rule that gives a value of a type. Without any source it is
// nil; what is wrong with it goes to the findings.
func (e *Env) Value(source string, want Type, place string, findings *finding.List) *Rule {
	return e.compiled(source, place, findings, func(source string) (*Rule, error) { return e.Compile(source, want) })
}

func (e *Env) compiled(source, place string, findings *finding.List, compile func(source string) (*Rule, error)) *Rule {
	if strings.TrimSpace(source) == "" {
		return nil
	}
	r, err := compile(source)
	if err != nil {
		findings.Error("rule", place, "The rule cannot be read: "+err.Error()+".", "Mend the rule, or build it as a sentence.")
		return nil
	}
	return r
}

// CompileMoment compiles a rule that gives an instant or a date.
func (e *Env) CompileMoment(source string) (*Rule, error) {
	if r, err := e.Compile(source, Instant); err == nil {
		return r, nil
	}
	return e.Compile(source, DateT)
}

// Moment compiles a rule that gives an instant or a date. Without any source it
// is nil; what is wrong with it goes to the findings.
func (e *Env) Moment(source, place string, findings *finding.List) *Rule {
	return e.compiled(source, place, findings, e.CompileMoment)
}

// Condition compiles a rule that gives yes or no. Without any source it is nil;
// what is wrong with it goes to the findings.
func (e *Env) Condition(source, place string, findings *finding.List) *Rule {
	return e.Value(source, YesNo, place, findings)
}

// readsOf collects which fields of which roots a rule reads, and which of them
// other than by has().
func (e *Env) readsOf(r *Rule) error {
	reads, uses := map[string]map[string]bool{}, map[string]map[string]bool{}
	add := func(to map[string]map[string]bool, root, field string) {
		if to[root] == nil {
			to[root] = map[string]bool{}
		}
		to[root][field] = true
	}
	root := ast.NavigateAST(r.ast.NativeRep())
	for _, node := range ast.MatchDescendants(root, ast.KindMatcher(ast.LiteralKind)) {
		if text, ok := node.AsLiteral().(types.String); ok {
			r.texts = append(r.texts, string(text))
		}
	}
	for _, node := range ast.MatchDescendants(root, ast.KindMatcher(ast.CallKind)) {
		if args := node.AsCall().Args(); node.AsCall().FunctionName() == operators.Index && args[0].Kind() == ast.IdentKind && args[0].AsIdent() == pools && args[1].Kind() == ast.LiteralKind {
			r.pools = append(r.pools, fmt.Sprint(args[1].AsLiteral().Value()))
		}
	}
	for _, node := range ast.MatchDescendants(root, ast.KindMatcher(ast.IdentKind)) {
		name := node.AsIdent()
		r.moves = r.moves || name == "now" || name == "today" || name == pools
		if _, ok := e.scope.Roots[name]; !ok {
			continue
		}
		parent, ok := node.Parent()
		if !ok || parent.Kind() != ast.SelectKind {
			return fmt.Errorf("%s can only be read by name, such as %s.something", name, name)
		}
		field := parent.AsSelect().FieldName()
		add(reads, name, field)
		if !parent.AsSelect().IsTestOnly() {
			add(uses, name, field)
		}
	}
	r.reads, r.uses = inOrder(reads), inOrder(uses)
	return nil
}

func inOrder(sets map[string]map[string]bool) map[string][]string {
	out := map[string][]string{}
	for name, fields := range sets {
		out[name] = slices.Sorted(maps.Keys(fields))
	}
	return out
}

// Texts lists the texts that stand in the rule.
func (r *Rule) Texts() []string { return r.texts }

// Pools lists the keys of the pools whose free places the rule reads.
func (r *Rule) Pools() []string { return r.pools }

// OnlyReads reports whether the rule reads nothing but the given roots: no other
// ones, and neither the time nor pools.
func (r *Rule) OnlyReads(roots ...string) bool {
	for root := range r.reads {
		if !slices.Contains(roots, root) {
			return false
		}
	}
	return !r.moves
}

// Uses lists the fields of a root that the rule needs the value of, sorted:
// not those it only asks has() of.
func (r *Rule) Uses(root string) []string { return r.uses[root] }

// Placed is a rule with its place in an offering, a JSON Pointer.
type Placed struct {
	Place string
	Rule  *Rule
}

// Reads lists the fields of a root that the rule reads, sorted.
func (r *Rule) Reads(root string) []string { return r.reads[root] }

// Values are what a rule is run on. Roots without a record are empty.
type Values struct {
	Roots  map[string]Record
	Now    time.Time
	Today  calendar.Date
	Pools  map[string]int // free places, by key of the pool
	Budget *Budget        // of the whole evaluation; nil for none
}

// With gives the values with one root more.
func (v Values) With(root string, record Record) Values {
	roots := make(map[string]Record, len(v.Roots)+1)
	maps.Copy(roots, v.Roots)
	roots[root] = record
	v.Roots = roots
	return v
}

// ResolveName implements CEL's lookup of names.
func (v Values) ResolveName(name string) (any, bool) {
	switch name {
	case "today":
		return OfDate(v.Today), true
	case "now":
		return types.Timestamp{Time: v.Now}, true
	case pools:
		return v.Pools, true
	}
	if record, ok := v.Roots[name]; ok {
		return record, true
	}
	return Record{}, true
}

// Parent implements CEL's activation: there is none.
func (v Values) Parent() cel.Activation { return nil }

// Eval runs the rule. The error is ErrAbsent when the result hangs on
// something absent, else a fault such as a division by zero.
func (r *Rule) Eval(v Values) (Value, error) {
	if r.counted && v.Budget != nil && v.Budget.left <= 0 {
		return nil, ErrTooLong
	}
	result, details, err := r.program.Eval(v)
	if r.counted && v.Budget != nil && details != nil && details.ActualCost() != nil {
		v.Budget.left -= int64(*details.ActualCost())
	}
	switch {
	case err == nil:
		return result, nil
	case errors.Is(err, ErrAbsent), strings.HasPrefix(err.Error(), "no such key"):
		return nil, ErrAbsent
	case strings.Contains(err.Error(), "actual cost limit exceeded"):
		return nil, ErrTooLong
	}
	return nil, fmt.Errorf("the rule %q could not be worked out: %w", r.Source, err)
}

// Holds runs a rule that gives yes or no. When the answer hangs on something
// absent it is the given one.
func (r *Rule) Holds(v Values, whenAbsent bool) (bool, error) {
	result, err := r.Eval(v)
	if errors.Is(err, ErrAbsent) {
		return whenAbsent, nil
	}
	if err != nil {
		return whenAbsent, err
	}
	return result == types.True, nil
}

// explain turns the checker's first issue into a sentence.
func (e *Env) explain(issues *cel.Issues) string {
	first := issues.Errors()[0]
	message := first.Message
	switch {
	case strings.HasPrefix(message, "undeclared reference to '"):
		return fmt.Sprintf("there is nothing called %s%s", quoted(message), e.nearest(quoted(message)))
	case strings.HasPrefix(message, "undefined field '"):
		return fmt.Sprintf("there is nothing called %s here%s", quoted(message), e.nearest(quoted(message)))
	case strings.HasPrefix(message, "found no matching overload for '"):
		_, applied, _ := strings.Cut(message, "applied to ")
		return fmt.Sprintf("at character %d: %s does not work with %s", first.Location.Column()+1, operatorName(quoted(message)), applied)
	case strings.HasPrefix(message, "Syntax error: "):
		return fmt.Sprintf("at character %d this is not a rule: %s", first.Location.Column()+1, strings.TrimPrefix(message, "Syntax error: "))
	}
	return fmt.Sprintf("at character %d: %s", first.Location.Column()+1, message)
}

// nearest suggests a name that is there, one typing mistake away.
func (e *Env) nearest(name string) string {
	for _, root := range slices.Sorted(maps.Keys(e.scope.Roots)) {
		if oneAway(root, name) {
			return "; is " + root + " meant?"
		}
		for _, field := range slices.Sorted(maps.Keys(e.scope.Roots[root])) {
			if oneAway(field, name) || field == name {
				return "; is " + root + "." + field + " meant?"
			}
		}
	}
	return ""
}

// oneAway reports whether two names differ by one letter more, less or other, or
// by two neighbours in the wrong order.
func oneAway(a, b string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if a == b || len(b)-len(a) > 1 || len(b) < 3 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	if len(a) < len(b) {
		return a[i:] == b[i+1:]
	}
	swapped := i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && a[i+2:] == b[i+2:]
	return swapped || a[i+1:] == b[i+1:]
}

func quoted(message string) string {
	_, rest, _ := strings.Cut(message, "'")
	name, _, _ := strings.Cut(rest, "'")
	return name
}

func operatorName(name string) string {
	if symbol, ok := operators.FindReverse(name); ok && symbol != "" {
		return symbol
	}
	return name
}

// InWords says what a type is.
func InWords(t Type) string {
	switch {
	case t.IsExactType(cel.BoolType):
		return "yes or no"
	case t.IsExactType(cel.StringType):
		return "a text"
	case t.IsExactType(cel.DoubleType), t.IsExactType(cel.IntType):
		return "a number"
	case t.IsExactType(DateT):
		return "a date"
	case t.IsExactType(MoneyT):
		return "money"
	case t.Kind() == types.ListKind:
		return "a list"
	case t.IsExactType(Instant):
		return "an instant"
	case t.IsExactType(RecordOf("person")):
		return "a person"
	}
	return "something of another type"
}
