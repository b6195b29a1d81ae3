package work_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// The portfolio lists what somebody designs by service and name, page by page, each once,
// whatever the pages are cut to and the words are.
func TestThePortfolioPageByPage(t *testing.T) {
	o := demotest.New(t)
	owner := demo.ID("falkenau")
	for i := range 23 {
		service := []string{"access", "parking", "safety"}[i%3]
		_, err := o.Designing.Create(ctx, owner, work.Beginning{Service: service, Name: fmt.Sprintf("Berth %c %d", 'Z'-i, i)})
		require.NoError(t, err)
	}
	read := func(login string, q store.Shelf) (keys []string) {
		t.Helper()
		for q.Cursor = ""; ; {
			page, err := o.Designing.Portfolio(ctx, demo.ID(login), q)
			require.NoError(t, err)
			require.LessOrEqual(t, len(page), q.Limit)
			for _, l := range page {
				keys = append(keys, l.Key)
				q.Cursor = l.Next
			}
			if len(page) < q.Limit {
				return keys
			}
		}
	}
	q := func(limit int, words string) store.Shelf {
		return store.Shelf{Words: words, Page: store.Page{Limit: limit}}
	}
	all, err := o.Designing.Portfolio(ctx, owner, q(1000, ""))
	require.NoError(t, err)
	require.Len(t, all, 27)
	services := []string{}
	for _, s := range o.Designed(owner) {
		services = append(services, s.Key)
	}
	assert.True(t, slices.IsSortedFunc(all, func(a, b store.Listed) int {
		if a.Service != b.Service {
			return slices.Index(services, a.Service) - slices.Index(services, b.Service)
		}
		return map[bool]int{true: -1, false: 1}[a.Name < b.Name]
	}), "by service, then by name")
	whole := read("falkenau", q(1000, ""))
	for limit := 1; limit <= 28; limit++ {
		assert.Equal(t, whole, read("falkenau", q(limit, "")), limit)
	}
	assert.Equal(t, []string{"quay-access-badge"}, read("falkenau", q(1, "BADGE quay")))
	assert.Len(t, read("falkenau", q(4, "berth")), 24, "23, and Berth-side parking")
	assert.Empty(t, read("falkenau", q(4, "berth zzz")))
	assert.Empty(t, read("sarmento", q(4, "")), "who designs nothing")
	assert.NotContains(t, read("brandao", q(4, "")), "quay-access-badge")
	some := q(1, "")
	some.Keys = []string{"berth-side-parking", "quay-access-badge", "bridge-tablet"}
	assert.Equal(t, []string{"quay-access-badge", "berth-side-parking"}, read("falkenau", some), "another's is not there")

	asked := q(3, "")
	asked.Asked = true
	assert.ElementsMatch(t, []string{"berth-side-parking", "cabin-refit", "lifejacket-inspection-round", "quay-access-badge"}, read("falkenau", asked))
	_, err = o.Designing.End(ctx, owner, "cabin-refit", "")
	require.NoError(t, err)
	assert.NotContains(t, read("falkenau", asked), "cabin-refit")
	assert.Contains(t, read("falkenau", q(50, "")), "cabin-refit")

	// One whose draft is in another service is listed there, once.
	opened, err := o.Designing.OpenDraft(ctx, owner, "quay-access-badge")
	require.NoError(t, err)
	opened.Document.Purpose.Service, opened.Document.Purpose.Name = "parking", "Zebra badge"
	_, err = o.Designing.SaveOffering(ctx, owner, "quay-access-badge", opened.Document, opened.Revision)
	require.NoError(t, err)
	moved, err := o.Designing.Portfolio(ctx, owner, q(50, "badge"))
	require.NoError(t, err)
	require.Len(t, moved, 1)
	assert.Equal(t, []any{"parking", "Zebra badge", 2, 3}, []any{moved[0].Service, moved[0].Name, moved[0].Current, moved[0].Draft})
	assert.Len(t, read("falkenau", q(5, "")), 27)

	gone := q(5, "")
	gone.Cursor = "papers/x/X"
	rest, err := o.Designing.Portfolio(ctx, owner, gone)
	require.NoError(t, err)
	assert.Empty(t, rest, "nothing stands behind what is not theirs")
}
