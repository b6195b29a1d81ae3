package order_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/order"
)

func TestSort(t *testing.T) {
	for name, c := range map[string]struct {
		after  [][]int
		order  []int
		circle []int
	}{
		"nothing":    {nil, nil, nil},
		"as it is":   {[][]int{{}, {}, {}}, []int{0, 1, 2}, nil},
		"backwards":  {[][]int{{1}, {2}, {}}, []int{2, 1, 0}, nil},
		"diamond":    {[][]int{{1, 2}, {3}, {3}, {}}, []int{3, 1, 2, 0}, nil},
		"itself":     {[][]int{{0}}, nil, []int{0, 0}},
		"pair":       {[][]int{{1}, {0}}, nil, []int{0, 1, 0}},
		"with a way": {[][]int{{1}, {2}, {3}, {1}}, nil, []int{1, 2, 3, 1}},
	} {
		t.Run(name, func(t *testing.T) {
			got, circle := order.Sort(len(c.after), func(i int) []int { return c.after[i] })
			assert.Equal(t, c.order, got)
			assert.Equal(t, c.circle, circle)
		})
	}
}

func TestEitherAnOrderOrACircle(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 12).Draw(t, "n")
		after := make([][]int, n)
		for i := range after {
			after[i] = rapid.SliceOfN(rapid.IntRange(0, n-1), 0, 3).Draw(t, "after")
		}
		got, circle := order.Sort(n, func(i int) []int { return after[i] })
		if circle == nil {
			require.Len(t, got, n)
			for i := range after {
				for _, j := range after[i] {
					assert.Less(t, slices.Index(got, j), slices.Index(got, i))
				}
			}
			return
		}
		require.Nil(t, got)
		assert.Equal(t, circle[0], circle[len(circle)-1])
		for k := 1; k < len(circle); k++ {
			assert.Contains(t, after[circle[k-1]], circle[k])
		}
	})
}
