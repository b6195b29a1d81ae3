package rule

import (
	"errors"
	"fmt"
	"strings"
)

// Placeholder is a text with placeholders: "Badge for {{ asker.name }}".
type Placeholder struct {
	parts []textPart
	reads map[string][]string
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

// Render fills the placeholders in. show may give better words for a field of
// a root, such as the label of a choice; it may be nil.
func (p *Placeholder) Render(v Values, show func(root, field string) (string, bool)) (string, error) {
	var out strings.Builder
	for _, part := range p.parts {
		if part.rule == nil {
			out.WriteString(part.literal)
			continue
		}
		if show != nil && part.root != "" {
			if words, ok := show(part.root, part.field); ok {
				out.WriteString(words)
				continue
			}
		}
		value, err := part.rule.Eval(v)
		switch {
		case errors.Is(err, ErrAbsent):
			out.WriteString(Missing)
		case err != nil:
			return "", err
		default:
			out.WriteString(words(value))
		}
	}
	return out.String(), nil
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
