package e2e

import (
	"bytes"
	"io/fs"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A company that runs is copied for trying. The copy says on every screen what it is; an
// administrator, and whom one makes a tester, act there as anybody; nothing leaves it, and
// nothing of it is taken for real.
func TestATrial(t *testing.T) {
	t.Parallel()
	c, g, h := settled(t, 60)
	ask := func(h *hand) string {
		var form struct{ Draft string }
		h.send("PUT", "/api/offerings/letter/draft", map[string]any{"answers": map[string]any{"language": "en"}}, &form)
		var sent struct{ Reference string }
		h.send("POST", "/api/requests/"+form.Draft+"/submit", map[string]any{"slip": "", "answers": map[string]any{"language": "en"}}, &sent)
		return sent.Reference
	}
	old := ask(h)
	c.givesPassword(g.Login(20), g.Person(20)[2], "ten thousand tomatoes")
	open := c.linkFor(g.Login(21), g.Person(21)[2])

	dir := filepath.Join(t.TempDir(), "trial")
	out, err := exec.Command(program, "copy", "--data", c.dir, "--trial", dir).CombinedOutput()
	require.NoError(t, err, string(out))
	out, err = exec.Command(program, "copy", "--data", c.dir, "--trial", dir).CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "is not empty: nothing was touched")
	for _, wrong := range [][]string{{"serve", "--addr", "127.0.0.1:0", "--data", dir}, {"serve", "--addr", "127.0.0.1:0", "--trial", "--data", t.TempDir()}} {
		out, err = exec.Command(program, wrong...).CombinedOutput()
		require.Error(t, err)
		assert.Contains(t, string(out), "for trying")
	}
	require.NoError(t, filepath.WalkDir(dir, func(path string, e fs.DirEntry, err error) error {
		if strings.HasSuffix(path, ".secret") {
			own, _ := os.ReadFile(path)
			others, _ := os.ReadFile(filepath.Join(c.dir, e.Name()))
			assert.False(t, bytes.Equal(own, others), "it has keys of its own: links of the other are void")
		}
		return err
	}))

	trial := &company{server: &server{t: t, dir: dir}, mail: c.mail, smtp: c.smtp, flags: []string{"--trial"}}
	trial.serve("127.0.0.1:0")
	t.Cleanup(func() { _ = trial.stop(syscall.SIGTERM) })
	letters := len(c.mail.Letters())
	response, err := http.Post(trial.url+"/api"+open, "application/json", strings.NewReader(`{"new":"twenty thousand tomatoes"}`))
	require.NoError(t, err)
	assert.Equal(t, http.StatusConflict, response.StatusCode, body(t, response))

	b := trial.openBrowser()
	b.open("/")
	b.see("A trial.") // who has not signed in sees it, too
	b.enters("signe", passphrase)
	b.there(`[data-desk=manage]`)
	b.accessible("a trial")
	b.open("/manage/roles")
	b.set(`[data-field=role]`, "tester")
	b.write(`#whom`, g.Name(20))
	b.press(`[role=option]`)
	b.press(`[data-do=give]:not(:disabled)`)
	b.there(`[data-role=tester]`)

	tester := trial.openBrowser()
	tester.enters(g.Login(20), "ten thousand tomatoes")
	tester.there(`[data-trial]`)
	tester.write(`[data-field=act-as]`, g.Name(30))
	tester.press(`[role=option]`)
	tester.there(`[data-acting="` + g.Name(30) + `"]`)
	tester.open("/ask/letter")
	tester.press(`[data-question=language] input`)
	tester.click("Send")
	reference := tester.text(`[data-reference]`)
	assert.True(t, strings.HasPrefix(reference, "T-HG-"), reference)
	tester.open("/follow")
	tester.see("Letter")
	tester.press(`[data-do=be-oneself]`)
	tester.until("they are themselves again", `!document.querySelector('[data-acting]')`)
	tester.open("/trial")
	tester.there(`[data-mail]`)
	assert.Len(t, c.mail.Letters(), letters, "nothing has left it")

	other := trial.openBrowser()
	other.enters("signe", passphrase)
	other.there(`[data-desk=manage]`)
	other.open("/manage/audit")
	other.see("acts as them, in a trial")
	other.write(`#act-as`, g.Name(31))
	other.press(`[role=option]`)
	other.there(`[data-acting]`)
	other.open("/manage/audit")
	other.see("not yours to see") // as somebody else one has only what they have

	plain := c.hand() // of the real one
	plain.url = trial.url
	plain.send("POST", "/api/session/password", map[string]string{"name": g.Login(20), "password": "ten thousand tomatoes"}, nil)
	plain.send("POST", "/api/session/as", map[string]string{"login": g.Login(22)}, nil)
	var session struct {
		Trial struct {
			Tests  bool
			Tester string
		}
	}
	plain.send("GET", "/api/session", nil, &session)
	assert.True(t, session.Trial.Tests)
	assert.Equal(t, g.Name(20), session.Trial.Tester)
	require.NoError(t, trial.stop(syscall.SIGTERM))
	live := c.hand()
	live.send("POST", "/api/session/password", map[string]string{"name": "signe", "password": passphrase}, nil)
	assert.NotEqual(t, old, ask(live))
	assert.Contains(t, body(t, c.get("/api/session")), `"example":"HG-`)
	refused, err := live.Post(c.url+"/api/session/as", "application/json", strings.NewReader(`{"login":"`+g.Login(22)+`"}`))
	require.NoError(t, err)
	assert.Equal(t, http.StatusNotFound, refused.StatusCode, body(t, refused))
}
