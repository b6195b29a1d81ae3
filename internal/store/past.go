package store

import (
	"context"
	"time"

	"heptad/internal/core/foresee"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/request"
)

// PastRequest is a request as it was sent, with its number.
type PastRequest struct {
	rehearse.Past
	Number  int64
	Trouble error // why it cannot be read; nothing but the number is known then
}

// PastAsked says which past requests are read.
type PastAsked struct {
	Offering    string // key; empty for any
	Version     int    // 0 for any
	From, Until time.Time
}

// in are the facts of those that are asked for; what hangs on their number can be added.
func (a PastAsked) in() (string, []any) {
	where, args := " FROM facts_requests f WHERE f.sent >= ? AND f.sent < ?", []any{a.From.Unix(), a.Until.Unix()}
	if a.Offering != "" {
		where, args = where+" AND f.offering = ?", append(args, a.Offering)
	}
	if a.Version != 0 {
		where, args = where+" AND f.version = ?", append(args, a.Version)
	}
	return where, args
}

// CountPast counts past requests.
func (r ofOfferings) CountPast(ctx context.Context, a PastAsked) (int, error) {
	var n int
	where, args := a.in()
	err := r.get(ctx, &n, "SELECT count(*)"+where, args...)
	return n, err
}

// Past reads past requests after a number, in order; at most so many. One that cannot be
// read stops no other.
func (r ofOfferings) Past(ctx context.Context, a PastAsked, after int64, limit int) ([]PastRequest, error) {
	var rows []struct {
		Number                                       int64
		Department, Location, CostCentre, Employment string
		State                                        unpacked
	}
	where, args := a.in()
	if err := r.all(ctx, &rows, "SELECT f.number, f.department, f.location, f.cost_centre AS costcentre, f.employment, r.state FROM (SELECT f.number, f.department, f.location, f.cost_centre, f.employment"+
		where+" AND f.number > ? ORDER BY f.number LIMIT ?) f JOIN requests r ON r.number = f.number ORDER BY f.number", append(args, after, limit)...); err != nil {
		return nil, err
	}
	all := make([]PastRequest, len(rows))
	for i, row := range rows {
		state, err := decodeState(row.State)
		all[i] = PastRequest{Number: row.Number, Trouble: err, Past: rehearse.Past{State: state, Was: request.Standing{Department: row.Department, Location: row.Location, CostCentre: row.CostCentre, Employment: row.Employment}}}
	}
	return all, nil
}

// mostTook is how many times are read of tasks, and of decisions: the last.
const mostTook = 200_000

// TookIn are the times that tasks and decisions took that ended in a time, the last ended
// first.
func (r ofOfferings) TookIn(ctx context.Context, from, until time.Time) ([]foresee.Took, error) {
	var all, rungs []foresee.Took
	if err := r.all(ctx, &all, `SELECT f.offering, t.of AS key, 0 AS decision, t.kind = 'manual' AS people, t.waited, t.worked, t.paused
		FROM facts_tasks t JOIN facts_requests f ON f.number = t.number
		WHERE t.ended >= ?1 AND t.ended < ?2 AND t.of <> '' AND t.how = 'done' AND t.kind <> 'wait' ORDER BY t.ended DESC, t.number, t.key LIMIT ?3`, from.Unix(), until.Unix(), mostTook); err != nil {
		return nil, err
	}
	err := r.all(ctx, &rungs, `SELECT f.offering, g.rung AS key, 1 AS decision, 0 AS people, g.open AS waited, 0 AS worked, 0 AS paused
		FROM facts_rungs g JOIN facts_requests f ON f.number = g.number
		WHERE g.ended >= ?1 AND g.ended < ?2 ORDER BY g.ended DESC, g.number, g.seq LIMIT ?3`, from.Unix(), until.Unix(), mostTook)
	return append(all, rungs...), err
}

// DidIn are the tasks that the people of teams ended in a time.
func (r ofOfferings) DidIn(ctx context.Context, from, until time.Time) ([]foresee.Did, error) {
	var all []foresee.Did
	err := r.all(ctx, &all, `SELECT t.team, t.ended, t.waited, t.worked, t.late > 0 OR f.due > 0 AND t.ended > f.due AS late
		FROM facts_tasks t JOIN facts_requests f ON f.number = t.number
		WHERE t.ended >= ?1 AND t.ended < ?2 AND t.kind = 'manual' AND t.team <> '' AND t.taken > 0 AND t.how IN ('done', 'undone')`, from.Unix(), until.Unix())
	return all, err
}

// KeptIn is how often promises were kept, of what was delivered in a time.
func (r ofOfferings) KeptIn(ctx context.Context, from, until time.Time) ([]foresee.Kept, error) {
	var all []foresee.Kept
	err := r.all(ctx, &all, `SELECT f.offering, f.speed AS name, count(*) AS of, sum(f.kept = 'kept') AS kept FROM facts_requests f
		WHERE f.delivered >= ?1 AND f.delivered < ?2 AND f.kept IN ('kept', 'missed') GROUP BY 1, 2 ORDER BY 1, 2`, from.Unix(), until.Unix())
	return all, err
}
