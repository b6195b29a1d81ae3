package web_test

import (
	"encoding/json"
	"html"
	"io"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var broughtAlong = regexp.MustCompile(`<script type="application/json" data-sveltekit-fetched data-url="([^"]*)">(.*)</script>`)

// brought are the bodies that a page brings along, by their addresses.
func brought(t *testing.T, page string) map[string]string {
	t.Helper()
	all := map[string]string{}
	for _, found := range broughtAlong.FindAllStringSubmatch(page, -1) {
		var answer struct {
			Status int
			Body   string
		}
		require.NoError(t, json.Unmarshal([]byte(found[2]), &answer))
		assert.Equal(t, 200, answer.Status)
		all[html.UnescapeString(found[1])] = answer.Body
	}
	return all
}

// A desk brings along what its page asks first, as the reader would be answered, and leads
// to the first of its list.
func TestADeskBringsItsAnswersAlong(t *testing.T) {
	s := serve(t)
	page := func(c *client, path string) (at string, answers map[string]string, response *http.Response) {
		r, err := http.NewRequest("GET", s.URL+path, nil)
		require.NoError(t, err)
		response, err = c.Do(r)
		require.NoError(t, err)
		defer response.Body.Close()
		data, err := io.ReadAll(response.Body)
		require.NoError(t, err)
		text := string(data)
		before, after, _ := strings.Cut(start, "<body>")
		assert.True(t, strings.HasPrefix(text, before+"<body>") && strings.HasSuffix(text, after), "it is the page")
		return response.Request.URL.Path, brought(t, text), response
	}
	asker, manager, stranger := s.as("sarmento"), s.as("quist"), s.as("yilmazer")

	at, answers, response := page(stranger, "/follow")
	assert.Equal(t, "/follow", at, "there is nothing to be led to")
	assert.Equal(t, "no-store", response.Header.Get("Cache-Control"))
	assert.Contains(t, answers["/api/requests?limit=50"], `"entries":[]`)
	assert.Contains(t, answers["/api/session"], "Defne Yilmazer")

	s.Ask("sarmento", "covered")
	at, answers, _ = page(asker, "/follow")
	id := strings.TrimPrefix(at, "/follow/")
	assert.Contains(t, answers["/api/requests/"+id], `"yours":true`, "what waits for the reader goes before what was sent last")
	for path, body := range answers {
		_, want := asker.send("GET", path, "")
		assert.True(t, want == body, path)
	}
	for _, path := range []string{"/api/session", "/api/requests?limit=50", "/api/parts", "/api/requests/" + id, "/api/requests/" + id + "/ties", "/api/secrets"} {
		assert.NotEmpty(t, answers[path], path)
	}
	at, answers, _ = page(manager, "/decide")
	assert.Regexp(t, "^/decide/[^/]+/manager$", at)
	assert.NotEmpty(t, answers["/api/decisions/"+strings.TrimPrefix(at, "/decide/")])

	_, answers, _ = page(stranger, "/follow/"+id)
	assert.Empty(t, answers["/api/requests/"+id], "what one may not see does not come along")
	assert.Empty(t, answers["/api/requests/"+id+"/ties"])
	for _, path := range []string{"/follow?words=x", "/ask", "/manage"} {
		_, answers, response = page(asker, path)
		assert.Empty(t, answers, path)
		assert.Equal(t, "no-cache", response.Header.Get("Cache-Control"))
	}
	_, answers, _ = page(s.as(""), "/follow/"+id)
	assert.Empty(t, answers)
	forged := s.as("")
	at, answers, _ = page(forged, "/follow/%3Cscript%3E/x/y")
	assert.Equal(t, "/follow/<script>/x/y", at)
	assert.Empty(t, answers)
}
