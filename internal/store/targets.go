package store

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/measure"
)

// Target is what somebody set for a figure.
type Target struct {
	measure.Target
	ID        string
	Person    string           // ID of who set it
	Told      measure.Standing // as it was told last; empty for well
	ChangedAt time.Time
}

type targetRow struct {
	ID, Person, Document, Told string
	ChangedAt                  int64 `db:"changed_at"`
}

// mostTargets is how many targets are looked at.
const mostTargets = 5000

// Targets lists the targets of a person, or with nobody named all of them.
func (r ofCompany) Targets(ctx context.Context, person string) ([]Target, error) {
	var rows []targetRow
	whose := "WHERE person = ?1"
	if person == "" {
		whose = "WHERE ?1 = ''"
	}
	if err := r.all(ctx, &rows, "SELECT id, person, document, told, changed_at FROM targets "+whose+" ORDER BY changed_at DESC, id LIMIT ?2", person, mostTargets); err != nil {
		return nil, err
	}
	all := make([]Target, len(rows))
	for i, row := range rows {
		all[i] = Target{ID: row.ID, Person: row.Person, Told: measure.Standing(row.Told), ChangedAt: instant(row.ChangedAt)}
		if err := json.Unmarshal([]byte(row.Document), &all[i].Target); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// AddTarget keeps a target.
func (t ownTx) AddTarget(x Target) error {
	document, err := json.Marshal(x.Target)
	if err != nil {
		return err
	}
	return t.exec("INSERT INTO targets (id, person, document, told, changed_at) VALUES (?,?,?,'',?)", x.ID, x.Person, string(document), millis(x.ChangedAt))
}

// SetTold keeps how a target was told to stand.
func (t ownTx) SetTold(id string, told measure.Standing) error {
	return t.exec("UPDATE targets SET told = ? WHERE id = ?", told, id)
}

// DropTarget throws a target of a person away; ErrNotFound when they have none such.
func (t ownTx) DropTarget(person, id string) error {
	var gone string
	return t.get(t.ctx, &gone, "DELETE FROM targets WHERE person = ? AND id = ? RETURNING id", person, id)
}
