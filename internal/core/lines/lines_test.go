package lines_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/coretest"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/lines"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
)

func around(d offering.Document) lines.Around {
	company := coretest.Company()
	return lines.Around{Document: d, Company: company.Directory, Connectors: company.Connectors}
}

// part is what a line made, as JSON.
func part(t testing.TB, l lines.Line) string {
	for _, p := range []any{l.Section, l.Question, l.Item, l.Extra, l.Rung, l.Task} {
		text, err := json.Marshal(p)
		require.NoError(t, err)
		if string(text) != "null" {
			return string(text)
		}
	}
	return ""
}

// What each line makes, beside the badge, and how it is read back.
func TestLines(t *testing.T) {
	for _, c := range []struct {
		side             lines.Side
		line, part, word string
	}{
		{lines.Questions, "Port *: Maravel | Sankt Orm", `{"key":"port2","kind":"choice","label":"Port","choices":[{"key":"maravel","label":"Maravel"},{"key":"sanktOrm","label":"Sankt Orm"}],"require":"true"}`, "One choice, needed, Maravel | Sankt Orm"},
		{lines.Questions, "  - Colours: several of Red | Blå | ", `{"key":"colours","kind":"choices","label":"Colours","choices":[{"key":"red","label":"Red"},{"key":"bla","label":"Blå"}]}`, "Several choices, Red | Blå"},
		{lines.Questions, "Sign-on date *: date from today+5 (The first watch)", `{"key":"signonDate","kind":"date","label":"Sign-on date","help":"The first watch","min":"today+5","require":"true"}`, "Date, needed, from today+5, help: The first watch"},
		{lines.Questions, "Crew: number 1 to 10", `{"key":"crew","kind":"number","label":"Crew","min":"1","max":"10"}`, "Number, 1 to 10"},
		{lines.Questions, "Budget: money up to 500", `{"key":"budget","kind":"money","label":"Budget","max":"500"}`, "Sum of money, up to 500"},
		{lines.Questions, "Photo: file", `{"key":"photo","kind":"file","label":"Photo"}`, "File"},
		{lines.Questions, "Badges *: items", `{"key":"badges","kind":"items","label":"Badges","items":["card","fob"],"require":"true"}`, "Item pick, needed"},
		{lines.Questions, "Papers: table of Number * | Valid until: date", `{"key":"papers","kind":"table","label":"Papers","columns":[{"key":"number","kind":"text","label":"Number","require":"true"},{"key":"validUntil","kind":"date","label":"Valid until"}]}`, "Table, Number (short text, needed) | Valid until (date)"},
		{lines.Questions, "Is it urgent?", `{"key":"isItUrgent","kind":"yesNo","label":"Is it urgent?"}`, "Yes or no"},
		{lines.Questions, "Why do you need it?", `{"key":"whyDoYouNeed","kind":"longText","label":"Why do you need it?"}`, "Long text"},
		{lines.Questions, "From which day?", `{"key":"fromWhichDay","kind":"date","label":"From which day?"}`, "Date"},
		{lines.Questions, "Number plate", `{"key":"numberPlate","kind":"text","label":"Number plate"}`, "Short text"},
		{lines.Questions, "Licence: text, when Zones has Fuel dock", `{"key":"licence","kind":"text","label":"Licence","show":"answers.zones.exists(x, x in [\"fuel\"])"}`, "Short text, when Zones has Fuel dock"},
		{lines.Questions, "Gate\tone choice of\tA", "", ""},
		{lines.Questions, "## Papers", `{"key":"papers","name":"Papers","page":true}`, "A section that begins a page"},

		{lines.Items, "Key fob, 2.00 a month, at most 3", `{"key":"keyFob","name":"Key fob","price":{"amount":"2.00","per":"month"},"max":3}`, "Item, EUR 2.00 a month, at most 3"},
		{lines.Items, "Uniform, 145, Size: S | M | L +5.00, under Clothes", `{"key":"uniform","name":"Uniform","group":"Clothes","price":{"amount":"145.00","per":"once"},"options":[{"key":"size","name":"Size","require":true,"choices":[{"key":"s","name":"S"},{"key":"m","name":"M"},{"key":"l","name":"L","amount":"5.00"}]}]}`, "Item, EUR 145.00, Size: S | M | L, under “Clothes”"},
		{lines.Items, "Cabin, free", `{"key":"cabin","name":"Cabin","price":{"amount":"0","per":"once"}}`, "Item, costs nothing"},
		{lines.Items, "Line, NOK 80 monthly, when department is Fleet", `{"key":"line","name":"Line","price":{"amount":"80.00","per":"month","currency":"NOK"},"when":"asker.department == \"Fleet\""}`, "Item, NOK 80.00 a month, when department is Fleet"},
		{lines.Items, "+ Mount, 15.00", `{"key":"mount","name":"Mount","price":{"amount":"15.00","per":"once"},"fits":["fob"]}`, "Extra that fits Fob, EUR 15.00"},

		{lines.Ladder, "line manager", `{"key":"lineManager","name":"Line manager","approvers":[{"source":"lineManager"}],"quorum":"any"}`, "Decided by line manager"},
		{lines.Ladder, "Safety: lead of Keys & Badges and lead of Crewing, all of them, within 2d, then it is declined", `{"key":"safety","name":"Safety","approvers":[{"source":"teamLead","team":"keys"},{"source":"teamLead","team":"crew"}],"quorum":"all","limit":"2d","then":"decline"}`, "Decided by lead of Keys & Badges and lead of Crewing, all of them, within 2d, then it is declined"},
		{lines.Ladder, "all of Keys, 60 % of them", `{"key":"allOfKeys","name":"All of Keys","approvers":[{"source":"team","team":"keys"}],"quorum":"60%"}`, "Decided by all of Keys, 60 % of them"},
		{lines.Ladder, "Olga Ferreira, when cost is more than 500", `{"key":"olgaFerreira","name":"Olga Ferreira","when":"cost.firstYear \u003e money(\"500\")","approvers":[{"source":"person","person":"olga"}],"quorum":"any"}`, "Decided by Olga Ferreira, when cost is more than 500"},
		{lines.Ladder, "manager 2 up", `{"key":"manager2Up","name":"Manager 2 up","approvers":[{"source":"manager","level":2}],"quorum":"any"}`, "Decided by manager 2 up"},
		{lines.Ladder, "Øyvind", "", ""},

		{lines.Plan, "Print it, Crewing, 2h, after Check safety record, sees Port and Zones", `{"key":"printIt","name":"Print it","kind":"manual","team":"crew","after":["safety"],"effort":"2h","slice":["port","zones"]}`, "Crewing, 2h of work, after Check safety record, sees Port and Zones"},
		{lines.Plan, "Print it", `{"key":"printIt","name":"Print it","kind":"manual","team":"keys","after":["write"]}`, "Keys & Badges, after Write badge, sees no answer"},
		{lines.Plan, "Print it, at once, due 1d, sees all", `{"key":"printIt","name":"Print it","kind":"manual","team":"keys","slice":["port","zones","reason","start","badge"],"due":{"within":"1d"}}`, "Keys & Badges, begins at once, due within 1d, sees all answers"},
		{lines.Plan, "Print it, due within 2d", `{"key":"printIt","name":"Print it","kind":"manual","team":"keys","after":["write"],"due":{"within":"2d"}}`, "Keys & Badges, due within 2d, after Write badge, sees no answer"},
		{lines.Plan, "Hand each out, each of Badge, after Take photo and Write badge", `{"key":"handEachOut","name":"Hand each out","kind":"manual","team":"keys","after":["photo","write"],"each":"badge"}`, "Keys & Badges, one for each of Badge, after Take photo and Write badge, sees no answer"},
		{lines.Plan, "Again, by badge system: write a badge, when Port is Sankt Orm", `{"key":"again","name":"Again","kind":"automatic","team":"keys","after":["write"],"when":"answers.port == \"orm\"","action":{"connector":"badges","do":"write"}}`, "By itself, Keys & Badges helps when it is stuck, Badge system: Write a badge, after Write badge, when Port is Sankt Orm"},
	} {
		read := lines.Read(c.side, c.line, around(coretest.Badge()))
		require.Len(t, read, 1, c.line)
		assert.Equal(t, c.part, part(t, read[0]), c.line)
		assert.Equal(t, c.word, read[0].Words, c.line)
		assert.Equal(t, c.part == "", len(read[0].Problems) > 0, "%s: %v", c.line, read[0].Problems)
	}
}

// harbour is the badge with a question of each kind that a condition can be about, in the small
// company with a few places and cost centres.
func harbour() lines.Around {
	d := coretest.Badge()
	for key, kind := range map[string]form.Kind{
		"ship": form.Text, "crew": form.Number, "budget": form.Money, "sails": form.DateTime, "urgent": form.YesNo, "mate": form.Person, "shift": form.Team, "berth": form.Location, "payer": form.Centre,
	} {
		d.Questions = append(d.Questions, form.Question{Key: key, Kind: kind, Label: strings.ToUpper(key[:1]) + key[1:]})
	}
	company := coretest.Company()
	records := company.Directory.Records()
	records.Locations = []people.Location{{Name: "Tower Quay"}, {Name: "MV Grey Heron"}}
	records.CostCentres = []people.CostCentre{{Key: "CC-4100", Name: "MV Tern Dancer"}, {Key: "CC-4110", Name: "MV Grey Heron"}}
	return lines.Around{Document: d, Company: people.NewDirectory(records), Connectors: company.Connectors}
}

// Each way to compare, on each kind of question, as a rule.
func TestConditions(t *testing.T) {
	for condition, want := range map[string]string{
		"Port is Maravel":                     `answers.port == "maravel"`,
		"Port is not Maravel":                 `answers.port != "maravel"`,
		"Port has no Maravel":                 `answers.port != "maravel"`,
		"Port is one of Maravel or Sankt Orm": `answers.port in ["maravel", "orm"]`,
		"Port is none of Maravel; Sankt Orm":  `!(answers.port in ["maravel", "orm"])`,
		"Zones has Fuel dock or Offices":      `answers.zones.exists(x, x in ["fuel", "office"])`,
		"Zones has none of Fuel dock":         `!answers.zones.exists(x, x in ["fuel"])`,
		"Zones is empty":                      `!has(answers.zones)`,
		"Reason is answered":                  `has(answers.reason)`,
		"Badge has Fob":                       `answers.badge.exists(x, x.item in ["fob"])`,
		"Badge has no Card":                   `!answers.badge.exists(x, x.item in ["card"])`,
		"Ship is Heron":                       `answers.ship == "Heron"`,
		"Ship is one of Heron or “Tern”":      `answers.ship in ["Heron", "Tern"]`,
		"Crew is at least 3":                  `answers.crew >= 3`,
		"Crew is less than 12":                `answers.crew < 12`,
		"Budget is more than 500":             `answers.budget > money("500")`,
		"Budget is at most 20":                `answers.budget <= money("20")`,
		"Start is before 2027-04-01":          `answers.start < date("2027-04-01")`,
		"Start is not before today":           `answers.start >= today`,
		"Sails is answered":                   `has(answers.sails)`,
		"Urgent is yes":                       `answers.urgent == true`,
		"Urgent is no":                        `answers.urgent == false`,
		"Mate is empty":                       `!has(answers.mate)`,
		"Shift is Keys & Badges":              `answers.shift == "keys"`,
		"Shift is not crew":                   `answers.shift != "crew"`,
		"Berth is tower quay":                 `answers.berth == "Tower Quay"`,
		"Payer is MV Tern Dancer":             `answers.payer == "CC-4100"`,
		"Payer is CC-4110 or MV Tern":         `answers.payer in ["CC-4110", "CC-4100"]`,
		"department is Fleet":                 `asker.department == "Fleet"`,
		"place is not Tower Quay":             `asker.location != "Tower Quay"`,
		"cost a month is at least 50":         `cost.monthly >= money("50")`,
		"cost is more than 9 and Crew is 2":   `cost.firstYear > money("9") && answers.crew == 2`,
	} {
		read := lines.Read(lines.Ladder, "line manager, when "+condition, harbour())
		require.Len(t, read, 1, condition)
		if assert.Empty(t, read[0].Problems, condition) {
			assert.Equal(t, want, read[0].Rung.When, condition)
			around := harbour()
			around.Document.Ladder = append(around.Document.Ladder, *read[0].Rung)
			_, findings := offering.Compile(around.Document, 1, offering.Company{Directory: around.Company, Connectors: around.Connectors})
			assert.False(t, findings.HasErrors(), "%s: %v", condition, findings)
		}
	}
	for condition, says := range map[string]string{
		"Mate is Ilse Brandvik":   `"Mate" can only be answered or empty here.`,
		"Sails is after noon":     `"Sails" can only be answered or empty here.`,
		"Shift is Sailors":        `"Sailors" cannot be chosen there.`,
		"Berth is the moon":       `"the moon" cannot be chosen there.`,
		"Payer is MV":             `"MV" cannot be chosen there.`,
		"Urgent is perhaps":       `"perhaps" cannot be chosen there.`,
		"Badge is more than Fob":  "These cannot be compared so.",
		"Ship has Heron":          "These cannot be compared so.",
		"Reason is answered well": `"well" is too much here.`,
		`Ship is ""`:              "It is not said with what to compare.",
		"Tide is high":            `No question goes by "Tide", and no fact such as cost or department.`,
		"Zones":                   "Write a condition such as",
		"is 5":                    "Write a condition such as",
	} {
		read := lines.Read(lines.Ladder, "line manager, when "+condition, harbour())
		require.Len(t, read, 1, condition)
		if assert.NotEmpty(t, read[0].Problems, condition) {
			assert.Contains(t, read[0].Problems[0].Sentence, says, condition)
		}
		assert.Nil(t, read[0].Rung, "nothing is half made")
	}
}

// What is not understood is told with its words.
func TestWhatIsNotUnderstood(t *testing.T) {
	for _, c := range []struct {
		side             lines.Side
		line, part, says string
	}{
		{lines.Questions, "Port: harbour", "harbour", `"harbour" is no kind of answer.`},
		{lines.Questions, ": date", ": date", "A question needs words before the colon."},
		{lines.Questions, "Port: choice", "choice", "Say what can be chosen"},
		{lines.Questions, "Name: text 1 to 10", "1 to 10", "Only numbers, money and dates have such limits."},
		{lines.Questions, "Why?, when Colour is red", "Colour is red", `No question goes by "Colour"`},
		{lines.Questions, "Why?, when Zones has Moon", "Zones has Moon", `"Moon" cannot be chosen there.`},
		{lines.Questions, "Why?, when cost is dear", "cost is dear", ""},
		{lines.Questions, "#", "#", "A section needs a heading."},
		{lines.Items, "Card, dear", "dear", `"dear" is neither a price`},
		{lines.Items, "Card, 12.505", "12.505", ""},
		{lines.Items, "Card, Size: S", "Size: S", "Write a choice within an item as"},
		{lines.Ladder, "the harbour master", "the harbour master", `Nobody is found by "the harbour master".`},
		{lines.Ladder, "Gone Away", "Gone Away", "Nobody is found"},
		{lines.Ladder, "line manager, soon", "soon", `"soon" is neither`},
		{lines.Ladder, "line manager, within soon", "soon", "is no length of working time"},
		{lines.Plan, "Print it, Printers", "Printers", `"Printers" is neither a team`},
		{lines.Plan, "Print it, after Nothing", "Nothing", `No task goes by "Nothing".`},
		{lines.Plan, "Print it, sees Moon", "Moon", `No question goes by "Moon".`},
		{lines.Plan, "Print it, by magic", "magic", `No system does "magic".`},
	} {
		read := lines.Read(c.side, c.line, around(coretest.Badge()))
		require.Len(t, read, 1, c.line)
		if c.line == "Why?, when cost is dear" { // read as it stands, and found by the examination
			continue
		}
		require.NotEmpty(t, read[0].Problems, c.line)
		assert.Equal(t, c.part, read[0].Problems[0].Part, c.line)
		assert.Contains(t, read[0].Problems[0].Sentence, c.says, c.line)
		assert.Contains(t, c.line, c.part, "the words are those of the line")
		assert.Empty(t, part(t, read[0]), "nothing is half made")
	}
}

// put adds to a document what lines made, as the desk does.
func put(d *offering.Document, read []lines.Line) {
	for _, l := range read {
		switch {
		case l.Section != nil:
			d.Sections = append(d.Sections, *l.Section)
		case l.Question != nil:
			d.Questions = append(d.Questions, *l.Question)
		case l.Item != nil:
			d.Items.List = append(d.Items.List, *l.Item)
		case l.Extra != nil:
			d.Items.Extras = append(d.Items.Extras, *l.Extra)
		case l.Rung != nil:
			d.Ladder = append(d.Ladder, *l.Rung)
		case l.Task != nil:
			d.Plan = append(d.Plan, *l.Task)
		}
	}
}

// A whole offering is pasted from nothing, each line naming those before it, and
// has nothing to mend.
func TestAWholeOfferingInLines(t *testing.T) {
	d := offering.New("gangway", "Gangway badge", "access", "EUR", "Europe/Lisbon")
	d.Purpose.Text, d.Purpose.Keywords = "A badge for the gangway.", []string{"door"}
	for _, side := range []struct {
		side  lines.Side
		lines string
	}{
		{lines.Items, "Card, 12.50\n+ Holder, 3.00\nFob, 2.00 a month, Colour: Red | Blue"},
		{lines.Questions, "# Where\nPort *: Maravel | Sankt Orm\nZones *: several of Offices | Fuel dock\n\nReason: long text, when Zones has Fuel dock\n# When\nStart *: date from today\nWhich badge? *: items\nNight shifts?: yes or no\nNights: number 1 to 31, when Night shifts is yes"},
		{lines.Ladder, "Line manager, within 2d\nSafety: lead of Crewing, when Zones has Fuel dock and Port is Maravel\nOwner of the service, when cost is more than 20"},
		{lines.Plan, "Check the record, Crewing, 1h, sees Zones and Reason, when Zones has Fuel dock\nTake the photo, 30m, at once\nHand it over, Keys & Badges, 1h, after Check the record and Take the photo, sees all"},
	} {
		read := lines.Read(side.side, side.lines, around(d))
		for _, l := range read {
			require.Empty(t, l.Problems, l.Text)
		}
		put(&d, read)
	}
	_, findings := offering.Compile(d, 1, coretest.Company())
	for _, f := range findings {
		assert.NotEqual(t, finding.Error, f.Severity, "%s: %s", f.Place, f.Sentence)
	}
	assert.Equal(t, []string{"where", "where", "where", "when", "when"}, []string{d.Questions[0].Section, d.Questions[1].Section, d.Questions[2].Section, d.Questions[3].Section, d.Questions[4].Section})
	assert.Equal(t, []string{"checkTheRecord", "takeThePhoto"}, d.Plan[2].After)
	assert.Equal(t, []string{"card"}, d.Items.Extras[0].Fits)
}

var sides = []lines.Side{lines.Questions, lines.Items, lines.Ladder, lines.Plan}

// Whatever is typed, each line makes one part or tells why not, with words of
// the line; keys are good and each is there once.
func FuzzLines(f *testing.F) {
	for _, seed := range []string{"Port *: Maravel | Sankt Orm", "# A", "a, when b is c", "+ x, 1", "Å:|", "x, Size: S | M +1", "lead of Crewing and, 200 % of them", "a\tb\tc", "q: table of a | b: table of c | d", "P, after , sees  and ", "w: number 1 to"} {
		for side := range sides {
			f.Add(byte(side), seed)
		}
	}
	f.Fuzz(func(t *testing.T, side byte, text string) {
		d := coretest.Badge()
		read := lines.Read(sides[int(side)%len(sides)], text, around(d))
		for _, l := range read {
			assert.Equal(t, len(l.Problems) == 0, part(t, l) != "", l.Text)
			assert.Equal(t, len(l.Problems) == 0, l.Words != "", l.Text)
		}
		put(&d, read)
		all := map[string]bool{}
		for _, q := range d.Questions {
			assert.Regexp(t, `^[a-z][a-zA-Z0-9]{0,59}$`, q.Key)
			assert.False(t, all[q.Key], "%s is there twice", q.Key)
			all[q.Key] = true
		}
		_, findings := offering.Compile(d, 1, coretest.Company())
		for _, f := range findings {
			assert.NotEqual(t, finding.BadKey, f.Code)
			assert.NotEqual(t, finding.DuplicateKey, f.Code)
		}
	})
}
