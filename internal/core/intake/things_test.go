package intake_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/core/sheet"
)

// Worked by hand: Facilities is there, without an owner; IT is new; the rest is wrong.
func TestAreas(t *testing.T) {
	p := work(t, intake.Areas, "Area;Owner;Editors;Home;Status;Four eyes;Picture\n"+
		"facilities;mio;signe;Growing Desk;offered;yes;data:x\n"+
		"IT;;;;;;\n"+
		"HR;nobody;;moon;live;maybe;\n"+
		"it;;;;;;\n", intake.Edits{})
	assert.Equal(t, []string{
		"2 changed name:Facilities>facilities owner:>Mio Ito (mio) home:>Growing Desk editors:>Signe Halvorsen (signe) second:no>yes",
		"3 new name:>IT place:>offered",
	}, told(p)[:2])
	assert.Equal(t, []string{"Picture"}, p.Unread, "a picture is set by hand")
	assert.Contains(t, told(p)[2], `!owner There is nobody "nobody"`)
	assert.Contains(t, told(p)[2], `!home There is no team "moon".`)
	assert.Contains(t, told(p)[2], `!second "maybe" is neither yes nor no.`)
	assert.Contains(t, told(p)[2], `!place "live" is no place in the portfolio`)
	assert.Contains(t, told(p)[3], "!name Line 3 is about the same, too.")
	assert.Equal(t, map[string]string{"Facilities": "facilities"}, p.Renamed)
	require.Len(t, p.Records.Areas, 2)
	assert.Equal(t, people.Area{Name: "facilities", Owner: "2", Editors: []string{"1"}, Home: "growing", Place: people.Offered, Second: true}, p.Records.Areas[0])
}

// One area is renamed by hand, and gets a picture; nobody takes it for themself.
func TestOneArea(t *testing.T) {
	one := func(name, owner, drawing, self string) *intake.Preview {
		table, err := sheet.Parse(sheet.CSV([]string{"Name", "Owner", "Picture"}, [][]string{{name, owner, drawing}}))
		require.NoError(t, err)
		r := reader(nil)
		r.Blanks, r.Subject, r.Self = true, "Facilities", self
		return intake.Work(intake.Areas, table, intake.Edits{}, r)
	}
	p := one("Houses", "", "data:image/png;base64,iVBORw0KGgo=", "1")
	assert.Equal(t, []string{"2 changed name:Facilities>Houses picture:a picture>another picture"}, told(p))
	assert.Equal(t, map[string]string{"Facilities": "Houses"}, p.Renamed)
	assert.Contains(t, told(one("Facilities", "", "data:text/html,x", ""))[0], "!picture Choose a picture")
	assert.Contains(t, told(one("Facilities", "signe", "", "1"))[0], "!owner You cannot put yourself here")
	assert.Equal(t, []string{"2 same"}, told(one("Facilities", "", "", "1")))
}

// A service of an area begins with its team.
func TestAServiceTakesTheTeamOfItsArea(t *testing.T) {
	table, err := sheet.Parse([]byte("name,area,owner,home\nSeeds,GROWTH,mio,\nSoil,Nowhere,mio,\n"))
	require.NoError(t, err)
	d := people.NewDirectory(people.Records{Persons: company().Persons(), Teams: company().Teams(), Areas: []people.Area{{Name: "Growth", Home: "pipes", Place: people.Offered}}})
	p := intake.Work(intake.Services, table, intake.Edits{}, intake.Reader{Company: d})
	assert.Equal(t, "2 new name:>Seeds area:>GROWTH owner:>Mio Ito (mio) home:>Pipes place:>offered", told(p)[0])
	assert.Equal(t, "Growth", p.Records.Services[0].Area, "as the area is written")
	assert.Contains(t, told(p)[1], "!home Home team is missing.")
}

// Worked by hand: what is new, changed, the same, comes from a request, was handed back.
func TestBelongings(t *testing.T) {
	p := work(t, intake.Belongings, "Asset,User,Type,Model,Details,Return date\n"+
		"B-9,mio,badge,Badge,gate 2,2027-12-31\n"+
		"B-1,signe,badge,Badge,gate 1,\n"+
		"B-1,mio,badge,Badge,gate 1,\n"+
		"B-2,mio,badge,Badge,gate 1,\n"+
		"B-2,mio,badge,Badge,gate 3,\n"+
		"R-1,mio,badge,Badge,gate 1,\n"+
		"B-8,old,Big Badge,,gate,31.12.2027\n", intake.Edits{Left: map[int]bool{3: true, 5: true}})
	got := told(p)
	assert.Equal(t, []string{
		"2 new id:>B-9 person:>Mio Ito (mio) kind:>badge name:>Badge detail:>gate 2 until:>2027-12-31",
		"3 left",
		"4 same",
		"5 left",
	}, got[:4])
	assert.Contains(t, got[4], "!id This comes from a request")
	assert.Contains(t, got[5], "!id This was handed back")
	for _, wrong := range []string{`!person There is nobody "old"`, `!kind "Big Badge" is no kind`, "!name Name is missing.", `!until "31.12.2027" is no date`} {
		assert.Contains(t, got[6], wrong)
	}
	assert.Equal(t, []intake.Owned{{Person: "2", Belonging: people.Belonging{ID: "B-9", Kind: "badge", Name: "Badge", Detail: "gate 2", Until: "2027-12-31"}}}, p.Belongings)
	assert.Empty(t, p.Gone, "what stands in no line stays")
}

// Heads begin drafts; one that is there stays as it is.
func TestHeads(t *testing.T) {
	p := work(t, intake.Offerings, "Offering,Description,Tags,Service,Team\n"+
		"Seed tray,A tray of plants.,\"seedlings, pots\",Plants,\n"+
		"Letter,Other words.,,Plants,\n"+
		"Pipe wrench,,,plants,Pipes\n"+
		"Grow lamp,,,Plant,Moon\n"+
		"Seed Tray,,,Plants,\n", intake.Edits{})
	got := told(p)
	assert.Equal(t, "2 new name:>Seed tray text:>A tray of plants. keywords:>seedlings, pots service:>Plants team:>Growing Desk", got[0])
	assert.Equal(t, "3 same", got[1])
	assert.Equal(t, "4 new name:>Pipe wrench service:>Plants team:>Pipes", got[2])
	assert.Contains(t, got[3], `!service There is no service "Plant".`)
	assert.Contains(t, got[3], `!team There is no team "Moon".`)
	assert.Equal(t, []string{"Plants"}, p.Lines[3].Problems[0].Near)
	assert.Contains(t, got[4], "Line 2 is about the same, too.")
	assert.Equal(t, []intake.Head{
		{Key: "seed-tray", Name: "Seed tray", Text: "A tray of plants.", Keywords: []string{"seedlings", "pots"}, Service: "plants", Team: "growing"},
		{Key: "pipe-wrench", Name: "Pipe wrench", Service: "plants", Team: "pipes"},
	}, p.Heads)
}
