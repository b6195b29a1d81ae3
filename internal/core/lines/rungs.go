package lines

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/people"
)

// fixed are the ways to find who decides that need nothing else.
var fixed = map[string]ladder.Source{
	"line manager": {Source: ladder.LineManager}, "the line manager": {Source: ladder.LineManager}, "manager": {Source: ladder.LineManager}, "the asker's line manager": {Source: ladder.LineManager},
	"line manager of who it is for": {Source: ladder.BeneficiaryManager}, "line manager of the beneficiary": {Source: ladder.BeneficiaryManager},
	"owner of the cost centre": {Source: ladder.CostCentreOwner}, "owners of the cost centres": {Source: ladder.CostCentreOwner},
	"owner of the service": {Source: ladder.ServiceOwner}, "the owner of the service": {Source: ladder.ServiceOwner},
}

var (
	up     = regexp.MustCompile(`(?i)^(?:the )?manager (\d{1,2}) up$`)
	quorum = regexp.MustCompile(`(?i)^(any|all|\d{1,2}|(\d{1,3}) ?%) (?:one )?of them$`)
	thens  = map[string]ladder.Then{"then it is declined": ladder.Decline, "then it is approved": ladder.Approve, "then their manager": ladder.Escalate, "then a reminder": ladder.Remind}
)

// rung reads "Line manager, within 2d", "Lead of Crewing and lead of Premises
// Crew, all of them, when cost is more than 500" or "Safety: lead of Crewing".
func (r *reader) rung(line string) {
	rest, when, words := r.when(line)
	parts := pieces(rest)
	if len(parts) == 0 {
		r.wrong(line, "Say who decides.")
		return
	}
	rung := ladder.Rung{Quorum: "any", When: when}
	who := parts[0]
	if name, sources, ok := strings.Cut(who, ":"); ok {
		rung.Name, who = strings.TrimSpace(name), strings.TrimSpace(sources)
	}
	if rung.Name == "" {
		rung.Name = capital(who)
	}
	r.short(rung.Name, 200)
	rung.Approvers = each(who, r.source, func(one string) {
		r.wrong(one, fmt.Sprintf("Nobody is found by %q. Write line manager, owner of the service, lead of Crewing, all of Crewing, a name, or “who is named in” and a question.", one))
	})
	for _, part := range parts[1:] {
		then, known := thens[strings.ToLower(part)]
		limit, isLimit := after(part, "within")
		m := quorum.FindStringSubmatch(part)
		switch {
		case m != nil && m[2] != "":
			rung.Quorum = m[2] + "%"
		case m != nil:
			rung.Quorum = strings.ToLower(m[1])
		case known:
			rung.Then = then
		case isLimit:
			if _, err := calendar.ParseLength(limit); err != nil {
				r.wrong(limit, sentenceOf(err))
			}
			rung.Limit = limit
		default:
			r.wrong(part, fmt.Sprintf("%q is neither “within 2d”, nor “all of them”, “2 of them”, “60 %% of them”, nor “then it is declined”.", part))
		}
	}
	if rung.Then != "" && rung.Limit == "" {
		r.wrong(string(rung.Then), "Say first within which time it is to be decided.")
	}
	if !ladder.GoodQuorum(rung.Quorum) {
		r.wrong(rung.Quorum, fmt.Sprintf("%q is no number or share of approvers.", rung.Quorum))
	}
	rung.Key = key(rung.Name, texts(r.Document.Ladder, func(r ladder.Rung) string { return r.Key }), "rung")
	r.line.Rung = &rung
	r.line.Words = sentence("Decided by "+who, said(len(rung.Approvers) > 1 && rung.Quorum == "any", "any one of them is enough"), strings.Join(parts[1:], ", "), words)
}

func sentenceOf(err error) string { return capital(err.Error()) + "." }

// source finds who decides.
func (r *reader) source(who string) (ladder.Source, bool) {
	if s, ok := fixed[strings.ToLower(who)]; ok {
		return s, true
	}
	if m := up.FindStringSubmatch(who); m != nil {
		level, _ := strconv.Atoi(m[1]) // two digits
		return ladder.Source{Source: ladder.NthManager, Level: level}, level > 0 && level <= 20
	}
	if name, ok := after(who, "lead of", "the lead of"); ok {
		t, known := r.team(name)
		return ladder.Source{Source: ladder.TeamLead, Team: t.Key}, known
	}
	if name, ok := after(who, "all of", "everybody of"); ok {
		t, known := r.team(name)
		return ladder.Source{Source: ladder.WholeTeam, Team: t.Key}, known
	}
	if name, ok := after(who, "who is named in", "person in"); ok {
		return r.namedIn(name)
	}
	if p, ok := r.Company.ByLogin(who); ok && !p.Former {
		return ladder.Source{Source: ladder.NamedPerson, Person: p.Login}, true
	}
	if p, ok := onlyOne(r.Company.Persons(), who); ok {
		return ladder.Source{Source: ladder.NamedPerson, Person: p.Login}, true
	}
	t, ok := r.team(who)
	return ladder.Source{Source: ladder.WholeTeam, Team: t.Key}, ok
}

// onlyOne finds the person who alone has a name.
func onlyOne(all []people.Person, name string) (people.Person, bool) {
	var found []people.Person
	for _, p := range all {
		if !p.Former && same(p.Name, name) {
			found = append(found, p)
		}
	}
	if len(found) != 1 {
		return people.Person{}, false
	}
	return found[0], true
}

func (r *reader) namedIn(label string) (ladder.Source, bool) {
	for _, q := range r.Document.Questions {
		if q.Kind == form.Person && same(q.Label, label) {
			return ladder.Source{Source: ladder.InAnswer, Question: q.Key}, true
		}
		for _, c := range q.Columns {
			if c.Kind == form.Person && same(q.Label+" "+c.Label, label) {
				return ladder.Source{Source: ladder.InAnswer, Question: q.Key + "." + c.Key}, true
			}
		}
	}
	return ladder.Source{}, false
}
