package rule

import (
	"errors"
	"fmt"
	"sort"
	"strings"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/common/types/ref"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/money"
)

// Fields are the names of a record with their types.
type Fields map[string]Type

// Scope says what rules may read: the records by their name, such as
// "answers", and the kinds of record that stand in lists, such as "pick".
type Scope struct {
	Roots    map[string]Fields
	Elements map[string]Fields
	Currency string // ISO 4217; of the sums that money("…") makes; may be empty
}

// Env compiles rules for one scope. It is safe for concurrent use.
type Env struct {
	scope Scope
	cel   *cel.Env
}

// Limits of one rule: characters of source and cost units of one evaluation.
const (
	maxSource = 4000
	maxCost   = 200_000
)

// NewEnv makes the environment of a scope. It fails only when the scope is
// itself nonsense, for instance with a name that CEL does not allow.
func NewEnv(scope Scope) (*Env, error) {
	registry, err := types.NewRegistry()
	if err != nil {
		return nil, err
	}
	options := []cel.EnvOption{
		cel.CustomTypeAdapter(registry),
		cel.CustomTypeProvider(&provider{Registry: registry, scope: scope}),
		cel.CrossTypeNumericComparisons(true),
		cel.ParserExpressionSizeLimit(maxSource),
		cel.ParserRecursionLimit(60),
		cel.Variable("today", DateT),
		cel.Variable("now", cel.TimestampType),
		cel.Function("date", cel.Overload("date_string", []Type{cel.StringType}, DateT, cel.UnaryBinding(dateOf))),
		cel.Function("money", cel.Overload("money_string", []Type{cel.StringType}, MoneyT, cel.UnaryBinding(moneyOf(scope.Currency)))),
		cel.Function("workdays", cel.Overload("workdays_dates", []Type{DateT, DateT}, cel.IntType, cel.BinaryBinding(workdays))),
		cel.Function("addWorkdays", cel.Overload("add_workdays", []Type{DateT, cel.IntType}, DateT, cel.BinaryBinding(addWorkdays))),
	}
	for name, operator := range map[string]string{"less": operators.Less, "less_equals": operators.LessEquals, "greater": operators.Greater, "greater_equals": operators.GreaterEquals} {
		// No binding: the operators call Compare of the values.
		options = append(options, cel.Function(operator,
			cel.Overload(name+"_date", []Type{DateT, DateT}, cel.BoolType),
			cel.Overload(name+"_money", []Type{MoneyT, MoneyT}, cel.BoolType)))
	}
	for root := range scope.Roots {
		options = append(options, cel.Variable(root, cel.ObjectType(root)))
	}
	env, err := cel.NewEnv(options...)
	if err != nil {
		return nil, err
	}
	return &Env{scope: scope, cel: env}, nil
}

func dateOf(v ref.Val) ref.Val {
	d, err := calendar.ParseDate(string(v.(types.String)))
	if err != nil {
		return types.WrapErr(err)
	}
	return OfDate(d)
}

func moneyOf(currency string) func(ref.Val) ref.Val {
	return func(v ref.Val) ref.Val {
		a, err := money.Parse(string(v.(types.String)), currency)
		if err != nil {
			return types.WrapErr(err)
		}
		return OfMoney(a)
	}
}

func workdays(a, b ref.Val) ref.Val {
	return types.Int(calendar.Workdays(a.(dateValue).Date, b.(dateValue).Date))
}

func addWorkdays(d, n ref.Val) ref.Val {
	days := n.(types.Int)
	if days < -10_000 || days > 10_000 {
		return types.NewErr("%d working days are too many: at most 10,000", days)
	}
	return OfDate(d.(dateValue).AddWorkdays(int(days)))
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
	names := make([]string, 0, len(fields))
	for field := range fields {
		names = append(names, field)
	}
	sort.Strings(names)
	return names, true
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
}

// Compile parses and checks an expression that must give the wanted type. The
// error is a sentence for the designer of an offering.
func (e *Env) Compile(source string, want Type) (*Rule, error) {
	checked, issues := e.cel.Compile(source)
	if issues.Err() != nil {
		return nil, errors.New(explain(issues))
	}
	if got := checked.OutputType(); !got.IsExactType(want) && !got.IsEquivalentType(want) {
		return nil, fmt.Errorf("this gives %s, but %s is needed here", inWords(got), inWords(want))
	}
	reads, err := e.readsOf(checked)
	if err != nil {
		return nil, err
	}
	program, err := e.cel.Program(checked, cel.CostLimit(maxCost), cel.EvalOptions(cel.OptOptimize))
	if err != nil {
		return nil, err
	}
	return &Rule{Source: source, ast: checked, program: program, reads: reads}, nil
}

// Condition compiles a rule that gives yes or no. Without any source it is nil;
// what is wrong with it goes to the findings.
func (e *Env) Condition(source, place string, findings *finding.List) *Rule {
	if strings.TrimSpace(source) == "" {
		return nil
	}
	r, err := e.Compile(source, YesNo)
	if err != nil {
		findings.Error("rule", place, "The rule cannot be read: "+err.Error()+".", "")
		return nil
	}
	return r
}

// readsOf collects which fields of which roots an expression reads, with
// has() too.
func (e *Env) readsOf(checked *cel.Ast) (map[string][]string, error) {
	seen := map[string]map[string]bool{}
	whole := ""
	root := ast.NavigateAST(checked.NativeRep())
	for _, node := range ast.MatchDescendants(root, ast.KindMatcher(ast.IdentKind)) {
		name := node.AsIdent()
		if _, ok := e.scope.Roots[name]; !ok {
			continue
		}
		parent, ok := node.Parent()
		if !ok || parent.Kind() != ast.SelectKind {
			whole = name
			continue
		}
		if seen[name] == nil {
			seen[name] = map[string]bool{}
		}
		seen[name][parent.AsSelect().FieldName()] = true
	}
	if whole != "" {
		return nil, fmt.Errorf("%s can only be read by name, such as %s.something", whole, whole)
	}
	reads := map[string][]string{}
	for name, fields := range seen {
		for field := range fields {
			reads[name] = append(reads[name], field)
		}
		sort.Strings(reads[name])
	}
	return reads, nil
}

// Reads lists the fields of a root that the rule reads, sorted.
func (r *Rule) Reads(root string) []string { return r.reads[root] }

// Values are what a rule is run on. Roots without a record are empty.
type Values struct {
	Roots map[string]Record
	Now   time.Time
	Today calendar.Date
}

// ResolveName implements CEL's lookup of names.
func (v Values) ResolveName(name string) (any, bool) {
	switch name {
	case "today":
		return OfDate(v.Today), true
	case "now":
		return types.Timestamp{Time: v.Now}, true
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
	result, _, err := r.program.Eval(v)
	switch {
	case err == nil:
		return result, nil
	case errors.Is(err, ErrAbsent):
		return nil, ErrAbsent
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
func explain(issues *cel.Issues) string {
	first := issues.Errors()[0]
	message := first.Message
	switch {
	case strings.HasPrefix(message, "undeclared reference to '"):
		return fmt.Sprintf("there is nothing called %s", quoted(message))
	case strings.HasPrefix(message, "undefined field '"):
		return fmt.Sprintf("there is nothing called %s here", quoted(message))
	case strings.HasPrefix(message, "found no matching overload for '"):
		_, applied, _ := strings.Cut(message, "applied to ")
		return fmt.Sprintf("at character %d: %s does not work with %s", first.Location.Column()+1, operatorName(quoted(message)), applied)
	case strings.HasPrefix(message, "Syntax error: "):
		return fmt.Sprintf("at character %d this is not a rule: %s", first.Location.Column()+1, strings.TrimPrefix(message, "Syntax error: "))
	}
	return fmt.Sprintf("at character %d: %s", first.Location.Column()+1, message)
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

func inWords(t Type) string {
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
	}
	return "something of another type"
}
