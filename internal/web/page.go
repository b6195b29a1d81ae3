package web

import (
	"fmt"
	"io/fs"
	"net/http"
	"regexp"
	"strings"
)

// page serves the built page: its files, and the page itself for every path
// that is no file, as the page finds its own way.
type page struct {
	files  http.Handler
	exists func(path string) bool
	start  []byte
	policy string // Content-Security-Policy
}

var scriptHashes = regexp.MustCompile(`'sha256-[A-Za-z0-9+/=]+'`)

// newPage reads the built page. Its start script is allowed by the hash that
// the build has written into it.
func newPage(files fs.FS) (*page, error) {
	start, err := fs.ReadFile(files, "index.html")
	if err != nil {
		return nil, fmt.Errorf("the page is not built, run 'make page': %w", err)
	}
	hashes := strings.Join(scriptHashes.FindAllString(string(start), -1), " ")
	return &page{
		files: http.FileServerFS(files),
		exists: func(path string) bool {
			info, err := fs.Stat(files, path)
			return err == nil && !info.IsDir()
		},
		start: start,
		policy: "default-src 'none'; script-src 'self' " + hashes + "; style-src 'self'; style-src-attr 'unsafe-inline'; " +
			"img-src 'self' data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
	}, nil
}

func (p *page) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	path := strings.TrimPrefix(r.URL.Path, "/")
	switch {
	case strings.HasPrefix(path, "_app/immutable/"):
		w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		p.files.ServeHTTP(w, r)
	case path != "" && path != "index.html" && p.exists(path):
		p.files.ServeHTTP(w, r)
	default:
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.Header().Set("Cache-Control", "no-cache")
		_, _ = w.Write(p.start) // whoever asked and left needs no answer
	}
}
