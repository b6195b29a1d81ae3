package work

import (
	"slices"
	"sync"

	"heptad/internal/core/request"
)

// Change says what has changed.
type Change struct {
	Kind string // "request" or "catalog"
	ID   string // of the request
}

// Live tells listeners what changed that concerns them.
type Live struct {
	mu        sync.Mutex
	listeners map[chan Change]string // to the ID of the person
}

func newLive() *Live { return &Live{listeners: map[chan Change]string{}} }

// queued is how many changes wait for a slow listener. Each makes it read its
// screen anew, so more of them say nothing more.
const queued = 32

// Listen gives a channel of the changes that concern a person, and a function
// that ends it.
func (l *Live) Listen(person string) (<-chan Change, func()) {
	c := make(chan Change, queued)
	l.mu.Lock()
	defer l.mu.Unlock()
	l.listeners[c] = person
	return c, func() {
		l.mu.Lock()
		defer l.mu.Unlock()
		delete(l.listeners, c)
	}
}

// tell sends a change to those it concerns; nil concerns everybody.
func (l *Live) tell(change Change, persons map[string]bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	for c, person := range l.listeners {
		if persons != nil && !persons[person] {
			continue
		}
		select {
		case c <- change:
		default: // those in the queue will make them read anew
		}
	}
}

// tell tells everybody whom a request concerns that it changed, and the
// runner that there may be something to do.
func (k *kernel) tell(s request.State) {
	k.unforecast.add(s.ID)
	k.Live.tell(Change{"request", s.ID}, k.concerned(s))
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
