package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/refusal"
	"heptad/internal/core/request"
	"heptad/internal/demo"
	"heptad/internal/demo/demotest"
	"heptad/internal/store"
)

// stateOf reads a request as it is now.
func stateOf(t *testing.T, o *demotest.Office, id string) *request.State {
	s, err := o.Store.Request(ctx, id)
	require.NoError(t, err)
	return &s
}

// messagesOf are the subjects of what somebody was told of a kind.
func messagesOf(t *testing.T, o *demotest.Office, login string, kind message.Kind) (all []store.Message) {
	messages, err := o.Messaging.Messages(ctx, demo.ID(login), false, store.Page{Limit: 50})
	require.NoError(t, err)
	for _, m := range messages {
		if m.Kind == kind {
			all = append(all, m)
		}
	}
	return all
}

// tie ties two requests, as the owner of the service of one.
func tie(t *testing.T, o *demotest.Office, id string, kind request.Linking, other request.State) error {
	service, _ := o.Company().Service(other.Service)
	_, err := o.Following.Tie(ctx, service.Owner, id, kind, other.Reference)
	return err
}

// letter asks for a letter, which one task makes.
func letter(o *demotest.Office) request.State {
	return o.Send("sarmento", "proof-of-employment-letter", coretest.Answers(map[string]any{"purpose": "landlord", "pay": true, "language": "pt", "copies": 1.0}), offering.Beneficiary{})
}

// What waits for another ends after it, whatever becomes of that; a circle is refused.
func TestWaitsForAnother(t *testing.T) {
	o := demotest.New(t)
	a, b, c := letter(o), letter(o), letter(o)
	require.NoError(t, tie(t, o, a.ID, request.WaitsFor, b))
	require.NoError(t, tie(t, o, b.ID, request.WaitsFor, c))
	assert.Equal(t, refusal.LinkCircle, codeOf(t, tie(t, o, c.ID, request.WaitsFor, a)))
	assert.Equal(t, refusal.Link, codeOf(t, tie(t, o, a.ID, request.WaitsFor, a)))
	assert.Equal(t, refusal.Linked, codeOf(t, tie(t, o, a.ID, request.WaitsFor, b)))
	assert.Equal(t, refusal.LinkCircle, codeOf(t, tie(t, o, c.ID, request.SameAs, a)), "nor ends anything with what waits for it")
	_, err := o.Following.Tie(ctx, demo.ID("quist"), a.ID, request.WaitsFor, c.Reference)
	assert.Equal(t, refusal.Link, codeOf(t, err), "who is not staff of both cannot tell that it is there")

	service, _ := o.Company().Service(a.Service)
	_, err = o.Do(ctx, service.Owner, a.ID, request.Cancel{Reason: "No."})
	assert.Equal(t, refusal.Awaits, codeOf(t, err))
	_, err = o.Do(ctx, service.Owner, a.ID, request.Close{Word: "Done."})
	assert.Equal(t, refusal.Awaits, codeOf(t, err))

	// All work is done, and it does not end: it waits, and says for what.
	o.Must("ostrowy", a.ID, request.Take{Task: "write"}, request.Complete{Task: "write"})
	s := stateOf(t, o, a.ID)
	assert.Equal(t, request.Delivering, s.Status)
	assert.Equal(t, "Nobody: it waits for "+b.Reference, s.Holders("")[0].Name(o.Company(), nil))

	// Its asker takes the second back: the first goes on, and the third is as it was.
	o.Must("sarmento", b.ID, request.Withdraw{})
	assert.Empty(t, stateOf(t, o, b.ID).Awaits(), "who asked may always take it back")
	runDue(t, o)
	assert.Empty(t, stateOf(t, o, a.ID).Awaits())
	assert.Equal(t, request.Delivered, stateOf(t, o, a.ID).Status)
	assert.True(t, stateOf(t, o, c.ID).Status.UnderWay())
}

func runDue(t *testing.T, o *demotest.Office) {
	for range 3 {
		_, err := o.Running.RunDue(ctx)
		require.NoError(t, err)
	}
}

// The others follow the words of the main one, end with it, and each asker is told; when who
// asked takes the main one back, the first of the others takes its place.
func TestTheSameAsAnother(t *testing.T) {
	o := demotest.New(t)
	main, one, two, other := o.Ask("sarmento", "covered"), o.Ask("quist", "covered"), o.Ask("marrec", "covered"), o.Ask("sarmento", "open")
	require.NoError(t, tie(t, o, one.ID, request.SameAs, main))
	require.NoError(t, tie(t, o, two.ID, request.SameAs, main))
	assert.Equal(t, refusal.NotMain, codeOf(t, tie(t, o, other.ID, request.SameAs, one)), "an other one is no main one")
	assert.Equal(t, refusal.LinkCircle, codeOf(t, tie(t, o, main.ID, request.WaitsFor, one)), "nor waits for what ends with it")
	ties, err := o.Following.TiesOf(ctx, demo.ID("falkenau"), *stateOf(t, o, main.ID))
	require.NoError(t, err)
	assert.ElementsMatch(t, []string{one.Reference, two.Reference}, ties.Ends, "what will end is known before")
	assert.Equal(t, 3, ties.Touches)
	same, _, err := o.Following.Suggested(ctx, demo.ID("falkenau"), *stateOf(t, o, main.ID))
	require.NoError(t, err)
	assert.NotEmpty(t, same)
	_, _, err = o.Following.Suggested(ctx, demo.ID("sarmento"), *stateOf(t, o, main.ID))
	assert.ErrorIs(t, err, store.ErrNotFound)

	o.Must("falkenau", main.ID, request.Comment{Text: "The barrier comes on Monday."})
	runDue(t, o)
	for _, login := range []string{"sarmento", "quist", "marrec"} {
		said := ""
		for _, m := range messagesOf(t, o, login, message.Said) {
			said += m.Body
		}
		assert.Contains(t, said, "The barrier comes on Monday.", login)
	}

	o.Must("sarmento", main.ID, request.Withdraw{Reason: "Sold the car."})
	runDue(t, o)
	assert.True(t, stateOf(t, o, one.ID).Status.UnderWay(), "nobody else loses theirs")
	assert.Nil(t, stateOf(t, o, one.ID).Main())
	s := stateOf(t, o, two.ID)
	require.NotNil(t, s.Main())
	assert.Equal(t, one.ID, s.Main().Other, "the first is the main one now")

	// Two mains are joined: what is the same as the one that joins goes over.
	require.NoError(t, tie(t, o, one.ID, request.SameAs, other))
	runDue(t, o)
	assert.Equal(t, other.ID, stateOf(t, o, two.ID).Main().Other)

	o.Must("falkenau", other.ID, request.Cancel{Reason: "The quay is closed."})
	runDue(t, o)
	for _, id := range []string{one.ID, two.ID} {
		s := stateOf(t, o, id)
		assert.Equal(t, request.Cancelled, s.Outcome)
		assert.Contains(t, s.Why, "It was the same as "+other.Reference+". The quay is closed.")
	}
	assert.NotEmpty(t, messagesOf(t, o, "marrec", message.Ended))
}

// A fault is opened to all; who joins sees the sentence and their own line, and hears how it
// ends; nobody joins twice, or what has ended.
func TestMeToo(t *testing.T) {
	o := demotest.New(t)
	fault := o.Ask("sarmento", "covered")
	assert.Equal(t, refusal.ReasonNeeded, codeOf(t, func() error {
		_, err := o.Do(ctx, demo.ID("falkenau"), fault.ID, request.OpenToAll{Sentence: " "})
		return err
	}()))
	assert.ErrorIs(t, o.Following.Join(ctx, demo.ID("okonjo"), fault.ID, "Mine."), store.ErrNotFound, "it is not open")
	o.Must("falkenau", fault.ID, request.OpenToAll{Sentence: "The barrier at berth 4 stays shut."})
	require.NoError(t, o.Following.Join(ctx, demo.ID("okonjo"), fault.ID, "Since noon."))
	require.NoError(t, o.Following.Join(ctx, demo.ID("quist"), fault.ID, ""))
	assert.Equal(t, refusal.Joined, codeOf(t, o.Following.Join(ctx, demo.ID("quist"), fault.ID, "")))
	assert.Equal(t, refusal.Joined, codeOf(t, o.Following.Join(ctx, demo.ID("sarmento"), fault.ID, "")), "who asked has it already")
	faults, err := o.Asking.OpenFaults(ctx, demo.ID("okonjo"), fault.Offering)
	require.NoError(t, err)
	assert.Equal(t, []store.OpenFault{{Request: fault.ID, Sentence: "The barrier at berth 4 stays shut.", Touches: 3, Mine: true}}, faults)
	viewer := o.Viewer(demo.ID("okonjo"), *stateOf(t, o, fault.ID))
	assert.False(t, viewer.Any(), "nothing else of it is theirs")

	o.Must("quist", fault.ID, request.Decide{Rung: "manager", Decision: request.Decline, Reason: "No."})
	runDue(t, o)
	joined, err := o.Following.JoinedBy(ctx, demo.ID("okonjo"))
	require.NoError(t, err)
	require.Len(t, joined, 1)
	assert.Equal(t, []string{"The barrier at berth 4 stays shut.", "Since noon.", "closed"}, []string{joined[0].Sentence, joined[0].Line, string(joined[0].Status)})
	told := messagesOf(t, o, "okonjo", message.Joined)
	require.Len(t, told, 1)
	assert.NotContains(t, told[0].Subject+told[0].Body, fault.Reference)
	assert.NotContains(t, told[0].Subject+told[0].Body, "Sarmento")
	assert.Contains(t, told[0].Body, "ended without being mended")
	assert.Equal(t, refusal.Closed, codeOf(t, o.Following.Join(ctx, demo.ID("abelsen"), fault.ID, "")))
}
