package picture_test

import (
	"encoding/base64"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/picture"
)

const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 48">`

func TestGood(t *testing.T) {
	for text, good := range map[string]bool{
		"":                                   true,
		"data:image/png;base64,iVBORw0KGgo=": true,
		"data:image/webp;base64,AA==":        true,
		"data:image/gif;base64,AA==":         false,
		"data:text/html;base64,AA==":         false,
		"https://example.net/a.png":          false,
		`data:image/png;base64,"><script>`:   false,
		"data:image/svg+xml;base64,%":        false,
		"data:image/png;base64," + strings.Repeat("A", picture.MaxURI): false,

		picture.URI([]byte(svg + `<style>.a{stroke:#17576b}@media(prefers-color-scheme:dark){.a{stroke:#7fc0d2}}</style><path class="a" d="M9 32H5v-7l5-2"/></svg>`)): true,
		picture.URI([]byte(svg + `<title>A car</title><g transform="rotate(3)"><circle cx="1" cy="2" r="3"/></g></svg>`)):                                             true,
		picture.URI([]byte(svg + `<script>alert(1)</script></svg>`)):                                                                                                  false,
		picture.URI([]byte(svg + `<path onload="alert(1)" d="M1 1"/></svg>`)):                                                                                         false,
		picture.URI([]byte(svg + `<image href="https://example.net/a.png"/></svg>`)):                                                                                  false,
		picture.URI([]byte(svg + `<path fill="url(https://example.net/a)"/></svg>`)):                                                                                  false,
		picture.URI([]byte(svg + `<style>@import "https://example.net/a.css";</style></svg>`)):                                                                        false,
		picture.URI([]byte(svg + `<style>.a{fill:\75rl(x)}</style></svg>`)):                                                                                           false,
		picture.URI([]byte(svg + `<foreignObject/></svg>`)):                                                                                                           false,
		picture.URI([]byte(`<!DOCTYPE svg [<!ENTITY a "b">]>` + svg + `</svg>`)):                                                                                      false,
		picture.URI([]byte(svg + `<a xlink:href="javascript:alert(1)"/></svg>`)):                                                                                      false,
		picture.URI([]byte(svg + `<svg></svg></svg>`)):                                                                                                                false,
		picture.URI([]byte(svg)):       false,
		picture.URI([]byte(`<html/>`)): false,
		picture.URI([]byte(``)):        false,
		picture.URI([]byte(svg + strings.Repeat("<g>", 30) + strings.Repeat("</g>", 30) + `</svg>`)): false,
	} {
		assert.Equal(t, good, picture.Good(text), text)
	}
}

func FuzzGood(f *testing.F) {
	f.Add("data:image/png;base64,iVBORw0KGgo=")
	f.Add(picture.URI([]byte(svg + `<path d="M1 1"/></svg>`)))
	f.Add(picture.URI([]byte(svg + `<path onclick="a"/></svg>`)))
	f.Fuzz(func(t *testing.T, uri string) {
		if !picture.Good(uri) || uri == "" {
			return
		}
		assert.NotContains(t, uri, "<", "it goes into pages as it is")
		assert.NotContains(t, uri, "\"")
		assert.LessOrEqual(t, len(uri), picture.MaxURI)
		if data, is := strings.CutPrefix(uri, "data:image/svg+xml;base64,"); is {
			text, err := base64.StdEncoding.DecodeString(data)
			assert.NoError(t, err)
			assert.NotContains(t, strings.ToLower(string(text)), "<script")
			assert.NotContains(t, strings.ToLower(string(text)), "href=")
		}
	})
}
