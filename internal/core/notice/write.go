package notice

import (
	"strings"
	"time"

	"heptad/internal/core/calendar"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
)

// DueForm is how texts tell an instant, on the reader's wall clock.
const DueForm = "Monday 2 January 2006, 15:04 MST"

// dayForm is how texts tell a date.
const dayForm = "Monday 2 January 2006"

// Write writes the message of a notice about a request as it is after what it tells, by the
// texts that a writer has. It says which text it was.
func (n Notice) Write(after request.State, facts request.Facts, by *message.Writer) (subject, body string, text message.Text) {
	subject, body, text = by.Write(n.Kind, n.facts(after, facts))
	if n.Kind == message.Written {
		return n.Subject, n.Text, text
	}
	return subject, body, text
}

// facts are what a text can read.
func (n Notice) facts(s request.State, facts request.Facts) message.Facts {
	company := facts.Company
	person, _ := company.Person(n.Person)
	zone := company.ZoneOf(n.Person)
	when := func(at time.Time) string {
		if at.IsZero() {
			return ""
		}
		return at.In(zone).Format(DueForm)
	}
	f := message.Facts{
		Reference: s.Reference, Title: s.Title, Offering: facts.Offering.Document.Purpose.Name, Asker: company.Name(s.Asker),
		For: offering.Parties{Beneficiary: s.For, Company: company}.Name(), Said: n.Said, Person: person.Name, Price: priceWords(s.Price), By: "Heptad",
		Holder: heldBy(s, facts.Service, company),
	}
	if s.For.Person == "" && s.For.Newcomer == nil {
		f.For = f.Asker
	}
	if n.By != request.Program {
		f.By = company.Name(n.By)
	}
	if s.Outcome != "" {
		f.Outcome = map[request.Outcome]string{request.Declined: "declined", request.Withdrawn: "taken back", request.Expired: "expired", request.Fulfilled: "fulfilled", request.Cancelled: "cancelled"}[s.Outcome]
	}
	for i := range s.Rungs {
		if r := &s.Rungs[i]; r.Key == n.Rung {
			f.Decision, f.Due = r.Name, when(r.DueAt())
			f.Price = priceWords(r.PriceFor(n.Person, s.Price))
			if r.NoPrice {
				f.Price = ""
			}
			if r.Say != "" && n.Kind == message.Decide {
				f.Decision += ": " + r.Say
			}
		}
	}
	if t, ok := s.Task(n.Task); ok {
		f.Task = t.Name
		if n.Kind == message.Due {
			f.Due = when(t.Due)
		}
		if t.Question != nil && n.Kind == message.AskedBack {
			f.Due = when(t.Question.Until)
		}
	}
	switch {
	case n.Kind == message.AskedBack && s.Question != nil:
		f.Due = when(s.Question.Until)
	case n.Kind == message.Delivered:
		f.Due = when(s.ConfirmBy)
	case !n.Due.IsZero():
		f.Due = when(n.Due)
	case n.Kind == message.Slipped:
		f.Due = when(n.Likely)
	case n.Kind == message.Dated:
		if day, err := calendar.ParseDate(n.Day); err == nil {
			f.Said = day.In(zone).Format(dayForm)
		}
	}
	return f
}

func priceWords(p price.Price) string {
	if p.FirstYear.Minor() <= 0 {
		return "nothing"
	}
	return p.FirstYear.String() + " in the first year"
}

// heldBy names with whom a request lies.
func heldBy(s request.State, service people.Service, company *people.Directory) string {
	var names []string
	for _, h := range s.Holders(service.Home) {
		name := company.TeamName(h.Team)
		if h.Person != "" {
			name = company.Name(h.Person)
		}
		if h.System != "" {
			name = "a system that does it by itself"
		}
		if name != "" && !strings.Contains(strings.Join(names, "\n"), name) {
			names = append(names, name)
		}
	}
	return strings.Join(names, " and ")
}
