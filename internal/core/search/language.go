package search

import (
	"embed"
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/kljensen/snowball/english"
	"golang.org/x/text/cases"
	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// language is what the search knows of the language in which people ask.
type language struct {
	stop      map[string]bool
	irregular map[string]string // word by a form that does not stem to it
	close     map[string][]alternative
	sign      map[string]bool // stems of what sounds broken
	denial    map[string]bool // words that deny
	deed      map[string]bool // stems of what a working thing does
	signs     []string        // stems of the longer ones as they are written, that may be mistyped
	trade     []vocable       // words of the trade, that may be mistyped
}

// How near to a word its synonyms are: those of the trade, those of the
// dictionary.
const (
	tradeWeight = 0.6
	closeWeight = 0.35
)

//go:embed english
var englishFiles embed.FS

// inEnglish is the language of the page and the offerings.
var inEnglish = sync.OnceValue(func() *language {
	read := func(file string) string {
		text, err := englishFiles.ReadFile("english/" + file)
		if err != nil {
			panic(err) // built in
		}
		return string(text)
	}
	l := &language{stop: map[string]bool{}, irregular: map[string]string{}, close: map[string][]alternative{}, sign: map[string]bool{}, denial: map[string]bool{}, deed: map[string]bool{}}
	for _, word := range words(read("stop.txt")) {
		l.stop[word] = true
	}
	for line := range strings.Lines(read("irregular.txt")) {
		form, word, _ := strings.Cut(strings.TrimSpace(line), " ")
		l.irregular[form] = word
	}
	for line := range strings.Lines(read("broken.txt")) {
		kind, list, _ := strings.Cut(line, ":")
		for _, word := range words(list) {
			switch kind {
			case "sign":
				l.sign[l.stem(word)] = true
				if stem := english.Stem(word, true); len(stem) > forgivenFrom { // a floor is no flood
					l.signs = append(l.signs, stem)
				}
			case "denial":
				l.denial[word] = true
			case "deed":
				l.deed[l.stem(word)] = true
			}
		}
	}
	for _, word := range words(read("trade.txt")) {
		l.trade = append(l.trade, vocable{word, l.stem(word)})
	}
	l.synonyms(read("trade.txt"), tradeWeight)
	l.synonyms(read("synonyms.txt"), closeWeight)
	return l
})

// synonyms takes lines of words that mean nearly the same.
func (l *language) synonyms(text string, weight float64) {
	for line := range strings.Lines(text) {
		group := words(line)
		for _, one := range group {
			stem := l.stem(one)
			for _, other := range group {
				if to := l.stem(other); to != stem {
					l.close[stem] = append(l.close[stem], alternative{to, weight})
				}
			}
		}
	}
}

// stem gives what the forms of a word have in common.
func (l *language) stem(word string) string {
	if regular, ok := l.irregular[word]; ok {
		word = regular
	}
	return english.Stem(word, true)
}

// soundsBroken reports whether a sentence is about something that does not work:
// it says so, maybe with a typing mistake, or denies that a thing does what it is
// for. Known tells which words are written in the texts as they stand.
func (l *language) soundsBroken(sentence []string, known func(string) bool) bool {
	denied := slices.Contains(sentence, "nothing") // it may follow: the radar shows nothing
	for _, word := range sentence {
		denied = denied || l.denial[word]
		if stem := l.stem(word); l.sign[stem] || denied && l.deed[stem] {
			return true
		}
		if l.stop[word] || known(word) {
			continue
		}
		if letters := []rune(english.Stem(word, true)); slices.ContainsFunc(l.signs, func(sign string) bool { return Mistyped(letters, []rune(sign)) }) {
			return true
		}
	}
	return false
}

// Plain is a text in small letters, without accents; letters that are written in two ways,
// such as a sigma at the end of a word, are the same.
func Plain(text string) string {
	if strings.ContainsFunc(text, func(r rune) bool { return r > unicode.MaxASCII }) {
		if without, _, err := transform.String(transform.Chain(cases.Fold(), norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), text); err == nil {
			return without
		}
	}
	return strings.ToLower(text)
}

var apostrophes = strings.NewReplacer("'", "", "’", "")

// Parts tells of texts whether each of some words is a part of them, in whatever case and
// accents.
func Parts(words string) func(text string) bool {
	wanted := strings.Fields(Plain(words))
	return func(text string) bool {
		plain := Plain(text)
		return !slices.ContainsFunc(wanted, func(word string) bool { return !strings.Contains(plain, word) })
	}
}

// Words takes a text apart: letters and digits, small, without accents.
func Words(text string) []string {
	return strings.FieldsFunc(Plain(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

// words are those of a sentence: an apostrophe parts no word.
func words(text string) []string { return Words(apostrophes.Replace(text)) }
