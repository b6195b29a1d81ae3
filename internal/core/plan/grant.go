package plan

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/rule"
)

// Grant lets the offerings of a service use an action of a connector.
type Grant struct {
	Connector string              `json:"connector" maxLength:"60" doc:"Key"`
	Action    string              `json:"action" maxLength:"60" doc:"Key"`
	Inputs    map[string]InputUse `json:"inputs,omitempty" doc:"What each input may be; of those left out a person is whom the request is for, and others are free"`
	Alone     bool                `json:"alone,omitempty" doc:"Of a sensitive action: nobody need decide when it is about the asker"`
}

// InputUse says what an input may be.
type InputUse struct {
	May    May      `json:"may" enum:"free,fixed,beneficiary,asker"`
	Values []string `json:"values,omitempty" maxItems:"100" nullable:"false" doc:"Of a fixed one: those it may be; any when left out"`
}

// May says where an input comes from.
type May string

// Where an input may come from.
const (
	Free            May = "free"        // anywhere, also typed into the form
	Fixed           May = "fixed"       // written in the offering
	FromBeneficiary May = "beneficiary" // whom the request is for, or what an earlier task has made for them
	FromAsker       May = "asker"       // who asks
)

// Grants are what the offerings of one service may use.
type Grants struct {
	All       []Grant
	Sensitive map[string][]string // values that need more care, by key of the connector
}

// Of finds the grant of an action.
func (g Grants) Of(connector, action string) (Grant, bool) {
	i := slices.IndexFunc(g.All, func(one Grant) bool { return one.Connector == connector && one.Action == action })
	if i < 0 {
		return Grant{}, false
	}
	return g.All[i], true
}

// use is what an input may be by a grant.
func (g Grant) use(f Field) InputUse {
	if use, ok := g.Inputs[f.Key]; ok {
		return use
	}
	if f.Person {
		return InputUse{May: FromBeneficiary}
	}
	return InputUse{May: Free}
}

// CheckGrants finds actions that the service of an offering may not use so. It
// lists the tasks, by index, that somebody must always decide on.
func (p *Plan) CheckGrants(grants Grants, connectors []Connector, findings *finding.List) (sensitive []int) {
	for i := range p.tasks {
		t := &p.tasks[i]
		if t.Action != nil && p.checkGrant(t, *t.Action, t.inputs, finding.At("plan", i, "action"), grants, connectors, findings) {
			sensitive = append(sensitive, i)
		}
		if t.Undo == nil || t.Undo.Action == nil {
			continue
		}
		own, _ := FindAction(connectors, valueOf(t.Action))
		if t.Action != nil && own.Undo == t.Undo.Action.Do && t.Action.Connector == t.Undo.Action.Connector {
			continue // it takes back what was granted
		}
		if p.checkGrant(t, *t.Undo.Action, t.undoInputs, finding.At("plan", i, "undo", "action"), grants, connectors, findings) {
			sensitive = append(sensitive, i)
		}
	}
	return sensitive
}

func valueOf(a *Action) Action {
	if a == nil {
		return Action{}
	}
	return *a
}

// checkGrant checks one call, and reports whether somebody must always decide on
// it.
func (p *Plan) checkGrant(t *compiled, a Action, inputs map[string]*rule.Placeholder, at string, grants Grants, connectors []Connector, findings *finding.List) (sensitive bool) {
	action, known := FindAction(connectors, a)
	if !known {
		return false
	}
	grant, ok := grants.Of(a.Connector, a.Do)
	if !ok {
		findings.Error(finding.NotGranted, at, fmt.Sprintf("The service may not use %q, as %q does.", action.Name, t.Name), "An administrator can grant it, on Manage.")
		return false
	}
	sensitive = action.Sensitive
	alone := grant.Alone
	for _, field := range action.Inputs {
		text, use := inputs[field.Key], grant.use(field)
		if text == nil || text.Empty() {
			if t.OnDemand && (use.May != Free || field.Group && len(grants.Sensitive[a.Connector]) > 0) {
				findings.Error(finding.InputUse, at+"/inputs/"+field.Key, fmt.Sprintf("%s of %q is typed by who starts it, which is not granted.", field.Name, t.Name), "Fill it in, or have an administrator grant it otherwise.")
			}
			continue
		}
		if field.Person && use.May != FromAsker {
			alone = false
		}
		if trouble, hint := p.wrongUse(field, use, text, connectors); trouble != "" {
			findings.Error(finding.InputUse, at+"/inputs/"+field.Key, fmt.Sprintf("%s of %q %s.", field.Name, t.Name, trouble), hint)
		}
		if field.Group && len(grants.Sensitive[a.Connector]) > 0 {
			value, fixed := text.Fixed()
			sensitive = sensitive || !fixed || slices.ContainsFunc(grants.Sensitive[a.Connector], func(s string) bool { return strings.EqualFold(s, strings.TrimSpace(value)) })
		}
	}
	return sensitive && !alone
}

// wrongUse says why an input is not what a grant lets it be.
func (p *Plan) wrongUse(field Field, use InputUse, text *rule.Placeholder, connectors []Connector) (trouble, hint string) {
	value, fixed := text.Fixed()
	switch use.May {
	case Fixed:
		if !fixed {
			return "comes from the form, where the grant wants one that is written here", "Write it out."
		}
		if len(use.Values) > 0 && !slices.Contains(use.Values, strings.TrimSpace(value)) {
			return fmt.Sprintf("is %q, which is not granted", value), "Granted are: " + strings.Join(use.Values, ", ") + "."
		}
	case FromAsker:
		if !text.Only("asker") {
			return "must be of who asks", "Use a placeholder such as {{ asker.login }}."
		}
	case FromBeneficiary:
		if !text.Only("beneficiary") && !(text.Only("outputs") && p.madeHere(text.Reads("outputs"), connectors)) {
			return "must be of whom the request is for", "Use a placeholder such as {{ beneficiary.login }}, or have an administrator grant it otherwise."
		}
	}
	return "", ""
}

// madeHere reports whether outputs are of tasks that make a person's account
// themselves.
func (p *Plan) madeHere(tasks []string, connectors []Connector) bool {
	for _, name := range tasks {
		i := slices.IndexFunc(p.tasks, func(t compiled) bool { return ident(t.Key) == name })
		if i < 0 || p.tasks[i].Action == nil {
			return false
		}
		action, ok := FindAction(connectors, *p.tasks[i].Action)
		if !ok || !action.Makes {
			return false
		}
	}
	return len(tasks) > 0
}

// Words say what a grant lets inputs be, in the order of the action.
func (g Grant) Words(action ActionType) []string {
	var words []string
	for _, field := range action.Inputs {
		use := g.use(field)
		switch use.May {
		case Fixed:
			text := "written in the offering"
			if len(use.Values) > 0 {
				text = strings.Join(use.Values, " or ")
			}
			words = append(words, field.Name+": "+text)
		case FromBeneficiary:
			words = append(words, field.Name+": whom it is for")
		case FromAsker:
			words = append(words, field.Name+": who asks")
		default:
			if field.Person {
				words = append(words, field.Name+": anybody")
			}
		}
	}
	if g.Alone {
		words = append(words, "without a decision when it is about the asker")
	}
	return words
}

// GoodGrant says what is wrong with a grant, in words; empty for nothing.
func GoodGrant(g Grant, connectors []Connector) string {
	action, ok := FindAction(connectors, Action{Connector: g.Connector, Do: g.Action})
	if !ok {
		return fmt.Sprintf("No connector %q can do %q.", g.Connector, g.Action)
	}
	for _, key := range slices.Sorted(maps.Keys(g.Inputs)) {
		if !slices.ContainsFunc(action.Inputs, func(f Field) bool { return f.Key == key }) {
			return fmt.Sprintf("%q takes no %q.", action.Name, key)
		}
		if !slices.Contains([]May{Free, Fixed, FromBeneficiary, FromAsker}, g.Inputs[key].May) {
			return fmt.Sprintf("%q is nothing an input may be.", g.Inputs[key].May)
		}
	}
	return ""
}
