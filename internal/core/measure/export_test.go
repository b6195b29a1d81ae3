package measure_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/measure"
)

func TestSafe(t *testing.T) {
	for text, want := range map[string]string{
		"": "", "Quay access badge": "Quay access badge", "=SUM(A1)": "'=SUM(A1)", "+1": "'+1", "-1": "'-1", "@x": "'@x", "\t=1": "'\t=1", "\r=1": "'\r=1", "a=1": "a=1",
	} {
		assert.Equal(t, want, measure.Safe(text), text)
	}
}

func TestRows(t *testing.T) {
	half, hour := 0.5, 5400.0
	s := measure.Series{Figure: "kept", Keys: [][]string{{"it", "=hr"}}, Cells: []measure.Value{{Records: 4, Part: 2, Number: &half}, {}}, Total: measure.Value{Records: 4, Part: 2, Number: &half}}
	assert.Equal(t, [][]string{
		{"service", "promise kept", "unit", "counted", "of them", "mean", "80 %", "95 %", "too few to show"},
		{"it", "0.5", "share", "4", "2", "", "", "", ""},
		{"'=hr", "", "share", "0", "0", "", "", "", ""},
		{"in all", "0.5", "share", "4", "2", "", "", "", ""},
	}, s.Rows([]measure.Side{measure.ByService}, func(_ measure.Side, key string) string { return key }))
	s = measure.Series{Figure: "used", Total: measure.Value{Records: 2, Number: &hour, Mean: &hour}}
	assert.Equal(t, []string{"1.5", "open hours", "2", "", "1.5", "", "", ""}, s.Rows(nil, nil)[1])
	s = measure.Series{Figure: "rating", Total: measure.Value{Records: 2, Few: true}}
	assert.Equal(t, []string{"", "stars", "2", "", "", "", "", "yes"}, s.Rows(nil, nil)[1])
}
