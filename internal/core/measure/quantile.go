package measure

import "math"

// Percentile is an exact percentile of numbers, by linear interpolation at rank
// 1 + (n - 1) p. It moves the numbers. There must be one at least.
func percentile(values []uint32, p float64) float64 {
	rank := float64(len(values)-1) * p
	low := int(math.Floor(rank))
	at := smallest(values, low)
	if share := rank - float64(low); share > 0 {
		next := values[low+1]
		for _, v := range values[low+1:] {
			next = min(next, v)
		}
		return float64(at) + share*(float64(next)-float64(at))
	}
	return float64(at)
}

// smallest gives the number of which k are not larger, and puts those before it, and the
// others behind it.
func smallest(values []uint32, k int) uint32 {
	from, until := 0, len(values)-1
	for from < until {
		pivot := middle(values[from], values[from+(until-from)/2], values[until])
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
			return values[k]
		}
	}
	return values[k]
}

func middle(a, b, c uint32) uint32 { return max(min(a, b), min(max(a, b), c)) }
