package people_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

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
	d := people.NewDirectory(
		[]people.Person{{ID: "2", Name: "Zita"}, {ID: "1", Name: "Ada"}},
		[]people.Team{{Key: "b", Name: "B"}, {Key: "a", Name: "A"}},
		[]people.Service{{Key: "1", Area: "IT", Name: "A"}, {Key: "2", Area: "HR", Name: "Z"}, {Key: "3", Area: "HR", Name: "B"}},
	)
	assert.Equal(t, "Ada", d.Persons()[0].Name)
	assert.Equal(t, "A", d.Teams()[0].Name)
	assert.Equal(t, []string{"B", "Z", "A"}, []string{d.Services()[0].Name, d.Services()[1].Name, d.Services()[2].Name})
}
