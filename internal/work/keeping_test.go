package work_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/simulate"
	"heptad/internal/store"
	"heptad/internal/work"
)

// does reads a sheet and does it, by the administrator of the demo.
func does(t *testing.T, o *demotest.Office, kind intake.Kind, file string, gone bool) work.SheetResult {
	t.Helper()
	id, err := o.Keeping.AddSheet(ctx, demo.ID("lindskaug"), kind, "sheet.csv", []byte(file))
	require.NoError(t, err)
	r, err := o.Keeping.DoSheet(ctx, demo.ID("lindskaug"), id, false, gone)
	require.NoError(t, err)
	return r
}

// asSheet writes everybody of the demo as a sheet, some of them left out.
func asSheet(o *demotest.Office, out func(p people.Person) bool) string {
	var rows [][]string
	for r := range intake.Records(intake.People, o.Company()) {
		if p, _ := o.Company().Person(r.ID); !out(p) {
			var row []string
			for _, f := range intake.Fields(intake.People) {
				row = append(row, r.Cells[f.Key])
			}
			rows = append(rows, row)
		}
	}
	return string(demotest.CSV(intake.People, rows))
}

func TestTheSameSheetChangesNothing(t *testing.T) {
	o := demotest.New(t)
	before, err := o.Store.Acts(ctx, store.WantedActs{Limit: 1})
	require.NoError(t, err)
	for range 2 {
		assert.Equal(t, work.SheetResult{}, does(t, o, intake.People, asSheet(o, func(people.Person) bool { return false }), true))
	}
	after, err := o.Store.Acts(ctx, store.WantedActs{Limit: 10})
	require.NoError(t, err)
	assert.Equal(t, before[0].ID+2, after[0].ID, "that it was read, and nothing else")
	assert.Equal(t, audit.SheetRead, after[0].Act)
}

// A sheet that comes again: other departments, another manager, somebody inactive. Those
// whom it concerns are told, and nobody else; what the inactive one held goes where it
// belongs.
func TestASheetComesAgain(t *testing.T) {
	o := demotest.New(t)
	post(t, o)
	asked := o.Ask("sarmento", "covered")
	o.Must("quist", asked.ID, request.Decide{Rung: "manager", Decision: request.Approve})
	o.Must("marrec", asked.ID, request.Take{Task: "check"})
	other := o.Ask("sarmento", "covered")
	post(t, o)
	marrec, _ := o.Company().Person(demo.ID("marrec"))
	managed := func(login string) string {
		p, _ := o.Company().Person(demo.ID(login))
		m, _ := o.Company().Person(p.Manager)
		return m.Login
	}
	file := "login,name,department,manager,active\n" +
		"castelo,Ines Castelo,Premises," + managed("castelo") + ",yes\n" + "marrec," + marrec.Name + "," + marrec.Department + "," + managed("marrec") + ",no\n" +
		"sarmento,Davi Sarmento,Fleet,yilmazer,yes\n" + "new.one,New One,Fleet,quist,yes\n"
	was := managed("sarmento")
	id, err := o.Keeping.AddSheet(ctx, demo.ID("lindskaug"), intake.People, "again.csv", []byte(file))
	require.NoError(t, err)
	v, err := o.Keeping.Sheet(ctx, demo.ID("lindskaug"), id)
	require.NoError(t, err)
	assert.Equal(t, 3, v.Preview.Counts[intake.Changed])
	r, err := o.Keeping.DoSheet(ctx, demo.ID("lindskaug"), id, false, false)
	require.NoError(t, err)
	assert.Equal(t, work.SheetResult{New: 1, Changed: 3, Gone: 1}, r)
	_, err = o.Keeping.DoSheet(ctx, demo.ID("lindskaug"), id, false, false)
	assert.Equal(t, refusal.SheetDone, codeOf(t, err), "once")
	post(t, o)
	marrec, _ = o.Company().Person(demo.ID("marrec"))
	assert.True(t, marrec.Former)
	assert.NotContains(t, o.Company().Members("keys-badges"), marrec.ID)
	state, err := o.Store.Request(ctx, asked.ID)
	require.NoError(t, err)
	task, _ := state.Task("check")
	assert.Equal(t, plan.Ready, task.State, "back with the team")
	assert.Empty(t, task.Holder)
	state, err = o.Store.Request(ctx, other.ID)
	require.NoError(t, err)
	assert.Equal(t, request.Deciding, state.Status)
	var told []string
	for _, l := range o.Mail.Letters() {
		if strings.Contains(l.Subject, "what you answer for") {
			told = append(told, strings.Split(l.To[0], "@")[0])
		}
	}
	assert.ElementsMatch(t, []string{was, "yilmazer"}, told, "who was Davi Sarmento's manager, and who is")
	assert.Equal(t, []audit.Act{audit.PersonLeft}, acts(t, o, marrec.ID), "and no change beside it")

	// Within ten days she comes back, and has her team again.
	o.Clock.Pass(9 * 24 * time.Hour)
	does(t, o, intake.People, "login,name,active\nmarrec,"+marrec.Name+",yes\n", false)
	assert.Contains(t, o.Company().Members("keys-badges"), marrec.ID)
	assert.Equal(t, []audit.Act{audit.PersonLeft, audit.PersonBack}, acts(t, o, marrec.ID))

	// Later than that she comes back as anybody.
	require.NoError(t, o.Entering.SetPassword(ctx, marrec.ID, passphrase))
	does(t, o, intake.People, "login,name,active\nmarrec,"+marrec.Name+",no\n", false)
	o.Clock.Pass(11 * 24 * time.Hour)
	does(t, o, intake.People, "login,name,active\nmarrec,"+marrec.Name+",yes\n", false)
	assert.NotContains(t, o.Company().Members("keys-badges"), marrec.ID)
	has, err := o.Entering.HasPassword(ctx, marrec.ID)
	require.NoError(t, err)
	assert.False(t, has)
}

// What somebody has who leaves is taken back by a request in the name of their manager, once;
// where nobody may ask, the owner of its service is told.
func TestWhatALeaverHasIsTakenBack(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	post(t, o)
	leaver := demo.ID("sarmento")
	has, err := o.Store.BelongingsOf(ctx, leaver)
	require.NoError(t, err)
	require.NotEmpty(t, has)
	does(t, o, intake.People, "login,name,active\nsarmento,Davi Sarmento,no\n", false)
	assert.Equal(t, []audit.Act{audit.PersonLeft, audit.SignedOff}, slices.Sorted(slices.Values(acts(t, o, leaver))))
	rows, err := o.Store.Acts(ctx, store.WantedActs{Act: audit.SignedOff, Limit: 10})
	require.NoError(t, err)
	require.Len(t, rows, 1)
	state, err := o.Store.ByReference(ctx, rows[0].Body.Changes[0].After)
	require.NoError(t, err)
	quist, _ := o.Company().Person(state.Asker)
	assert.Contains(t, o.Company().Managers(leaver), quist.Login)
	last, _ := state.Answers["last"].Text()
	assert.Equal(t, o.Clock.Now().Format(time.DateOnly), last)
	assert.Equal(t, leaver, state.For.Person)
	post(t, o)
	assert.True(t, slices.ContainsFunc(lettersTo(o, quist.Login), func(l simulate.Letter) bool {
		return strings.Contains(l.Text, "Davi Sarmento has left and still has Quay badge") && strings.Contains(l.Text, state.Reference)
	}))

	// Back and gone again while it is under way: one is enough.
	does(t, o, intake.People, "login,name,active\nsarmento,Davi Sarmento,yes\n", false)
	does(t, o, intake.People, "login,name,active\nsarmento,Davi Sarmento,no\n", false)
	rows, err = o.Store.Acts(ctx, store.WantedActs{Act: audit.SignedOff, Limit: 10})
	require.NoError(t, err)
	assert.Len(t, rows, 1)

	// Of who has no manager: the owner of the service hears of it.
	head := "vidigal"
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		return tx.AddBelonging(demo.ID(head), people.Belonging{ID: "own-9", Kind: "tablet", Name: "Bridge tablet"}, "")
	}))
	name := o.Company().Name(demo.ID(head))
	does(t, o, intake.People, "login,name,active\n"+head+","+name+",no\n", false)
	post(t, o)
	crew, _ := o.Company().Service("crew")
	owner, _ := o.Company().Person(crew.Owner)
	assert.Contains(t, lettersTo(o, owner.Login)[0].Text, name+" has left and still has Bridge tablet. Sign off a crew member could not be sent: none of their managers may ask for it.")

	// An organisation names only what can be sent so.
	set := func(signOff, day string) error {
		org := o.Organisation()
		org.SignOff, org.LastDay = signOff, day
		return o.Keeping.Organise(ctx, admin, org)
	}
	assert.Equal(t, refusal.SignOff, codeOf(t, set("bridge-tablet-of-old", "")))
	assert.Equal(t, refusal.SignOff, codeOf(t, set("hand-something-back", "")), "only for oneself")
	assert.Equal(t, refusal.SignOff, codeOf(t, set("sign-off-a-crew-member", "")), "the last day is needed")
	assert.Equal(t, refusal.SignOff, codeOf(t, set("sign-off-a-crew-member", "reason")), "no day")
	require.NoError(t, set("", ""))
}

// A sheet is kept for a week, done or not, and its file only until it is done.
func TestSheetsAreSwept(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	id, err := o.Keeping.AddSheet(ctx, admin, intake.Locations, "a.csv", []byte("name\nTower Quay\n"))
	require.NoError(t, err)
	other, err := o.Keeping.AddSheet(ctx, admin, intake.Locations, "b.csv", []byte("name\nNew Quay\n"))
	require.NoError(t, err)
	_, err = o.Keeping.DoSheet(ctx, admin, other, false, false)
	require.NoError(t, err)
	_, err = o.Store.SheetContent(other)
	assert.ErrorIs(t, err, store.ErrNotFound)
	o.Clock.Pass(8 * 24 * time.Hour)
	post(t, o)
	for _, id := range []string{id, other} {
		_, err := o.Keeping.Sheet(ctx, admin, id)
		assert.ErrorIs(t, err, work.ErrNotFound)
	}
	_, err = o.Store.SheetContent(id)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// More than twenty people and more than a hundredth of the company wait for a yes,
// however they are to become inactive, and however many sheets it takes.
func TestManyWhoLeaveWait(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	active := func() (n int) {
		for _, p := range o.Company().Persons() {
			if !p.Former {
				n++
			}
		}
		return n
	}
	all, i := active(), 0
	half := func(p people.Person) bool { i++; return i%2 == 0 && !p.Is(people.Administrator) && len(p.Teams) == 0 }
	r := does(t, o, intake.People, asSheet(o, half), false)
	assert.Equal(t, work.SheetResult{}, r, "absence from a sheet changes nothing by itself")
	r = does(t, o, intake.People, asSheet(o, half), true)
	assert.Positive(t, r.Waiting)
	assert.Zero(t, r.Gone)
	assert.Equal(t, all, active(), "nobody is gone before somebody says yes")
	waiting, err := o.Keeping.Leaving(ctx, admin)
	require.NoError(t, err)
	assert.Len(t, waiting, r.Waiting)
	require.NoError(t, o.Keeping.AnswerLeaving(ctx, admin, false))
	assert.Equal(t, all, active())
	assert.Equal(t, refusal.NobodyWaits, codeOf(t, o.Keeping.AnswerLeaving(ctx, admin, true)))
	does(t, o, intake.People, asSheet(o, half), true)
	require.NoError(t, o.Keeping.AnswerLeaving(ctx, admin, true))
	assert.Equal(t, all-r.Waiting, active())

	// Twenty are let go at once, and the next of the same day waits.
	o.Clock.Pass(25 * time.Hour)
	var plain []people.Person
	for _, p := range o.Company().Persons() {
		if !p.Former && len(p.Teams) == 0 && len(o.RolesOf(p.ID)) == 0 && !o.Company().Manages(p.ID) {
			plain = append(plain, p)
		}
	}
	leave := func(p people.Person) bool {
		cells := map[string]string{}
		for r := range intake.Records(intake.People, o.Company()) {
			if r.ID == p.ID {
				cells = r.Cells
			}
		}
		cells["active"] = "no"
		waits, err := o.Keeping.SaveRecord(ctx, admin, intake.People, p.ID, cells)
		require.NoError(t, err)
		return waits
	}
	for i := range 20 {
		assert.False(t, leave(plain[i]), i)
	}
	assert.True(t, leave(plain[20]))
	assert.ErrorIs(t, o.Keeping.AnswerLeaving(ctx, demo.ID("quist"), true), work.ErrNotFound)
}

func TestTheLastAdministratorStays(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	id, err := o.Keeping.AddSheet(ctx, admin, intake.People, "a.csv", []byte("login,name,active\nlindskaug,Tove Lindskaug,no\n"))
	require.NoError(t, err)
	_, err = o.Keeping.DoSheet(ctx, admin, id, false, false)
	assert.Equal(t, refusal.WrongLines, codeOf(t, err))
	id, err = o.Keeping.AddSheet(ctx, admin, intake.People, "a.csv", []byte(asSheet(o, func(p people.Person) bool { return p.ID == admin })))
	require.NoError(t, err)
	_, err = o.Keeping.DoSheet(ctx, admin, id, false, true)
	assert.Equal(t, refusal.LastAdministrator, codeOf(t, err), "not by being absent, either")
	assert.Equal(t, refusal.LastAdministrator, codeOf(t, o.Keeping.TakeRole(ctx, admin, admin, people.Administrator)))
}

// Nobody gives themself anything; the roles that matter most need two administrators as
// soon as there are two.
func TestRoles(t *testing.T) {
	o := demotest.New(t)
	first, second, third := demo.ID("lindskaug"), demo.ID("quist"), demo.ID("brandao")
	give := func(actor, person, role string) (bool, string) {
		waits, err := o.Keeping.GiveRole(ctx, actor, person, role)
		return waits, codeOf(t, err)
	}
	_, code := give(first, first, people.Auditor)
	assert.Equal(t, refusal.OwnRole, code)
	_, code = give(first, second, "king")
	assert.Equal(t, refusal.UnknownRole, code)
	_, err := o.Keeping.GiveRole(ctx, second, third, people.Auditor)
	assert.ErrorIs(t, err, work.ErrNotFound)
	waits, code := give(first, second, people.Administrator)
	assert.False(t, waits, "there is one")
	assert.Empty(t, code)
	waits, code = give(first, third, people.Auditor)
	assert.True(t, waits, "there are two")
	assert.Empty(t, code)
	assert.False(t, o.Audits(third))
	for _, who := range []string{first, third} {
		err := o.Keeping.AnswerRole(ctx, who, third, people.Auditor, true)
		if who == third {
			assert.ErrorIs(t, err, work.ErrNotFound)
		} else {
			assert.Equal(t, refusal.OwnRole, codeOf(t, err), "not who asked")
		}
	}
	require.NoError(t, o.Keeping.AnswerRole(ctx, second, third, people.Auditor, true))
	assert.True(t, o.Audits(third))
	waits, _ = give(first, third, people.Executive)
	assert.False(t, waits, "other roles are given at once")
	require.NoError(t, o.Keeping.TakeRole(ctx, second, third, people.Auditor))
	assert.False(t, o.Audits(third))
	assert.Equal(t, []audit.Act{audit.RoleAsked, audit.RoleGiven, audit.RoleGiven, audit.RoleTaken}, acts(t, o, third))
	post(t, o)
	said := ""
	for _, l := range lettersTo(o, "brandao") {
		said += l.Text
	}
	for _, want := range []string{"You have the role of auditor now.", "You have the role of executive now.", "You no longer have the role of auditor."} {
		assert.Contains(t, said, want)
	}
}

// What is kept by hand goes the way of a sheet of one line, with its mistakes at their
// place.
func TestOneRecord(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	save := func(kind intake.Kind, id string, cells map[string]string) (string, string) {
		_, err := o.Keeping.SaveRecord(ctx, admin, kind, id, cells)
		r, _ := request.AsRefusal(err)
		if r == nil {
			require.NoError(t, err)
			return "", ""
		}
		return r.Code, r.Place
	}
	code, place := save(intake.Teams, "", map[string]string{"name": "Night Watch", "lead": "nobody"})
	assert.Equal(t, []string{refusal.BadRecord, "/cells/lead"}, []string{code, place})
	code, _ = save(intake.Teams, "", map[string]string{"name": "Night Watch", "lead": "quist", "members": "sarmento"})
	assert.Empty(t, code)
	assert.ElementsMatch(t, []string{demo.ID("quist"), demo.ID("sarmento")}, o.Company().Members("night-watch"))
	code, _ = save(intake.Teams, "", map[string]string{"name": "Night watch", "lead": "quist"})
	assert.Equal(t, refusal.RecordThere, code)
	code, _ = save(intake.Teams, "night-watch", map[string]string{"key": "other", "name": "Night Watch", "lead": "quist"})
	assert.Equal(t, refusal.FixedKey, code)
	code, place = save(intake.Services, "parking", map[string]string{"key": "parking", "name": "Parking", "area": "Facilities", "owner": "lindskaug", "home": "premises-crew"})
	assert.Equal(t, []string{refusal.BadRecord, "/cells/owner"}, []string{code, place}, "nobody puts themself in charge")
	_, history, err := o.Keeping.Record(ctx, admin, intake.Teams, "night-watch")
	require.NoError(t, err)
	require.Len(t, history, 1)
	assert.Equal(t, audit.TeamSaved, history[0].Act)
	_, _, err = o.Keeping.Record(ctx, demo.ID("quist"), intake.Teams, "night-watch")
	assert.ErrorIs(t, err, work.ErrNotFound)
	some, total, err := o.Keeping.Records(ctx, admin, intake.People, work.WantedRecords{Words: "fleet", Sort: "login", Down: true, Skip: 1, Limit: 2})
	require.NoError(t, err)
	require.Len(t, some, 2)
	assert.Greater(t, total, 10)
	assert.Greater(t, some[0].Cells["login"], some[1].Cells["login"])
}

// What administrators and owners do stands in the audit, with who did it, and no secret
// in it; and the chain holds.
func TestWhatIsAudited(t *testing.T) {
	o := demotest.New(t)
	admin, owner := demo.ID("lindskaug"), demo.ID("falkenau")
	in := work.WithSession(ctx, "the-session")
	require.NoError(t, o.Connecting.Connect(in, admin, work.Connection{Key: "badges", URL: "http://127.0.0.1:1", Secret: "a-secret-of-badges", AtOnce: 3}))
	require.NoError(t, o.Connecting.Grant(in, admin, "parking", plan.Grant{Connector: "badges", Action: "change"}))
	require.NoError(t, o.Connecting.Revoke(in, admin, "parking", "badges", "change"))
	_, err := o.Designing.End(in, owner, "berth-side-parking", "")
	require.NoError(t, err)
	_, err = o.Designing.Revive(in, owner, "berth-side-parking")
	require.NoError(t, err)
	_, err = o.Designing.Export(in, owner)
	require.NoError(t, err)
	org := o.Organisation()
	org.Name = "Quillon Straits"
	require.NoError(t, o.Keeping.Organise(in, admin, org))
	rows, err := o.Auditing.Acts(ctx, demo.ID("godinho"), work.WantedActs{Limit: 7})
	require.NoError(t, err)
	var got []audit.Act
	for _, r := range rows {
		got = append(got, r.Act)
		assert.Equal(t, "the-session", r.Session)
		assert.NotContains(t, fmt.Sprint(r), "a-secret-of-badges")
	}
	assert.Equal(t, []audit.Act{audit.Organised, audit.CatalogGiven, audit.OfferingBack, audit.OfferingEnded, audit.GrantTaken, audit.GrantGiven, audit.ConnectorSet}, got)
	assert.Contains(t, fmt.Sprint(rows[6].Body.Changes), "{secret  (changed)}")
	assert.Equal(t, []audit.Change{{Field: "name", Before: "Quillon Straits Ferries", After: "Quillon Straits"}}, rows[0].Body.Changes)
	_, err = o.Auditing.Acts(ctx, owner, work.WantedActs{Limit: 1})
	assert.ErrorIs(t, err, work.ErrNotFound)
	n, wrong, err := o.Auditing.Verify(ctx, demo.ID("godinho"))
	require.NoError(t, err)
	assert.Empty(t, wrong)
	assert.Positive(t, n)
	org.Prefix = "QX"
	assert.Equal(t, refusal.Prefix, codeOf(t, o.Keeping.Organise(ctx, admin, org)), "requests were sent")
}

// Two records of one person become one: what the first has and answers for goes over.
func TestDoubles(t *testing.T) {
	o := demotest.New(t)
	admin := demo.ID("lindskaug")
	post(t, o)
	from, into := demo.ID("quist"), demo.ID("abelsen")
	asked := o.Ask("quist", "covered")
	has, err := o.Store.BelongingsOf(ctx, from)
	require.NoError(t, err)
	require.NotEmpty(t, has)
	had, err := o.Store.BelongingsOf(ctx, into)
	require.NoError(t, err)
	var managed []string
	for _, p := range o.Company().Persons() {
		if p.Manager == from {
			managed = append(managed, p.ID)
		}
	}
	require.NotEmpty(t, managed)
	for name, c := range map[string]struct{ actor, from, into, code string }{
		"nobody":      {admin, from, "nobody", refusal.UnknownPerson},
		"itself":      {admin, from, from, refusal.UnknownPerson},
		"oneself":     {admin, from, admin, refusal.OwnDouble},
		"oneself too": {admin, admin, into, refusal.OwnDouble},
	} {
		assert.Equal(t, c.code, codeOf(t, o.Keeping.Merge(ctx, c.actor, c.from, c.into)), name)
	}
	require.ErrorIs(t, o.Keeping.Merge(ctx, demo.ID("falkenau"), from, into), work.ErrNotFound)
	goes, err := o.Keeping.Doubled(ctx, admin, from, into)
	require.NoError(t, err)
	assert.Equal(t, []int{len(has), 1}, []int{goes.Belongings, goes.UnderWay})
	assert.GreaterOrEqual(t, goes.Duties, len(managed))

	require.NoError(t, o.Keeping.Merge(ctx, admin, from, into))
	post(t, o)
	double, _ := o.Company().Person(from)
	assert.True(t, double.Former)
	for _, id := range managed {
		p, _ := o.Company().Person(id)
		assert.NotEqual(t, from, p.Manager)
		assert.NotEqual(t, p.ID, p.Manager)
	}
	now, err := o.Store.BelongingsOf(ctx, into)
	require.NoError(t, err)
	assert.Len(t, now, len(has)+len(had))
	state, err := o.Store.Request(ctx, asked.ID)
	require.NoError(t, err)
	assert.Contains(t, state.Followers, into)
	assert.Contains(t, lettersTo(o, "abelsen")[0].Text, "You were kept twice, and are one now")
	assert.NotContains(t, acts(t, o, from), audit.SignedOff, "there is nothing left to take back")
	assert.Equal(t, refusal.NotHere, codeOf(t, o.Keeping.Merge(ctx, admin, from, into)))
}
