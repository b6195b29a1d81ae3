package measure

import (
	"fmt"
	"slices"
	"time"

	"heptad/internal/core/calendar"
)

// Sentence is what somebody looks at: "Promises kept in the last twelve months, of
// Facilities, asked by everyone, by month". All on the screen follows from it.
type Sentence struct {
	Figure string     `json:"figure" maxLength:"30" doc:"Key of the one that is told apart"`
	Period string     `json:"period" maxLength:"30" doc:"Key of a choice, or such as 2026, 2026-Q3, 2026-10, 2026-W41, 2026-10-05 or 2026-01-01/2026-03-31"`
	Only   []Narrowed `json:"only,omitempty" nullable:"false" maxItems:"24"`
	Along  Side       `json:"along" doc:"The side that it is told along: of time, or one that comes again and again"`
	Side   Side       `json:"side" doc:"The side that it is made up of"`
	Second Side       `json:"second" doc:"The other side of the grid"`
}

// Narrowed lets only some values of a side count.
type Narrowed struct {
	Side Side     `json:"side"`
	Keys []string `json:"keys" nullable:"false" minItems:"1" maxItems:"200" doc:"Of the values that count"`
}

// Usual is the sentence one begins with.
func Usual() Sentence {
	return Sentence{Figure: "kept", Period: UsualPeriod, Along: ByMonth, Side: ByService, Second: ByMonth}
}

// Rows are the figures that stand in a row above a figure of a subject.
func Rows(of Subject) []string {
	switch of {
	case OfTasks:
		return []string{"tasks", "taskInTime", "taskWaited", "taskWorked", "taskStuck", "taskHanded", "automatic", "hours", "saved"}
	case OfRungs:
		return []string{"decisions", "decisionTime", "passed", "deciding", "declined"}
	case OfSearches, OfForms:
		return []string{"foundNothing", "givenUp"}
	}
	return []string{"asked", "ended", "open", "overdue", "kept", "well", "done", "sentBack", "rating"}
}

// Wrong says what is wrong with a part of a sentence.
type Wrong struct{ Place, Sentence string }

func (w Wrong) Error() string { return w.Sentence }

// Question reads a sentence as of a day; the error is a Wrong.
func (s Sentence) Question(today calendar.Date, yearStart time.Month) (Question, error) {
	f, known := FigureOf(s.Figure)
	if !known {
		return Question{}, Wrong{"/figure", fmt.Sprintf("There is no figure %q.", s.Figure)}
	}
	period, err := ParsePeriod(s.Period, today, yearStart)
	if err != nil {
		return Question{}, Wrong{"/period", err.Error() + "."}
	}
	q := Question{Period: period, Only: map[Side][]string{}}
	for i, n := range s.Only {
		place := fmt.Sprintf("/only/%d", i)
		switch {
		case n.Side.Name() == "":
			return Question{}, Wrong{place, fmt.Sprintf("There is no side %q.", n.Side)}
		case n.Side.Timely():
			return Question{}, Wrong{place, "Of time a period is chosen."}
		case len(n.Keys) == 0:
			return Question{}, Wrong{place, "Choose at least one value that counts."}
		}
		q.Only[n.Side] = append(q.Only[n.Side], n.Keys...)
	}
	for place, side := range map[string]Side{"/along": s.Along, "/side": s.Side, "/second": s.Second} {
		if side.Name() == "" || !f.Takes(side) {
			return Question{}, Wrong{place, fmt.Sprintf("%q cannot be told apart by %q.", f.Name, side)}
		}
	}
	if !s.Along.Timely() && !s.Along.Recurring() {
		return Question{}, Wrong{"/along", "It is told along time."}
	}
	return q, nil
}

// Fitted is the sentence with sides that its figure can be told apart by, where those that it
// names cannot.
func (s Sentence) Fitted() Sentence {
	f, known := FigureOf(s.Figure)
	if !known {
		return s
	}
	fit := func(side Side, others ...Side) Side {
		all := append([]Side{side}, others...)
		if i := slices.IndexFunc(all, func(s Side) bool { return s.Name() != "" && f.Takes(s) }); i >= 0 {
			return all[i]
		}
		return side
	}
	s.Along, s.Side, s.Second = fit(s.Along, ByMonth), fit(s.Side, ByService, ByDepartment), fit(s.Second, ByMonth)
	if !s.Along.Timely() && !s.Along.Recurring() {
		s.Along = ByMonth
	}
	return s
}
