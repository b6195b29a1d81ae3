package web

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

// calendarView is a working calendar with a year at a glance.
type calendarView struct {
	Key      string            `json:"key"`
	Document calendar.Document `json:"document"`
	Year     int               `json:"year"`
	Days     []calendarDay     `json:"days" nullable:"false" doc:"Every day of the year"`
	Findings finding.List      `json:"findings" nullable:"false" doc:"Why it was not kept, if it was not"`
	Uses     *usesView         `json:"uses,omitempty" doc:"Of one that is kept, as it was opened"`

	Yours     bool       `json:"yours,omitempty" doc:"The reader may change it"`
	Keeper    string     `json:"keeper,omitempty" doc:"Name of who keeps it beside the administrators"`
	ChangedBy string     `json:"changedBy,omitempty" doc:"Name"`
	ChangedAt *time.Time `json:"changedAt,omitempty"`
}

// usesView names those whose time a calendar keeps.
type usesView struct {
	Teams     []string `json:"teams" nullable:"false"`
	Locations []string `json:"locations" nullable:"false"`
	Offerings []string `json:"offerings" nullable:"false"`
}

type calendarDay struct {
	Date string `json:"date"`
	Open int    `json:"open" doc:"Open minutes"`
	Name string `json:"name,omitempty" doc:"Of the exception"`
	Not  bool   `json:"not,omitempty" doc:"It is an exception: other hours than its weekday has, or none"`
}

func (h designing) calendars(ctx context.Context, _ *none) (*body[listOf[Named]], error) {
	all, err := h.Office.Designing.Calendars(ctx, me(ctx))
	out := listOf[Named]{Entries: []Named{}}
	for key, d := range all {
		name := d.Name
		if name == "" {
			name = key
		}
		out.Entries = append(out.Entries, Named{Key: key, Name: name})
	}
	slices.SortFunc(out.Entries, func(a, b Named) int {
		if a.Name < b.Name {
			return -1
		}
		return 1
	})
	return answer(out, err)
}

// CalendarInput names a calendar, and a year.
type CalendarInput struct {
	Calendar string `path:"calendar" maxLength:"60" doc:"Key"`
	Year     int    `query:"year" minimum:"1980" maximum:"2149" doc:"This year when left out"`
}

func (h designing) oneCalendar(ctx context.Context, in *CalendarInput) (*body[calendarView], error) {
	kept, err := h.Office.Designing.Calendar(ctx, me(ctx), in.Calendar)
	if err != nil {
		return nil, err
	}
	uses, err := h.Office.Designing.CalendarUses(ctx, me(ctx), in.Calendar)
	out := h.glance(in, kept.Document, finding.List{})
	out.Uses, out.ChangedAt = (*usesView)(&uses), reached(kept.ChangedAt)
	if kept.ChangedBy != "" {
		out.ChangedBy = h.Office.Company().Name(kept.ChangedBy)
	}
	if kept.Keeper != "" {
		out.Keeper = h.Office.Company().Name(kept.Keeper)
	}
	out.Yours = h.Office.Designing.MayEditCalendar(ctx, me(ctx), in.Calendar) == nil
	return answer(out, err)
}

func (h designing) saveCalendar(ctx context.Context, in *struct {
	CalendarInput
	Body calendar.Document
}) (*body[calendarView], error) {
	findings, err := h.Office.Designing.EditCalendar(ctx, me(ctx), in.Calendar, in.Body)
	if err != nil {
		return nil, err
	}
	return answer(h.glance(&in.CalendarInput, in.Body, findings), nil)
}

// tryCalendar shows the year of a calendar as it is being written; nothing is
// kept.
func (h designing) tryCalendar(_ context.Context, in *struct {
	CalendarInput
	Body calendar.Document
}) (*body[calendarView], error) {
	return h.tried(&in.CalendarInput, in.Body)
}

// readHolidays adds the exceptions of an iCalendar file to a calendar as it is
// being written; nothing is kept.
func (h designing) readHolidays(_ context.Context, in *struct {
	CalendarInput
	Body struct {
		Document calendar.Document `json:"document"`
		File     string            `json:"file" maxLength:"1000000" doc:"iCalendar (RFC 5545)"`
	}
}) (*body[calendarView], error) {
	zone, err := time.LoadLocation(in.Body.Document.Zone)
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, fmt.Sprintf("%q is no time zone.", in.Body.Document.Zone))
	}
	more, err := calendar.ReadICalendar(strings.NewReader(in.Body.File), zone)
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, finding.Sentence(err.Error()))
	}
	return h.tried(&in.CalendarInput, in.Body.Document.With(more))
}

func (h designing) tried(in *CalendarInput, d calendar.Document) (*body[calendarView], error) {
	findings := finding.List{}
	calendar.Compile(d, &findings)
	return answer(h.glance(in, d, findings), nil)
}

// glance draws a year of a calendar.
func (h designing) glance(in *CalendarInput, d calendar.Document, findings finding.List) calendarView {
	year := in.Year
	if year == 0 {
		year = h.Office.Clock().Year()
	}
	out := calendarView{Key: in.Calendar, Document: d, Year: year, Days: []calendarDay{}, Findings: findings}
	out.Document.Exceptions = list(d.Exceptions)
	compiled := calendar.Compile(d, &finding.List{})
	if compiled == nil {
		return out
	}
	bare := d
	bare.Exceptions = nil
	usual := calendar.Compile(bare, &finding.List{})
	names := map[string]string{}
	for _, e := range d.Exceptions {
		for _, date := range e.In(year) {
			names[date.String()] = e.Name
		}
	}
	minutes := func(c *calendar.Calendar, day calendar.Date) int {
		var open time.Duration
		for _, span := range c.Open(day) {
			open += span.Until.Sub(span.From)
		}
		return int(open.Minutes())
	}
	day := calendar.DateOf(time.Date(year, time.January, 1, 0, 0, 0, 0, time.UTC))
	for ; day.Year() == year; day = day.AddDays(1) {
		name, named := names[day.String()]
		open := minutes(compiled, day)
		out.Days = append(out.Days, calendarDay{day.String(), open, name, named || open != minutes(usual, day)})
	}
	return out
}
