package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/measure"
)

func TestPath(t *testing.T) {
	// A decision of 10, then two tasks side by side: one waits 5 and takes 20, the other takes
	// 8; a last one waits 30 and takes 2 after both.
	steps := []measure.Step{
		{Key: "manager", Waited: 10},
		{Key: "photo", After: []int{0}, Waited: 5, Worked: 20},
		{Key: "safety", After: []int{0}, Worked: 8},
		{Key: "hand", After: []int{1, 2}, Waited: 30, Worked: 2},
	}
	p := measure.PathOf(steps)
	assert.Equal(t, []float64{0, 10, 10, 35}, p.Starts)
	assert.Equal(t, []bool{true, true, false, true}, p.Critical)
	assert.Equal(t, 3, p.Most, "it takes 32")
	assert.Equal(t, 67.0, p.Whole)
	assert.Equal(t, 22.0, p.Working, "20 and 2, as the decision only waits")

	assert.Equal(t, -1, measure.PathOf(nil).Most, "of no steps none takes longest")
	assert.Equal(t, -1, measure.PathOf([]measure.Step{{Key: "auto"}}).Most, "nor when none takes any time")
}
