// Package order puts things after what they wait for, or names the circle
// that forbids it. It does not know what the things are.
package order

import "slices"

// Sort numbers things 0 to n-1 so that each comes after all that after names
// for it, otherwise as they stand. When some wait for each other in a circle,
// order is nil and circle is the path, its first thing named again at the end.
func Sort(n int, after func(i int) []int) (order, circle []int) {
	const open, placed = 1, 2
	state := make([]int, n)
	var path []int
	var visit func(i int) bool
	visit = func(i int) bool {
		switch state[i] {
		case placed:
			return true
		case open:
			circle = append(slices.Clone(path[slices.Index(path, i):]), i)
			return false
		}
		state[i] = open
		path = append(path, i)
		for _, j := range after(i) {
			if !visit(j) {
				return false
			}
		}
		path = path[:len(path)-1]
		state[i] = placed
		order = append(order, i)
		return true
	}
	for i := range n {
		if !visit(i) {
			return nil, circle
		}
	}
	return order, nil
}
