package measure_test

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/measure"
)

var update = flag.Bool("update", false, "write the list of figures into docs")

const document = "../../../docs/figures.md"

// The list of figures in docs is written from the one that the page reads, and each figure
// says all that a reader needs.
func TestFiguresAreListedInDocs(t *testing.T) {
	var b strings.Builder
	b.WriteString("# Figures\n\nWhat Measure counts. Written from `internal/core/measure/figure.go` by its tests, with `-update`.\n\n| Figure | Unit | Counted by | Good | What it tells |\n|---|---|---|---|---|\n")
	seen := map[string]bool{}
	for _, f := range measure.Figures {
		assert.False(t, seen[f.Key] || seen[f.Name], f.Key)
		seen[f.Key], seen[f.Name] = true, true
		assert.Regexp(t, `\.$`, f.Asks, f.Key)
		assert.NotEmpty(t, f.Whole, f.Key)
		assert.Equal(t, f.Unit == measure.Share, f.Part != "", "a share, and only a share, says what its part is: %s", f.Key)
		for _, key := range measure.Rows(f.Subject) {
			_, known := measure.FigureOf(key)
			assert.True(t, known, key)
		}
		of := f.Whole
		if f.Part != "" {
			of = f.Part + " ÷ " + f.Whole
		}
		fmt.Fprintf(&b, "| **%s** `%s` | %s | %s | %s | %s Counted: %s. |\n", f.Name, f.Key, f.Unit, f.Date, f.Good, f.Asks, of)
	}
	if *update {
		require.NoError(t, os.WriteFile(document, []byte(b.String()), 0o600))
	}
	listed, err := os.ReadFile(document)
	require.NoError(t, err)
	assert.Equal(t, b.String(), string(listed), "run the tests of this package with -update")
}
