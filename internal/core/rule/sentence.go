package rule

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/ast"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
)

// Sentence is a condition in a shape that reads as a sentence: all or any of
// some comparisons. It is stored as CEL and found again in CEL of its shape.
type Sentence struct {
	Join  string       `json:"join" enum:"all,any"`
	Parts []Comparison `json:"parts" minItems:"1" maxItems:"20" nullable:"false"`
}

// Comparison compares the answer to one question.
type Comparison struct {
	Question string   `json:"question" maxLength:"60"`
	Compare  string   `json:"compare" enum:"is,isNot,oneOf,anyOf,noneOf,notBefore,before,answered,unanswered"`
	Values   []string `json:"values" maxItems:"200" nullable:"false" doc:"Keys of choices, 'true' or 'false', or 'today' or a date"`
}

// Words of the comparisons, as they stand between a question and its values.
var comparisonWords = map[string]string{
	"is": "is", "isNot": "is not", "oneOf": "is one of", "anyOf": "has any of", "noneOf": "has none of",
	"notBefore": "is not before", "before": "is before", "answered": "is answered", "unanswered": "is not answered",
}

// CEL writes the sentence as an expression.
func (s Sentence) CEL() (string, error) {
	if len(s.Parts) == 0 {
		return "", errors.New("a condition needs at least one comparison")
	}
	parts := make([]string, len(s.Parts))
	for i, c := range s.Parts {
		source, err := c.cel()
		if err != nil {
			return "", err
		}
		parts[i] = source
	}
	if s.Join == "any" {
		return strings.Join(parts, " || "), nil
	}
	return strings.Join(parts, " && "), nil
}

func (c Comparison) cel() (string, error) {
	name := "answers." + c.Question
	list := make([]string, len(c.Values))
	for i, v := range c.Values {
		list[i] = strconv.Quote(v)
	}
	one := func(format string, value func(string) string) (string, error) {
		if len(c.Values) != 1 {
			return "", fmt.Errorf("%q needs one value", comparisonWords[c.Compare])
		}
		return fmt.Sprintf(format, name, value(c.Values[0])), nil
	}
	many := func(format string) (string, error) {
		if len(c.Values) == 0 {
			return "", fmt.Errorf("%q needs at least one value", comparisonWords[c.Compare])
		}
		return fmt.Sprintf(format, name, strings.Join(list, ", ")), nil
	}
	switch c.Compare {
	case "is":
		return one("%s == %s", literal)
	case "isNot":
		return one("%s != %s", literal)
	case "oneOf":
		return many("%s in [%s]")
	case "anyOf":
		return many("%s.exists(x, x in [%s])")
	case "noneOf":
		return many("!%s.exists(x, x in [%s])")
	case "notBefore":
		return one("%s >= %s", day)
	case "before":
		return one("%s < %s", day)
	case "answered":
		return "has(" + name + ")", nil
	case "unanswered":
		return "!has(" + name + ")", nil
	}
	return "", fmt.Errorf("%q is no comparison", c.Compare)
}

func literal(value string) string {
	if value == "true" || value == "false" {
		return value
	}
	return strconv.Quote(value)
}

func day(value string) string {
	if value == "today" {
		return "today"
	}
	return "date(" + strconv.Quote(value) + ")"
}

// Words gives the sentence in words; name gives the label of a question and
// of one of its values.
func (s Sentence) Words(name func(question, value string) (string, string)) string {
	parts := make([]string, len(s.Parts))
	for i, c := range s.Parts {
		label, _ := name(c.Question, "")
		values := make([]string, len(c.Values))
		for j, v := range c.Values {
			switch _, value := name(c.Question, v); {
			case v == "true":
				values[j] = "yes"
			case v == "false":
				values[j] = "no"
			case value == "":
				values[j] = v
			default:
				values[j] = value
			}
		}
		parts[i] = strings.TrimSpace(label + " " + comparisonWords[c.Compare] + " " + strings.Join(values, ", "))
	}
	if s.Join == "any" {
		return strings.Join(parts, " or ")
	}
	return strings.Join(parts, " and ")
}

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
	expr := parsed.NativeRep().Expr()
	s := Sentence{Join: "all"}
	parts := []ast.Expr{expr}
	if isCall(expr, operators.LogicalOr) {
		s.Join, parts = "any", flatten(expr, operators.LogicalOr)
	} else if isCall(expr, operators.LogicalAnd) {
		parts = flatten(expr, operators.LogicalAnd)
	}
	for _, part := range parts {
		c, ok := comparison(part)
		if !ok {
			return Sentence{}, false
		}
		s.Parts = append(s.Parts, c)
	}
	return s, true
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

func comparison(e ast.Expr) (Comparison, bool) {
	if isCall(e, operators.LogicalNot) {
		c, ok := comparison(e.AsCall().Args()[0])
		opposite := map[string]string{"anyOf": "noneOf", "answered": "unanswered"}[c.Compare]
		c.Compare = opposite
		return c, ok && opposite != ""
	}
	if e.Kind() != ast.CallKind {
		return Comparison{}, false
	}
	call := e.AsCall()
	switch call.FunctionName() {
	case operators.Equals:
		return oneValue("is", call.Args(), constant)
	case operators.NotEquals:
		return oneValue("isNot", call.Args(), constant)
	case operators.GreaterEquals:
		return oneValue("notBefore", call.Args(), dayOf)
	case operators.Less:
		return oneValue("before", call.Args(), dayOf)
	case operators.In:
		return manyValues("oneOf", call.Args()[0], call.Args()[1])
	case "has":
		question, ok := answer(call.Args()[0])
		return Comparison{Question: question, Compare: "answered", Values: []string{}}, ok
	case "exists":
		args := call.Args()
		if !call.IsMemberFunction() || len(args) != 2 || args[0].Kind() != ast.IdentKind || !isCall(args[1], operators.In) {
			return Comparison{}, false
		}
		in := args[1].AsCall().Args()
		if in[0].Kind() != ast.IdentKind || in[0].AsIdent() != args[0].AsIdent() {
			return Comparison{}, false
		}
		return manyValues("anyOf", call.Target(), in[1])
	}
	return Comparison{}, false
}

func oneValue(compare string, args []ast.Expr, read func(ast.Expr) (string, bool)) (Comparison, bool) {
	question, ok := answer(args[0])
	value, ok2 := read(args[1])
	return Comparison{question, compare, []string{value}}, ok && ok2
}

func manyValues(compare string, target, list ast.Expr) (Comparison, bool) {
	question, ok := answer(target)
	if !ok || list.Kind() != ast.ListKind || list.AsList().Size() == 0 {
		return Comparison{}, false
	}
	c := Comparison{Question: question, Compare: compare}
	for _, element := range list.AsList().Elements() {
		value, ok := text(element)
		if !ok {
			return Comparison{}, false
		}
		c.Values = append(c.Values, value)
	}
	return c, true
}

// answer reads answers.key.
func answer(e ast.Expr) (string, bool) {
	if e.Kind() != ast.SelectKind || e.AsSelect().Operand().Kind() != ast.IdentKind || e.AsSelect().Operand().AsIdent() != "answers" {
		return "", false
	}
	return e.AsSelect().FieldName(), true
}

func text(e ast.Expr) (string, bool) {
	if e.Kind() != ast.LiteralKind {
		return "", false
	}
	s, ok := e.AsLiteral().(types.String)
	return string(s), ok && s != "true" && s != "false"
}

func constant(e ast.Expr) (string, bool) {
	if e.Kind() == ast.LiteralKind {
		if b, ok := e.AsLiteral().(types.Bool); ok {
			return strconv.FormatBool(bool(b)), true
		}
	}
	return text(e)
}

func dayOf(e ast.Expr) (string, bool) {
	if e.Kind() == ast.IdentKind && e.AsIdent() == "today" {
		return "today", true
	}
	if !isCall(e, "date") || len(e.AsCall().Args()) != 1 {
		return "", false
	}
	return text(e.AsCall().Args()[0])
}
