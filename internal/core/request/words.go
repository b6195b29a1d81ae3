package request

import (
	"slices"

	"heptad/internal/core/refusal"
)

func (t *transition) comment(c Comment) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	staff := slices.Contains(v.Tasks, c.Task)
	switch {
	case !v.SeesRequest() && !v.Approver && !staff:
		return notYours("Only those who see the whole request, decide on it or work on it can write here.")
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict(refusal.NoWords, "Nobody can say anything on this now.")
	}
	text, err := reason(c.Text, "/text", "Write something first.")
	if err != nil {
		return err
	}
	readers, err := t.readersOf(v, c.Task, c.To)
	if err == nil {
		t.emit(Commented{text, c.Task, &readers})
	}
	return err
}

func (t *transition) note(c Note) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !v.works():
		return notYours("Only those who work on this can leave a note.")
	case t.state.Status == Closed:
		return conflict(refusal.NoWords, "Nobody can say anything on this now.")
	}
	text, err := reason(c.Text, "/text", "Write something first.")
	if err != nil {
		return err
	}
	readers, err := t.readersOf(v, c.Task, c.To)
	if err == nil {
		readers.Side, readers.Rung = false, "" // never the asker's
		t.emit(Noted{text, c.Task, &readers})
	}
	return err
}

// mostFiles is how many files can be added to one request after sending.
const mostFiles = 100

func (t *transition) attach(c Attach) error {
	v := t.state.ViewerOf(t.facts.Actor, t.facts.Company, t.facts.Service)
	switch {
	case !v.attaches() && !slices.Contains(v.Tasks, c.Task):
		return notYours("Only those who see the files of this request can add one.")
	case t.state.Status == Draft || t.state.Status == Closed:
		return conflict(refusal.NotNow, "No file can be added now.")
	case len(t.state.Files) >= mostFiles:
		return conflict(refusal.TooMany, "At most %d files can be added to one request.", mostFiles)
	}
	readers, err := t.readersOf(v, c.Task, c.To)
	if err == nil {
		t.emit(Attached{c.File, c.Task, &readers})
	}
	return err
}
