package web_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"heptad/internal/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/demo"
)

// get asks an operation and reads its answer.
func get[T any](t *testing.T, c *client, method, path, body string) T {
	t.Helper()
	status, data := c.send(method, path, body)
	require.Equal(t, 200, status, data)
	var out T
	require.NoError(t, json.Unmarshal([]byte(data), &out))
	return out
}

type entries[T any] struct{ Entries []T }

// opened is an offering on the desk, its document as it travels.
type opened struct {
	Document map[string]any
	Revision int
	State    string
	Number   int
	Findings []struct{ Code, Severity, Place string }
}

func (o opened) body(t *testing.T) string {
	t.Helper()
	data, err := json.Marshal(map[string]any{"document": o.Document, "revision": o.Revision})
	require.NoError(t, err)
	return string(data)
}

// change saves an offering with one thing changed.
func change(t *testing.T, c *client, key string, how func(d map[string]any)) opened {
	t.Helper()
	o := get[opened](t, c, "GET", "/api/design/"+key, "")
	how(o.Document)
	return get[opened](t, c, "PUT", "/api/design/"+key, o.body(t))
}

// Warnings stop publishing until each is accepted by name; then what is
// different can be told, and the old link leads on.
func TestPublishingThroughTheAPI(t *testing.T) {
	s := serve(t)
	owner := s.as("falkenau")
	o := change(t, owner, "quay-access-badge", func(d map[string]any) {
		delete(d["purpose"].(map[string]any), "keywords")
		d["purpose"].(map[string]any)["replaces"] = []string{"berth-side-parking"}
	})
	assert.Equal(t, "draft", o.State)
	p := owner.problem("POST", "/api/design/quay-access-badge/publish", `{"accepted":[],"revision":`+jsonText(o.Revision)+`}`)
	assert.Equal(t, refusal.Unready, p.Code)
	require.Len(t, p.Errors, 1)
	assert.Equal(t, "/document/purpose/keywords", p.Errors[0].Place)
	o = get[opened](t, owner, "POST", "/api/design/quay-access-badge/publish", `{"accepted":["noKeywords /purpose/keywords"],"revision":`+jsonText(o.Revision)+`}`)
	assert.Equal(t, "current", o.State)
	assert.Equal(t, 3, o.Number)

	versions := get[entries[struct {
		Number int
		State  string
	}]](t, owner, "GET", "/api/design/quay-access-badge/versions", "")
	assert.Equal(t, "current", versions.Entries[0].State)
	assert.Equal(t, "past", versions.Entries[1].State)
	changes := get[entries[struct{ Side, Sentence string }]](t, owner, "GET", "/api/design/quay-access-badge/changes?from=2&to=3", "")
	assert.Len(t, changes.Entries, 2)
	assert.Equal(t, 404, owner.problem("GET", "/api/design/quay-access-badge/changes?from=1&to=9", "").Status)

	asker := s.as("sarmento")
	gone := asker.problem("GET", "/api/offerings/berth-side-parking/form", "")
	assert.Equal(t, 410, gone.Status)
	assert.Equal(t, refusal.Ended, gone.Code)
	require.NotNil(t, gone.Successor)
	assert.Equal(t, "Quay access badge", gone.Successor.Name)
	get[opened](t, owner, "DELETE", "/api/design/berth-side-parking/end", "")
	status, _ := asker.send("GET", "/api/offerings/berth-side-parking/form", "")
	assert.Equal(t, 200, status)
}

func TestPublishingAtATimeThroughTheAPI(t *testing.T) {
	s := serve(t)
	owner := s.as("falkenau")
	o := change(t, owner, "quay-access-badge", func(d map[string]any) { d["purpose"].(map[string]any)["text"] = "Opens gates." })
	type scheduled struct {
		PublishAt string
		Revision  int
	}
	at := get[scheduled](t, owner, "POST", "/api/design/quay-access-badge/publish", `{"accepted":[],"at":"2099-01-01T08:00:00Z","revision":`+jsonText(o.Revision)+`}`)
	assert.Equal(t, "2099-01-01T08:00:00Z", at.PublishAt)
	lines := get[struct {
		Entries []struct{ Key, PublishAt string }
	}](t, owner, "GET", "/api/portfolio/offerings", "")
	require.Len(t, lines.Entries, 4)
	for _, l := range lines.Entries {
		assert.Equal(t, l.Key == "quay-access-badge", l.PublishAt != "", l.Key)
	}
	at = get[scheduled](t, owner, "DELETE", "/api/design/quay-access-badge/publish?revision="+jsonText(at.Revision), "")
	assert.Empty(t, at.PublishAt)
}

func TestSurveyAndLookUp(t *testing.T) {
	s := serve(t)
	owner := s.as("falkenau")
	type verdict struct {
		Name, Reason string
		In           bool
	}
	type survey struct {
		In, Of, More int
		Entries      []verdict
	}
	all := get[survey](t, owner, "GET", "/api/design/berth-side-parking/audience?which=ask", "")
	for _, v := range all.Entries {
		assert.NotEmpty(t, v.Reason)
		assert.True(t, v.In)
	}
	assert.Len(t, all.Entries, 30)
	assert.Equal(t, 240, all.Of)
	assert.Equal(t, all.In, all.More+30)
	assert.True(t, all.In > 100 && all.In < 240, "seasonal people are out: %d", all.In)
	out := get[survey](t, owner, "GET", "/api/design/berth-side-parking/audience?which=ask&out=true", "")
	assert.Equal(t, 240-all.In, out.More+len(out.Entries))
	assert.False(t, out.Entries[0].In)
	mine := get[survey](t, owner, "GET", "/api/design/quay-access-badge/audience?which=for&words=f&asker="+demo.ID("quist"), "")
	for _, v := range mine.Entries {
		if v.Name == "Davi Sarmento" {
			assert.True(t, v.In, v.Reason)
		}
		if v.Name == "Henrike Falkenau" {
			assert.False(t, v.In, v.Reason)
		}
	}
	assert.Equal(t, refusal.UnknownPerson, owner.problem("GET", "/api/design/quay-access-badge/audience?which=for&asker=nobody", "").Code)

	type found struct{ Login, Name string }
	manager := s.as("quist")
	people := get[entries[found]](t, manager, "GET", "/api/offerings/quay-access-badge/people?words=sar", "")
	require.Len(t, people.Entries, 1, "only those she may ask for")
	assert.Equal(t, "sarmento", people.Entries[0].Login)
	people = get[entries[found]](t, s.as("sarmento"), "GET", "/api/offerings/quay-access-badge/people?words=quist", "")
	assert.Empty(t, people.Entries)
	assert.Equal(t, 404, manager.problem("GET", "/api/offerings/quay-access-badge/people?question=port", "").Status, "no person question")
	people = get[entries[found]](t, manager, "GET", "/api/offerings/shared-mailbox/people?question=readers.person&words=falkenau", "")
	require.Len(t, people.Entries, 1)
}

// Of each new service of a catalog it is said whose home it is, of several at once.
func TestSeveralNewServices(t *testing.T) {
	s := serve(t)
	get[struct{}](t, s.as("falkenau"), "POST", "/api/catalog?home=boats:keys-badges&home=tents:premises-crew&owner=tents:ekvall&owner=boats:abelsen",
		`{"format":"heptad/catalog/1","services":[{"key":"boats","name":"Boats","area":"Facilities","place":"offered"},{"key":"tents","name":"Tents","area":"Facilities","place":"offered"}],"shared":[],"offerings":[]}`)
	for key, want := range map[string][]string{"boats": {"keys-badges", demo.ID("abelsen")}, "tents": {"premises-crew", demo.ID("ekvall")}} {
		service, ok := s.Company().Service(key)
		assert.True(t, ok, key)
		assert.Equal(t, want, []string{service.Home, service.Owner}, key)
	}
}

// Cost centres are found by their keys and names, some at a time.
func TestCostCentres(t *testing.T) {
	s := serve(t)
	asker := s.as("sarmento")
	type named struct{ Key, Name string }
	find := func(query string) (found []named) {
		t.Helper()
		return get[entries[named]](t, asker, "GET", "/api/cost-centres?"+query, "").Entries
	}
	assert.Len(t, find(""), 30)
	assert.Equal(t, []named{{"CC-4100", "MV Tern Dancer"}}, find("words=tern"))
	assert.Equal(t, []named{{"CC-4100", "MV Tern Dancer"}, {"CC-4110", "MV Grey Heron"}, {"CC-4120", "MV Saltmarsh"}}, find("words=cc-41+MV"))
	assert.Equal(t, []named{{"CC-1000", "Board"}, {"CC-4110", "MV Grey Heron"}}, find("keys=CC-1000&keys=CC-0000&keys=CC-4110&words=tern"), "by key, and words do not count")
	assert.Empty(t, find("words=zzz"))
}

// A form tells nothing of the rules, which are the owner's, yet all that a
// person needs to fill it in.
func TestAFormKeepsItsRulesToItself(t *testing.T) {
	s := serve(t)
	_, data := s.as("castelo").send("GET", "/api/offerings/bridge-tablet/form", "")
	for _, rule := range []string{"beneficiary.managers", "MV Saltmarsh\\\"", `"show"`, `"when"`, "answers.tablet", "workdays"} {
		assert.NotContains(t, data, rule)
	}
	var form struct {
		Places     []string
		Belongings []struct{ ID string }
		Extras     []struct{ Fits []string }
		Articles   []struct{ Title string }
		ForName    string
		Result     struct {
			Slip      string
			Questions []struct {
				Key     string
				Value   any
				Choices []string
			}
			Price struct {
				Lines []struct{ Kind string }
				Term  *struct{ Amount string }
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(data), &form))
	assert.Contains(t, form.Places, "MV Grey Heron")
	assert.Len(t, form.Belongings, 3, "what she has")
	assert.Len(t, form.Extras, 3)
	assert.Len(t, form.Articles, 2)
	assert.Equal(t, "Inês Castelo", form.ForName)
	assert.NotEmpty(t, form.Result.Slip)
	assert.Equal(t, "MV Grey Heron", form.Result.Questions[0].Value)
	assert.Equal(t, []string{"own-1003"}, form.Result.Questions[1].Choices, "of her things only the tablet")
	assert.NotNil(t, form.Result.Price.Term)
}

func TestPicksAndDoors(t *testing.T) {
	s := serve(t)
	type entry struct {
		Key, Door, Reason string
	}
	picks := get[entries[entry]](t, s.as("sarmento"), "GET", "/api/picks", "")
	assert.Len(t, picks.Entries, 3)
	for _, p := range picks.Entries {
		assert.NotEmpty(t, p.Reason)
	}
	type page struct {
		Entries []entry
		Next    string
		Beside  *struct {
			Broken   []entry
			CatchAll *entry
		}
	}
	all := get[page](t, s.as("sarmento"), "GET", "/api/offerings", "")
	for _, e := range all.Entries {
		assert.NotEqual(t, "broken", e.Door)
		assert.NotEqual(t, all.Beside.CatchAll.Key, e.Key)
	}
	assert.Greater(t, len(all.Entries), 5)
	assert.Empty(t, all.Next)
	assert.Len(t, all.Beside.Broken, 1)
	var paged []entry
	for next, pages := "", 0; pages == 0 || next != ""; pages++ {
		some := get[page](t, s.as("sarmento"), "GET", "/api/offerings?limit=3&after="+next, "")
		assert.Equal(t, pages == 0, some.Beside != nil)
		paged, next = append(paged, some.Entries...), some.Next
	}
	assert.Equal(t, all.Entries, paged)
	assert.Empty(t, get[page](t, s.as("sarmento"), "GET", "/api/offerings?after=gone", "").Entries)
	type results struct {
		Results []struct {
			Kind     string
			Offering *entry
			By       []string
		}
		Instead *struct{ Key, Team string }
	}
	found := get[results](t, s.as("sarmento"), "GET", "/api/search?words=garaeg", "")
	require.NotEmpty(t, found.Results)
	assert.Equal(t, "berth-side-parking", found.Results[0].Offering.Key)
	assert.Equal(t, []string{"garage"}, found.Results[0].By)
	assert.Equal(t, "Service Bench", found.Instead.Team)
}

// A service that is not offered any more takes its offerings out of the
// catalog, and brings them back.
func TestAServiceMovesInThePortfolio(t *testing.T) {
	s := serve(t)
	owner, asker := s.as("falkenau"), s.as("sarmento")
	listed := func() bool {
		_, data := asker.send("GET", "/api/offerings", "")
		return strings.Contains(data, "berth-side-parking")
	}
	assert.True(t, listed())
	get[any](t, owner, "PUT", "/api/services/parking/place", `{"place":"ended"}`)
	assert.False(t, listed())
	get[any](t, owner, "PUT", "/api/services/parking/place", `{"place":"offered"}`)
	assert.True(t, listed())
	assert.Equal(t, 422, owner.problem("PUT", "/api/services/parking/place", `{"place":"somewhere"}`).Status)
	assert.Equal(t, 404, owner.problem("PUT", "/api/services/papers/place", `{"place":"ended"}`).Status, "another's service")
}

func TestSharedQuestions(t *testing.T) {
	s := serve(t)
	owner := s.as("falkenau")
	get[any](t, owner, "PUT", "/api/shared-questions", `{"key":"vessel","kind":"choice","label":"Which vessel?","section":"left-behind","choices":[{"key":"heron","label":"MV Grey Heron"}]}`)
	shared := get[entries[struct{ Key, Label, Shared, Section string }]](t, owner, "GET", "/api/shared-questions", "").Entries
	require.Len(t, shared, 1)
	assert.Equal(t, "vessel", shared[0].Shared)
	assert.Empty(t, shared[0].Section)
	get[any](t, owner, "PUT", "/api/shared-questions", `{"key":"vessel","kind":"choice","label":"Vessel","choices":[]}`)
	shared = get[entries[struct{ Key, Label, Shared, Section string }]](t, owner, "GET", "/api/shared-questions", "").Entries
	require.Len(t, shared, 1)
	assert.Equal(t, "Vessel", shared[0].Label)
	assert.Equal(t, refusal.NoLabel, owner.problem("PUT", "/api/shared-questions", `{"key":"x","kind":"text","label":" "}`).Code)
}

// What a draft is like for the asker and for those who decide and work.
func TestTrying(t *testing.T) {
	s := serve(t)
	owner := s.as("falkenau")
	script := `{"script":{"format":"heptad/rehearsal/1","asker":"quist","for":"sarmento","send":"2027-03-12T09:00:00Z","answers":{"port":"maravel","from":"2027-03-12","zones":["fuel"],"reason":"Bunkering","badge":[{"item":"fob","quantity":1}]}}`
	lived := get[struct {
		Result struct {
			End    string
			Counts struct{ Rungs, Tasks int }
		}
		Frames []struct {
			At     string
			Events int
			Says   []string
		}
	}](t, owner, "POST", "/api/design/quay-access-badge/rehearse", script+"}")
	require.Equal(t, "closed", lived.Result.End)
	require.Equal(t, 2, lived.Result.Counts.Rungs)
	at := func(says string) string {
		for _, f := range lived.Frames {
			if strings.Contains(strings.Join(f.Says, "\n"), says) {
				return fmt.Sprintf(`%s,"at":%q,"events":%d}`, script, f.At, f.Events)
			}
		}
		require.Fail(t, "nothing says "+says)
		return ""
	}
	type moment struct {
		Title, Status string
		Decision      *struct {
			Say     string
			Answers []struct{ Label, Text string }
		}
		Tasks []struct {
			Key, Instructions, Team string
			Answers                 []struct{ Key string }
		}
		History []struct{ Sentence string }
	}
	deciding := get[moment](t, owner, "POST", "/api/design/quay-access-badge/rehearse/moment", at("Safety of restricted zones: asked"))
	assert.Equal(t, "Quay badge for Davi Sarmento, Maravel", deciding.Title)
	require.NotNil(t, deciding.Decision)
	assert.Equal(t, "Davi Sarmento wants to enter Fuel dock.", deciding.Decision.Say)
	assert.Len(t, deciding.Decision.Answers, 4)
	assert.Equal(t, "Port", deciding.Decision.Answers[0].Label, "the label for staff")
	working := get[moment](t, owner, "POST", "/api/design/quay-access-badge/rehearse/moment", at("Check the safety record: taken"))
	require.Len(t, working.Tasks, 1, "a fob needs no picture")
	assert.Equal(t, "Check Davi Sarmento for Fuel dock.", working.Tasks[0].Instructions)
	assert.Len(t, working.Tasks[0].Answers, 2, "only the slice")
	assert.NotEmpty(t, working.History)
}
