package message_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/message"
)

func facts() message.Facts {
	return message.Facts{Reference: "QS-10432-P", Title: "Quay badge", Asker: "Davi Sarmento", For: "Davi Sarmento", Decision: "Line manager", Price: "nothing", Due: "Friday", Person: "Ragnhild Quist"}
}

func TestWrite(t *testing.T) {
	findings := finding.List{}
	own := message.Compile([]message.Text{
		{Kind: message.Decide, Subject: "Dear {{ person.name }}:\n  {{ request.title }}", Body: "By {{ request.by }}?"},
		{Kind: message.Said, Subject: "{{ request.title + 1 }}", Body: "x"},
	}, "/messages", &findings)
	require.Len(t, findings, 1)
	assert.Equal(t, "/messages/1/subject", findings[0].Place)

	subject, body, source := message.Write(message.Decide, facts(), nil, own)
	assert.Equal(t, "Dear Ragnhild Quist: Quay badge", subject, "a subject is one line")
	assert.Equal(t, "By —?", body, "what is unknown is said to be")
	assert.Equal(t, "By {{ request.by }}?", source.Body, "the text that was filled in")
	assert.NotEqual(t, source.Version(), message.Text{Kind: source.Kind, Subject: source.Subject, Body: source.Body + " "}.Version())

	subject, _, _ = message.Write(message.Decide, facts())
	assert.Equal(t, "Your decision: Quay badge", subject, "the usual text")
	general := message.Compile([]message.Text{{Kind: message.Decide, Subject: "General", Body: "g"}}, "", &finding.List{})
	subject, _, _ = message.Write(message.Decide, facts(), own, general)
	assert.Equal(t, "Dear Ragnhild Quist: Quay badge", subject, "the offering's own goes first")
	subject, _, _ = message.Write(message.Decide, facts(), nil, general)
	assert.Equal(t, "General", subject)

	subject, _, _ = message.Write(message.Said, facts(), own)
	assert.Equal(t, "— wrote on Quay badge", subject, "a faulty text does not stop a message")
}

// What one writer writes for several is what each would get by themselves.
func TestAWriterForMany(t *testing.T) {
	own := message.Compile([]message.Text{
		{Kind: message.Decide, Subject: "For you: {{ request.title }}", Body: "Dear {{ person.name }}, {{ request.decision }}."},
		{Kind: message.Remind, Subject: "{{ person.name }}", Body: "It waits."},
		{Kind: message.Over, Subject: "Over", Body: "{{ request.by }}"},
	}, "", &finding.List{})
	w := message.NewWriter(own)
	for _, person := range []string{"Ragnhild Quist", "Bertil Okonjo", "Ragnhild Quist", ""} {
		for _, kind := range []message.Kind{message.Decide, message.Remind, message.Over, message.Sent} {
			for _, by := range []string{"Davi Sarmento", "Ysolde Marrec"} {
				f := facts()
				f.Person, f.By = person, by
				subject, body, source := message.Write(kind, f, own)
				subject2, body2, source2 := w.Write(kind, f)
				assert.Equal(t, []any{subject, body, source}, []any{subject2, body2, source2}, "%s to %s", kind, person)
			}
		}
	}
}

func TestForSomebodyElse(t *testing.T) {
	f := facts()
	_, body, _ := message.Write(message.Decide, f)
	assert.True(t, strings.HasPrefix(body, "Davi Sarmento asks for Quay badge.\n"), body)
	f.For = "Ondina Farsund"
	_, body, _ = message.Write(message.Decide, f)
	assert.True(t, strings.HasPrefix(body, "Davi Sarmento asks for Quay badge, for Ondina Farsund.\n"), body)
}

func TestFindingsOfTexts(t *testing.T) {
	for want, text := range map[string]message.Text{
		"/0/kind kind":           {Kind: "shout", Subject: "a", Body: "b"},
		"/0 noText":              {Kind: message.Said, Subject: " ", Body: "b"},
		"/0/body placeholder":    {Kind: message.Said, Subject: "a", Body: "{{ request.secret }}"},
		"/0/subject placeholder": {Kind: message.Said, Subject: "{{ request.title", Body: "b"},
	} {
		findings := finding.List{}
		message.Compile([]message.Text{text}, "", &findings)
		require.NotEmpty(t, findings, want)
		assert.Equal(t, want, findings[0].Place+" "+findings[0].Code)
	}
	findings := finding.List{}
	twice := message.Text{Kind: message.Said, Subject: "a", Body: "b"}
	message.Compile([]message.Text{twice, twice}, "", &findings)
	assert.Equal(t, finding.DuplicateKind, findings[0].Code)
}

// Every kind has words, a usual text that reads, and a usual way.
func TestEveryKindIsWhole(t *testing.T) {
	require.Len(t, message.Usual(), len(message.Kinds))
	for i, kind := range message.Kinds {
		assert.NotEmpty(t, kind.Words())
		assert.Equal(t, kind, message.Usual()[i].Kind)
		subject, body, _ := message.Write(kind, facts())
		assert.NotContains(t, subject+body, "{{")
		assert.Equal(t, kind != message.Progress && kind != message.Entry, message.UsualWay(kind).List, "each step of the work is for who wants it")
	}
	assert.Contains(t, message.Names(), "request.title")
}

// The daily mail goes out at seven on the reader's own wall clock.
func TestNextDaily(t *testing.T) {
	for _, c := range []struct{ zone, after, want string }{
		{"Europe/Lisbon", "2027-03-10T06:59:00Z", "2027-03-10T07:00:00Z"},
		{"Europe/Lisbon", "2027-03-10T07:00:00Z", "2027-03-11T07:00:00Z"},
		{"Europe/Oslo", "2027-03-10T06:30:00Z", "2027-03-11T06:00:00Z"},
		{"Europe/Lisbon", "2027-03-27T20:00:00Z", "2027-03-28T06:00:00Z"}, // clocks go forward in the night
		{"Atlantic/Azores", "2027-03-10T07:30:00Z", "2027-03-10T08:00:00Z"},
	} {
		zone, err := time.LoadLocation(c.zone)
		require.NoError(t, err)
		after, err := time.Parse(time.RFC3339, c.after)
		require.NoError(t, err)
		assert.Equal(t, c.want, message.NextDaily(after, calendar.Plain(zone)).Format(time.RFC3339), "%s %s", c.zone, c.after)
	}
}
