package store

import (
	"reflect"
	"strings"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"

	"heptad/internal/core/request"
)

// How many are kept decoded: the lists of all who work on the same requests say the same of
// them, and sheets the same of their histories.
const (
	briefsKept   = 5_000
	passagesKept = 20_000
)

// What lists and sheets decoded last, by what is packed. Whoever is given one changes
// nothing in it.
var (
	briefs   = newDecoded(briefsKept, func(text unpacked) (request.State, error) { return decodeState(text) })
	passages = newDecoded(passagesKept, func(text unpacked) (passage, error) {
		h := happenedOf(text)
		body, err := request.DecodeBody(h.Kind, []byte(h.Body))
		return passage{strings.Clone(h.Actor), body}, err
	})
)

// passage is what an event says beside when.
type passage struct {
	Actor string
	Body  request.Body
}

// decoded are packed texts as they were last decoded.
type decoded[T any] struct {
	decode func(text unpacked) (T, error)

	mu   sync.Mutex // guards what follows
	kept *simplelru.LRU[string, T]
}

func newDecoded[T any](most int, decode func(text unpacked) (T, error)) *decoded[T] {
	kept, err := simplelru.NewLRU[string, T](most, nil)
	if err != nil {
		panic(err) // only a size below one is an error
	}
	return &decoded[T]{decode: decode, kept: kept}
}

// of decodes what is packed, unless it was just decoded.
func (d *decoded[T]) of(packed []byte) (T, error) {
	d.mu.Lock()
	is, ok := d.kept.Get(string(packed))
	d.mu.Unlock()
	if ok {
		return is, nil
	}
	is, err := d.decode(unpacked(textOf(packed)))
	if err == nil {
		d.mu.Lock()
		d.kept.Add(string(packed), is)
		d.mu.Unlock()
	}
	return is, err
}

// unchanged reports whether nobody has changed what is kept.
func (d *decoded[T]) unchanged() bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, key := range d.kept.Keys() {
		kept, _ := d.kept.Peek(key)
		if fresh, err := d.decode(unpacked(textOf([]byte(key)))); err != nil || !reflect.DeepEqual(kept, fresh) {
			return false
		}
	}
	return true
}
