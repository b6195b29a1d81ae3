package web

import (
	"context"
	"fmt"
	"time"

	"heptad/internal/work"
)

// ownEntryView is a task, or a whole request, on the reader's own list.
type ownEntryView struct {
	Request   string `json:"request" doc:"ID"`
	Task      string `json:"task,omitempty" doc:"Key; nothing for the whole request"`
	Day       string `json:"day" doc:"RFC 3339"`
	Name      string `json:"name" doc:"Of the task, or the title of the request"`
	Title     string `json:"title"`
	Reference string `json:"reference"`
	Done      bool   `json:"done,omitempty"`
}

func (h delivering) ownList(ctx context.Context, _ *none) (*body[listOf[ownEntryView]], error) {
	entries, err := h.Office.Delivering.OwnList(ctx, me(ctx))
	out := listOf[ownEntryView]{Entries: []ownEntryView{}}
	for _, e := range entries {
		view := ownEntryView{e.Request, e.Task, e.Day, e.State.Title, e.State.Title, e.State.Reference, e.Done}
		if t, ok := e.State.Task(e.Task); ok {
			view.Name = t.Name
		}
		out.Entries = append(out.Entries, view)
	}
	return answer(out, err)
}

func (h delivering) putOnList(ctx context.Context, in *struct {
	Body struct {
		Request string `json:"request" maxLength:"60" doc:"ID"`
		Task    string `json:"task,omitempty" maxLength:"80" doc:"Key; nothing for the whole request"`
		Day     string `json:"day" maxLength:"10" doc:"RFC 3339"`
	}
}) (*body[none], error) {
	e := work.OwnDay{Request: in.Body.Request, Task: in.Body.Task, Day: in.Body.Day}
	return answer(none{}, h.Office.Delivering.PutOnList(ctx, me(ctx), e))
}

func (h delivering) takeOffList(ctx context.Context, in *struct {
	Request string `path:"request" maxLength:"60" doc:"ID"`
	Task    string `query:"task" maxLength:"80" doc:"Key; nothing for the whole request"`
}) (*body[none], error) {
	return answer(none{}, h.Office.Delivering.TakeOffList(ctx, me(ctx), in.Request, in.Task))
}

// calendarFile is a calendar entry by RFC 5545.
type calendarFile struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func (h delivering) calendarEntry(ctx context.Context, in *struct {
	Request string    `path:"request" maxLength:"60"`
	Task    string    `path:"task" maxLength:"80"`
	Of      string    `query:"of" enum:"due,wait,meeting" required:"true" doc:"When it is due, the end of a wait, or an appointment with who asks"`
	At      time.Time `query:"at" doc:"Of an appointment"`
	Minutes int       `query:"minutes" default:"30"`
	Place   string    `query:"place" maxLength:"200"`
}) (*calendarFile, error) {
	data, err := h.Office.Delivering.CalendarEntry(ctx, me(ctx), in.Request, in.Task, in.Of, work.Meeting{At: in.At, Minutes: in.Minutes, Place: in.Place})
	if err != nil {
		return nil, err
	}
	return &calendarFile{"text/calendar; charset=utf-8", fmt.Sprintf("attachment; filename=%q", in.Of+".ics"), data}, nil
}
