package ladder_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Who decides, worked by hand on the company of coretest.
func TestSeats(t *testing.T) {
	company := coretest.Company().Directory
	manager := ladder.Source{Source: ladder.LineManager}
	owner := ladder.Source{Source: ladder.ServiceOwner}
	lead := ladder.Source{Source: ladder.TeamLead, Team: "crew"}
	named := func(login string) ladder.Source { return ladder.Source{Source: ladder.NamedPerson, Person: login} }
	seat := func(person, reason string) ladder.Seat { return ladder.Seat{Person: person, Reason: reason} }
	for name, c := range map[string]struct {
		asker   string
		sources []ladder.Source
		seats   []ladder.Seat
	}{
		"line manager":           {"p-ilse", []ladder.Source{manager}, []ladder.Seat{seat("p-tomas", "line manager of Ilse Brandvik")}},
		"owner of the service":   {"p-ilse", []ladder.Source{owner}, []ladder.Seat{seat("p-olga", "owner of Access to the quays")}},
		"lead of a team":         {"p-ilse", []ladder.Source{lead}, []ladder.Seat{seat("p-caro", "lead of Crewing")}},
		"somebody named":         {"p-ilse", []ladder.Source{named("kira")}, []ladder.Seat{seat("p-kira", "named by the offering")}},
		"two of them":            {"p-ilse", []ladder.Source{manager, owner}, []ladder.Seat{seat("p-tomas", "line manager of Ilse Brandvik"), seat("p-olga", "owner of Access to the quays")}},
		"one person twice":       {"p-ilse", []ladder.Source{manager, named("tomas")}, []ladder.Seat{seat("p-tomas", "line manager of Ilse Brandvik")}},
		"asker left out":         {"p-kira", []ladder.Source{named("kira"), lead}, []ladder.Seat{seat("p-caro", "lead of Crewing")}},
		"asker alone":            {"p-kira", []ladder.Source{named("kira")}, []ladder.Seat{seat("p-keks", "manager of Kira Matsuda, as named by the offering is the asker")}},
		"nobody above":           {"p-noor", []ladder.Source{manager}, []ladder.Seat{seat("p-olga", "owner of Access to the quays, as line manager of Noor Adeyemi is not there")}},
		"manager has left":       {"p-last", []ladder.Source{manager}, []ladder.Seat{seat("p-olga", "owner of Access to the quays, as line manager of Lasse Orphan is not there")}},
		"owner asks for himself": {"p-olga", []ladder.Source{owner}, []ladder.Seat{seat("p-noor", "manager of Olga Ferreira, as owner of Access to the quays is the asker")}},
		"somebody left is named": {"p-ilse", []ladder.Source{named("gone"), lead}, []ladder.Seat{seat("p-caro", "lead of Crewing")}},
	} {
		t.Run(name, func(t *testing.T) {
			service, _ := company.Service("access")
			seats, err := ladder.Seats(ladder.Rung{Name: "Rung", Approvers: c.sources}, ladder.Facts{Company: company, Asker: c.asker, Service: service})
			require.NoError(t, err)
			assert.Equal(t, c.seats, seats)
		})
	}
}

func TestNobodyIsAnErrorNotAYes(t *testing.T) {
	alone := people.NewDirectory(people.Records{Persons: []people.Person{{ID: "p-one", Login: "one", Name: "Only One"}}})
	_, err := ladder.Seats(ladder.Rung{Name: "Manager", Approvers: []ladder.Source{{Source: ladder.LineManager}}},
		ladder.Facts{Company: alone, Asker: "p-one", Service: people.Service{Owner: "p-one"}})
	assert.Equal(t, ladder.ErrNobody{Rung: "Manager"}, err)
}

func TestStand(t *testing.T) {
	for _, c := range []struct {
		quorum                    string
		seats, approvals, decline int
		want                      ladder.Outcome
	}{
		{"any", 1, 0, 0, ladder.Open}, {"any", 1, 1, 0, ladder.Passed}, {"any", 1, 0, 1, ladder.Declined},
		{"any", 3, 0, 2, ladder.Open}, {"any", 3, 1, 2, ladder.Passed}, {"any", 3, 0, 3, ladder.Declined},
		{"all", 3, 2, 0, ladder.Open}, {"all", 3, 3, 0, ladder.Passed}, {"all", 3, 2, 1, ladder.Declined},
		{"2", 3, 1, 1, ladder.Open}, {"2", 3, 2, 0, ladder.Passed}, {"2", 3, 0, 2, ladder.Declined},
		{"5", 2, 1, 0, ladder.Open}, {"5", 2, 2, 0, ladder.Passed}, // more than there are: all of them
		{"most", 2, 1, 0, ladder.Open}, {"any", 0, 0, 0, ladder.Declined},
	} {
		assert.Equal(t, c.want, ladder.Stand(c.quorum, c.seats, c.approvals, c.decline), "%+v", c)
	}
}

func TestARungAlwaysEndsOnceAllHaveVoted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seats := rapid.IntRange(1, 20).Draw(t, "seats")
		approvals := rapid.IntRange(0, seats).Draw(t, "approvals")
		quorum := rapid.SampledFrom([]string{"any", "all", "1", "2", "7", "50"}).Draw(t, "quorum")
		assert.NotEqual(t, ladder.Open, ladder.Stand(quorum, seats, approvals, seats-approvals))
	})
}

func TestARungWhoseRuleHangsOnAMissingAnswerIsNeeded(t *testing.T) {
	env, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{"answers": {"a": rule.Text}}})
	require.NoError(t, err)
	for when, want := range map[string]int{"": 1, "true": 1, "false": 0, `answers.a == "x"`: 1, `has(answers.a)`: 0, `1 / 0 == 1`: 1} {
		findings := finding.List{}
		l := ladder.Compile([]ladder.Rung{{Key: "r", Name: "R", When: when, Quorum: "any", Approvers: []ladder.Source{{Source: ladder.LineManager}}}}, ladder.Surroundings{Env: env, Company: coretest.Company().Directory}, &findings)
		require.Empty(t, findings)
		assert.Len(t, l.Needed(rule.Values{}), want, when)
	}
}
