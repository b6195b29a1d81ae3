package audience_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/audience"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
)

// bundled is the company with three bundles.
var bundled = directory.
	WithBundle(people.Bundle{Key: "fleet", Name: "Fleet", Rule: `asker.department == "Fleet"`}).
	WithBundle(people.Bundle{Key: "keys", Name: "Keys", Rule: `"keys" in asker.teams`}).
	WithBundle(people.Bundle{Key: "empty", Name: "Empty"})

func in(login string, d *people.Directory) audience.Person {
	p, _ := d.ByLogin(login)
	return audience.Of(p, d)
}

func ids(persons []people.Person) (all []string) {
	for _, p := range persons {
		all = append(all, p.ID)
	}
	return all
}

func parts(keys ...string) (all []audience.Part) {
	for _, key := range keys {
		all = append(all, audience.Part{Key: key})
	}
	return all
}

// Worked by hand: Ilse is of Fleet, Kira is in the team keys, Noor is neither.
func TestWhoIsInABundle(t *testing.T) {
	no, yes := false, true
	for name, c := range map[string]struct {
		audience audience.Audience
		login    string
		may      bool
		why      string
	}{
		"in it":                          {audience.Audience{Bundles: parts("fleet")}, "ilse", true, "Ilse Brandvik is in Fleet: department is Fleet."},
		"not in it":                      {audience.Audience{Bundles: parts("fleet")}, "kira", false, "Kira Matsuda does not fit: department is Fleet."},
		"in the second":                  {audience.Audience{Bundles: parts("fleet", "keys")}, "kira", true, ""},
		"in none of two":                 {audience.Audience{Bundles: parts("fleet", "keys")}, "noor", false, ""},
		"narrowed further":               {audience.Audience{Bundles: parts("fleet", "keys"), Ask: `asker.department == "Fleet"`}, "kira", false, ""},
		"narrowed, and fits":             {audience.Audience{Bundles: parts("fleet", "keys"), Ask: `asker.department == "Fleet"`}, "ilse", true, ""},
		"an empty one":                   {audience.Audience{Bundles: parts("empty")}, "ilse", false, "Nobody is in Empty yet."},
		"one that is gone":               {audience.Audience{Bundles: parts("gone")}, "ilse", false, `The bundle "gone" is not there any more.`},
		"a gone one beside another":      {audience.Audience{Bundles: parts("gone", "fleet")}, "ilse", true, ""},
		"one that is carried":            {audience.Audience{Bundles: []audience.Part{{Key: "far", Name: "Far", Rule: `asker.department == "Fleet"`}}}, "ilse", true, "Ilse Brandvik is in Far: department is Fleet."},
		"that of the company goes first": {audience.Audience{Bundles: []audience.Part{{Key: "keys", Rule: "true"}}}, "ilse", false, ""},
		"not said yet":                   {audience.Audience{Everyone: &no}, "ilse", false, "Nobody has said yet who may ask."},
		"said: everyone":                 {audience.Audience{Everyone: &yes}, "ilse", true, "Everyone may ask."},
		"a document of before":           {audience.Audience{}, "ilse", true, "Everyone may ask."},
		"who has left":                   {audience.Audience{Bundles: []audience.Part{{Key: "far", Rule: "true"}}}, "gone", false, ""},
	} {
		t.Run(name, func(t *testing.T) {
			may, why := audience.Compile(c.audience, &finding.List{}).MayAsk(in(c.login, bundled))
			assert.Equal(t, c.may, may, why)
			if c.why != "" {
				assert.Equal(t, c.why, why)
			}
			assert.NotEmpty(t, why)
		})
	}
}

func TestABundleCountsAtOnce(t *testing.T) {
	compiled := audience.Compile(audience.Audience{Bundles: parts("fleet")}, &finding.List{})
	may, _ := compiled.MayAsk(in("kira", bundled))
	require.False(t, may)
	after := bundled.WithBundle(people.Bundle{Key: "fleet", Name: "Fleet", Rule: `"keys" in asker.teams`})
	may, why := compiled.MayAsk(in("kira", after))
	assert.True(t, may, why)
	may, _ = compiled.MayAsk(in("kira", bundled))
	assert.False(t, may, "the company of before stays as it was")
	turned := audience.Turn(bundled, func(p audience.Person) (bool, string) { return compiled.MayAsk(in(p.Login, bundled)) }, func(p audience.Person) (bool, string) { return compiled.MayAsk(in(p.Login, after)) })
	assert.Equal(t, []string{in("ilse", bundled).ID}, ids(turned.Out))
	assert.Equal(t, directory.Members("keys"), ids(turned.In))
}

func TestAnAudienceThatIsNotSaid(t *testing.T) {
	no, yes := false, true
	for name, c := range map[string]struct {
		audience audience.Audience
		code     string
	}{
		"nobody":              {audience.Audience{Everyone: &no}, finding.AudienceUnsaid},
		"nobody, and a blank": {audience.Audience{Everyone: &no, Ask: " "}, finding.AudienceUnsaid},
		"a rule":              {audience.Audience{Everyone: &no, Ask: "true"}, ""},
		"a bundle":            {audience.Audience{Everyone: &no, Bundles: parts("fleet")}, ""},
		"everyone and a rule": {audience.Audience{Everyone: &yes, Ask: "true"}, finding.AudienceTwice},
		"without a key":       {audience.Audience{Bundles: parts("")}, finding.UnknownBundle},
		"everyone":            {audience.Audience{Everyone: &yes}, ""},
		"as before":           {audience.Audience{}, ""},
	} {
		t.Run(name, func(t *testing.T) {
			findings := finding.List{}
			audience.Compile(c.audience, &findings)
			if c.code == "" {
				assert.Empty(t, findings)
				return
			}
			require.Len(t, findings, 1)
			assert.Equal(t, c.code, findings[0].Code)
		})
	}
}

// What travels lets in the same people where its bundles are, and where they are not.
func TestABundleTravels(t *testing.T) {
	keys := []string{"fleet", "keys", "empty", "gone"}
	rapid.Check(t, func(t *rapid.T) {
		a := audience.Audience{Ask: rapid.SampledFrom([]string{"", `asker.department == "Fleet"`, `asker.login != "noor"`}).Draw(t, "ask")}
		for _, key := range keys {
			if rapid.Bool().Draw(t, key) {
				a.Bundles = append(a.Bundles, audience.Part{Key: key})
			}
		}
		carried := a
		carried.Bundles = audience.Carried(a.Bundles, bundled)
		there := directory // knows some of them
		for _, key := range keys[:rapid.IntRange(0, 2).Draw(t, "known")] {
			b, _ := bundled.Bundle(key)
			there = there.WithBundle(b)
		}
		before, after := audience.Compile(a, &finding.List{}), audience.Compile(carried.Settled(there), &finding.List{})
		for _, p := range directory.Persons() {
			was, why := before.MayAsk(in(p.Login, bundled))
			is, whyNow := after.MayAsk(in(p.Login, there))
			if was != is {
				t.Fatalf("%s: %v (%s) became %v (%s) by %+v", p.Login, was, why, is, whyNow, carried.Settled(there))
			}
		}
		home := carried.Settled(bundled)
		if len(home.Bundles) != len(a.Bundles) || home.Ask != a.Ask {
			t.Fatalf("it comes home as another: %+v", home)
		}
	})
}
