package ladder

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Rung is one decision that a request must climb.
type Rung struct {
	Key       string   `json:"key" maxLength:"60"`
	Name      string   `json:"name" maxLength:"200"`
	When      string   `json:"when,omitempty" maxLength:"4000" doc:"CEL; needed when it holds, and when it hangs on a missing answer"`
	Approvers []Source `json:"approvers" maxItems:"50" nullable:"false"`
	Fallback  []Source `json:"fallback,omitempty" maxItems:"10" nullable:"false" doc:"Who decides when nobody of the approvers can; else the owner of the service"`
	Quorum    string   `json:"quorum" maxLength:"5" doc:"any, all, a number of approvals, or a share of the approvers such as 60%"`
	Facts     []string `json:"facts,omitempty" maxItems:"500" nullable:"false" doc:"Keys of the questions whose answers are shown; all when left out"`
	NoPrice   bool     `json:"noPrice,omitempty" doc:"The price is not shown, and its rise asks nobody again"`
	Say       string   `json:"say,omitempty" maxLength:"4000" doc:"Text with {{ CEL }} placeholders: what there is to decide"`
	Limit     string   `json:"limit,omitempty" maxLength:"20" doc:"Working time to decide, such as 8h or 2d; twenty working days when left out"`
	Then      Then     `json:"then,omitempty" enum:"remind,escalate,approve,decline" doc:"What happens at the limit; remind when left out"`
	Remind    []int    `json:"remind,omitempty" maxItems:"10" nullable:"false" doc:"Shares of the limit, in per cent, at which who has not decided is reminded"`
	Afresh    bool     `json:"afresh,omitempty" doc:"Who approved on an earlier rung decides again"`
	SendBack  bool     `json:"sendBack,omitempty" doc:"A decline returns the request to the asker instead of ending it"`
}

// Source says how approvers are found.
type Source struct {
	Source   string `json:"source" enum:"lineManager,manager,beneficiaryManager,costCentreOwner,serviceOwner,teamLead,team,person,answer"`
	Level    int    `json:"level,omitempty" minimum:"0" maximum:"20" doc:"How many managers up, for the source manager: 1 is the line manager"`
	Person   string `json:"person,omitempty" maxLength:"60" doc:"Login, for the source person"`
	Team     string `json:"team,omitempty" maxLength:"60" doc:"Key, for the sources teamLead and team"`
	Question string `json:"question,omitempty" maxLength:"60" doc:"Key of a question that asks for a person, for the source answer"`
}

// Names reports whether a source names a person whoever asks: by name, as owner of
// the service, or by a team.
func (s Source) Names(person string, company *people.Directory, owner string) bool {
	switch s.Source {
	case ServiceOwner:
		return person == owner
	case NamedPerson:
		p, ok := company.ByLogin(s.Person)
		return ok && p.ID == person
	case TeamLead:
		team, _ := company.Team(s.Team)
		return team.Lead == person
	case WholeTeam:
		return company.InTeam(person, s.Team)
	}
	return false
}

// The sources of approvers.
const (
	LineManager        = "lineManager"
	NthManager         = "manager"
	BeneficiaryManager = "beneficiaryManager"
	CostCentreOwner    = "costCentreOwner"
	ServiceOwner       = "serviceOwner"
	TeamLead           = "teamLead"
	WholeTeam          = "team"
	NamedPerson        = "person"
	InAnswer           = "answer"
)

// Then says what happens when nobody decided within the limit.
type Then string

// What can happen at the limit.
const (
	Remind   Then = "remind"
	Escalate Then = "escalate" // the manager of who has not decided is asked, too
	Approve  Then = "approve"
	Decline  Then = "decline"
)

// Ladder is a compiled list of rungs.
type Ladder struct{ rungs []compiled }

type compiled struct {
	Rung
	when *rule.Rule
	say  *rule.Placeholder
}

// Surroundings are what rungs are checked against.
type Surroundings struct {
	Env      *rule.Env
	Company  *people.Directory // nil: people and teams are not checked
	Question func(key string) bool
	Person   func(key string) bool // whether a question asks for a person
}

// Compile checks the rungs.
func Compile(rungs []Rung, around Surroundings, findings *finding.List) *Ladder {
	env, question := around.Env, around.Question
	l := &Ladder{}
	seen := map[string]bool{}
	for i, r := range rungs {
		at := finding.At("ladder", i)
		if r.Key == "" || seen[r.Key] {
			findings.Error(finding.DuplicateKey, at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the rungs.", r.Key), "")
		}
		seen[r.Key] = true
		if strings.TrimSpace(r.Name) == "" {
			findings.Error(finding.NoName, at+"/name", "A rung has no name.", "Say whose decision it is.")
		}
		if _, err := needed(r.Quorum, 1); err != nil {
			findings.Error(finding.Quorum, at+"/quorum", err.Error()+".", "Use any, all, a number, or a share such as 60%.")
		}
		if len(r.Approvers) == 0 {
			findings.Error(finding.NoApprovers, at+"/approvers", "This rung names nobody who decides.", "Add a source of approvers.")
		}
		for j, s := range r.Approvers {
			around.checkSource(s, at+finding.At("approvers", j), findings)
		}
		for j, s := range r.Fallback {
			around.checkSource(s, at+finding.At("fallback", j), findings)
		}
		checkLimit(r, at, findings)
		c := compiled{Rung: r, when: env.Condition(r.When, at+"/when", findings)}
		var err error
		if c.say, err = env.CompileText(r.Say); err != nil {
			findings.Error(finding.Placeholder, at+"/say", "A placeholder cannot be read: "+err.Error()+".", "")
		}
		for j, key := range r.Facts {
			if !question(key) {
				findings.Error(finding.UnknownQuestion, at+finding.At("facts", j), fmt.Sprintf("The rung %q shows the answer to %q, which is no question.", r.Name, key), "Take it out.")
			}
		}
		if c.say != nil && len(r.Facts) > 0 {
			for _, key := range c.say.Reads("answers") {
				if !slices.Contains(r.Facts, key) {
					findings.Error(finding.OutsideSlice, at+"/say", fmt.Sprintf("The text of the rung %q shows the answer to %q, which its approvers do not see.", r.Name, key), "Add the question to what they see.")
				}
			}
		}
		l.rungs = append(l.rungs, c)
	}
	return l
}

func (around Surroundings) checkSource(s Source, at string, findings *finding.List) {
	company := around.Company
	switch s.Source {
	case LineManager, BeneficiaryManager, CostCentreOwner, ServiceOwner:
	case NthManager:
		if s.Level < 1 || s.Level > 20 {
			findings.Error(finding.Level, at+"/level", "Say how many managers up, from 1 to 20.", "")
		}
	case NamedPerson:
		if company == nil {
			return
		}
		if s.Person == "" {
			findings.Error(finding.UnknownPerson, at+"/person", "It is not said yet who decides.", "Choose a person of the company.")
		} else if p, ok := company.ByLogin(s.Person); !ok || p.Former {
			findings.Error(finding.UnknownPerson, at+"/person", fmt.Sprintf("There is nobody with the login %q.", s.Person), "Choose a person of the company.")
		}
	case TeamLead, WholeTeam:
		if company == nil {
			return
		}
		if s.Team == "" {
			findings.Error(finding.UnknownTeam, at+"/team", "It is not said yet which team decides.", "Choose a team.")
		} else if _, ok := company.Team(s.Team); !ok {
			findings.Error(finding.UnknownTeam, at+"/team", fmt.Sprintf("There is no team %q.", s.Team), "Choose a team.")
		} else if s.Source == WholeTeam && len(company.Members(s.Team)) == 0 {
			findings.Warning(finding.EmptyTeam, at+"/team", fmt.Sprintf("%s has no members, so nobody of it can decide.", company.TeamName(s.Team)), "Choose another team.")
		}
	case InAnswer:
		if s.Question == "" {
			findings.Error(finding.NoPersonQuestion, at+"/question", "It is not said yet which answer names who decides.", "Choose a question that asks for a person.")
		} else if !around.Person(s.Question) {
			findings.Error(finding.NoPersonQuestion, at+"/question", fmt.Sprintf("%q is no question that asks for a person.", s.Question), "Choose one.")
		}
	default:
		findings.Error(finding.Source, at+"/source", fmt.Sprintf("%q is no way to find an approver.", s.Source), "")
	}
}

// UsualLimit is how long a rung can stay open at most, after its limit.
var UsualLimit = calendar.Length{Days: 20}

func checkLimit(r Rung, at string, findings *finding.List) {
	if r.Limit != "" {
		if l, err := calendar.ParseLength(r.Limit); err != nil || l.Open < 0 || l.Days < 0 || l.IsZero() {
			findings.Error(finding.Length, at+"/limit", fmt.Sprintf("%q is no working time to decide in.", r.Limit), "Write it like 8h or 2d.")
		}
	}
	switch r.Then {
	case "", Remind, Escalate, Approve, Decline:
	default:
		findings.Error(finding.Then, at+"/then", fmt.Sprintf("%q cannot happen at the limit.", r.Then), "Choose remind, escalate, approve or decline.")
	}
	if r.Limit == "" && (r.Then != "" || len(r.Remind) > 0) {
		findings.Error(finding.NoLimit, at+"/limit", fmt.Sprintf("The rung %q says what happens at its limit, but has none.", r.Name), "Give it a limit.")
	}
	for i, share := range r.Remind {
		if share < 1 || share > 99 {
			findings.Error(finding.Share, at+finding.At("remind", i), "A reminder stands between 1 and 99 per cent of the limit.", "")
		}
	}
	if r.Then == Approve {
		findings.Warning(finding.ApprovesItself, at+"/then", fmt.Sprintf("The rung %q says yes by itself when nobody decides in time.", r.Name), "Have it escalated instead, unless a yes does no harm.")
	}
}

// Say gives the text of a rung with its placeholders filled in.
func (l *Ladder) Say(key string, values rule.Values, show func(root, field string) (string, bool)) (string, error) {
	for _, r := range l.rungs {
		if r.Key == key && r.say != nil {
			return r.say.Render(values, show)
		}
	}
	return "", nil
}

// Rules lists the rules of the rungs with their places.
func (l *Ladder) Rules() []rule.Placed {
	var all []rule.Placed
	for i, r := range l.rungs {
		if r.when != nil {
			all = append(all, rule.Placed{Place: finding.At("ladder", i, "when"), Rule: r.when})
		}
	}
	return all
}

// Needed lists the rungs a request must climb, in order. A rule that hangs on
// a missing answer, or fails, needs its rung: a decision is never lost.
func (l *Ladder) Needed(values rule.Values) []Rung {
	var out []Rung
	for _, r := range l.rungs {
		yes := true
		if r.when != nil {
			if holds, err := r.when.Holds(values, true); err == nil {
				yes = holds
			}
		}
		if yes {
			out = append(out, r.Rung)
		}
	}
	return out
}
