package work

import (
	"sync"
	"sync/atomic"
)

// age counts the changes of what other things are worked out from.
type age struct {
	company atomic.Uint64 // people, teams, services, calendars
	catalog atomic.Uint64 // what is offered
}

// ofBoth changes with the company and with the catalog.
func (a *age) ofBoth() uint64 { return a.company.Load() + a.catalog.Load() }

// cache keeps what was worked out, until what it was worked out from is older
// than it is now. What began before a change is given to who asked for it, and
// not kept.
type cache[K comparable, V any] struct {
	mu      sync.Mutex // guards what follows
	made    uint64     // the age of all that is kept
	kept    map[K]V
	dropped uint64 // how often something was dropped
}

// unchanging is the age of what nothing makes older: it is dropped by its key.
func unchanging() uint64 { return 0 }

// get gives what is kept under a key, or makes it.
func (c *cache[K, V]) get(now func() uint64, key K, make func() (V, error)) (V, error) {
	at := now()
	v, dropped, ok := c.find(at, key)
	if ok {
		return v, nil
	}
	v, err := make()
	if err == nil {
		c.keep(at, now, dropped, key, v)
	}
	return v, err
}

func (c *cache[K, V]) find(at uint64, key K) (v V, dropped uint64, ok bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.made != at || c.kept == nil {
		c.made, c.kept = at, map[K]V{}
	}
	v, ok = c.kept[key]
	return v, c.dropped, ok
}

func (c *cache[K, V]) keep(at uint64, now func() uint64, dropped uint64, key K, v V) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.made == at && now() == at && c.dropped == dropped {
		c.kept[key] = v
	}
}

// drop forgets what is kept under a key.
func (c *cache[K, V]) drop(key K) {
	c.mu.Lock()
	defer c.mu.Unlock()
	delete(c.kept, key)
	c.dropped++
}
