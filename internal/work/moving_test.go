package work_test

import (
	"context"
	"errors"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/core/audit"
	"heptad/internal/core/calendar"
	"heptad/internal/core/intake"
	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// postbox takes mails, or does not.
type postbox struct {
	took   []connect.Mail
	broken error
}

func (p *postbox) Post(_ context.Context, m connect.Mail) error {
	if p.broken == nil {
		p.took = append(p.took, m)
	}
	return p.broken
}

// firstDay is an empty folder with its first administrator in it.
func firstDay(t *testing.T, mail *postbox) (o *work.Office, signe string) {
	t.Helper()
	kept, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, kept.Close()) })
	settings := work.Settings{Store: kept, Clock: func() time.Time { return demotest.Start }, Sealed: make([]byte, 32)}
	if mail != nil {
		settings.Mailing = &work.Mailing{Poster: mail, Base: "https://heptad.example", Secret: make([]byte, 32)}
	}
	o, err = work.New(ctx, settings)
	require.NoError(t, err)
	link, err := o.Entering.EntryLink(ctx)
	require.NoError(t, err)
	_, err = o.Entering.MoveIn(ctx, link, work.Newcomer{Name: "Signe Halvorsen", Login: "signe", Email: "signe@halvorsenito.example", Password: passphrase})
	require.NoError(t, err)
	p, ok := o.Company().ByLogin("signe")
	require.True(t, ok)
	return o, p.ID
}

// The first day from an empty folder: each step says what it lacks until it is done, offerings
// are taken from the starter set for the owners of the services, and then moving in ends.
func TestTheFirstDay(t *testing.T) {
	box := &postbox{broken: errors.New("the server is asleep")}
	o, signe := firstDay(t, box)
	open := func() (steps []string) {
		t.Helper()
		all, ended, err := o.Keeping.MovingIn(ctx, signe)
		require.NoError(t, err)
		assert.True(t, ended.IsZero())
		for _, s := range all {
			assert.Equal(t, s.Done, s.Lacks == "", s.Key)
			if !s.Done {
				steps = append(steps, s.Key)
			}
		}
		return steps
	}
	assert.Equal(t, []string{"organisation", "you", "people", "teams", "services", "offerings", "mail", "request"}, open())
	refused(t, o.Keeping.EndMovingIn(ctx, signe), refusal.NotMovedIn)

	calendars, err := o.Designing.CalendarDocuments(ctx)
	require.NoError(t, err)
	require.Empty(t, calendars)
	_, err = o.Designing.EditCalendar(ctx, signe, "nursery", calendar.Document{
		Format: calendar.Format, Name: "Nursery", Zone: "Europe/Copenhagen", Week: map[string][]string{"mon": {"08:00-16:00"}, "tue": {"08:00-16:00"}, "wed": {"08:00-16:00"}},
	})
	require.NoError(t, err)
	org := o.Organisation()
	org.Name, org.Prefix, org.Currency, org.Zone, org.Calendar, org.Period = "Halvorsen & Ito Greenhouses", "HI", "DKK", "Europe/Copenhagen", "nursery", price.Once
	require.NoError(t, o.Keeping.Organise(ctx, signe, org))
	g := demotest.Greenhouses{Size: 60}
	for _, sheet := range []struct {
		kind intake.Kind
		rows [][]string
	}{
		{intake.Locations, g.Locations()}, {intake.People, g.People()}, {intake.CostCentres, g.CostCentres()}, {intake.Teams, g.Teams()}, {intake.Areas, g.Areas()}, {intake.Services, g.Services()},
	} {
		id, err := o.Keeping.AddSheet(ctx, signe, sheet.kind, "sheet.csv", demotest.CSV(sheet.kind, sheet.rows))
		require.NoError(t, err)
		_, err = o.Keeping.DoSheet(ctx, signe, id, false, false)
		require.NoError(t, err, sheet.kind)
	}
	assert.Equal(t, []string{"you", "offerings", "mail", "request"}, open())

	refused(t, o.Keeping.TryMail(ctx, signe), refusal.NoMail)
	assert.Contains(t, open(), "mail", "a mail that was not taken is no mail")
	box.broken = nil
	require.NoError(t, o.Keeping.TryMail(ctx, signe))
	require.Len(t, box.took, 1)
	assert.Equal(t, []string{"signe@halvorsenito.example", "Mail of Heptad works"}, []string{box.took[0].To, box.took[0].Subject})
	assert.NotContains(t, open(), "mail")

	for name, c := range map[string]struct {
		taking work.Taking
		code   string
	}{
		"no beginning": {work.Taking{Starter: "moon", Service: "workplace"}, refusal.NoStarter},
		"no service":   {work.Taking{Starter: "loan", Service: "moon"}, refusal.UnknownService},
		"no team":      {work.Taking{Starter: "loan", Service: "workplace", Teams: map[string]string{"ready": "moon"}}, refusal.UnknownTeam},
		"no name":      {work.Taking{Starter: "loan", Service: "workplace", Name: "???"}, refusal.NoName},
	} {
		_, err := o.Keeping.TakeStarter(ctx, signe, c.taking)
		assert.Equal(t, c.code, codeOf(t, err), name)
	}
	_, err = o.Keeping.TakeStarter(ctx, "nobody", work.Taking{Starter: "loan", Service: "workplace"})
	require.ErrorIs(t, err, work.ErrNotFound)

	key, err := o.Keeping.TakeStarter(ctx, signe, work.Taking{Starter: "loan", Service: "workplace", Name: " Ladder for a day ", Teams: map[string]string{"ready": "systems"}})
	require.NoError(t, err)
	assert.Equal(t, "ladder-for-a-day", key)
	taken, err := o.Keeping.Taken(ctx, key)
	require.NoError(t, err)
	assert.True(t, taken)
	_, err = o.Keeping.TakeStarter(ctx, signe, work.Taking{Starter: "loan", Service: "workplace", Name: "Ladder for a day"})
	refused(t, err, refusal.NameTaken)
	owner, _ := o.Company().ByLogin(g.Login(6))
	offered, err := o.Designing.OpenDraft(ctx, owner.ID, key)
	require.NoError(t, err)
	assert.Equal(t, 1, offered.Current, "it is published for the owner of the service")
	assert.Equal(t, work.AsSupplied, offered.News.Origin)
	assert.Equal(t, []string{"DKK", "Europe/Copenhagen", "nursery", "workplace"}, []string{offered.Document.Items.Currency, offered.Document.Promise.Zone, offered.Document.Promise.Calendar, offered.Document.Purpose.Service})
	for _, task := range offered.Document.Plan {
		assert.Equal(t, map[bool]string{true: "systems", false: "help-desk"}[task.Key == "ready"], task.Team, task.Key)
	}
	messages, err := o.Messaging.Messages(ctx, owner.ID, false, work.Page{Limit: 10})
	require.NoError(t, err)
	require.NotEmpty(t, messages)
	assert.Contains(t, messages[0].Subject+messages[0].Body, "Ladder for a day is offered in Workplace")
	assert.Equal(t, []string{"you", "request"}, open())

	// The leaving of a colleague becomes what is sent for those who leave, once.
	leaving, err := o.Keeping.TakeStarter(ctx, signe, work.Taking{Starter: "leaving-colleague", Service: "people"})
	require.NoError(t, err)
	assert.Equal(t, leaving, o.Organisation().SignOff)
	_, err = o.Keeping.TakeStarter(ctx, signe, work.Taking{Starter: "leaving-colleague", Service: "people", Name: "Another leaving"})
	require.NoError(t, err)
	assert.Equal(t, leaving, o.Organisation().SignOff, "the first stays")

	require.NoError(t, o.Keeping.EndMovingIn(ctx, signe))
	moving, err := o.Keeping.Moving(ctx)
	require.NoError(t, err)
	assert.False(t, moving)
	require.NoError(t, o.Keeping.EndMovingIn(ctx, signe), "twice is once")
	_, err = o.Keeping.TakeStarter(ctx, signe, work.Taking{Starter: "letter", Service: "people"})
	refused(t, err, refusal.MovedIn)
	require.ErrorIs(t, o.Keeping.EndMovingIn(ctx, owner.ID), work.ErrNotFound)
	all, err := o.Auditing.Acts(ctx, signe, work.WantedActs{Limit: 100})
	require.NoError(t, err)
	counts := map[audit.Act]int{}
	for _, a := range all {
		counts[a.Act]++
	}
	assert.Equal(t, []int{3, 1, 1}, []int{counts[audit.StarterTaken], counts[audit.MovedIn], counts[audit.MailTried]})
}

// Without a mail server that is said, and nothing is tried.
func TestNoMailOnTheFirstDay(t *testing.T) {
	o, signe := firstDay(t, nil)
	refused(t, o.Keeping.TryMail(ctx, signe), refusal.NoMail)
	require.ErrorIs(t, o.Keeping.TryMail(ctx, "nobody"), work.ErrNotFound)
	steps, _, err := o.Keeping.MovingIn(ctx, signe)
	require.NoError(t, err)
	for _, s := range steps {
		if s.Key == work.StepMail {
			assert.Contains(t, s.Lacks, "No mail server is set.")
		}
	}
	_, _, err = o.Keeping.MovingIn(ctx, "nobody")
	require.ErrorIs(t, err, work.ErrNotFound)
}
