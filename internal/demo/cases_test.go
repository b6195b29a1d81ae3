package demo_test

import (
	"bytes"
	"encoding/json"
	"flag"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect/systems"
	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
)

var keep = flag.Bool("keep", false, "keep the cases of the demo's offerings anew")

// mishap reports whether something goes wrong in a case.
func mishap(c script.Case) bool {
	return len(c.Script.Script) > 0 || len(c.Script.Cast.Systems) > 0 || c.Script.Cast.Approvers.None || c.Script.Cast.Asker == script.Silent
}

// Each offering of the demo is guarded by at least three cases, one of them a mishap, that
// hold on what they carry themselves.
func TestTheCasesHold(t *testing.T) {
	if *keep {
		keepCases(t)
	}
	documents, err := demo.Offerings()
	require.NoError(t, err)
	for _, d := range documents {
		t.Run(d.Key, func(t *testing.T) {
			t.Parallel()
			assert.GreaterOrEqual(t, len(d.Cases), 3)
			mishaps := 0
			for _, tried := range rehearse.TryAll(d, nil, systems.Described()) {
				assert.True(t, tried.Passed, "%s %v", tried.Words(), tried.Different)
			}
			for _, c := range d.Cases {
				require.NotNil(t, c.Script.Company, c.Name)
				assert.True(t, c.Script.Company.Alone, c.Name)
				if mishap(c) {
					mishaps++
				}
			}
			assert.Positive(t, mishaps)
		})
	}
}

// keepCases makes the cases: of what is proposed the first, and what goes wrong.
func keepCases(t *testing.T) {
	o := demotest.New(t)
	calendars, err := o.Store.Calendars(t.Context())
	require.NoError(t, err)
	files, err := filepath.Glob("offerings/*")
	require.NoError(t, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		d, err := offering.Parse(data)
		require.NoError(t, err)
		d.Cases = nil
		ground := rehearse.Ground{Company: o.Company(), Connectors: systems.Described(), Compile: func(in *people.Directory) (*offering.Compiled, finding.List) {
			return offering.Compile(d, 1, offering.Company{Directory: in, Connectors: systems.Described()})
		}}
		var cases []script.Case
		for _, p := range scripts(t, ground, d.Key) {
			life, err := rehearse.Run(ground, p.Script)
			require.NoError(t, err, "%s: %s", d.Key, p.Name)
			alone, result, err := life.Kept(calendars, systems.Described())
			require.NoError(t, err, "%s: %s", d.Key, p.Name)
			cases = append(cases, result.Case(p.Name, alone))
		}
		require.NoError(t, os.WriteFile(file, withCases(t, data, cases, filepath.Ext(file) == ".json"), 0o644))
	}
}

// scripts are what is kept of an offering: two of what is proposed where all goes well, and
// two where something goes wrong.
func scripts(t *testing.T, g rehearse.Ground, key string) []rehearse.Proposal {
	t.Helper()
	if own := byHand(t, key); own != nil {
		return own
	}
	proposed, err := rehearse.Propose(g, nil)
	require.NoError(t, err)
	var well, ill []rehearse.Proposal
	for _, p := range proposed.Proposals {
		if mishap(script.Case{Script: p.Script}) {
			ill = append(ill, p)
		} else {
			well = append(well, p)
		}
	}
	require.NotEmpty(t, append(well, ill...), key)
	base := append(well, ill...)[0]
	usual := base
	usual.Script.Script, usual.Script.Cast = nil, script.Cast{}
	usual.Name = "As usual"
	if len(well) == 0 || well[0].Name == "As usual" {
		well = append([]rehearse.Proposal{usual}, well[min(1, len(well)):]...)
	}
	silent := usual
	silent.Name, silent.Script.Cast.Asker = "Nobody confirms", script.Silent
	ill = append(ill, silent)
	out := append(well[:min(2, len(well))], ill[:min(2, len(ill))]...)
	if len(out) < 3 {
		slow := usual
		slow.Name, slow.Script.Cast.Tasks = "The work takes ten times as long", script.Tasks{Factor: 10}
		out = append(out, slow)
	}
	return out
}

// byHand are scripts that no search finds: of a table whose cells have to add up, and of the
// story of the demo.
func byHand(t *testing.T, key string) []rehearse.Proposal {
	t.Helper()
	send := time.Date(2027, 5, 18, 8, 10, 0, 0, time.UTC)
	base := script.Script{Format: script.Format, Send: send}
	answers := func(text string) form.Answers {
		var all map[string]any
		require.NoError(t, json.Unmarshal([]byte(text), &all))
		return coretest.Answers(all)
	}
	switch key {
	case "lifejacket-inspection-round":
		base.Asker.Login = "garnier"
		base.Answers = answers(`{"vessel":"tern","total":430,"sizes":[{"size":"adult","count":360},{"size":"child","count":50},{"size":"crew","count":20}]}`)
		good, bad, silent := base, base, base
		bad.Answers = answers(`{"vessel":"heron","total":430,"sizes":[{"size":"adult","count":360,"bad":7},{"size":"child","count":50},{"size":"crew","count":20}]}`)
		silent.Cast.Asker = script.Silent
		return []rehearse.Proposal{{Name: "All jackets are good", Script: good}, {Name: "Seven are worn", Script: bad}, {Name: "Nobody confirms", Script: silent}}
	case "sign-on-a-crew-member":
		base.Asker.Login, base.For = "quist", &script.Who{Made: &script.Person{Name: "Ada Lund", Department: "Fleet"}}
		base.Answers = answers(`{"contract":"permanent","vessel":"heron","rank":"second","start":"2027-06-01","cabin":[{"item":"cabin-single","quantity":1}],"uniform":[{"item":"uniform-bridge","quantity":1,"options":{"size":"m"}}],"certificates":[{"kind":"basic","number":"B-1","until":"2028-01-01"}]}`)
		usual, badges, declined, season := base, base, base, base
		badges.Cast.Systems = map[string]script.System{"badges": {Refuse: 2}}
		badges.Cast.Tasks.Each = map[string]script.TimesItem{"cabin": {Factor: 3}}
		declined.Script = []script.Line{{At: send.Add(2 * time.Hour), Who: "brandao", Do: script.Decline, Rung: "people", Reason: "Not this season."}}
		season.Answers = answers(`{"contract":"season","ends":"2027-09-30","vessel":"tern","rank":"host","start":"2027-06-01","cabin":[{"item":"cabin-shared","quantity":1}],"uniform":[{"item":"uniform-hotel","quantity":2,"options":{"size":"s"}}],"certificates":[{"kind":"basic","number":"B-2","until":"2028-01-01"}]}`)
		return []rehearse.Proposal{{Name: "Permanent, all goes well", Script: usual}, {Name: "Badges refuse twice, the cabin takes long", Script: badges}, {Name: "Head of People declines", Script: declined}, {Name: "One season, a host", Script: season}}
	}
	return nil
}

// withCases puts cases into the file of an offering, in place of those that are there.
func withCases(t *testing.T, data []byte, cases []script.Case, isJSON bool) []byte {
	t.Helper()
	var lines []string
	for _, c := range cases {
		line, err := json.Marshal(c)
		require.NoError(t, err)
		lines = append(lines, string(line))
	}
	if isJSON {
		head, _, _ := strings.Cut(strings.TrimRight(string(data), "\n"), ",\n  \"cases\": [")
		head = strings.TrimSuffix(strings.TrimRight(head, "\n"), "\n}")
		return []byte(head + ",\n  \"cases\": [\n    " + strings.Join(lines, ",\n    ") + "\n  ]\n}\n")
	}
	head, _, _ := bytes.Cut(data, []byte("\ncases:\n"))
	return []byte(strings.TrimRight(string(head), "\n") + "\ncases:\n  - " + strings.Join(lines, "\n  - ") + "\n")
}
