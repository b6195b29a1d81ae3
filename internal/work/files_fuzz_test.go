package work

import (
	"bytes"
	"path/filepath"
	"strings"
	"testing"

	"github.com/gabriel-vasile/mimetype"
	"github.com/stretchr/testify/assert"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
)

// Whatever a file is called and holds: its name is one step of a path on one
// line, ends as its content is, and what a browser could run is found out.
func FuzzFiles(f *testing.F) {
	f.Add("a.html", []byte("<html>"))
	f.Add("../../a.png.exe", []byte("\x89PNG\r\n\x1a\n <ScRiPt>"))
	f.Fuzz(func(t *testing.T, name string, content []byte) {
		coretest.Bounded(t, 50, func() {
			kind := mimetype.Detect(content[:min(len(content), sniffed)])
			media, _, _ := strings.Cut(kind.String(), ";")
			kept := fitting(cleanName(name), media, kind.Extension())
			assert.Equal(t, filepath.Base(kept), kept)
			assert.True(t, form.OneLine(kept), "%q", kept)
			assert.LessOrEqual(t, len([]rune(kept)), 140)
			assert.True(t, strings.HasSuffix(strings.ToLower(kept), kind.Extension()) || len(endings[media]) > 0, "%q of %s", kept, media)
			runs, err := runsInPages(bytes.NewReader(content))
			assert.NoError(t, err)
			lower := strings.ToLower(string(content))
			assert.True(t, runs || !strings.Contains(lower, "<script") && !strings.Contains(lower, "javascript:"))
		})
	})
}
