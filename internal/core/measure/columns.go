package measure

import (
	"maps"
	"slices"
	"sync"
)

// Columns hold the facts of all requests in memory, so that a question about all of them is
// one pass. They are safe for concurrent use.
type Columns struct {
	Currency string // of sums of money, ISO 4217; what is in another is not added up

	mu      sync.Mutex
	dicts   dicts
	chunks  map[int64]*chunk // by the number of its first request / chunkSize
	changed map[int64]map[int64]Facts
	came    map[int64][]int64 // numbers of the requests that those of numbers came from
	view    *View
}

// NewColumns makes empty columns, of sums in a currency.
func NewColumns(currency string) *Columns {
	return &Columns{Currency: currency, chunks: map[int64]*chunk{}, changed: map[int64]map[int64]Facts{}, came: map[int64][]int64{}}
}

// Put takes in the facts of requests, in place of those of before.
func (c *Columns) Put(all ...Facts) {
	c.mu.Lock()
	defer c.mu.Unlock()
	for _, f := range all {
		id := f.Request.Number / chunkSize
		if c.changed[id] == nil {
			c.changed[id] = map[int64]Facts{}
		}
		c.changed[id][f.Request.Number] = f
		if came := f.Request.from(); len(came) > 0 {
			c.came[f.Request.Number] = came
		} else {
			delete(c.came, f.Request.Number)
		}
		if len(c.changed[id]) == chunkSize {
			c.merge(id)
		}
	}
	c.view = nil
}

// merge takes the changed facts of a chunk into it. The lock must be held.
func (c *Columns) merge(id int64) {
	facts := make([]Facts, 0, len(c.changed[id]))
	for _, f := range c.changed[id] {
		facts = append(facts, f)
	}
	c.chunks[id] = c.chunks[id].merged(&c.dicts, c.Currency, facts)
	delete(c.changed, id)
}

// View is the columns as they are now. It never changes.
func (c *Columns) View() *View {
	c.mu.Lock()
	defer c.mu.Unlock()
	if c.view != nil {
		return c.view
	}
	for id := range c.changed {
		c.merge(id)
	}
	v := &View{dicts: c.dicts, currency: c.Currency, came: maps.Clone(c.came)}
	led := map[int64][]int64{} // numbers by their chunk
	for _, numbers := range v.came {
		for _, number := range numbers {
			led[number/chunkSize] = append(led[number/chunkSize], number)
		}
	}
	for id, chunk := range c.chunks {
		v.chunks = append(v.chunks, placed{chunk.with(led[id]), id * chunkSize})
	}
	slices.SortFunc(v.chunks, func(a, b placed) int { return int(a.from - b.from) })
	for _, p := range v.chunks {
		v.Requests += len(p.number)
	}
	c.view = v
	return v
}

// View is what columns held at one time.
type View struct {
	dicts    dicts // read only
	currency string
	chunks   []placed
	Requests int // how many there are
	came     map[int64][]int64

	byHand sync.Once
	needed map[taskOf]int64
}

// placed is a chunk with the number that its numbers are counted from.
type placed struct {
	*chunk
	from int64
}
