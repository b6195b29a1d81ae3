package offering

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"heptad/internal/core/audience"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
)

// Format names the open format and its version.
const Format = "heptad/offering/1"

// Document is one offering as it travels: its format, its key and its seven
// sides.
type Document struct {
	Format    string            `json:"format" enum:"heptad/offering/1"`
	Key       string            `json:"key" maxLength:"60"`
	Purpose   Purpose           `json:"purpose"`
	Audience  audience.Audience `json:"audience"`
	Questions []form.Question   `json:"questions" maxItems:"500" nullable:"false"`
	Items     price.List        `json:"items"`
	Ladder    []ladder.Rung     `json:"ladder" maxItems:"50" nullable:"false"`
	Plan      []plan.Task       `json:"plan" maxItems:"200" nullable:"false"`
	Promise   promise.Promise   `json:"promise"`
}

// Purpose is the side that says what the offering is for.
type Purpose struct {
	Name     string   `json:"name" maxLength:"120"`
	Text     string   `json:"text" maxLength:"4000"`
	Service  string   `json:"service" maxLength:"60" doc:"Key of the service it belongs to"`
	Keywords []string `json:"keywords,omitempty" maxItems:"50" nullable:"false" doc:"Other words people look for"`
}

// New is an empty offering of a service.
func New(key, name, service, currency, zone string) Document {
	return Document{
		Format:    Format,
		Key:       key,
		Purpose:   Purpose{Name: name, Service: service},
		Questions: []form.Question{},
		Items:     price.List{Currency: currency, List: []price.Item{}},
		Ladder:    []ladder.Rung{},
		Plan:      []plan.Task{},
		Promise:   promise.Promise{Zone: zone},
	}
}

// ParseError says where a text is not a document of the format.
type ParseError struct {
	Place    string // JSON Pointer, as near as it is known
	Sentence string
}

func (e *ParseError) Error() string { return e.Sentence }

// Parse reads a document. It refuses unknown fields and other formats; the
// error is a *ParseError.
func Parse(data []byte) (Document, error) {
	var d Document
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(&d); err != nil {
		return Document{}, parseError(err)
	}
	if decoder.More() {
		return Document{}, &ParseError{"", "There is more behind the end of the offering."}
	}
	if d.Format != Format {
		return Document{}, &ParseError{"/format", fmt.Sprintf("The format is %q, but %q is needed.", d.Format, Format)}
	}
	return d, nil
}

func parseError(err error) error {
	var wrongType *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &wrongType):
		place := "/" + strings.ReplaceAll(wrongType.Field, ".", "/")
		return &ParseError{place, fmt.Sprintf("There is a %s where another kind of value is needed.", wrongType.Value)}
	case errors.As(err, &syntax):
		return &ParseError{"", fmt.Sprintf("This is not JSON: %s, at byte %d.", syntax.Error(), syntax.Offset)}
	case strings.HasPrefix(err.Error(), "json: unknown field "):
		return &ParseError{"", "There is an unknown field " + strings.TrimPrefix(err.Error(), "json: unknown field ") + "."}
	}
	return &ParseError{"", "This cannot be read: " + err.Error() + "."}
}
