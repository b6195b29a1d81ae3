package request

import (
	"fmt"
	"strconv"
	"strings"
)

const checkLetters = "ABCDEFGHJKLMNPQRSTUVWXY"

// Reference is the name of a request for people: prefix, number and a letter
// that catches every single wrong digit and every swap of neighbours
// (rules.md 8).
func Reference(prefix string, number int64) string {
	return fmt.Sprintf("%s-%d-%c", prefix, number, checkLetters[number%int64(len(checkLetters))])
}

// TrialMark begins the references of an installation for trying, before their prefix.
const TrialMark = "T-"

// PartsOf are the prefix, the number and the letter of a reference; false when it has not
// the shape of one.
func PartsOf(reference string) (prefix, number, letter string, ok bool) {
	parts := strings.Split(reference, "-")
	if len(parts) == 4 && strings.HasPrefix(reference, TrialMark) {
		parts = append([]string{TrialMark + parts[1]}, parts[2:]...)
	}
	if len(parts) != 3 {
		return "", "", "", false
	}
	return parts[0], parts[1], parts[2], true
}

// Number gives the number in a reference; 0 when there is none.
func Number(reference string) int64 {
	_, number, _, _ := PartsOf(reference)
	n, _ := strconv.ParseInt(number, 10, 64) // 0 when it is none
	return n
}

// ValidReference reports whether the letter of a reference fits its number.
func ValidReference(reference string) bool {
	prefix, text, _, ok := PartsOf(reference)
	number, err := strconv.ParseInt(text, 10, 64)
	return ok && err == nil && number >= 0 && Reference(prefix, number) == reference
}
