package work

import (
	"context"
	"errors"
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// OwnDay says what is put on somebody's own list, and for which day.
type OwnDay = store.OwnEntry

// mostOnList is how much somebody puts on their own list.
const mostOnList = 200

// OwnEntry is a task, or a whole request, on somebody's own list for a day.
type OwnEntry struct {
	store.OwnEntry
	State request.State
	Done  bool // nothing is left to be done of it
}

// OwnList lists what somebody has put on their list for a day, as far as they still see it.
func (w *Delivering) OwnList(ctx context.Context, person string) ([]OwnEntry, error) {
	entries, err := w.Store.OwnList(ctx, person, mostOnList)
	if err != nil {
		return nil, err
	}
	var all []OwnEntry
	for _, e := range entries {
		s, err := w.Store.Request(ctx, e.Request)
		if err != nil {
			return nil, err
		}
		if !w.seesEntry(person, s, e.Task) {
			continue
		}
		task, isTask := s.Task(e.Task)
		all = append(all, OwnEntry{e, s, s.Status == request.Closed || isTask && task.State.Ended() && task.Undo == nil})
	}
	return all, nil
}

// seesEntry reports whether somebody sees a task of a request, or with no key the request.
func (w *Delivering) seesEntry(person string, s request.State, key string) bool {
	_, isTask := s.Task(key)
	v := w.Viewer(person, s)
	return v.Any() && (key == "" || isTask && v.SeesTask(key))
}

// PutOnList puts a task that somebody sees, or a request, on their own list for a day.
func (w *Delivering) PutOnList(ctx context.Context, person string, e store.OwnEntry) error {
	if _, err := calendar.ParseDate(e.Day); err != nil {
		return invalid(refusal.BadDate, "/day", "Choose a day.")
	}
	s, err := w.Store.Request(ctx, e.Request)
	if err != nil {
		return err
	}
	if !w.seesEntry(person, s, e.Task) {
		return ErrNotFound
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		all, err := tx.OwnList(ctx, person, mostOnList)
		if err == nil && len(all) >= mostOnList {
			err = conflict(refusal.TooMany, "There are %d things on your list: take some off first.", mostOnList)
		}
		return errors.Join(err, tx.PutOnList(person, e))
	})
}

// TakeOffList takes something off somebody's list.
func (w *Delivering) TakeOffList(ctx context.Context, person, id, task string) error {
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.TakeOffList(person, id, task) })
}

// What a calendar entry of a task is of.
const (
	EntryDue     = "due"
	EntryWait    = "wait"
	EntryMeeting = "meeting"
)

// Meeting is an appointment with the asker of a request.
type Meeting struct {
	At      time.Time
	Minutes int
	Place   string
}

// CalendarEntry writes a calendar entry of a task, by RFC 5545: of when it is due, of the end
// of a wait, or of an appointment with the asker.
func (w *Delivering) CalendarEntry(ctx context.Context, person, id, key, of string, m Meeting) ([]byte, error) {
	s, err := w.Store.Request(ctx, id)
	if err != nil {
		return nil, err
	}
	task, ok := s.Task(key)
	if !ok || !w.Viewer(person, s).SeesTask(key) {
		return nil, ErrNotFound
	}
	company := w.Company()
	e := calendar.Entry{UID: fmt.Sprintf("%s.%s.%s@heptad", of, id, key), Stamp: w.Clock(), Text: s.Title + " (" + s.Reference + ")", URL: w.letters.pageOf("/deliver/" + id + "/" + key)}
	switch of {
	case EntryDue:
		f, err := w.Forecast(ctx, s)
		if err != nil {
			return nil, err
		}
		e.Until = task.Due
		if slot, _, found := f.Step(key); found && e.Until.IsZero() {
			e.Until = slot.LatestFinish
		}
		e.Title, e.From = "Due: "+task.Name, e.Until
	case EntryWait:
		if task.Kind == plan.Wait {
			e.Until = task.Until
		}
		e.Title, e.From = "Until then it waits: "+task.Name, e.Until
	case EntryMeeting:
		if m.Minutes < 5 || m.Minutes > 24*60 || m.At.IsZero() {
			return nil, invalid(refusal.BadDate, "/at", "Choose when, and how long.")
		}
		who, me := company.Name(s.Asker), company.Name(person)
		asker, _ := company.Person(s.Asker)
		self, _ := company.Person(person)
		e.Title, e.From, e.Until, e.Place = task.Name+", with "+who, m.At, m.At.Add(time.Duration(m.Minutes)*time.Minute), m.Place
		e.UID = fmt.Sprintf("%s.%d@heptad", e.UID, m.At.Unix())
		e.Organizer, e.Guest = calendar.Guest{Name: me, Email: self.Email}, calendar.Guest{Name: who, Email: asker.Email}
	default:
		return nil, ErrNotFound
	}
	if e.From.IsZero() {
		return nil, conflict(refusal.NoInstant, "There is no time to put into a calendar.")
	}
	return calendar.WriteEntry(e), nil
}
