package foresee

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"
)

// Outlook is what a season would come to, or came to.
type Outlook struct {
	Sent     int              `json:"sent" doc:"Requests sent within it, in the middle of the runs"`
	Teams    []TeamOutlook    `json:"teams" nullable:"false" doc:"Those with anything to do"`
	Promises []PromiseOutlook `json:"promises" nullable:"false"`
}

// TeamOutlook is a team over a season.
type TeamOutlook struct {
	Key     string        `json:"key"`
	Name    string        `json:"name"`
	People  int           `json:"people" doc:"Its members"`
	Done    float64       `json:"done" doc:"Tasks, in the mean of the runs"`
	Load    Spread        `json:"load" doc:"Work by the open time of its members: 1 is all of it"`
	Waited  Spread        `json:"waited" doc:"Open minutes that a task lies before somebody takes it, in the mean"`
	Late    Spread        `json:"late" doc:"Share of the tasks that end after they were due, or their request was"`
	Weeks   []WeekOutlook `json:"weeks" nullable:"false"`
	Behind  []string      `json:"behind" nullable:"false" doc:"Weeks in which it is late, such as 2027-W26"`
	Summary string        `json:"summary" doc:"In words"`
}

// WeekOutlook is a week of a team, in the mean of the runs.
type WeekOutlook struct {
	Week   string    `json:"week" doc:"Such as 2027-W26"`
	From   time.Time `json:"from"`
	Done   float64   `json:"done"`
	Load   float64   `json:"load"`
	Waited float64   `json:"waited" doc:"Open minutes"`
	Late   float64   `json:"late"`
}

// PromiseOutlook is how often something that is promised is kept.
type PromiseOutlook struct {
	Offering string  `json:"offering" doc:"Key; empty for those of others together"`
	Name     string  `json:"name" doc:"Of the promise"`
	Of       float64 `json:"of" doc:"Requests, in the mean of the runs"`
	Kept     Spread  `json:"kept" doc:"Share"`
}

// Spread is a figure over the runs of a season: its mean, and between what nine of ten runs
// lie.
type Spread struct {
	Mean float64 `json:"mean"`
	Low  float64 `json:"low"`
	High float64 `json:"high"`
}

// spread is the spread of figures; the mean is of what they are made up of, where it is given.
func spread(all []float64, mean float64) Spread {
	slices.Sort(all)
	n := len(all)
	if n == 0 {
		return Spread{Mean: mean, Low: mean, High: mean}
	}
	return Spread{mean, min(mean, all[n/20]), max(mean, all[n-1-n/20])}
}

// Only leaves out the teams that are not named.
func (o *Outlook) Only(teams map[string]bool) {
	o.Teams = slices.DeleteFunc(o.Teams, func(t TeamOutlook) bool { return !teams[t.Key] })
}

// behindFrom is the share of late tasks from which on a team is late in a week, and leastInWeek
// how many tasks it takes to say so.
const (
	behindFrom  = 0.2
	leastInWeek = 3
)

func ratio(a, b float64) float64 {
	if b == 0 {
		return 0
	}
	return a / b
}

// outlook puts runs together.
func (w *world) outlook(runs []tally) Outlook {
	out := Outlook{Teams: []TeamOutlook{}, Promises: []PromiseOutlook{}}
	var sent []int
	for _, r := range runs {
		sent = append(sent, r.sent)
	}
	slices.Sort(sent)
	out.Sent = sent[len(sent)/2]
	n := float64(len(runs))
	for i, t := range w.teams {
		team := TeamOutlook{Key: t.Key, Name: t.Name, People: len(t.members), Behind: []string{}, Weeks: []WeekOutlook{}}
		var loads, waits, lates []float64
		var whole sums
		var open int64
		for k := range w.weeks {
			open += t.open[k]
		}
		for _, r := range runs {
			var one sums
			for _, s := range r.teams[i] {
				one.add(s)
			}
			whole.add(one)
			loads = append(loads, ratio(float64(one.worked), float64(open)))
			if one.done > 0 {
				waits, lates = append(waits, float64(one.waited)/float64(one.done)/60), append(lates, float64(one.late)/float64(one.done))
			}
		}
		if whole.done == 0 {
			continue
		}
		team.Done = float64(whole.done) / n
		team.Load = spread(loads, ratio(float64(whole.worked), float64(open)*n))
		team.Waited = spread(waits, float64(whole.waited)/float64(whole.done)/60)
		team.Late = spread(lates, float64(whole.late)/float64(whole.done))
		for k, from := range w.weeks {
			var sum sums
			for _, r := range runs {
				sum.add(r.teams[i][k])
			}
			team.week(from, sum, n, float64(t.open[k]))
		}
		team.sum()
		out.Teams = append(out.Teams, team)
	}
	for i, key := range w.promises {
		offering, name, _ := strings.Cut(key, "\x00")
		p := PromiseOutlook{Offering: offering, Name: name}
		var shares []float64
		var of, kept int
		for _, r := range runs {
			of, kept = of+r.of[i], kept+r.kept[i]
			if r.of[i] > 0 {
				shares = append(shares, float64(r.kept[i])/float64(r.of[i]))
			}
		}
		if of == 0 {
			continue
		}
		p.Of, p.Kept = float64(of)/n, spread(shares, float64(kept)/float64(of))
		out.Promises = append(out.Promises, p)
	}
	slices.SortFunc(out.Promises, func(a, b PromiseOutlook) int {
		return cmp.Or(strings.Compare(a.Offering, b.Offering), strings.Compare(a.Name, b.Name))
	})
	return out
}

func (s *sums) add(o sums) {
	s.done, s.late, s.worked, s.waited = s.done+o.done, s.late+o.late, s.worked+o.worked, s.waited+o.waited
}

// week adds a week: the sums of so many runs.
func (t *TeamOutlook) week(from int64, sum sums, runs, open float64) {
	at := time.Unix(from, 0).UTC()
	year, number := at.ISOWeek()
	w := WeekOutlook{Week: fmt.Sprintf("%d-W%02d", year, number), From: at, Done: float64(sum.done) / runs, Load: ratio(float64(sum.worked), open*runs)}
	w.Waited, w.Late = ratio(float64(sum.waited), float64(sum.done))/60, ratio(float64(sum.late), float64(sum.done))
	if w.Late >= behindFrom && w.Done >= leastInWeek {
		t.Behind = append(t.Behind, w.Week)
	}
	t.Weeks = append(t.Weeks, w)
}

// sum says in words how a team does.
func (t *TeamOutlook) sum() {
	t.Summary = t.Name + " would keep up"
	if len(t.Behind) > 0 {
		t.Summary = t.Name + " would be late in " + weeksInWords(t.Behind)
	}
}

// weeksInWords names weeks, those that follow each other together: weeks 26–29 and 31.
func weeksInWords(weeks []string) string {
	var parts []string
	number := func(week string) string { return strings.TrimLeft(week[strings.Index(week, "W")+1:], "0") }
	for i := 0; i < len(weeks); {
		j := i
		for j+1 < len(weeks) && follows(weeks[j], weeks[j+1]) {
			j++
		}
		part := number(weeks[i])
		if j > i {
			part += "–" + number(weeks[j])
		}
		parts = append(parts, part)
		i = j + 1
	}
	word := "week "
	if len(weeks) > 1 {
		word = "weeks "
	}
	if n := len(parts); n > 1 {
		return word + strings.Join(parts[:n-1], ", ") + " and " + parts[n-1]
	}
	return word + parts[0]
}

// follows reports whether a week is the one after another.
func follows(a, b string) bool {
	var year, week int
	if _, err := fmt.Sscanf(a, "%d-W%d", &year, &week); err != nil {
		return false
	}
	next := time.Date(year, time.January, 4, 0, 0, 0, 0, time.UTC).AddDate(0, 0, 7*week) // the fourth is always in the first week
	y, w := next.ISOWeek()
	return b == fmt.Sprintf("%d-W%02d", y, w)
}
