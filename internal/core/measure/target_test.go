package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/measure"
)

func TestTargetStands(t *testing.T) {
	some := func(n float64) *float64 { return &n }
	for name, c := range map[string]struct {
		target measure.Target
		now    *float64
		gone   float64
		want   measure.Standing
		pace   *float64
	}{
		"a share above its goal":                {measure.Target{Figure: "kept", AtLeast: true, Goal: 0.9}, some(0.92), 0.5, measure.StandsWell, nil},
		"a share below its early level":         {measure.Target{Figure: "kept", AtLeast: true, Goal: 0.9, Early: some(0.93)}, some(0.92), 0.5, measure.StandsEarly, nil},
		"a share below its goal":                {measure.Target{Figure: "kept", AtLeast: true, Goal: 0.9}, some(0.89), 0.5, measure.StandsMissed, nil},
		"nothing to count":                      {measure.Target{Figure: "kept", AtLeast: true, Goal: 0.9}, nil, 0.5, measure.StandsOpen, nil},
		"none overdue, as it should be":         {measure.Target{Figure: "overdue", Goal: 0}, some(0), 0.5, measure.StandsWell, nil},
		"one overdue is one too many":           {measure.Target{Figure: "overdue", Goal: 0}, some(1), 0.5, measure.StandsMissed, nil},
		"half of the month, half of the most":   {measure.Target{Figure: "asked", Goal: 200}, some(100), 0.5, measure.StandsWell, some(200)},
		"at this pace it will be too many":      {measure.Target{Figure: "asked", Goal: 199}, some(100), 0.5, measure.StandsEarly, some(200)},
		"too many already":                      {measure.Target{Figure: "asked", Goal: 99}, some(100), 0.5, measure.StandsMissed, some(200)},
		"too early to tell a pace":              {measure.Target{Figure: "asked", Goal: 99}, some(20), 0.05, measure.StandsWell, nil},
		"at this pace too little will be saved": {measure.Target{Figure: "saved", AtLeast: true, Goal: 1000}, some(400), 0.5, measure.StandsEarly, some(800)},
		"too little was saved":                  {measure.Target{Figure: "saved", AtLeast: true, Goal: 1000}, some(900), 1, measure.StandsMissed, some(900)},
		"none asked for in a whole week":        {measure.Target{Figure: "asked", AtLeast: true, Goal: 1}, some(0), 1, measure.StandsMissed, some(0)},
	} {
		got, pace := c.target.Stands(measure.Value{Number: c.now}, c.gone)
		assert.Equal(t, c.want, got, name)
		assert.Equal(t, c.pace, pace, name)
	}
}
