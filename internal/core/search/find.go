package search

import (
	"cmp"
	"slices"
	"strings"
	"unicode/utf8"
)

// Hit is a document that was found.
type Hit struct {
	Document int // its place among those given
	Score    float64
	By       []string // words it was found by, as it writes them, small
}

// Find lists the documents that a sentence finds, the best first. Further ones,
// weighed by the same words, are numbered after those of the index.
func (x *Index) Find(sentence string, further ...Document) []Hit {
	typed := words(sentence)
	typed = typed[:min(len(typed), mostWords)]
	meant := x.meant(typed)
	more := make([]map[string]posting, len(further))
	for i, d := range further {
		more[i] = x.take(d)
	}
	rarest := x.rarity(0)
	hits := map[int]*Hit{}
	covered := map[int]float64{}
	var whole float64
	for _, word := range meant {
		alternatives := x.alternatives(word)
		matters := strangeWeight * rarest
		if x.places[x.stem(word)] {
			matters *= placeWeight
		}
		for _, a := range alternatives {
			if t := x.terms[a.stem]; t != nil {
				matters = max(matters, a.weight*t.rarity)
			}
		}
		whole += matters
		nearest := 0.0 // of those that any document has
		for _, a := range alternatives {
			if x.terms[a.stem] != nil || slices.ContainsFunc(more, func(has map[string]posting) bool { _, ok := has[a.stem]; return ok }) {
				nearest = max(nearest, a.weight)
			}
		}
		best := map[int]posting{} // weight is the score
		shown := map[int]float64{}
		own := rarest // no synonym says more than the word itself
		if t := x.terms[x.stem(word)]; t != nil {
			own = t.rarity
		}
		consider := func(document int, p posting, a alternative, rarity float64) {
			rarity = min(rarity, own)
			score := a.weight * rarity * p.weight / (p.weight + saturation)
			if score > best[document].weight {
				best[document] = posting{weight: score, word: p.word}
			}
			shown[document] = max(shown[document], a.weight)
		}
		for _, a := range alternatives {
			t := x.terms[a.stem]
			if t != nil {
				for _, p := range t.postings {
					consider(p.document, p, a, t.rarity)
				}
			}
			for i, has := range more {
				if p, ok := has[a.stem]; ok {
					rarity := rarest
					if t != nil {
						rarity = t.rarity
					}
					consider(len(x.documents)+i, p, a, rarity)
				}
			}
		}
		for document, p := range best {
			h := hits[document]
			if h == nil {
				h = &Hit{Document: document, By: []string{}}
				hits[document] = h
			}
			h.Score += p.weight
			covered[document] += matters * shown[document] / max(nearest, nearWeight)
			if !slices.Contains(h.By, p.word) {
				h.By = append(h.By, p.word)
			}
		}
	}
	stems := x.stems(typed)
	for _, p := range x.phrases {
		if !p.in(stems) {
			continue
		}
		h := hits[p.document]
		if h == nil {
			h = &Hit{Document: p.document, By: []string{p.text}}
			hits[p.document] = h
		}
		h.Score += phraseWeight * rarest * p.weight / (p.weight + saturation)
		if !p.next { // a keyword that is there as a whole matters as a word does
			covered[p.document] += rarest
		}
	}
	found := []Hit{}
	broken := x.language.soundsBroken(typed, x.writes)
	for i, d := range x.documents {
		if broken && d.Broken {
			h := cmp.Or(hits[i], &Hit{Document: i, By: []string{}})
			h.Score += brokenWeight * rarest
			found = append(found, *h)
			delete(hits, i)
		}
	}
	for document, h := range hits {
		if covered[document] < least*whole {
			continue
		}
		if broken {
			h.Score *= wantedWeight
		}
		found = append(found, *h)
	}
	slices.SortFunc(found, func(a, b Hit) int { return cmp.Or(cmp.Compare(b.Score, a.Score), a.Document-b.Document) })
	return found
}

// Content gives the stems of what matters in a sentence, each once, by name.
func Content(sentence string) []string {
	l := inEnglish()
	var stems []string
	for _, word := range words(sentence) {
		if !l.stop[word] && utf8.RuneCountInString(word) > 1 {
			stems = append(stems, l.stem(word))
		}
	}
	slices.Sort(stems)
	stems = slices.Compact(stems)
	return stems[:min(len(stems), mostWords)]
}

// meant leaves out the words that say nothing, and puts two together that a
// document writes as one.
func (x *Index) meant(typed []string) []string {
	var meant []string
	for i := 0; i < len(typed); i++ {
		if i+1 < len(typed) {
			one := typed[i] + typed[i+1]
			apart := x.writes(typed[i]) && x.writes(typed[i+1])
			if !apart && utf8.RuneCountInString(one) > 3 && x.terms[x.stem(one)] != nil && x.writes(one) {
				meant = append(meant, one)
				i++
				continue
			}
		}
		if !x.language.stop[typed[i]] {
			meant = append(meant, typed[i])
		}
	}
	slices.Sort(meant)
	return slices.Compact(meant)
}

// writes reports whether a document has the very word.
func (x *Index) writes(word string) bool {
	_, ok := slices.BinarySearchFunc(x.vocabulary, word, func(v vocable, w string) int { return strings.Compare(v.word, w) })
	return ok
}

// alternative is a word that means nearly the same.
type alternative struct {
	stem   string
	weight float64 // 0 to 1
}

// alternatives gives the stems that stand for a word: its own, what means nearly
// the same, what it begins, or what it is a mistyping of.
func (x *Index) alternatives(word string) []alternative {
	stem := x.stem(word)
	all := append([]alternative{{stem, 1}}, x.language.close[stem]...)
	if x.terms[stem] != nil {
		return all
	}
	letters := utf8.RuneCountInString(word)
	begun, _ := slices.BinarySearchFunc(x.vocabulary, word, func(v vocable, w string) int { return strings.Compare(v.word, w) })
	count := 0
	for ; letters > 2 && begun < len(x.vocabulary) && count < mostNear && strings.HasPrefix(x.vocabulary[begun].word, word); begun++ {
		all = append(all, alternative{x.vocabulary[begun].stem, begunWeight})
		count++
	}
	if count > 0 || len(all) > 1 {
		return all
	}
	near := func(list []vocable, found func(stem string)) {
		runes := []rune(word)
		for _, v := range list {
			if count < mostNear && len(v.word) < 4*len(runes)+4 && Mistyped(runes, []rune(v.word)) {
				found(v.stem)
				count++
			}
		}
	}
	near(x.vocabulary, func(stem string) { all = append(all, alternative{stem, nearWeight}) })
	if count == 0 && letters > forgivenFrom {
		near(x.language.trade, func(stem string) {
			for _, a := range x.language.close[stem] {
				all = append(all, alternative{a.stem, nearWeight * a.weight})
			}
		})
	}
	return all
}

// forgivenFrom is the length from which a word is forgiven a typing mistake.
const forgivenFrom = 5

// Mistyped reports whether two words are at most one typing mistake apart: a letter
// more, less or other, or two neighbours the wrong way round.
func Mistyped(a, b []rune) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b) < forgivenFrom || len(b)-len(a) > 1 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	if len(a) < len(b) {
		return slices.Equal(a[i:], b[i+1:])
	}
	swapped := i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && slices.Equal(a[i+2:], b[i+2:])
	return i == len(a) || swapped || slices.Equal(a[i+1:], b[i+1:])
}
