package ladder

import (
	"fmt"
	"strconv"
	"strings"
)

// needed gives the number of approvals that a quorum asks of so many seats;
// more than there are is reduced to all. A share is rounded up.
func needed(quorum string, seats int) (int, error) {
	switch quorum {
	case "any":
		return 1, nil
	case "all":
		return seats, nil
	}
	if percent, ok := strings.CutSuffix(quorum, "%"); ok {
		share, err := strconv.Atoi(percent)
		if err != nil || share < 1 || share > 100 {
			return 0, fmt.Errorf("%q is no share", quorum)
		}
		return (share*seats + 99) / 100, nil
	}
	n, err := strconv.Atoi(quorum)
	if err != nil || n < 1 || n > 50 {
		return 0, fmt.Errorf("%q is no quorum", quorum)
	}
	return min(n, seats), nil
}

// GoodQuorum reports whether a quorum can be read.
func GoodQuorum(quorum string) bool {
	_, err := needed(quorum, 1)
	return err == nil
}

// Needs is how many approvals a quorum asks of so many seats. One that cannot
// be read asks all of them.
func Needs(quorum string, seats int) int {
	n, err := needed(quorum, seats)
	if err != nil {
		return seats
	}
	return n
}

// NeedsWords says in words how many of some seats must say yes; empty where one
// alone decides.
func NeedsWords(quorum string, seats []Seat) string {
	parts := 0
	for _, s := range seats {
		if s.Part != "" {
			parts++
		}
	}
	whole, words := len(seats)-parts, ""
	switch n := Needs(quorum, whole); {
	case whole == 0, whole == 1 && parts == 0:
	case n == whole:
		words = fmt.Sprintf("all %d", whole)
	case n == 1:
		words = fmt.Sprintf("any one of %d", whole)
	default:
		words = fmt.Sprintf("%d of %d yes votes", n, whole)
	}
	switch {
	case parts == 0:
		return words
	case whole == 0:
		return "each for their share"
	case whole == 1:
		return "one for the whole, and each for their share"
	}
	return words + ", and each for their share"
}

// Reduced says why a quorum asks fewer approvals of the seats for the whole than
// it names; empty when it does not.
func Reduced(quorum string, seats []Seat) string {
	whole := 0
	for _, s := range seats {
		if s.Part == "" {
			whole++
		}
	}
	if n, err := strconv.Atoi(quorum); err == nil && whole > 0 && n > whole {
		return fmt.Sprintf("%d yes votes are asked for, but only %d can decide: all of them must", n, whole)
	}
	return ""
}

// Outcome says how a rung stands.
type Outcome string

// The outcomes of a rung.
const (
	Open     Outcome = "open"
	Passed   Outcome = "passed"
	Declined Outcome = "declined"
)

// All lists them in their order.
func (Outcome) All() []Outcome { return []Outcome{Open, Passed, Declined} }

// Stand counts the votes of a rung: passed as soon as the quorum is reached,
// declined as soon as it no longer can be.
func Stand(quorum string, seats, approvals, declines int) Outcome {
	n := Needs(quorum, seats)
	switch {
	case approvals >= n && seats > 0:
		return Passed
	case seats-declines < n || seats == 0:
		return Declined
	}
	return Open
}
