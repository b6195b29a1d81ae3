package web

import (
	"context"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

type figureView struct {
	Key     string          `json:"key"`
	Name    string          `json:"name"`
	Unit    measure.Unit    `json:"unit"`
	Date    measure.Date    `json:"date" doc:"By which it is counted"`
	Good    measure.Good    `json:"good"`
	Subject measure.Subject `json:"subject"`
	Asks    string          `json:"asks" doc:"What it tells, in a sentence"`
	Part    string          `json:"part,omitempty" doc:"Of a share: what is in the part"`
	Whole   string          `json:"whole" doc:"What is counted; of a share what it is a part of"`
	Sides   []measure.Side  `json:"sides" nullable:"false" doc:"That it can be told apart by"`
}

type namedKey struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

type measureDesk struct {
	Figures  []figureView     `json:"figures" nullable:"false"`
	Sides    []namedKey       `json:"sides" nullable:"false" doc:"In the order in which people are given them"`
	Periods  []namedKey       `json:"periods" nullable:"false" doc:"That are counted from today"`
	Usual    measure.Sentence `json:"usual"`
	Zone     string           `json:"zone" doc:"IANA, in which days begin"`
	Currency string           `json:"currency" doc:"ISO 4217"`
	Whole    bool             `json:"whole" doc:"The reader may measure everything"`
	Services []string         `json:"services" nullable:"false" doc:"Names of those whose requests they may measure, when not all"`
	Teams    []string         `json:"teams" nullable:"false" doc:"Names of those whose tasks they may measure, when not all"`
}

// figures are all there are, as the page and the documents read them.
func figures() []figureView {
	var all []figureView
	for i := range measure.Figures {
		f := &measure.Figures[i]
		view := figureView{f.Key, f.Name, f.Unit, f.Date, f.Good, f.Subject, f.Asks, f.Part, f.Whole, []measure.Side{}}
		for _, side := range measure.ByMonth.All() {
			if f.Takes(side) {
				view.Sides = append(view.Sides, side)
			}
		}
		all = append(all, view)
	}
	return all
}

func (h measuring) desk(ctx context.Context, _ *none) (*body[measureDesk], error) {
	o := h.Office.Organisation()
	sight := h.Office.Measuring.Sight(me(ctx))
	out := measureDesk{Figures: figures(), Usual: measure.Usual(), Zone: o.Location().String(), Currency: o.Currency, Whole: sight.All, Services: []string{}, Teams: []string{}}
	for _, side := range measure.ByMonth.All() {
		out.Sides = append(out.Sides, namedKey{string(side), side.Name()})
	}
	for _, c := range measure.Choices() {
		out.Periods = append(out.Periods, namedKey{c.Key, c.Words})
	}
	for _, s := range h.Office.Company().Services() {
		if sight.Services[s.Key] {
			out.Services = append(out.Services, s.Name)
		}
	}
	for _, t := range h.Office.Company().Teams() {
		if sight.Teams[t.Key] {
			out.Teams = append(out.Teams, t.Name)
		}
	}
	return answer(out, nil)
}

type periodView struct {
	From    string `json:"from" doc:"First day, RFC 3339"`
	Until   string `json:"until" doc:"Last day, RFC 3339"`
	Words   string `json:"words" doc:"After in, such as October 2026"`
	Running bool   `json:"running" doc:"It is not over yet"`
}

type rowView struct {
	Figure string        `json:"figure"`
	Now    measure.Value `json:"now"`
	Before measure.Value `json:"before" doc:"In the period of the same length before"`
	Aim    *work.Aim     `json:"aim,omitempty" doc:"What the reader has set as its target"`
}

type seriesView struct {
	Keys   [][]namedKey    `json:"keys" nullable:"false" doc:"Of each side, with what people call them"`
	Cells  []measure.Value `json:"cells" nullable:"false" doc:"Of the first key of the first side all of the second, and so on"`
	Total  measure.Value   `json:"total"`
	Others int             `json:"others" doc:"Values of the first side that are left out"`
}

type screenBody struct {
	Sentence measure.Sentence `json:"sentence" doc:"As it was read: with sides that the figure can be told apart by"`
	Narrowed []narrowedView   `json:"narrowed" nullable:"false" doc:"What it is narrowed to, with what people call it"`
	Period   periodView       `json:"period"`
	Before   periodView       `json:"before"`
	AsOf     time.Time        `json:"asOf"`
	Row      []rowView        `json:"row" nullable:"false"`
	Along    seriesView       `json:"along"`
	Goal     *float64         `json:"goal,omitempty" doc:"What each stretch along time should be, by a target of the reader"`
	Side     seriesView       `json:"side"`
	Grid     seriesView       `json:"grid"`
}

type narrowedView struct {
	Side measure.Side `json:"side"`
	Name string       `json:"name" doc:"Of the side"`
	Keys []namedKey   `json:"keys" nullable:"false"`
}

func periodOf(p measure.Period) periodView {
	return periodView{p.From.String(), p.Until.AddDays(-1).String(), p.Words, p.Running}
}

func seriesOf(names work.Names, s measure.Series, sides ...measure.Side) seriesView {
	out := seriesView{Keys: [][]namedKey{}, Cells: s.Cells, Total: s.Total, Others: s.Others}
	for i, keys := range s.Keys {
		all := make([]namedKey, len(keys))
		for j, key := range keys {
			all[j] = namedKey{key, names.Of(sides[i], key)}
		}
		out.Keys = append(out.Keys, all)
	}
	return out
}

func narrowed(names work.Names, only []measure.Narrowed) []narrowedView {
	out := []narrowedView{}
	for _, n := range only {
		view := narrowedView{Side: n.Side, Name: n.Side.Name()}
		for _, key := range n.Keys {
			view.Keys = append(view.Keys, namedKey{key, names.Of(n.Side, key)})
		}
		out = append(out, view)
	}
	return out
}

type SentenceInput struct{ Body measure.Sentence }

func (h measuring) screen(ctx context.Context, in *SentenceInput) (*body[screenBody], error) {
	screen, err := h.Office.Measuring.Screen(ctx, me(ctx), in.Body)
	if err != nil {
		return nil, err
	}
	names, err := h.Office.Measuring.Names(ctx)
	return answer(screenOf(names, screen), err)
}

func screenOf(names work.Names, screen work.Screen) screenBody {
	s := screen.Sentence
	out := screenBody{
		Sentence: s, Narrowed: narrowed(names, s.Only), Period: periodOf(screen.Period), Before: periodOf(screen.Before), AsOf: screen.AsOf, Row: []rowView{},
		Along: seriesOf(names, screen.Along, s.Along), Goal: screen.Goal, Side: seriesOf(names, screen.Side, s.Side), Grid: seriesOf(names, screen.Grid, s.Side, s.Second),
	}
	for _, told := range screen.Row {
		out.Row = append(out.Row, rowView{told.Figure, told.Total, told.Before, told.Aim})
	}
	return out
}

type countedView struct {
	Reference  string          `json:"reference"`
	Title      string          `json:"title" doc:"That of the request for those who may see it, else the offering's name"`
	Request    string          `json:"request,omitempty" doc:"ID, when the reader may open it"`
	Offering   string          `json:"offering" doc:"Name"`
	Service    string          `json:"service" doc:"Name"`
	Department string          `json:"department" doc:"Of who asked, as then"`
	Status     request.Status  `json:"status"`
	Outcome    request.Outcome `json:"outcome,omitempty"`
	Sent       time.Time       `json:"sent"`
	Delivered  *time.Time      `json:"delivered,omitempty"`
	Closed     *time.Time      `json:"closed,omitempty"`
	Due        *time.Time      `json:"due,omitempty"`
	Used       int64           `json:"used" doc:"Open seconds by the clock of the promise, once it has ended"`
	Target     int64           `json:"target" doc:"Open seconds promised; 0 for none"`
	Kept       string          `json:"kept,omitempty"`
	Speed      string          `json:"speed,omitempty"`
	Impact     string          `json:"impact,omitempty"`
	Urgency    string          `json:"urgency,omitempty"`
	Location   string          `json:"location,omitempty"`
	CostCentre string          `json:"costCentre,omitempty"`
	Version    int             `json:"version"`
	Backs      int             `json:"backs"`
	Cost       string          `json:"cost,omitempty"`
	Task       string          `json:"task,omitempty" doc:"Name"`
	Team       string          `json:"team,omitempty" doc:"Name"`
	Waited     int64           `json:"waited" doc:"Of the task: open seconds until it was taken"`
	Worked     int64           `json:"worked" doc:"Of the task: open seconds in hand"`
	Late       int64           `json:"late" doc:"Of the task: open seconds after it was due"`
}

type countedBody struct {
	Lines  []countedView `json:"lines" nullable:"false" doc:"The newest first"`
	Total  int64         `json:"total" doc:"All that the figure counts"`
	Hidden int64         `json:"hidden" doc:"Of these, that stand in no list for the reader"`
	Next   string        `json:"next,omitempty" doc:"What the next page begins after; left out on the last"`
}

type CountedInput struct {
	After string `query:"after" maxLength:"60" doc:"What the page before gave as next"`
	Body  measure.Sentence
}

// countedShown is how many records are shown at once.
const countedShown = 50

func (h measuring) records(ctx context.Context, in *CountedInput) (*body[countedBody], error) {
	after, err := work.ParseRef(in.After)
	if err != nil {
		return nil, err
	}
	records, err := h.Office.Measuring.Records(ctx, me(ctx), in.Body, after, countedShown)
	if err != nil {
		return nil, err
	}
	return h.counted(ctx, records)
}

// counted words a page of records.
func (h measuring) counted(ctx context.Context, records work.Records) (*body[countedBody], error) {
	names, err := h.Office.Measuring.Names(ctx)
	out := countedBody{Lines: []countedView{}, Total: records.Total, Hidden: records.Hidden}
	for _, line := range records.Lines {
		out.Lines = append(out.Lines, h.record(names, line))
	}
	if records.More {
		out.Next = work.RefText(records.Lines[len(records.Lines)-1].Ref)
	}
	return answer(out, err)
}

// at is an instant of seconds; nil for none.
func at(seconds int64) *time.Time {
	if seconds == 0 {
		return nil
	}
	t := time.Unix(seconds, 0).UTC()
	return &t
}

func (h measuring) record(names work.Names, r work.Record) countedView {
	out := countedView{
		Reference: r.Reference, Title: r.Title, Offering: r.Name, Service: names.Of(measure.ByService, r.Service), Department: r.Department,
		Status: r.Status, Outcome: r.Outcome, Sent: time.Unix(r.Sent, 0).UTC(), Delivered: at(r.Delivered), Closed: at(r.Closed), Due: at(r.Due),
		Used: r.Used, Target: r.Target, Kept: string(r.Kept), Speed: r.Speed, Impact: r.Impact, Urgency: r.Urgency, Location: r.Location,
		CostCentre: names.Of(measure.ByCostCentre, r.CostCentre), Version: r.Version, Backs: r.Backs, Cost: r.Price,
	}
	if r.Opens {
		out.Request = r.ID
	}
	if t := r.Task; t != nil {
		out.Task, out.Team, out.Waited, out.Worked, out.Late = r.TaskName, names.Of(measure.ByTeam, t.Team), t.Waited, t.Worked, t.Late
	}
	return out
}

type ValuesInput struct {
	Side  measure.Side `query:"side" required:"true"`
	Words string       `query:"words" maxLength:"80" doc:"Parts of the name"`
	Body  measure.Sentence
}

type valuesBody struct {
	Values []valueView `json:"values" nullable:"false" doc:"At most fifty, those with the most first"`
}

type valueView struct {
	Key     string `json:"key"`
	Name    string `json:"name"`
	Records int64  `json:"records" doc:"How many there are of it in the period"`
}

func (h measuring) values(ctx context.Context, in *ValuesInput) (*body[valuesBody], error) {
	values, err := h.Office.Measuring.Values(ctx, me(ctx), in.Body, in.Side, in.Words)
	out := valuesBody{Values: []valueView{}}
	for _, v := range values {
		out.Values = append(out.Values, valueView(v))
	}
	return answer(out, err)
}
