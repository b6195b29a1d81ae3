package offering

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	yamlnode "go.yaml.in/yaml/v3"
	"sigs.k8s.io/yaml"

	"heptad/internal/core/audience"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/promise"
	"heptad/internal/core/script"
	"heptad/internal/core/search"
)

// Format names the open format and its version.
const Format = "heptad/offering/1"

// Document is one offering as it travels: its format, its key and its seven
// sides.
type Document struct {
	Format    string            `json:"format" enum:"heptad/offering/1"`
	Key       string            `json:"key" maxLength:"60" doc:"Small letters, digits and single hyphens; never changes"`
	Purpose   Purpose           `json:"purpose"`
	Audience  audience.Audience `json:"audience"`
	Sections  []form.Section    `json:"sections,omitempty" maxItems:"100" nullable:"false"`
	Questions []form.Question   `json:"questions" maxItems:"500" nullable:"false"`
	Items     price.List        `json:"items"`
	Ladder    []ladder.Rung     `json:"ladder" maxItems:"50" nullable:"false"`
	Plan      []plan.Task       `json:"plan" maxItems:"200" nullable:"false"`
	Promise   promise.Promise   `json:"promise"`
	Cases     []script.Case     `json:"cases,omitempty" maxItems:"100" nullable:"false" doc:"Rehearsals that are kept, with what is expected of them"`
}

// Purpose is the side that says what the offering is for.
type Purpose struct {
	Name         string    `json:"name" maxLength:"120"`
	Text         string    `json:"text" maxLength:"4000" doc:"What it is for"`
	Not          string    `json:"not,omitempty" maxLength:"1000" doc:"What it is not for, and what to ask for instead"`
	Brief        string    `json:"brief,omitempty" maxLength:"4000" doc:"For its owners: why, what, who, when, how fast, who is told, what is measured"`
	Service      string    `json:"service" maxLength:"60" doc:"Key of the service it belongs to"`
	Door         Door      `json:"door,omitempty" doc:"Something wanted, or something broken; wanted when left out"`
	Keywords     []string  `json:"keywords,omitempty" maxItems:"50" nullable:"false" doc:"Other words people look for"`
	Picture      string    `json:"picture,omitempty" maxLength:"80000" doc:"data: URI of a PNG, JPEG, WebP or SVG of plain shapes"`
	Pick         bool      `json:"pick,omitempty" doc:"The owner puts it on the front page"`
	CatchAll     bool      `json:"catchAll,omitempty" doc:"It takes what nothing else is for: a search that finds nothing offers to send its words here"`
	Instructions string    `json:"instructions,omitempty" maxLength:"8000" doc:"Shown above the form"`
	Articles     []Article `json:"articles,omitempty" maxItems:"20" nullable:"false" doc:"Help that opens beside the form"`
	Title        string    `json:"title,omitempty" maxLength:"300" doc:"Of a request, with {{ CEL }} placeholders; the name when left out"`
	Replaces     []string  `json:"replaces,omitempty" maxItems:"20" nullable:"false" doc:"Keys of the offerings that end when this one is published"`
	Fits         []Fit     `json:"fits,omitempty" maxItems:"20" nullable:"false" doc:"What people have that it changes, extends or takes back"`
}

// Fit says that the offering is for something that somebody has already.
type Fit struct {
	Kind     string `json:"kind" maxLength:"60" doc:"Of the belonging, such as licence"`
	Does     string `json:"does" enum:"change,extend,handBack"`
	Question string `json:"question" maxLength:"60" doc:"Key of the question that names it"`
}

// Door says which of two things brings a person.
type Door string

// The doors.
const (
	Wanted Door = "wanted"
	Broken Door = "broken"
)

// All lists them in their order.
func (Door) All() []Door { return []Door{Wanted, Broken} }

// Article is one page of help.
type Article struct {
	Title string `json:"title" maxLength:"200"`
	Text  string `json:"text" maxLength:"20000"`
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

var notKey = regexp.MustCompile(`[^a-z0-9]+`)

// KeyOf makes a key from a name: its letters without accents, and its digits, at
// most 50; empty when it has none.
func KeyOf(name string) string {
	key := strings.Trim(notKey.ReplaceAllString(search.Plain(name), "-"), "-")
	return strings.Trim(key[:min(len(key), 50)], "-")
}

// ParseError says where a text is not a document of the format.
type ParseError struct {
	Place    string // JSON Pointer, as near as it is known
	Sentence string
}

func (e *ParseError) Error() string { return e.Sentence }

// MaxSize is the largest document that is read, in bytes, and MaxCatalog the
// largest catalog.
const (
	MaxSize    = 1 << 20
	MaxCatalog = 20 << 20
)

// Parse reads a document, as JSON or YAML. It refuses unknown fields and other
// formats; the error is a *ParseError.
func Parse(data []byte) (Document, error) {
	if len(data) > MaxSize {
		return Document{}, &ParseError{"", fmt.Sprintf("This is larger than %d MB.", MaxSize>>20)}
	}
	if first := bytes.TrimSpace(data); len(first) > 0 && first[0] != '{' {
		var err error
		if data, err = fromYAML(data); err != nil {
			return Document{}, &ParseError{"", "This is neither JSON nor YAML: " + strings.TrimPrefix(err.Error(), "yaml: ") + "."}
		}
	}
	return parseJSON(data)
}

func parseJSON(data []byte) (Document, error) {
	var d Document
	if err := decode(data, &d); err != nil {
		return Document{}, err
	}
	if err := d.finish(); err != nil {
		return Document{}, err
	}
	return d, nil
}

// finish makes what was decoded a document, or says that it is of another
// format; the error is a *ParseError.
func (d *Document) finish() error {
	if d.Format != Format {
		return &ParseError{"/format", fmt.Sprintf("The format is %q, but %q is needed.", d.Format, Format)}
	}
	d.fill()
	return nil
}

// fromYAML turns YAML into JSON. Aliases are refused before anything is
// expanded: a few bytes of them can stand for gigabytes.
func fromYAML(data []byte) ([]byte, error) {
	var root yamlnode.Node
	if err := yamlnode.Unmarshal(data, &root); err != nil {
		return nil, err
	}
	open := []*yamlnode.Node{&root}
	for len(open) > 0 {
		node := open[len(open)-1]
		open = append(open[:len(open)-1], node.Content...)
		if node.Kind == yamlnode.AliasNode {
			return nil, fmt.Errorf("line %d refers to another place (*%s); write it out there", node.Line, node.Value)
		}
	}
	return yaml.YAMLToJSONStrict(data)
}

// fill makes lists that must be there empty ones, so that a document that
// leaves them out is the same as one that has them empty.
func (d *Document) fill() {
	if d.Questions == nil {
		d.Questions = []form.Question{}
	}
	if d.Items.List == nil {
		d.Items.List = []price.Item{}
	}
	if d.Ladder == nil {
		d.Ladder = []ladder.Rung{}
	}
	if d.Plan == nil {
		d.Plan = []plan.Task{}
	}
}

// decode reads one JSON value and nothing more.
func decode(data []byte, into any) error {
	decoder := json.NewDecoder(bytes.NewReader(data))
	decoder.DisallowUnknownFields()
	if err := decoder.Decode(into); err != nil {
		return parseError(err)
	}
	if decoder.More() {
		return &ParseError{"", "There is more behind the end."}
	}
	return nil
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

// Teams lists the keys of the teams that its plan gives tasks to, in order.
func (d Document) Teams() []string {
	keys := []string{}
	for _, t := range d.Plan {
		keys = append(keys, t.Team)
		for _, r := range t.Routes {
			keys = append(keys, r.Team)
		}
	}
	slices.Sort(keys)
	return slices.DeleteFunc(slices.Compact(keys), func(key string) bool { return key == "" })
}

// Persons lists the logins of the people an offering names: who decides, and
// who gets a task.
func (d Document) Persons() []string {
	var all []string
	for _, rung := range d.Ladder {
		for _, source := range slices.Concat(rung.Approvers, rung.Fallback) {
			all = append(all, source.Person)
		}
	}
	for _, task := range d.Plan {
		for _, route := range task.Routes {
			all = append(all, route.Person)
		}
	}
	for _, target := range d.Promise.Targets {
		all = append(all, target.Owner)
	}
	for _, mark := range d.Promise.Marks {
		all = append(all, mark.People...)
	}
	slices.Sort(all)
	return slices.DeleteFunc(slices.Compact(all), func(login string) bool { return login == "" })
}
