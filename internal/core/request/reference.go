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

// Number gives the number in a reference; 0 when there is none.
func Number(reference string) int64 {
	parts := strings.Split(reference, "-")
	if len(parts) != 3 {
		return 0
	}
	n, _ := strconv.ParseInt(parts[1], 10, 64) // 0 when it is none
	return n
}

// ValidReference reports whether the letter of a reference fits its number.
func ValidReference(reference string) bool {
	parts := strings.Split(reference, "-")
	if len(parts) != 3 {
		return false
	}
	var number int64
	if _, err := fmt.Sscanf(parts[1], "%d", &number); err != nil || number < 0 {
		return false
	}
	return Reference(parts[0], number) == reference
}
