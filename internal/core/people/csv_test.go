package people_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/people"
)

func TestParseCSV(t *testing.T) {
	got, err := people.ParseCSV(csv.NewReader(strings.NewReader("\uFEFFlogin,name,manager,teams,cost_centre\nilse,\"Brandvik, Ilse\",tomas,keys;crew,CC-1\ntomas,Tomas,,,\n")))
	require.NoError(t, err)
	assert.Equal(t, people.Person{ID: "ilse", Login: "ilse", Name: "Brandvik, Ilse", Manager: "tomas", Teams: []string{"keys", "crew"}, CostCentre: "CC-1"}, got[0])
	d := people.DirectoryOf(got)
	assert.Equal(t, []string{"tomas"}, d.Managers("ilse"))
	assert.Equal(t, []string{"ilse"}, d.Members("crew"))
	_, ok := d.Team("crew")
	assert.True(t, ok)
	assert.True(t, d.Partial())
	crew, _ := d.Team("crew")
	assert.Equal(t, "ilse", crew.Lead, "her manager is no member")
	centre, _ := d.CostCentre("CC-1")
	assert.Equal(t, "ilse", centre.Owner)
}

func TestParseCSVRefuses(t *testing.T) {
	for text, want := range map[string]string{
		"":                           "the file is empty",
		"name\nIlse\n":               "the column login is missing",
		"login,name\n,Ilse\n":        "line 2",
		"login,name\na,A\na,B\n":     "line 3",
		"login,name\n\"a,A\n":        "quote",
		"login,name\na,A,too,many\n": "wrong number of fields",
	} {
		_, err := people.ParseCSV(csv.NewReader(strings.NewReader(text)))
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), want)
	}
}

// A circle in the directory ends the chain, and never hangs.
func TestManagersInACircle(t *testing.T) {
	d := people.NewDirectory(people.Records{Persons: []people.Person{
		{ID: "a", Login: "a", Manager: "b"}, {ID: "b", Login: "b", Manager: "c"}, {ID: "c", Login: "c", Manager: "a"},
		{ID: "d", Login: "d", Manager: "d"}, {ID: "e", Login: "e", Manager: "nobody"},
	}})
	assert.Equal(t, []string{"b", "c"}, d.Managers("a"))
	assert.Empty(t, d.Managers("d"))
	assert.Empty(t, d.Managers("e"))
	assert.Empty(t, d.Managers("stranger"))
	for id, manages := range map[string]bool{"a": true, "b": true, "c": true, "d": true, "e": false, "stranger": false, "": false} {
		assert.Equal(t, manages, d.Manages(id), id)
	}
}

func TestValues(t *testing.T) {
	d := people.NewDirectory(people.Records{Persons: []people.Person{{ID: "a", Location: "Tower Quay"}, {ID: "b", Location: "Berth 4"}, {ID: "c", Location: "Tower Quay"}, {ID: "d"}}})
	assert.Equal(t, []string{"Berth 4", "Tower Quay"}, d.Locations())
}
