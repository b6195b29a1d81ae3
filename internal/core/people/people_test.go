package people_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/calendar"
	"heptad/internal/core/coretest"
	"heptad/internal/core/people"
)

func TestDirectory(t *testing.T) {
	d := coretest.Company().Directory
	kira, ok := d.ByLogin("kira")
	assert.True(t, ok)
	assert.Equal(t, "p-kira", kira.ID)
	_, ok = d.ByLogin("p-kira")
	assert.False(t, ok, "an ID is no login")
	assert.ElementsMatch(t, []string{"p-keks", "p-kira"}, d.Members("keys"))
	assert.Empty(t, d.Members("none"))
	assert.True(t, d.InTeam("p-kira", "keys"))
	assert.False(t, d.InTeam("p-kira", "crew"))
	assert.False(t, d.InTeam("nobody", "keys"))
	assert.Equal(t, "someone unknown", d.Name("nobody"))
	assert.Equal(t, "none", d.TeamName("none"), "an unknown team goes by its key")
}

func TestListsAreSorted(t *testing.T) {
	d := people.NewDirectory(people.Records{
		Persons:  []people.Person{{ID: "2", Name: "Zita"}, {ID: "1", Name: "Ada"}},
		Teams:    []people.Team{{Key: "b", Name: "B"}, {Key: "a", Name: "A"}},
		Services: []people.Service{{Key: "1", Area: "IT", Name: "A"}, {Key: "2", Area: "HR", Name: "Z"}, {Key: "3", Area: "HR", Name: "B"}},
	})
	assert.Equal(t, "Ada", d.Persons()[0].Name)
	assert.Equal(t, "A", d.Teams()[0].Name)
	assert.Equal(t, []string{"B", "Z", "A"}, []string{d.Services()[0].Name, d.Services()[1].Name, d.Services()[2].Name})
}

func TestAbsence(t *testing.T) {
	day := func(n int) time.Time { return time.Date(2027, 3, n, 0, 0, 0, 0, time.UTC) }
	d := people.NewDirectory(people.Records{Absences: []people.Absence{
		{Person: "a", From: day(1), Until: day(5), StandIn: "b"}, {Person: "a", From: day(3), Until: day(9), StandIn: "c"}, {Person: "b", From: day(2), Until: day(3)},
	}})
	for _, c := range []struct {
		person  string
		at      time.Time
		absent  bool
		standIn string
	}{
		{"a", day(1).Add(-time.Second), false, ""},
		{"a", day(1), true, "b"},
		{"a", day(3), true, "c"}, // the one that ends last
		{"a", day(8), true, "c"},
		{"a", day(9), false, ""},
		{"b", day(2), true, ""},
		{"c", day(2), false, ""},
	} {
		got, absent := d.Absence(c.person, c.at)
		assert.Equal(t, c.absent, absent, "%s at %s", c.person, c.at)
		assert.Equal(t, c.standIn, got.StandIn, "%s at %s", c.person, c.at)
	}
}

func TestManagerAndHours(t *testing.T) {
	afloat := calendar.MustCompile(calendar.Document{Zone: "UTC", Week: map[string][]string{"sun": {"06:00-22:00"}}})
	d := people.NewDirectory(people.Records{
		Persons:   []people.Person{{ID: "1", Login: "a", Manager: "2", Location: "MV Tern Dancer"}, {ID: "2", Login: "b", Manager: "3"}, {ID: "3", Login: "c", Manager: "2"}},
		Locations: []people.Location{{Name: "MV Tern Dancer", Calendar: "afloat"}},
		Calendars: map[string]*calendar.Calendar{"afloat": afloat},
	})
	for n, want := range map[int]string{0: "", 1: "2", 2: "3", 3: ""} { // 3's manager is 2 again
		got, ok := d.Manager("1", n)
		assert.Equal(t, want, got.ID, n)
		assert.Equal(t, want != "", ok, n)
	}
	assert.Same(t, afloat, d.HoursOf("1"))
	assert.Same(t, calendar.Plain(time.UTC), d.HoursOf("2"))
	assert.Same(t, calendar.Plain(time.UTC), d.HoursOf("nobody"))
}
