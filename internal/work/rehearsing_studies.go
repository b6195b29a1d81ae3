package work

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// studies are what is worked out of drafts in the background: how far each is, and how to
// stop it.
type studies struct {
	mu      sync.Mutex
	running map[string]*study
}

// study is one that runs.
type study struct {
	person   string
	done, of atomic.Int64
	stop     context.CancelFunc
}

// The kinds of study.
const (
	ReplayStudy  = store.StudyReplay
	ForeseeStudy = store.StudyForesee
)

// How many studies run at a time: of one person, and of all.
const (
	mostOwnStudies = 2
	mostStudies    = 4
)

// Studied is a study with how far it is.
type Studied struct {
	store.Study
	Done, Of int  // while it runs
	Old      bool // the draft, or the version, is another now
}

// usable is the draft of an offering that a person designs, ready to be used.
func (w *Rehearsing) usable(ctx context.Context, person, key string) (store.Version, *offering.Compiled, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return v, nil, err
	}
	c, findings := w.compile(v, w.Company())
	if c == nil || findings.HasErrors() {
		return v, nil, unusable()
	}
	return v, c, nil
}

// begin has a study of a draft worked out in the background, and gives its ID.
func (w *Rehearsing) begin(ctx context.Context, kind, person string, v store.Version, asked any, run func(context.Context, *study) (any, error)) (string, error) {
	said, err := json.Marshal(asked)
	if err != nil {
		return "", err
	}
	s := store.Study{ID: rand.Text(), Kind: kind, Offering: v.Document.Key, Number: v.Number, Revision: v.Revision, Person: person, Asked: said, BeganAt: w.Clock().UTC()}
	background, stop := context.WithCancel(context.WithoutCancel(ctx))
	one := &study{person: s.Person, stop: stop}
	if err := w.studies.add(s.ID, one); err != nil {
		stop()
		return "", err
	}
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.AddStudy(s) }); err != nil {
		w.studies.end(s.ID)
		stop()
		return "", err
	}
	w.background.Go(func() {
		defer stop()
		result, err := w.studied(background, one, run)
		w.ended(s.ID, result, err, background.Err() != nil)
		w.studies.end(s.ID)
	})
	return s.ID, nil
}

// studied works a study out; a panic is an error of it alone.
func (w *Rehearsing) studied(ctx context.Context, one *study, run func(context.Context, *study) (any, error)) (result json.RawMessage, err error) {
	err = w.caught("study", "", func() error {
		out, err := run(ctx, one)
		if err != nil {
			return err
		}
		result, err = json.Marshal(out)
		return err
	})
	return result, err
}

// ended keeps how a study ended.
func (w *Rehearsing) ended(id string, result json.RawMessage, trouble error, stopped bool) {
	state, words := store.StudyDone, ""
	switch {
	case stopped:
		state, words, result = store.StudyStopped, "It was stopped.", nil
	case trouble != nil:
		w.Log.Error("a study failed", "study", id, "error", trouble)
		state, words, result = store.StudyFailed, "It could not be worked out.", nil
	}
	ctx, cancel := context.WithTimeout(context.Background(), time.Minute)
	defer cancel()
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.EndStudy(id, state, words, result, w.Clock()) }); err != nil {
		w.Log.Error("what a study came to cannot be kept", "study", id, "error", err)
	}
}

func (s *studies) add(id string, one *study) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	own := 0
	for _, other := range s.running {
		if other.person == one.person {
			own++
		}
	}
	if own >= mostOwnStudies || len(s.running) >= mostStudies {
		return conflict(refusal.TooManyStudies, "Others are being worked out: wait for one to end, or stop it.")
	}
	if s.running == nil {
		s.running = map[string]*study{}
	}
	s.running[id] = one
	return nil
}

func (s *studies) end(id string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	delete(s.running, id)
}

func (s *studies) find(id string) *study {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.running[id]
}

// leave ends what ran when the program stopped, once, as it begins again; when the program
// ends all that runs is stopped and waited for.
func (w *Rehearsing) leave(ctx context.Context) {
	if err := w.Store.Write(ctx, func(tx *store.Tx) error { return tx.LeaveStudies(w.Clock()) }); err != nil && ctx.Err() == nil {
		w.Log.Error("what ran before cannot be ended", "error", err)
	}
	<-ctx.Done()
	w.studies.mu.Lock()
	for _, one := range w.studies.running {
		one.stop()
	}
	w.studies.mu.Unlock()
	w.background.Wait()
}

// Studies lists the studies of a kind of an offering that a person designs, the last first,
// without what they came to.
func (w *Rehearsing) Studies(ctx context.Context, person, key, kind string) ([]Studied, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return nil, err
	}
	all, err := w.Store.Studies(ctx, key, kind)
	out := make([]Studied, len(all))
	for i, s := range all {
		out[i] = w.told(s, v)
	}
	return out, err
}

// told adds how far a study is, and whether it is old.
func (w *Rehearsing) told(s store.Study, now store.Version) Studied {
	out := Studied{Study: s, Old: s.Number != now.Number || s.Revision != now.Revision}
	if one := w.studies.find(s.ID); one != nil {
		out.Done, out.Of = int(one.done.Load()), int(one.of.Load())
	}
	return out
}

// Study gives one of an offering that a person designs, with what it came to.
func (w *Rehearsing) Study(ctx context.Context, person, key, id string) (Studied, error) {
	v, err := w.opened(ctx, person, key)
	if err != nil {
		return Studied{}, err
	}
	s, err := w.Store.Study(ctx, id)
	if err == nil && s.Offering != key {
		err = ErrNotFound
	}
	return w.told(s, v), err
}

// StopStudy stops one that runs, or forgets one that has ended.
func (w *Rehearsing) StopStudy(ctx context.Context, person, key, id string) error {
	s, err := w.Study(ctx, person, key, id)
	if err != nil {
		return err
	}
	if one := w.studies.find(s.ID); one != nil {
		one.stop()
		return nil
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error { return tx.DropStudy(id) })
}

// pastAtATime is how many past requests are read together, and breath how long is waited
// between: whoever works live goes first.
const (
	pastAtATime = 50
	breath      = 30 * time.Millisecond
)

// eachPast does something with each past request, in the order they were sent, and tells how
// many failed: one that cannot be read, or breaks, stops no other.
func (w *Rehearsing) eachPast(ctx context.Context, one *study, asked store.PastAsked, do func(store.PastRequest) error) (failed int, err error) {
	for after := int64(0); ; {
		all, err := w.Store.Past(ctx, asked, after, pastAtATime)
		if err != nil {
			return failed, err
		}
		for _, p := range all {
			if ctx.Err() != nil {
				return failed, ctx.Err()
			}
			after = p.Number
			one.done.Add(1)
			trouble := p.Trouble
			if trouble == nil {
				trouble = w.caught("study", p.State.ID, func() error { return do(p) })
			}
			if trouble != nil {
				failed++
			}
		}
		if len(all) < pastAtATime {
			return failed, nil
		}
		rest(ctx, breath, nil)
	}
}
