package rule

import (
	"errors"
	"fmt"
	"strings"
)

// Placeholder is a text with placeholders: "Badge for {{ asker.name }}".
type Placeholder struct {
	parts  []textPart
	reads  map[string][]string
	escape func(text string, first bool) string
}

// Escaped gives the text with a way to make what fills a placeholder fit into
// it, as text of a JSON string must be; first is the text that stands at its
// beginning.
func (p *Placeholder) Escaped(escape func(text string, first bool) string) *Placeholder {
	out := *p
	out.escape = escape
	return &out
}

type textPart struct {
	literal string
	rule    *Rule
	root    string // set when the rule is nothing but root.field
	field   string
}

// Missing stands in a rendered text for something absent.
const Missing = "—"

// CompileText checks a text with {{ CEL }} placeholders.
func (e *Env) CompileText(text string) (*Placeholder, error) {
	p := &Placeholder{reads: map[string][]string{}}
	for text != "" {
		before, rest, found := strings.Cut(text, "{{")
		if before != "" {
			p.parts = append(p.parts, textPart{literal: before})
		}
		if !found {
			break
		}
		source, after, closed := strings.Cut(rest, "}}")
		if !closed {
			return nil, errors.New("a placeholder opens with {{ and is never closed with }}")
		}
		part, err := e.compilePart(strings.TrimSpace(source))
		if err != nil {
			return nil, err
		}
		for root, fields := range part.rule.reads {
			p.reads[root] = append(p.reads[root], fields...)
		}
		p.parts = append(p.parts, part)
		text = after
	}
	return p, nil
}

func (e *Env) compilePart(source string) (textPart, error) {
	checked, err := e.check(source)
	if err != nil {
		return textPart{}, fmt.Errorf("in {{ %s }}: %w", source, err)
	}
	r, err := e.Compile(source, checked.OutputType())
	if err != nil {
		return textPart{}, fmt.Errorf("in {{ %s }}: %w", source, err)
	}
	part := textPart{rule: r}
	if root, field, ok := strings.Cut(source, "."); ok {
		if _, known := e.scope.Roots[root][field]; known {
			part.root, part.field = root, field
		}
	}
	return part, nil
}

// Pools lists the keys of the pools the placeholders read.
func (p *Placeholder) Pools() []string {
	var all []string
	for _, part := range p.parts {
		if part.rule != nil {
			all = append(all, part.rule.pools...)
		}
	}
	return all
}

// Reads lists the fields of a root that the placeholders read.
func (p *Placeholder) Reads(root string) []string { return p.reads[root] }

// Empty reports whether there is nothing in the text.
func (p *Placeholder) Empty() bool {
	text, fixed := p.Fixed()
	return fixed && strings.TrimSpace(text) == ""
}

// Fixed gives a text that has no placeholder.
func (p *Placeholder) Fixed() (text string, fixed bool) {
	for _, part := range p.parts {
		if part.rule != nil {
			return "", false
		}
		text += part.literal
	}
	return text, true
}

// Only reports whether the text is nothing but placeholders that read one root,
// and no text of their own.
func (p *Placeholder) Only(root string) bool {
	if len(p.reads) != 1 || len(p.reads[root]) == 0 {
		return false
	}
	for _, part := range p.parts {
		if part.rule == nil && strings.TrimSpace(part.literal) != "" || part.rule != nil && len(part.rule.texts) > 0 {
			return false
		}
	}
	return true
}

// Render fills the placeholders in. show may give better words for a field of
// a root, such as the label of a choice; it may be nil.
func (p *Placeholder) Render(v Values, show func(root, field string) (string, bool)) (string, error) {
	var out strings.Builder
	for i, part := range p.parts {
		text, err := part.render(v, show)
		if err != nil {
			return "", err
		}
		if part.rule != nil && p.escape != nil {
			text = p.escape(text, i == 0)
		}
		out.WriteString(text)
	}
	return out.String(), nil
}

func (t textPart) render(v Values, show func(root, field string) (string, bool)) (string, error) {
	if t.rule == nil {
		return t.literal, nil
	}
	if show != nil && t.root != "" {
		if words, ok := show(t.root, t.field); ok {
			return words, nil
		}
	}
	value, err := t.rule.Eval(v)
	if errors.Is(err, ErrAbsent) {
		return Missing, nil
	}
	if err != nil {
		return "", err
	}
	return words(value), nil
}

func words(value Value) string {
	switch x := Plain(value).(type) {
	case []string:
		return strings.Join(x, ", ")
	case bool:
		if x {
			return "yes"
		}
		return "no"
	default:
		return fmt.Sprint(x)
	}
}
