package connect

import (
	"net/http"
	"net/url"
	"slices"
	"strings"
)

// Climbs reports whether a path has a step that leads upward, or nowhere: what
// fills a placeholder must not change which path is called.
func Climbs(u *url.URL) bool {
	for _, step := range strings.Split(u.EscapedPath(), "/") {
		plain, err := url.PathUnescape(step)
		if err != nil || slices.ContainsFunc(strings.FieldsFunc(plain, func(r rune) bool { return r == '/' || r == '\\' }), func(s string) bool { return s == "." || s == ".." }) {
			return true
		}
	}
	return false
}

// noRedirects lets nobody send a call elsewhere, with what it carries.
func noRedirects(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
