package web

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// handlers is what the handler sets of all desks share: they turn what work gives
// into what the page shows to whoever asks.
type handlers struct{ Office *work.Office }

// The handler sets, one for each desk. routes.go says which operation is whose.
type (
	asking     struct{ handlers }
	following  struct{ handlers }
	deciding   struct{ handlers }
	delivering struct{ handlers }
	designing  struct{ handlers }
	rehearsing struct{ handlers }
	arranging  struct{ handlers }
	messaging  struct{ handlers }
	managing   struct{ handlers }
	keeping    struct{ handlers }
	auditing   struct{ handlers }
	measuring  struct{ handlers }
)

// do gives a command of the reader on a request. What came of it is read by who needs it.
func (h handlers) do(ctx context.Context, id string, c request.Command) (*body[none], error) {
	_, err := h.Office.Do(ctx, me(ctx), id, c)
	return answer(none{}, err)
}

type RequestInput struct {
	Request string `path:"request" maxLength:"60" doc:"ID"`
}

type PageInput struct {
	After string `query:"after" maxLength:"120" doc:"What the page before gave as next"`
	Limit int    `query:"limit" minimum:"1" maximum:"100" default:"50"`
}

func (p PageInput) page() work.Page { return work.Page{Cursor: p.After, Limit: p.Limit} }

// listOf is one page of a list.
type listOf[T any] struct {
	Entries []T    `json:"entries" nullable:"false"`
	Next    string `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
}

// listing makes a page of a list from its entries.
func listing[T any](entries []work.Entry, limit int, line func(work.Entry) T) listOf[T] {
	out := listOf[T]{Entries: make([]T, len(entries))}
	for i, e := range entries {
		out.Entries[i] = line(e)
	}
	if len(entries) == limit {
		out.Next = entries[limit-1].Next
	}
	return out
}

// deskOf is one page of the list of a desk.
type deskOf[T any] struct {
	Entries []T    `json:"entries" nullable:"false"`
	Next    string `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
	First   string `json:"first,omitempty" doc:"What who names none is led to: its place below the desk"`
}

// firstOf is the first that is as wanted, or else as wanted next, or else the first of all;
// nil when there is none.
func firstOf[T any](entries []T, wanted ...func(T) bool) *T {
	for _, is := range wanted {
		if i := slices.IndexFunc(entries, is); i >= 0 {
			return &entries[i]
		}
	}
	if len(entries) == 0 {
		return nil
	}
	return &entries[0]
}

// PersonView is somebody who can be chosen.
type PersonView struct {
	Login      string `json:"login"`
	ID         string `json:"id"`
	Name       string `json:"name"`
	Title      string `json:"title"`
	Department string `json:"department"`
}

func personView(p people.Person) PersonView {
	return PersonView{p.Login, p.ID, p.Name, p.Title, p.Department}
}

func personViews(found []people.Person) listOf[PersonView] {
	out := listOf[PersonView]{Entries: make([]PersonView, len(found))}
	for i, p := range found {
		out.Entries[i] = personView(p)
	}
	return out
}

type Named struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	ID   string `json:"id,omitempty" doc:"Of a person"`
}

func list[T any](l []T) []T {
	if l == nil {
		return []T{}
	}
	return l
}

func reached(at time.Time) *time.Time {
	if at.IsZero() {
		return nil
	}
	return &at
}

func (h handlers) connectorName(key string) string {
	for _, c := range h.Office.Connectors() {
		if c.Key == key {
			return c.Name
		}
	}
	return key
}
