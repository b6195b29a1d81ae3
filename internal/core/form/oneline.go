package form

import (
	"strings"
	"unicode"
)

// OneLine reports whether a text can stand on one line: without line breaks,
// control characters and marks that turn the direction of writing.
func OneLine(s string) bool {
	return !strings.ContainsFunc(s, LeavesLine)
}

// LeavesLine reports whether a letter has no place in a text of one line.
func LeavesLine(r rune) bool {
	return unicode.IsControl(r) || r == 0x2028 || r == 0x2029 || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069
}
