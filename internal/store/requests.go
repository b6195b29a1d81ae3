package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
)

// Request reads the state of a request.
func (r ofRequests) Request(ctx context.Context, id string) (request.State, error) {
	var text unpacked
	if err := r.get(ctx, &text, "SELECT state FROM requests WHERE id = ?", id); err != nil {
		return request.State{}, err
	}
	return decodeState(text)
}

func decodeState(text unpacked) (request.State, error) {
	var state request.State
	err := json.Unmarshal([]byte(text), &state)
	return state, err
}

// DraftOf finds the open draft that a person has of an offering.
func (r ofRequests) DraftOf(ctx context.Context, asker, offering string) (string, error) {
	var id string
	err := r.get(ctx, &id, "SELECT id FROM requests WHERE asker = ? AND offering = ? AND slip = '' AND status = "+draft, asker, offering)
	return id, err
}

// Typed is what was put into a draft so far.
type Typed struct {
	Answers form.Answers
	For     offering.Beneficiary
	Version int // of the offering, when it was saved; 0 for unknown
	SavedAt time.Time
}

// Typed reads what was put into a draft.
func (r ofRequests) Typed(ctx context.Context, id string) (Typed, error) {
	var row struct {
		Answers, Beneficiary string
		Version              int
		SavedAt              int64 `db:"saved_at"`
	}
	if err := r.get(ctx, &row, "SELECT answers, beneficiary, version, saved_at FROM drafts WHERE request = ?", id); err != nil {
		return Typed{}, err
	}
	t := Typed{Version: row.Version, SavedAt: instant(row.SavedAt)}
	return t, errors.Join(json.Unmarshal([]byte(row.Answers), &t.Answers), json.Unmarshal([]byte(row.Beneficiary), &t.For))
}

// SaveTyped keeps what is put into a draft.
func (t *Tx) SaveTyped(id string, typed Typed) error {
	answers, err := json.Marshal(typed.Answers)
	if err != nil {
		return err
	}
	whom, err := json.Marshal(typed.For)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO drafts (request, answers, beneficiary, version, saved_at) VALUES (?,?,?,?,?) ON CONFLICT (request) DO UPDATE SET answers = excluded.answers, beneficiary = excluded.beneficiary, version = excluded.version, saved_at = excluded.saved_at",
		id, string(answers), string(whom), typed.Version, millis(typed.SavedAt))
}

// AnswersTo gives what people have typed into open drafts of an offering, at
// most so many, the last first.
func (r ofRequests) AnswersTo(ctx context.Context, key string, limit int) ([]form.Answers, error) {
	var rows []string
	if err := r.all(ctx, &rows, "SELECT d.answers FROM requests r JOIN drafts d ON d.request = r.id WHERE r.offering = ? AND r.status = "+draft+" ORDER BY d.saved_at DESC LIMIT ?", key, limit); err != nil {
		return nil, err
	}
	answers := make([]form.Answers, len(rows))
	for i, text := range rows {
		if err := json.Unmarshal([]byte(text), &answers[i]); err != nil {
			return nil, err
		}
	}
	return answers, nil
}

// NextNumber gives the next number of a counter, the first being first + 1.
func (t *Tx) NextNumber(counter string, first int64) (int64, error) {
	var n int64
	err := t.get(t.ctx, &n, "INSERT INTO counters (name, value) VALUES (?, ? + 1) ON CONFLICT (name) DO UPDATE SET value = value + 1 RETURNING value", counter, first)
	return n, err
}

// SaveRequest keeps what a command led to: its events, the new state with the
// columns that lists read, and its effects. What was typed into a draft goes
// when it is no draft any more.
func (t *Tx) SaveRequest(s request.State, events []request.Event, effects []request.Effect) error {
	if len(events) == 0 {
		return t.saveEffects(s.ID, effects)
	}
	t.wrote[s.ID] = true
	last := events[len(events)-1]
	if err := t.saveState(s, last.At); err != nil {
		return err
	}
	if err := t.saveEvents(s.ID, events); err != nil {
		return err
	}
	if slices.ContainsFunc(events, func(e request.Event) bool { return e.Deciding() }) {
		if err := t.saveSeats(s, last.At); err != nil {
			return err
		}
	}
	working := false
	for _, e := range events {
		var err error
		switch b := e.Body.(type) {
		case request.Followed:
			err = t.exec("INSERT INTO followers (request, person) VALUES (?,?)", s.ID, b.Person)
		case request.Rated:
			err = t.saveRating(s, e.Actor, b.Stars)
		case request.Unfollowed:
			err = t.exec("DELETE FROM followers WHERE request = ? AND person = ?", s.ID, b.Person)
		default:
			var is bool
			if is, err = t.saveTie(s, e); !is {
				err = t.saveHolding(s, e)
			}
		}
		if err != nil {
			return err
		}
		working = working || e.Working()
	}
	if working {
		if err := t.saveTasks(s); err != nil {
			return err
		}
	}
	if err := t.saveEffects(s.ID, effects); err != nil {
		return err
	}
	if s.Status == request.Closed { // nothing is left to be done by itself, or foreseen
		if err := errors.Join(t.exec("UPDATE effects SET state = 'done' WHERE request = ? AND state = 'waiting'", s.ID), t.exec("DELETE FROM forecasts WHERE request = ?", s.ID)); err != nil {
			return err
		}
	}
	if s.Status != request.Draft && s.Status != request.Returned {
		gone, err := t.tx.ExecContext(t.ctx, "DELETE FROM drafts WHERE request = ?", s.ID)
		if err != nil {
			return err
		}
		if n, err := gone.RowsAffected(); err != nil || n == 0 {
			return err
		}
		return t.DropTyped(s.ID)
	}
	return nil
}

// saveState keeps the state with the columns that lists read.
func (t factsTx) saveState(s request.State, changed time.Time) error {
	text, err := json.Marshal(s)
	if err != nil {
		return err
	}
	reference := sql.NullString{String: s.Reference, Valid: s.Reference != ""}
	number := sql.NullInt64{Int64: request.Number(s.Reference), Valid: s.Reference != ""}
	newcomer := ""
	if s.For.Newcomer != nil {
		newcomer = s.For.Newcomer.Name
	}
	line := s.Brief()
	brief, err := json.Marshal(&line)
	if err != nil {
		return err
	}
	return t.exec(`INSERT INTO requests (id, reference, number, offering, title, service, asker, beneficiary, whom, newcomer, status, outcome, seq, changed_at, cost, sent_at, slip, state, brief) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?)
		ON CONFLICT (id) DO UPDATE SET reference = excluded.reference, number = excluded.number, whom = excluded.whom, newcomer = excluded.newcomer, title = excluded.title, service = excluded.service, beneficiary = excluded.beneficiary,
		status = excluded.status, outcome = excluded.outcome, seq = excluded.seq, changed_at = excluded.changed_at, cost = excluded.cost, sent_at = excluded.sent_at, slip = CASE WHEN excluded.status = `+draft+` THEN requests.slip ELSE excluded.slip END, clocks = 1, state = excluded.state, brief = excluded.brief`,
		s.ID, reference, number, s.Offering, s.Title, s.Service, s.Asker, sql.NullString{String: s.Beneficiary(), Valid: s.Shared && s.Beneficiary() != "" && s.Beneficiary() != s.Asker},
		sql.NullString{String: s.For.Person, Valid: s.For.Person != ""}, newcomer, s.Status, s.Outcome, s.Seq, millis(changed), s.Price.FirstYear.Minor(), sent(s), slipOf(s), pack(states, string(text)), pack(states, string(brief)))
}

// SavePast keeps a request that has ended, with its whole history: what it made people have
// is over, and nothing is to be done any more.
func (t *Tx) SavePast(s request.State, events []request.Event) error {
	last := events[len(events)-1].At
	err := errors.Join(t.saveState(s, last), t.saveEvents(s.ID, events), t.saveSeats(s, last), t.saveTasks(s))
	for _, r := range s.Ratings {
		err = errors.Join(err, t.saveRating(s, r.By, r.Stars))
	}
	return err
}

func (t factsTx) saveRating(s request.State, person string, stars int) error {
	return t.exec("INSERT INTO ratings (request, person, offering, stars) VALUES (?,?,?,?) ON CONFLICT (request, person) DO UPDATE SET stars = excluded.stars", s.ID, person, s.Offering, stars)
}

// saveEvents adds to the history of a request, each event chained to the one before
// it in the file.
func (t *Tx) saveEvents(id string, history []request.Event) error {
	last, err := t.lastOf("events")
	if err != nil {
		return err
	}
	if _, before := t.added[id]; !before && len(history) > 0 {
		t.added[id] = history[0].Seq
	}
	for some := range slices.Chunk(history, rowsAtOnce) {
		var args []any
		for _, e := range some {
			body, err := json.Marshal(e.Body)
			if err != nil {
				return err
			}
			r := eventRow{ID: last.ID + 1, Request: id, Seq: e.Seq, At: millis(e.At), Event: happened{Kind: e.Kind(), Actor: e.Actor, Body: string(body)}}
			last = chained{r.ID, audit.Next(last.Chain, r.head(), audit.Hash(body))}
			args = append(args, r.ID, r.Request, r.Seq, r.At, pack(events, r.Event.text()), last.Chain)
		}
		if err := t.execRows("INSERT INTO events (id, request, seq, at, event, chain) VALUES ", 6, args); err != nil {
			return err
		}
	}
	t.Then(func() { t.newest.Store(last.ID) })
	return nil
}

// slipOf is the slip that a request was sent on; empty for none.
func slipOf(s request.State) string {
	if s.Together == nil {
		return ""
	}
	return s.Together.ID
}

// sent is when a request was sent; 0 for a draft.
func sent(s request.State) int64 {
	if at, ok := s.Stages["submitted"]; ok {
		return millis(at)
	}
	return 0
}

func (t *Tx) saveEffects(id string, effects []request.Effect) error {
	for _, e := range effects {
		if err := t.saveEffect(id, e); err != nil {
			return err
		}
	}
	return nil
}

// saveSeats keeps for whom a decision is open, who decided how, and for whom
// it is over.
func (t *Tx) saveSeats(s request.State, now time.Time) error {
	if err := t.exec("UPDATE seats SET state = 'over', since = ? WHERE request = ? AND state = 'open'", millis(now), s.ID); err != nil {
		return err
	}
	open, _ := s.OpenRung()
	for i := range s.Rungs {
		r := &s.Rungs[i]
		for _, seat := range r.Seats {
			for _, person := range seat.Everybody() {
				state, since := "over", now
				if r == open && s.Status == request.Deciding && len(r.OpenSeatsFor(person)) > 0 {
					state, since = "open", r.Opened
				} else if vote, voted := r.VoteOf(person); voted {
					state, since = string(vote.Decision), vote.At
				}
				if err := t.exec("INSERT INTO seats (request, rung, person, state, since, due_at) VALUES (?,?,?,?,?,?) ON CONFLICT DO UPDATE SET state = excluded.state, since = excluded.since, due_at = excluded.due_at WHERE state <> excluded.state",
					s.ID, r.Key, person, state, millis(since), millis(r.DueAt())); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// saveTasks keeps the read columns of the tasks. When one must begin at the
// latest is worked out later; until then it is when it became ready.
func (t *Tx) saveTasks(s request.State) error {
	for i := range s.Tasks {
		task := &s.Tasks[i]
		if task.Team == "" {
			continue // nobody's: a wait or a message
		}
		since, holder := task.ReadyAt, task.Holder
		if task.State.Ended() {
			since = task.EndedAt
		}
		state := string(task.State)
		if task.Undo != nil {
			state, holder = undoing, task.Undo.Holder
		}
		if err := t.exec(`INSERT INTO tasks (request, key, team, kind, state, holder, since, open, latest_start, place) VALUES (?1,?2,?3,?4,?5,?6,?7,?8,?7,?7)
			ON CONFLICT DO UPDATE SET team = excluded.team, state = excluded.state, holder = excluded.holder, since = excluded.since, open = excluded.open,
			latest_start = CASE WHEN tasks.latest_start < excluded.since AND tasks.state = `+text(plan.Blocked)+` THEN excluded.since ELSE tasks.latest_start END,
			place = CASE WHEN tasks.state = `+text(plan.Blocked)+` THEN excluded.since WHEN tasks.place < 0 AND excluded.state <> `+stuck+` THEN tasks.latest_start
				WHEN tasks.place >= 0 AND excluded.state = `+stuck+` THEN tasks.place - ?9 ELSE tasks.place END
			WHERE state <> excluded.state OR holder <> excluded.holder OR team <> excluded.team OR open <> excluded.open`,
			s.ID, task.Key, task.Team, task.Kind, state, holder, millis(since), task.ForPeople(), int64(beforeAll)); err != nil {
			return err
		}
		for _, person := range task.Confirmers {
			open := task.State == plan.Ready && !slices.Contains(task.Confirmed, person)
			if err := t.exec("INSERT INTO task_people (request, task, person, open) VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET open = excluded.open WHERE open <> excluded.open", s.ID, task.Key, person, open); err != nil {
				return err
			}
		}
	}
	return nil
}

// Events reads the history of a request, the first first. Nothing in it is to be changed.
func (r ofRequests) Events(ctx context.Context, id string) ([]request.Event, error) {
	var rows []struct {
		Seq   int
		At    int64
		Event []byte
	}
	if err := r.all(ctx, &rows, "SELECT seq, at, event FROM events WHERE request = ? ORDER BY seq", id); err != nil {
		return nil, err
	}
	history := make([]request.Event, len(rows))
	for i, row := range rows {
		p, err := passages.of(row.Event)
		if err != nil {
			return nil, err
		}
		history[i] = request.Event{Seq: row.Seq, At: instant(row.At), Actor: p.Actor, Body: p.Body}
	}
	return history, nil
}

// Glance is what lists know of a request: no more than a part of its state, of which nothing
// is to be changed.
func (r ofRequests) Glance(ctx context.Context, id string) (request.State, error) {
	var brief []byte
	if err := r.get(ctx, &brief, "SELECT brief FROM requests WHERE id = ?", id); err != nil {
		return request.State{}, err
	}
	return briefs.of(brief)
}

// Unsettle has the clocks of all requests under way looked at again.
func (t *Tx) Unsettle() error {
	return t.exec("UPDATE requests SET clocks = 0 WHERE " + isOpen)
}

// Unsettled lists requests of before whose history does not say what their clocks
// showed when they ended; at most so many.
func (r ofRequests) Unsettled(ctx context.Context, limit int) ([]string, error) {
	var ids []string
	err := r.all(ctx, &ids, "SELECT id FROM requests WHERE clocks = 0 AND id NOT IN (SELECT id FROM set_aside WHERE lane = 'clocks') ORDER BY id LIMIT ?", limit)
	return ids, err
}

// Settled notes that nothing is to be said of the clocks of a request that was not
// said.
func (t *Tx) Settled(id string) error {
	return t.exec("UPDATE requests SET clocks = 1 WHERE id = ?", id)
}

// LastEvent is the number of the newest event of all requests.
func (s *Store) LastEvent() int64 { return s.newest.Load() }

// UnderWayFor reports whether a request of an offering for a person is under way.
func (r ofRequests) UnderWayFor(ctx context.Context, offering, person string) (bool, error) {
	var is bool
	err := r.get(ctx, &is, "SELECT EXISTS (SELECT 1 FROM requests WHERE offering = ? AND whom = ? AND status NOT IN ('draft', 'closed'))", offering, person)
	return is, err
}
