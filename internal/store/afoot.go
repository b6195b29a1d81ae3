package store

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"sync"

	"heptad/internal/core/request"
)

// afoot are the requests under way as they are found and counted: some in a hundred of all,
// and asked of as a whole, so that they stand in memory. They are read from the file when
// they are first asked for; each transaction reads those that it wrote again.
type afoot struct {
	kept     sync.Mutex // held from before a transaction is kept until what it wrote is read here
	mu       sync.RWMutex
	rows     map[string]*underway // by ID; nil until they are read
	slots    []int                // that are free again
	services map[string]int       // places of the services that any was of, by key

	// By who may see them: those of a service, those with a task of a team, and those that a
	// person asked for, has or follows.
	ofService, ofTeam, ofPerson map[string][]*underway
}

// places are the lists that a request stands in: a map each, with its key there.
func (a *afoot) places(u *underway, do func(of map[string][]*underway, key string)) {
	do(a.ofService, u.Service)
	for _, team := range u.Teams {
		do(a.ofTeam, team)
	}
	persons := slices.Concat([]string{u.Asker, u.Beneficiary}, u.Followers)
	for i, person := range persons {
		if person != "" && !slices.Contains(persons[:i], person) {
			do(a.ofPerson, person)
		}
	}
}

// put adds a request; take takes one out, if it is there.
func (a *afoot) put(u *underway) {
	if u.slot = len(a.rows); len(a.slots) > 0 {
		u.slot, a.slots = a.slots[len(a.slots)-1], a.slots[:len(a.slots)-1]
	}
	place, known := a.services[u.Service]
	if !known {
		place = len(a.services)
		a.services[u.Service] = place
	}
	u.service = place
	a.rows[u.ID] = u
	a.places(u, func(of map[string][]*underway, key string) { of[key] = append(of[key], u) })
}

func (a *afoot) take(id string) {
	u := a.rows[id]
	if u == nil {
		return
	}
	delete(a.rows, id)
	a.slots = append(a.slots, u.slot)
	a.places(u, func(of map[string][]*underway, key string) {
		all := of[key]
		last := len(all) - 1
		all[slices.Index(all, u)], all[last] = all[last], nil
		if of[key] = all[:last]; last == 0 {
			delete(of, key)
		}
	})
}

// seen gives each that somebody may see, once.
func (a *afoot) seen(by Sight, do func(u *underway)) {
	whole := make(map[string]bool, len(by.Services))
	for _, service := range by.Services {
		if whole[service] {
			continue
		}
		whole[service] = true
		for _, u := range a.ofService[service] {
			do(u)
		}
	}
	met := make([]uint64, (len(a.rows)+len(a.slots))/64+1) // a bit for each slot
	some := func(all []*underway) {
		for _, u := range all {
			if at, bit := u.slot/64, uint64(1)<<(u.slot%64); met[at]&bit == 0 {
				if met[at] |= bit; len(whole) == 0 || !whole[u.Service] {
					do(u)
				}
			}
		}
	}
	some(a.ofPerson[by.Person])
	for _, team := range by.Teams {
		some(a.ofTeam[team])
	}
}

// underway is what is known of one of them. It is never changed, only replaced.
type underway struct {
	ID, Service, Asker, Beneficiary string
	Words                           written // it is found by
	Status                          request.Status
	Changed                         int64  `db:"changed_at"`
	Due                             int64  `db:"due_at"`    // of the promise; 0 for none
	Likely                          int64  `db:"likely_at"` // 0 for unknown
	Late                            int64  `db:"late_at"`   // the first open instant after it is due; 0 for none
	Stuck                           bool   // a task is
	Teams                           listed // keys of those with a task in it
	Followers                       listed // IDs

	standing int    // place of its standing among all
	service  int    // place of its service
	begins   uint64 // marks of how its words begin
	slot     int    // unlike that of any other that is there
}

// listed are keys or IDs that SQL has joined; none has a comma.
type listed []string

// Scan reads them.
func (l *listed) Scan(v any) error {
	*l = nil
	if joined, _ := v.(string); joined != "" {
		*l = strings.Split(joined, ",")
	}
	return nil
}

// readUnderway reads those under way: all, or some by their IDs.
func (r ofRequests) readUnderway(ctx context.Context, ids []string) ([]*underway, error) {
	query, args := `SELECT r.id, r.service, r.asker, coalesce(r.beneficiary, '') AS beneficiary, coalesce((SELECT words FROM request_words w WHERE w.number = r.number), '') AS words, r.status, r.changed_at,
		coalesce(f.due_at, 0) AS due_at, coalesce(f.likely_at, 0) AS likely_at, coalesce(f.late_at, 0) AS late_at,
		EXISTS (SELECT 1 FROM tasks t WHERE t.request = r.id AND t.state = `+stuck+`) AS stuck,
		(SELECT group_concat(DISTINCT team) FROM tasks t WHERE t.request = r.id) AS teams,
		(SELECT group_concat(person) FROM followers w WHERE w.request = r.id) AS followers
		FROM requests r LEFT JOIN forecasts f ON f.request = r.id WHERE r.`+isOpen, []any{}
	if ids != nil {
		query, args = query+" AND r.id IN (SELECT value FROM json_each(?))", []any{inJSON(ids)}
	}
	var rows []*underway
	err := r.all(ctx, &rows, query, args...)
	inOrder := Standing("").All()
	for _, u := range rows {
		u.standing = slices.Index(inOrder, standings[u.Status])
		for word := range strings.FieldsSeq(string(u.Words)) {
			u.begins |= markOf(word)
		}
	}
	return rows, err
}

// underWay gives all that are under way, as they are until done is called.
func (s *Store) underWay(ctx context.Context) (all *afoot, done func(), err error) {
	s.afoot.mu.RLock()
	if s.afoot.rows != nil {
		return &s.afoot, s.afoot.mu.RUnlock, nil
	}
	s.afoot.mu.RUnlock()
	if err := s.ReadAfoot(ctx); err != nil {
		return nil, nil, err
	}
	s.afoot.mu.RLock()
	return &s.afoot, s.afoot.mu.RUnlock, nil
}

// ReadAfoot reads those under way into memory, once, which takes a second for 20,000 of them;
// else who first asks waits for it. Nothing is kept meanwhile.
func (s *Store) ReadAfoot(ctx context.Context) error {
	s.afoot.kept.Lock()
	defer s.afoot.kept.Unlock()
	if s.afoot.rows != nil {
		return nil
	}
	rows, err := s.readUnderway(ctx, nil)
	if err != nil {
		return err
	}
	s.afoot.mu.Lock()
	defer s.afoot.mu.Unlock()
	s.afoot.rows = make(map[string]*underway, len(rows))
	s.afoot.services = map[string]int{}
	s.afoot.ofService, s.afoot.ofTeam, s.afoot.ofPerson = map[string][]*underway{}, map[string][]*underway{}, map[string][]*underway{}
	for _, row := range rows {
		s.afoot.put(row)
	}
	return nil
}

// commit keeps a transaction, and what it wrote of requests under way.
func (s *Store) commit(in *shared) error {
	s.afoot.kept.Lock()
	defer s.afoot.kept.Unlock()
	var rows []*underway
	if s.afoot.rows != nil && len(in.wrote) > 0 {
		var err error
		if rows, err = readsOf(in.tx).readUnderway(context.Background(), slices.Collect(maps.Keys(in.wrote))); err != nil {
			return err
		}
	}
	if err := in.tx.Commit(); err != nil || s.afoot.rows == nil {
		return err
	}
	s.afoot.mu.Lock()
	defer s.afoot.mu.Unlock()
	for id := range in.wrote {
		s.afoot.take(id)
	}
	for _, row := range rows {
		s.afoot.put(row)
	}
	return nil
}

// late reports whether it will likely miss what is promised.
func (u *underway) late(now int64) bool {
	return u.Due > 0 && (u.Likely > u.Due || u.Late < now) && u.Status.Promising()
}

// unpressed is the slack of what promises nothing, in milliseconds.
const unpressed = 9_000_000_000_000_000

// slack is how much time is left of what is promised, if it ends when it likely will; in
// milliseconds.
func (u *underway) slack(now int64) int64 {
	if u.Due == 0 {
		return unpressed
	}
	return u.Due - max(u.Likely, now)
}

// pressed orders by what presses: what is stuck, then by slack, then what has changed last.
func pressed(now int64) func(a, b *underway) int {
	return func(a, b *underway) int {
		if a.Stuck != b.Stuck {
			if a.Stuck {
				return -1
			}
			return 1
		}
		return cmp.Or(cmp.Compare(a.slack(now), b.slack(now)), cmp.Compare(b.Changed, a.Changed), cmp.Compare(a.ID, b.ID))
	}
}

// Overview counts what is under way of what a person may see, or has a task in.
func (s *Store) Overview(ctx context.Context, by Sight) ([]UnderWay, error) {
	afoot, done, err := s.underWay(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	standings := Standing("").All()
	type tally struct{ count, late, stuck int }
	now, counts := millis(by.Now), make([]tally, len(afoot.services)*len(standings))
	afoot.seen(by, func(u *underway) {
		c := &counts[u.service*len(standings)+u.standing]
		c.count++
		if u.late(now) {
			c.late++
		}
		if u.Stuck {
			c.stuck++
		}
	})
	all := []UnderWay{}
	for service, place := range afoot.services {
		for i, standing := range standings {
			if c := counts[place*len(standings)+i]; c.count > 0 {
				all = append(all, UnderWay{service, standing, c.count, c.late, c.stuck})
			}
		}
	}
	slices.SortFunc(all, func(a, b UnderWay) int {
		return cmp.Or(cmp.Compare(a.Service, b.Service), cmp.Compare(a.Standing, b.Standing))
	})
	return all, nil
}

// findOpen gives the IDs of what is wanted and under way, the most pressed first: from so
// many on, and one more than a page has, if there is one.
func (s *Store) findOpen(ctx context.Context, by Sight, w Wanted, skip int64) ([]string, error) {
	terms := wantedOf(w.Terms)
	afoot, done, err := s.underWay(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	now, standing := millis(by.Now), slices.Index(Standing("").All(), w.Standing)
	first := firsts[*underway]{most: int(skip) + w.Limit + 1, by: pressed(now)}
	afoot.seen(by, func(u *underway) {
		if (w.Service == "" || u.Service == w.Service) && (w.Standing == "" || u.standing == standing) && (!w.Late || u.late(now)) && (!w.Stuck || u.Stuck) && u.has(terms) {
			first.add(u)
		}
	})
	found := first.sorted()
	var ids []string
	for _, u := range found[min(len(found), int(skip)):] {
		ids = append(ids, u.ID)
	}
	return ids, nil
}

// firsts are the first of many in an order, without all of them being sorted.
type firsts[T any] struct {
	most int
	by   func(a, b T) int
	all  []T
	full bool // the first of all are the first so far, and no other is to come after the last of them
}

func (f *firsts[T]) add(one T) {
	if f.full && f.by(one, f.all[f.most-1]) > 0 {
		return
	}
	if f.all = append(f.all, one); len(f.all) >= 2*f.most+100 {
		f.sorted()
		f.full = true
	}
}

func (f *firsts[T]) sorted() []T {
	slices.SortFunc(f.all, f.by)
	f.all = f.all[:min(len(f.all), f.most)]
	return f.all
}

// HoldsTrue holds what stands in memory against what is kept: an error says what is not the
// same.
func (s *Store) HoldsTrue(ctx context.Context) error {
	afoot, done, err := s.underWay(ctx)
	if err != nil {
		return err
	}
	defer done()
	kept, err := s.readUnderway(ctx, nil)
	if err != nil {
		return err
	}
	if len(kept) != len(afoot.rows) {
		return fmt.Errorf("%d requests are under way, and %d are known", len(kept), len(afoot.rows))
	}
	places, slots := 0, make([]bool, len(afoot.rows)+len(afoot.slots))
	for _, row := range kept {
		known := afoot.rows[row.ID]
		if known != nil {
			row.slot, row.service = known.slot, known.service
			if slots[known.slot] || afoot.services[known.Service] != known.service {
				return fmt.Errorf("request %s stands where another does", known.ID)
			}
			slots[known.slot] = true
		}
		if !reflect.DeepEqual(row, known) {
			return fmt.Errorf("of request %s %+v is kept, and %+v is known", row.ID, row, known)
		}
		afoot.places(known, func(of map[string][]*underway, key string) {
			if places++; !slices.Contains(of[key], known) {
				err = fmt.Errorf("request %s does not stand where %s leads", known.ID, key)
			}
		})
	}
	for _, of := range []map[string][]*underway{afoot.ofService, afoot.ofTeam, afoot.ofPerson} {
		for _, all := range of {
			places -= len(all)
		}
	}
	if places != 0 {
		err = errors.Join(err, errors.New("what is over stands among what is under way"))
	}
	if err != nil {
		return err
	}
	if !briefs.unchanged() || !outlooks.unchanged() || !passages.unchanged() {
		return errors.New("what lists or sheets were given was changed by who was given it")
	}
	return nil
}
