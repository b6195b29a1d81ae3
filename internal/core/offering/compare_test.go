package offering_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

// One difference at a time: where it is, and how it reads.
func TestCompare(t *testing.T) {
	for sentence, c := range map[string]struct {
		change func(d *offering.Document)
		place  string
	}{
		"The name changes from “Quay access badge” to “Badge”.":      {func(d *offering.Document) { d.Purpose.Name = "Badge" }, "/purpose/name"},
		"The keywords lose “door” and gain “gate”.":                  {func(d *offering.Document) { d.Purpose.Keywords = []string{"gate"} }, "/purpose/keywords"},
		"It is now put forward on the front page.":                   {func(d *offering.Document) { d.Purpose.Pick = true }, "/purpose/pick"},
		"Those may now ask of whom the asker's department is Fleet.": {func(d *offering.Document) { d.Audience.Ask = `asker.department == "Fleet"` }, "/audience/ask"},
		"Question “Why” is new, for when Port is Maravel.": {func(d *offering.Document) {
			d.Questions = append(d.Questions, form.Question{Key: "why", Kind: form.Text, Label: "Why", Show: `answers.port == "maravel"`})
		}, "/questions/5"},
		"Question “Reason” is gone.":                                {func(d *offering.Document) { d.Questions = append(d.Questions[:2], d.Questions[3:]...) }, "/questions/2"},
		"Question “Reason” is now required when Port is Sankt Orm.": {func(d *offering.Document) { d.Questions[2].Require = `answers.port == "orm"` }, "/questions/2/require"},
		"Question “Reason” is no longer required.":                  {func(d *offering.Document) { d.Questions[2].Require = "" }, "/questions/2/require"},
		"Question “Reason” is now always required.":                 {func(d *offering.Document) { d.Questions[2].Require = "true" }, "/questions/2/require"},
		"Question “Reason” is now always shown.":                    {func(d *offering.Document) { d.Questions[2].Show = "" }, "/questions/2/show"},
		"Question “Start” moves to the top.": {func(d *offering.Document) {
			d.Questions = append([]form.Question{d.Questions[3]}, append(d.Questions[:3:3], d.Questions[4:]...)...)
		}, "/questions/0"},
		"Question “Port”: the kind changes from “choice” to “text”.": {func(d *offering.Document) { d.Questions[0].Kind = form.Text }, "/questions/0/kind"},
		"Choice “Ilha Serena” of question “Port” is new.": {func(d *offering.Document) {
			d.Questions[0].Choices = append(d.Questions[0].Choices, form.Option{Key: "ilha", Label: "Ilha Serena"})
		}, "/questions/0/choices/2"},
		"Choice “Orm” of question “Port”: the label changes from “Sankt Orm” to “Orm”.": {func(d *offering.Document) { d.Questions[0].Choices[1].Label = "Orm" }, "/questions/0/choices/1/label"},
		"Question “Badge”: the items offered lose “Fob”.":                               {func(d *offering.Document) { d.Questions[4].Items = []string{"card"} }, "/questions/4/items"},
		"Section “Where” is new.":                                              {func(d *offering.Document) { d.Sections = []form.Section{{Key: "where", Name: "Where"}} }, "/sections/0"},
		"Item “Card”: the amount changes from “12.50” to “13.00”.":             {func(d *offering.Document) { d.Items.List[0].Price.Amount = "13.00" }, "/items/list/0/price/amount"},
		"The tax is now set.":                                                  {func(d *offering.Document) { d.Items.Tax = &price.Tax{Name: "VAT", Percent: "23"} }, "/items/tax"},
		"Rung 1 “Line manager”: the reminders gain “50”.":                      {func(d *offering.Document) { d.Ladder[0].Remind = []int{50} }, "/ladder/0/remind"},
		"Rung 1 “Line manager” now asks again who approved before.":            {func(d *offering.Document) { d.Ladder[0].Afresh = true }, "/ladder/0/afresh"},
		"Rung 2 “Safety” is new.":                                              {func(d *offering.Document) { d.Ladder = append(d.Ladder, ladder.Rung{Key: "safety", Name: "Safety"}) }, "/ladder/1"},
		"Rung 1 “Line manager” is now needed when Zones has any of Fuel dock.": {func(d *offering.Document) { d.Ladder[0].When = `answers.zones.exists(x, x in ["fuel"])` }, "/ladder/0/when"},
		"Approver 2 of rung 1 “Line manager” is new.": {func(d *offering.Document) {
			d.Ladder[0].Approvers = append(d.Ladder[0].Approvers, ladder.Source{Source: ladder.ServiceOwner})
		}, "/ladder/0/approvers/1"},
		"Task “Take photo”: the team changes from “keys” to “crew”.":  {func(d *offering.Document) { d.Plan[1].Team = "crew" }, "/plan/1/team"},
		"Task “Write badge”: the forerunners lose “Take photo”.":      {func(d *offering.Document) { d.Plan[2].After = []string{"safety"} }, "/plan/2/after"},
		"Task “Check safety record”: the answers shown gain “Start”.": {func(d *offering.Document) { d.Plan[0].Slice = append(d.Plan[0].Slice, "start") }, "/plan/0/slice"},
		"Task “Take photo” is gone.":                                  {func(d *offering.Document) { d.Plan = []plan.Task{d.Plan[0], d.Plan[2]} }, "/plan/1"},
		"The days to confirm is now “0”.":                             {func(d *offering.Document) { none := 0; d.Promise.ConfirmWithin = &none }, "/promise/confirmWithin"},
		"The picture is another.":                                     {func(d *offering.Document) { d.Purpose.Picture = "data:image/png;base64,AA==" }, "/purpose/picture"},
	} {
		t.Run(sentence, func(t *testing.T) {
			next := badge()
			c.change(&next)
			changes := offering.Compare(badge(), next)
			require.Len(t, changes, 1, "%+v", changes)
			assert.Equal(t, sentence, changes[0].Sentence)
			assert.Equal(t, c.place, changes[0].Place)
		})
	}
}

func TestTheSameIsNoChange(t *testing.T) {
	assert.Empty(t, offering.Compare(badge(), badge()))
}

// Worked by hand: two people change a draft at once.
func TestMerge(t *testing.T) {
	base := badge()
	label := func(to string) func(*offering.Document) {
		return func(d *offering.Document) { d.Questions[3].Label = to }
	}
	add := func(key string, at int) func(*offering.Document) {
		return func(d *offering.Document) {
			q := form.Question{Key: key, Kind: form.Text, Label: key}
			d.Questions = append(d.Questions[:at:at], append([]form.Question{q}, d.Questions[at:]...)...)
		}
	}
	drop := func(d *offering.Document) { d.Questions = append(d.Questions[:3:3], d.Questions[4:]...) }
	keys := func(d offering.Document) string {
		out := ""
		for _, q := range d.Questions {
			out += q.Key + " "
		}
		return out
	}
	for name, c := range map[string]struct {
		mine, theirs func(*offering.Document)
		keys         string
		conflicts    []string
	}{
		"different things":        {label("From"), func(d *offering.Document) { d.Purpose.Name = "Badge" }, "port zones reason start badge ", nil},
		"the same, alike":         {label("From"), label("From"), "port zones reason start badge ", nil},
		"the same, otherwise":     {label("From"), label("Until"), "port zones reason start badge ", []string{"/questions/3/label"}},
		"both add":                {add("mine", 5), add("theirs", 1), "port theirs zones reason start badge mine ", nil},
		"both add at one place":   {add("mine", 1), add("theirs", 1), "port theirs mine zones reason start badge ", nil},
		"I drop, they change":     {drop, label("Until"), "port zones reason start badge ", []string{"/questions/3"}},
		"I change, they drop":     {label("From"), drop, "port zones reason start badge ", []string{"/questions/3"}},
		"I drop, they keep":       {drop, func(*offering.Document) {}, "port zones reason badge ", nil},
		"both drop":               {drop, drop, "port zones reason badge ", nil},
		"they drop, I keep":       {func(*offering.Document) {}, drop, "port zones reason badge ", nil},
		"one question, two sides": {label("From"), func(d *offering.Document) { d.Questions[3].Help = "When?" }, "port zones reason start badge ", nil},
	} {
		t.Run(name, func(t *testing.T) {
			mine, theirs := badge(), badge()
			c.mine(&mine)
			c.theirs(&theirs)
			merged, conflicts, err := offering.Merge(base, mine, theirs)
			require.NoError(t, err)
			assert.Equal(t, c.keys, keys(merged))
			assert.Equal(t, c.conflicts, conflicts)
		})
	}
}

func TestMergeWithNobodyElseIsMine(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		mine := badge()
		mine.Purpose.Name = rapid.StringMatching(`[a-z]{0,5}`).Draw(t, "name")
		mine.Questions = rapid.Permutation(mine.Questions).Draw(t, "order")
		mine.Plan = mine.Plan[:rapid.IntRange(0, 3).Draw(t, "tasks")]
		for _, pair := range [][2]offering.Document{{mine, badge()}, {badge(), mine}} {
			merged, conflicts, err := offering.Merge(badge(), pair[0], pair[1])
			require.NoError(t, err)
			assert.Empty(t, conflicts)
			want, _ := json.Marshal(mine)
			got, _ := json.Marshal(merged)
			assert.Equal(t, string(want), string(got))
		}
	})
}
