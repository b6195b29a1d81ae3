package store

import (
	"reflect"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"

	"heptad/internal/core/request"
)

// briefsKept is how many briefs are kept decoded: the lists of all who work on the same
// requests say the same of them.
const briefsKept = 5000

// briefs are the briefs that lists decoded last, by what is packed. Whoever is given one
// changes nothing in it.
var briefs = newDecoded()

// decoded are states as they were last decoded.
type decoded struct {
	mu   sync.Mutex
	kept *simplelru.LRU[string, request.State]
}

func newDecoded() *decoded {
	kept, err := simplelru.NewLRU[string, request.State](briefsKept, nil)
	if err != nil {
		panic(err) // only a size below one is an error
	}
	return &decoded{kept: kept}
}

// of decodes a packed state, unless it was just decoded.
func (d *decoded) of(packed []byte) (request.State, error) {
	d.mu.Lock()
	state, ok := d.kept.Get(string(packed))
	d.mu.Unlock()
	if ok {
		return state, nil
	}
	state, err := decodeState(unpacked(textOf(packed)))
	if err == nil {
		d.mu.Lock()
		d.kept.Add(string(packed), state)
		d.mu.Unlock()
	}
	return state, err
}

// unchanged reports whether nobody has changed what is kept.
func (d *decoded) unchanged() bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, key := range d.kept.Keys() {
		kept, _ := d.kept.Peek(key)
		if fresh, err := decodeState(unpacked(textOf([]byte(key)))); err != nil || !reflect.DeepEqual(kept, fresh) {
			return false
		}
	}
	return true
}
