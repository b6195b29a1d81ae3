package intake_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/calendar"
	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/core/sheet"
)

// company is a small one: Signe leads the Growing Desk, Mio is in it and reports to her.
func company() *people.Directory {
	return people.NewDirectory(people.Records{
		Persons: []people.Person{
			{ID: "1", Login: "signe", Name: "Signe Halvorsen", Email: "signe@hg.example", Teams: []string{"growing"}, Location: "Nord", CostCentre: "G-100", Roles: []string{people.Administrator}},
			{ID: "2", Login: "mio", Name: "Mio Ito", Email: "mio@hg.example", Manager: "1", Teams: []string{"growing"}, Department: "Growing", Location: "Nord"},
			{ID: "3", Login: "old", Name: "Olde Gone", Former: true},
		},
		Teams:       []people.Team{{Key: "growing", Name: "Growing Desk", Lead: "1"}, {Key: "pipes", Name: "Pipes", Lead: "2"}},
		Locations:   []people.Location{{Name: "Nord"}, {Name: "Kobe Office", Calendar: "kobe"}},
		CostCentres: []people.CostCentre{{Key: "G-100", Name: "Growing", Owner: "1"}},
		Services:    []people.Service{{Key: "plants", Name: "Plants", Area: "Facilities", Owner: "1", Home: "growing", Place: people.Offered}},
		Calendars:   map[string]*calendar.Calendar{"kobe": nil},
	})
}

func work(t *testing.T, kind intake.Kind, file string, edits intake.Edits) *intake.Preview {
	t.Helper()
	table, err := sheet.Parse([]byte(file))
	require.NoError(t, err)
	n := 0
	return intake.Work(kind, table, edits, reader(func() string { n++; return fmt.Sprint("new", n) }))
}

// reader is that of the small company: Mio has a badge from before, and one that a request
// made; a radio was handed back. A letter is offered.
func reader(newID func() string) intake.Reader {
	badge := intake.Owned{Person: "2", Belonging: people.Belonging{ID: "B-1", Kind: "badge", Name: "Badge", Detail: "gate 1"}}
	made, radio := badge, badge
	made.ID, radio.ID = "B-2", "R-1"
	had := map[string]intake.Had{"B-1": {Owned: badge}, "B-2": {Owned: made, Made: true}, "R-1": {Owned: radio, Ended: true}}
	return intake.Reader{
		Company: company(), NewID: newID,
		Has:    func(id string) (intake.Had, bool) { h, ok := had[id]; return h, ok },
		Offers: func(key string) (intake.Head, bool) { return intake.Head{Key: key, Name: "Letter"}, key == "letter" },
	}
}

// told writes the lines of a preview, each in one text.
func told(p *intake.Preview) (all []string) {
	for _, l := range p.Lines {
		s := fmt.Sprintf("%d %s", l.Line, l.State)
		for _, c := range l.Changes {
			s += fmt.Sprintf(" %s:%s>%s", c.Field, c.Before, c.After)
		}
		for _, x := range l.Problems {
			s += fmt.Sprintf(" !%s %s", x.Field, x.Sentence)
		}
		all = append(all, s)
	}
	return all
}

func TestPeople(t *testing.T) {
	p := work(t, intake.People, "User;Full Name;E-Mail;Dept;Supervisor;Shoe size\n"+
		"SIGNE;Signe Halvorsen;signe@hg.example;;;40\n"+
		"mio;Mio Ito;mio@hg.example;Packing;signe@hg.example;38\n"+
		"new.one;New One;new@hg.example;Growing;Mio Ito;39\n", intake.Edits{})
	assert.Equal(t, map[string]string{"login": "User", "name": "Full Name", "email": "E-Mail", "department": "Dept", "manager": "Supervisor"}, p.Columns)
	assert.Equal(t, []string{"Shoe size"}, p.Unread)
	assert.Equal(t, []string{"2 changed login:signe>SIGNE", "3 changed department:Growing>Packing", "4 new login:>new.one name:>New One email:>new@hg.example department:>Growing manager:>Mio Ito (mio)"}, told(p))
	require.Len(t, p.Records.Persons, 3)
	assert.Equal(t, people.Person{ID: "2", Login: "mio", Name: "Mio Ito", Email: "mio@hg.example", Manager: "1", Teams: []string{"growing"}, Department: "Packing", Location: "Nord"}, p.Records.Persons[1], "what has no column stays")
	assert.Equal(t, people.Person{ID: "new1", Login: "new.one", Name: "New One", Email: "new@hg.example", Department: "Growing", Manager: "2"}, p.Records.Persons[2])
	assert.Equal(t, []string{people.Administrator}, p.Records.Persons[0].Roles)
	assert.Empty(t, p.Gone)
}

// The administrator who moved in becomes the person of the line with their address.
func TestALineBecomesWhoHasItsAddress(t *testing.T) {
	p := work(t, intake.People, "login,name,mail\nshalv,Signe Halvorsen,Signe@HG.example\n", intake.Edits{})
	assert.Equal(t, []string{"2 changed login:signe>shalv email:signe@hg.example>Signe@HG.example"}, told(p))
	assert.Equal(t, "1", p.Records.Persons[0].ID)
	assert.Equal(t, []intake.Gone{{"2", "Mio Ito"}}, p.Gone)

	p = work(t, intake.People, "login,name,mail\nshalv,Another,signe@hg.example\nsigne,Signe Halvorsen,\n", intake.Edits{})
	assert.Equal(t, intake.New, p.Lines[0].State, "who has the address has a line of their own")
}

func TestMistakesOfPeople(t *testing.T) {
	for name, c := range map[string]struct{ file, want string }{
		"no login":               {"login,name\n,Nobody\n", "2 wrong name:>Nobody !login The login is missing."},
		"login with a space":     {"login,name\na b,A\n", `2 wrong login:>a b name:>A !login "a b" cannot be a login: use letters, digits, dots, hyphens and @, without spaces.`},
		"twice":                  {"login,name\na,A\nA,B\n", "3 wrong login:>A name:>B !login Line 2 has this login, too: one person stands in one line."},
		"one address, two":       {"login,name,mail\na,A,x@hg.example\nb,B,X@hg.example\n", "3 wrong login:>b name:>B email:>X@hg.example !email Line 2 has this mail address, too."},
		"no address":             {"login,name,mail\na,A,a at hg\n", `2 wrong login:>a name:>A email:>a at hg !email "a at hg" is no mail address.`},
		"unknown manager":        {"login,name,manager\na,A,Sign Halvorsen\n", `2 wrong login:>a name:>A !manager There is nobody "Sign Halvorsen": write a login, a mail address or a full name.`},
		"two of one name":        {"login,name,manager\na,Same,\nb,Same,\nc,C,same\n", `4 wrong login:>c name:>C !manager There are 2 people called "same": write the login of the right one.`},
		"own manager":            {"login,name,manager\na,A,a\n", "2 wrong login:>a name:>A manager:>A (a) !manager Nobody is their own manager: leave it empty for who is at the top."},
		"unknown location":       {"login,name,location\na,A,Nrod\n", `2 wrong login:>a name:>A location:>Nrod !location There is no location "Nrod".`},
		"unknown cost centre":    {"login,name,cost centre\na,A,G-1000\n", `2 wrong login:>a name:>A cost_centre:>G-1000 !cost_centre There is no cost centre "G-1000".`},
		"unknown team":           {"login,name,teams\na,A,Growing Desk; Grow\n", `2 wrong login:>a name:>A teams:>Growing Desk !teams There is no team "Grow".`},
		"neither yes nor no":     {"login,name,active\na,A,perhaps\n", `2 wrong login:>a name:>A !active "perhaps" is neither yes nor no.`},
		"a formula":              {"login,name\na,=B2\n", "2 wrong login:>a name:>=B2 !name This is a formula, not a value: copy the column and paste it as values."},
		"a language":             {"login,name,language\na,A,danish\n", `2 wrong login:>a name:>A language:>danish !language "danish" is no language: write it such as pt or en-GB (BCP 47).`},
		"a manager who has left": {"login,name,manager\na,A,old\n", `2 wrong login:>a name:>A !manager There is nobody "old": write a login, a mail address or a full name.`},
	} {
		p := work(t, intake.People, c.file, intake.Edits{})
		got := told(p)
		assert.Equal(t, c.want, got[len(got)-1], name)
	}
}

func TestCirclesOfManagers(t *testing.T) {
	p := work(t, intake.People, "login,name,manager\na,A,b\nb,B,c\nc,C,a\nd,D,a\nsigne,Signe Halvorsen,mio\n", intake.Edits{})
	got := told(p)
	for _, line := range got[:3] {
		assert.Contains(t, line, "The managers go round in a circle")
	}
	assert.Contains(t, got[0], "a → b → c → a")
	assert.Contains(t, got[3], "This stands in line 2, which is not read", "who is below a circle is not in it")
	assert.Contains(t, got[4], "circle", "with what is not in the sheet, too: mio reports to signe")
}

// What is wrong in many lines is mended once.
func TestMending(t *testing.T) {
	file := "login,name,location\na,A,Nrod\nb,B,Nrod\nc,C,Kobe office\nd,D,=1\nd,D,Nord\n"
	p := work(t, intake.People, file, intake.Edits{})
	assert.Equal(t, 4, p.Counts[intake.Wrong])
	assert.Equal(t, []string{"Nord"}, p.Lines[0].Problems[0].Near)
	assert.Equal(t, "Kobe Office", p.Records.Persons[0].Location, "as it is written there")
	p = work(t, intake.People, file, intake.Edits{Values: map[string]map[string]string{"location": {"Nrod": "Nord"}}, Cells: map[int]map[string]string{5: {"location": ""}}, Left: map[int]bool{6: true}})
	assert.Equal(t, map[intake.State]int{intake.New: 4, intake.Left: 1}, p.Counts)
	assert.Equal(t, "Nord", p.Records.Persons[0].Location)
}

func TestColumnsByHand(t *testing.T) {
	file := "Kennung,Name,Chef\na,A,signe\n"
	p := work(t, intake.People, file, intake.Edits{})
	assert.Equal(t, []string{"login"}, p.Missing)
	assert.Empty(t, p.Lines)
	p = work(t, intake.People, file, intake.Edits{Columns: map[string]string{"login": "Kennung", "manager": "Chef", "title": ""}})
	assert.Equal(t, []string{"2 new login:>a name:>A manager:>Signe Halvorsen (signe)"}, told(p))
}

func TestComingAndGoing(t *testing.T) {
	p := work(t, intake.People, "login,name,active\nold,Olde Gone,yes\nmio,Mio Ito,no\n", intake.Edits{})
	assert.Equal(t, []string{"2 changed active:no>yes", "3 changed active:yes>no"}, told(p))
	assert.False(t, p.Records.Persons[0].Former)
	assert.True(t, p.Records.Persons[1].Former)
	assert.Equal(t, []intake.Gone{{"1", "Signe Halvorsen"}}, p.Gone)
}

func TestTheRestOfACompany(t *testing.T) {
	for name, c := range map[string]struct {
		kind intake.Kind
		file string
		want []string
	}{
		"locations":    {intake.Locations, "Site,Hours\nNord,kobe\nSyd,kobo\nSyd,\n", []string{"2 changed calendar:>kobe", `3 wrong name:>Syd calendar:>kobo !calendar There is no working calendar "kobo".`, "4 wrong name:>Syd !name Line 3 is about the same, too."}},
		"cost centres": {intake.CostCentres, "code,description,responsible\nG-100,Growing,mio\nG-200,,\n", []string{"2 changed owner:Signe Halvorsen (signe)>Mio Ito (mio)", "3 wrong key:>G-200 !owner Owner is missing."}},
		"teams": {intake.Teams, "name,lead,members,upward\nGrowing Desk,Mio Ito,signe,Glass\nGlass,signe,,\nPipes,nobody,,\n", []string{
			"2 changed lead:Signe Halvorsen (signe)>Mio Ito (mio) upward:>glass",
			"3 new name:>Glass lead:>Signe Halvorsen (signe) members:>Signe Halvorsen (signe)",
			`4 wrong lead:Mio Ito (mio)> !lead There is nobody "nobody": write a login, a mail address or a full name.`}},
		"teams in a circle": {intake.Teams, "name,lead,upward\nA,signe,B\nB,signe,A\nC,mio,C\n", []string{
			"2 wrong name:>A lead:>Signe Halvorsen (signe) members:>Signe Halvorsen (signe) upward:>b !upward The teams hand up in a circle: one of them is at the top.",
			"3 wrong name:>B lead:>Signe Halvorsen (signe) members:>Signe Halvorsen (signe) upward:>a !upward The teams hand up in a circle: one of them is at the top.",
			"4 wrong name:>C lead:>Mio Ito (mio) members:>Mio Ito (mio) upward:>c !upward A team does not hand up to itself."}},
		"services": {intake.Services, "service,department,owner,support team,state\nPlants,Facilities,mio,Growing Desk,ended\nGlass,Facilities,signe,,live\n", []string{
			"2 changed owner:Signe Halvorsen (signe)>Mio Ito (mio) place:offered>ended",
			`3 wrong name:>Glass area:>Facilities owner:>Signe Halvorsen (signe) place:>live !home Home team is missing. !place "live" is no place in the portfolio: write intended, offered or ended.`}},
	} {
		assert.Equal(t, c.want, told(work(t, c.kind, c.file, intake.Edits{})), name)
	}
	p := work(t, intake.Teams, "name,lead,members\nGrowing Desk,mio,signe\n", intake.Edits{})
	assert.Equal(t, map[string][]string{"growing": {"1", "2"}}, p.Members, "the lead is a member")
	assert.Equal(t, []intake.Gone{{"pipes", "Pipes"}}, p.Gone)
	p = work(t, intake.Teams, "name,lead\nPipes,mio\n", intake.Edits{})
	assert.Equal(t, []string{"2 changed members:>Mio Ito (mio)"}, told(p), "who leads is a member, also when nobody says so")
}

// A line that names somebody whose own line is not read waits for that line.
func TestLinesLeanOnEachOther(t *testing.T) {
	file := "login,name,manager\nc,C,b\nb,B,a\na,,\nd,D,signe\n"
	p := work(t, intake.People, file, intake.Edits{})
	assert.Equal(t, map[intake.State]int{intake.Wrong: 1, intake.Waits: 2, intake.New: 1}, p.Counts)
	got := told(p)
	assert.Contains(t, got[0], "This stands in line 3, which is not read")
	assert.Contains(t, got[1], "This stands in line 4, which is not read")
	assert.True(t, strings.HasPrefix(got[3], "5 new"))
	assert.Equal(t, 4, work(t, intake.People, file, intake.Edits{Cells: map[int]map[string]string{4: {"name": "A"}}}).Counts[intake.New])
	got = told(work(t, intake.Teams, "name,lead,upward\nLow,signe,High\nHigh,nobody,\n", intake.Edits{}))
	assert.Contains(t, got[0], "This stands in line 3, which is not read")
}

// A column with nothing in it takes nothing away, unless one line alone is meant so.
func TestAnEmptyColumn(t *testing.T) {
	file := "login,name,teams,manager,active\nmio,Mio Ito,,,\n"
	p := work(t, intake.People, file, intake.Edits{})
	assert.Equal(t, []string{"2 same"}, told(p))
	assert.Len(t, p.Notes, 3)
	table, err := sheet.Parse([]byte(file))
	require.NoError(t, err)
	p = intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: company(), Blanks: true, Subject: "2"})
	assert.Equal(t, []string{"2 changed manager:Signe Halvorsen (signe)> teams:Growing Desk>"}, told(p))
}

// Who reads a sheet puts nobody in charge who is themself, and the last administrator
// does not leave.
func TestNobodyServesThemself(t *testing.T) {
	read := func(kind intake.Kind, file, self string) []string {
		table, err := sheet.Parse([]byte(file))
		require.NoError(t, err)
		return told(intake.Work(kind, table, intake.Edits{}, intake.Reader{Company: company(), NewID: func() string { return "new" }, Self: self}))
	}
	const no = "You cannot put yourself here: another administrator can."
	for _, c := range []struct {
		kind       intake.Kind
		file, self string
		refused    bool
	}{
		{intake.Services, "name,area,owner,home\nPlants,Facilities,mio,growing\n", "2", true}, {intake.Services, "name,area,owner,home\nPlants,Facilities,signe,growing\n", "1", false},
		{intake.Teams, "name,lead\nGrowing Desk,mio\n", "2", true}, {intake.Teams, "name,lead\nGrowing Desk,mio\n", "1", false}, {intake.Teams, "name,lead\nPipes,mio\n", "2", false},
		{intake.CostCentres, "key,owner\nG-100,mio\n", "2", true}, {intake.People, "login,name,manager\na,A,mio\n", "2", true}, {intake.People, "login,name,manager\na,A,mio\n", "", false},
	} {
		assert.Equal(t, c.refused, strings.Contains(strings.Join(read(c.kind, c.file, c.self), "\n"), no), "%s for %s", c.file, c.self)
	}
	const last = "Nobody else is an administrator"
	assert.Contains(t, read(intake.People, "login,name,active\nsigne,Signe Halvorsen,no\n", "")[0], last)
	assert.NotContains(t, read(intake.People, "login,name,active\nmio,Mio Ito,no\n", "")[0], last)
}

// A template is read without a word, and has a sample of every column.
func TestTemplates(t *testing.T) {
	for _, kind := range intake.Kind("").All() {
		header, rows := intake.Template(kind)
		require.NotEmpty(t, rows, kind)
		for _, row := range rows {
			require.Len(t, row, len(header), kind)
		}
		table, err := sheet.Parse(sheet.CSV(header, rows))
		require.NoError(t, err)
		r := reader(func() string { return "new" })
		r.Blanks = true
		p := intake.Work(kind, table, intake.Edits{}, r)
		assert.Empty(t, p.Missing, kind)
		assert.Empty(t, p.Unread, kind)
		assert.Len(t, p.Columns, len(header), kind)
	}
}

// What was kept once changes nothing the second time, whatever stands in the sheet.
func TestTheSameSheetAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		logins := rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"signe", "mio", "old", "a", "b", "c", "d"}), 1, 7, rapid.ID).Draw(t, "logins")
		cell := rapid.SampledFrom([]string{"", "signe", "mio", "a", "Nord", "Kobe Office", "G-100", "Growing Desk", "pipes", "yes", "no", "Ünal, \"K\""})
		header := []string{"login", "name", "department", "manager", "teams", "location", "active"}
		var rows [][]string
		for _, login := range logins {
			row := []string{login, "N " + login}
			for range header[2:] {
				row = append(row, cell.Draw(t, "cell"))
			}
			rows = append(rows, row)
		}
		table, err := sheet.Parse(sheet.CSV(header, rows))
		require.NoError(t, err)
		before, n := company(), 0
		first := intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: before, NewID: func() string { n++; return fmt.Sprint("new", n) }})
		require.Len(t, first.Lines, len(rows))
		again := intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: kept(before, first), NewID: func() string { return "newer" }})
		for i, l := range first.Lines {
			switch {
			case l.State != intake.Wrong && l.State != intake.Waits:
				assert.Equal(t, intake.Same, again.Lines[i].State, "%+v", again.Lines[i])
			case again.Lines[i].State != l.State: // a manager of another line is there by now, or has left
				assert.NotEmpty(t, l.Problems)
			}
		}
		for _, p := range first.Records.Persons {
			assert.Empty(t, people.CheckPerson(p))
		}
	})
}

// kept is a company after what a preview would keep.
func kept(d *people.Directory, p *intake.Preview) *people.Directory {
	r := people.Records{Persons: append(d.Persons(), p.Records.Persons...), Teams: d.Teams(), CostCentres: d.CostCentres()}
	for _, name := range d.LocationNames() {
		l, _ := d.Location(name)
		r.Locations = append(r.Locations, l)
	}
	return people.NewDirectory(r)
}

// What is taken out as a sheet, read in again, changes nothing.
func TestRecordsAreASheet(t *testing.T) {
	for _, kind := range intake.Kind("").All() {
		if !kind.Kept() {
			assert.Contains(t, []intake.Kind{intake.Belongings, intake.Offerings}, kind)
			continue
		}
		var header []string
		for _, f := range intake.Columns(kind) {
			header = append(header, f.Name)
		}
		var rows [][]string
		for r := range intake.Records(kind, company()) {
			var row []string
			for _, f := range intake.Columns(kind) {
				row = append(row, r.Cells[f.Key])
			}
			rows = append(rows, row)
			assert.NotEmpty(t, r.Name)
			assert.True(t, r.Has(strings.Fields(strings.ToLower(r.Name))))
			assert.False(t, r.Has([]string{"zeppelin"}))
		}
		p := work(t, kind, string(sheet.CSV(header, rows)), intake.Edits{Left: map[int]bool{}})
		assert.Equal(t, len(rows), p.Counts[intake.Same]+map[intake.Kind]int{intake.Teams: 1}[kind], "%s: %v", kind, told(p))
		assert.Empty(t, p.Gone, kind)
	}
}

// Who reports to somebody who has left can be kept as they are, and nobody new reports to
// them.
func TestAManagerWhoHasLeft(t *testing.T) {
	d := people.NewDirectory(people.Records{Persons: []people.Person{{ID: "1", Login: "gone", Name: "Gone", Former: true}, {ID: "2", Login: "mio", Name: "Mio Ito", Manager: "1"}}})
	table, err := sheet.Parse([]byte("login,name,title,manager\nmio,Mio Ito,Grower,gone\nnew,New,,gone\n"))
	require.NoError(t, err)
	got := told(intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: d, NewID: func() string { return "new" }}))
	assert.Equal(t, "2 changed title:>Grower", got[0])
	assert.Contains(t, got[1], `!manager There is nobody "gone"`)
}

// One line about somebody can give them another login.
func TestALineAboutSomebody(t *testing.T) {
	table, err := sheet.Parse([]byte("login,name\nm.ito,Mio Ito\n"))
	require.NoError(t, err)
	p := intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: company(), Subject: "2"})
	assert.Equal(t, []string{"2 changed login:mio>m.ito"}, told(p))
	table, err = sheet.Parse([]byte("login,name\nsigne,Mio Ito\n"))
	require.NoError(t, err)
	assert.Contains(t, told(intake.Work(intake.People, table, intake.Edits{}, intake.Reader{Company: company(), Subject: "2"}))[0], "Somebody else has this login: Signe Halvorsen.")
}
