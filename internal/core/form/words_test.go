package form_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/form"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// whole is a form with the kinds that need looking up.
func whole(t *testing.T) *form.Form {
	t.Helper()
	f, findings := compile(t, []form.Question{
		ask("who", form.Person, offer(`choice.department == "Fleet" && choice.login != asker.login`)),
		ask("place", form.Location, offer(`choice.name.startsWith("MV ")`)),
		ask("crew", form.Team),
		ask("papers", form.Table, need("true"), columns(ask("scan", form.File), ask("kind", form.Choice), ask("by", form.Person))),
		ask("at", form.DateTime),
		ask("sum", form.Computed, gives(form.Money, `money("3.50")`)),
		ask("when", form.Computed, gives(form.DateTime, `now`)),
		ask("things", form.Items, func(q *form.Question) { q.Items = []string{"card"} }),
	}, price.List{Currency: "EUR", List: []price.Item{{Key: "card", Name: "Card", Price: price.Charge{Amount: "1", Per: price.Once}}}})
	require.Empty(t, findings)
	return f
}

func TestAsks(t *testing.T) {
	f := whole(t)
	for kind, want := range map[form.Kind]bool{form.Person: true, form.File: true, form.Table: true, form.Choice: true, form.Belonging: false, form.Text: false} {
		assert.Equal(t, want, f.Asks(kind), kind)
	}
}

func TestFileQuestion(t *testing.T) {
	f := whole(t)
	for key, want := range map[string]bool{"papers.scan": true, "papers.kind": false, "papers": false, "papers.none": false, "who": false, "none.scan": false, "": false} {
		_, ok := f.FileQuestion(key)
		assert.Equal(t, want, ok, key)
	}
}

func TestFilesIn(t *testing.T) {
	f := whole(t)
	papers, _ := f.Question("papers")
	upload := map[string]any{"id": "u1", "name": "a.pdf", "type": "application/pdf", "size": 3.0}
	assert.Equal(t, []form.Upload{{ID: "u1", Name: "a.pdf", Type: "application/pdf", Size: 3}},
		form.FilesIn(papers, coretest.Answer([]any{map[string]any{"scan": []any{upload}, "kind": "x"}, map[string]any{}})))
	who, _ := f.Question("who")
	assert.Empty(t, form.FilesIn(who, coretest.Answer("ilse")))
	assert.Empty(t, form.FilesIn(papers, coretest.Answer("no rows")))
}

// Who can be looked up for a question: those its rule offers.
func TestOffers(t *testing.T) {
	f := whole(t)
	offers := func(key, login string) bool {
		p := person(login)
		return f.Offers(key, values(), rule.OfPerson(p, directory.Managers(p.ID)))
	}
	assert.False(t, offers("who", "ilse"), "the asker themselves")
	assert.False(t, offers("who", "kira"), "another department")
	assert.True(t, f.Offers("place", values(), form.LocationChoice("MV Grey Heron")))
	assert.False(t, f.Offers("place", values(), form.LocationChoice("Tower Quay")))
	keys, _ := directory.Team("keys")
	assert.True(t, f.Offers("crew", values(), form.TeamChoice(keys)), "no rule offers all")
	assert.False(t, f.Offers("none", values(), form.LocationChoice("MV Grey Heron")), "no such question")
}

func TestAlways(t *testing.T) {
	f, _ := compile(t, []form.Question{
		ask("a", form.Text, need("true")), ask("b", form.Text), ask("c", form.Text, need("true"), show(`answers.a == "x"`)),
		ask("d", form.Choices), ask("e", form.Text, need(`answers.a == "x"`)),
	}, price.List{})
	for key, want := range map[string]bool{"a": true, "b": false, "c": false, "d": true, "e": false, "none": false} {
		assert.Equal(t, want, f.Always(key), key)
	}
}

// How answers read for people, in the zone of the promise.
func TestShowInWords(t *testing.T) {
	f := whole(t)
	lisbon, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	for key, c := range map[string]struct {
		answer any
		want   string
	}{
		"who":    {"ilse", "Ilse Brandvik"},
		"crew":   {"keys", "Keys & Badges"},
		"at":     {"2027-07-01T10:00:00Z", "1 July 2027, 11:00 WEST"},
		"sum":    {"3.50", "EUR 3.50"},
		"when":   {"2027-03-12T09:00:00Z", "12 March 2027, 09:00 WET"},
		"papers": {[]any{map[string]any{"kind": "x", "by": "kira", "scan": []any{map[string]any{"id": "u", "name": "a.pdf"}}}}, "SCAN a.pdf, KIND X, BY Kira Matsuda"},
		"things": {[]any{map[string]any{"item": "card", "quantity": 2.0}}, "2 × Card"},
	} {
		assert.Equal(t, c.want, f.Show(key, coretest.Answer(c.answer), form.Facts{Company: directory}, lisbon), key)
	}
	headings, cells := f.Rows("papers", coretest.Answer([]any{map[string]any{"kind": "x", "by": "kira"}, map[string]any{"kind": "y"}}), form.Facts{Company: directory}, lisbon)
	assert.Equal(t, []string{"KIND", "BY"}, headings, "only columns with an answer")
	assert.Equal(t, [][]string{{"X", "Kira Matsuda"}, {"Y", ""}}, cells)
	headings, _ = f.Rows("who", coretest.Answer("ilse"), form.Facts{Company: directory}, lisbon)
	assert.Empty(t, headings, "of tables only")
	assert.Equal(t, "left long ago", f.Show("who", coretest.Answer("left long ago"), form.Facts{Company: directory}, lisbon), "whoever is not known any more")
}
