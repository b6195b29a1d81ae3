package work

import (
	"slices"
	"sync"

	"heptad/internal/core/request"
)

// Change says what has changed.
type Change struct {
	Kind  string // "request", "message", "company", "calendar" or "catalog"
	ID    string // of the request
	Event int64  // number of the newest event that was stored by then
}

// Live tells listeners what changed that concerns them.
type Live struct {
	newest func() int64 // number of the newest event that is stored

	mu        sync.Mutex                      // guards what follows
	listeners map[string]map[chan Change]bool // by the ID of the person
	began     int64                           // the newest event before the first change that was told
	last      map[string]int64                // of the last change that was told to a person
	everybody int64                           // of the last one that was told to everybody
}

func newLive(newest func() int64) *Live {
	return &Live{newest: newest, began: newest(), listeners: map[string]map[chan Change]bool{}, last: map[string]int64{}}
}

// queued is how many changes wait for a slow listener. Whoever is that far behind reads
// everything anew.
const queued = 32

// Listen gives a channel of the changes that concern a person, and a function
// that ends it.
func (l *Live) Listen(person string) (<-chan Change, func()) {
	c := make(chan Change, queued)
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.listeners[person] == nil {
		l.listeners[person] = map[chan Change]bool{}
	}
	l.listeners[person][c] = true
	return c, func() {
		l.mu.Lock()
		defer l.mu.Unlock()
		delete(l.listeners[person], c)
		if len(l.listeners[person]) == 0 {
			delete(l.listeners, person)
		}
	}
}

// Missed reports whether something that concerns a person may have changed since they
// have read everything that was stored up to an event.
func (l *Live) Missed(person string, event int64) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	return event < l.began || event < l.last[person] || event < l.everybody
}

// tell sends a change to those it concerns; nil concerns everybody.
func (l *Live) tell(change Change, persons map[string]bool) {
	change.Event = l.newest()
	l.mu.Lock()
	defer l.mu.Unlock()
	if persons == nil {
		l.everybody = change.Event
		for _, listening := range l.listeners {
			send(listening, change)
		}
	}
	for person := range persons {
		l.last[person] = change.Event
		send(l.listeners[person], change)
	}
}

func send(listening map[chan Change]bool, change Change) {
	for c := range listening {
		select {
		case c <- change:
		default: // it is full, and its reader is told so
		}
	}
}

// tell tells everybody whom a request concerns that it changed, and the
// runner that there may be something to do.
func (k *kernel) tell(s request.State) {
	k.unforecast.add(s.ID)
	k.Live.tell(Change{Kind: "request", ID: s.ID}, k.concerned(s))
	k.rouse()
	k.rouseMail()
}

// rouse tells the runner that there may be something to do.
func (k *kernel) rouse() {
	select {
	case k.wake <- struct{}{}:
	default:
	}
}

// rouseMail tells the mail lane that there may be something to send.
func (k *kernel) rouseMail() {
	select {
	case k.wakeMail <- struct{}{}:
	default:
	}
}

// concerned lists who may see some part of a request.
func (k *kernel) concerned(s request.State) map[string]bool {
	if s.Status == request.Draft || s.Reference == "" { // nobody else's business, and when it is thrown away neither
		return map[string]bool{s.Asker: true}
	}
	service, _ := k.Company().Service(s.Service)
	home, _ := k.Company().Team(service.Home)
	persons := map[string]bool{s.Asker: true, home.Lead: true}
	for _, person := range k.Company().Designers(service) {
		persons[person] = true
	}
	if s.Shared {
		persons[s.Beneficiary()] = true
	}
	for _, r := range s.Rungs {
		for _, seat := range r.Seats {
			for _, person := range seat.Everybody() {
				persons[person] = true
			}
		}
	}
	for _, person := range s.Followers {
		persons[person] = true
	}
	for _, t := range s.Tasks {
		for _, person := range slices.Concat(k.Company().Members(t.Team), t.Confirmers) {
			persons[person] = true
		}
	}
	return persons
}
