package work

import (
	"time"

	"heptad/internal/core/calendar"
)

// homeHours is the home calendar of the organisation.
func homeHours(k *kernel) *calendar.Calendar {
	if c, known := k.Company().Calendar(k.Organisation().Calendar); known {
		return c
	}
	return calendar.Plain(k.Organisation().Location())
}

// yearStart is the month in which a year of accounts begins.
func yearStart(k *kernel) time.Month { return time.Month(max(1, k.Organisation().YearStart)) }
