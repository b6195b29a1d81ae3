// Package audit describes the acts that are no part of a request's history: who did
// what to which thing, and the chain that shows when a row was altered afterwards.
package audit

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"
)

// Row is one act. It is only ever added.
type Row struct {
	ID      int64 // from 1, without a gap
	At      time.Time
	Actor   string // ID of a person; empty for the program, or for somebody unknown
	Session string // short name of the session it was done in; empty for none
	Act     Act
	Thing   string // ID or key of what it was done to; empty for the whole installation
	Body    Body
}

// Body is what a row says beyond its head. It may be forgotten; its hash remains.
type Body struct {
	Name    string   `json:"name,omitempty"` // of the thing, as it was then
	Changes []Change `json:"changes,omitempty"`
}

// Change is a field that has another value than before. Secrets stand in none: of them
// it says only that they have changed.
type Change struct {
	Field  string `json:"field"`
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

// Secret is the change of something that is to be written nowhere.
func Secret(field string) Change { return Change{Field: field, After: "(changed)"} }

// Changed is the change of a field, for those that have changed.
func Changed(changes []Change, field, before, after string) []Change {
	if before == after {
		return changes
	}
	return append(changes, Change{field, before, after})
}

// Hash is that of a body as it is kept.
func Hash(body []byte) []byte {
	sum := sha256.Sum256(body)
	return sum[:]
}

// Next is the link of the chain for a row with a head and the hash of its body, after
// the link of the row before, which is nil for the first.
func Next(before []byte, head []any, body []byte) []byte {
	text, err := json.Marshal(append(head, hex.EncodeToString(body)))
	if err != nil {
		panic(fmt.Sprintf("the head of a row holds only texts and numbers: %v", err))
	}
	sum := sha256.New()
	sum.Write(before)
	sum.Write(text)
	return sum.Sum(nil)
}

// Link is one row of a chain as it is kept.
type Link struct {
	ID    int64
	Head  []any
	Body  []byte // nil for one that was forgotten
	Hash  []byte // of the body
	Chain []byte
}

// Chain verifies rows in their order.
type Chain struct {
	last  []byte
	Count int64
}

// Follow reports what is wrong with the next row; empty when it is whole.
func (c *Chain) Follow(l Link) string {
	switch {
	case l.ID != c.Count+1:
		return fmt.Sprintf("row %d is missing", c.Count+1)
	case l.Body != nil && !bytes.Equal(Hash(l.Body), l.Hash):
		return fmt.Sprintf("row %d was altered: what it says is not what it said", l.ID)
	case !bytes.Equal(Next(c.last, l.Head, l.Hash), l.Chain):
		return fmt.Sprintf("row %d was altered, or one before it taken out", l.ID)
	}
	c.last, c.Count = l.Chain, l.ID
	return ""
}

// End reports whether rows were cut off at the end, of which there must be so many.
func (c *Chain) End(count int64) string {
	if c.Count < count {
		return fmt.Sprintf("row %d is missing", c.Count+1)
	}
	return ""
}
