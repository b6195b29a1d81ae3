package offering

import (
	"encoding/json"
	"fmt"

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
	var raw struct {
		Format    string            `json:"format"`
		Services  []Service         `json:"services"`
		Shared    []form.Question   `json:"shared"`
		Offerings []json.RawMessage `json:"offerings"`
	}
	if err := decode(data, &raw); err != nil {
		return Catalog{}, err
	}
	if raw.Format != CatalogFormat {
		return Catalog{}, &ParseError{"/format", fmt.Sprintf("The format is %q, but %q is needed.", raw.Format, CatalogFormat)}
	}
	c := Catalog{Format: raw.Format, Services: raw.Services, Shared: raw.Shared, Offerings: []Document{}}
	seen := map[string]bool{}
	for i, text := range raw.Offerings {
		d, err := Parse(text)
		if err == nil && seen[d.Key] {
			err = &ParseError{"/key", fmt.Sprintf("The offering %q stands twice in it.", d.Key)}
		}
		if err != nil {
			bad := err.(*ParseError) // Parse promises it
			return Catalog{}, &ParseError{fmt.Sprintf("/offerings/%d%s", i, bad.Place), bad.Sentence}
		}
		seen[d.Key] = true
		c.Offerings = append(c.Offerings, d)
	}
	return c, nil
}
