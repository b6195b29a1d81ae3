package notice

import (
	"fmt"
	"slices"

	"heptad/internal/core/message"
	"heptad/internal/core/request"
)

// atWork are those with whom open tasks lie.
func (n *noticing) atWork() []string {
	return n.readers(&request.Readers{Staff: true})
}

// tied tells the asker's side that it waits for, or is the same as, another request.
func (n *noticing) tied(e request.Event, l request.Link, words string) {
	if l.Kind != request.ComesFrom && n.state.Status != request.Closed {
		n.tell(e, Notice{Kind: message.Said, Said: fmt.Sprintf(words, l.Kind.Words(), l.Reference)}, n.side()...)
	}
}

// byWords names who said what follows; nobody when the program did.
func (n *noticing) byWords(actor string) string {
	if actor == request.Program {
		return ""
	}
	return n.company.Name(actor) + ": "
}

// has reports whether something of a kind was told just now.
func (n *noticing) has(kind message.Kind) bool {
	return slices.ContainsFunc(n.all, func(o Notice) bool { return o.Kind == kind })
}
