package measure

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestPercentilesAreThoseOfTheSortedList(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		largest := rapid.SampledFrom([]uint32{1, 60, 100, 90_000, 400_000_000, math.MaxUint32}).Draw(t, "largest")
		lists := make([][]uint32, rapid.IntRange(1, 3).Draw(t, "lists"))
		var all []uint32
		random := rapid.Uint32Range(0, largest)
		for i := range lists {
			some := rapid.SliceOfN(random, 1, 40).Draw(t, "some")
			for range rapid.SampledFrom([]int{1, 7, 60}).Draw(t, "times") { // long lists go another way than short ones
				lists[i] = append(lists[i], some...)
			}
			lists[i] = append(lists[i], rapid.SliceOf(rapid.Uint32()).Draw(t, "outliers")...)
			all = append(all, lists[i]...)
		}
		slices.Sort(all)
		shares := []float64{0.5, 0.8, 0.95}
		for i, got := range percentiles(lists, shares...) {
			rank := float64(len(all)-1) * shares[i]
			low, high := all[int(math.Floor(rank))], all[int(math.Ceil(rank))]
			require.InDelta(t, float64(low)+(rank-math.Floor(rank))*(float64(high)-float64(low)), got, 1e-6)
		}
	})
}

func TestPercentilesByHand(t *testing.T) {
	require.Equal(t, []float64{25, 34, 38.5}, percentiles([][]uint32{{40, 10}, {30, 20}}, 0.5, 0.8, 0.95))
	require.Equal(t, []float64{7, 7, 7}, percentiles([][]uint32{{7}}, 0.5, 0.8, 0.95))
}

func TestBucketsRiseWithTheirNumbers(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Uint32Range(0, math.MaxUint32-1).Draw(t, "v")
		require.LessOrEqual(t, bucket(v), bucket(v+1))
		require.Less(t, bucket(v+1), uint32(buckets+1<<bucketBits))
	})
}
