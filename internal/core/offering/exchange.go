package offering

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"

	"heptad/internal/core/form"
)

// CatalogFormat names the open format of a whole catalog and its version.
const CatalogFormat = "heptad/catalog/1"

// Catalog is what moves from one installation to another: services, shared
// questions and offerings.
type Catalog struct {
	Format    string          `json:"format" enum:"heptad/catalog/1"`
	Services  []Service       `json:"services" nullable:"false"`
	Shared    []form.Question `json:"shared" nullable:"false"`
	Offerings []Document      `json:"offerings" nullable:"false"`
	Ended     []Ended         `json:"ended,omitempty" nullable:"false" doc:"Those of them that nobody can ask for any more"`
}

// Ended is an offering that has ended, and what takes its place.
type Ended struct {
	Key       string `json:"key" maxLength:"60"`
	Successor string `json:"successor,omitempty" maxLength:"60"`
}

// Service is a service as it travels: its owner and home team by login and
// key.
type Service struct {
	Key   string `json:"key" maxLength:"60"`
	Name  string `json:"name" maxLength:"120"`
	Area  string `json:"area" maxLength:"60"`
	Text  string `json:"text,omitempty" maxLength:"1000"`
	Owner string `json:"owner" maxLength:"60" doc:"Login"`
	Home  string `json:"home" maxLength:"60" doc:"Key of a team"`
	Place string `json:"place" enum:"intended,offered,ended"`
}

// ParseCatalog reads a catalog; the error is a *ParseError.
func ParseCatalog(data []byte) (Catalog, error) {
	if len(data) > MaxCatalog {
		return Catalog{}, &ParseError{"", fmt.Sprintf("This is larger than %d MB.", MaxCatalog>>20)}
	}
	c := Catalog{Offerings: []Document{}}
	in := catalogReader{decoder: json.NewDecoder(bytes.NewReader(data)), seen: map[string]bool{}}
	in.decoder.DisallowUnknownFields()
	if err := in.read(&c); err != nil {
		return Catalog{}, err
	}
	if c.Format != CatalogFormat {
		return Catalog{}, &ParseError{"/format", fmt.Sprintf("The format is %q, but %q is needed.", c.Format, CatalogFormat)}
	}
	return c, nil
}

// catalogReader reads a catalog an offering at a time, so that it never stands
// in memory twice.
type catalogReader struct {
	decoder *json.Decoder
	seen    map[string]bool // keys of its offerings
}

func (r catalogReader) read(c *Catalog) error {
	if err := r.delim('{'); err != nil {
		return err
	}
	for r.decoder.More() {
		name, err := r.decoder.Token()
		if err != nil {
			return parseError(err)
		}
		switch name {
		case "format":
			err = r.decoder.Decode(&c.Format)
		case "services":
			err = r.decoder.Decode(&c.Services)
		case "shared":
			err = r.decoder.Decode(&c.Shared)
		case "ended":
			err = r.decoder.Decode(&c.Ended)
		case "offerings":
			if err := r.offerings(c); err != nil {
				return err
			}
		default:
			return &ParseError{"", fmt.Sprintf("There is an unknown field %q.", name)}
		}
		if err != nil {
			return parseError(err)
		}
	}
	if err := r.delim('}'); err != nil {
		return err
	}
	if _, err := r.decoder.Token(); !errors.Is(err, io.EOF) {
		return &ParseError{"", "There is more behind the end."}
	}
	return nil
}

func (r catalogReader) offerings(c *Catalog) error {
	if err := r.delim('['); err != nil {
		return err
	}
	for i := 0; r.decoder.More(); i++ {
		var d Document
		begin := r.decoder.InputOffset()
		err := r.decoder.Decode(&d)
		switch {
		case err != nil:
			err = parseError(err)
		case r.decoder.InputOffset()-begin > MaxSize:
			err = &ParseError{"", fmt.Sprintf("This is larger than %d MB.", MaxSize>>20)}
		default:
			err = d.finish()
		}
		if err == nil && r.seen[d.Key] {
			err = &ParseError{"/key", fmt.Sprintf("The offering %q stands twice in it.", d.Key)}
		}
		if err != nil {
			bad := err.(*ParseError) // all of them are
			return &ParseError{fmt.Sprintf("/offerings/%d%s", i, bad.Place), bad.Sentence}
		}
		r.seen[d.Key] = true
		c.Offerings = append(c.Offerings, d)
	}
	return r.delim(']')
}

func (r catalogReader) delim(want json.Delim) error {
	token, err := r.decoder.Token()
	switch {
	case errors.Is(err, io.EOF):
		return &ParseError{"", "This is not JSON: it ends too early."}
	case err != nil:
		return parseError(err)
	case token != want:
		return &ParseError{"", fmt.Sprintf("There is %v where %v is needed.", token, want)}
	}
	return nil
}
