package rule

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/types"

	"heptad/internal/core/calendar"
)

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
