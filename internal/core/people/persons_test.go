package people_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/people"
)

// However many people change, come and go, the company is as if it had been read anew.
func TestPeopleComeAndGo(t *testing.T) {
	ids, teams := []string{"a", "b", "c", "d", "e"}, []string{"t1", "t2"}
	anybody := rapid.Custom(func(t *rapid.T) people.Person {
		id := rapid.SampledFrom(ids).Draw(t, "id")
		return people.Person{
			ID: id, Login: id + rapid.SampledFrom([]string{"", ".x"}).Draw(t, "login"), Name: rapid.SampledFrom([]string{"Ada", "Bo", "Cleo"}).Draw(t, "name"),
			Email: rapid.SampledFrom([]string{"", "ada@x", "Bo@x"}).Draw(t, "mail"), Manager: rapid.SampledFrom(append([]string{""}, ids...)).Draw(t, "manager"),
			Department: rapid.SampledFrom([]string{"", "Fleet"}).Draw(t, "department"), Former: rapid.Bool().Draw(t, "former"),
			Teams: rapid.SliceOfNDistinct(rapid.SampledFrom(teams), 0, 2, rapid.ID[string]).Draw(t, "teams"),
		}
	})
	some := rapid.SliceOfNDistinct(anybody, 0, 5, func(p people.Person) string { return p.ID })
	rapid.Check(t, func(t *rapid.T) {
		there := map[string]people.Person{}
		d := people.NewDirectory(people.Records{})
		for range rapid.IntRange(1, 6).Draw(t, "times") {
			changed, gone := some.Draw(t, "changed"), rapid.SliceOfNDistinct(rapid.SampledFrom(ids), 0, 2, rapid.ID[string]).Draw(t, "gone")
			before, listed := d, d.Persons()
			for _, id := range gone {
				delete(there, id)
			}
			for _, p := range changed {
				there[p.ID] = p
			}
			d = d.WithPersons(changed, gone)
			require.Equal(t, listed, before.Persons(), "what was stays as it was")
			var all []people.Person
			for _, id := range ids {
				if p, ok := there[id]; ok {
					all = append(all, p)
				}
			}
			alike(t, people.NewDirectory(people.Records{Persons: all}), d, ids, teams)
		}
	})
}

func alike(t *rapid.T, want, got *people.Directory, ids, teams []string) {
	require.Equal(t, want.Persons(), got.Persons())
	require.Equal(t, want.Departments(), got.Departments())
	for _, team := range teams {
		require.Equal(t, want.Members(team), got.Members(team), team)
	}
	for _, id := range ids {
		require.Equal(t, want.Reports(id), got.Reports(id))
		for _, login := range []string{id, id + ".x"} {
			a, known := want.ByLogin(login)
			b, there := got.ByLogin(login)
			require.Equal(t, known, there, login)
			require.Equal(t, a, b)
		}
	}
	for _, address := range []string{"ADA@x", "bo@x"} {
		a, _ := want.ByEmail(address)
		b, _ := got.ByEmail(address)
		require.Equal(t, a, b)
	}
	require.Equal(t, slices.Collect(want.Called("FL", "o")), slices.Collect(got.Called("FL", "o")))
}
