package measure

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/calendar"
)

// Target is what a figure should be, at least or at most, in the period that goes on.
type Target struct {
	Figure  string     `json:"figure" maxLength:"30"`
	Period  string     `json:"period" enum:"today,week,month,quarter,year,last30,last12" doc:"That goes on"`
	Only    []Narrowed `json:"only,omitempty" nullable:"false" maxItems:"24"`
	AtLeast bool       `json:"atLeast" doc:"It should be at least so much; else at most"`
	Goal    float64    `json:"goal" doc:"In the unit of the figure"`
	Early   *float64   `json:"early,omitempty" doc:"The level at which it is told before the goal is missed; of counts and sums also the present pace tells it"`
	People  []string   `json:"people,omitempty" nullable:"false" maxItems:"50" doc:"IDs of who is told beside who set it"`
}

// TargetPeriods are those that a target can be of.
var TargetPeriods = []string{"today", "week", "month", "quarter", "year", "last30", "last12"}

// Standing says how a target stands.
type Standing string

// How it can stand.
const (
	StandsWell   Standing = "well"
	StandsEarly  Standing = "early"  // it will be missed as it goes on now
	StandsMissed Standing = "missed" // it is
	StandsOpen   Standing = "open"   // there is nothing to count yet
)

// All lists them.
func (Standing) All() []Standing {
	return []Standing{StandsWell, StandsEarly, StandsMissed, StandsOpen}
}

// leastGone is of how much of a period a pace is told; before that it says nothing.
const leastGone = 0.1

// Stands tells how a target stands when its figure comes to a value with so much of the
// period's open time gone, from 0 to 1; and the pace: what it will come to if it goes on like
// that, of counts and sums.
func (t Target) Stands(v Value, gone float64) (Standing, *float64) {
	f, known := FigureOf(t.Figure)
	if !known || v.Number == nil {
		return StandsOpen, nil
	}
	now, worse := *v.Number, func(a, b float64) bool { return a > b }
	if t.AtLeast {
		worse = func(a, b float64) bool { return a < b }
	}
	early := func(n float64) bool { return t.Early != nil && worse(n, *t.Early) }
	if !f.Additive() {
		switch {
		case worse(now, t.Goal):
			return StandsMissed, nil
		case early(now):
			return StandsEarly, nil
		}
		return StandsWell, nil
	}
	var pace *float64
	if gone >= leastGone {
		pace = number(now / gone)
	}
	switch {
	case !t.AtLeast && worse(now, t.Goal), t.AtLeast && gone >= 1 && worse(now, t.Goal):
		return StandsMissed, pace
	case pace != nil && (worse(*pace, t.Goal) || early(*pace)), !t.AtLeast && early(now):
		return StandsEarly, pace
	}
	return StandsWell, pace
}

// Additive reports whether a figure grows as its period goes on.
func (f *Figure) Additive() bool {
	return f.Subject != OfStanding && (f.form == counts || f.form == sums)
}

// Gone is how much of the open time of a period is gone, from 0 to 1, by a calendar.
func (p Period) Gone(now time.Time, work *calendar.Calendar, zone *time.Location) float64 {
	from, until := p.From.In(zone), p.Until.In(zone)
	if !now.Before(until) {
		return 1
	}
	whole := work.Between(from, until)
	if whole <= 0 || now.Before(from) {
		return 0
	}
	return float64(work.Between(from, now)) / float64(whole)
}

// Check finds what is wrong with a target; the errors are Wrong.
func (t Target) Check(today calendar.Date, yearStart time.Month) []Wrong {
	var all []Wrong
	f, known := FigureOf(t.Figure)
	if !known {
		return []Wrong{{"/figure", fmt.Sprintf("There is no figure %q.", t.Figure)}}
	}
	if !slices.Contains(TargetPeriods, t.Period) {
		all = append(all, Wrong{"/period", "Choose a period that goes on, such as this month."})
	}
	if f.Unit == Share && (t.Goal < 0 || t.Goal > 1) {
		all = append(all, Wrong{"/goal", "A share is between 0 and 100 %."})
	}
	if t.Goal < 0 {
		all = append(all, Wrong{"/goal", "A goal is not below nothing."})
	}
	if t.Early != nil && (t.AtLeast && *t.Early < t.Goal || !t.AtLeast && *t.Early > t.Goal) {
		all = append(all, Wrong{"/early", "The early level comes before the goal: above it where it should be at least so much, else below."})
	}
	s := Sentence{Figure: t.Figure, Period: UsualPeriod, Only: t.Only, Along: ByMonth, Side: ByService, Second: ByMonth}
	if _, err := s.Fitted().Question(today, yearStart); err != nil {
		all = append(all, Wrong{"/only", err.Error()})
	}
	return all
}
