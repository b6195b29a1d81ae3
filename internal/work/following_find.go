package work

import (
	"context"
	"errors"
	"math"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// found is how many requests a page of a search gives.
const found = 30

// Find finds requests by their reference or its number, by who asks or whom they
// are for, by words of the title, or by where they stand: those that a person may
// see, or works on. A reference with a wrong check letter is refused, as it was
// mistyped; a typing mistake in a word is forgiven when nothing is written so.
func (w *Following) Find(ctx context.Context, person string, wanted store.Wanted) (store.Found, error) {
	wanted.Words, wanted.Limit = strings.TrimSpace(wanted.Words), found
	if wanted.Words == "" && wanted.Service == "" && wanted.Standing == "" && !wanted.Late && !wanted.Stuck {
		return store.Found{Entries: []store.Entry{}}, nil
	}
	if upper := strings.ToUpper(wanted.Words); looksLikeReference(upper, w.Organisation().Prefix) {
		if !request.ValidReference(upper) {
			return store.Found{}, invalid(refusal.Mistyped, "/words", "%s", notAReference(upper))
		}
		state, err := w.Store.ByReference(ctx, upper)
		if err != nil || !w.Viewer(person, state).Any() {
			return store.Found{Entries: []store.Entry{}}, nil // nobody can tell which
		}
		return store.Found{Entries: []store.Entry{{State: state}}}, nil
	}
	if number := numberOf(wanted.Words, w.Organisation().Prefix); number > 0 {
		if entries, err := w.Store.Numbered(ctx, w.sight(person), number); err != nil || len(entries) > 0 {
			return store.Found{Entries: entries}, err
		}
	}
	terms, err := w.terms(ctx, wanted.Words)
	if err != nil || wanted.Words != "" && len(terms) == 0 {
		return store.Found{Entries: []store.Entry{}}, err
	}
	wanted.Terms = terms
	return w.Store.Find(ctx, w.sight(person), wanted)
}

// numberOf reads the number of a reference that is not written to its end, such
// as QS-10432 or 10432; 0 when it is none.
func numberOf(words, prefix string) int64 {
	words = strings.TrimPrefix(strings.ToUpper(words), request.TrialMark)
	words = strings.TrimPrefix(words, strings.TrimPrefix(prefix, request.TrialMark)+"-")
	n, _ := strconv.ParseInt(strings.TrimSuffix(words, "-"), 10, 64)
	return n
}

// mostTerms is how many words of a search count, and how many a mistyped one may
// stand for.
const mostTerms = 12

// terms takes words apart as requests are found by them. What nobody has written
// stands for what is one typing mistake away.
func (w *Following) terms(ctx context.Context, words string) ([][]string, error) {
	all := [][]string{}
	for _, word := range search.Words(words) {
		if len(all) == mostTerms {
			break
		}
		written, err := w.isWritten(ctx, word)
		if err != nil {
			return nil, err
		}
		near := []string{word}
		if !written {
			if near, err = w.near(ctx, word); err != nil {
				return nil, err
			}
		}
		all = append(all, near)
	}
	return all, nil
}

// isWritten reports whether a word of any request begins so: one of those that were known
// last, or else one that the index has, which is slow to say so of a word in many requests.
func (w *Following) isWritten(ctx context.Context, begins string) (bool, error) {
	if known := w.known.Load(); known != nil {
		for _, some := range *known {
			if slices.ContainsFunc(some, func(word string) bool { return strings.HasPrefix(word, begins) }) {
				return true, nil
			}
		}
	}
	return w.Store.Written(ctx, begins)
}

// words are those that requests are found by, by how many letters they have.
func (w *Following) words(ctx context.Context) (map[int][]string, error) {
	words, err := w.written.get(w.wordsAge, struct{}{}, func() (map[int][]string, error) { return w.Store.WordsByLength(ctx) })
	if err == nil {
		w.known.Store(&words)
	}
	return words, err
}

// ready reads what Find would else read when somebody first asks.
func (w *Following) ready(ctx context.Context) {
	_, err := w.words(ctx)
	if err = errors.Join(err, w.Store.ReadAfoot(ctx)); err != nil && ctx.Err() == nil {
		w.Log.Error("what requests are found by cannot be read", "error", err) // who asks for it is told, too
	}
}

func (w *Following) near(ctx context.Context, word string) ([]string, error) {
	letters := []rune(word)
	words, err := w.words(ctx)
	near := []string{word}
	for n := len(letters) - 1; n <= len(letters)+1; n++ {
		for _, other := range words[n] {
			if len(near) < mostTerms && search.Mistyped(letters, []rune(other)) {
				near = append(near, other)
			}
		}
	}
	return near, err
}

// wordsAge grows as what is written becomes a thousandth more, and when people change. Newer
// words are found as they are written, and only not guessed yet.
func (w *Following) wordsAge() uint64 {
	return w.age.company.Load() + uint64(1000*math.Log1p(float64(w.LastEvent())))
}

func notAReference(text string) string {
	return text + " is no reference: its letter does not fit its number. One of them is mistyped."
}

func looksLikeReference(words, prefix string) bool {
	of, number, letter, ok := request.PartsOf(words)
	ours := of == prefix || request.TrialMark+of == prefix // of a request from before it was copied
	return ok && ours && number != "" && strings.Trim(number, "0123456789") == "" && len(letter) == 1
}
