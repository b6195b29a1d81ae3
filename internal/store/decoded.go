package store

import (
	"encoding/json"
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
	outlooksKept = 5_000
	passagesKept = 20_000
)

// What lists and sheets decoded last, by what is kept. Whoever is given one changes
// nothing in it.
var (
	briefs   = newDecoded(briefsKept, func(packed []byte) (request.State, error) { return decodeState(unpacked(textOf(packed))) })
	outlooks = newDecoded(outlooksKept, func(text []byte) (*request.Outlook, error) {
		o := new(request.Outlook)
		return o, json.Unmarshal(text, o)
	})
	passages = newDecoded(passagesKept, func(packed []byte) (passage, error) {
		h := happenedOf(unpacked(textOf(packed)))
		body, err := request.DecodeBody(h.Kind, []byte(h.Body))
		return passage{strings.Clone(h.Actor), body}, err
	})
)

// passage is what an event says beside when.
type passage struct {
	Actor string
	Body  request.Body
}

// decoded is what is kept as it was last decoded.
type decoded[T any] struct {
	decode func(kept []byte) (T, error)

	mu   sync.Mutex // guards what follows
	kept *simplelru.LRU[string, T]
}

func newDecoded[T any](most int, decode func(kept []byte) (T, error)) *decoded[T] {
	kept, err := simplelru.NewLRU[string, T](most, nil)
	if err != nil {
		panic(err) // only a size below one is an error
	}
	return &decoded[T]{decode: decode, kept: kept}
}

// of decodes what is kept, unless it was just decoded.
func (d *decoded[T]) of(kept []byte) (T, error) {
	d.mu.Lock()
	is, ok := d.kept.Get(string(kept))
	d.mu.Unlock()
	if ok {
		return is, nil
	}
	is, err := d.decode(kept)
	if err == nil {
		d.mu.Lock()
		d.kept.Add(string(kept), is)
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
		if fresh, err := d.decode([]byte(key)); err != nil || !reflect.DeepEqual(kept, fresh) {
			return false
		}
	}
	return true
}
