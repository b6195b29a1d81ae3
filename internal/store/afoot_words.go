package store

import (
	"slices"
	"strings"
)

// written are the words that it is found by, each after a blank.
type written string

// Scan reads them.
func (w *written) Scan(v any) error {
	*w = ""
	if words, _ := v.(string); words != "" {
		*w = written(" " + words)
	}
	return nil
}

// wanted is how a word is to begin, after a blank.
type wanted struct {
	word string
	mark uint64
}

// markOf is a bit for how a word begins; all bits for a word of one letter, which leave
// anything possible.
func markOf(word string) uint64 {
	if len(word) < 2 {
		return ^uint64(0)
	}
	return 1 << ((uint(word[0])*31 + uint(word[1])) % 64)
}

// wantedOf are terms as words are written.
func wantedOf(terms [][]string) [][]wanted {
	all := make([][]wanted, len(terms))
	for i, any := range terms {
		for _, term := range any {
			all[i] = append(all[i], wanted{" " + term, markOf(term)})
		}
	}
	return all
}

// has reports whether of each term any begins one of its words.
func (u *underway) has(terms [][]wanted) bool {
	for _, any := range terms {
		if !slices.ContainsFunc(any, func(w wanted) bool { return u.begins&w.mark != 0 && strings.Contains(string(u.Words), w.word) }) {
			return false
		}
	}
	return true
}
