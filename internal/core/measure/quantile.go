package measure

import (
	"math"
	"math/bits"
	"slices"
)

// percentiles are exact percentiles of the numbers of some lists, by linear interpolation at
// rank 1 + (n - 1) p. There must be one at least.
func percentiles(lists [][]uint32, p ...float64) []float64 {
	out, n := make([]float64, len(p)), 0
	for _, values := range lists {
		n += len(values)
	}
	at := ranked(lists, n, p)
	for i, p := range p {
		rank := float64(n-1) * p
		low := int(math.Floor(rank))
		out[i] = float64(at(low))
		if share := rank - float64(low); share > 0 {
			out[i] += share * (float64(at(low+1)) - out[i])
		}
	}
	return out
}

// Long lists are put into buckets, so that only those need be sorted that hold what is looked
// for. As times are spread over hours and months, the buckets grow with the numbers: from each
// power of two to the next there are as many.
const (
	bucketBits = 6
	buckets    = (32 - bucketBits + 1) << bucketBits
	longList   = 96
)

// bucket is that of a number: of the larger number never the smaller bucket.
func bucket(v uint32) uint32 {
	shift := max(0, bits.Len32(v)-bucketBits-1)
	return uint32(shift)<<bucketBits + v>>shift
}

// ranked gives the numbers at places of the one sorted list of all n, of those that
// percentiles need, which must rise.
func ranked(lists [][]uint32, n int, p []float64) func(int) uint32 {
	if n < longList {
		all := slices.Concat(lists...)
		slices.Sort(all)
		return func(i int) uint32 { return all[i] }
	}
	var counts [buckets + 1<<bucketBits]int32
	for _, values := range lists {
		for _, v := range values {
			counts[bucket(v)]++
		}
	}
	type part struct {
		before int
		list   []uint32
	}
	var parts []part                        // of those buckets that are needed, in their order
	var place [buckets + 1<<bucketBits]int8 // of the part of a bucket, from 1
	at, before := 0, 0
	for _, p := range p {
		low := int(math.Floor(float64(n-1) * p))
		for rank := low; rank <= min(low+1, n-1); rank++ {
			for before+int(counts[at]) <= rank {
				before += int(counts[at])
				at++
			}
			if place[at] == 0 {
				parts = append(parts, part{before, make([]uint32, 0, counts[at])})
				place[at] = int8(len(parts))
			}
		}
	}
	for _, values := range lists {
		for _, v := range values {
			if i := place[bucket(v)]; i > 0 {
				parts[i-1].list = append(parts[i-1].list, v)
			}
		}
	}
	for _, part := range parts {
		slices.Sort(part.list)
	}
	return func(i int) uint32 {
		for _, part := range parts {
			if at := i - part.before; at >= 0 && at < len(part.list) {
				return part.list[at]
			}
		}
		return 0 // no percentile asks for it
	}
}
