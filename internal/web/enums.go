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
	"heptad/internal/core/request"
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
		alias[measure.Side], alias[measure.Unit], alias[measure.Date], alias[measure.Good], alias[measure.Subject], alias[measure.Show], alias[measure.Standing],
	} {
		of(r)
	}
}
