package work_test

import (
	"context"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/form"
	"heptad/internal/core/measure"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// sentence is one of a figure in a period, by service.
func sentence(figure, period string, only ...measure.Narrowed) measure.Sentence {
	return measure.Sentence{Figure: figure, Period: period, Only: only, Along: measure.ByMonth, Side: measure.ByService, Second: measure.ByMonth}
}

// number is what a figure comes to for a person.
func number(t *testing.T, of *work.Measuring, login string, s measure.Sentence) float64 {
	t.Helper()
	screen, err := of.Screen(ctx, demo.ID(login), s)
	require.NoError(t, err)
	for _, told := range screen.Row {
		if told.Figure == s.Figure && told.Total.Number != nil {
			return *told.Total.Number
		}
	}
	return -1
}

func TestColumnsComeFromTheirSnapshot(t *testing.T) {
	o := demotest.New(t)
	file := filepath.Join(o.Dir, "measure.columns")
	asked := sentence("asked", "last12")
	again := func() *work.Measuring { // a program that starts on the folder
		other, err := work.New(ctx, work.Settings{Store: o.Store, Clock: o.Clock.Now, Sealed: o.Sealed, Log: slog.New(slog.DiscardHandler)})
		require.NoError(t, err)
		return other.Measuring
	}
	running(t, o)
	require.Eventually(t, func() bool { _, err := os.Stat(file); return err == nil }, 30*time.Second, 50*time.Millisecond)
	before := number(t, o.Measuring, "vidigal", asked)
	// A fact that no event made shows whether the snapshot was read, or the facts were.
	behind(t, o, "UPDATE facts_requests SET sent = 0 WHERE number = (SELECT min(number) FROM facts_requests)")
	assert.Equal(t, before, number(t, again(), "vidigal", asked), "the snapshot is read")
	o.Ask("castelo", "open")
	assert.Equal(t, before+1, number(t, again(), "vidigal", asked), "with what has happened since")
	whole, err := os.ReadFile(file)
	require.NoError(t, err)

	require.NoError(t, os.WriteFile(file, whole[:len(whole)-3], 0o600))
	assert.Equal(t, before, number(t, again(), "vidigal", asked), "one that is damaged is left")
	other := demotest.New(t) // which has another history
	other.Ask("adebayor", "open")
	require.NoError(t, os.WriteFile(filepath.Join(other.Dir, "measure.columns"), whole, 0o600))
	assert.Equal(t, before+1, number(t, other.Measuring, "vidigal", asked), "and one of another history")
	require.NoError(t, os.WriteFile(file, whole, 0o600))
	require.NoError(t, o.Measuring.RemakeFacts(ctx))
	assert.NoFileExists(t, file, "what is made anew is read anew")
	assert.Equal(t, before+1, number(t, again(), "vidigal", asked))
}

func TestLastMonthIsTheSameLater(t *testing.T) {
	o := demotest.Season(t)
	o.Clock.Pass(20 * 24 * time.Hour) // the last day of March
	at := o.Clock.Now().Format("2006-01")
	var before []float64
	for _, figure := range []string{"open", "overdue"} {
		before = append(before, number(t, o.Measuring, "vidigal", sentence(figure, at)))
	}
	require.Positive(t, before[0])
	require.Positive(t, before[1])
	o.Clock.Pass(18 * time.Hour) // April
	end := []float64{number(t, o.Measuring, "vidigal", sentence("open", at)), number(t, o.Measuring, "vidigal", sentence("overdue", at))}
	o.Ask("castelo", "open")
	post(t, o)
	o.Clock.Pass(21 * 24 * time.Hour)
	post(t, o)
	assert.Equal(t, end, []float64{number(t, o.Measuring, "vidigal", sentence("open", at)), number(t, o.Measuring, "vidigal", sentence("overdue", at))})
	assert.NotEqual(t, end[1], number(t, o.Measuring, "vidigal", sentence("overdue", "month")), "meanwhile more is overdue")
}

// board makes one of two pages, shared with a person.
func board(t *testing.T, o *demotest.Office, owner string, b measure.Board) work.Board {
	t.Helper()
	b.Title, b.Parts = "For the boss", []measure.Part{{Title: "In all", Show: measure.ShowFigures, Sentence: sentence("kept", "last12")}, {Show: measure.ShowStages, Sentence: sentence("open", "month")}}
	made, err := o.Measuring.SaveBoard(ctx, demo.ID(owner), "", 0, b)
	require.NoError(t, err)
	return made
}

func TestBoardsAreSeenAsTheyAreShared(t *testing.T) {
	o := demotest.New(t)
	quist, castelo := demo.ID("quist"), demo.ID("castelo")
	b := board(t, o, "vidigal", measure.Board{Shared: measure.Shared{People: []string{quist}}})
	seen, err := o.Measuring.Board(ctx, quist, b.ID)
	require.NoError(t, err)
	assert.False(t, seen.Own)
	_, err = o.Measuring.Board(ctx, castelo, b.ID)
	require.ErrorIs(t, err, work.ErrNotFound)
	_, err = o.Measuring.SaveBoard(ctx, quist, b.ID, b.Revision, b.Board.Board)
	require.ErrorIs(t, err, work.ErrNotFound, "who reads it changes nothing of it")
	require.ErrorIs(t, o.Measuring.DropBoard(ctx, quist, b.ID), work.ErrNotFound)
	_, err = o.Measuring.PutOnWall(ctx, quist, b.ID)
	require.ErrorIs(t, err, work.ErrNotFound)

	// Counted as who shares it sees; listed as who reads it does.
	pages, err := o.Measuring.Count(ctx, seen, "")
	require.NoError(t, err)
	theirs, err := o.Measuring.Count(ctx, b, "")
	require.NoError(t, err)
	assert.Equal(t, theirs, pages)
	o.Send("sarmento", "berth-side-parking", demotest.Parking("open"), offering.Beneficiary{})
	pages, err = o.Measuring.Count(ctx, seen, "")
	require.NoError(t, err)
	records, err := o.Measuring.BoardRecords(ctx, quist, b.ID, 1, nil, 100)
	require.NoError(t, err)
	assert.EqualValues(t, pages[1].Now.Total.Records, int64(len(records.Lines))+records.Hidden)
	for _, r := range records.Lines {
		if !r.Opens {
			assert.Equal(t, r.Name, r.Title, "of what one may not open the offering's name is all one reads")
		}
	}

	b.Board.Board.Title = "For all of us"
	changed, err := o.Measuring.SaveBoard(ctx, demo.ID("vidigal"), b.ID, b.Revision, b.Board.Board)
	require.NoError(t, err)
	_, err = o.Measuring.SaveBoard(ctx, demo.ID("vidigal"), b.ID, b.Revision, b.Board.Board)
	require.Error(t, err, "an older one is not kept over it")
	assert.Equal(t, b.Revision+1, changed.Revision)

	// The right is taken while it is open.
	reorganise(t, o, "UPDATE people SET roles = '' WHERE id = '"+demo.ID("vidigal")+"'")
	seen, err = o.Measuring.Board(ctx, quist, b.ID)
	require.NoError(t, err)
	assert.Contains(t, seen.Stopped, "may not measure all of it any more")
	pages, err = o.Measuring.Count(ctx, seen, "")
	require.NoError(t, err)
	assert.Empty(t, pages)
	_, err = o.Measuring.BoardRecords(ctx, quist, b.ID, 0, nil, 10)
	require.ErrorIs(t, err, work.ErrNotFound)
}

func TestBoardsGoOutOnceOnAnOpenDay(t *testing.T) {
	o := demotest.New(t)
	quist := demo.ID("quist")
	b := board(t, o, "vidigal", measure.Board{Shared: measure.Shared{People: []string{quist, quist}, Everyone: true}, Mail: measure.Rhythm{Rule: "FREQ=WEEKLY;BYDAY=SA", At: "08:00"}})
	assert.Equal(t, time.Monday, b.MailAt.In(o.Organisation().Location()).Weekday(), "on a Saturday nobody reads")
	of := func(login string) (all []string) {
		for _, m := range messagesOf(t, o, login, message.Board) {
			all = append(all, m.Body)
		}
		return all
	}
	post(t, o)
	assert.Empty(t, of("quist"))
	o.Clock.Pass(b.MailAt.Sub(o.Clock.Now()))
	post(t, o)
	post(t, o)
	require.Len(t, of("quist"), 1)
	require.Len(t, of("vidigal"), 1)
	assert.Empty(t, of("castelo"), "to everyone it is shown, and not sent")
	text := of("quist")[0]
	for _, words := range []string{"In all", "promise kept", "/measure/boards/" + b.ID} {
		assert.Contains(t, text, words)
	}
	o.Clock.Pass(7 * 24 * time.Hour)
	post(t, o)
	assert.Len(t, of("quist"), 2)

	reorganise(t, o, "UPDATE people SET roles = '' WHERE id = '"+demo.ID("vidigal")+"'")
	o.Clock.Pass(7 * 24 * time.Hour)
	post(t, o)
	require.Len(t, of("quist"), 3)
	assert.Contains(t, strings.Join(of("quist"), "\n"), "It has stopped")
}

func TestWallShowsUntilItIsTakenDown(t *testing.T) {
	o := demotest.New(t)
	vidigal := demo.ID("vidigal")
	b := board(t, o, "vidigal", measure.Board{})
	for _, guess := range []string{"", "x", b.ID} {
		_, _, err := o.Measuring.Wall(ctx, guess)
		require.ErrorIs(t, err, work.ErrNotFound)
	}
	first, err := o.Measuring.PutOnWall(ctx, vidigal, b.ID)
	require.NoError(t, err)
	token, err := o.Measuring.PutOnWall(ctx, vidigal, b.ID)
	require.NoError(t, err)
	_, _, err = o.Measuring.Wall(ctx, first)
	require.ErrorIs(t, err, work.ErrNotFound, "there is one link")
	open := func() int64 {
		_, pages, err := o.Measuring.Wall(ctx, token)
		require.NoError(t, err)
		return pages[1].Now.Total.Records
	}
	before := open()
	o.Ask("castelo", "open")
	for range 1000 {
		require.Equal(t, before, open(), "for a few seconds all see what one has counted")
	}
	o.Clock.Pass(6 * time.Second)
	assert.Equal(t, before+1, open())
	b.Board.Board.Parts = b.Board.Board.Parts[1:]
	_, err = o.Measuring.SaveBoard(ctx, vidigal, b.ID, b.Revision, b.Board.Board)
	require.NoError(t, err)
	_, pages, err := o.Measuring.Wall(ctx, token)
	require.NoError(t, err)
	assert.Len(t, pages, 1, "a change is seen at once")
	require.NoError(t, o.Measuring.TakeOffWall(ctx, vidigal, b.ID))
	_, _, err = o.Measuring.Wall(ctx, token)
	require.ErrorIs(t, err, work.ErrNotFound)
}

func TestTargetTellsOnceUntilItIsWell(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "lamps", plan.Task{Key: "buy", Name: "Buy a lamp", Kind: plan.Manual, Team: "premises-crew"})
	lamps := measure.Narrowed{Side: measure.ByOffering, Keys: []string{"lamps"}}
	_, err := o.Measuring.AddTarget(ctx, demo.ID("vidigal"), measure.Target{Figure: "open", Period: "month", Only: []measure.Narrowed{lamps}, Goal: 0, People: []string{demo.ID("quist")}})
	require.NoError(t, err)
	alarms := func(login string) int { return len(messagesOf(t, o, login, message.Alarm)) }
	look := func() {
		o.Clock.Pass(61 * time.Minute)
		post(t, o)
	}
	look()
	assert.Zero(t, alarms("vidigal"), "none is open, as it should be")
	first := o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{}).ID
	post(t, o)
	assert.Zero(t, alarms("vidigal"), "it is looked at once an hour")
	look()
	look()
	assert.Equal(t, 1, alarms("vidigal"))
	assert.Equal(t, 1, alarms("quist"))
	assert.Zero(t, alarms("castelo"))
	o.Must("coutinho", first, request.Take{Task: "buy"}, request.Complete{Task: "buy"})
	o.Must("castelo", first, request.Confirm{})
	look()
	assert.Equal(t, 1, alarms("vidigal"), "that it is well again is no alarm")
	o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{})
	look()
	assert.Equal(t, 2, alarms("vidigal"))
	reorganise(t, o, "UPDATE people SET roles = '' WHERE id = '"+demo.ID("vidigal")+"'")
	targets, err := o.Measuring.Targets(ctx, demo.ID("vidigal"))
	require.NoError(t, err)
	assert.Zero(t, targets[0].Now.Records, "who may not measure it any more reads nothing of it")
}

func TestSumsAreOfTheCurrencyThereIs(t *testing.T) {
	o := demotest.New(t)
	cost := sentence("cost", "last12")
	require.Positive(t, number(t, o.Measuring, "vidigal", cost))
	other := o.Organisation()
	other.Currency = "NOK"
	require.NoError(t, o.Keeping.Organise(ctx, demo.ID("lindskaug"), other))
	assert.Zero(t, number(t, o.Measuring, "vidigal", cost), "what was asked for in another is not added up")
}

func TestTargetTellsBeforeItIsMissed(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "lamps", plan.Task{Key: "buy", Name: "Buy a lamp", Kind: plan.Manual, Team: "premises-crew"})
	_, err := o.Measuring.AddTarget(ctx, demo.ID("vidigal"), measure.Target{Figure: "asked", Period: "month", Only: []measure.Narrowed{{Side: measure.ByOffering, Keys: []string{"lamps"}}}, Goal: 4})
	require.NoError(t, err)
	alarms := func() (titles []string) {
		o.Clock.Pass(61 * time.Minute)
		post(t, o)
		for _, m := range messagesOf(t, o, "vidigal", message.Alarm) {
			titles = append(titles, m.Subject)
		}
		return titles
	}
	o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{}) // a third of March is gone: three in the whole of it
	assert.Empty(t, alarms())
	for range 2 {
		o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{})
	}
	require.Len(t, alarms(), 1)
	assert.Contains(t, alarms()[0], "It will be missed: asked")
	targets, err := o.Measuring.Targets(ctx, demo.ID("vidigal"))
	require.NoError(t, err)
	assert.Equal(t, measure.StandsEarly, targets[0].Stands)
	assert.InDelta(t, 9, *targets[0].Pace, 1.5, "three of a third")
	for range 2 {
		o.Send("castelo", "lamps", form.Answers{}, offering.Beneficiary{})
	}
	titles := alarms()
	require.Len(t, titles, 2, "that it is missed now is worse")
	assert.Contains(t, strings.Join(titles, " "), "Missed: asked")
}

func TestTargetsStandBesideTheirFigures(t *testing.T) {
	o := demotest.New(t)
	vidigal := demo.ID("vidigal")
	set := func(target measure.Target) {
		_, err := o.Measuring.AddTarget(ctx, vidigal, target)
		require.NoError(t, err)
	}
	only := []measure.Narrowed{{Side: measure.ByService, Keys: []string{"access", "parking"}}}
	set(measure.Target{Figure: "open", Period: "month", Goal: 0})
	set(measure.Target{Figure: "asked", Period: "month", Goal: 500})
	set(measure.Target{Figure: "kept", Period: "month", AtLeast: true, Goal: 0.01, Only: only})
	aims := func(login string, s measure.Sentence) (all map[string]measure.Standing, goal *float64) {
		screen, err := o.Measuring.Screen(ctx, demo.ID(login), s)
		require.NoError(t, err)
		all = map[string]measure.Standing{}
		for _, told := range screen.Row {
			if told.Aim != nil {
				all[told.Figure] = told.Aim.Stands
			}
		}
		return all, screen.Goal
	}
	all, goal := aims("vidigal", sentence("asked", "month"))
	assert.Equal(t, map[string]measure.Standing{"open": measure.StandsMissed, "asked": measure.StandsWell}, all)
	assert.InDelta(t, 500, *goal, 0, "along months")
	all, _ = aims("vidigal", sentence("asked", "last12"))
	assert.Equal(t, map[string]measure.Standing{"open": measure.StandsMissed}, all, "what is asked for in a year is not compared with what should be in a month")
	days := sentence("asked", "month")
	days.Along = measure.ByDay
	_, goal = aims("vidigal", days)
	assert.Nil(t, goal, "nor what is asked for in a day")
	all, goal = aims("vidigal", sentence("kept", "last12", measure.Narrowed{Side: measure.ByService, Keys: []string{"parking", "access"}}))
	assert.Equal(t, map[string]measure.Standing{"kept": measure.StandsWell}, all, "of the very same things, in whatever order")
	assert.InDelta(t, 0.01, *goal, 0)
	all, goal = aims("quist", sentence("asked", "month"))
	assert.Empty(t, all, "targets are one's own")
	assert.Nil(t, goal)
}

func TestWhoComesToTheDeskOfMeasure(t *testing.T) {
	o := demotest.New(t)
	looks := func(login string) bool {
		is, err := o.Measuring.Looks(ctx, demo.ID(login))
		require.NoError(t, err)
		return is
	}
	assert.True(t, looks("vidigal"))
	require.False(t, looks("castelo"))
	b := board(t, o, "vidigal", measure.Board{Shared: measure.Shared{People: []string{demo.ID("quist")}}})
	assert.False(t, looks("castelo"), "it is shared with somebody else")
	share := func(s measure.Shared) {
		b.Shared = s
		var err error
		b, err = o.Measuring.SaveBoard(ctx, demo.ID("vidigal"), b.ID, b.Revision, b.Board.Board)
		require.NoError(t, err)
	}
	share(measure.Shared{People: []string{demo.ID("castelo")}})
	assert.True(t, looks("castelo"))
	assert.False(t, looks("adebayor"))
	team := o.TeamsOf(demo.ID("marrec"))[0]
	share(measure.Shared{Teams: []string{team}})
	assert.True(t, looks("marrec"))
	assert.False(t, looks("castelo"))
	share(measure.Shared{Everyone: true})
	assert.True(t, looks("adebayor"))
}

// Every number opens a list: its lines and what is not shown make it up.
func TestEveryNumberIsMadeUpOfItsRecords(t *testing.T) {
	o := demotest.Season(t)
	for _, login := range []string{"vidigal", "okonjo", "falkenau"} {
		for _, f := range measure.Figures {
			if login != "vidigal" && !slices.Contains([]string{"open", "kept", "taskWaited", "hours", "decisionTime"}, f.Key) {
				continue
			}
			s := sentence(f.Key, "last12").Fitted()
			screen, err := o.Measuring.Screen(ctx, demo.ID(login), s)
			require.NoError(t, err)
			opens := func(s measure.Sentence, v measure.Value, name string) {
				lines, after := int64(0), (*measure.Ref)(nil)
				for {
					page, err := o.Measuring.Records(ctx, demo.ID(login), s, after, 200)
					require.NoError(t, err)
					require.Equal(t, v.Records, page.Total, name)
					if lines += int64(len(page.Lines)); !page.More {
						require.Equal(t, v.Records, lines+page.Hidden, name)
						return
					}
					after = &page.Lines[len(page.Lines)-1].Ref
				}
			}
			for _, told := range screen.Row {
				of := s
				of.Figure = told.Figure
				opens(of, told.Total, told.Figure)
			}
			behind := func(s measure.Sentence, side measure.Side, key string) measure.Sentence {
				if side.Timely() {
					s.Period = key
				} else {
					s.Only = append(slices.Clone(s.Only), measure.Narrowed{Side: side, Keys: []string{key}})
				}
				return s
			}
			for i, v := range screen.Along.Cells {
				if f.Subject != measure.OfStanding || v.Records > 0 { // of a month that has not begun nothing is shown
					opens(behind(s, s.Along, screen.Along.Keys[0][i]), v, f.Key+" in "+screen.Along.Keys[0][i])
				}
			}
			for i, v := range screen.Side.Cells {
				opens(behind(s, s.Side, screen.Side.Keys[0][i]), v, f.Key+" of "+screen.Side.Keys[0][i])
			}
			for i, v := range screen.Grid.Cells {
				row, column := screen.Grid.Keys[0][i/len(screen.Grid.Keys[1])], screen.Grid.Keys[1][i%len(screen.Grid.Keys[1])]
				opens(behind(behind(s, s.Side, row), s.Second, column), v, f.Key+" of "+row+" in "+column)
			}
		}
	}
}

// What the company has changed since: areas and names are those of today, what has ended is
// still counted.
func TestThePastOfWhatHasChanged(t *testing.T) {
	o := demotest.Season(t)
	by := func(side measure.Side) map[string]int64 {
		s := sentence("asked", "last12")
		s.Side = side
		screen, err := o.Measuring.Screen(ctx, demo.ID("vidigal"), s)
		require.NoError(t, err)
		all := map[string]int64{}
		for i, key := range screen.Side.Keys[0] {
			all[key] = screen.Side.Cells[i].Records
		}
		return all
	}
	services, areas, offerings := by(measure.ByService), by(measure.ByArea), by(measure.ByOffering)
	access, _ := o.Company().Service("access")
	require.Positive(t, services["access"])
	var other string
	for _, a := range o.Company().Areas() {
		if a.Name != access.Area && areas[a.Name] > 0 {
			other = a.Name
		}
	}
	reorganise(t, o, "UPDATE services SET area = '"+other+"', name = 'Ways to the quays' WHERE key = 'access'")
	reorganise(t, o, "UPDATE offering_versions SET state = 'past' WHERE offering = 'quay-access-badge' AND state <> 'draft'")
	assert.Equal(t, services, by(measure.ByService))
	assert.Equal(t, offerings, by(measure.ByOffering), "what has ended is counted")
	assert.Equal(t, areas[other]+services["access"], by(measure.ByArea)[other], "a service takes its past with it")
	names, err := o.Measuring.Names(ctx)
	require.NoError(t, err)
	assert.Equal(t, "Ways to the quays", names.Of(measure.ByService, "access"))
	assert.Equal(t, "Quay access badge", names.Of(measure.ByOffering, "quay-access-badge"))

	b := board(t, o, "vidigal", measure.Board{Shared: measure.Shared{Everyone: true}})
	reorganise(t, o, "UPDATE people SET away = 1 WHERE id = '"+demo.ID("vidigal")+"'")
	seen, err := o.Measuring.Board(ctx, demo.ID("quist"), b.ID)
	require.NoError(t, err)
	assert.Contains(t, seen.Stopped, "is not with the company any more")
}

// Of thirty lamps it is worked out by hand where their time goes, and what to do about it.
func TestWhereTheTimeOfLampsGoes(t *testing.T) {
	o := demotest.New(t)
	publish(t, o, "lamps", plan.Task{Key: "buy", Name: "Buy a lamp", Kind: plan.Manual, Team: "premises-crew"}, plan.Task{Key: "bring", Name: "Bring it", Kind: plan.Manual, Team: "keys-badges", After: []string{"buy"}})
	now := o.Clock.Now().Unix()
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		for i := range int64(30) {
			number, sent := 20_000+i, now-(i+1)*86_400
			r := measure.Request{Number: number, Sending: measure.Sending{Offering: "lamps", Version: 1, Service: "places", Asker: "p", Department: "Fleet", Channel: request.ByPage, Door: offering.Wanted, Sent: sent}}
			r.Status, r.Outcome, r.Decided, r.Planned, r.Delivered, r.Closed, r.Used, r.Target, r.Kept = request.Closed, request.Fulfilled, sent, sent, sent+80_000, sent+80_000, 3600*(i+1), 72_000, measure.KeptInTime
			if i >= 20 {
				r.Kept = measure.KeptLate
			}
			person := []string{"a", "b", "c", "d", "e", "f"}[i%6]
			facts := measure.Facts{Request: r, Tasks: []measure.Task{
				{Number: number, Key: "bring", Of: "bring", Kind: "manual", Team: "keys-badges", Person: person, Ready: sent, Taken: sent, Ended: sent + 80_000, How: "done", Waited: 600, Worked: 300, Hand: 300},
				{Number: number, Key: "buy", Of: "buy", Kind: "manual", Team: "premises-crew", Person: person, Ready: sent, Taken: sent, Ended: sent + 70_000, How: "done", Waited: 3600 * (i + 1), Worked: 1800, Hand: 1200, Stuck: i < 3},
			}}
			if err := tx.ReplaceFacts(facts); err != nil {
				return err
			}
		}
		return nil
	}))
	goes, err := o.Measuring.WhereTimeGoes(ctx, demo.ID("falkenau"), "lamps", 1, "last12")
	require.NoError(t, err)
	assert.InDelta(t, 15.5*3600, *goes.Requests.Number, 0.1, "of 1 to 30 hours the middle")
	require.Len(t, goes.Steps, 2)
	buy, bring := goes.Steps[0], goes.Steps[1]
	assert.InDelta(t, 15.5*3600, buy.Waited, 0.1)
	assert.InDelta(t, 1800, buy.Worked, 0.1)
	assert.InDelta(t, 24.2*3600+1800, buy.P80, 0.1, "at rank 1 + 29 x 0.8")
	assert.EqualValues(t, 3, buy.Stuck.Part)
	assert.InDelta(t, 600, bring.Waited, 0.1)
	assert.Equal(t, 0, goes.Most, "most time goes into buying it")
	assert.InDelta(t, 15.5*3600+1800, goes.Starts[1], 0.1, "it is brought when it is bought")
	assert.InDelta(t, 15.5*3600+1800+900, goes.Whole, 0.1)
	assert.InDelta(t, 2100, goes.Working, 0.1, "if nothing waited")
	_, err = o.Measuring.WhereTimeGoes(ctx, demo.ID("okonjo"), "lamps", 1, "last12")
	require.ErrorIs(t, err, work.ErrNotFound, "it is none of his services")
	_, err = o.Measuring.WhereTimeGoes(ctx, demo.ID("falkenau"), "lamps", 7, "last12")
	require.ErrorIs(t, err, work.ErrNotFound)

	next, err := o.Measuring.Next(ctx, demo.ID("falkenau"))
	require.NoError(t, err)
	var automate work.Automating
	for _, a := range next.Automate {
		if a.Task == "lamps/buy" {
			automate = a
		}
	}
	assert.EqualValues(t, 30, automate.Tasks)
	assert.InDelta(t, 36_000, *automate.Took.Number, 0.1, "thirty times twenty minutes")
	assert.InDelta(t, 36_000/12.3, automate.Monthly, 100, "of the twelve months and the part of this one")
	mended := map[string]int64{}
	for _, m := range next.Mend {
		if m.Offering == "lamps" {
			mended[m.What] = m.Value.Records - m.Value.Part
		}
	}
	assert.EqualValues(t, 10, mended["missed"], "ten of thirty were late")
}

// Facts that an older program has made are served until they are made anew, in the background.
func TestFactsOfBeforeAreServedMeanwhile(t *testing.T) {
	o := demotest.New(t)
	asked := sentence("asked", "last12")
	whole := number(t, o.Measuring, "vidigal", asked)
	behind(t, o, "UPDATE facts_requests SET sent = 0 WHERE number = (SELECT min(number) FROM facts_requests)") // as it was made then
	behind(t, o, "UPDATE facts_made SET form = form - 1, upto = -1")
	other, err := work.New(ctx, work.Settings{Store: o.Store, Clock: o.Clock.Now, Sealed: o.Sealed, Log: slog.New(slog.DiscardHandler)})
	require.NoError(t, err)
	assert.Equal(t, whole-1, number(t, other.Measuring, "vidigal", asked), "the old ones, at once")
	stop, end := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { defer close(done); other.Running.Run(stop) }()
	t.Cleanup(func() { end(); <-done })
	assert.Eventually(t, func() bool { return number(t, other.Measuring, "vidigal", asked) == whole }, 20*time.Second, 50*time.Millisecond)
	made, err := o.Store.FactsMade(ctx)
	require.NoError(t, err)
	assert.True(t, made.Done(measure.Form))

	behind(t, o, "DELETE FROM facts_requests WHERE number = (SELECT max(number) FROM facts_requests)")
	behind(t, o, "UPDATE facts_made SET form = 0, upto = 0") // never made
	other, err = work.New(ctx, work.Settings{Store: o.Store, Clock: o.Clock.Now, Sealed: o.Sealed, Log: slog.New(slog.DiscardHandler)})
	require.NoError(t, err)
	assert.Equal(t, whole, number(t, other.Measuring, "vidigal", asked), "what is missing is made before anything is told")
}
