package web_test

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"net/http"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/go-chi/chi/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/work"
)

var update = flag.Bool("update", false, "write testdata/fields.json anew; look at what has changed")

// roles on the request of the matrix: Davi Sarmento asks; Ines Castelo follows;
// Ragnhild Quist sits on the first rung, which names one answer, Nkechi Brandão
// on the second, which names another; Keys & Badges (Ysolde Marrec) and Premises
// Crew (Jorge Coutinho) have a task each; Sunniva Abelsen leads the home team and
// Henrike Falkenau owns the service. Defne Yilmazer and the administrator have no
// part in it.
var roles = map[string]string{
	"asker": "sarmento", "follower": "castelo", "first rung": "quist", "second rung": "brandao", "keys": "marrec", "premises": "coutinho",
	"home lead": "abelsen", "owner": "falkenau", "outsider": "yilmazer", "administrator": "lindskaug",
}

// rich sends a request that has one of everything that not all may see.
func rich(t *testing.T, s *site) (id string, files map[string]string) {
	t.Helper()
	ctx, owner := context.Background(), demo.ID("falkenau")
	opened, err := s.Designing.Create(ctx, owner, work.Beginning{Service: "parking", Name: "Everything"})
	require.NoError(t, err)
	d := opened.Document
	d.Purpose.Text = "One of everything."
	d.Audience.Everyone = nil // as in a document of before
	text := func(key string, r form.Readers) form.Question {
		return form.Question{Key: key, Kind: form.Text, Label: "Question " + key, Readers: r}
	}
	d.Questions = []form.Question{
		text("forAll", form.Everybody), text("forFirst", form.Everybody), text("forSecond", form.Everybody), text("forKeys", form.Everybody), text("forPremises", form.Everybody), text("cause", form.Private),
		{Key: "class", Kind: form.Computed, Gives: form.Text, Label: "Question class", Compute: `"for-staff-only"`, Readers: form.ForStaff},
		{Key: "photo", Kind: form.File, Label: "Photo"},
	}
	person := func(login string) []ladder.Source {
		return []ladder.Source{{Source: ladder.NamedPerson, Person: login}}
	}
	d.Ladder = []ladder.Rung{
		{Key: "first", Name: "First", Approvers: person("quist"), Quorum: "any", Facts: []string{"forFirst", "cause"}, NoPrice: true},
		{Key: "second", Name: "Second", Approvers: person("brandao"), Quorum: "any", Facts: []string{"forSecond"}},
	}
	d.Plan = []plan.Task{
		{Key: "keys", Name: "For Keys", Kind: plan.Manual, Team: "keys-badges", Slice: []string{"forKeys", "class", "photo"}, Outputs: []plan.Output{{Key: "number", Name: "Number"}, {Key: "pin", Name: "Pin", Secret: true}}},
		{Key: "premises", Name: "For Premises", Kind: plan.Manual, Team: "premises-crew", Slice: []string{"forPremises", "cause"}},
	}
	opened, err = s.Designing.SaveOffering(ctx, owner, d.Key, d, opened.Revision)
	require.NoError(t, err)
	var accepted []string
	for _, f := range opened.Findings {
		accepted = append(accepted, f.Name())
	}
	_, err = s.Designing.Publish(ctx, owner, d.Key, work.Publishing{Revision: opened.Revision, Accepted: accepted})
	require.NoError(t, err, "%v", opened.Findings)

	sarmento := demo.ID("sarmento")
	png := func(name string) work.IncomingFile {
		return work.IncomingFile{Name: name + ".png", Content: strings.NewReader("\x89PNG\r\n\x1a\n" + name)}
	}
	photo, err := s.Asking.Upload(ctx, sarmento, d.Key, "photo", png("photo"))
	require.NoError(t, err)
	answers := coretest.Answers(map[string]any{"cause": "a-private-cause", "photo": []any{photo}})
	for _, key := range []string{"forAll", "forFirst", "forSecond", "forKeys", "forPremises"} {
		answers[key] = form.OfText("answer-" + key)
	}
	f, err := s.Asking.SaveDraft(ctx, sarmento, d.Key, answers, offering.Beneficiary{})
	require.NoError(t, err)
	state, err := s.Asking.Submit(ctx, sarmento, f.Draft, request.Submit{Answers: answers})
	require.NoError(t, err)
	id = state.ID
	require.NoError(t, s.Entering.SetProfile(ctx, sarmento, work.Profile{Address: "a-profile-of-asker", Reach: "in the morning", Help: "large print"}))
	s.Must("sarmento", id, request.Follow{Person: demo.ID("castelo")}, request.Comment{Text: "word-of-asker-to-first"})
	s.Must("quist", id, request.Comment{Text: "word-of-first"}, request.Decide{Rung: "first", Decision: request.Approve, Reason: "reason-of-first"})
	s.Must("sarmento", id, request.Comment{Text: "word-of-asker-to-second"})
	s.Must("brandao", id, request.Decide{Rung: "second", Decision: request.Approve, Reason: "reason-of-second"})
	s.Must("sarmento", id, request.Comment{Text: "word-of-asker-to-all"}, request.Comment{Text: "word-of-asker-to-request", To: request.ToRequest}, request.Comment{Text: "word-of-asker-to-keys", Task: "keys", To: request.ToTask})
	s.Must("marrec", id, request.Take{Task: "keys"}, request.Comment{Text: "word-of-keys", Task: "keys"}, request.Note{Text: "note-of-keys", Task: "keys"}, request.Note{Text: "note-to-staff", Task: "keys", To: request.ToStaff},
		request.Complete{Task: "keys", Outputs: map[string]string{"number": "output-number", "pin": "a-secret-pin"}, Word: "word-of-done"})
	s.Must("coutinho", id, request.Take{Task: "premises"}, request.Note{Text: "note-of-premises", Task: "premises"})
	files = map[string]string{"photo": photo.ID}
	for name, a := range map[string]struct {
		who string
		to  work.Addressed
	}{"file-to-request": {"sarmento", work.Addressed{To: request.ToRequest}}, "file-to-keys": {"sarmento", work.Addressed{To: request.ToTask, Task: "keys"}}, "file-of-premises": {"coutinho", work.Addressed{Task: "premises"}}, "file-to-staff": {"sarmento", work.Addressed{To: request.ToStaff}}} {
		u, err := s.Following.Attach(ctx, demo.ID(a.who), id, a.to, png(name))
		require.NoError(t, err, name)
		files[name] = u.ID
	}
	return id, files
}

// What each may read of a request, by the words that stand in it: through
// everything the API gives of it (rules.md 9).
func TestWhoReadsWhatOfARequest(t *testing.T) {
	s := serve(t)
	id, files := rich(t, s)
	reads := []string{
		"/api/requests/" + id, "/api/requests/" + id + "/export", "/api/decisions/" + id + "/first", "/api/decisions/" + id + "/second", "/api/tasks/" + id + "/keys", "/api/tasks/" + id + "/premises",
		"/api/requests", "/api/decisions?state=decided", "/api/tasks", "/api/find?words=everything", "/api/messages", "/api/replies?request=" + id + "&task=keys", "/api/secrets", "/api/parts", "/api/background",
	}
	side := "asker follower home lead owner"
	want := map[string]string{
		"answer-forAll": side, "answer-forFirst": side + " first rung", "answer-forSecond": side + " second rung", "answer-forKeys": side + " keys", "answer-forPremises": side + " premises",
		"a-private-cause": "", "a-secret-pin": "", "for-staff-only": "home lead owner keys", "output-number": side + " keys",
		"word-of-asker-to-first": side + " first rung", "word-of-first": side + " first rung", "word-of-asker-to-second": side + " second rung", "word-of-asker-to-all": side + " keys premises",
		"word-of-asker-to-request": side, "word-of-asker-to-keys": side + " keys", "word-of-keys": side + " keys", "note-of-keys": "home lead owner keys", "note-to-staff": "home lead owner keys premises", "note-of-premises": "home lead owner premises",
		"a-profile-of-asker": "home lead premises",
		"word-of-done":       side + " keys", "reason-of-first": side + " first rung second rung", "reason-of-second": side + " second rung first rung",
		files["file-to-request"]: "asker home lead owner", files["file-to-keys"]: "asker home lead owner keys", files["file-of-premises"]: "asker home lead owner premises", files["file-to-staff"]: "asker home lead owner keys premises",
		files["photo"]: "asker home lead owner keys",
	}
	for role, login := range roles {
		c := s.as(login)
		var all strings.Builder
		for _, path := range reads {
			status, data := c.send("GET", path, "")
			if status == http.StatusOK {
				all.WriteString(data)
			}
		}
		for word, who := range want {
			may := strings.Contains(" "+who+" ", " "+role+" ") || strings.HasPrefix(who, role)
			assert.Equal(t, may, strings.Contains(all.String(), word), "%s reads %q (%s)", role, word, who)
		}
		for name, file := range files {
			status, _ := c.send("GET", "/api/requests/"+id+"/files/"+file, "")
			may := strings.Contains(want[file], role)
			assert.Equal(t, may, status == http.StatusOK, "%s opens %s", role, name)
		}
	}
}

// A decision is shown, with what it shows, to those who sit on it; what may be
// done there is by that rung as well.
func TestADecisionIsShownByItsRung(t *testing.T) {
	s := serve(t)
	id, _ := rich(t, s)
	for role, want := range map[string][2]int{"first rung": {200, 404}, "second rung": {404, 200}, "owner": {200, 200}, "home lead": {200, 200}, "keys": {404, 404}, "asker": {404, 404}} {
		for i, rung := range []string{"first", "second"} {
			status, data := s.as(roles[role]).send("GET", "/api/decisions/"+id+"/"+rung, "")
			assert.Equal(t, want[i], status, "%s, %s", role, rung)
			if rung == "first" && status == 200 {
				assert.NotContains(t, data, `"decide"`, "what is passed is not decided any more")
			}
		}
	}
	ask := func() string {
		f, err := s.Asking.SaveDraft(context.Background(), demo.ID("sarmento"), "everything", form.Answers{}, offering.Beneficiary{})
		require.NoError(t, err)
		state, err := s.Asking.Submit(context.Background(), demo.ID("sarmento"), f.Draft, request.Submit{Answers: form.Answers{}})
		require.NoError(t, err)
		return state.ID
	}
	open := ask()
	s.Must("quist", open, request.Decide{Rung: "first", Decision: request.Approve})
	_, data := s.as("quist").send("GET", "/api/decisions/"+open+"/first", "")
	assert.Contains(t, data, `"allowed":[]`, "the open rung is another's")
	_, data = s.as("brandao").send("GET", "/api/decisions/"+open+"/second", "")
	assert.Contains(t, data, `"decide"`)
}

// The asker is not shown what is asked for staff, neither in the form nor after.
func TestTheFormHoldsNothingForStaff(t *testing.T) {
	s := serve(t)
	id, _ := rich(t, s)
	_, data := s.as("sarmento").send("GET", "/api/offerings/everything/form", "")
	assert.Contains(t, data, "Question forAll")
	assert.NotContains(t, data, "Question class")
	assert.NotContains(t, data, "for-staff-only")
	_, data = s.as("sarmento").send("PUT", "/api/offerings/everything/draft", `{"answers":{"class":"mine"}}`)
	assert.NotContains(t, data, "for-staff-only")
	_, data = s.as("sarmento").send("POST", "/api/requests/"+id+"/private/cause/read", `{}`)
	assert.Contains(t, data, "a-private-cause", "on asking")
	_, data = s.as("coutinho").send("POST", "/api/requests/"+id+"/private/cause/read", `{"task":"premises"}`)
	assert.Contains(t, data, "a-private-cause")
	_, data = s.as("quist").send("POST", "/api/requests/"+id+"/private/cause/read", `{"rung":"first"}`)
	assert.Contains(t, data, "a-private-cause")
	for login, body := range map[string]string{"castelo": `{}`, "falkenau": `{}`, "marrec": `{"task":"keys"}`, "brandao": `{"rung":"second"}`, "quist": `{"rung":"second"}`} {
		status, _ := s.as(login).send("POST", "/api/requests/"+id+"/private/cause/read", body)
		assert.Equal(t, http.StatusNotFound, status, login)
	}
	_, data = s.as("sarmento").send("GET", "/api/requests/"+id, "")
	assert.Contains(t, data, `"readings":[{"who":"Ragnhild Quist","what":"Question cause","as":"First"`, "the asker sees who has read it")
	_, data = s.as("sarmento").send("POST", "/api/requests/"+id+"/secrets/keys/pin/read", "")
	assert.Contains(t, data, "a-secret-pin")
	for role, login := range roles {
		if role != "asker" {
			status, _ := s.as(login).send("POST", "/api/requests/"+id+"/secrets/keys/pin/read", "")
			assert.Equal(t, http.StatusNotFound, status, role)
		}
	}
}

// Which fields of what the API gives of a request each role is given. A new
// field has no row in testdata/fields.json and fails until somebody has said who
// may see it (go test ./internal/web -run WhichFields -update, and look).
func TestWhoIsGivenWhichFields(t *testing.T) {
	s := serve(t)
	id, _ := rich(t, s)
	got := map[string]map[string][]string{}
	for name, path := range map[string]string{
		"request": "/api/requests/" + id, "decision": "/api/decisions/" + id + "/first", "task": "/api/tasks/" + id + "/keys",
		"my-requests": "/api/requests", "my-decisions": "/api/decisions?state=decided", "my-tasks": "/api/tasks", "find": "/api/find?words=everything",
	} {
		got[name] = map[string][]string{}
		for _, role := range slices.Sorted(maps.Keys(roles)) {
			status, data := s.as(roles[role]).send("GET", path, "")
			if status != http.StatusOK {
				continue
			}
			var value any
			require.NoError(t, json.Unmarshal([]byte(data), &value))
			seen := map[string]bool{}
			fieldsOf(value, "", seen)
			for field := range seen {
				got[name][field] = append(got[name][field], role)
			}
		}
	}
	text, err := json.MarshalIndent(got, "", " ")
	require.NoError(t, err)
	const table = "testdata/fields.json"
	if *update {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(table, append(text, '\n'), 0o644))
	}
	want, err := os.ReadFile(table)
	require.NoError(t, err)
	var rows map[string]map[string][]string
	require.NoError(t, json.Unmarshal(want, &rows))
	for name, fields := range got {
		for field, who := range fields {
			assert.Equal(t, rows[name][field], who, "%s: %s has another row of rights than in %s", name, field, table)
		}
		for field, who := range rows[name] {
			assert.NotNil(t, fields[field], "%s: %s is given to nobody any more, and the table says %v", name, field, who)
		}
	}
}

// fieldsOf collects the paths of all values that are not empty.
func fieldsOf(value any, at string, into map[string]bool) {
	switch v := value.(type) {
	case map[string]any:
		for key, field := range v {
			fieldsOf(field, at+"/"+key, into)
		}
	case []any:
		for _, element := range v {
			fieldsOf(element, at+"[]", into)
		}
	case nil:
	default:
		if fmt.Sprint(v) != "" && v != false {
			into[at] = true
		}
	}
}

// Every path that the program answers under /api is described, and so has a row
// in the matrix of operations.
func TestEveryPathIsDescribed(t *testing.T) {
	s := serve(t)
	described := map[string]bool{}
	for path, item := range s.web.API.OpenAPI().Paths {
		for method, op := range map[string]string{"GET": id(item.Get), "POST": id(item.Post), "PUT": id(item.Put), "DELETE": id(item.Delete), "PATCH": id(item.Patch)} {
			if op != "" {
				described[method+" "+path] = true
			}
		}
	}
	seen := 0
	require.NoError(t, chi.Walk(s.web.Routes, func(method, route string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if strings.HasPrefix(route, "/api") && !strings.HasSuffix(route, "*") && route != "/api" {
			seen++
			assert.True(t, described[method+" "+route], "%s %s", method, route)
		}
		return nil
	}))
	assert.Equal(t, len(described), seen)
}

// elsewhere are the fields that the request of the matrix leaves empty, with who
// is given them. A field that is neither there nor here fails.
var elsewhere = map[string]string{
	"RequestSheet.confirmBy": "who sees the request", "RequestSheet.question": "who sees the request", "RequestSheet.via": "who sees the request", "RequestSheet.promise": "who sees the head",
	"RequestSheet.questions": "who sees the request", "RequestSheet.ending": "who sees the head", "RequestSheet.readings": "who sees the request", "RequestSheet.group": "the reader's own list",
	"RequestSheet.outcome": "who sees the head", "RequestSheet.yours": "the reader",
	"DecisionSheet.allowed": "the reader", "DecisionSheet.cheaper": "who sits on the rung, when it shows the price", "DecisionSheet.outcome": "who sits on the rung", "DecisionSheet.parts": "the reader's seat",
	"DecisionSheet.question": "who sits on the rung", "DecisionSheet.say": "who sits on the rung",
	"TaskSheet.accepted":        "who sees the task",
	"TaskSheet.after":           "who sees the task",
	"TaskSheet.automatic":       "who sees the task",
	"TaskSheet.calls":           "who sees the task",
	"TaskSheet.confirmed":       "who sees the task",
	"TaskSheet.due":             "who sees the task",
	"TaskSheet.expected":        "who sees the task, when it says what it really cost",
	"TaskSheet.late":            "who sees the task",
	"RequestSheet.realCost":     "who sees the request",
	"RequestSheet.silent":       "the reader",
	"RequestSheet.mayAnswer":    "who leads the service, while a question waits",
	"DecisionSheet.insteadOf":   "the reader's seat",
	"DecisionSheet.answers":     "the reader",
	"RequestSheet.leftOut":      "who sees the request",
	"RequestSheet.runs":         "who works on it, as the offering lets them",
	"RequestSheet.urging":       "who sees the request",
	"RequestSheet.together":     "who sees the head",
	"TaskSheet.runs":            "who works on it, as the offering lets them",
	"DecisionSheet.slip":        "who sits on the rung",
	"DecisionSheet.together":    "who sits on the rung",
	"DecisionSheet.urging":      "who sits on the rung",
	"RequestSheet.asks":         "who sees the request",
	"RequestSheet.askerReasons": "who sees the request",
	"RequestSheet.closing":      "who sees the request",
	"RequestSheet.backs":        "who sees the request",
	"RequestSheet.lines":        "who sees the request",
	"RequestSheet.mine":         "the reader",
	"RequestSheet.ratings":      "staff, unless they are pooled",
	"RequestSheet.reasons":      "who may cancel it",
	"RequestSheet.backBy":       "who sees the head",
	"TaskSheet.instructions":    "who sees the task",
	"TaskSheet.latest":          "who sees the task",
	"TaskSheet.likely":          "who sees the task",
	"TaskSheet.lines":           "who sees the task",
	"TaskSheet.mustDos":         "who sees the task",
	"TaskSheet.promise":         "who sees the task",
	"TaskSheet.question":        "who sees the task",
	"TaskSheet.queued":          "who sees the task",
	"TaskSheet.retryAt":         "who sees the task",
	"TaskSheet.slack":           "who sees the task",
	"TaskSheet.trouble":         "who sees the task",
	"DecisionSheet.promise":     "who sits on the rung", "DecisionSheet.forecast": "who sits on the rung", "TaskSheet.mayAnswer": "who sees the task",
	"TaskSheet.undo":     "who sees the task",
	"TaskSheet.undoText": "who sees the task",
	"TaskSheet.unneeded": "who sees the task",
	"TaskSheet.until":    "who sees the task",
	"TaskSheet.upward":   "who sees the task",
	"TaskSheet.waits":    "who sees the task",
	"TaskSheet.wishes":   "the team of the task, while it is open",
}

func TestNoFieldIsWithoutARow(t *testing.T) {
	s := serve(t)
	data, err := os.ReadFile("testdata/fields.json")
	require.NoError(t, err)
	var rows map[string]map[string][]string
	require.NoError(t, json.Unmarshal(data, &rows))
	schemas := s.web.API.OpenAPI().Components.Schemas.Map()
	for schema, row := range map[string]string{"RequestSheet": "request", "TaskSheet": "task", "DecisionSheet": "decision"} {
		for field := range schemas[schema].Properties {
			there := slices.ContainsFunc(slices.Collect(maps.Keys(rows[row])), func(path string) bool {
				first, _, _ := strings.Cut(strings.TrimPrefix(path, "/"), "/")
				return strings.TrimSuffix(first, "[]") == field
			})
			_, known := elsewhere[schema+"."+field]
			assert.True(t, there || known || field == "$schema", "%s.%s has no row of rights", schema, field)
		}
	}
}

// A member of a team that the plan foresees sees the head of a request and how its
// decisions stand, while there are no tasks; of the answers, the reasons and the
// price nothing.
func TestATeamThatIsForeseenSeesTheHead(t *testing.T) {
	s := serve(t)
	state := s.Ask("sarmento", "covered")
	require.Equal(t, request.Deciding, state.Status)
	status, data := s.as("coutinho").send("GET", "/api/requests/"+state.ID, "")
	require.Equal(t, http.StatusOK, status, data)
	assert.Contains(t, data, state.Reference)
	assert.Contains(t, data, `"name":"Line manager"`)
	for _, word := range []string{"I work at night", "MV-01-QS", "34.50", "line manager of"} {
		assert.NotContains(t, data, word)
	}
	status, _ = s.as("yilmazer").send("GET", "/api/requests/"+state.ID, "")
	assert.Equal(t, http.StatusNotFound, status)
}

// What the page reads goes through work, where it is asked who may.
func TestTheWebReadsNoStore(t *testing.T) {
	entries, err := os.ReadDir(".")
	require.NoError(t, err)
	for _, entry := range entries {
		if !strings.HasSuffix(entry.Name(), ".go") || strings.HasSuffix(entry.Name(), "_test.go") {
			continue
		}
		source, err := os.ReadFile(entry.Name())
		require.NoError(t, err)
		assert.NotContains(t, string(source), `"heptad/internal/store"`, entry.Name())
		assert.NotContains(t, string(source), "Office.Store", entry.Name())
	}
}
