package work

import (
	"cmp"
	"sync"
	"sync/atomic"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// age counts the changes of what other things are worked out from.
type age struct {
	company atomic.Uint64 // people, teams, services, calendars
	frame   atomic.Uint64 // of the company, what offerings are compiled with: calendars, services, and what these may use
	catalog atomic.Uint64 // what is offered
}

// ofOffered changes with the catalog, and with the services it is in.
func (a *age) ofOffered() uint64 { return a.frame.Load() + a.catalog.Load() }

// cache keeps what was worked out, until what it was worked out from is older
// than it is now. What began before a change is given to who asked for it, and
// not kept. Of more than it may keep, what was used the longest ago goes.
type cache[K comparable, V any] struct {
	most int // that it keeps; 0 for mostKept

	mu      sync.Mutex // guards what follows
	made    uint64     // the age of all that is kept
	kept    *simplelru.LRU[K, V]
	dropped uint64 // how often something was dropped
}

// mostKept is how much a cache keeps that does not say.
const mostKept = 5000

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
		c.made = at
		c.kept, _ = simplelru.NewLRU[K, V](cmp.Or(c.most, mostKept), nil) // only a size below 1 is refused
	}
	v, ok = c.kept.Get(key)
	return v, c.dropped, ok
}

func (c *cache[K, V]) keep(at uint64, now func() uint64, dropped uint64, key K, v V) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.made == at && now() == at && c.dropped == dropped {
		c.kept.Add(key, v)
	}
}

// drop forgets what is kept under a key.
func (c *cache[K, V]) drop(key K) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.kept != nil {
		c.kept.Remove(key)
	}
	c.dropped++
}
