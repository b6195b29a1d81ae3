package e2e

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Somebody chooses a zone, and all times are in it; an administrator signs them out, and
// makes one of two records that are one person.
func TestOnesOwnAndOthersAccounts(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	davi := s.openBrowser()
	davi.signIn("Davi Sarmento")
	davi.open("/me")
	davi.set(`[data-field=zone]`, "Asia/Tokyo")
	davi.set(`[data-field=language]`, "de")
	davi.press(`[data-do=save-profile]`)
	tokyo, err := time.LoadLocation("Asia/Tokyo")
	require.NoError(t, err)
	var clocks []string
	for back := range 3 {
		clocks = append(clocks, time.Now().In(tokyo).Add(-time.Duration(back)*time.Minute).Format("15:04"))
	}
	davi.until("times are those of Tokyo", `%q.split(' ').some((c) => document.querySelector('[data-session=this]')?.innerText.includes(c))`, strings.Join(clocks, " "))
	davi.until("the language is kept", `document.querySelector('[data-field=language]')?.value === 'de'`)

	tove := s.openBrowser()
	tove.signIn("Tove Lindskaug")
	tove.open("/manage/company/people?words=sarmento")
	tove.click("Davi Sarmento")
	tove.press(`[data-signed-in] summary`)
	tove.press(`[data-do=end-all]`)
	tove.see("They are signed in nowhere.")
	davi.open("/follow")
	davi.see("You are not signed in, or not any more.")

	tove.open("/manage/company/people?words=quist")
	tove.click("Ragnhild Quist")
	tove.press(`[data-double] summary`)
	tove.pick(`#double`, "Sunniva Abelsen")
	tove.see("Sunniva Abelsen (")
	tove.see("one belonging")
	tove.press(`[data-do=merge]`)
	tove.see("Ragnhild Quist and Sunniva Abelsen are one.")
	tove.open("/manage/company/people?words=quist")
	tove.click("Ragnhild Quist")
	tove.see("brought two records of a person together")

	// What administrators set of leaving and of deciding stays after a reload.
	tove.open("/manage/organisation")
	tove.there(`[data-field=last-day]`)
	tove.set(`[data-field=sign-off]`, "")
	tove.press(`[data-do=save]`)
	tove.see("Saved.")
	tove.open("/manage/sign-in")
	tove.press(`[data-field=by-mail]`)
	tove.press(`[data-do=save]`)
	tove.see("Saved.")
	tove.open("/manage/organisation")
	tove.until("it is kept", `document.querySelector('[data-field=sign-off]')?.value === ''`)
	tove.open("/manage/sign-in")
	tove.there(`[data-field=by-mail]`)
	assert.False(t, tove.is(`document.querySelector('[data-field=by-mail]').checked`))
}

// A company that is served makes its backups by itself, and says so.
func TestBackupsByThemselves(t *testing.T) {
	t.Parallel()
	dir := filepath.Join(t.TempDir(), "kept")
	c, _, _ := settled(t, 60, "--backup-dir", dir, "--backup-at", "02:30", "--backup-keep", "3")
	b := c.openBrowser()
	b.enters("signe", passphrase)
	b.there(`[data-desk=manage]`)
	b.open("/manage/backups")
	b.there(`[data-backups=good]`)
	b.see("the last 3 are kept")
	made, err := filepath.Glob(filepath.Join(dir, "heptad-*.heptad"))
	require.NoError(t, err)
	require.Len(t, made, 1)
	out, code := command(t, "doctor", "--data", c.dir, "--backup-dir", dir)
	assert.Zero(t, code, out)
	assert.Contains(t, out, "A backup of the last day is there.")
	out, code = command(t, "doctor", "--data", c.dir, "--backup-dir", t.TempDir())
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "no backup is in")
	out, code = command(t, "doctor", "--data", c.dir, "--mail-addr", "127.0.0.1:1", "--mail-from", "heptad@halvorsenito.example")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "the mail server does not let Heptad in")
	out, code = command(t, "config", "--backup-dir", filepath.Join(c.dir, "kept"), "--data", c.dir)
	assert.NotZero(t, code)
	assert.Contains(t, out, "would be lost with it")
	out, code = command(t, "config", "--backup-dir", dir, "--backup-at", "half past two")
	assert.NotZero(t, code)
	assert.Contains(t, out, "is no time of the day")
}

// What came with the program is told from what is one's own: texts, and an offering that
// began as one of the starter set.
func TestSuppliedAndOwn(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	tove := s.openBrowser()
	tove.signIn("Tove Lindskaug")
	tove.open("/design/texts")
	tove.see("as supplied")
	tove.script(`document.querySelector('[data-text=delivered]').closest('details').open = true`)
	tove.write(`[data-text=delivered] input`, "Done: {{ request.title }}")
	tove.script(`document.querySelector('[data-text=delivered]').closest('details').querySelector('.btn.do').click()`)
	tove.there(`[data-supplied=delivered]`)
	tove.reload()
	tove.there(`[data-supplied=delivered]`)
	tove.see("own words")

	owner := s.openBrowser()
	owner.signIn("Henrike Falkenau")
	owner.open("/design")
	owner.write(`[data-field=new-offering]`, "Letter about a place")
	owner.set(`[data-field=service]`, "parking")
	owner.set(`[data-field=beginning]`, "starter:letter")
	owner.click("Begin")
	owner.there(`[data-origin=supplied]`)
	owner.write(`[data-field=text]`, "Says in writing which place is yours.")
	owner.there(`[data-origin=changed]`)
	owner.open("/design")
	owner.there(`[data-origin=changed]`)
}
