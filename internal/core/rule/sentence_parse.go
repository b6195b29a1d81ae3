package rule

import (
	"strconv"
	"strings"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"

	"heptad/internal/core/calendar"
)

var plainCEL = func() *cel.Env {
	env, err := cel.NewCustomEnv(cel.ClearMacros(), cel.ParserExpressionSizeLimit(maxSource), cel.ParserRecursionLimit(60))
	if err != nil {
		panic(err) // constant options
	}
	return env
}()

// ParseSentence reads an expression as a sentence, when it has that shape.
func ParseSentence(source string) (Sentence, bool) {
	parsed, issues := plainCEL.Parse(source)
	if issues.Err() != nil {
		return Sentence{}, false
	}
	s := Sentence{Join: "all"}
	var exprs []ast.Expr
	s.Join, exprs = joined(parsed.NativeRep().Expr())
	for _, e := range exprs {
		p, ok := part(e)
		if !ok {
			return Sentence{}, false
		}
		s.Parts = append(s.Parts, p)
	}
	return s, true
}

// joined takes an expression apart at its outermost && or ||.
func joined(e ast.Expr) (string, []ast.Expr) {
	if isCall(e, operators.LogicalOr) {
		return "any", flatten(e, operators.LogicalOr)
	}
	return "all", flatten(e, operators.LogicalAnd)
}

func part(e ast.Expr) (Part, bool) {
	if !isCall(e, operators.LogicalOr) && !isCall(e, operators.LogicalAnd) {
		c, ok := comparison(e)
		return Part{Comparison: c}, ok
	}
	p := Part{Comparison: Comparison{Compare: Group, Values: []string{}}}
	var exprs []ast.Expr
	p.Join, exprs = joined(e)
	for _, inner := range exprs {
		c, ok := comparison(inner)
		if !ok {
			return Part{}, false
		}
		p.Parts = append(p.Parts, c)
	}
	return p, true
}

func isCall(e ast.Expr, function string) bool {
	return e.Kind() == ast.CallKind && e.AsCall().FunctionName() == function
}

func flatten(e ast.Expr, operator string) []ast.Expr {
	if !isCall(e, operator) {
		return []ast.Expr{e}
	}
	var all []ast.Expr
	for _, arg := range e.AsCall().Args() {
		all = append(all, flatten(arg, operator)...)
	}
	return all
}

var opposites = map[string]string{"anyOf": "noneOf", "picks": "picksNone", "answered": "unanswered", "oneOf": "notOneOf"}

var compared = map[string]string{
	operators.Equals: "is", operators.NotEquals: "isNot", operators.Less: "less", operators.LessEquals: "atMost",
	operators.Greater: "more", operators.GreaterEquals: "atLeast", "startsWith": "beginsWith", "contains": "contains",
}

func comparison(e ast.Expr) (Comparison, bool) {
	if isCall(e, operators.LogicalNot) {
		c, ok := comparison(e.AsCall().Args()[0])
		c.Compare = opposites[c.Compare]
		return c, ok && c.Compare != ""
	}
	if e.Kind() != ast.CallKind {
		return Comparison{}, false
	}
	call := e.AsCall()
	args := call.Args()
	if call.IsMemberFunction() {
		args = append([]ast.Expr{call.Target()}, args...)
	}
	switch name := call.FunctionName(); {
	case name == operators.In:
		return manyValues("oneOf", args[0], args[1])
	case name == "has" && len(args) == 1:
		question, ok := fact(args[0])
		return Comparison{Question: question, Compare: "answered", As: "text", Values: []string{}}, ok
	case name == "exists" && len(args) == 3:
		return existing(args)
	case name == "all" && len(args) == 3:
		return wholly(args)
	case compared[name] != "" && len(args) == 2:
		if c, ok := sized(name, args); ok {
			return c, true
		}
		if c, ok := within(name, args); ok {
			return c, true
		}
		question, ok := fact(args[0])
		if other, two := fact(args[1]); two && ofFacts[compared[name]] && !call.IsMemberFunction() {
			return Comparison{question, compared[name], "text", []string{other}, true}, ok
		}
		as, value, ok2 := constant(args[1])
		member := name == "startsWith" || name == "contains"
		return Comparison{question, compared[name], as, []string{value}, false}, ok && ok2 && member == call.IsMemberFunction() && (!member || as == "text")
	}
	return Comparison{}, false
}

// sized reads x.size() > 0 and x.size() == 0.
func sized(operator string, args []ast.Expr) (Comparison, bool) {
	compare := map[string]string{operators.Greater: "some", operators.Equals: "none"}[operator]
	if compare == "" || !isCall(args[0], "size") || !args[0].AsCall().IsMemberFunction() || args[1].Kind() != ast.LiteralKind || args[1].AsLiteral() != types.Int(0) {
		return Comparison{}, false
	}
	question, ok := fact(args[0].AsCall().Target())
	return Comparison{Question: question, Compare: compare, As: "text", Values: []string{}}, ok
}

// within reads x <= addWorkdays(today, n).
func within(operator string, args []ast.Expr) (Comparison, bool) {
	if operator != operators.LessEquals || !isCall(args[1], "addWorkdays") {
		return Comparison{}, false
	}
	inner := args[1].AsCall().Args()
	question, ok := fact(args[0])
	if !ok || len(inner) != 2 || inner[0].Kind() != ast.IdentKind || inner[0].AsIdent() != "today" || inner[1].Kind() != ast.LiteralKind {
		return Comparison{}, false
	}
	n, ok := inner[1].AsLiteral().(types.Int)
	return Comparison{Question: question, Compare: "within", As: "date", Values: []string{strconv.FormatInt(int64(n), 10)}}, ok && n >= 0 && n <= 10_000
}

// existing reads list.exists(x, x in […]) and list.exists(x, x.item in […]).
func existing(args []ast.Expr) (Comparison, bool) {
	if args[1].Kind() != ast.IdentKind || !isCall(args[2], operators.In) {
		return Comparison{}, false
	}
	in := args[2].AsCall().Args()
	switch {
	case isIdent(in[0], args[1].AsIdent()):
		return manyValues("anyOf", args[0], in[1])
	case in[0].Kind() == ast.SelectKind && in[0].AsSelect().FieldName() == "item" && isIdent(in[0].AsSelect().Operand(), args[1].AsIdent()):
		return manyValues("picks", args[0], in[1])
	}
	return Comparison{}, false
}

// wholly reads […].all(x, x in list).
func wholly(args []ast.Expr) (Comparison, bool) {
	if args[1].Kind() != ast.IdentKind || !isCall(args[2], operators.In) {
		return Comparison{}, false
	}
	in := args[2].AsCall().Args()
	if !isIdent(in[0], args[1].AsIdent()) {
		return Comparison{}, false
	}
	return manyValues("allOf", in[1], args[0])
}

func isIdent(e ast.Expr, name string) bool { return e.Kind() == ast.IdentKind && e.AsIdent() == name }

func manyValues(compare string, target, list ast.Expr) (Comparison, bool) {
	question, ok := fact(target)
	if !ok || list.Kind() != ast.ListKind || list.AsList().Size() == 0 {
		return Comparison{}, false
	}
	c := Comparison{Question: question, Compare: compare, As: "text"}
	for _, element := range list.AsList().Elements() {
		as, value, ok := constant(element)
		if !ok || as != "text" {
			return Comparison{}, false
		}
		c.Values = append(c.Values, value)
	}
	return c, true
}

// fact reads answers.key, or a path of two names such as asker.department.
func fact(e ast.Expr) (string, bool) {
	if e.Kind() != ast.SelectKind || e.AsSelect().Operand().Kind() != ast.IdentKind {
		return "", false
	}
	root, field := e.AsSelect().Operand().AsIdent(), e.AsSelect().FieldName()
	switch root {
	case "answers":
		return field, true
	case "asker", "beneficiary", "cost", "row", "choice":
		return root + "." + field, true
	}
	return "", false
}

// constant reads a value with what it is.
func constant(e ast.Expr) (as, value string, ok bool) {
	switch {
	case e.Kind() == ast.LiteralKind:
		switch v := e.AsLiteral().(type) {
		case types.String:
			return "text", string(v), true
		case types.Bool:
			return "yesNo", strconv.FormatBool(bool(v)), true
		case types.Int:
			return "number", strconv.FormatInt(int64(v), 10), true
		case types.Double:
			text := strconv.FormatFloat(float64(v), 'f', -1, 64)
			if !strings.Contains(text, ".") {
				text += ".0"
			}
			return "number", text, true
		}
	case isIdent(e, "today"):
		return "date", "today", true
	case (isCall(e, "date") || isCall(e, "money")) && !e.AsCall().IsMemberFunction() && len(e.AsCall().Args()) == 1:
		as, value, ok := constant(e.AsCall().Args()[0])
		if e.AsCall().FunctionName() == "date" {
			_, err := calendar.ParseDate(value)
			return "date", value, ok && as == "text" && err == nil
		}
		return "money", value, ok && as == "text"
	}
	return "", "", false
}
