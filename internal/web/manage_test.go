package web_test

import (
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/core/coretest"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
	"heptad/internal/work"
)

// When the work that should go on by itself stands still, the health of the
// program says so, and so does every screen.
func TestStandingStill(t *testing.T) {
	s := serve(t)
	health := func() int {
		status, _ := s.as("").send("GET", "/healthz", "")
		return status
	}
	var session struct{ Still bool }
	still := func() bool {
		_, data := s.as("castelo").send("GET", "/api/session", "")
		require.NoError(t, json.Unmarshal([]byte(data), &session))
		return session.Still
	}
	running, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		s.Running.Run(running)
	}()
	admin := s.as("lindskaug")
	var background struct {
		Looked, Next *time.Time
		Still        bool
	}
	require.Eventually(t, func() bool {
		_, data := admin.send("GET", "/api/background", "")
		return json.Unmarshal([]byte(data), &background) == nil && background.Looked != nil
	}, 5*time.Second, 5*time.Millisecond)
	assert.False(t, background.Next.Before(*background.Looked))
	assert.Equal(t, http.StatusOK, health())
	assert.False(t, still())
	stop()
	<-ended
	s.Clock.Pass(5 * time.Minute)
	assert.Equal(t, http.StatusServiceUnavailable, health())
	assert.True(t, still())
}

// order has a uniform ordered by the purchasing system, and gives the key of the
// call.
func (s *site) order() string {
	s.t.Helper()
	pick := func(item string, options map[string]any) []any {
		return []any{map[string]any{"item": item, "quantity": 1.0, "options": options}}
	}
	id := s.Send("quist", "sign-on-a-crew-member", coretest.Answers(map[string]any{
		"contract": "season", "ends": "2027-09-30", "vessel": "heron", "rank": "second", "start": "2027-04-01", "aid": []any{},
		"cabin": pick("cabin-single", nil), "uniform": pick("uniform-bridge", map[string]any{"size": "m"}),
		"certificates": []any{map[string]any{"kind": "basic", "number": "BS-1", "until": "2029-01-31"}},
	}), offering.Beneficiary{Newcomer: &people.Newcomer{Name: "Noor Halvorsen", Department: "Fleet"}}).ID
	s.Must("okonjo", id, request.Decide{Rung: "crewing", Decision: request.Approve}, request.Take{Task: "check"}, request.Complete{Task: "check"})
	for range 3 {
		_, err := s.Running.RunDue(context.Background())
		require.NoError(s.t, err)
	}
	return id + "/uniform"
}

// Reports of the purchasing system: what is forged, unknown, too long or no
// report at all, and what is taken, again, and too late.
func TestReportsFromOutside(t *testing.T) {
	s := serve(t)
	key := s.order()
	system, err := work.Reach(s.Store, s.Sealed, "purchasing")(context.Background())
	require.NoError(t, err)
	report := func(secret, body string) (int, string) {
		signature, stamp := connect.Sign(secret, s.Clock.Now(), []byte(body))
		r, err := http.NewRequest("POST", s.URL+"/api/reports/purchasing", strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set(connect.SignatureHeader, signature)
		r.Header.Set(connect.TimeHeader, stamp)
		response, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer response.Body.Close()
		var said struct{ Verdict, Detail string }
		require.NoError(t, json.NewDecoder(response.Body).Decode(&said))
		return response.StatusCode, said.Verdict + said.Detail
	}
	delivered := `{"key": "` + key + `", "step": "1", "state": "delivered", "delivered": 1, "cost": "240.00"}`
	for _, c := range []struct {
		secret, body string
		status       int
		says         string
	}{
		{"guessed", delivered, 401, "The signature is wrong."},
		{system.Secret, `{"key": "nothing", "step": "1", "state": "delivered"}`, 404, "Nothing is known of what it is about."},
		{system.Secret, `{"key": "` + key + `"}`, 422, "This is no report."},
		{system.Secret, `delivered`, 422, "This is no report."},
		{system.Secret, delivered[:2] + strings.Repeat(" ", 70<<10) + delivered[2:], 413, "The report is too long."},
		{system.Secret, delivered, 200, "taken"},
		{system.Secret, delivered, 200, "seen before"},
		{system.Secret, strings.Replace(delivered, `"1", "state"`, `"2", "state"`, 1), 200, "late: it changed nothing"},
	} {
		status, says := report(c.secret, c.body)
		assert.Equal(t, c.status, status, "%.40s", c.body)
		assert.Equal(t, c.says, says)
	}
	id, _, _ := strings.Cut(key, "/")
	_, data := s.as("quist").send("GET", "/api/requests/"+id, "")
	assert.Contains(t, data, "240.00", "what it cost stands beside what was expected")
	_, data = s.as("lindskaug").send("GET", "/api/background", "")
	assert.Contains(t, data, `"forgeries":[{"connector":"Purchasing","count":1`)
	assert.NotContains(t, data, "the signature is wrong", "what is forged is counted, not kept")
}

// A calendar is tried before it is kept; what is wrong with it is told at its
// place, and what is kept holds for every clock.
func TestCalendarsThroughTheAPI(t *testing.T) {
	s := serve(t)
	owner := s.as("lindskaug")
	_, data := owner.send("GET", "/api/calendars/maravel?year=2027", "")
	var opened struct {
		Document struct{ Week map[string][]string }
		Days     []struct{ Open int }
		Findings []struct{ Place string }
		Uses     *struct{ Teams []string }
	}
	require.NoError(t, json.Unmarshal([]byte(data), &opened))
	require.Len(t, opened.Days, 365)
	require.NotNil(t, opened.Uses)
	assert.Contains(t, opened.Uses.Teams, "Keys & Badges")
	week := func(monday string) string {
		return `{"format": "heptad/calendar/1", "zone": "Europe/Lisbon", "week": {"mon": ["` + monday + `"]}}`
	}
	_, data = owner.send("POST", "/api/calendars/maravel/try?year=2027", week("09:00-13:00"))
	require.NoError(t, json.Unmarshal([]byte(data), &opened))
	open := 0
	for _, d := range opened.Days {
		open += d.Open
	}
	assert.Equal(t, 52*4*60, open, "the Mondays of 2027")
	_, data = owner.send("POST", "/api/calendars/maravel/try", week("13:00-09"))
	require.NoError(t, json.Unmarshal([]byte(data), &opened))
	require.NotEmpty(t, opened.Findings)
	assert.Equal(t, "/week/mon/0", opened.Findings[0].Place)
	_, data = owner.send("PUT", "/api/calendars/maravel", week("13:00-09"))
	assert.Contains(t, data, "/week/mon/0", "it is not kept")
	due := func() time.Time {
		state := s.Ask("castelo", "open")
		f, err := s.Forecast(context.Background(), state)
		require.NoError(t, err)
		return f.Due
	}
	before := due()
	status, _ := owner.send("PUT", "/api/calendars/maravel", week("09:00-13:00"))
	require.Equal(t, http.StatusOK, status)
	assert.True(t, due().After(before), "three working days are three Mondays now")
	status, _ = s.as("castelo").send("POST", "/api/calendars/maravel/try", week("09:00-13:00"))
	assert.Equal(t, http.StatusNotFound, status)
}

// The company's calendars are the administrators', an owner's are their own, a
// team's is also its lead's; who changed one is kept.
func TestWhoMayWriteCalendars(t *testing.T) {
	s := serve(t)
	require.NoError(t, s.Store.Write(context.Background(), func(tx *store.Tx) error {
		return tx.AddCompany(people.Records{Teams: []people.Team{{Key: "night", Name: "Night Watch", Lead: demo.ID("marrec"), Calendar: "night"}}})
	}))
	require.NoError(t, s.ReadCompany(context.Background()))
	const hours = `{"format":"heptad/calendar/1","zone":"Europe/Lisbon","week":{"mon":["09:00-17:00"]},"exceptions":[]}`
	for _, row := range []struct {
		login, calendar string
		want            int
	}{
		{"falkenau", "maravel", 404}, {"lindskaug", "maravel", 200},
		{"falkenau", "mine", 200}, {"brandao", "mine", 404}, {"falkenau", "mine", 200}, {"lindskaug", "mine", 200},
		{"marrec", "night", 200}, {"falkenau", "night", 404}, {"abelsen", "night", 404}, {"marrec", "other", 404},
		{"quist", "new", 404},
	} {
		for _, op := range []string{"", "/try"} {
			method := map[string]string{"": "PUT", "/try": "POST"}[op]
			status, data := s.as(row.login).send(method, "/api/calendars/"+row.calendar+op, hours)
			assert.Equal(t, row.want, status, "%s %s%s: %s", row.login, row.calendar, op, data)
		}
	}
	_, data := s.as("falkenau").send("GET", "/api/calendars/mine", "")
	var kept struct {
		Keeper, ChangedBy string
		Yours             bool
	}
	require.NoError(t, json.Unmarshal([]byte(data), &kept))
	assert.Equal(t, "Henrike Falkenau", kept.Keeper)
	assert.Equal(t, "Tove Lindskaug", kept.ChangedBy)
	assert.True(t, kept.Yours)
	_, data = s.as("brandao").send("GET", "/api/calendars/mine", "")
	assert.NotContains(t, data, `"yours"`)
}

// A shared question is its keeper's: nobody else changes it under all who use
// it.
func TestASharedQuestionIsItsKeepers(t *testing.T) {
	s := serve(t)
	const question = `{"key":"vessel","kind":"text","label":"Vessel"}`
	for _, row := range []struct {
		login string
		want  int
	}{{"falkenau", 200}, {"brandao", 403}, {"falkenau", 200}} {
		status, data := s.as(row.login).send("PUT", "/api/shared-questions", question)
		assert.Equal(t, row.want, status, data)
	}
	assert.Contains(t, s.as("brandao").problem("PUT", "/api/shared-questions", question).Detail, "only Henrike Falkenau or an administrator can change it")
}
