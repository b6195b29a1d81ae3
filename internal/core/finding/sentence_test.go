package finding_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/finding"
)

func TestSentence(t *testing.T) {
	for words, sentence := range map[string]string{
		"":                          "",
		"x":                         "X.",
		"it is late":                "It is late.",
		"It is late.":               "It is late.",
		`"9:00" is no time`:         `"9:00" is no time.`,
		"école: no such calendar":   "École: no such calendar.",
		"“noon” is no time of day.": "“noon” is no time of day.",
	} {
		assert.Equal(t, sentence, finding.Sentence(words))
	}
}
