package rehearse

import (
	"time"

	"heptad/internal/core/request"
)

// Moment is a life at an instant.
type Moment struct {
	At       time.Time
	Events   []request.Event // by then
	State    request.State
	Forecast request.Forecast // of one that is on its way
}

// Moment is how it is after so many events, at an instant from then on.
func (l *Life) Moment(events int, at time.Time) Moment {
	events = max(0, min(events, len(l.Events)))
	m := Moment{At: at, Events: l.Events[:events:events]}
	m.State = request.Replay(m.Events)
	if m.At.Before(m.State.At) {
		m.At = m.State.At
	}
	if m.State.Reference == "" {
		return m
	}
	facts := request.Facts{Company: l.Company, Offering: l.Offering, Service: l.Service, Now: m.At, Measures: l.measures, Belongings: l.had, Known: l.ground.Known}
	m.Forecast = m.State.Forecast(facts, l.measures)
	return m
}

// Frame is an instant at which something happened, for drawing a time line.
type Frame struct {
	At      time.Time       `json:"at"`
	Events  int             `json:"events" doc:"How many there were by then"`
	Status  request.Status  `json:"status"`
	Reached []request.Stage `json:"reached" nullable:"false" doc:"Stages that were reached"`
	Who     []string        `json:"who" nullable:"false" doc:"Names of those with whom it lies"`
	Says    []string        `json:"says" nullable:"false" doc:"What happened, in words"`
	Kind    string          `json:"kind" enum:"stage,decision,task,word,note,belonging,trouble" doc:"Of what happened"`
}

// Frames are the instants at which something happened.
func (l *Life) Frames() []Frame {
	out := []Frame{}
	var state request.State
	steps := l.Steps
	var says []string
	kind := ""
	for _, e := range l.Events {
		state.Apply(e)
		if entry, told := e.Told(&state, l.Company); told {
			says = append(says, entry.Sentence)
			kind = weightier(kind, kindOf(e, entry))
		}
		if len(steps) == 0 || e.Seq != steps[0].Events {
			continue
		}
		at := steps[0].At
		steps = steps[1:]
		if len(says) == 0 {
			continue
		}
		frame := Frame{At: at.UTC(), Events: e.Seq, Status: state.Status, Reached: []request.Stage{}, Who: holderNames(&state, l.Service, l.Company), Says: says, Kind: kind}
		for _, stage := range request.Stages {
			if _, reached := state.Stages[stage]; reached {
				frame.Reached = append(frame.Reached, stage)
			}
		}
		if frame.Who == nil {
			frame.Who = []string{}
		}
		says, kind = nil, ""
		if last := len(out) - 1; last >= 0 && out[last].At.Equal(frame.At) {
			frame.Says = append(out[last].Says, frame.Says...)
			frame.Kind = weightier(out[last].Kind, frame.Kind)
			out[last] = frame
			continue
		}
		out = append(out, frame)
	}
	return out
}

// kinds are the kinds of what happens, the weightiest first.
var kinds = []string{"trouble", "decision", "stage", "task", "belonging", "word", "note"}

func kindOf(e request.Event, entry request.Entry) string {
	switch e.Body.(type) {
	case request.TaskStuck, request.CallFailed, request.MarkReached, request.AskedBack:
		return "trouble"
	}
	return entry.Kind
}

func weightier(a, b string) string {
	for _, kind := range kinds {
		if a == kind || b == kind {
			return kind
		}
	}
	return b
}
