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
	ownSearched = 200 // own requests that a search looks through, the last changed
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
func (o *Office) searchable(ctx context.Context) (*searched, error) {
	if kept := o.searched.Load(); kept != nil {
		return kept, nil
	}
	entries, err := o.catalog(ctx)
	if err != nil {
		return nil, err
	}
	learned, err := o.Store.Learned(ctx, learnedFrom)
	if err != nil {
		return nil, err
	}
	s := &searched{}
	var documents []search.Document
	for _, e := range entries {
		if e.Audience.Inner || e.CatchAll {
			continue
		}
		service, _ := o.Company().Service(e.Service)
		documents = append(documents, search.Document{
			Name: e.Name, Keywords: strings.Split(e.Keywords, store.Apart), Text: e.Text + store.Apart + service.Name + store.Apart + e.Details,
			Learned: learned[e.Offering], Broken: e.Door == offering.Broken,
		})
		s.places = append(s.places, place{entry: e})
		for _, a := range e.Articles {
			documents = append(documents, search.Document{Keywords: []string{a.Title}, Text: a.Text})
			s.places = append(s.places, place{e, &a})
		}
	}
	s.index = search.New(documents, o.Company().Places())
	o.searched.Store(s)
	return s, nil
}

// Search finds what a sentence of a person means: offerings they see, their
// articles, and own requests, the best first.
func (o *Office) Search(ctx context.Context, person, sentence string) (Looked, error) {
	found := Looked{Results: []Result{}}
	reference := strings.ToUpper(strings.TrimSpace(sentence))
	switch {
	case !looksLikeReference(reference, o.Prefix):
	case !request.ValidReference(reference):
		found.Note = notAReference(reference)
	default:
		state, err := o.Store.ByReference(ctx, reference)
		if err != nil && !errors.Is(err, ErrNotFound) {
			return found, err
		}
		if err == nil && o.Viewer(person, state).Any() {
			found.Request = state.ID
			return found, nil
		}
	}
	s, err := o.searchable(ctx)
	if err != nil {
		return found, err
	}
	mine, err := o.Store.TitlesOf(ctx, person, ownSearched)
	if err != nil {
		return found, err
	}
	further := make([]search.Document, len(mine))
	for i, r := range mine {
		further[i] = search.Document{Text: r.Title}
	}
	me := o.audiencePerson(person)
	for _, hit := range s.index.Find(sentence, further...) {
		if len(found.Results) == mostFound {
			break
		}
		if own := hit.Document - len(s.places); own >= 0 {
			found.Results = append(found.Results, Result{Request: &mine[own], By: hit.By})
			continue
		}
		p := s.places[hit.Document]
		if l, ok := p.entry.seenBy(me); ok {
			found.Results = append(found.Results, Result{Offering: &l, Article: p.article, By: hit.By})
		}
	}
	instead, err := o.inCatalog(ctx, person, func(e entry) bool { return e.CatchAll })
	if first := slices.IndexFunc(instead, func(l Listed) bool { return l.Ask }); first >= 0 {
		found.Instead = &instead[first]
	}
	return found, err
}

// RememberSearch keeps what a person looked for, how much was found, and the
// offering they opened, if any.
func (o *Office) RememberSearch(ctx context.Context, person, sentence, opened string) error {
	looked, err := o.Search(ctx, person, sentence)
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
		seen, err := o.inCatalog(ctx, person, func(e entry) bool { return e.Offering == opened })
		if err != nil || len(seen) == 0 {
			return cmp.Or(err, ErrNotFound)
		}
	}
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.KeepSearch(o.search(person, sentence, offerings, opened))
	})
}

func (o *Office) search(person, sentence string, found int, opened string) store.Search {
	p, _ := o.Company().Person(person)
	sentence = strings.Join(strings.Fields(strings.ToLower(sentence)), " ")
	return store.Search{
		Hash: signed(o.Sealed, "search", person+"\x00"+sentence), Words: sentence, Found: found, Opened: opened, Department: p.Department, At: o.Clock(),
	}
}

// SentAfter learns from a request that was sent after looking for a sentence. A
// failure harms nobody: it is logged.
func (o *Office) SentAfter(ctx context.Context, state request.State, sentence string) {
	if strings.TrimSpace(sentence) == "" {
		return
	}
	more := false
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		var err error
		more, err = o.learn(tx, state.Asker, sentence, state.Offering)
		return err
	})
	if err != nil {
		o.Log.Error("a search is not remembered", "request", state.ID, "error", err)
	}
	if more {
		o.searched.Store(nil)
	}
}

// learn keeps the words of a sentence after which a person sent an offering. It
// reports whether the search finds more by them.
func (o *Office) learn(tx *store.Tx, person, sentence, key string) (bool, error) {
	s := o.search(person, sentence, 0, key)
	s.Sent = true
	if err := tx.KeepSearch(s); err != nil {
		return false, err
	}
	more := false
	for _, stem := range search.Content(sentence) {
		counts, err := tx.Learn(key, stem, signed(o.Sealed, "learned", person+"\x00"+stem), learnedFrom)
		if err != nil {
			return false, err
		}
		more = more || counts
	}
	return more, nil
}
