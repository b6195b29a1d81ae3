package rule

import (
	"maps"
	"slices"

	"cel.dev/cel-go/common/types"

	"heptad/internal/core/calendar"
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
