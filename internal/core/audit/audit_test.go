package audit_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"heptad/internal/core/audit"
)

func chain(bodies []string) (links []audit.Link) {
	var last []byte
	for i, body := range bodies {
		l := audit.Link{ID: int64(i + 1), Head: []any{i + 1, "who"}, Body: []byte(body), Hash: audit.Hash([]byte(body))}
		l.Chain = audit.Next(last, l.Head, l.Hash)
		last = l.Chain
		links = append(links, l)
	}
	return links
}

// verify gives the first thing that is wrong.
func verify(links []audit.Link, count int) string {
	c := audit.Chain{}
	for _, l := range links {
		if wrong := c.Follow(l); wrong != "" {
			return wrong
		}
	}
	return c.End(int64(count))
}

func TestChain(t *testing.T) {
	whole := []string{"a", "b", "c", "d"}
	assert.Empty(t, verify(chain(whole), 4))
	for name, c := range map[string]struct {
		alter func(l []audit.Link) []audit.Link
		want  string
	}{
		"a body": {func(l []audit.Link) []audit.Link { l[1].Body = []byte("B"); return l }, "row 2 was altered: what it says is not what it said"},
		"a body with its hash": {func(l []audit.Link) []audit.Link {
			l[1].Body, l[1].Hash = []byte("B"), audit.Hash([]byte("B"))
			return l
		}, "row 2 was altered, or one before it taken out"},
		"a head": {func(l []audit.Link) []audit.Link { l[2].Head = []any{3, "another"}; return l }, "row 3 was altered, or one before it taken out"},
		"a row with its link": {func(l []audit.Link) []audit.Link {
			l[1].Head = []any{2, "x"}
			l[1].Chain = audit.Next(l[0].Chain, l[1].Head, l[1].Hash)
			return l
		}, "row 3 was altered, or one before it taken out"},
		"a row taken out":          {func(l []audit.Link) []audit.Link { return append(l[:1], l[2:]...) }, "row 2 is missing"},
		"the first taken out":      {func(l []audit.Link) []audit.Link { return l[1:] }, "row 1 is missing"},
		"the last taken out":       {func(l []audit.Link) []audit.Link { return l[:3] }, "row 4 is missing"},
		"two in another order":     {func(l []audit.Link) []audit.Link { l[1], l[2] = l[2], l[1]; return l }, "row 2 is missing"},
		"a body that is forgotten": {func(l []audit.Link) []audit.Link { l[1].Body = nil; return l }, ""},
	} {
		assert.Equal(t, c.want, verify(c.alter(chain(whole)), 4), name)
	}
}

// Whichever byte of a chain is another, it is seen.
func TestNoByteIsAltered(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		links := chain(rapid.SliceOfN(rapid.StringN(1, 20, -1), 1, 6).Draw(t, "bodies"))
		l := &links[rapid.IntRange(0, len(links)-1).Draw(t, "row")]
		of := []*[]byte{&l.Body, &l.Hash, &l.Chain}[rapid.IntRange(0, 2).Draw(t, "part")]
		(*of)[rapid.IntRange(0, len(*of)-1).Draw(t, "byte")] ^= byte(rapid.IntRange(1, 255).Draw(t, "change"))
		assert.NotEmpty(t, verify(links, len(links)))
	})
}

func TestEveryActIsWhole(t *testing.T) {
	seen := map[audit.Act]bool{}
	for _, a := range audit.Act("").All() {
		assert.False(t, seen[a], a)
		seen[a] = true
		assert.NotEmpty(t, a.Words())
		assert.NotEmpty(t, a.Kind())
		assert.NotEqual(t, string(a), a.Words())
	}
	assert.Equal(t, "ofALaterProgram", audit.Act("ofALaterProgram").Words())
	assert.Equal(t, []audit.Change{{Field: "name", Before: "a", After: "b"}}, audit.Changed(audit.Changed(nil, "name", "a", "b"), "title", "x", "x"))
	assert.NotContains(t, audit.Secret("password").After, "secret")
}
