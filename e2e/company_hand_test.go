package e2e

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/intake"
	"heptad/internal/demo/demotest"
)

// hand does what a page does, without one: for what a test begins with.
type hand struct {
	*http.Client
	t   *testing.T
	url string
}

func (c *company) hand() *hand {
	jar, err := cookiejar.New(nil)
	require.NoError(c.t, err)
	return &hand{&http.Client{Jar: jar}, c.t, c.url}
}

// send makes a call that goes well, and reads its answer.
func (h *hand) send(method, path string, body any, into any) {
	h.t.Helper()
	text, raw := "", false
	if b, ok := body.([]byte); ok {
		text, raw = string(b), true
	} else if body != nil {
		data, err := json.Marshal(body)
		require.NoError(h.t, err)
		text = string(data)
	}
	r, err := http.NewRequest(method, h.url+path, strings.NewReader(text))
	require.NoError(h.t, err)
	if text != "" && !raw {
		r.Header.Set("Content-Type", "application/json")
	}
	answer, err := h.Do(r)
	require.NoError(h.t, err)
	defer answer.Body.Close()
	data, err := io.ReadAll(answer.Body)
	require.NoError(h.t, err)
	require.Equal(h.t, http.StatusOK, answer.StatusCode, "%s %s: %s", method, path, data)
	if into != nil {
		require.NoError(h.t, json.Unmarshal(data, into))
	}
}

// reads sends a sheet and does it.
func (h *hand) reads(kind intake.Kind, file []byte) {
	h.t.Helper()
	var sheet struct{ Key string }
	h.send("POST", "/api/sheets?kind="+string(kind)+"&name="+string(kind)+".csv", file, &sheet)
	h.send("POST", "/api/sheets/"+sheet.Key, map[string]any{}, nil)
}

const passphrase = "glass over green leaves"

// settled moves a company of so many people in, whose administrator is Signe Halvorsen,
// and offers a letter; her hand is left.
func settled(t *testing.T, size int, flags ...string) (*company, demotest.Greenhouses, *hand) {
	t.Helper()
	c, g := newCompany(t, flags...), demotest.Greenhouses{Size: size}
	h := c.hand()
	h.send("POST", strings.Replace(strings.TrimPrefix(c.entry, c.url), "/move-in/", "/api/entry/", 1), map[string]string{"name": "Signe Halvorsen", "login": "signe", "email": g.Person(0)[2], "new": passphrase}, nil)
	h.send("PUT", "/api/calendars/home?year=2026", map[string]any{"format": "heptad/calendar/1", "name": "Home", "zone": "Europe/Copenhagen", "week": map[string][]string{"mon": {"00:00-24:00"}, "tue": {"00:00-24:00"}, "wed": {"00:00-24:00"}, "thu": {"00:00-24:00"}, "fri": {"00:00-24:00"}, "sat": {"00:00-24:00"}, "sun": {"00:00-24:00"}}, "exceptions": []any{}}, nil)
	h.send("PUT", "/api/organisation", map[string]any{"name": "Halvorsen-Ito Greenhouses", "prefix": "HG", "currency": "DKK", "period": "once", "calendar": "home", "zone": "", "tax": map[string]string{"name": "Moms", "percent": "25"}, "accent": "#2f6b3a"}, nil)
	h.reads(intake.Locations, demotest.CSV(intake.Locations, g.Locations()))
	h.reads(intake.People, demotest.CSV(intake.People, g.People()))
	h.reads(intake.CostCentres, demotest.CSV(intake.CostCentres, g.CostCentres()))
	h.reads(intake.Teams, demotest.CSV(intake.Teams, g.Teams()))
	h.reads(intake.Services, demotest.CSV(intake.Services, g.Services()))
	for _, starter := range []string{"leaving-colleague", "letter"} {
		h.send("POST", "/api/moving-in/offerings", map[string]any{"starter": starter, "service": "people"}, nil)
	}
	h.send("POST", "/api/moving-in/end", nil, nil)
	return c, g, h
}

// linkFor has a link for a new password sent to somebody, and gives its path.
func (c *company) linkFor(login, address string) string {
	c.t.Helper()
	before := len(c.mail.Letters())
	c.hand().send("POST", "/api/forgotten", map[string]string{"name": login}, nil)
	for range 600 {
		if len(c.mail.Letters()) > before {
			for _, line := range strings.Fields(c.letter(address, "Your link for a new password").Text) {
				if u, err := url.Parse(line); err == nil && strings.HasPrefix(u.Path, "/new-password/") {
					return u.Path
				}
			}
		}
		pause()
	}
	require.Fail(c.t, "no link for "+login)
	return ""
}

// givesPassword has somebody set a password by a mailed link.
func (c *company) givesPassword(login, address, text string) {
	c.t.Helper()
	c.hand().send("POST", "/api"+c.linkFor(login, address), map[string]string{"new": text}, nil)
}

// enters signs somebody in by password, in a browser.
func (b *browser) enters(login, text string) {
	b.t.Helper()
	b.open("/")
	b.write(`[data-field=name]`, login)
	b.write(`[data-field=password]`, text)
	b.press(`[data-do=enter]`)
}
