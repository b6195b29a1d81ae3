package web_test

import (
	"context"
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/store"
)

// Each decision of several is taken or refused by itself.
func TestDecidingSeveral(t *testing.T) {
	s := serve(t)
	one, two := s.Ask("sarmento", "covered").ID, s.Ask("sarmento", "covered").ID
	s.Must("quist", one, request.Decide{Rung: "manager", Decision: request.Approve})
	other := s.Ask("petrovan", "covered").ID
	status, data := s.as("quist").send("POST", "/api/decisions", `{"decision":"decline","reason":"For all.","decisions":[
		{"request":"`+one+`","rung":"manager"},{"request":"`+two+`","rung":"manager","reason":"Its own."},{"request":"`+other+`","rung":"manager"},{"request":"none","rung":"manager"}]}`)
	require.Equal(t, 200, status, data)
	var out struct {
		Entries []struct{ Request, Problem string }
	}
	require.NoError(t, json.Unmarshal([]byte(data), &out))
	require.Len(t, out.Entries, 4)
	assert.Equal(t, "There is nothing to decide on this request any more.", out.Entries[0].Problem)
	assert.Empty(t, out.Entries[1].Problem)
	assert.Equal(t, "This decision is not there, or is not yours.", out.Entries[2].Problem, "nobody can tell the one from the other")
	assert.Equal(t, out.Entries[2].Problem, out.Entries[3].Problem)
	state, err := s.Store.Request(context.Background(), two)
	require.NoError(t, err)
	assert.Equal(t, request.Declined, state.Outcome)
	assert.Equal(t, "Its own.", state.Rungs[0].Votes[0].Reason)
}

// The links of a mail work without a session, for nobody who is signed in as
// somebody else, and following them changes nothing.
func TestLinksWithoutASession(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	for range 3 {
		_, err := s.Running.RunDue(context.Background())
		require.NoError(t, err)
	}
	_, rest, ok := strings.Cut(s.Mail.Letters()[0].Text, "/mail/")
	require.True(t, ok)
	token, _, _ := strings.Cut(rest, "?")
	path := "/api/mail/" + token
	status, data := s.as("").send("GET", path, "")
	require.Equal(t, 200, status, data)
	var linked struct {
		Person, Rung, Trouble string
		Answers               []struct{ Text string }
	}
	require.NoError(t, json.Unmarshal([]byte(data), &linked))
	assert.Equal(t, "Ragnhild Quist", linked.Person)
	assert.Equal(t, "Line manager", linked.Rung)
	assert.NotEmpty(t, linked.Answers)
	status, _ = s.as("sarmento").send("GET", path, "")
	assert.Equal(t, 403, status, "it was passed on to the asker")
	status, _ = s.as("sarmento").send("POST", path, `{"decision":"approve"}`)
	assert.Equal(t, 403, status)
	status, data = s.as("").send("POST", path, `{"decision":"decline"}`)
	assert.Equal(t, 422, status, "a decline needs a reason: %s", data)
	status, data = s.as("").send("POST", path, `{"decision":"approve"}`)
	assert.Equal(t, 200, status, data)
	status, _ = s.as("").send("POST", path, `{"decision":"approve"}`)
	assert.Equal(t, 409, status)
	state, err := s.Store.Request(context.Background(), id)
	require.NoError(t, err)
	assert.Equal(t, request.Delivering, state.Status)
	status, data = s.as("").send("GET", path, "")
	assert.Equal(t, 200, status)
	assert.NotContains(t, data, "MV-01-QS", "a used link shows no answers any more")
}

// A message leads to what its reader may see of it.
func TestWhereAMessageLeads(t *testing.T) {
	s := serve(t)
	id := s.Ask("sarmento", "covered").ID
	s.Must("sarmento", id, request.Comment{Text: "It is urgent."})
	s.Must("quist", id, request.AskBack{Rung: "manager", Text: "Why?"})
	rungs := func(login string) map[string]string {
		out := map[string]string{}
		all, err := s.Messaging.Messages(context.Background(), demo.ID(login), false, store.Page{Limit: 50})
		require.NoError(t, err)
		for _, m := range all {
			if m.Request != id {
				continue
			}
			status, data := s.as(login).send("GET", "/api/messages/"+m.ID, "")
			require.Equal(t, 200, status)
			var view struct{ Kind, Rung string }
			require.NoError(t, json.Unmarshal([]byte(data), &view))
			out[view.Kind] = view.Rung
		}
		return out
	}
	assert.Equal(t, map[string]string{"decide": "manager", "said": "manager"}, rungs("quist"), "an approver sees the decision")
	assert.Equal(t, map[string]string{"sent": "", "asked": ""}, rungs("sarmento"), "the asker the whole request")
}
