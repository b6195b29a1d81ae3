package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/measure"
)

func TestGrouped(t *testing.T) {
	got := measure.Grouped([]measure.Wish{
		{"bike cage north pier", []string{"bike", "cage", "north", "pier"}, 4},
		{"a bicycle cage at North Pier", []string{"bicycl", "cage", "north", "pier"}, 9},
		{"quiet room", []string{"quiet", "room"}, 3},
		{"room for a party", []string{"room", "parti"}, 5},
		{"my neighbour's cat", []string{"neighbour", "cat"}, 2},
		{"quiet", []string{"quiet"}, 1},
	})
	assert.Equal(t, []measure.Wishes{
		{Words: []string{"a bicycle cage at North Pier", "bike cage north pier"}, People: 13, Times: 2},
		{Words: []string{"room for a party"}, People: 5, Times: 1},
		{Words: []string{"quiet room"}, People: 4, Times: 2},
	}, got, "one word in common is not enough for two that have two; what two people said stands nowhere")
}
