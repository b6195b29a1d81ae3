package store

import (
	"strings"

	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// The words of the core as queries write them. They stand in the text of a query,
// and not among its values, so that it can use an index of some rows only.
var (
	draft     = text(request.Draft)
	closed    = text(request.Closed)
	isOpen    = "status NOT IN " + list(request.Which(func(s request.Status) bool { return !s.UnderWay() }))
	withAsker = "status IN " + list(request.Which(request.Status.WithAsker))
	withSide  = "status IN " + list(request.Which(request.Status.WithSide))
	stuck     = text(plan.Stuck)
	unbegun   = list([]plan.State{plan.Ready, plan.Stuck})
)

// undoing is the state in lists of a task that is being taken back.
const undoing = "undoing"

// text writes a word of the core, which holds no quote, as SQL does.
func text[T ~string](word T) string { return "'" + string(word) + "'" }

func list[T ~string](words []T) string {
	all := make([]string, len(words))
	for i, w := range words {
		all[i] = text(w)
	}
	return "(" + strings.Join(all, ", ") + ")"
}
