package starter_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
	"heptad/internal/starter"
)

var keep = flag.Bool("keep", false, "keep the cases of the starter set anew")

// madeUp is a company of nobody who is there: who asks, whom they answer to, and a team.
var madeUp = script.Company{
	Alone: true,
	People: []script.Person{
		{Login: "kim", Name: "Kim Example", Title: "Head of everything"},
		{Login: "robin", Name: "Robin Example", Title: "Colleague", Department: "Sales", Location: "Main house", Manager: "kim"},
		{Login: "alex", Name: "Alex Example", Title: "Colleague", Department: "Sales", Location: "Main house", Manager: "kim"},
		{Login: "sam", Name: "Sam Example", Title: "Lead", Department: "Services", Manager: "kim", Teams: []string{offering.Home}},
		{Login: "jo", Name: "Jo Example", Title: "Doer", Department: "Services", Manager: "sam", Teams: []string{offering.Home}},
	},
	Teams:     []script.Team{{Key: offering.Home, Name: "Home team", Lead: "sam"}},
	Services:  []script.Service{{Key: "", Name: "Service", Area: "Area", Owner: "kim", Home: offering.Home}},
	Locations: []script.Location{{Name: "Main house"}},
}

// in is one of the set as it is in a service.
func in(d offering.Document, service, home string) offering.Document {
	d.Plan = append(d.Plan[:0:0], d.Plan...)
	for i := range d.Plan {
		d.Plan[i].Team = home
	}
	d.Purpose.Service, d.Cases = service, offering.FitCases(d.Cases, service, home)
	return d
}

// Each of the set has cases that hold, in whichever service it is taken.
func TestTheCasesHold(t *testing.T) {
	if *keep {
		keepCases(t)
	}
	for _, d := range starter.All() {
		assert.GreaterOrEqual(t, len(d.Cases), 2, d.Key)
		for _, tried := range rehearse.TryAll(in(d, "desk", "bench"), nil, nil) {
			assert.True(t, tried.Passed, "%s: %s %v", d.Key, tried.Words(), tried.Different)
		}
	}
}

func keepCases(t *testing.T) {
	for _, d := range starter.All() {
		d = in(d, "", offering.Home)
		d.Cases = nil
		company, err := rehearse.Within(nil, script.Script{Company: &madeUp})
		require.NoError(t, err)
		ground := rehearse.Ground{Company: company, Compile: func(in *people.Directory) (*offering.Compiled, finding.List) {
			return offering.Compile(d, 1, offering.Company{Directory: in})
		}}
		proposed, err := rehearse.Propose(ground, nil)
		require.NoError(t, err, d.Key)
		require.NotEmpty(t, proposed.Proposals, d.Key)
		usual := proposed.Proposals[0].Script
		usual.Script, usual.Cast, usual.Company = nil, script.Cast{}, &madeUp
		silent := usual
		silent.Cast.Asker = script.Silent
		var file bytes.Buffer
		path := "offerings/" + d.Key + ".yaml"
		data, err := os.ReadFile(path)
		require.NoError(t, err)
		head, _, _ := bytes.Cut(data, []byte("\ncases:\n"))
		file.Write(bytes.TrimRight(head, "\n"))
		file.WriteString("\ncases:\n")
		for _, one := range []struct {
			name   string
			script script.Script
		}{{"As usual", usual}, {"Nobody confirms", silent}} {
			life, err := rehearse.Run(rehearse.Carried(d, nil, nil), one.script)
			require.NoError(t, err, d.Key)
			line, err := json.Marshal(life.Result().Case(one.name, one.script))
			require.NoError(t, err)
			file.WriteString("  - " + string(line) + "\n")
		}
		require.NoError(t, os.WriteFile(path, file.Bytes(), 0o644))
	}
}
