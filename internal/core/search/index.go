package search

import (
	"math"
	"slices"
	"strings"
)

// Document is a text that can be found.
type Document struct {
	Name     string
	Keywords []string // other words, or two and more that belong together, that people look for
	Text     string
	Learned  string // words with which people came to it
	Broken   bool   // it is for what does not work
}

// How much a word counts where it stands, against one in the text.
const (
	nameWeight    = 6
	keywordWeight = 5
	learnedWeight = 4
	textWeight    = 1
	saturation    = 1.5 // the weight of which half is reached
)

// Index holds documents, ready to be searched. It does not change.
type Index struct {
	language   *language
	documents  []Document
	terms      map[string]*term
	phrases    []phrase
	vocabulary []vocable       // by word
	places     map[string]bool // stems that say where, not what
	stem       func(word string) string
}

// phrase is stems that belong together.
type phrase struct {
	stems    []string
	next     bool // side by side in the sentence, in this order
	document int
	text     string // as the document writes it, small
	weight   float64
}

type term struct {
	postings []posting
	rarity   float64
}

type posting struct {
	document int
	weight   float64
	word     string // as the document writes it, small
}

type vocable struct{ word, stem string }

// New makes an index of documents. The words of places count less than others:
// they say where something is wanted, not what.
func New(documents []Document, places []string) *Index {
	x := &Index{language: inEnglish(), documents: documents, terms: map[string]*term{}, places: map[string]bool{}}
	stems := map[string]string{} // the same words come again and again
	x.stem = func(word string) string {
		stem, ok := stems[word]
		if !ok {
			stem = x.language.stem(word)
			stems[word] = stem
		}
		return stem
	}
	for _, place := range places {
		for _, word := range words(place) {
			x.places[x.stem(word)] = true
		}
	}
	known := map[vocable]bool{}
	for i, d := range documents {
		for stem, p := range x.take(d) {
			t := x.terms[stem]
			if t == nil {
				t = &term{}
				x.terms[stem] = t
			}
			p.document = i
			t.postings = append(t.postings, p)
		}
		x.phrases = append(x.phrases, x.together(i, d)...)
		for _, word := range slices.Concat(parts(d.Name), parts(strings.Join(d.Keywords, " ")), parts(d.Text), parts(d.Learned)) {
			known[vocable{word, x.stem(word)}] = true
		}
	}
	for stem, t := range x.terms {
		t.rarity = x.rarity(len(t.postings))
		if x.places[stem] {
			t.rarity *= placeWeight
		}
	}
	for v := range known {
		x.vocabulary = append(x.vocabulary, v)
	}
	slices.SortFunc(x.vocabulary, func(a, b vocable) int { return strings.Compare(a.word, b.word) })
	x.stem = x.language.stem
	return x
}

// parts gives the words of a text, and those with a hyphen in one as well.
func parts(text string) []string {
	all := words(text)
	for _, field := range strings.Fields(text) {
		if strings.Contains(field, "-") {
			all = append(all, strings.Join(words(field), ""))
		}
	}
	return all
}

// take weighs the words of a document by their stems.
func (x *Index) take(d Document) map[string]posting {
	found := map[string]posting{}
	add := func(text string, weight float64) {
		for _, word := range parts(text) {
			stem := x.stem(word)
			p, ok := found[stem]
			if !ok {
				p.word = word
			}
			if weight > textWeight || p.weight < 2*textWeight { // repeating a word in a text does not make it a name
				p.weight += weight
			}
			found[stem] = p
		}
	}
	add(d.Name, nameWeight)
	add(strings.Join(d.Keywords, " "), keywordWeight)
	add(d.Learned, learnedWeight)
	add(d.Text, textWeight)
	return found
}

// together gives the phrases of a document: neighbours in its name, and keywords
// of several words.
func (x *Index) together(document int, d Document) []phrase {
	var all []phrase
	name := words(d.Name)
	for i := range len(name) - 1 {
		pair := name[i : i+2]
		if x.language.stop[pair[0]] && x.language.stop[pair[1]] {
			continue
		}
		all = append(all, phrase{x.stems(pair), true, document, strings.Join(pair, " "), nameWeight})
	}
	for _, keyword := range d.Keywords {
		if list := words(keyword); len(list) > 1 {
			all = append(all, phrase{x.stems(list), false, document, strings.Join(list, " "), keywordWeight})
		}
	}
	return all
}

func (x *Index) stems(words []string) []string {
	stems := make([]string, len(words))
	for i, word := range words {
		stems[i] = x.stem(word)
	}
	return stems
}

// in reports whether a sentence, given by its stems, has the phrase.
func (p phrase) in(sentence []string) bool {
	if !p.next {
		return !slices.ContainsFunc(p.stems, func(stem string) bool { return !slices.Contains(sentence, stem) })
	}
	for i := range sentence {
		if i+len(p.stems) <= len(sentence) && slices.Equal(sentence[i:i+len(p.stems)], p.stems) {
			return true
		}
	}
	return false
}

// rarity weighs a word by how many documents have it.
func (x *Index) rarity(in int) float64 {
	n := float64(len(x.documents))
	return math.Log(1 + (n-float64(in)+0.5)/(float64(in)+0.5))
}

const (
	// A hit has so much of what matters in the sentence, at least.
	least = 0.36
	// A word that begins others, or is mistyped, counts so much.
	begunWeight = 0.8
	nearWeight  = 0.8
	// A word nobody writes matters so much, against the rarest that somebody does.
	strangeWeight = 0.8
	// Words that belong together and stand together count so much more.
	phraseWeight = 0.5
	// What sounds broken counts so much for what is for it, and against what is not.
	brokenWeight = 2
	wantedWeight = 0.5

	// A word of a place counts so much, against another.
	placeWeight = 0.4

	mostWords = 40 // of a sentence
	mostNear  = 12 // words tried in place of one
)
