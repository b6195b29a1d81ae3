package store

import (
	"context"
	"database/sql/driver"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"modernc.org/sqlite"

	"heptad/internal/core/request"
	"heptad/internal/core/search"
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
func inJSON[T string | int64](list []T) string {
	data, _ := json.Marshal(slices.Concat([]T{}, list)) // words and numbers always marshal
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
// Words of what is closed are looked up in their index, and sight is asked of that only.
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
	rows, on, err := s.findClosed(ctx, by, w, at)
	if len(rows) > w.Limit {
		if rows = rows[:w.Limit]; len(rows) > 0 {
			at = rows[len(rows)-1].Number
		}
		on = at
	}
	if on >= 0 {
		out.Next = fmt.Sprintf("closed.%d", on)
	}
	out.Entries = append(out.Entries, entriesOf(rows)...)
	return out, err
}

// How many closed requests are asked for their sight at once, and by one page: who may see
// few of many is given what is found so far, and goes on from there.
const (
	examinedAtOnce = 250
	mostExamined   = 2000
)

// findClosed gives a row more than a page has, if there is one, of what was sent before a
// number; the newest for 0. On is before which number it goes on, or less than 0 when all
// were looked at.
func (s *Store) findClosed(ctx context.Context, by Sight, w Wanted, before int64) (rows []listRow, on int64, err error) {
	if before == 0 {
		before = math.MaxInt64
	}
	for examined := 0; len(rows) <= w.Limit && examined < mostExamined; examined += examinedAtOnce {
		some, err := s.numbersBefore(ctx, w, before)
		if err != nil {
			return nil, 0, err
		}
		which, args := "", append(by.args(), inJSON(some), w.Limit+1-len(rows))
		if w.Service != "" {
			which, args = " AND r.service = ?7", append(args, w.Service)
		}
		var seenOf []listRow
		if err := s.all(ctx, &seenOf, "SELECT "+briefly+", '' AS key, r.changed_at AS since, r.number FROM json_each(?5) x CROSS JOIN requests r INDEXED BY requests_number ON r.number = x.value WHERE ?4 > 0 AND r.status = "+closed+" AND "+seen+which+" ORDER BY x.key LIMIT ?6", args...); err != nil {
			return nil, 0, err
		}
		rows = append(rows, seenOf...)
		if len(some) < examinedAtOnce {
			return rows, -1, nil
		}
		before = some[len(some)-1]
	}
	return rows, before, nil
}

// numbersBefore are some of those that have the words, or are of the service, and were sent
// before a number; the last sent first.
func (s *Store) numbersBefore(ctx context.Context, w Wanted, before int64) (numbers []int64, err error) {
	query, args := "SELECT number FROM requests WHERE number IS NOT NULL AND number < ? ORDER BY number DESC LIMIT ?", []any{before, examinedAtOnce}
	switch {
	case len(w.Terms) > 0:
		query, args = "SELECT rowid FROM found WHERE rowid < ? AND found MATCH ? ORDER BY rowid DESC LIMIT ?", []any{before, match(w.Terms), examinedAtOnce}
	case w.Service != "":
		query, args = "SELECT number FROM requests INDEXED BY requests_service WHERE service = ? AND number < ? ORDER BY number DESC LIMIT ?", []any{w.Service, before, examinedAtOnce}
	}
	err = s.all(ctx, &numbers, query, args...)
	return numbers, err
}

// SQL takes texts apart as searches are: taken_apart(text), the words with a blank between.
func init() {
	sqlite.MustRegisterDeterministicScalarFunction("taken_apart", 1, func(_ *sqlite.FunctionContext, args []driver.Value) (driver.Value, error) {
		text, _ := args[0].(string)
		return strings.Join(search.Words(text), " "), nil
	})
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
