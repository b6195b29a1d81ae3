package web

import (
	"reflect"

	"github.com/danielgtaylor/huma/v2"

	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/intake"
	"heptad/internal/core/ladder"
	"heptad/internal/core/measure"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
	"heptad/internal/work"
)

// listed is a type that lists all its values.
type listed[T ~string] interface {
	~string
	All() []T
}

// enum is a type whose schema is the list of the values of another.
type enum[T listed[T]] string

// Schema is asked by huma.
func (enum[T]) Schema(huma.Registry) *huma.Schema {
	var none T
	values := none.All()
	s := &huma.Schema{Type: huma.TypeString, Enum: make([]any, len(values))}
	for i, v := range values {
		s.Enum[i] = string(v)
	}
	return s
}

func alias[T listed[T]](r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[T](), reflect.TypeFor[enum[T]]())
}

// Enumerate makes the types that list their values enumerations of a schema.
func Enumerate(r huma.Registry) {
	for _, of := range []func(huma.Registry){
		alias[work.Origin], alias[request.Status], alias[request.Outcome], alias[request.Stage], alias[request.Decision], alias[request.To], alias[request.Offer], alias[request.Linking],
		alias[plan.Kind], alias[plan.State], alias[promise.State], alias[promise.Told], alias[ladder.Outcome], alias[ladder.Role],
		alias[offering.Door], alias[offering.Via], alias[form.Kind], alias[price.Period], alias[people.Place],
		alias[message.Kind], alias[finding.Severity], alias[work.Group], alias[work.Standing],
		alias[intake.Kind], alias[intake.State], alias[audit.Act],
		alias[rehearse.End], alias[script.Do],
		alias[measure.Side], alias[measure.Unit], alias[measure.Date], alias[measure.Good], alias[measure.Subject], alias[measure.Show], alias[measure.Standing],
	} {
		of(r)
	}
	for of, shape := range map[reflect.Type]reflect.Type{
		reflect.TypeFor[script.Who](): reflect.TypeFor[who](), reflect.TypeFor[script.Approvers](): reflect.TypeFor[approvers](), reflect.TypeFor[script.Tasks](): reflect.TypeFor[castTasks](),
		reflect.TypeFor[script.Length](): reflect.TypeFor[length](), reflect.TypeFor[script.Until](): reflect.TypeFor[until](), reflect.TypeFor[form.Answer](): reflect.TypeFor[any](),
	} {
		r.RegisterTypeAlias(of, shape)
	}
}

// Shapes of a script that are written in more than one way.
type (
	who       struct{}
	approvers struct{}
	castTasks struct{}
	length    struct{}
	until     struct{}
)

// Schema is asked by huma.
func (who) Schema(r huma.Registry) *huma.Schema {
	return &huma.Schema{OneOf: []*huma.Schema{{Type: huma.TypeString, MinLength: new(1), MaxLength: new(60), Description: "Login"}, r.Schema(reflect.TypeFor[script.Person](), true, "Person")}}
}

// Schema is asked by huma.
func (approvers) Schema(huma.Registry) *huma.Schema {
	return orNone(map[string]*huma.Schema{"after": {Type: huma.TypeString, Description: "A length, or measured"}})
}

// Schema is asked by huma.
func (castTasks) Schema(r huma.Registry) *huma.Schema {
	factor := &huma.Schema{Type: huma.TypeNumber, ExclusiveMinimum: new(0.0), Maximum: new(1000.0), Description: "Times their effort; 1 when left out"}
	return orNone(map[string]*huma.Schema{
		"factor": factor, "measured": {Type: huma.TypeBoolean, Description: "As long as such tasks took in the middle, where that was measured"},
		"each": r.Schema(reflect.TypeFor[map[string]script.TimesItem](), true, "Each"),
	})
}

// orNone is an object, or the word none.
func orNone(properties map[string]*huma.Schema) *huma.Schema {
	return &huma.Schema{OneOf: []*huma.Schema{{Type: huma.TypeString, Enum: []any{"none"}, Description: "They do nothing"}, {Type: huma.TypeObject, Properties: properties, AdditionalProperties: false}}}
}

// Schema is asked by huma.
func (length) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeString, MaxLength: new(30), Description: "ISO 8601, such as PT1H30M; P2D are two working days"}
}

// Schema is asked by huma.
func (until) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: huma.TypeString, MaxLength: new(40), Description: "closed, or an instant (RFC 3339)"}
}
