package measure

import (
	"fmt"
	"math"
	"strconv"

	"heptad/internal/core/money"
)

// InWords writes what a figure comes to, as people read it in a text.
func InWords(f *Figure, v Value, currency string) string {
	if v.Few {
		return "too few to show"
	}
	if v.Number == nil {
		return "none"
	}
	n := *v.Number
	switch f.Unit {
	case Share:
		return fmt.Sprintf("%s %% (%d of %d)", decimal(100*n), v.Part, v.Records)
	case Clock:
		return length(n, 48*3600, 86400, "days")
	case Open:
		return length(n, math.Inf(1), 1, "")
	case Money:
		return money.Of(int64(math.Round(n)), currency).String()
	case Stars:
		return decimal(n) + " of 5"
	}
	return strconv.FormatInt(int64(n), 10)
}

// decimal is a number with one digit at most behind the point.
func decimal(n float64) string { return strconv.FormatFloat(math.Round(10*n)/10, 'f', -1, 64) }

// length is a length of seconds in minutes or hours, from a size on in a larger unit.
func length(seconds, from, unit float64, name string) string {
	switch {
	case seconds < 7200:
		return decimal(math.Round(seconds/60)) + " min"
	case seconds < from:
		return decimal(seconds/3600) + " h"
	}
	return decimal(seconds/unit) + " " + name
}
