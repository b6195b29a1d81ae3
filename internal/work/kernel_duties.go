package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/message"
	"heptad/internal/store"
)

// duties gathers what people are told of what they answer for.
type duties struct {
	order []string // IDs
	lines map[string][]string
}

func (d *duties) add(person, line string, args ...any) {
	if person == "" {
		return
	}
	if d.lines == nil {
		d.lines = map[string][]string{}
	}
	if d.lines[person] == nil {
		d.order = append(d.order, person)
	}
	d.lines[person] = append(d.lines[person], fmt.Sprintf(line, args...))
}

// replaced adds what two people are told of one having taken the place of the other.
// Whoever comes first to something is not told: they know, or all of it is new.
func (d *duties) replaced(before, after, what string) {
	if before == "" || before == after {
		return
	}
	d.add(before, "You are no longer %s.", what)
	d.add(after, "You are now %s.", what)
}

// mostDuties is how many changes one message names.
const mostDuties = 20

// tell sends each of them one message. Without an actor it is the program that tells: what
// is to be looked after.
func (d duties) tell(ctx context.Context, k *kernel, tx *store.Tx, actor string) error {
	for _, person := range d.order {
		lines := d.lines[person]
		if more := len(lines) - mostDuties; more > 0 {
			lines = append(slices.Clone(lines[:mostDuties]), fmt.Sprintf("And %d more.", more))
		}
		p, _ := k.Company().Person(person)
		if person == actor || p.Former {
			continue
		}
		kind, facts := message.Duty, message.Facts{Said: strings.Join(lines, "\n"), Person: p.Name}
		if facts.By = k.Company().Name(actor); actor == "" {
			kind, facts.Title = message.Care, headline(lines)
		}
		if err := k.letters.postKind(ctx, tx, k.Company(), store.Message{Person: person, Kind: kind, At: k.Clock()}, facts); err != nil {
			return err
		}
	}
	return nil
}

// headline is what a message of several lines is about: how the first begins.
func headline(lines []string) string {
	first := lines[0]
	for _, end := range []string{". ", ": "} {
		first, _, _ = strings.Cut(first, end)
	}
	first = strings.TrimRight(first, ".")
	if len(lines) > 1 {
		return fmt.Sprintf("%s, and %d more", first, len(lines)-1)
	}
	return first
}
