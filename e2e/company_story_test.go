package e2e

import (
	"compress/gzip"
	"io"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/intake"
	"heptad/internal/demo/demotest"
	"heptad/internal/simulate/provider"
)

func pause() { time.Sleep(50 * time.Millisecond) }

// People sign in: at the sign-in service of the company, or by password with a second
// factor, which is forgotten, found again, and guessed at.
func TestSigningIn(t *testing.T) {
	g := demotest.Greenhouses{Size: 60}
	there, err := provider.New(provider.Client{ID: "heptad", Secret: "secret"}, []provider.Account{
		{Subject: "1", Login: g.Login(5), Name: g.Name(5), Email: g.Person(5)[2], Verified: true, Groups: []string{"checkers"}},
		{Subject: "2", Login: "passer.by", Name: "Passer By", Email: "passer.by@elsewhere.example", Verified: true},
	})
	require.NoError(t, err)
	at := httptest.NewServer(there.Handler())
	t.Cleanup(at.Close)
	c, g, _ := settled(t, 60, "--oidc-issuer", at.URL, "--oidc-client-id", "heptad", "--oidc-client-secret", "secret", "--oidc-roles", "checkers=auditor")
	b := c.openBrowser()
	b.open("/")
	b.click("Sign in with the company account")
	b.click("Passer By")
	b.see("Nobody here has the mail address passer.by@elsewhere.example.")
	b.click("Sign in with the company account")
	b.click(g.Name(5))
	b.there(`[data-desk=manage]`) // the group has made an auditor of her
	b.open("/manage")
	b.see("was tied to an account of the sign-in service")
	assert.False(t, b.has(`a[href="/manage/company/people"]`), "an auditor manages nothing")

	mio := c.openBrowser()
	login, address := g.Login(20), g.Person(20)[2]
	mio.open("/")
	mio.write(`[data-field=name]`, login)
	mio.press(`[data-do=forgot]`)
	mio.press(`[data-do=send-link]`)
	mio.see("a link is on its way")
	mio.open(c.linkFor(login, address))
	mio.write(`[data-field=new]`, "ten thousand tomatoes")
	mio.press(`[data-do=keep]`)
	mio.see("It is set")
	mio.reload()
	mio.see("This link was used")
	mio.enters(login, "ten thousand tomatoes")
	mio.there(`[data-desk=ask]`)
	mio.open("/me")
	mio.press(`[data-do=begin-factor]`)
	secret := mio.text(`[data-secret]`)
	used := code(t, secret, 0)
	mio.write(`[data-field=factor-code]`, used)
	mio.press(`[data-do=set-factor]`)
	mio.there(`[data-codes]`)
	mio.menu("person", "Sign out")
	mio.there(`[data-do=enter]`)
	mio.enters(login, "ten thousand tomatoes")
	mio.write(`[data-field=code]`, used)
	mio.press(`[data-do=enter]`)
	mio.see("This code does not fit, or was used")
	mio.write(`[data-field=code]`, code(t, secret, 1))
	mio.press(`[data-do=enter]`)
	mio.there(`[data-desk=ask]`)

	guesser := c.openBrowser()
	guesser.open("/")
	guesser.write(`[data-field=name]`, login)
	guesser.write(`[data-field=password]`, "wrong")
	for range 12 {
		guesser.until("it can be pressed", `!document.querySelector('[data-do=enter]').disabled`)
		guesser.press(`[data-do=enter]`)
	}
	guesser.see("That was wrong too often for this name.")
	mio.reload()
	mio.there(`[data-desk=ask]`) // who is in stays in
}

// A sheet comes again; half the company is missing from it, and waits for a yes. The
// auditor finds who did what, and verifies it.
func TestASheetAgainAndTheAuditor(t *testing.T) {
	c, g, h := settled(t, 400)
	login, address := g.Login(30), g.Person(30)[2]
	c.givesPassword(login, address, "ten thousand tomatoes")
	var people struct{ Entries []struct{ ID string } }
	h.send("GET", "/api/people?words="+strings.ReplaceAll(g.Name(30), " ", "+"), nil, &people)
	h.send("POST", "/api/roles", map[string]string{"person": people.Entries[0].ID, "role": "auditor"}, nil)
	h.send("PUT", "/api/connectors/badges", map[string]any{"url": "http://127.0.0.1:1", "secret": "a-secret-of-badges", "atOnce": 2}, nil)
	h.send("PUT", "/api/grants", map[string]any{"service": "premises", "connector": "badges", "action": "change"}, nil)

	signe := c.openBrowser()
	signe.enters("signe", passphrase)
	signe.there(`[data-desk=manage]`)
	half := g.People()[:200]
	for _, i := range []int{101, 102, 103} {
		half[i][4] = "Seeds"
	}
	signe.read("people", "half.csv", demotest.CSV(intake.People, half))
	signe.see("3 changed")
	signe.press(`[data-field=gone]`)
	signe.press(`[data-do=do-sheet]`)
	signe.see("200 people wait for a yes before they become inactive.")
	other := c.openBrowser()
	other.enters(login, "ten thousand tomatoes")
	other.there(`[data-desk=manage]`)
	signe.open("/manage/company/people")
	signe.there(`[data-leaving="200"]`)
	signe.press(`[data-do=keep-active]`)
	signe.gone("are to become inactive")
	assert.Equal(t, "400", signe.text(`[data-total]`))

	// One is made inactive by hand, whose session ends, and what she has is taken back.
	signe.open("/manage/company/belongings")
	signe.file(`input[data-field=sheet]`, "things.csv", string(demotest.CSV(intake.Belongings, [][]string{{"B-1", login, "badge", "Glasshouse badge", "gates 1 and 2", ""}})))
	signe.press(`[data-do=do-sheet]`)
	signe.see("1 new")
	signe.open("/manage/company/people?words=" + login)
	signe.click(g.Name(30))
	signe.set(`[data-field=active]`, "no")
	signe.press(`[data-do=save]`)
	signe.see("Saved.")
	other.open("/ask")
	other.see("You are not signed in, or not any more.")
	signe.open("/manage/company/people?words=" + login)
	signe.click(g.Name(30))
	signe.see("made a person inactive")
	signe.see("had what somebody has taken back")
	told := c.letter(g.Person((30 - 1) / 12)[2], g.Name(30)+" has left and still has Glasshouse badge")
	assert.Contains(t, told.Text, "Leaving colleague was sent in your name: HG-")
	signe.set(`[data-field=active]`, "yes")
	signe.press(`[data-do=save]`)
	signe.see("Saved.")

	other.enters(login, "ten thousand tomatoes")
	other.there(`[data-desk=manage]`)
	other.open("/manage/audit")
	for act, want := range map[string]string{"connectorSet": "changed how a system is reached: Badge system", "grantGiven": "let a service use an action: Premises", "published": "published an offering: Letter", "roleGiven": "gave a role: " + g.Name(30)} {
		other.set(`[data-field=act]`, act)
		other.there(`[data-act=` + act + `]`)
		other.until("only those", `[...document.querySelectorAll('[data-act]')].every((l) => l.dataset.act === %q)`, act)
		assert.Contains(t, strings.ToLower(strings.Join(strings.Fields(other.text(`[data-act]`)), " ")), strings.ToLower(want))
	}
	assert.False(t, other.is(`document.body.innerText.includes('a-secret-of-badges')`))
	other.press(`[data-do=verify]`)
	other.there(`[data-verified=yes]`)
	other.open("/find?words=letter")
	other.there(`main`)
	assert.False(t, other.is(`document.body.innerText.includes('HG-10401')`), "an auditor sees no request")
}

// A backup is made while requests come in; the machine is lost; elsewhere it is restored,
// and nothing goes out before somebody says yes.
func TestTheMachineIsLost(t *testing.T) {
	c, g, h := settled(t, 60)
	ask := func() (reference string) {
		var form struct{ Draft string }
		h.send("PUT", "/api/offerings/letter/draft", map[string]any{"answers": map[string]any{"language": "en"}}, &form)
		var sent struct{ Reference string }
		h.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"slip": "", "answers": map[string]any{"language": "en"}}, &sent)
		return sent.Reference
	}
	first := ask()
	stop, ended := make(chan struct{}), make(chan int)
	go func() {
		n := 0
		for {
			select {
			case <-stop:
				ended <- n
				return
			default:
				ask()
				n++
			}
		}
	}()
	file := filepath.Join(t.TempDir(), "company.heptad")
	time.Sleep(300 * time.Millisecond)
	out, err := exec.Command(program, "backup", "--data", c.dir, file).CombinedOutput()
	require.NoError(t, err, string(out))
	close(stop)
	assert.Greater(t, <-ended, 3, "requests came in meanwhile")
	keys := t.TempDir()
	for _, name := range []string{"links.secret", "connectors.secret"} {
		data, err := os.ReadFile(filepath.Join(c.dir, name))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(keys, name), data, 0o600))
	}
	require.Error(t, c.stop(syscall.SIGKILL))
	require.NoError(t, os.RemoveAll(c.dir))

	c.dir = filepath.Join(t.TempDir(), "elsewhere")
	out, err = exec.Command(program, "restore", file, "--data", c.dir, "--keys", keys).CombinedOutput()
	require.NoError(t, err, string(out))
	assert.Contains(t, string(out), "references go on higher")
	out, err = exec.Command(program, "doctor", "--data", c.dir).CombinedOutput()
	require.NoError(t, err, string(out))
	assert.NotContains(t, string(out), "\nbad")
	before := len(c.mail.Letters())
	c.serve("127.0.0.1:0", "--keys", keys)
	h = c.hand()
	h.send("POST", "/api/session/password", map[string]string{"name": "signe", "password": passphrase}, nil)
	b := c.openBrowser()
	b.enters("signe", passphrase)
	b.there(`[data-desk=manage]`)
	b.open("/manage/backups")
	b.there(`[data-held]`)
	next := ask()
	assert.Greater(t, next, strings.Replace(first, "HG-1", "HG-2", 1)[:5], "references go on higher")
	var people struct{ Entries []struct{ ID string } }
	h.send("GET", "/api/people?words="+strings.ReplaceAll(g.Name(30), " ", "+"), nil, &people)
	h.send("POST", "/api/roles", map[string]string{"person": people.Entries[0].ID, "role": "analyst"}, nil)
	c.hand().send("POST", "/api/forgotten", map[string]string{"name": "signe"}, nil)
	c.letter("signe@", "Your link for a new password") // who has to say yes may have forgotten theirs
	time.Sleep(300 * time.Millisecond)
	assert.Len(t, c.mail.Letters(), before+1, "nothing else goes out")
	b.reload()
	b.see(g.Name(30))
	b.press(`[data-do=let-go]`)
	b.gone("Nothing goes out")
	c.letter(g.Person(30)[2], "what you answer for")
	out, err = exec.Command(program, "audit", "verify", "--data", c.dir).CombinedOutput()
	require.NoError(t, err, string(out))
	assert.Contains(t, string(out), "rows are as they were written")
}

// The owner of a service makes another under a new area, with a second editor; publishing
// needs the other's yes, to one revision.
func TestASecondEditor(t *testing.T) {
	c, g, _ := settled(t, 60)
	logins := []int{5, 21} // the owner of People matters, and somebody of the team
	browsers := make([]*browser, len(logins))
	for i, n := range logins {
		c.givesPassword(g.Login(n), g.Person(n)[2], "ten thousand tomatoes")
		browsers[i] = c.openBrowser()
		browsers[i].enters(g.Login(n), "ten thousand tomatoes")
		browsers[i].there(`[data-desk=ask]`)
	}
	owner, editor := browsers[0], browsers[1]
	owner.open("/design")
	owner.press(`[data-do=new-service]`)
	owner.write(`[data-field=service-name]`, "Learning")
	owner.write(`[data-field=area]`, "School")
	owner.set(`[data-field=home]`, "people-care")
	owner.write(`[data-field=words]`, "course, training")
	owner.pick(`#editor`, g.Name(21))
	owner.there(`[data-editor]`)
	owner.press(`[data-field=second]`)
	owner.press(`[data-do=save-service]`)
	owner.there(`[data-service=learning]`)
	owner.see("Publishing needs two of you.")

	editor.open("/design")
	editor.write(`[data-field=new-offering]`, "Course")
	editor.set(`[data-field=service]`, "learning")
	editor.set(`[data-field=beginning]`, "starter:training")
	editor.click("Begin")
	editor.there(`[data-do=publish]`)
	ask := func() {
		editor.press(`[data-do=publish]`)
		editor.press(`[data-do=publish-now]`)
		editor.there(`[data-asked=mine]`)
	}
	ask()
	owner.open("/design/course/purpose")
	owner.there(`[data-asked=theirs]`)
	editor.write(`[data-field=name]`, "Course or seminar")
	editor.gone("It waits for the yes of another of you")
	editor.until("it is saved", `document.querySelector('[data-saved=true]')`)
	owner.press(`[data-do=second-yes]`)
	owner.see("it has to be asked for anew")
	ask()
	owner.reload()
	owner.press(`[data-do=second-yes]`)
	owner.there(`[data-published]`)
	owner.open("/ask/course")
	owner.see("Course or seminar")
}

// Killed while a sheet is being done and requests come in, the company is as it was before
// or as it is after, and no request that was answered is lost.
func TestKilledWhileServing(t *testing.T) {
	c, _, h := settled(t, 60)
	more := demotest.Greenhouses{Size: 1500}
	count := func() int {
		var out struct{ Total int }
		h.send("GET", "/api/company/people?limit=1", nil, &out)
		return out.Total
	}
	before := count()
	done := false
	for n := 0; n < 6 && !done; n++ {
		var sheet struct{ Key string }
		h.send("POST", "/api/sheets?kind=people&name=more.csv", demotest.CSV(intake.People, more.People()), &sheet)
		var form struct{ Draft string }
		h.send("PUT", "/api/offerings/letter/draft", map[string]any{"answers": map[string]any{"language": "en"}}, &form)
		var sent struct{ ID string }
		h.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"slip": "", "answers": map[string]any{"language": "en"}}, &sent)
		answered := make(chan bool)
		go func() {
			r, err := h.Post(c.url+"/api/sheets/"+sheet.Key, "application/json", strings.NewReader("{}"))
			answered <- err == nil && r.StatusCode == 200
		}()
		time.Sleep(time.Duration(n*60) * time.Millisecond)
		require.Error(t, c.stop(syscall.SIGKILL))
		kept := <-answered
		out, code := command(t, "doctor", "--data", c.dir)
		assert.Zero(t, code, out)
		c.serve("127.0.0.1:0")
		h = c.hand()
		h.send("POST", "/api/session/password", map[string]string{"name": "signe", "password": passphrase}, nil)
		after := count()
		assert.Contains(t, []int{before, more.Size}, after, "all of the sheet, or nothing of it")
		if kept {
			assert.Equal(t, more.Size, after, "what was answered is kept")
		}
		done = after == more.Size
		h.send("GET", "/api/requests/"+sent.ID, nil, nil)
	}
}

// A folder of an earlier program is brought up to date, and kept as it was beside it.
func TestAFolderOfBeforeIsServed(t *testing.T) {
	packed, err := os.Open("../internal/work/testdata/before.db.gz")
	require.NoError(t, err)
	defer packed.Close()
	plain, err := gzip.NewReader(packed)
	require.NoError(t, err)
	data, err := io.ReadAll(plain)
	require.NoError(t, err)
	dir := filepath.Join(t.TempDir(), "data")
	require.NoError(t, os.Mkdir(dir, 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "heptad.db"), data, 0o600))
	out, code := command(t, "serve", "--addr", "127.0.0.1:0", "--data", dir)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "links.secret is missing", "without its keys nothing is touched")
	for _, name := range []string{"links.secret", "connectors.secret"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), make([]byte, 32), 0o600))
	}
	c := &company{server: &server{t: t, dir: dir}}
	c.smtp = "127.0.0.1:1"
	c.serve("127.0.0.1:0")
	out, code = command(t, "serve", "--addr", "127.0.0.1:0", "--data", dir)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "is in use by another Heptad")
	require.NoError(t, c.stop(syscall.SIGTERM))
	kept, err := filepath.Glob(dir + "-before-*.heptad")
	require.NoError(t, err)
	require.NotEmpty(t, kept)
	back := filepath.Join(t.TempDir(), "back")
	out, code = command(t, "restore", kept[0], "--data", back)
	assert.Zero(t, code, out)
	out, _ = command(t, "doctor", "--data", dir)
	assert.Contains(t, out, "good   chains", "what was there before has its links")
}
