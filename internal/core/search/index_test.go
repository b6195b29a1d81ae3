package search_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/search"
)

var (
	documents = []search.Document{
		{Name: "Quay badge", Keywords: []string{"gate", "entry card"}, Text: "It opens doors at Maravel."},
		{Name: "Locker", Keywords: []string{"wardrobe"}, Text: "A place for your coat, with a Schließfach."},
		{Name: "Sign on", Text: "Begin a service at Maravel."},
		{Name: "Sign off", Text: "End a service at Maravel."},
		{Name: "Something is broken", Text: "Tell us.", Broken: true},
	}
	index = search.New(documents, []string{"Maravel"})
)

// Worked by hand: what a sentence finds, the best first.
func TestFind(t *testing.T) {
	for sentence, want := range map[string]string{
		"gate":                    "Quay badge",
		"GATES":                   "Quay badge", // another form
		"gat":                     "Quay badge", // a beginning
		"wardorbe":                "Locker",     // neighbours the wrong way round
		"warrobe":                 "Locker",     // a letter too few
		"warddrobe":               "Locker",     // one too many
		"wardrabe":                "Locker",     // another one
		"wardaabe":                "",           // two mistakes
		"gaet":                    "",           // four letters are not forgiven
		"schließfach":             "Locker",
		"a wardrobe please":       "Locker",
		`gate" OR "x`:             "Quay badge", // nothing but words counts
		"":                        "",
		"the of and":              "", // common words find nothing
		"* - ^":                   "",
		"turnstile":               "Quay badge", // means nearly the same
		"entrance":                "Quay badge",
		"sign off a deckhand":     "Sign off, Sign on", // words that stand together
		"she signs on":            "Sign on, Sign off",
		"an aquarium for Maravel": "", // where is not what
		"the gate does not open":  "Something is broken, Quay badge",
		"the gate opens":          "Quay badge",
		"gate brokn":              "Something is broken, Quay badge",
		"the kettle leaks":        "Something is broken", // which nothing else is for
		"aquarium fish gate food": "",                    // one word of four is not what matters
	} {
		var names []string
		for _, hit := range index.Find(sentence) {
			names = append(names, documents[hit.Document].Name)
		}
		assert.Equal(t, want, strings.Join(names, ", "), sentence)
	}
}

// What is given beside the index is weighed by the same words.
func TestFindFurther(t *testing.T) {
	hits := index.Find("wardrobe keys", search.Document{Text: "Keys of the wardrobe"}, search.Document{Text: "A coat"})
	if assert.Len(t, hits, 2) {
		assert.Equal(t, len(documents), hits[0].Document)
		assert.ElementsMatch(t, []string{"keys", "wardrobe"}, hits[0].By)
		assert.Equal(t, 1, hits[1].Document)
	}
}

func TestContent(t *testing.T) {
	assert.Equal(t, []string{"badg", "break"}, search.Content("My badge is broken, the badges break!"), "stems of what matters, each once")
	assert.Empty(t, search.Content("I need it for the"))
}

func FuzzFind(f *testing.F) {
	for _, s := range []string{"gate", "wi-fi is down", "don't", "\x00\xff", "ﬁ ß İ", strings.Repeat("a ", 300)} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, sentence string) {
		before := -1.0
		for _, hit := range index.Find(sentence, search.Document{Text: sentence}) {
			assert.Positive(t, hit.Score)
			assert.True(t, before < 0 || hit.Score <= before, "the best first")
			before = hit.Score
		}
	})
}

// Sight is asked after ranking: none is cut off before.
func TestEveryHitIsThere(t *testing.T) {
	many := make([]search.Document, 500)
	for i := range many {
		many[i] = search.Document{Name: "Badge", Text: strings.Repeat("quay ", i%7)}
	}
	assert.Len(t, search.New(many, nil).Find("badge"), len(many))
}
