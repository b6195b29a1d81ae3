package work

import (
	"context"
	"fmt"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/foresee"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// SeasonAsked says which season is foreseen, how much is asked for in it, and what is
// changed.
type SeasonAsked struct {
	From    string         `json:"from" format:"date" doc:"First day"`
	Until   string         `json:"until" format:"date" doc:"Last day"`
	Demand  []Demand       `json:"demand,omitempty" maxItems:"20" nullable:"false"`
	Changes foresee.Levers `json:"changes"`
}

// Demand is how much more or less is asked for than in the past.
type Demand struct {
	Offering string `json:"offering,omitempty" maxLength:"100" doc:"Key; all others when left out"`
	Percent  int    `json:"percent" minimum:"-90" maximum:"400" doc:"So much more"`
}

// Foresight is what a season would come to as everything is, with the draft and what is
// changed, and how near a simulation comes to what really happened.
type Foresight struct {
	From      string          `json:"from" format:"date" doc:"First day"`
	Until     string          `json:"until" format:"date" doc:"Last day"`
	PastFrom  string          `json:"pastFrom" format:"date" doc:"First day of the time that what is asked for is taken from"`
	PastUntil string          `json:"pastUntil" format:"date"`
	Past      int             `json:"past" doc:"Requests of that time"`
	Failed    int             `json:"failed" doc:"Of them, those that could not be worked out"`
	Before    foresee.Outlook `json:"before" doc:"With the version that is published"`
	After     foresee.Outlook `json:"after" doc:"With the draft, and what is changed"`
	Check     *SeasonCheck    `json:"check,omitempty" doc:"Nothing where there is no past quarter"`
}

// SeasonCheck is the last quarter as it is simulated, with what was known before it, and as it
// was.
type SeasonCheck struct {
	From      string          `json:"from" format:"date" doc:"First day"`
	Until     string          `json:"until" format:"date" doc:"Last day"`
	Simulated foresee.Outlook `json:"simulated"`
	Measured  foresee.Outlook `json:"measured"`
}

// Limits of a season that is foreseen.
const (
	mostSeasonDays  = 186
	mostSeasonAhead = 2 * 366
	mostForms       = 20_000
	seasonRuns      = 50
	checkRuns       = 20
	warmUp          = 35 // days before a season from which on its teams work
	yearOfWeeks     = 364
)

// Foresee begins to simulate a season with the draft of an offering in place of what is
// published, in the background; it gives the ID of the study.
func (w *Rehearsing) Foresee(ctx context.Context, person, key string, asked SeasonAsked) (string, error) {
	v, c, err := w.usable(ctx, person, key)
	if err != nil {
		return "", err
	}
	season, err := w.season(ctx, asked)
	if err != nil {
		return "", err
	}
	return w.begin(ctx, store.StudyForesee, person, v, asked, func(ctx context.Context, one *study) (any, error) {
		f := &foreseeing{Rehearsing: w, one: one, key: key, draft: c, levers: asked.Changes}
		return f.all(ctx, person, season)
	})
}

// planned is a season that can be foreseen, and the past that it is foreseen from.
type planned struct {
	foresee.Season
	days     int // from the past to the season, in whole weeks
	past     store.PastAsked
	check    foresee.Season
	checked  store.PastAsked
	requests int // of both pasts
}

// season checks what is asked for.
func (w *Rehearsing) season(ctx context.Context, asked SeasonAsked) (planned, error) {
	refuse := func(place, format string, args ...any) (planned, error) {
		return planned{}, &request.Refusal{Kind: request.Invalid, Code: refusal.Season, Sentence: fmt.Sprintf(format, args...), Place: place}
	}
	from, err1 := calendar.ParseDate(asked.From)
	until, err2 := calendar.ParseDate(asked.Until)
	today := calendar.DateOf(w.Clock().In(w.Organisation().Location()))
	switch {
	case err1 != nil || err2 != nil || until.Compare(from) < 0:
		return refuse("/until", "The last day is before the first.")
	case until.Since(from) >= mostSeasonDays:
		return refuse("/until", "A season has %d days at most.", mostSeasonDays)
	case from.Compare(today) < 0:
		return refuse("/from", "That is over: a season that is foreseen begins today at the earliest.")
	case until.Since(today) > mostSeasonAhead:
		return refuse("/until", "Nobody can look so far ahead: two years at most.")
	}
	for i, more := range asked.Changes.People {
		if _, known := w.Company().Team(more.Team); !known {
			return refuse(fmt.Sprintf("/changes/people/%d/team", i), "There is no team %q.", more.Team)
		}
	}
	for i, p := range asked.Changes.Promises {
		if _, err := calendar.ParseLength(p.Fulfilment); err != nil {
			return refuse(fmt.Sprintf("/changes/promises/%d/fulfilment", i), "%q is no length of time: write it like 8h or 5d.", p.Fulfilment)
		}
	}
	zone, now := w.Organisation().Location(), w.Clock().UTC()
	s := planned{Season: foresee.Season{Factors: map[string]float64{}, Runs: seasonRuns, Absences: w.Company().Absences(), Own: map[string]bool{}}}
	for _, d := range asked.Demand {
		s.Factors[d.Offering] = 1 + float64(d.Percent)/100
	}
	s.From, s.Until = from.In(zone).UTC(), until.AddDays(1).In(zone).UTC()
	for s.Until.AddDate(0, 0, 7-s.days).After(now) {
		s.days += yearOfWeeks
	}
	s.past = store.PastAsked{From: s.From.AddDate(0, 0, -warmUp-s.days), Until: s.Until.AddDate(0, 0, 7-s.days)}
	s.check = foresee.Season{Exact: true, Runs: checkRuns, Absences: s.Absences, Own: s.Own}
	s.check.From, s.check.Until = lastQuarter(now.In(zone))
	s.checked = store.PastAsked{From: s.check.From.AddDate(0, 0, -warmUp), Until: s.check.Until}
	n, err := w.Store.CountPast(ctx, s.past)
	if err != nil {
		return s, err
	}
	if n > mostForms {
		return refuse("/until", "More than %d requests were sent in that time of a year: choose a shorter season.", mostForms)
	}
	checked, err := w.Store.CountPast(ctx, s.checked)
	if s.requests = n + checked; checked > mostForms {
		s.requests, s.check.Runs = n, 0 // too many to be held against
	}
	return s, err
}

// foreseeing is a season on its way.
type foreseeing struct {
	*Rehearsing
	one    *study
	key    string
	draft  *offering.Compiled
	levers foresee.Levers
	failed int
}

func (f *foreseeing) all(ctx context.Context, person string, s planned) (any, error) {
	f.one.of.Store(int64(s.requests + 2*s.Runs + s.check.Runs))
	published, err := f.published(ctx)
	if err != nil {
		return nil, err
	}
	current := map[string]int{}
	for _, e := range published {
		current[e.Offering] = e.Number
		s.Own[e.Offering] = f.designs(person, e.Service)
	}
	s.Own[f.key] = true
	out := Foresight{}
	out.From, out.Until = f.days(s.From, s.Until, 0)
	out.PastFrom, out.PastUntil = f.days(s.From, s.Until, s.days)
	before, after, err := f.forms(ctx, s.past, f.Clock(), s.days, func(p store.PastRequest) (int, bool) {
		number, known := current[p.State.Offering]
		return number, known
	})
	if err != nil {
		return nil, err
	}
	out.Past, out.Failed = len(before), f.failed
	touched := f.touched(before, after)
	if out.Before, err = f.simulate(ctx, s.Season, before, foresee.Levers{}); err != nil {
		return nil, err
	}
	if out.After, err = f.simulate(ctx, s.Season, after, f.levers); err != nil {
		return nil, err
	}
	if out.Check, err = f.check(ctx, s); err != nil {
		return nil, err
	}
	out.Before.Only(touched)
	out.After.Only(touched)
	if out.Check != nil {
		out.Check.Simulated.Only(touched)
		out.Check.Measured.Only(touched)
	}
	return out, nil
}

func (f *foreseeing) simulate(ctx context.Context, s foresee.Season, forms []foresee.Form, levers foresee.Levers) (foresee.Outlook, error) {
	s.Forms, s.Teams = forms, f.teams(levers)
	return s.Simulate(ctx, func() { f.one.done.Add(1) })
}

func (f *foreseeing) teams(levers foresee.Levers) []foresee.Team {
	return foresee.TeamsOf(f.Company(), calendar.Plain(f.Organisation().Location()), levers)
}

// days are the first and the last day of a time, so many days before.
func (f *foreseeing) days(from, until time.Time, before int) (first, last string) {
	zone := f.Organisation().Location()
	return calendar.DateOf(from.In(zone)).AddDays(-before).String(), calendar.DateOf(until.In(zone)).AddDays(-1 - before).String()
}

// lastQuarter is the last quarter of a year that is over.
func lastQuarter(now time.Time) (from, until time.Time) {
	until = time.Date(now.Year(), (now.Month()-1)/3*3+1, 1, 0, 0, 0, 0, now.Location())
	return until.AddDate(0, -3, 0), until
}

// touched are the teams that have to do with the offering, or whose people are changed.
func (f *foreseeing) touched(all ...[]foresee.Form) map[string]bool {
	teams := map[string]bool{}
	for _, forms := range all {
		for _, form := range forms {
			if form.Offering != f.key {
				continue
			}
			for _, s := range form.Steps {
				if s.Team != "" {
					teams[s.Team] = true
				}
			}
		}
	}
	for _, more := range f.levers.People {
		teams[more.Team] = true
	}
	return teams
}

// check simulates the last quarter, with its own requests as they came and times that were
// measured before it.
func (f *foreseeing) check(ctx context.Context, s planned) (*SeasonCheck, error) {
	if s.check.Runs == 0 {
		return nil, nil
	}
	as := *f
	as.key, as.levers = "", foresee.Levers{} // as it was
	forms, _, err := as.forms(ctx, s.checked, s.check.From, 0, func(p store.PastRequest) (int, bool) { return p.State.Version, true })
	if err != nil || len(forms) == 0 {
		return nil, err
	}
	out := SeasonCheck{}
	out.From, out.Until = f.days(s.check.From, s.check.Until, 0)
	if out.Simulated, err = f.simulate(ctx, s.check, forms, foresee.Levers{}); err != nil {
		return nil, err
	}
	did, err := f.Store.DidIn(ctx, s.check.From, s.check.Until)
	if err != nil {
		return nil, err
	}
	kept, err := f.Store.KeptIn(ctx, s.check.From, s.check.Until)
	if err != nil {
		return nil, err
	}
	sent, err := f.Store.CountPast(ctx, store.PastAsked{From: s.check.From, Until: s.check.Until})
	s.check.Teams = f.teams(foresee.Levers{})
	out.Measured = s.check.Measured(did, kept, sent)
	return &out, err
}

// forms works out past requests as they would come again so many days later: by the version
// that is given for each, and by the draft and what is changed. What the change does not
// touch is worked out once.
func (f *foreseeing) forms(ctx context.Context, asked store.PastAsked, measured time.Time, shift int, version func(store.PastRequest) (int, bool)) (before, after []foresee.Form, err error) {
	took, err := f.Store.TookIn(ctx, measured.AddDate(-1, 0, 0), measured)
	if err != nil {
		return nil, nil, err
	}
	times := foresee.TimesOf(took)
	failed, err := f.eachPast(ctx, f.one, asked, func(p store.PastRequest) error {
		of, offered := version(p)
		if !offered {
			return nil
		}
		c, err := f.Version(ctx, p.State.Offering, of)
		if err != nil {
			return err
		}
		was, then := f.form(foresee.Evaluating{Offering: c, Company: f.Company(), Measures: times[p.State.Offering], Shift: shift}, p)
		before, after = append(before, was), append(after, then)
		return nil
	})
	f.failed += failed
	return before, after, err
}

// form works one past request out, without the change and with it.
func (f *foreseeing) form(e foresee.Evaluating, p store.PastRequest) (was, then foresee.Form) {
	was = e.Form(p.Past)
	switch {
	case p.State.Offering == f.key:
		e.Offering = f.draft
	case !f.levers.Touch(p.State.Offering):
		return was, was
	}
	e.Levers = f.levers
	return was, e.Form(p.Past)
}
