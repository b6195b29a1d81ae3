package work_test

import (
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/audit"
	"heptad/internal/core/intake"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
	"heptad/internal/work"
)

// codeOf is the code something was refused with; empty when it was not.
func codeOf(t *testing.T, err error) string {
	t.Helper()
	if err == nil {
		return ""
	}
	r, ok := request.AsRefusal(err)
	require.True(t, ok, "%v", err)
	return r.Code
}

const passphrase = "grey heron at the pier"

// acts are what the audit says of somebody, the oldest first.
func acts(t *testing.T, o *demotest.Office, thing string) (all []audit.Act) {
	t.Helper()
	rows, err := o.Store.Acts(ctx, store.WantedActs{Thing: thing, Limit: 1000})
	require.NoError(t, err)
	for i := len(rows) - 1; i >= 0; i-- {
		all = append(all, rows[i].Act)
	}
	return all
}

func TestPasswords(t *testing.T) {
	o := demotest.New(t)
	id := demo.ID("sarmento")
	enter := func(name, password, code string) (string, string) {
		person, err := o.Entering.Enter(ctx, name, work.Proof{Password: password, Code: code})
		return person, codeOf(t, err)
	}
	_, code := enter("sarmento", "", "")
	assert.Equal(t, refusal.WrongPassword, code, "who has none is not let in by an empty one")
	assert.Equal(t, refusal.CommonPassword, codeOf(t, o.Entering.SetPassword(ctx, id, "123456qwerty")))
	assert.Equal(t, refusal.ShortPassword, codeOf(t, o.Entering.SetPassword(ctx, id, "short")))
	require.NoError(t, o.Entering.SetPassword(ctx, id, " "+passphrase+"\n"))
	p, _ := o.Company().Person(id)
	for name, c := range map[string]struct{ name, password, want string }{
		"by login": {"sarmento", passphrase, ""}, "by mail": {strings.ToUpper(p.Email), passphrase, ""}, "pasted with spaces": {" sarmento ", passphrase + "  ", ""},
		"wrong": {"sarmento", passphrase + "!", refusal.WrongPassword}, "another's": {"quist", passphrase, refusal.WrongPassword}, "nobody": {"nobody", passphrase, refusal.WrongPassword}, "no name": {"", passphrase, refusal.WrongPassword},
	} {
		person, code := enter(c.name, c.password, "")
		assert.Equal(t, c.want, code, name)
		assert.Equal(t, c.want == "", person == id, name)
	}
	kept, err := o.Store.Credentials(ctx, id)
	require.NoError(t, err)
	assert.NotContains(t, kept.Password, passphrase)
	assert.Contains(t, acts(t, o, id), audit.SignInFailed)

	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		p.Former = true
		return tx.AddCompany(people.Records{Persons: []people.Person{p}})
	}))
	require.NoError(t, o.ReadCompany(ctx))
	_, code = enter("sarmento", passphrase, "")
	assert.Equal(t, refusal.WrongPassword, code, "who has left is not let in")
}

func TestSecondFactor(t *testing.T) {
	o := demotest.New(t)
	id := demo.ID("lindskaug")
	require.NoError(t, o.Entering.SetPassword(ctx, id, passphrase))
	enter := func(code string) string {
		_, err := o.Entering.Enter(ctx, "lindskaug", work.Proof{Password: passphrase, Code: code})
		return codeOf(t, err)
	}
	f, err := o.Entering.NewFactor(id)
	require.NoError(t, err)
	assert.Contains(t, f.URI, "otpauth://totp/Quillon%20Straits%20Ferries:lindskaug")
	shows := func(steps int) string {
		text, err := totp.GenerateCode(f.Secret, o.Clock.Now().Add(time.Duration(steps)*30*time.Second))
		require.NoError(t, err)
		return text
	}
	_, err = o.Entering.SetFactor(ctx, id, f.Secret, shows(5))
	assert.Equal(t, refusal.WrongCode, codeOf(t, err), "of another time")
	codes, err := o.Entering.SetFactor(ctx, id, f.Secret, shows(0))
	require.NoError(t, err)
	require.Len(t, codes, 10)
	assert.Equal(t, refusal.CodeNeeded, enter(""))
	assert.Equal(t, refusal.WrongCode, enter(shows(0)), "the one it was set with is used")
	assert.Equal(t, refusal.WrongCode, enter(shows(-1)), "and so are those before it")
	assert.Empty(t, enter(shows(1)), "a clock that is half a minute ahead")
	assert.Equal(t, refusal.WrongCode, enter(shows(1)), "once")
	o.Clock.Pass(time.Minute)
	assert.Equal(t, refusal.WrongCode, enter(shows(20)), "ten minutes off")
	assert.Empty(t, enter(shows(0)[:3]+" "+shows(0)[3:]), "with a space in the middle")
	assert.Empty(t, enter(strings.ToLower(codes[3])), "a recovery code")
	assert.Equal(t, refusal.WrongCode, enter(codes[3]), "opens once")

	// Of two who use the same code at once, one is let in.
	o.Clock.Pass(time.Minute)
	var in, out sync.WaitGroup
	var mu sync.Mutex
	good := 0
	in.Add(1)
	for range 4 {
		out.Go(func() {
			in.Wait()
			if enter(shows(0)) == "" {
				mu.Lock()
				defer mu.Unlock()
				good++
			}
		})
	}
	in.Done()
	out.Wait()
	assert.Equal(t, 1, good)

	fresh, err := o.Entering.NewCodes(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, refusal.WrongCode, enter(codes[0]), "those of before open nothing")
	assert.Empty(t, enter(fresh[0]))
	assert.ErrorIs(t, o.Entering.DropFactor(ctx, demo.ID("quist"), id), work.ErrNotFound)
	require.NoError(t, o.Entering.DropFactor(ctx, id, id))
	assert.Empty(t, enter(""))
	assert.Subset(t, acts(t, o, id), []audit.Act{audit.FactorSet, audit.CodesMade, audit.FactorRemoved})

	// A role that needs one.
	org := o.Organisation()
	org.FactorRoles = []string{people.Administrator}
	require.NoError(t, o.Keeping.Organise(ctx, id, org))
	missing, err := o.Entering.MissesFactor(ctx, id)
	require.NoError(t, err)
	assert.True(t, missing)
	f, err = o.Entering.NewFactor(id)
	require.NoError(t, err)
	_, err = o.Entering.SetFactor(ctx, id, f.Secret, shows(0))
	require.NoError(t, err)
	assert.Equal(t, refusal.FactorNeeded, codeOf(t, o.Entering.DropFactor(ctx, id, id)))
}

// The link of a forgotten password: mailed to whom it is for and nobody else, once, for
// an hour.
func TestForgotten(t *testing.T) {
	o := demotest.New(t)
	id := demo.ID("sarmento")
	require.NoError(t, o.Entering.SetPassword(ctx, id, passphrase))
	o.Clock.Pass(time.Minute)
	link := func() string {
		before := len(o.Mail.Letters())
		require.NoError(t, o.Entering.Forgot(ctx, "sarmento"))
		post(t, o)
		letters := o.Mail.Letters()
		require.Len(t, letters, before+1)
		for _, line := range strings.Split(letters[0].Text, "\n") {
			if token, ok := strings.CutPrefix(line, "http://heptad.example/new-password/"); ok {
				return token
			}
		}
		require.Fail(t, "no link", letters[0].Text)
		return ""
	}
	require.NoError(t, o.Entering.Forgot(ctx, "nobody"), "nobody is told who is there")
	post(t, o)
	token := link()
	assert.True(t, strings.HasPrefix(o.Mail.Letters()[0].To[0], "sarmento@"))
	listed, err := o.Messaging.Messages(ctx, id, false, work.Page{Limit: 50})
	require.NoError(t, err)
	for _, m := range listed {
		assert.NotEqual(t, "entry", string(m.Kind), "it stands in no list")
	}
	p, err := o.Entering.OpenPasswordLink(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, id, p.ID)
	_, err = o.Entering.OpenPasswordLink(ctx, token[:len(token)-2]+"xx")
	assert.Equal(t, refusal.StaleLink, codeOf(t, err), "altered")
	assert.Equal(t, refusal.ShortPassword, codeOf(t, o.Entering.PasswordByLink(ctx, token, "short")), "a slip costs nothing")
	o.Clock.Pass(time.Minute)
	require.NoError(t, o.Entering.PasswordByLink(ctx, token, "marsh and salt and wind"))
	assert.Equal(t, refusal.StaleLink, codeOf(t, o.Entering.PasswordByLink(ctx, token, "marsh and salt and rain")), "used")
	_, err = o.Entering.Enter(ctx, "sarmento", work.Proof{Password: "marsh and salt and wind"})
	require.NoError(t, err)

	o.Clock.Pass(time.Minute)
	old, other := link(), link()
	require.NoError(t, o.Entering.SetPassword(ctx, id, passphrase))
	o.Clock.Pass(time.Second)
	for _, token := range []string{old, other} {
		assert.Equal(t, refusal.StaleLink, codeOf(t, o.Entering.PasswordByLink(ctx, token, "marsh and salt and rain")), "from before the last change")
	}
	late := link()
	o.Clock.Pass(time.Hour)
	_, err = o.Entering.OpenPasswordLink(ctx, late)
	assert.Equal(t, refusal.StaleLink, codeOf(t, err), "expired")
	o.Ask("sarmento", "covered")
	post(t, o)
	_, err = o.Entering.OpenPasswordLink(ctx, tokens(lettersTo(o, "quist")[0])[0])
	assert.Equal(t, refusal.StaleLink, codeOf(t, err), "the link of a decision sets no password")
	_, err = o.Deciding.OpenLink(ctx, late)
	assert.ErrorIs(t, err, work.ErrNotFound, "and that for a password decides nothing")
	assert.Contains(t, acts(t, o, id), audit.LinkSent)
}

// Whoever moves in does so once; there is no second link while somebody administers.
func TestTheFirstAdministrator(t *testing.T) {
	kept, err := store.Open(ctx, t.TempDir())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, kept.Close()) })
	now := demotest.Start
	o, err := work.New(ctx, work.Settings{Store: kept, Clock: func() time.Time { return now }, Sealed: make([]byte, 32)})
	require.NoError(t, err)
	first, err := o.Entering.EntryLink(ctx)
	require.NoError(t, err)
	link, err := o.Entering.EntryLink(ctx)
	require.NoError(t, err)
	signe := work.Newcomer{Name: "Signe Halvorsen", Login: "signe", Email: "signe@halvorsenito.example", Password: passphrase}
	_, err = o.Entering.MoveIn(ctx, first, signe)
	assert.Equal(t, refusal.StaleLink, codeOf(t, err), "a later link takes its place")
	_, err = o.Entering.MoveIn(ctx, link, work.Newcomer{Name: "Signe", Login: "no login", Password: passphrase})
	assert.Equal(t, refusal.BadLogin, codeOf(t, err))
	now = now.Add(24 * time.Hour)
	_, err = o.Entering.MoveIn(ctx, link, signe)
	assert.Equal(t, refusal.StaleLink, codeOf(t, err), "a day later")
	link, err = o.Entering.EntryLink(ctx)
	require.NoError(t, err)
	var all sync.WaitGroup
	var mu sync.Mutex
	in := 0
	for range 3 {
		all.Go(func() {
			if _, err := o.Entering.MoveIn(ctx, link, signe); err == nil {
				mu.Lock()
				defer mu.Unlock()
				in++
			}
		})
	}
	all.Wait()
	assert.Equal(t, 1, in, "of several at once, one")
	person, err := o.Entering.Enter(ctx, "signe", work.Proof{Password: passphrase})
	require.NoError(t, err)
	assert.True(t, o.Administers(person))
	link, err = o.Entering.EntryLink(ctx)
	require.NoError(t, err)
	assert.Empty(t, link)
}

// What somebody chooses goes before what the directory says of them: rules and mails read
// it, and a sheet does not take it away.
func TestChosenLanguageAndZone(t *testing.T) {
	o := demotest.New(t)
	id := demo.ID("sarmento")
	for place, p := range map[string]work.Profile{"/language": {Language: "no such language"}, "/zone": {Zone: "Europe/Atlantis"}} {
		err := o.Entering.SetProfile(ctx, id, p)
		var r *request.Refusal
		require.ErrorAs(t, err, &r)
		assert.Equal(t, place, r.Place)
	}
	was := o.Company().ZoneOf(id).String()
	require.NoError(t, o.Entering.SetProfile(ctx, id, work.Profile{Language: "de", Zone: "Asia/Tokyo"}))
	does(t, o, intake.People, "login,name,language\nsarmento,Davi Sarmento,fr\n", false)
	p, _ := o.Company().Person(id)
	assert.Equal(t, []string{"fr", "de", "Asia/Tokyo"}, []string{p.Language, p.Speaks, o.Company().ZoneOf(id).String()})
	assert.Equal(t, rule.OfText("de"), rule.OfPerson(p, nil)["language"])
	require.NoError(t, o.Entering.SetProfile(ctx, id, work.Profile{}))
	p, _ = o.Company().Person(id)
	assert.Empty(t, p.Speaks)
	assert.Equal(t, was, o.Company().ZoneOf(id).String())
}
