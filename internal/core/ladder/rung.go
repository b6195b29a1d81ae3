package ladder

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

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
	Quorum    string   `json:"quorum" maxLength:"5" doc:"any, all, or a number of approvals"`
	Facts     []string `json:"facts,omitempty" maxItems:"500" nullable:"false" doc:"Keys of the questions whose answers are shown; all when left out"`
	Say       string   `json:"say,omitempty" maxLength:"4000" doc:"Text with {{ CEL }} placeholders: what there is to decide"`
}

// Source says how approvers are found.
type Source struct {
	Source string `json:"source" enum:"lineManager,person,serviceOwner,teamLead"`
	Person string `json:"person,omitempty" maxLength:"60" doc:"Login, for the source person"`
	Team   string `json:"team,omitempty" maxLength:"60" doc:"Key, for the source teamLead"`
}

// The sources of approvers.
const (
	LineManager  = "lineManager"
	NamedPerson  = "person"
	ServiceOwner = "serviceOwner"
	TeamLead     = "teamLead"
)

// Ladder is a compiled list of rungs.
type Ladder struct{ rungs []compiled }

type compiled struct {
	Rung
	when *rule.Rule
	say  *rule.Placeholder
}

// Compile checks the rungs against the company, when it is known.
func Compile(rungs []Rung, env *rule.Env, company *people.Directory, question func(key string) bool, findings *finding.List) *Ladder {
	l := &Ladder{}
	seen := map[string]bool{}
	for i, r := range rungs {
		at := finding.At("ladder", i)
		if r.Key == "" || seen[r.Key] {
			findings.Error("duplicateKey", at+"/key", fmt.Sprintf("The key %q is empty or stands twice among the rungs.", r.Key), "")
		}
		seen[r.Key] = true
		if strings.TrimSpace(r.Name) == "" {
			findings.Error("noName", at+"/name", "A rung has no name.", "Say whose decision it is.")
		}
		if _, err := needed(r.Quorum, 1); err != nil {
			findings.Error("quorum", at+"/quorum", err.Error()+".", "Use any, all or a number.")
		}
		if len(r.Approvers) == 0 {
			findings.Error("noApprovers", at+"/approvers", "This rung names nobody who decides.", "Add a source of approvers.")
		}
		for j, s := range r.Approvers {
			checkSource(s, at+finding.At("approvers", j), company, findings)
		}
		c := compiled{Rung: r, when: env.Condition(r.When, at+"/when", findings)}
		var err error
		if c.say, err = env.CompileText(r.Say); err != nil {
			findings.Error("placeholder", at+"/say", "A placeholder cannot be read: "+err.Error()+".", "")
		}
		for j, key := range r.Facts {
			if !question(key) {
				findings.Error("unknownQuestion", at+finding.At("facts", j), fmt.Sprintf("The rung %q shows the answer to %q, which is no question.", r.Name, key), "Take it out.")
			}
		}
		if c.say != nil && len(r.Facts) > 0 {
			for _, key := range c.say.Reads("answers") {
				if !slices.Contains(r.Facts, key) {
					findings.Error("outsideSlice", at+"/say", fmt.Sprintf("The text of the rung %q shows the answer to %q, which its approvers do not see.", r.Name, key), "Add the question to what they see.")
				}
			}
		}
		l.rungs = append(l.rungs, c)
	}
	return l
}

func checkSource(s Source, at string, company *people.Directory, findings *finding.List) {
	switch s.Source {
	case LineManager, ServiceOwner:
	case NamedPerson:
		if company == nil {
			return
		}
		if p, ok := company.ByLogin(s.Person); !ok || p.Away {
			findings.Error("unknownPerson", at+"/person", fmt.Sprintf("There is nobody with the login %q.", s.Person), "Choose a person of the company.")
		}
	case TeamLead:
		if company == nil {
			return
		}
		if _, ok := company.Team(s.Team); !ok {
			findings.Error("unknownTeam", at+"/team", fmt.Sprintf("There is no team %q.", s.Team), "Choose a team.")
		}
	default:
		findings.Error("source", at+"/source", fmt.Sprintf("%q is no way to find an approver.", s.Source), "")
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

// needed gives the number of approvals that a quorum asks of so many seats;
// more than there are is reduced to all.
func needed(quorum string, seats int) (int, error) {
	switch quorum {
	case "any":
		return 1, nil
	case "all":
		return seats, nil
	}
	n, err := strconv.Atoi(quorum)
	if err != nil || n < 1 || n > 50 {
		return 0, fmt.Errorf("%q is no quorum", quorum)
	}
	return min(n, seats), nil
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
