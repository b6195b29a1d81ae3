package script

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	yamlnode "go.yaml.in/yaml/v3"

	"heptad/internal/core/finding"
)

// MaxSize is the largest script that is read, in bytes.
const MaxSize = 1 << 20

// ParseError says in which line of a text something is not understood.
type ParseError struct {
	Line     int // from 1; zero when it is not about one
	Sentence string
}

func (e *ParseError) Error() string {
	if e.Line == 0 {
		return e.Sentence
	}
	return fmt.Sprintf("line %d: %s", e.Line, e.Sentence)
}

// Lines are the lines of a text in which the lines of its script begin, by their number
// from 0.
type Lines []int

// Parse reads a script, JSON or YAML. What is not understood is an error with its line; the
// error is a *ParseError.
func Parse(data []byte) (Script, Lines, error) {
	if len(data) > MaxSize {
		return Script{}, nil, &ParseError{0, fmt.Sprintf("This is larger than %d MB.", MaxSize>>20)}
	}
	root, err := document(data)
	if err != nil {
		return Script{}, nil, err
	}
	var s Script
	if err := decode(root, &s); err != nil {
		return Script{}, nil, err
	}
	var lines Lines
	if list := field(root, "script"); list != nil {
		for _, node := range list.Content {
			lines = append(lines, node.Line)
		}
	}
	if wrong := s.Check(); wrong != nil {
		return Script{}, nil, wrong.placed(root, lines)
	}
	return s, lines, nil
}

// Wrong is what is wrong with a script that can be read.
type Wrong struct {
	Line     int    // number of the line of the script, from 0; -1 when it is about none
	Field    string // of the script, such as send
	Sentence string
}

func (w *Wrong) Error() string {
	if w.Line < 0 {
		return w.Sentence
	}
	return fmt.Sprintf("line %d of the script: %s", w.Line+1, w.Sentence)
}

// placed is where it stands in the text.
func (w *Wrong) placed(root *yamlnode.Node, lines Lines) *ParseError {
	if w.Line >= 0 && w.Line < len(lines) {
		return &ParseError{lines[w.Line], w.Sentence}
	}
	if node := field(root, w.Field); node != nil {
		return &ParseError{node.Line, w.Sentence}
	}
	return &ParseError{root.Line, w.Sentence}
}

// Check looks whether a script can be run, as far as no offering and no company is needed
// for that; nil when it can.
func (s Script) Check() *Wrong {
	wrong := func(field, format string, args ...any) *Wrong {
		return &Wrong{-1, field, finding.Sentence(fmt.Sprintf(format, args...))}
	}
	switch {
	case s.Format != Format:
		return wrong("format", "the format is %q, but %q is needed", s.Format, Format)
	case s.Asker.Login == "" && s.Asker.Made == nil:
		return wrong("asker", "say who asks: a login, or a person")
	case s.Asker.Made != nil && strings.TrimSpace(s.Asker.Made.Name) == "":
		return wrong("asker", "name who asks")
	case s.For != nil && s.For.Made != nil && strings.TrimSpace(s.For.Made.Name) == "":
		return wrong("for", "name whom it is for")
	case s.Send.IsZero():
		return wrong("send", "say when it is sent")
	case !s.Until.At.IsZero() && s.Until.At.Before(s.Send):
		return wrong("until", "this is before it is sent")
	}
	for key, system := range s.Cast.Systems {
		if len(system.Down) == 2 && !system.Down[1].After(system.Down[0]) || len(system.Down) != 0 && len(system.Down) != 2 {
			return wrong("cast", "%s: write down as [from, until]", key)
		}
		for _, r := range system.Report {
			if !r.At.IsZero() && !r.After.IsZero() {
				return wrong("cast", "%s: a report comes at an instant, or after a length", key)
			}
		}
	}
	last := s.Send
	for i, line := range s.Script {
		err := line.check()
		switch {
		case err != nil:
		case !line.At.IsZero() && line.At.Before(s.Send):
			err = errors.New("this is before it is sent")
		case !line.At.IsZero() && line.At.Before(last):
			err = errors.New("this is before what stands above it: write what happens in order of time")
		}
		if err != nil {
			return &Wrong{i, "script", finding.Sentence(err.Error())}
		}
		if !line.At.IsZero() {
			last = line.At
		}
	}
	return nil
}

// document reads the one document of a text.
func document(data []byte) (*yamlnode.Node, error) {
	if first := bytes.TrimSpace(data); len(first) > 0 && first[0] == '{' {
		data = bytes.ReplaceAll(data, []byte("\t"), []byte(" ")) // in JSON they stand between values only
	}
	var root yamlnode.Node
	decoder := yamlnode.NewDecoder(bytes.NewReader(data))
	if err := decoder.Decode(&root); err != nil {
		return nil, &ParseError{0, "This is neither JSON nor YAML: " + strings.TrimPrefix(err.Error(), "yaml: ") + "."}
	}
	if decoder.Decode(new(yamlnode.Node)) == nil {
		return nil, &ParseError{0, "There is more behind the end."}
	}
	if len(root.Content) != 1 || root.Content[0].Kind != yamlnode.MappingNode {
		return nil, &ParseError{1, "This is no script."}
	}
	return root.Content[0], nil
}

// field finds the value under a key of an object.
func field(of *yamlnode.Node, key string) *yamlnode.Node {
	for i := 0; of != nil && of.Kind == yamlnode.MappingNode && i+1 < len(of.Content); i += 2 {
		if of.Content[i].Value == key {
			return of.Content[i+1]
		}
	}
	return nil
}

// decode reads an object part by part, so that what is wrong is told with its line.
func decode(root *yamlnode.Node, into *Script) error {
	whole := map[string]json.RawMessage{}
	for i := 0; i+1 < len(root.Content); i += 2 {
		key, node := root.Content[i], root.Content[i+1]
		if _, twice := whole[key.Value]; twice {
			return &ParseError{key.Line, fmt.Sprintf("%q stands here twice.", key.Value)}
		}
		part, err := toJSON(node)
		if err != nil {
			return err
		}
		one, _ := json.Marshal(map[string]json.RawMessage{key.Value: part}) // it is JSON already
		if err := strict(one, new(Script)); err != nil {
			if key.Value == "script" && node.Kind == yamlnode.SequenceNode {
				for _, line := range node.Content {
					part, _ := toJSON(line)
					if err := strict(part, new(Line)); err != nil {
						return told(line, err)
					}
				}
			}
			return told(node, key, err)
		}
		whole[key.Value] = part
	}
	data, _ := json.Marshal(whole)
	if err := strict(data, into); err != nil {
		return told(root, err)
	}
	return nil
}

// told says what of a node is not understood, in the line it stands in as near as that is
// known.
func told(node *yamlnode.Node, rest ...any) *ParseError {
	err, _ := rest[len(rest)-1].(error)
	line, words := node.Line, err.Error()
	var wrongType *json.UnmarshalTypeError
	var wrongTime *time.ParseError
	switch name, unknown := strings.CutPrefix(words, "json: unknown field "); {
	case unknown:
		words = fmt.Sprintf("there is no field %s here", name)
		if key, is := rest[0].(*yamlnode.Node); is && `"`+key.Value+`"` == name {
			line = key.Line
		} else if at := named(node, strings.Trim(name, `"`)); at != nil {
			line = at.Line
		}
	case errors.As(err, &wrongType):
		words = fmt.Sprintf("there is a %s where another kind of value is needed", wrongType.Value)
		steps := strings.Split(wrongType.Field, ".")
		if at := named(node, steps[len(steps)-1]); at != nil {
			line = at.Line
		}
	case errors.As(err, &wrongTime):
		words = fmt.Sprintf("%s is no instant: write it like 2027-05-18T09:10:00+01:00", wrongTime.Value)
	}
	return &ParseError{line, finding.Sentence(words)}
}

// named finds the first key of a name in a node, or below it.
func named(node *yamlnode.Node, name string) *yamlnode.Node {
	for i, child := range node.Content {
		if node.Kind == yamlnode.MappingNode && i%2 == 0 && child.Value == name {
			return child
		}
		if at := named(child, name); at != nil {
			return at
		}
	}
	return nil
}

// mostDeep is how deep a script may be nested.
const mostDeep = 40

// toJSON writes a node as JSON. What YAML takes for an instant or a date stays the text that
// it is; aliases are refused, as a few bytes of them can stand for gigabytes.
func toJSON(node *yamlnode.Node) (json.RawMessage, error) { return jsonOf(node, 0) }

func jsonOf(node *yamlnode.Node, deep int) (json.RawMessage, error) {
	if deep > mostDeep {
		return nil, &ParseError{node.Line, "This is nested too deep."}
	}
	switch node.Kind {
	case yamlnode.MappingNode:
		object, seen := []byte("{"), map[string]bool{}
		for i := 0; i+1 < len(node.Content); i += 2 {
			key := node.Content[i]
			if seen[key.Value] || key.Kind != yamlnode.ScalarNode {
				return nil, &ParseError{key.Line, fmt.Sprintf("%q stands here twice, or is no name.", key.Value)}
			}
			seen[key.Value] = true
			value, err := jsonOf(node.Content[i+1], deep+1)
			if err != nil {
				return nil, err
			}
			name, _ := json.Marshal(key.Value)
			if i > 0 {
				object = append(object, ',')
			}
			object = append(append(append(object, name...), ':'), value...)
		}
		return append(object, '}'), nil
	case yamlnode.SequenceNode:
		list := []byte("[")
		for i, child := range node.Content {
			value, err := jsonOf(child, deep+1)
			if err != nil {
				return nil, err
			}
			if i > 0 {
				list = append(list, ',')
			}
			list = append(list, value...)
		}
		return append(list, ']'), nil
	case yamlnode.ScalarNode:
		var value any = node.Value
		switch node.ShortTag() {
		case "!!null":
			value = nil
		case "!!bool", "!!int", "!!float":
			if err := node.Decode(&value); err != nil {
				return nil, &ParseError{node.Line, "This cannot be read."}
			}
		}
		data, err := json.Marshal(value)
		if err != nil {
			return nil, &ParseError{node.Line, "This cannot be read."}
		}
		return data, nil
	}
	return nil, &ParseError{node.Line, "This refers to another place; write it out there."}
}
