package measure

import (
	"cmp"
	"slices"
)

// Wish is what people looked for in the same words and found nothing.
type Wish struct {
	Words  string
	Stems  []string // of its words that say something
	People int      // how many different people
}

// Wishes are wishes that mean the same, as far as their words tell.
type Wishes struct {
	Words  []string // in which they were said, the most frequent first; those of one or two people are not shown
	People int
	Times  int // ways of saying it, also those that are not shown
}

// leastPeople is from how many different people on words are shown.
const leastPeople = 3

// Grouped puts wishes together that share at least half of their words; what most people wish
// stands first. What too few people said stands nowhere by itself.
func Grouped(all []Wish) []Wishes {
	all = slices.Clone(all)
	slices.SortStableFunc(all, func(a, b Wish) int { return cmp.Or(cmp.Compare(b.People, a.People), cmp.Compare(a.Words, b.Words)) })
	type group struct {
		Wishes
		stems []string // of the wish it began with
	}
	var groups []group
	for _, w := range all {
		at := slices.IndexFunc(groups, func(g group) bool { return alike(g.stems, w.Stems) })
		if at < 0 {
			groups = append(groups, group{stems: w.Stems})
			at = len(groups) - 1
		}
		g := &groups[at]
		g.People += w.People
		g.Times++
		if w.People >= leastPeople {
			g.Words = append(g.Words, w.Words)
		}
	}
	var out []Wishes
	for _, g := range groups {
		if len(g.Words) > 0 {
			out = append(out, g.Wishes)
		}
	}
	slices.SortStableFunc(out, func(a, b Wishes) int { return cmp.Compare(b.People, a.People) })
	return out
}

// alike reports whether two lists of stems share at least half of the shorter one, and two of
// them when both have as many.
func alike(a, b []string) bool {
	shared := 0
	for _, stem := range a {
		if slices.Contains(b, stem) {
			shared++
		}
	}
	shorter := min(len(a), len(b))
	return shared > 0 && 2*shared >= shorter && shared >= min(2, shorter)
}
