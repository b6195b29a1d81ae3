package store

import (
	"context"
	"encoding/json"
	"time"
)

// Study is something that is worked out of a draft in the background.
type Study struct {
	ID       string
	Kind     string // StudyReplay or StudyForesee
	Offering string
	Number   int // of the version
	Revision int // of the draft
	Person   string
	Asked    json.RawMessage
	State    string
	Trouble  string
	BeganAt  time.Time
	EndedAt  time.Time
	Result   json.RawMessage // nil while it runs, or when it came to none
}

// The kinds of study, and how they stand.
const (
	StudyReplay  = "replay"
	StudyForesee = "foresee"

	StudyRunning = "running"
	StudyDone    = "done"
	StudyStopped = "stopped"
	StudyFailed  = "failed"
)

type studyRow struct {
	ID, Kind, Offering     string
	Number, Revision       int
	Person, Asked          string
	State, Trouble, Result string
	BeganAt                int64 `db:"began_at"`
	EndedAt                int64 `db:"ended_at"`
}

func (r studyRow) study() Study {
	s := Study{ID: r.ID, Kind: r.Kind, Offering: r.Offering, Number: r.Number, Revision: r.Revision, Person: r.Person, Asked: json.RawMessage(r.Asked), State: r.State, Trouble: r.Trouble, BeganAt: instant(r.BeganAt), EndedAt: instant(r.EndedAt)}
	if r.Result != "" {
		s.Result = json.RawMessage(r.Result)
	}
	return s
}

// mostStudies is how many studies of a kind are kept of an offering.
const mostStudies = 20

// AddStudy keeps that a study begins; of those that have ended the oldest go.
func (t ownTx) AddStudy(s Study) error {
	if err := t.exec("INSERT INTO studies (id, kind, offering, number, revision, person, asked, state, trouble, began_at, ended_at, result) VALUES (?,?,?,?,?,?,?,?,'',?,0,'')",
		s.ID, s.Kind, s.Offering, s.Number, s.Revision, s.Person, string(s.Asked), StudyRunning, millis(s.BeganAt)); err != nil {
		return err
	}
	return t.exec("DELETE FROM studies WHERE offering = ?1 AND kind = ?2 AND state <> 'running' AND id NOT IN (SELECT id FROM studies WHERE offering = ?1 AND kind = ?2 ORDER BY began_at DESC LIMIT ?3)", s.Offering, s.Kind, mostStudies)
}

// EndStudy keeps how a study ended.
func (t ownTx) EndStudy(id, state, trouble string, result json.RawMessage, at time.Time) error {
	return t.exec("UPDATE studies SET state = ?, trouble = ?, result = ?, ended_at = ? WHERE id = ? AND state = 'running'", state, trouble, string(result), millis(at), id)
}

// DropStudy forgets a study that has ended.
func (t ownTx) DropStudy(id string) error {
	return t.exec("DELETE FROM studies WHERE id = ? AND state <> 'running'", id)
}

// LeaveStudies ends those that ran when the program stopped.
func (t ownTx) LeaveStudies(at time.Time) error {
	return t.exec("UPDATE studies SET state = 'stopped', trouble = 'Heptad was stopped.', ended_at = ? WHERE state = 'running'", millis(at))
}

// Studies lists those of a kind of an offering, the last first, without their results.
func (r ofOfferings) Studies(ctx context.Context, offering, kind string) ([]Study, error) {
	var rows []studyRow
	if err := r.all(ctx, &rows, "SELECT id, kind, offering, number, revision, person, asked, state, trouble, began_at, ended_at, '' AS result FROM studies WHERE offering = ? AND kind = ? ORDER BY began_at DESC, id LIMIT ?", offering, kind, mostStudies); err != nil {
		return nil, err
	}
	all := make([]Study, len(rows))
	for i, row := range rows {
		all[i] = row.study()
	}
	return all, nil
}

// Study finds one, with its result.
func (r ofOfferings) Study(ctx context.Context, id string) (Study, error) {
	var row studyRow
	err := r.get(ctx, &row, "SELECT id, kind, offering, number, revision, person, asked, state, trouble, began_at, ended_at, result FROM studies WHERE id = ?", id)
	return row.study(), err
}
