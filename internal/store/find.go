package store

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"heptad/internal/core/request"
)

// Standing says where a request is on its way.
type Standing string

// The standings of what is under way, in their order.
const (
	BeingDecided   Standing = "deciding"   // or returned to its asker
	BeingDone      Standing = "working"    // or waiting for its asker
	ToBeConfirmed  Standing = "confirming" // by its asker
	BeingTakenBack Standing = "undoing"
)

// standings are those of the statuses under way.
var standings = map[request.Status]Standing{
	request.Deciding: BeingDecided, request.Returned: BeingDecided, request.Delivering: BeingDone, request.Waiting: BeingDone,
	request.Delivered: ToBeConfirmed, request.Undoing: BeingTakenBack,
}

// All lists the standings in their order.
func (Standing) All() []Standing {
	return []Standing{BeingDecided, BeingDone, ToBeConfirmed, BeingTakenBack}
}

// Sight is what a person may see requests by, beside having asked for them,
// getting what they are for, and following them.
type Sight struct {
	Person   string   // ID
	Services []string // keys of those that are theirs
	Teams    []string // keys of those they are in
	Now      time.Time
}

// seen reports whether somebody may see a request, or has a task in it; the values
// are those of args.
const seen = `(r.asker = ?1 OR r.beneficiary = ?1 OR r.service IN (SELECT value FROM json_each(?2))
	OR EXISTS (SELECT 1 FROM tasks t WHERE t.request = r.id AND t.team IN (SELECT value FROM json_each(?3)))
	OR EXISTS (SELECT 1 FROM followers w WHERE w.request = r.id AND w.person = ?1))`

// inJSON writes a list as json_each reads it.
func inJSON(list []string) string {
	data, _ := json.Marshal(slices.Concat([]string{}, list)) // strings always marshal
	return string(data)
}

func (s Sight) args() []any {
	return []any{s.Person, inJSON(s.Services), inJSON(s.Teams), millis(s.Now)}
}

// Wanted says which requests are looked for.
type Wanted struct {
	Words    string   // of the title or a name; each must be there, or begin a word that is
	Service  string   // key; empty for all
	Standing Standing // empty for all
	Late     bool
	Stuck    bool
	After    string // what the page before gave as next
	Limit    int

	Terms [][]string // the words as they are looked for: of each any that is written here
}

// Found is one page of what was found.
type Found struct {
	Entries []Entry
	Next    string // asks for the page after; empty at the end
}

// match writes terms for the full-text index. They are letters and digits only.
func match(terms [][]string) string {
	all := make([]string, len(terms))
	for i, any := range terms {
		each := make([]string, len(any))
		for j, term := range any {
			each[j] = `"` + strings.ReplaceAll(term, `"`, "") + `"*`
		}
		all[i] = "(" + strings.Join(each, " OR ") + ")"
	}
	return strings.Join(all, " AND ")
}

// Find lists requests that a person may see all of, or has a task in: first what
// is under way, the most pressed first, then what is closed, the last sent first.
// What words find is looked up in their index, and sight is asked of that only.
func (s *Store) Find(ctx context.Context, by Sight, w Wanted) (Found, error) {
	phase, after, _ := strings.Cut(w.After, ".")
	at, _ := strconv.ParseInt(after, 10, 64) // what cannot be read begins anew
	out := Found{Entries: []Entry{}}
	if phase != "closed" {
		ids, err := s.findOpen(ctx, by, w, max(0, min(at, math.MaxInt32)))
		if err != nil {
			return out, err
		}
		page := ids[:min(len(ids), w.Limit)]
		if out.Entries, err = s.list(ctx, "SELECT "+foreseen+", '' AS key, r.changed_at AS since FROM json_each(?) x CROSS JOIN requests r ON r.id = x.value LEFT JOIN forecasts f ON f.request = r.id ORDER BY x.key", inJSON(page)); err != nil {
			return out, err
		}
		if len(ids) > w.Limit {
			out.Next = fmt.Sprintf("open.%d", at+int64(w.Limit))
			return out, nil
		}
		at = 0
		w.Limit -= len(page)
	}
	if w.Standing != "" || w.Late || w.Stuck {
		return out, nil
	}
	rows, err := s.findClosed(ctx, by, w, at)
	if len(rows) > w.Limit {
		rows = rows[:w.Limit]
		if len(rows) > 0 {
			at = rows[len(rows)-1].Number
		}
		out.Next = fmt.Sprintf("closed.%d", at)
	}
	out.Entries = append(out.Entries, entriesOf(rows)...)
	return out, err
}

// findClosed gives a row more than a page has, if there is one, of what was sent
// before a number; the newest for 0.
func (r ofRequests) findClosed(ctx context.Context, s Sight, w Wanted, before int64) ([]listRow, error) {
	if before == 0 {
		before = math.MaxInt64
	}
	args := append(s.args(), before)
	from, order := "requests r INDEXED BY requests_number WHERE r.number < ?5", "r.number"
	if len(w.Terms) > 0 {
		from, order = "found CROSS JOIN requests r INDEXED BY requests_number ON r.number = found.rowid WHERE found.rowid < ?5 AND found MATCH ?6", "found.rowid"
		args = append(args, match(w.Terms))
	}
	query := "SELECT r.id, r.number FROM " + from + " AND ?4 > 0 AND r.status = " + closed + " AND " + seen
	if w.Service != "" {
		query, args = query+" AND r.service = ?", append(args, w.Service)
	}
	rows := []listRow{}
	return rows, r.all(ctx, &rows, "SELECT "+briefly+", '' AS key, r.changed_at AS since, x.number FROM ("+query+" ORDER BY "+order+" DESC LIMIT ?) x JOIN requests r ON r.id = x.id ORDER BY x.number DESC", append(args, w.Limit+1)...)
}

// Numbered finds a request by the number in its reference, if a person may see
// it, or has a task in it.
func (r ofRequests) Numbered(ctx context.Context, s Sight, number int64) ([]Entry, error) {
	return r.list(ctx, "SELECT "+foreseen+", '' AS key, r.changed_at AS since FROM requests r LEFT JOIN forecasts f ON f.request = r.id WHERE r.number = ?5 AND ?4 > 0 AND "+seen, append(s.args(), number)...)
}

// Written reports whether a word that requests are found by begins so.
func (r ofRequests) Written(ctx context.Context, begins string) (bool, error) {
	var yes bool
	return yes, r.get(ctx, &yes, "SELECT EXISTS (SELECT 1 FROM found_terms WHERE term >= ?1 AND term < ?1 || char(1114111))", begins)
}

// WordsByLength lists the words that requests are found by, by how many letters they have.
func (r ofRequests) WordsByLength(ctx context.Context) (map[int][]string, error) {
	words := []string{}
	err := r.all(ctx, &words, "SELECT term FROM found_terms")
	by := map[int][]string{}
	for _, word := range words {
		n := utf8.RuneCountInString(word)
		by[n] = append(by[n], word)
	}
	return by, err
}

// UnderWay counts the requests of a service that are on their way.
type UnderWay struct {
	Service  string // key
	Standing Standing
	Count    int
	Late     int
	Stuck    int
}

// ByReference finds a request by its reference.
func (r ofRequests) ByReference(ctx context.Context, reference string) (request.State, error) {
	var text unpacked
	if err := r.get(ctx, &text, "SELECT state FROM requests WHERE reference = ?", reference); err != nil {
		return request.State{}, err
	}
	return decodeState(text)
}
