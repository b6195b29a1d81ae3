package web

import (
	"context"

	"heptad/internal/core/measure"
	"heptad/internal/work"
)

type GoesInput struct {
	Offering string `path:"offering" maxLength:"60" doc:"Key"`
	Version  int    `query:"version" minimum:"0" doc:"0 for all, with the steps of the newest"`
	Period   string `query:"period" maxLength:"30" default:"last24"`
}

type goesBody struct {
	Offering string        `json:"offering" doc:"Key"`
	Name     string        `json:"name"`
	Version  int           `json:"version" doc:"0 for all"`
	Period   periodView    `json:"period"`
	Requests measure.Value `json:"requests" doc:"Time used, in open seconds"`
	Steps    []stepView    `json:"steps" nullable:"false"`
	Whole    float64       `json:"whole" doc:"Open seconds until the last step has ended, each as long as in the middle of all"`
	Working  float64       `json:"working" doc:"The same, if nothing waited"`
}

type stepView struct {
	Key      string        `json:"key"`
	Name     string        `json:"name"`
	Kind     string        `json:"kind" enum:"rung,manual,automatic,wait,message"`
	Team     string        `json:"team,omitempty" doc:"Name"`
	Count    int64         `json:"count"`
	Start    float64       `json:"start" doc:"Open seconds after sending"`
	Waited   float64       `json:"waited" doc:"Open seconds, in the middle of all; of a decision until it was decided"`
	Worked   float64       `json:"worked"`
	P80      float64       `json:"p80" doc:"Four of five took at most so long"`
	Critical bool          `json:"critical" doc:"The end hangs on it"`
	Most     bool          `json:"most" doc:"Of those that the end hangs on it takes longest"`
	Stuck    measure.Value `json:"stuck"`
	InTime   measure.Value `json:"inTime"`
	Handed   measure.Value `json:"handed"`
	Passed   measure.Value `json:"passed" doc:"Of a decision: with yes"`
}

func (h measuring) goes(ctx context.Context, in *GoesInput) (*body[goesBody], error) {
	goes, err := h.Office.Measuring.WhereTimeGoes(ctx, me(ctx), in.Offering, in.Version, in.Period)
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	if err != nil {
		return nil, err
	}
	out := goesBody{Offering: goes.Offering, Name: names.Offering(goes.Offering), Version: goes.Version, Period: periodOf(goes.Period), Requests: goes.Requests, Steps: []stepView{}, Whole: goes.Whole, Working: goes.Working}
	for i, s := range goes.Steps {
		out.Steps = append(out.Steps, stepView{
			Key: s.Key, Name: s.Name, Kind: s.Kind, Team: teamName(names, s.Team), Count: s.Count, Start: goes.Starts[i], Waited: s.Waited, Worked: s.Worked, P80: s.P80,
			Critical: goes.Critical[i], Most: i == goes.Most, Stuck: s.Stuck, InTime: s.Late, Handed: s.Handed, Passed: s.Passed,
		})
	}
	return answer(out, nil)
}

func teamName(names work.Names, key string) string {
	if key == "" {
		return ""
	}
	return names.Of(measure.ByTeam, key)
}

type goesChoices struct {
	Offerings []goesOffering `json:"offerings" nullable:"false" doc:"Whose times the reader may look at, by name"`
	Handed    []handedView   `json:"handed" nullable:"false" doc:"What teams handed over to each other in the last twelve months, the most first"`
}

type goesOffering struct {
	Key      string `json:"key"`
	Name     string `json:"name"`
	Versions []int  `json:"versions" nullable:"false" doc:"Numbers of those that were published, the newest first"`
}

type handedView struct {
	From  string `json:"from" doc:"Name of a team"`
	To    string `json:"to"`
	Task  string `json:"task" doc:"With its offering"`
	Times int    `json:"times"`
}

func (h measuring) goesChoices(ctx context.Context, _ *none) (*body[goesChoices], error) {
	choices, handed, err := h.Office.Measuring.GoesChoices(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	out := goesChoices{Offerings: []goesOffering{}, Handed: []handedView{}}
	for _, c := range choices {
		out.Offerings = append(out.Offerings, goesOffering{c.Offering, names.Offering(c.Offering), c.Versions})
	}
	for _, x := range handed {
		out.Handed = append(out.Handed, handedView{names.Of(measure.ByTeam, x.From), names.Of(measure.ByTeam, x.To), names.Of(measure.ByTask, x.Offering+"/"+x.Of), x.Times})
	}
	return answer(out, err)
}

type nextBody struct {
	Period   periodView     `json:"period"`
	Decide   []decideView   `json:"decide" nullable:"false"`
	Automate []automateView `json:"automate" nullable:"false"`
	Offer    []wishesView   `json:"offer" nullable:"false"`
	Mend     []mendView     `json:"mend" nullable:"false"`
	Catch    []catchView    `json:"catch" nullable:"false"`
	Searches measure.Value  `json:"searches" doc:"Those that found nothing"`
}

type decideView struct {
	Name   string        `json:"name" doc:"Of the decision, with its offering"`
	Key    string        `json:"key"`
	Passed measure.Value `json:"passed"`
	Took   measure.Value `json:"took" doc:"Open seconds"`
}

type automateView struct {
	Name       string   `json:"name" doc:"Of the task, with its offering"`
	Key        string   `json:"key"`
	Tasks      int64    `json:"tasks"`
	Monthly    float64  `json:"monthly" doc:"Open seconds of people a month that it would save"`
	Planned    bool     `json:"planned" doc:"By the effort of the plan, as too few people do it to show their hours"`
	Connectors []string `json:"connectors" nullable:"false" doc:"Names of those that its service may use"`
}

type wishesView struct {
	Words  []string `json:"words" nullable:"false"`
	People int      `json:"people"`
	Times  int      `json:"times" doc:"Ways of saying it, or requests that have the word"`
}

type mendView struct {
	Offering string        `json:"offering" doc:"Key"`
	Name     string        `json:"name"`
	What     string        `json:"what" enum:"sentBack,declined,missed,givenUp,stuck"`
	Value    measure.Value `json:"value"`
	Where    string        `json:"where,omitempty" doc:"Where it happens most"`
}

type catchView struct {
	Name     string       `json:"name" doc:"Of the offering"`
	Requests int64        `json:"requests"`
	Words    []wishesView `json:"words" nullable:"false"`
	Else     int64        `json:"else" doc:"Requests that share no word with those of two others"`
}

func (h measuring) next(ctx context.Context, _ *none) (*body[nextBody], error) {
	next, err := h.Office.Measuring.Next(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	out := nextBody{Period: periodOf(next.Period), Searches: next.Searches, Decide: []decideView{}, Automate: []automateView{}, Offer: wishesOf(next.Offer), Mend: []mendView{}, Catch: []catchView{}}
	for _, d := range next.Decide {
		out.Decide = append(out.Decide, decideView{names.Of(measure.ByRung, d.Rung), d.Rung, d.Passed, d.Took})
	}
	for _, a := range next.Automate {
		view := automateView{names.Of(measure.ByTask, a.Task), a.Task, a.Tasks, a.Monthly, a.Planned, []string{}}
		for _, c := range a.Connectors {
			view.Connectors = append(view.Connectors, names.Of(measure.ByConnector, c))
		}
		out.Automate = append(out.Automate, view)
	}
	for _, m := range next.Mend {
		out.Mend = append(out.Mend, mendView{m.Offering, names.Offering(m.Offering), m.What, m.Value, m.Where})
	}
	for _, c := range next.Catch {
		out.Catch = append(out.Catch, catchView{names.Offering(c.Offering), c.Requests, wishesOf(c.Words), c.Else})
	}
	return answer(out, err)
}

func wishesOf(all []measure.Wishes) []wishesView {
	out := []wishesView{}
	for _, w := range all {
		out = append(out, wishesView(w))
	}
	return out
}
