package promise_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/rule"
)

func compiled(t *testing.T, p promise.Promise) *promise.Compiled {
	findings := finding.List{}
	c := promise.Compile(p, nil, &findings)
	require.Empty(t, findings)
	return c
}

func instant(t *testing.T, text string) time.Time {
	at, err := time.Parse(time.RFC3339, text)
	require.NoError(t, err)
	return at
}

// The first that fits holds; a missing answer fits nothing.
func TestPromised(t *testing.T) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"speed": rule.Text}, "asker": rule.PersonFields}})
	require.NoError(t, err)
	sent := instant(t, "2027-03-05T16:00:00Z")
	targets := []promise.Target{
		{Name: "Fast", When: `answers.speed == "fast"`, Response: "4h", Fulfilment: "3d"},
		{Name: "Fleet", When: `asker.department == "Fleet"`, Fulfilment: "5d"},
		{Name: "Usual", Fulfilment: "8d"},
	}
	for name, c := range map[string]struct {
		speed, department string
		targets           int
		want              *promise.Promised
	}{
		"by an answer":              {"fast", "Fleet", 3, &promise.Promised{Name: "Fast", Response: "4h", Fulfilment: "3d", From: sent}},
		"by who asks":               {"slow", "Fleet", 3, &promise.Promised{Name: "Fleet", Fulfilment: "5d", From: sent}},
		"no answer yet":             {"", "Fleet", 3, &promise.Promised{Name: "Fleet", Fulfilment: "5d", From: sent}},
		"else the default":          {"slow", "Finance", 3, &promise.Promised{Name: "Usual", Fulfilment: "8d", From: sent}},
		"none fits, and no default": {"slow", "Finance", 2, nil},
	} {
		t.Run(name, func(t *testing.T) {
			p := compiled(t, promise.Promise{Zone: "Europe/Lisbon"})
			p.CompileTargets(targets[:c.targets], env, func(string) bool { return true }, &finding.List{})
			answers := rule.Record{}
			if c.speed != "" {
				answers["speed"] = rule.OfText(c.speed)
			}
			assert.Equal(t, c.want, p.Promised(rule.Values{Roots: map[string]rule.Record{"answers": answers, "asker": {"department": rule.OfText(c.department)}}}, sent))
		})
	}
}

func TestFindingsOfAPromise(t *testing.T) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"speed": rule.Text}}})
	require.NoError(t, err)
	maravel := calendar.MustCompile(calendar.Document{Zone: "Europe/Lisbon", Week: map[string][]string{"mon": {"08:30-12:30"}}})
	company := people.NewDirectory(people.Records{Calendars: map[string]*calendar.Calendar{"maravel": maravel}})
	for name, c := range map[string]struct {
		promise promise.Promise
		want    string
	}{
		"right":              {promise.Promise{Zone: "UTC", Calendar: "maravel", Targets: []promise.Target{{Name: "Usual", Response: "90m", Fulfilment: "5d"}}}, ""},
		"unknown calendar":   {promise.Promise{Zone: "UTC", Calendar: "moon"}, "/promise/calendar unknownCalendar"},
		"unknown zone":       {promise.Promise{Zone: "Moon/Sea"}, "/promise/zone zone"},
		"no name":            {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: " ", Fulfilment: "5d"}}}, "/promise/targets/0/name noName"},
		"no length":          {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", Fulfilment: "soon"}}}, "/promise/targets/0/fulfilment length"},
		"nothing to wait":    {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", Fulfilment: "0d"}}}, "/promise/targets/0/fulfilment length"},
		"backwards":          {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", Fulfilment: "5d", Response: "-1h"}}}, "/promise/targets/0/response length"},
		"default not last":   {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", Fulfilment: "5d"}, {Name: "B", Fulfilment: "6d"}}}, "/promise/targets/0 neverReached"},
		"some get nothing":   {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", When: `answers.speed == "x"`, Fulfilment: "5d"}}}, "/promise/targets noDefault"},
		"rule with no sense": {promise.Promise{Zone: "UTC", Targets: []promise.Target{{Name: "A", When: `answers.sped == "x"`, Fulfilment: "5d"}, {Name: "B", Fulfilment: "6d"}}}, "/promise/targets/0/when rule"},
	} {
		t.Run(name, func(t *testing.T) {
			findings := finding.List{}
			promise.Compile(c.promise, company, &findings).CompileTargets(c.promise.Targets, env, func(key string) bool { return key == "build" }, &findings)
			got := ""
			for _, f := range findings {
				got += f.Place + " " + f.Code
			}
			assert.Equal(t, c.want, got)
		})
	}
}

// Today is the date where the promise is computed, not where the server is.
func TestToday(t *testing.T) {
	for _, c := range []struct{ zone, now, want string }{
		{"Europe/Lisbon", "2027-01-10T23:30:00Z", "2027-01-10"},
		{"Europe/Oslo", "2027-01-10T23:30:00Z", "2027-01-11"},
		{"Atlantic/Azores", "2027-01-11T00:30:00Z", "2027-01-10"},
		{"Europe/Lisbon", "2027-07-10T23:30:00Z", "2027-07-11"}, // summer time
		{"UTC", "2027-07-10T23:30:00Z", "2027-07-10"},
	} {
		got := compiled(t, promise.Promise{Zone: c.zone}).Today(instant(t, c.now))
		assert.Equal(t, c.want, got.String(), "%s at %s", c.zone, c.now)
	}
}

func TestConfirmBy(t *testing.T) {
	days := func(n int) *int { return &n }
	for name, c := range map[string]struct {
		within          *int
		delivered, want string
	}{
		"five when not said":         {nil, "2027-03-08T10:00:00Z", "2027-03-15T10:00:00Z"},
		"none":                       {days(0), "2027-03-08T10:00:00Z", "2027-03-08T10:00:00Z"},
		"one over the weekend":       {days(1), "2027-03-05T16:00:00Z", "2027-03-08T16:00:00Z"},
		"delivered on a Sunday":      {days(1), "2027-03-07T16:00:00Z", "2027-03-09T00:00:00Z"},
		"over the change of clocks":  {days(2), "2027-03-26T10:00:00Z", "2027-03-30T09:00:00Z"},
		"a long silence, four weeks": {days(20), "2027-01-04T08:30:00Z", "2027-02-01T08:30:00Z"},
	} {
		t.Run(name, func(t *testing.T) {
			got := compiled(t, promise.Promise{Zone: "Europe/Lisbon", ConfirmWithin: c.within}).ConfirmBy(instant(t, c.delivered))
			assert.Equal(t, c.want, got.Format(time.RFC3339))
		})
	}
}

// Which promise holds on a day, worked by hand; the first that fits counts.
func TestPromisesOfADay(t *testing.T) {
	targets := []promise.Target{
		{Name: "Off", Fulfilment: "1h", Off: true},
		{Name: "Summer", Fulfilment: "2d", ValidFrom: "2027-06-01", ValidUntil: "2027-08-31"},
		{Name: "Usual", Fulfilment: "5d", ValidUntil: "2027-12-31"},
	}
	p := promise.Promise{Zone: "Europe/Lisbon", Targets: targets}
	var findings finding.List
	c := promise.Compile(p, nil, &findings)
	c.CompileTargets(targets, nil, func(string) bool { return true }, &findings)
	require.Empty(t, findings)
	for sent, want := range map[string]string{
		"2027-05-31T22:59:00Z": "Usual",
		"2027-05-31T23:00:00Z": "Summer", // the first of June in Lisbon
		"2027-08-31T22:59:00Z": "Summer", "2027-08-31T23:00:00Z": "Usual", "2027-12-31T23:59:00Z": "Usual", "2028-01-01T00:00:00Z": "",
	} {
		got := c.Promised(rule.Values{}, instant(t, sent))
		if want == "" {
			assert.Nil(t, got, sent)
			continue
		}
		require.NotNil(t, got, sent)
		assert.Equal(t, want, got.Name, sent)
	}
	for day, want := range map[string]string{"2027-03-01": "2027-12-31", "2027-12-31": "2027-12-31", "2028-01-01": ""} {
		on, err := calendar.ParseDate(day)
		require.NoError(t, err)
		end, ends := p.Ends(on)
		assert.Equal(t, want != "", ends, day)
		if ends {
			assert.Equal(t, want, end.String(), day)
		}
	}
	for name, c := range map[string]struct {
		t    promise.Target
		code string
	}{
		"no day":                {promise.Target{Name: "A", Fulfilment: "1d", ValidFrom: "soon"}, finding.Date},
		"over before it begins": {promise.Target{Name: "A", Fulfilment: "1d", ValidFrom: "2027-03-02", ValidUntil: "2027-03-01"}, finding.NeverValid},
		"all off":               {promise.Target{Name: "A", Fulfilment: "1d", Off: true}, finding.PromisesNothing},
	} {
		var found finding.List
		compiled := promise.Compile(promise.Promise{Zone: "Europe/Lisbon"}, nil, &found)
		compiled.CompileTargets([]promise.Target{c.t}, nil, func(string) bool { return true }, &found)
		require.Len(t, found, 1, name)
		assert.Equal(t, c.code, found[0].Code, name)
	}
}

// Two promises that people take for one another are found, and that soon none is valid.
func TestFindingsOfLikePromises(t *testing.T) {
	for want, targets := range map[string][]promise.Target{
		"/promise/targets/1/name alike":   {{Name: "Quick", Fulfilment: "1d", When: "true"}, {Name: " quick", Fulfilment: "2d"}},
		"/promise/targets/1 neverReached": {{Name: "Quick", Fulfilment: "1d", When: "true"}, {Name: "Quicker", Fulfilment: "2h", When: "true"}, {Name: "Usual", Fulfilment: "9d"}},
	} {
		findings := finding.List{}
		env, err := rule.NewEnv(rule.Scope{})
		require.NoError(t, err)
		promise.Compile(promise.Promise{Zone: "UTC"}, ports, &findings).CompileTargets(targets, env, nil, &findings)
		require.Len(t, findings, 1, want)
		assert.Equal(t, want, findings[0].Place+" "+findings[0].Code)
	}
	today, err := calendar.ParseDate("2027-03-08")
	require.NoError(t, err)
	for until, want := range map[string]int{"2027-03-31": 1, "2027-04-07": 1, "2027-04-08": 0, "": 0, "2027-03-07": 1} {
		findings := finding.List{}
		promise.Promise{Targets: []promise.Target{{Name: "Usual", ValidUntil: until}}}.Lapses(today, &findings)
		assert.Len(t, findings, want, until)
	}
}
