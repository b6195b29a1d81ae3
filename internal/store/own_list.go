package store

import "context"

// OwnEntry is a task, or a whole request, on somebody's own list for a day.
type OwnEntry struct {
	Request, Task string // ID and key; the key is empty for the whole request
	Day           string // RFC 3339
}

// OwnList lists what somebody has put on their list, the earliest day first.
func (r ofTasks) OwnList(ctx context.Context, person string, limit int) (all []OwnEntry, err error) {
	err = r.all(ctx, &all, "SELECT request, task, day FROM own_list WHERE person = ? ORDER BY day, request, task LIMIT ?", person, limit)
	return all, err
}

// PutOnList puts something on somebody's list for a day, or moves it to another.
func (t ownTx) PutOnList(person string, e OwnEntry) error {
	return t.exec("INSERT INTO own_list (person, request, task, day) VALUES (?,?,?,?) ON CONFLICT DO UPDATE SET day = excluded.day", person, e.Request, e.Task, e.Day)
}

// TakeOffList takes something off somebody's list.
func (t ownTx) TakeOffList(person, request, task string) error {
	return t.exec("DELETE FROM own_list WHERE person = ? AND request = ? AND task = ?", person, request, task)
}
