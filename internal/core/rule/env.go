package rule

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/cost"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/ext"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

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

// known are the types that CEL knows by itself. Nothing is ever added to them.
var known = sync.OnceValues(func() (*types.Registry, error) { return types.NewRegistry() })

// bases are the environments that all others are made from: what rules can call hangs on
// a calendar and a currency alone, and is declared once for each.
var bases sync.Map // of basis to *cel.Env

// basis is what the functions of rules hang on.
type basis struct {
	calendar *calendar.Calendar
	currency string
}

// mostBases bounds how many are kept: a company has a few calendars and currencies, and
// makes new calendars now and then.
const mostBases = 64

func baseOf(scope Scope) (*cel.Env, error) {
	key := basis{scope.Calendar, scope.Currency}
	if kept, ok := bases.Load(key); ok {
		return kept.(*cel.Env), nil
	}
	env, err := cel.NewEnv(append([]cel.EnvOption{
		cel.CrossTypeNumericComparisons(true),
		cel.ParserExpressionSizeLimit(maxSource),
		cel.ParserRecursionLimit(60),
		cel.Variable("today", DateT),
		cel.Variable("now", cel.TimestampType),
		cel.Variable(pools, cel.MapType(Text, Count)),
		ext.Strings(),
	}, functions(scope)...)...)
	if err != nil {
		return nil, err
	}
	if _, issues := env.Compile("true"); issues.Err() != nil { // readies what those made from it share
		return nil, issues.Err()
	}
	n := 0
	bases.Range(func(any, any) bool { n++; return n < mostBases })
	if n >= mostBases {
		bases.Clear()
	}
	kept, _ := bases.LoadOrStore(key, env)
	return kept.(*cel.Env), nil
}

// NewEnv makes the environment of a scope. It fails only when the scope is
// itself nonsense, for instance with a name that CEL does not allow.
func NewEnv(scope Scope) (*Env, error) {
	base, err := baseOf(scope)
	if err != nil {
		return nil, err
	}
	registry, err := known()
	if err != nil {
		return nil, err
	}
	options := []cel.EnvOption{
		cel.CustomTypeAdapter(registry),
		cel.CustomTypeProvider(&provider{Registry: registry, scope: scope}),
	}
	for root := range scope.Roots {
		options = append(options, cel.Variable(root, cel.ObjectType(root)))
	}
	env, err := base.Extend(options...)
	if err != nil {
		return nil, err
	}
	return &Env{scope: scope, cel: env}, nil
}

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
		findings.Error(finding.Rule, place, "The rule cannot be read: "+err.Error()+".", "Mend the rule, or build it as a sentence.")
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
