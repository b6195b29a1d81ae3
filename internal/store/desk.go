package store

import (
	"context"
)

// View is a way to look at the tasks of teams.
type View struct {
	ID, Person, Team, Name, Query string
}

// ViewsOf lists the views of a person and of their teams, by name.
func (r ofTasks) ViewsOf(ctx context.Context, person string) ([]View, error) {
	views := []View{}
	err := r.all(ctx, &views, "SELECT id, person, team, name, query FROM views WHERE (person = ?1 AND team = '') OR team IN (SELECT team FROM team_members WHERE person = ?1) ORDER BY name, id", person)
	return views, err
}

// View finds one by its ID.
func (r ofTasks) View(ctx context.Context, id string) (View, error) {
	var v View
	err := r.get(ctx, &v, "SELECT id, person, team, name, query FROM views WHERE id = ?", id)
	return v, err
}

// SaveView keeps a view, new or changed.
func (t *Tx) SaveView(v View) error {
	return t.exec("INSERT INTO views (id, person, team, name, query) VALUES (?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET team = excluded.team, name = excluded.name, query = excluded.query", v.ID, v.Person, v.Team, v.Name, v.Query)
}

// DropView takes a view away.
func (t *Tx) DropView(id string) error { return t.exec("DELETE FROM views WHERE id = ?", id) }

// Reply is a prepared text with placeholders.
type Reply struct {
	ID, Person, Team, Offering, Name, Text string
}

// RepliesOf lists the replies of a person and of their teams that fit an
// offering, by name; all of them when no offering is named.
func (r ofTasks) RepliesOf(ctx context.Context, person, offering string) ([]Reply, error) {
	replies := []Reply{}
	err := r.all(ctx, &replies, `SELECT id, person, team, offering, name, text FROM replies WHERE ((person = ?1 AND team = '') OR team IN (SELECT team FROM team_members WHERE person = ?1))
		AND (?2 = '' OR offering IN ('', ?2)) ORDER BY name, id`, person, offering)
	return replies, err
}

// Reply finds one by its ID.
func (r ofTasks) Reply(ctx context.Context, id string) (Reply, error) {
	var one Reply
	err := r.get(ctx, &one, "SELECT id, person, team, offering, name, text FROM replies WHERE id = ?", id)
	return one, err
}

// SaveReply keeps a reply, new or changed.
func (t *Tx) SaveReply(r Reply) error {
	return t.exec("INSERT INTO replies (id, person, team, offering, name, text) VALUES (?,?,?,?,?,?) ON CONFLICT (id) DO UPDATE SET team = excluded.team, offering = excluded.offering, name = excluded.name, text = excluded.text",
		r.ID, r.Person, r.Team, r.Offering, r.Name, r.Text)
}

// DropReply takes a reply away.
func (t *Tx) DropReply(id string) error { return t.exec("DELETE FROM replies WHERE id = ?", id) }
