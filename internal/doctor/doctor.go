// Package doctor looks whether a folder of data is whole. It changes nothing, and can
// look while a Heptad runs on the folder.
package doctor

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Result is what one check came to.
type Result struct {
	Check string   `json:"check"` // what was looked at
	Good  bool     `json:"good"`
	Says  string   `json:"says"`            // in a sentence
	Wrong []string `json:"wrong,omitempty"` // each that is not as it should be; at most so many as are named
}

const (
	named = 20  // so many of what is wrong are named
	batch = 200 // so many are read at once
)

// ahead is how much later than now an event may have happened: two clocks differ a
// little.
const ahead = time.Minute

// Look makes all checks of a folder, one after the other, and gives each result as it
// comes. A check that cannot be made is not good, and the others go on. It is an error
// when there is nothing to look at.
func Look(ctx context.Context, dir string, now time.Time, each func(Result)) error {
	in, err := store.Inspect(ctx, dir)
	if err != nil {
		return err
	}
	p := &patient{ctx: ctx, Inspection: in, now: now}
	for _, check := range []func() (Result, error){p.version, p.file, p.links, p.requests, p.facts, p.chains, p.effects, p.attachments, p.disk, p.clock} {
		r, err := check()
		if err != nil {
			r.Good, r.Says = false, "It could not be looked at: "+err.Error()
		}
		each(r)
	}
	return in.Close()
}

type patient struct {
	ctx context.Context
	*store.Inspection
	now    time.Time
	unlike []string // requests of which something else is measured than happened
}

// found is the result of a check that names what is wrong.
func found(check, good, bad string, wrong []string) Result {
	if len(wrong) == 0 {
		return Result{Check: check, Good: true, Says: good}
	}
	return Result{Check: check, Says: bad, Wrong: wrong[:min(len(wrong), named)]}
}

func (p *patient) version() (Result, error) {
	r := Result{Check: "version", Good: true}
	file, program, err := p.Version(p.ctx)
	switch {
	case file > program:
		r.Good, r.Says = false, fmt.Sprintf("The data is of version %d, written by a newer Heptad; this one knows %d. Use the newer one.", file, program)
	case file < program:
		r.Good, r.Says = false, fmt.Sprintf("The data is of version %d; this Heptad brings it to %d when it starts.", file, program)
	default:
		r.Says = fmt.Sprintf("The data is of version %d, that of this Heptad.", file)
	}
	return r, err
}

func (p *patient) file() (Result, error) {
	wrong, err := p.Damage(p.ctx, named)
	return found("file", "The data file is sound.", "The data file is damaged. Put the last backup back.", wrong), err
}

func (p *patient) links() (Result, error) {
	wrong, err := p.Dangling(p.ctx, named)
	return found("links", "Everything that is pointed at is there.", "Something points at what is not there.", wrong), err
}

// requests replays the history of each and compares what comes out with what is kept.
func (p *patient) requests() (Result, error) {
	wrong, count, err := through(func(after string) ([]store.Kept, error) { return p.Requests(p.ctx, after, batch) }, func(k store.Kept) (string, string) {
		trouble := differs(k)
		if trouble == "" {
			if measured := prefixed(k.Name, unlike(k)); measured != "" {
				p.unlike = append(p.unlike, measured)
			}
		}
		return k.ID, prefixed(k.Name, trouble)
	})
	return found("requests", fmt.Sprintf("The histories of all %d requests lead to how they stand.", count), "Some requests do not stand as their history says.", wrong), err
}

// facts tells whether what is kept for measuring is what the histories say.
func (p *patient) facts() (Result, error) {
	made, err := p.FactsMade(p.ctx)
	if err == nil && !made.Done(measure.Form) {
		return Result{Check: "facts", Good: true, Says: "What is measured is made anew when Heptad starts."}, nil
	}
	return found("facts", "What is measured of each request is what its history says.", "What is measured is not what happened: run heptad measure rebuild.", p.unlike), err
}

// unlike tells how the facts of a request, whose history is sound, are not what it says;
// empty when they are.
func unlike(k store.Kept) string {
	again, sent := measure.Of(k.Events)
	if !sent {
		return ""
	}
	one, err := json.Marshal(again)
	two, err2 := json.Marshal(k.Facts)
	if !k.Measured || err != nil || err2 != nil || !bytes.Equal(one, two) {
		return "what is kept of it for measuring is not what its history says"
	}
	return ""
}

// chains follows the links of the audit and of history.
func (p *patient) chains() (Result, error) {
	rows, wrong, err := p.VerifyChains(p.ctx)
	return found("chains", fmt.Sprintf("All %d rows of the audit and of history are as they were written.", rows), "A row of the audit or of history was altered.", wrong), err
}

// through looks at all that is kept, so many at once: each has the ID it is ordered by,
// and what is wrong with it, if anything.
func through[T any](read func(after string) ([]T, error), look func(T) (id, wrong string)) (wrong []string, count int, err error) {
	for after := ""; ; {
		some, err := read(after)
		if err != nil || len(some) == 0 {
			return wrong, count, err
		}
		for _, one := range some {
			id, trouble := look(one)
			if after = id; trouble != "" {
				wrong = append(wrong, trouble)
			}
		}
		count += len(some)
	}
}

// prefixed says whose trouble it is; nothing when there is none.
func prefixed(name, trouble string) string {
	if trouble == "" {
		return ""
	}
	return name + ": " + trouble
}

// differs tells how a request stands otherwise than its history says; empty when it
// does not.
func differs(k store.Kept) (trouble string) {
	defer func() { // a broken history can do anything
		if reason := recover(); reason != nil {
			trouble = fmt.Sprint("its history cannot be replayed: ", reason)
		}
	}()
	if k.Err != nil {
		return "it cannot be read: " + k.Err.Error()
	}
	if len(k.Events) == 0 {
		return "it has no history"
	}
	for i, e := range k.Events {
		if e.Seq != i+1 {
			return fmt.Sprintf("event %d of its history is missing", i+1)
		}
	}
	again := request.Replay(k.Events)
	if again.Status != k.Status {
		return fmt.Sprintf("it stands as %s, and its history says %s", k.Status, again.Status)
	}
	one, err := json.Marshal(again.AsKeptBefore(k.State))
	two, err2 := json.Marshal(k.State)
	if err != nil || err2 != nil || !bytes.Equal(one, two) {
		return "what is kept of it is not what its history says"
	}
	return ""
}

func (p *patient) effects() (Result, error) {
	wrong, err := p.Strays(p.ctx, named)
	return found("effects", "What is still to be brought about belongs to a request and its tasks.", "Something is to be brought about that nobody asked for.", wrong), err
}

func (p *patient) attachments() (Result, error) {
	wrong, count, err := through(func(after string) ([]store.Attachment, error) { return p.Attachments(p.ctx, after, batch) }, func(a store.Attachment) (string, string) {
		return a.ID, prefixed(a.ID+" of "+a.Request, a.Wrong)
	})
	return found("attachments", fmt.Sprintf("All %d attachments are there and whole.", count), "Some attachments are not whole.", wrong), err
}

func (p *patient) disk() (Result, error) {
	left, least, err := p.Room()
	r := Result{Check: "disk", Good: left >= least, Says: fmt.Sprintf("The disk has %d MB left.", left/1_000_000)}
	if !r.Good {
		r.Says += " That is too little: no work is taken."
	}
	return r, err
}

func (p *patient) clock() (Result, error) {
	last, err := p.LastChange(p.ctx)
	r := Result{Check: "clock", Good: !last.After(p.now.Add(ahead)), Says: "The clock is not behind the last change."}
	if !r.Good {
		r.Says = fmt.Sprintf("The clock says %s, but the last change was at %s: one of the two is wrong.", p.now.UTC().Format(time.RFC3339), last.Format(time.RFC3339))
	}
	return r, err
}
