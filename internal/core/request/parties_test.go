package request_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
)

// forOthers lets managers ask for their people, and for newcomers.
func forOthers(d *offering.Document) {
	d.Audience.For, d.Audience.Newcomers, d.Audience.Shared = "asker.login in beneficiary.managers", true, true
	d.Purpose.Title = "Badge for {{ beneficiary.name }}, {{ answers.port }}"
}

func submitFor(b offering.Beneficiary) request.Submit {
	s := submit()
	s.For = b
	return s
}

func TestAskingForAnother(t *testing.T) {
	r := start(t, forOthers)
	r.must("p-tomas", begin(), submitFor(offering.Beneficiary{Person: "p-ilse"}))
	assert.Equal(t, "Badge for Ilse Brandvik, Sankt Orm", r.state.Title)
	assert.Equal(t, "p-ilse", r.state.Beneficiary())
	assert.Equal(t, "p-noor", r.state.Rungs[0].Seats[0].Person, "the manager of the asker")
	company, service := r.facts.Company, r.facts.Service
	assert.True(t, r.state.ViewerOf("p-ilse", company, service).SeesRequest(), "who it is for is told")
	assert.False(t, r.state.ViewerOf("p-last", company, service).Any())
	assert.Equal(t, r.state, request.Replay(r.events))
}

func TestWhoItIsForDoesNotDecide(t *testing.T) {
	r := start(t, forOthers, func(d *offering.Document) {
		d.Ladder[0].Approvers = []ladder.Source{{Source: ladder.NamedPerson, Person: "ilse"}, {Source: ladder.NamedPerson, Person: "kira"}}
	})
	r.must("p-tomas", begin(), submitFor(offering.Beneficiary{Person: "p-ilse"}))
	require.Len(t, r.state.Rungs[0].Seats, 1)
	assert.Equal(t, "p-kira", r.state.Rungs[0].Seats[0].Person)
}

func TestAskingForANewcomer(t *testing.T) {
	r := start(t, forOthers)
	whom := offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Ondina Farsund", Department: "Fleet"}}
	r.must("p-tomas", begin(), submitFor(whom))
	assert.Equal(t, "Badge for Ondina Farsund, Sankt Orm", r.state.Title)
	assert.Empty(t, r.state.Beneficiary(), "nobody of the directory")
	r.must("p-noor", approve())
	assert.Equal(t, request.Delivering, r.state.Status)
	assert.Equal(t, r.state, request.Replay(r.events))
}

func TestForWhomIsRefused(t *testing.T) {
	for name, c := range map[string]struct {
		actor string
		whom  offering.Beneficiary
		spoil func(*offering.Document)
	}{
		"a colleague":             {"p-ilse", offering.Beneficiary{Person: "p-kira"}, func(*offering.Document) {}},
		"who has left":            {"p-ilse", offering.Beneficiary{Person: "p-gone"}, func(d *offering.Document) { d.Audience.For = "true" }},
		"nobody known":            {"p-ilse", offering.Beneficiary{Person: "p-stranger"}, func(d *offering.Document) { d.Audience.For = "true" }},
		"a newcomer, not allowed": {"p-tomas", offering.Beneficiary{Newcomer: &people.Newcomer{Name: "N"}}, func(d *offering.Document) { d.Audience.Newcomers = false }},
		"oneself, not allowed":    {"p-tomas", offering.Beneficiary{}, func(d *offering.Document) { d.Audience.NotSelf = true }},
	} {
		t.Run(name, func(t *testing.T) {
			r := start(t, forOthers, c.spoil)
			r.must(c.actor, begin())
			why, ok := request.AsRefusal(r.do(c.actor, submitFor(c.whom)))
			require.True(t, ok)
			assert.Equal(t, refusal.NotFor, why.Code)
			assert.Equal(t, "/for", why.Place)
			assert.Equal(t, request.Draft, r.state.Status, "nothing is lost")
		})
	}
}

// The slip is the same as long as the asker sees the same, and another as soon
// as they see anything else.
func TestTheSlip(t *testing.T) {
	slip := func(answers form.Answers, change ...func(*offering.Document)) string {
		r := start(t, change...)
		asker, _ := r.facts.Company.Person("p-ilse")
		parties := offering.Self(asker, r.facts.Company)
		result := r.facts.Offering.Form.Evaluate(answers, r.facts.Offering.Values(parties, r.facts.Now), parties.Facts())
		return request.Slip(r.facts.Offering, result)
	}
	same := slip(full())
	assert.Equal(t, same, slip(full()))
	assert.Equal(t, same, slip(full(), func(d *offering.Document) { d.Purpose.Text = "Other words." }), "what they do not see")
	assert.Equal(t, same, slip(full(), func(d *offering.Document) { d.Plan = d.Plan[:2] }))
	for name, change := range map[string]func(*offering.Document){
		"a price":    func(d *offering.Document) { d.Items.List[0].Price.Amount = "12.51" },
		"a question": func(d *offering.Document) { d.Questions[0].Label = "Which port?" },
		"a new one": func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "n", Kind: form.Text, Label: "N"})
		},
		"a rung": func(d *offering.Document) {
			d.Ladder = append(d.Ladder, ladder.Rung{Key: "o", Name: "Owner", Quorum: "any", Approvers: []ladder.Source{{Source: ladder.ServiceOwner}}})
		},
		"needed": func(d *offering.Document) { d.Questions[2].Require = "" },
	} {
		assert.NotEqual(t, same, slip(full(), change), name)
	}
	other := full()
	delete(other, "badge")
	assert.NotEqual(t, same, slip(other))
}

// A rung tells what there is to decide, with the words of the form, and only
// the facts it names.
func TestWhatARungSays(t *testing.T) {
	r := start(t, func(d *offering.Document) {
		d.Ladder[0].Say, d.Ladder[0].Facts = "{{ asker.name }} wants {{ answers.zones }} at {{ answers.port }}.", []string{"zones", "port"}
	})
	r.must("p-ilse", begin(), submit())
	assert.Equal(t, "Ilse Brandvik wants Fuel dock at Sankt Orm.", r.state.Rungs[0].Say)
	assert.Equal(t, []string{"zones", "port"}, r.state.Rungs[0].Facts)
}

// Who writes down what another asked for keeps how they asked.
func TestTheWayItWasAsked(t *testing.T) {
	r := start(t, forOthers)
	r.must("p-tomas", begin(), submitFor(offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Ondina Farsund"}, Via: offering.ByPhone}))
	assert.Equal(t, offering.ByPhone, r.state.For.Via)
	told := request.History(r.events, r.facts.Company, request.Viewer{Asker: true})
	assert.Equal(t, "Sent as "+r.state.Reference+", for Ondina Farsund, who asked by phone", told[1].Sentence)
}
