package measure

import (
	"math"
	"math/bits"
	"slices"
)

// percentiles are exact percentiles of numbers, by linear interpolation at rank
// 1 + (n - 1) p. It may move the numbers. There must be one at least.
func percentiles(values []uint32, p ...float64) []float64 {
	out := make([]float64, len(p))
	at := ranked(values, p)
	for i, p := range p {
		rank := float64(len(values)-1) * p
		low := int(math.Floor(rank))
		out[i] = float64(at(low))
		if share := rank - float64(low); share > 0 {
			out[i] += share * (float64(at(low+1)) - out[i])
		}
	}
	return out
}

// buckets are how many of them long lists are put into, so that only those need be sorted
// that hold what is looked for.
const buckets = 1 << 11

// ranked gives the numbers at places of the sorted list, of those that percentiles need.
func ranked(values []uint32, p []float64) func(int) uint32 {
	if len(values) < 2*buckets {
		return chosen(values)
	}
	var largest uint32
	for _, v := range values {
		largest = max(largest, v)
	}
	shift := max(0, bits.Len32(largest)-bits.Len32(buckets-1))
	var counts [buckets + 1]int
	for _, v := range values {
		counts[v>>shift]++
	}
	wanted := map[uint32][]uint32{} // numbers of those buckets
	before := map[uint32]int{}
	for _, p := range p {
		low := int(math.Floor(float64(len(values)-1) * p))
		for _, rank := range []int{low, min(low+1, len(values)-1)} {
			sum := 0
			for bucket, n := range counts {
				if sum += n; rank < sum {
					wanted[uint32(bucket)], before[uint32(bucket)] = make([]uint32, 0, n), sum-n
					break
				}
			}
		}
	}
	var is [buckets + 1]bool
	for bucket := range wanted {
		is[bucket] = true
	}
	for _, v := range values {
		if bucket := v >> shift; is[bucket] {
			wanted[bucket] = append(wanted[bucket], v)
		}
	}
	for _, list := range wanted {
		slices.Sort(list)
	}
	return func(i int) uint32 {
		for bucket, list := range wanted {
			if at := i - before[bucket]; at >= 0 && at < len(list) {
				return list[at]
			}
		}
		return 0 // no percentile asks for it
	}
}

// chosen gives the numbers at places of the sorted list, asked for in rising order: it sorts
// no more than that needs.
func chosen(values []uint32) func(int) uint32 {
	from := 0 // all before it are in their places, and none behind is smaller
	return func(i int) uint32 {
		if i < from {
			return values[i]
		}
		smallest(values[from:], i-from)
		from = i + 1
		return values[i]
	}
}

// smallest puts the number of which k are not larger at place k, with those before it, and
// the others behind.
func smallest(values []uint32, k int) {
	from, until := 0, len(values)-1
	for from < until {
		if until-from < 12 {
			slices.Sort(values[from : until+1])
			return
		}
		a, b, c := values[from], values[from+(until-from)/2], values[until]
		pivot := max(min(a, b), min(max(a, b), c))
		i, j := from, until
		for i <= j {
			for values[i] < pivot {
				i++
			}
			for values[j] > pivot {
				j--
			}
			if i <= j {
				values[i], values[j] = values[j], values[i]
				i++
				j--
			}
		}
		switch {
		case k <= j:
			until = j
		case k >= i:
			from = i
		default:
			return
		}
	}
}
