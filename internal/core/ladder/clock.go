package ladder

import (
	"slices"
	"time"

	"heptad/internal/core/calendar"
)

// Times are the instants at which something happens on an open rung by itself.
type Times struct {
	Remind []Reminder `json:"remind,omitempty"` // in order
	Limit  time.Time  `json:"limit"`            // zero when the rung has no limit of its own
	Expire time.Time  `json:"expire"`           // when the request closes as expired, whatever happened before
}

// Reminder is a share of the limit, in per cent, and when it is reached.
type Reminder struct {
	Share int       `json:"share"`
	At    time.Time `json:"at"`
}

// Times works out when a rung that opened at an instant reminds, reaches its
// limit and expires, in the working time of a calendar, to the whole
// millisecond. Every rung ends: it
// expires twenty working days after its limit, or after it opened when it has
// none.
func (r Rung) Times(opened time.Time, work *calendar.Calendar) Times {
	var t Times
	from := opened
	if limit, err := calendar.ParseLength(r.Limit); err == nil && r.Limit != "" {
		t.Limit = work.After(opened, limit).Truncate(time.Millisecond)
		from = t.Limit
		whole := work.Between(opened, t.Limit)
		for _, share := range r.Remind {
			at, err := work.Add(opened, whole*time.Duration(share)/100)
			if err != nil {
				continue
			}
			t.Remind = append(t.Remind, Reminder{share, at.Truncate(time.Millisecond)})
		}
		slices.SortFunc(t.Remind, func(a, b Reminder) int { return a.Share - b.Share })
	}
	t.Expire = work.After(from, UsualLimit).Truncate(time.Millisecond)
	return t
}

// LimitWords is the limit as people say it; empty for none.
func (r Rung) LimitWords() string {
	l, err := calendar.ParseLength(r.Limit)
	if err != nil {
		return ""
	}
	return l.Words()
}
