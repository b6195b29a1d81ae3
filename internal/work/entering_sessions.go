package work

import (
	"context"
	"strings"
	"time"

	"golang.org/x/text/language"

	"heptad/internal/core/audit"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// Profile is what somebody wants those to know who have a task for them.
type Profile = store.Profile

// Profile gives somebody what they have said of themself.
func (w *Entering) Profile(ctx context.Context, person string) (Profile, error) {
	return w.Store.Profile(ctx, person)
}

// SetProfile keeps what somebody says of themself.
func (w *Entering) SetProfile(ctx context.Context, person string, p Profile) error {
	p.Address, p.Reach, p.Help = strings.TrimSpace(p.Address), strings.TrimSpace(p.Reach), strings.TrimSpace(p.Help)
	if _, err := language.Parse(p.Language); p.Language != "" && err != nil {
		return invalid(refusal.BadLanguage, "/language", "%q is no language: write it such as pt or en-GB (BCP 47).", p.Language)
	}
	if _, err := time.LoadLocation(p.Zone); err != nil || p.Zone == "Local" {
		return invalid(refusal.Zone, "/zone", "%q is no time zone: write it such as Europe/Copenhagen.", p.Zone)
	}
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.SaveProfile(person, p, w.Clock()) }); err != nil {
		return err
	}
	if was, _ := w.Company().Person(person); was.Speaks != p.Language || was.Zone != p.Zone {
		return w.companyChanged(ctx, person)
	}
	return nil
}

// BeginSession notes a session that begins; it ends at the latest after so long.
func (w *Entering) BeginSession(ctx context.Context, id, person, device string, lasts time.Duration) error {
	now := w.Clock()
	if err := w.Store.HoldSession(ctx, store.Held{ID: id, Person: person, Device: device, Begun: now, Used: now}, now.Add(-lasts)); err != nil {
		return err
	}
	p, _ := w.Company().Person(person)
	return w.noteAlone(WithSession(ctx, id), person, audit.SignedIn, person, p.Name)
}

// SessionHeld reports whether a session was not ended from elsewhere.
func (w *Entering) SessionHeld(ctx context.Context, id string) (bool, error) {
	return w.Store.SessionHeld(ctx, id)
}

// UseSession notes that a session was used.
func (w *Entering) UseSession(ctx context.Context, id string) error {
	return w.Store.UseSession(ctx, id, w.Clock())
}

// LeaveSession ends the session of somebody who signs out.
func (w *Entering) LeaveSession(ctx context.Context, person, id string) error {
	if _, err := w.Store.EndSession(ctx, person, id); err != nil {
		return err
	}
	p, _ := w.Company().Person(person)
	return w.noteAlone(ctx, person, audit.SignedOut, person, p.Name)
}

// Sessions lists the sessions of a person, to themself and to administrators.
func (w *Entering) Sessions(ctx context.Context, actor, person string) ([]store.Held, error) {
	if actor != person && !w.Administers(actor) {
		return nil, ErrNotFound
	}
	return w.Store.SessionsOf(ctx, person)
}

// EndSessions ends one session of a person, or all but the one it is done in.
func (w *Entering) EndSessions(ctx context.Context, actor, person, id string) error {
	p, ok := w.Company().Person(person)
	if !ok || actor != person && !w.Administers(actor) {
		return ErrNotFound
	}
	var n int64
	var err error
	if id != "" {
		n, err = w.Store.EndSession(ctx, person, id)
	} else {
		n, err = w.Store.EndSessions(ctx, person, sessionOf(ctx))
	}
	if err != nil {
		return err
	}
	if n == 0 && id != "" {
		return ErrNotFound
	}
	return w.noteAlone(ctx, actor, audit.SessionEnded, person, p.Name, audit.Change{Field: "sessions", After: itoa(int(n))})
}
