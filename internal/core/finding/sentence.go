package finding

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Sentence makes a sentence of words, such as those of an error: it begins with a capital and
// ends with one full stop. Of nothing it makes nothing.
func Sentence(words string) string {
	first, size := utf8.DecodeRuneInString(words)
	if size == 0 {
		return ""
	}
	return string(unicode.ToUpper(first)) + strings.TrimSuffix(words[size:], ".") + "."
}
