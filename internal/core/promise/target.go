package promise

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// Target is a promised time. The first whose rule holds counts; one without a
// rule fits everybody.
type Target struct {
	Name       string   `json:"name" maxLength:"120" doc:"Such as Usual or Quick"`
	Text       string   `json:"text,omitempty" maxLength:"500" doc:"What it means, in a sentence"`
	Owner      string   `json:"owner,omitempty" maxLength:"60" doc:"Login of who answers for it; the owner of the service when left out"`
	Off        bool     `json:"off,omitempty" doc:"It is switched off, and holds for nobody"`
	ValidFrom  string   `json:"validFrom,omitempty" maxLength:"10" doc:"First day of sending it holds for, RFC 3339; from ever when left out"`
	ValidUntil string   `json:"validUntil,omitempty" maxLength:"10" doc:"Last day of sending it holds for, RFC 3339; for ever when left out"`
	Review     string   `json:"review,omitempty" maxLength:"10" doc:"Day on which its owner looks whether it still fits, RFC 3339"`
	When       string   `json:"when,omitempty" maxLength:"4000" doc:"CEL; whom and what it is for"`
	Response   string   `json:"response,omitempty" maxLength:"20" doc:"Working time until staff's first word, such as 4h or 1d"`
	Fulfilment string   `json:"fulfilment,omitempty" maxLength:"20" doc:"Working time until delivery, such as 8h or 5d; empty with readyBy"`
	ReadyBy    *ReadyBy `json:"readyBy,omitempty" doc:"In place of a working time: a date of the answers by which it is ready. While it is not answered, the next target counts"`
	Calendar   string   `json:"calendar,omitempty" maxLength:"60" doc:"Key of the working calendar it is computed in; that of the promise when left out"`
	From       string   `json:"from,omitempty" maxLength:"4000" doc:"CEL that gives a date or an instant to compute from, in place of the sending"`
	Until      []string `json:"until,omitempty" maxItems:"200" nullable:"false" doc:"Keys of the tasks whose end it runs to, in place of the delivery"`
}

// Holds reports whether a target holds for what is sent on a day.
func (t Target) Holds(day calendar.Date) bool {
	on := day.String()
	return !t.Off && (t.ValidFrom == "" || t.ValidFrom <= on) && (t.ValidUntil == "" || on <= t.ValidUntil)
}

// Dated reports whether any of its targets ends, or is to be looked at again.
func (p Promise) Dated() bool {
	return slices.ContainsFunc(p.Targets, func(t Target) bool { return t.ValidUntil != "" || t.Review != "" })
}

// always reports whether a target holds on every day.
func (t Target) always() bool { return !t.Off && t.ValidFrom == "" && t.ValidUntil == "" }

// Ends is the last day of sending on which any of the targets holds, of those that hold on
// a day or later; false when one of them holds for ever, or none is there.
func (p Promise) Ends(day calendar.Date) (calendar.Date, bool) {
	last := ""
	for _, t := range p.Targets {
		switch {
		case t.Off || t.ValidUntil != "" && t.ValidUntil < day.String():
		case t.ValidUntil == "":
			return calendar.Date{}, false
		default:
			last = max(last, t.ValidUntil)
		}
	}
	end, err := calendar.ParseDate(last)
	return end, err == nil
}

// EndsSoon is how many days before no promise of an offering is valid any more that is found,
// and its owner told.
const EndsSoon = 30

// Lapses finds that no promise is valid any more, or will be soon.
func (p Promise) Lapses(today calendar.Date, findings *finding.List) {
	past := func(t Target) bool { return t.ValidUntil != "" && t.ValidUntil < today.String() }
	if n := len(p.Targets); n > 0 && !slices.ContainsFunc(p.Targets, func(t Target) bool { return !past(t) }) {
		findings.Warning(finding.PromisesNothing, "/promise/targets", "No promise is valid any more: nothing is promised.", "Give one a later day, or write another.")
	}
	if end, ends := p.Ends(today); ends && end.Since(today) <= EndsSoon {
		findings.Warning(finding.EndsSoon, "/promise/targets", fmt.Sprintf("After %s no promise is valid: nothing is promised then.", end), "Give one a later day, or write another.")
	}
}

// alike finds promises that people take for one another, and those that never count because
// one above holds for the same.
func alike(targets []Target, findings *finding.List) {
	for i, t := range targets {
		for _, above := range targets[:i] {
			at := finding.At("promise", "targets", i)
			if name := strings.TrimSpace(t.Name); name != "" && strings.EqualFold(name, strings.TrimSpace(above.Name)) {
				findings.Warning(finding.Alike, at+"/name", fmt.Sprintf("Two promises are called %q: nobody can tell them apart.", t.Name), "Name one by whom it is for.")
			}
			if t.When != "" && t.When == above.When && t.ReadyBy == nil && above.ReadyBy == nil && !t.Off && above.always() {
				findings.Warning(finding.NeverReached, at, fmt.Sprintf("%q holds for the same as %q above it, so it never counts.", t.Name, above.Name), "Take one out, or say when it holds.")
			}
		}
	}
}

// ReadyBy is a date of the answers by which something must be ready.
type ReadyBy struct {
	Of   string `json:"of" maxLength:"4000" doc:"CEL that gives the date, such as answers.firstDay"`
	Days int    `json:"days,omitempty" minimum:"0" maximum:"250" doc:"So many working days before it"`
	At   string `json:"at,omitempty" maxLength:"5" pattern:"^$|^[0-2][0-9]:[0-5][0-9]$" doc:"Clock time on that day; when left out its close, or its opening when it is the date itself"`
}
