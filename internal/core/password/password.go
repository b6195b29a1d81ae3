// Package password says which passwords are good enough, and how they are compared.
package password

import (
	_ "embed"
	"fmt"
	"strings"
	"sync"
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"

	"heptad/internal/core/refusal"
)

// How long a password is: letters at least, bytes at most.
const (
	least = 12
	most  = 256
)

// common.txt holds, in lower case, those of the 49,000 most common passwords that are
// long enough; its licence stands in common.LICENSE.
//
//go:embed common.txt
var commonFile string

var common = sync.OnceValue(func() map[string]bool {
	all := map[string]bool{}
	for line := range strings.Lines(commonFile) {
		all[strings.TrimSpace(line)] = true
	}
	return all
})

// Normal is a password as it is hashed: however a keyboard composes its letters (NFKC),
// and without the spaces that pasting leaves at its ends.
func Normal(text string) string { return strings.TrimSpace(norm.NFKC.String(text)) }

// Problem is why a password is not good enough.
type Problem struct{ Code, Sentence string }

// Check finds what is wrong with a normal password of somebody; nil when it is good. Own
// are words that others know of them, such as their login.
func Check(text string, own ...string) *Problem {
	letters, lower := utf8.RuneCountInString(text), strings.ToLower(text)
	switch {
	case letters < least:
		return &Problem{refusal.ShortPassword, fmt.Sprintf("Take at least %d letters; this has %d. Several words are good: nothing else is asked for.", least, letters)}
	case len(text) > most:
		return &Problem{refusal.LongPassword, fmt.Sprintf("Take at most %d letters.", most)}
	case common()[lower] || strings.Trim(lower, string([]rune(lower)[:1])) == "":
		return &Problem{refusal.CommonPassword, "This is among the passwords that are guessed first. Take another."}
	}
	for _, word := range own {
		if word != "" && strings.ToLower(word) == lower {
			return &Problem{refusal.CommonPassword, "This is what others know of you. Take another."}
		}
	}
	return nil
}
