package store

import (
	"context"
	"errors"
	"math"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/request"
)

// factsTx is a transaction as far as it keeps facts for measuring.
type factsTx struct{ *transaction }

// SaveFacts keeps what some events made of the facts of a request.
func (t factsTx) SaveFacts(m measure.Made) error {
	if m.Number == 0 {
		return nil // it is still a draft
	}
	if m.Sending != nil {
		if err := t.addRequest(measure.Request{Number: m.Number, Sending: *m.Sending, Going: m.Going}); err != nil {
			return err
		}
	} else if m.Went {
		g := m.Going
		if err := t.exec(`UPDATE facts_requests SET status=?, outcome=?, decided=?, planned=?, delivered=?, confirmed=?, closed=?, due=?, speed=?, kept=?, used=?, target=?, deciding=?, working=?, asking=?, waiting=?,
			response_used=?, response_target=?, currency=?, cost=?, real=?, real_known=?, backs=?, asked=?, by_people=?, by_systems=?, stuck=?, hand=?, came=? WHERE number=?`,
			g.Status, g.Outcome, g.Decided, g.Planned, g.Delivered, g.Confirmed, g.Closed, g.Due, g.Speed, g.Kept, g.Used, g.Target, g.Deciding, g.Working, g.Asking, g.Waiting,
			g.ResponseUsed, g.ResponseTarget, g.Currency, g.Cost, g.Real, g.RealKnown, g.Backs, g.Asked, g.ByPeople, g.BySystems, g.Stuck, g.Hand, g.Came, m.Number); err != nil {
			return err
		}
	}
	if err := t.saveParts(measure.Facts{Tasks: m.Tasks, Votes: m.Votes, Rungs: m.Rungs, Ratings: m.Ratings}); err != nil {
		return err
	}
	return t.saveSpells(m)
}

func (t factsTx) addRequest(r measure.Request) error {
	return t.exec("INSERT OR REPLACE INTO facts_requests VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
		r.Number, r.Offering, r.Version, r.Service, r.Asker, r.Department, r.Location, r.CostCentre, r.Employment, r.Channel, r.Door, r.Impact, r.Urgency, r.Sent, r.Likely, r.Sure,
		r.Status, r.Outcome, r.Decided, r.Planned, r.Delivered, r.Confirmed, r.Closed, r.Due, r.Speed, r.Kept, r.Used, r.Target, r.Deciding, r.Working, r.Asking, r.Waiting,
		r.ResponseUsed, r.ResponseTarget, r.Currency, r.Cost, r.Real, r.RealKnown, r.Backs, r.Asked, r.ByPeople, r.BySystems, r.Stuck, r.Hand, r.Came)
}

// saveParts keeps facts of tasks, votes, rungs and ratings in place of those that are there.
func (t factsTx) saveParts(f measure.Facts) error {
	var all []error
	add := func(query string, args ...any) { all = append(all, t.exec(query, args...)) }
	for _, r := range f.Tasks {
		add("INSERT OR REPLACE INTO facts_tasks VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)",
			r.Number, r.Key, r.Of, r.Kind, r.Team, r.Connector, r.Person, r.Ready, r.Taken, r.Ended, r.How, r.Waited, r.Worked, r.Paused, r.Hand, r.Handed, r.First, r.Due, r.Late, r.Tries, r.Stuck)
	}
	for _, r := range f.Votes {
		add("INSERT OR REPLACE INTO facts_votes VALUES (?,?,?,?,?,?,?,?,?)", r.Number, r.Seq, r.Rung, r.Person, r.Asked, r.Answered, r.Open, r.As, r.Outcome)
	}
	for _, r := range f.Rungs {
		add("INSERT OR REPLACE INTO facts_rungs VALUES (?,?,?,?,?,?,?,?)", r.Number, r.Seq, r.Rung, r.Opened, r.Ended, r.Open, r.Outcome, r.Silent)
	}
	for _, r := range f.Ratings {
		add("INSERT OR REPLACE INTO facts_ratings VALUES (?,?,?,?)", r.Number, r.Person, r.At, r.Stars)
	}
	return errors.Join(all...)
}

// saveSpells ends the spell that lasts, and keeps those that begin.
func (t factsTx) saveSpells(m measure.Made) error {
	for i, spell := range m.Spells {
		if i+1 < len(m.Spells) {
			spell.Until = m.Spells[i+1].From
		}
		if i == 0 && m.Sending == nil {
			if err := t.exec("UPDATE facts_spells SET until_at = ?1 WHERE number = ?2 AND until_at = 0 AND from_at < ?1", spell.From, m.Number); err != nil {
				return err
			}
		}
		var err error
		if spell.Status == request.Closed {
			err = t.exec("DELETE FROM facts_spells WHERE number = ? AND from_at = ?", m.Number, spell.From)
		} else {
			err = t.addSpell(spell)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (t factsTx) addSpell(s measure.Spell) error {
	return t.exec("INSERT OR REPLACE INTO facts_spells VALUES (?,?,?,?,?,?,?,?)", s.Number, s.From, s.Until, s.Status, s.Paused, s.Due, s.Late, s.Teams)
}

// Hands are what a person has in hand.
func (r ofTasks) Hands(ctx context.Context, person string) (request.Hands, error) {
	var row struct{ Tasks, Worked, At int64 }
	err := r.get(ctx, &row, "SELECT tasks, worked, at FROM hands WHERE person = ?", person)
	if errors.Is(err, ErrNotFound) {
		return request.Hands{}, nil
	}
	return request.Hands{Tasks: int(row.Tasks), Worked: time.Duration(row.Worked) * time.Millisecond, At: instant(row.At)}, err
}

// SaveHands keeps what a person has in hand from now on.
func (t factsTx) SaveHands(person string, h request.Hands) error {
	return t.exec("INSERT INTO hands VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET tasks = excluded.tasks, worked = excluded.worked, at = excluded.at", person, h.Tasks, h.Worked.Milliseconds(), millis(h.At))
}

// Facts reads the facts of requests, in the order of their numbers: those with a number
// above one, at most so many.
func (r ofRequests) Facts(ctx context.Context, after int64, limit int) ([]measure.Facts, error) {
	return r.FactsBetween(ctx, after+1, math.MaxInt64, limit)
}

// FactsBetween reads the facts of requests whose numbers lie between two, both of them
// included, at most so many.
func (r ofRequests) FactsBetween(ctx context.Context, first, last int64, limit int) ([]measure.Facts, error) {
	var requests []measure.Request
	if err := r.all(ctx, &requests, "SELECT * FROM facts_requests WHERE number BETWEEN ? AND ? ORDER BY number LIMIT ?", first, last, limit); err != nil || len(requests) == 0 {
		return nil, err
	}
	return r.withParts(ctx, requests)
}

// FactsOf reads the facts of one request; false while it was not sent.
func (r ofRequests) FactsOf(ctx context.Context, number int64) (measure.Facts, bool, error) {
	all, err := r.FactsBetween(ctx, number, number, 1)
	if err != nil || len(all) == 0 {
		return measure.Facts{}, false, err
	}
	return all[0], true, nil
}

// withParts reads the other facts of requests that follow each other.
func (r ofRequests) withParts(ctx context.Context, requests []measure.Request) ([]measure.Facts, error) {
	facts := make([]measure.Facts, len(requests))
	at := make(map[int64]*measure.Facts, len(requests))
	for i, request := range requests {
		facts[i].Request = request
		at[request.Number] = &facts[i]
	}
	first, last := requests[0].Number, requests[len(requests)-1].Number
	var tasks []measure.Task
	var votes []measure.Vote
	var rungs []measure.Rung
	var spells []measure.Spell
	var ratings []measure.Rating
	if err := errors.Join(
		r.all(ctx, &tasks, "SELECT * FROM facts_tasks WHERE number BETWEEN ? AND ? ORDER BY number, key", first, last),
		r.all(ctx, &votes, "SELECT * FROM facts_votes WHERE number BETWEEN ? AND ? ORDER BY number, seq", first, last),
		r.all(ctx, &rungs, "SELECT * FROM facts_rungs WHERE number BETWEEN ? AND ? ORDER BY number, seq", first, last),
		r.all(ctx, &spells, "SELECT * FROM facts_spells WHERE number BETWEEN ? AND ? ORDER BY number, from_at", first, last),
		r.all(ctx, &ratings, "SELECT * FROM facts_ratings WHERE number BETWEEN ? AND ? ORDER BY number, person", first, last),
	); err != nil {
		return nil, err
	}
	give(at, tasks, func(t measure.Task) int64 { return t.Number }, func(f *measure.Facts) *[]measure.Task { return &f.Tasks })
	give(at, votes, func(v measure.Vote) int64 { return v.Number }, func(f *measure.Facts) *[]measure.Vote { return &f.Votes })
	give(at, rungs, func(r measure.Rung) int64 { return r.Number }, func(f *measure.Facts) *[]measure.Rung { return &f.Rungs })
	give(at, spells, func(s measure.Spell) int64 { return s.Number }, func(f *measure.Facts) *[]measure.Spell { return &f.Spells })
	give(at, ratings, func(r measure.Rating) int64 { return r.Number }, func(f *measure.Facts) *[]measure.Rating { return &f.Ratings })
	return facts, nil
}

// give puts each part with the facts of its request, as far as they were asked for.
func give[P any](at map[int64]*measure.Facts, parts []P, number func(P) int64, list func(*measure.Facts) *[]P) {
	for _, part := range parts {
		if f := at[number(part)]; f != nil {
			*list(f) = append(*list(f), part)
		}
	}
}
