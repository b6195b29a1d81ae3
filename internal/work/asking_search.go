package work

import (
	"cmp"
	"context"
	"errors"
	"slices"
	"strings"

	"heptad/internal/core/offering"
	"heptad/internal/core/request"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// Looked is what a search gives a person.
type Looked struct {
	Request string // ID of the one whose reference was typed; nothing else then
	Results []Result
	Note    string  // what is wrong with a reference
	Instead *Listed // what takes what nothing else is for
}

// Result is one of three, with the words it was found by.
type Result struct {
	Offering *Listed           // or the one whose article it is
	Article  *offering.Article // of the offering
	Request  *store.Titled     // own
	By       []string
}

const (
	mostFound   = 30  // results of a search
	ownSearched = 100 // own requests that a search looks through, the last changed
	// How many people have gone on to send an offering with a word, until the word
	// finds it.
	learnedFrom = 3
)

// searched is the catalog, ready to be searched.
type searched struct {
	index  *search.Index
	places []place // of the documents of the index
}

// place says what a document is: an offering, or one of its articles.
type place struct {
	entry   entry
	article *offering.Article
}

// searchable gives the catalog to search in. It is kept until the catalog
// changes or a word is learned.
func (w *Asking) searchable(ctx context.Context) (*searched, error) {
	age := func() uint64 { return w.age.ofOffered() + w.learned.Load() }
	return w.searched.get(age, struct{}{}, func() (*searched, error) { return w.index(ctx) })
}

// index makes the catalog ready to be searched.
func (w *Asking) index(ctx context.Context) (*searched, error) {
	entries, err := w.catalog(ctx)
	if err != nil {
		return nil, err
	}
	learned, err := w.Store.Learned(ctx, learnedFrom)
	if err != nil {
		return nil, err
	}
	s := &searched{}
	var documents []search.Document
	for _, e := range entries {
		if e.Audience.Inner || e.CatchAll {
			continue
		}
		service, _ := w.Company().Service(e.Service)
		area, _ := w.Company().Area(service.Area)
		documents = append(documents, search.Document{
			Name: e.Name, Keywords: strings.Split(e.Keywords, store.Apart), Text: strings.Join([]string{e.Text, service.Name, service.Words, area.Words, e.Details}, store.Apart),
			Learned: learned[e.Offering], Broken: e.Door == offering.Broken,
		})
		s.places = append(s.places, place{entry: e})
		for _, a := range e.Articles {
			documents = append(documents, search.Document{Keywords: []string{a.Title}, Text: a.Text})
			s.places = append(s.places, place{e, &a})
		}
	}
	s.index = search.New(documents, w.Company().Places())
	return s, nil
}

// Search finds what a sentence of a person means: offerings they see, their
// articles, and own requests, the best first.
func (w *Asking) Search(ctx context.Context, person, sentence string) (Looked, error) {
	found := Looked{Results: []Result{}}
	reference := strings.ToUpper(strings.TrimSpace(sentence))
	switch {
	case !looksLikeReference(reference, w.Organisation().Prefix):
	case !request.ValidReference(reference):
		found.Note = notAReference(reference)
	default:
		state, err := w.Store.ByReference(ctx, reference)
		if err != nil && !errors.Is(err, ErrNotFound) {
			return found, err
		}
		if err == nil && w.Viewer(person, state).Any() {
			found.Request = state.ID
			return found, nil
		}
	}
	s, err := w.searchable(ctx)
	if err != nil {
		return found, err
	}
	mine, err := w.Store.TitlesOf(ctx, person, ownSearched)
	if err != nil {
		return found, err
	}
	further := make([]search.Document, len(mine))
	for i, r := range mine {
		further[i] = search.Document{Text: r.Title}
	}
	me := readerOf(w.kernel, person)
	for _, hit := range s.index.Find(sentence, further...) {
		if len(found.Results) == mostFound {
			break
		}
		if own := hit.Document - len(s.places); own >= 0 {
			found.Results = append(found.Results, Result{Request: &mine[own], By: hit.By})
			continue
		}
		p := s.places[hit.Document]
		if l, ok := me.sees(p.entry); ok {
			found.Results = append(found.Results, Result{Offering: &l, Article: p.article, By: hit.By})
		}
	}
	instead, err := w.inCatalog(ctx, person, func(e entry) bool { return e.CatchAll })
	if first := slices.IndexFunc(instead, func(l Listed) bool { return l.Ask }); first >= 0 {
		found.Instead = &instead[first]
	}
	return found, err
}

// RememberSearch keeps what a person looked for, how much was found, and the
// offering they opened, if any.
func (w *Asking) RememberSearch(ctx context.Context, person, sentence, opened string) error {
	looked, err := w.Search(ctx, person, sentence)
	if err != nil || looked.Request != "" {
		return err
	}
	offerings := 0
	for _, r := range looked.Results {
		if r.Offering != nil && r.Article == nil {
			offerings++
		}
	}
	if opened != "" {
		seen, err := w.inCatalog(ctx, person, func(e entry) bool { return e.Offering == opened })
		if err != nil || len(seen) == 0 {
			return cmp.Or(err, ErrNotFound)
		}
	}
	return w.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.KeepSearch(w.search(person, sentence, offerings, opened))
	})
}

func (w *Asking) search(person, sentence string, found int, opened string) store.Search {
	p, _ := w.Company().Person(person)
	sentence = strings.Join(strings.Fields(strings.ToLower(sentence)), " ")
	return store.Search{
		Hash: signed(w.Sealed, "search", person+"\x00"+sentence), Words: sentence, Found: found, Opened: opened, Department: p.Department, At: w.Clock(),
	}
}

// SentAfter learns from a request that was sent after looking for a sentence. A
// failure harms nobody: it is logged.
func (w *Asking) SentAfter(ctx context.Context, state request.State, sentence string) {
	if strings.TrimSpace(sentence) == "" {
		return
	}
	more := false
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		more, err = w.learn(tx, state.Asker, sentence, state.Offering)
		return err
	})
	if err != nil {
		w.Log.Error("a search is not remembered", "request", state.ID, "error", err)
	}
	if more {
		w.learned.Add(1)
	}
}

// learn keeps the words of a sentence after which a person sent an offering. It
// reports whether the search finds more by them.
func (w *Asking) learn(tx *store.Tx, person, sentence, key string) (bool, error) {
	s := w.search(person, sentence, 0, key)
	s.Sent = true
	if err := tx.KeepSearch(s); err != nil {
		return false, err
	}
	more := false
	for _, stem := range search.Content(sentence) {
		counts, err := tx.Learn(key, stem, signed(w.Sealed, "learned", person+"\x00"+stem), learnedFrom)
		if err != nil {
			return false, err
		}
		more = more || counts
	}
	return more, nil
}
