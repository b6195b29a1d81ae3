package notice

import (
	"fmt"

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

// said finds what was told of a kind just now.
func (n *noticing) said(kind message.Kind) (Notice, bool) {
	for _, o := range n.all {
		if o.Kind == kind {
			return o, true
		}
	}
	return Notice{}, false
}
