package request

import (
	"slices"
	"time"

	"heptad/internal/core/ladder"
	"heptad/internal/core/price"
)

// Rung is a decision as it stands on a request.
type Rung struct {
	Key      string         `json:"key"`
	Name     string         `json:"name"`
	Quorum   string         `json:"quorum"`
	Facts    []string       `json:"facts,omitempty"` // keys of the questions it shows; all when empty
	NoPrice  bool           `json:"noPrice,omitempty"`
	Say      string         `json:"say,omitempty"`  // what there is to decide
	Opened   time.Time      `json:"opened"`         // zero while it waits for an earlier rung
	Times    ladder.Times   `json:"times"`          // of what happens by itself
	Reminded int            `json:"told,omitempty"` // the highest share reminded of, in per cent; 100 once the limit is passed
	Note     string         `json:"note,omitempty"` // what is to be known of how it was asked
	Outcome  ladder.Outcome `json:"outcome"`
	Seats    []ladder.Seat  `json:"seats"`
	Votes    []Vote         `json:"votes"`
}

// Vote is what one approver said. A seat has one vote at most.
type Vote struct {
	Seat     string    `json:"seat"`           // ID of the approver whose seat it fills
	Part     string    `json:"part,omitempty"` // of the seat
	Person   string    `json:"person"`         // ID of who voted
	Decision Decision  `json:"decision"`
	Reason   string    `json:"reason,omitempty"`
	At       time.Time `json:"at"`
	Carried  bool      `json:"carried,omitempty"` // they approved on an earlier rung
}

// Decision is one vote's yes or no.
type Decision string

// The decisions.
const (
	Approve Decision = "approve"
	Decline Decision = "decline"
)

// All lists the decisions.
func (Decision) All() []Decision { return []Decision{Approve, Decline} }

// DueAt is until when the rung is to be decided: its limit, else when the
// request expires.
func (r *Rung) DueAt() time.Time {
	if r.Times.Limit.IsZero() {
		return r.Times.Expire
	}
	return r.Times.Limit
}

// Waiting lists with whom the open seats of a rung lie.
func (r *Rung) Waiting() []string {
	var out []string
	for _, seat := range r.Seats {
		if _, filled := r.VoteFor(seat); filled {
			continue
		}
		for _, person := range seat.DecidingNow() {
			if !slices.Contains(out, person) {
				out = append(out, person)
			}
		}
	}
	return out
}

// VoteOf finds what a person said on the rung.
func (r *Rung) VoteOf(person string) (Vote, bool) {
	for _, v := range r.Votes {
		if v.Person == person {
			return v, true
		}
	}
	return Vote{}, false
}

// VoteFor finds what fills a seat.
func (r *Rung) VoteFor(seat ladder.Seat) (Vote, bool) {
	for _, v := range r.Votes {
		if v.Seat == seat.Person && (v.Part == seat.Part || v.Part == "" && !r.hasWhole(v.Seat)) {
			return v, true
		}
	}
	return Vote{}, false
}

// hasWhole reports whether an approver decides on the whole. Of one who decides on
// a part only, votes of before name no part.
func (r *Rung) hasWhole(approver string) bool {
	return slices.ContainsFunc(r.Seats, func(s ladder.Seat) bool { return s.Person == approver && s.Part == "" })
}

// HasSeat reports whether a person is, or was, asked for the decision.
func (r *Rung) HasSeat(person string) bool {
	for _, seat := range r.Seats {
		if seat.Person == person || slices.ContainsFunc(seat.Others, func(o ladder.Other) bool { return o.Person == person }) {
			return true
		}
	}
	return false
}

// SeatsFor finds the seats that a person's decision fills: of those for the whole
// the one they have voted on, else their own, else the first open one they are
// asked for; and of those for a part each that nobody else has filled.
func (r *Rung) SeatsFor(person string) []ladder.Seat {
	var whole *ladder.Seat
	rank := 0
	var parts []ladder.Seat
	for i, seat := range r.Seats {
		vote, filled := r.VoteFor(seat)
		if !seat.May(person) || filled && vote.Person != person {
			continue
		}
		if seat.Part != "" {
			parts = append(parts, seat)
			continue
		}
		better := 1
		switch {
		case filled:
			better = 3
		case seat.Person == person:
			better = 2
		}
		if better > rank {
			whole, rank = &r.Seats[i], better
		}
	}
	if whole == nil {
		return parts
	}
	return append([]ladder.Seat{*whole}, parts...)
}

// Parts lists the cost centres on whose shares alone a person decides; none when
// they decide on the whole, or not at all.
func (r *Rung) Parts(person string) []string {
	var parts []string
	for _, seat := range r.Seats {
		switch {
		case !slices.Contains(seat.Everybody(), person):
		case seat.Part == "":
			return nil
		default:
			parts = append(parts, seat.Part)
		}
	}
	return parts
}

// PriceFor is as much of a price as the rung shows a person: nothing, their
// parts, or the whole.
func (r *Rung) PriceFor(person string, p price.Price) price.Price {
	if r.NoPrice {
		return price.Price{}
	}
	if parts := r.Parts(person); len(parts) > 0 {
		return p.OfParts(parts)
	}
	return p
}

// OpenSeatsFor finds the seats of these that nobody has filled yet.
func (r *Rung) OpenSeatsFor(person string) []ladder.Seat {
	return slices.DeleteFunc(r.SeatsFor(person), func(s ladder.Seat) bool {
		_, filled := r.VoteFor(s)
		return filled
	})
}

// deciders lists everybody who sits on the rung or has decided on it.
func (r *Rung) deciders() []string {
	var all []string
	for _, seat := range r.Seats {
		all = append(all, seat.Deciders()...)
	}
	for _, v := range r.Votes {
		all = append(all, v.Person)
	}
	return all
}

// rivals lists who cannot join a seat, as they decide already: of one for a part
// those who fill it, as one person may decide on several parts; of one for the
// whole those who decide on the whole.
func (r *Rung) rivals(seat ladder.Seat) []string {
	if seat.Part != "" {
		return seat.Everybody()
	}
	var all []string
	for _, other := range r.Seats {
		if other.Part == "" {
			all = append(all, other.Deciders()...)
			if v, filled := r.VoteFor(other); filled {
				all = append(all, v.Person)
			}
		}
	}
	return all
}

// stand counts the votes: the quorum of the seats for the whole must be reached,
// and every part needs its own yes (rules.md 5).
func (r *Rung) stand() ladder.Outcome {
	seats, approvals, declines, open := 0, 0, 0, false
	for _, seat := range r.Seats {
		vote, filled := r.VoteFor(seat)
		if seat.Part != "" {
			if filled && vote.Decision == Decline {
				return ladder.Declined
			}
			open = open || !filled
			continue
		}
		seats++
		switch {
		case filled && vote.Decision == Approve:
			approvals++
		case filled:
			declines++
		}
	}
	switch outcome := ladder.Stand(r.Quorum, seats, approvals, declines); {
	case seats > 0 && outcome != ladder.Passed:
		return outcome
	case open:
		return ladder.Open
	}
	return ladder.Passed
}
