// Package picture tells which pictures may be shown beside offerings, items and
// questions.
package picture

import (
	"bytes"
	"encoding/base64"
	"encoding/xml"
	"errors"
	"io"
	"regexp"
	"slices"
	"strings"
)

// MaxURI is how long the URI of a picture may be, in bytes.
const MaxURI = 80_000

// Good reports whether a text is a data: URI of a picture that may be shown, or
// empty: a PNG, JPEG or WebP, or an SVG of plain shapes.
func Good(uri string) bool {
	if uri == "" {
		return true
	}
	rest, ok := strings.CutPrefix(uri, "data:image/")
	kind, data, ok2 := strings.Cut(rest, ";base64,")
	if !ok || !ok2 || len(uri) > MaxURI || strings.Trim(data, "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/=") != "" {
		return false
	}
	if kind != "svg+xml" {
		return slices.Contains([]string{"png", "jpeg", "webp"}, kind)
	}
	text, err := base64.StdEncoding.DecodeString(data)
	return err == nil && drawing(text)
}

// URI writes an SVG as a data: URI.
func URI(svg []byte) string {
	return "data:image/svg+xml;base64," + base64.StdEncoding.EncodeToString(bytes.TrimSpace(svg))
}

var (
	shapes = []string{"svg", "title", "style", "g", "path", "circle", "ellipse", "rect", "line", "polyline", "polygon"}
	plain  = regexp.MustCompile(`^[\w\s.,:;#%(){}@*+/-]*$`) // of attributes and styles: no quotes, no escapes
	loads  = regexp.MustCompile(`(?i)url|import|expression|javascript|data:`)
)

// drawing reports whether an SVG has shapes and styles only: nothing that runs,
// nothing that is fetched, nothing that is hidden behind a declaration.
func drawing(text []byte) bool {
	d := xml.NewDecoder(bytes.NewReader(text))
	inside, first := []string{}, true
	for {
		token, err := d.Token()
		if errors.Is(err, io.EOF) {
			return !first && len(inside) == 0
		}
		if err != nil {
			return false
		}
		switch t := token.(type) {
		case xml.StartElement:
			if !slices.Contains(shapes, t.Name.Local) || first != (t.Name.Local == "svg") || len(inside) > 20 {
				return false
			}
			for _, a := range t.Attr {
				namespace := a.Name.Local == "xmlns" && a.Value == "http://www.w3.org/2000/svg"
				if !namespace && (a.Name.Space != "" || strings.HasPrefix(strings.ToLower(a.Name.Local), "on") || strings.Contains(a.Name.Local, "href") || !plain.MatchString(a.Value) || loads.MatchString(a.Value)) {
					return false
				}
			}
			inside, first = append(inside, t.Name.Local), false
		case xml.EndElement:
			inside = inside[:len(inside)-1]
		case xml.CharData:
			style := len(inside) > 0 && inside[len(inside)-1] == "style"
			if style && (!plain.Match(t) || loads.Match(t)) {
				return false
			}
		default:
			return false // comments, instructions and declarations
		}
	}
}
