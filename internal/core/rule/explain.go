package rule

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
)

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
