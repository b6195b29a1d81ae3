package measure

import (
	"math"
	"slices"

	"heptad/internal/core/request"
)

// chunkSize is how many numbers of requests one chunk is for. A change makes the chunk anew,
// so that who reads the old one goes on undisturbed.
const chunkSize = 4096

// Columns of requests, of 32 bits.
const (
	cSent = iota
	cDelivered
	cClosed
	cDue
	cWhat
	cWho
	cHow
	cWork
	cAsker
	cUsed
	cDeciding
	cAsking
	cWaiting
	cResponse
	cHand
	cCost // with the next one 64 bits, of the organisation's currency
	cCostHigh
	cReal
	cRealHigh
	columns32
)

// Columns of requests, of 8 bits.
const (
	cOutcome = iota // its place in All, 0 for none
	cStatus         // its place in All
	cKept           // its place in kepts
	cFlags
	cBacks
	cAsked
	cPeople
	cSystems
	columns8
)

// Flags of a request.
const (
	hasLikely = 1 << iota
	byLikely
	bySure
	hasResponse
	respondedInTime
	everStuck
	hasReal
	otherCurrency
)

// Columns of tasks, of 32 bits.
const (
	tJob = iota
	tPerson
	tEnded
	tWaited
	tWorked
	tHand
	tLate // noDue when it had no due time
	tColumns
)

// noDue is the lateness of what was never due.
const noDue = math.MaxUint32

// How a task ended, with flags.
const (
	taskOpen = iota
	taskDone
	taskLeft     // left out by staff, or stopped with the request
	taskHow      = 3
	taskBySystem = 4
	taskStuck    = 8
	taskHanded   = 16
)

// Columns of spells, of 32 bits.
const (
	sFrom = iota
	sLate
	sColumns
)

// spellPaused is added to the status of a spell whose clock stands still.
const spellPaused = 16

// Columns of ratings, rungs and votes, of 32 bits.
const (
	rPerson = iota
	rStars
	rColumns
)
const (
	gRung = iota
	gEnded
	gOpen
	gPassed
	gColumns
)

// chunk holds the facts of the requests of some numbers, by number. It never changes.
type chunk struct {
	number []uint16 // less the first of the chunk
	c32    [columns32][]uint32
	c8     [columns8][]uint8

	taskRow  []uint16 // place of its request in the chunk
	task     [tColumns][]uint32
	taskTeam []uint16
	taskHow  []uint8

	spellRow    []uint16
	spell       [sColumns][]uint32
	spellTeams  []uint16
	spellStatus []uint8

	ratingRow []uint16
	rating    [rColumns][]uint32

	rungRow []uint16
	rung    [gColumns][]uint32

	first, last uint32 // instant of the first sending, and of the last that anything ended
	open        bool   // some are not closed
}

var kepts = []Kept{NonePromised, KeptInTime, KeptLate, KeptOver}

// merged is a chunk with some facts added, or in place of those that are there.
func (old *chunk) merged(d *dicts, currency string, facts []Facts) *chunk {
	if old == nil {
		old = &chunk{}
	}
	slices.SortFunc(facts, func(a, b Facts) int { return int(a.Request.Number - b.Request.Number) })
	made := &chunk{}
	made.grow(old, facts)
	at := reader{chunk: old}
	i := 0
	for row, number := range old.number {
		for i < len(facts) && offsetOf(facts[i].Request.Number) < number {
			made.add(d, currency, &facts[i])
			i++
		}
		if i < len(facts) && offsetOf(facts[i].Request.Number) == number {
			made.add(d, currency, &facts[i])
			i++
			at.skip(row)
			continue
		}
		made.copy(&at, row)
	}
	for ; i < len(facts); i++ {
		made.add(d, currency, &facts[i])
	}
	made.bound()
	return made
}

// offsetOf is a number less the first of its chunk.
func offsetOf(number int64) uint16 { return uint16(number % chunkSize) }

// grow makes room for what will be there.
func (c *chunk) grow(old *chunk, facts []Facts) {
	rows, tasks, spells, ratings, rungs := len(old.number)+len(facts), len(old.taskRow), len(old.spellRow), len(old.ratingRow), len(old.rungRow)
	for i := range facts {
		f := &facts[i]
		tasks, spells, ratings, rungs = tasks+len(f.Tasks), spells+len(f.Spells)+1, ratings+len(f.Ratings), rungs+len(f.Rungs)
	}
	c.number = make([]uint16, 0, rows)
	for i := range c.c32 {
		c.c32[i] = make([]uint32, 0, rows)
	}
	for i := range c.c8 {
		c.c8[i] = make([]uint8, 0, rows)
	}
	c.taskRow, c.taskTeam, c.taskHow = make([]uint16, 0, tasks), make([]uint16, 0, tasks), make([]uint8, 0, tasks)
	for i := range c.task {
		c.task[i] = make([]uint32, 0, tasks)
	}
	c.spellRow, c.spellTeams, c.spellStatus = make([]uint16, 0, spells), make([]uint16, 0, spells), make([]uint8, 0, spells)
	for i := range c.spell {
		c.spell[i] = make([]uint32, 0, spells)
	}
	c.ratingRow, c.rungRow = make([]uint16, 0, ratings), make([]uint16, 0, rungs)
	for i := range c.rating {
		c.rating[i] = make([]uint32, 0, ratings)
	}
	for i := range c.rung {
		c.rung[i] = make([]uint32, 0, rungs)
	}
}

// reader goes through what belongs to the rows of a chunk, in their order.
type reader struct {
	*chunk
	tasks, spells, ratings, rungs int
}

// upTo moves over those of the list that belong to a row, and gives where they begin and end.
func upTo(rows []uint16, at *int, row int) (from, until int) {
	from = *at
	for *at < len(rows) && int(rows[*at]) == row {
		*at++
	}
	return from, *at
}

func (r *reader) skip(row int) {
	upTo(r.taskRow, &r.tasks, row)
	upTo(r.spellRow, &r.spells, row)
	upTo(r.ratingRow, &r.ratings, row)
	upTo(r.rungRow, &r.rungs, row)
}

// copy adds a row of another chunk.
func (c *chunk) copy(r *reader, row int) {
	to := uint16(len(c.number))
	c.number = append(c.number, r.number[row])
	for i := range c.c32 {
		c.c32[i] = append(c.c32[i], r.c32[i][row])
	}
	for i := range c.c8 {
		c.c8[i] = append(c.c8[i], r.c8[i][row])
	}
	from, until := upTo(r.taskRow, &r.tasks, row)
	c.taskRow = append(c.taskRow, repeated(to, until-from)...)
	c.taskTeam = append(c.taskTeam, r.taskTeam[from:until]...)
	c.taskHow = append(c.taskHow, r.taskHow[from:until]...)
	for i := range c.task {
		c.task[i] = append(c.task[i], r.task[i][from:until]...)
	}
	from, until = upTo(r.spellRow, &r.spells, row)
	c.spellRow = append(c.spellRow, repeated(to, until-from)...)
	c.spellTeams = append(c.spellTeams, r.spellTeams[from:until]...)
	c.spellStatus = append(c.spellStatus, r.spellStatus[from:until]...)
	for i := range c.spell {
		c.spell[i] = append(c.spell[i], r.spell[i][from:until]...)
	}
	from, until = upTo(r.ratingRow, &r.ratings, row)
	c.ratingRow = append(c.ratingRow, repeated(to, until-from)...)
	for i := range c.rating {
		c.rating[i] = append(c.rating[i], r.rating[i][from:until]...)
	}
	from, until = upTo(r.rungRow, &r.rungs, row)
	c.rungRow = append(c.rungRow, repeated(to, until-from)...)
	for i := range c.rung {
		c.rung[i] = append(c.rung[i], r.rung[i][from:until]...)
	}
}

func repeated(row uint16, n int) []uint16 {
	all := make([]uint16, n)
	for i := range all {
		all[i] = row
	}
	return all
}

// small is a number as a column holds it: none is below zero, and none too large.
func small(n int64) uint32 { return uint32(max(0, min(n, math.MaxUint32-1))) }

// tiny likewise.
func tiny(n int) uint8 { return uint8(max(0, min(n, math.MaxUint8))) }

func flag(is bool, f uint8) uint8 {
	if is {
		return f
	}
	return 0
}

// add adds the facts of a request, as the last row.
func (c *chunk) add(d *dicts, currency string, f *Facts) {
	r, row := &f.Request, uint16(len(c.number))
	c.number = append(c.number, offsetOf(r.Number))
	var done []taskOfTeam
	for _, t := range f.Tasks {
		code := taskOfTeam{d.job.code(job{r.Offering, t.Of, t.Kind, t.Connector}), d.team.code(t.Team)}
		done = append(done, code)
		c.addTask(d, row, code, t)
	}
	cost, real, other := r.Cost, r.Real, r.Currency != "" && r.Currency != currency
	if other {
		cost, real = 0, 0
	}
	for i, value := range [columns32]uint32{
		cSent: small(r.Sent), cDelivered: small(r.Delivered), cClosed: small(r.Closed), cDue: small(r.Due),
		cWhat: d.what.code(what{r.Offering, r.Service, r.Version}), cWho: d.who.code(who{r.Department, r.Location, r.CostCentre, r.Employment}),
		cHow: d.how.code(how{r.Channel, r.Door, r.Speed, r.Impact, r.Urgency}), cWork: d.workOf(done), cAsker: d.person.code(r.Asker),
		cUsed: small(r.Used), cDeciding: small(r.Deciding), cAsking: small(r.Asking), cWaiting: small(r.Waiting), cResponse: small(r.ResponseUsed), cHand: small(r.Hand),
		cCost: uint32(cost), cCostHigh: uint32(cost >> 32), cReal: uint32(real), cRealHigh: uint32(real >> 32),
	} {
		c.c32[i] = append(c.c32[i], value)
	}
	flags := flag(r.Likely > 0 && r.Delivered > 0, hasLikely) | flag(r.Delivered <= r.Likely, byLikely) | flag(r.Delivered <= r.Sure, bySure) |
		flag(r.ResponseTarget > 0, hasResponse) | flag(r.ResponseUsed <= r.ResponseTarget, respondedInTime) |
		flag(r.Stuck, everStuck) | flag(r.RealKnown && !other, hasReal) | flag(other, otherCurrency)
	for i, value := range [columns8]uint8{
		cOutcome: uint8(slices.Index(r.Outcome.All(), r.Outcome) + 1), cStatus: uint8(slices.Index(r.Status.All(), r.Status)), cKept: uint8(slices.Index(kepts, r.Kept)),
		cFlags: flags, cBacks: tiny(r.Backs), cAsked: tiny(r.Asked), cPeople: tiny(r.ByPeople), cSystems: tiny(r.BySystems),
	} {
		c.c8[i] = append(c.c8[i], value)
	}
	c.addSpells(d, row, f.Spells, r.Closed)
	for _, x := range f.Ratings {
		c.ratingRow = append(c.ratingRow, row)
		for i, value := range [rColumns]uint32{rPerson: d.person.code(x.Person), rStars: small(int64(x.Stars))} {
			c.rating[i] = append(c.rating[i], value)
		}
	}
	for _, x := range f.Rungs {
		c.rungRow = append(c.rungRow, row)
		for i, value := range [gColumns]uint32{gRung: d.rung.code(rungOf{r.Offering, x.Rung}), gEnded: small(x.Ended), gOpen: small(x.Open), gPassed: uint32(flag(x.Outcome == "passed", 1))} {
			c.rung[i] = append(c.rung[i], value)
		}
	}
}

func (c *chunk) addTask(d *dicts, row uint16, of taskOfTeam, t Task) {
	late := uint32(noDue)
	if t.Due > 0 {
		late = small(t.Late)
	}
	c.taskRow = append(c.taskRow, row)
	for i, value := range [tColumns]uint32{
		tJob: of.Job, tPerson: d.person.code(t.Person), tEnded: small(t.Ended), tWaited: small(t.Waited), tWorked: small(t.Worked), tHand: small(t.Hand), tLate: late,
	} {
		c.task[i] = append(c.task[i], value)
	}
	c.taskTeam = append(c.taskTeam, uint16(of.Team))
	ended := uint8(taskOpen)
	switch t.How {
	case "done", "undone":
		ended = taskDone
	case "skipped", "stopped":
		ended = taskLeft
	}
	c.taskHow = append(c.taskHow, ended|flag(t.Kind == "automatic" && t.Person == "", taskBySystem)|flag(t.Stuck, taskStuck)|flag(t.Handed > 0, taskHanded))
}

// addSpells adds the spells of a request. Each lasts until the next begins: where it does
// not, as the request was closed, one that is closed stands for that.
func (c *chunk) addSpells(d *dicts, row uint16, spells []Spell, closed int64) {
	add := func(from, late int64, teams string, status uint8) {
		c.spellRow = append(c.spellRow, row)
		c.spell[sFrom] = append(c.spell[sFrom], small(from))
		c.spell[sLate] = append(c.spell[sLate], small(late))
		c.spellTeams = append(c.spellTeams, uint16(d.set.code(teams)))
		c.spellStatus = append(c.spellStatus, status)
	}
	statuses := request.Draft.All()
	over := uint8(slices.Index(statuses, request.Closed))
	for i, s := range spells {
		add(s.From, s.Late, s.Teams, uint8(slices.Index(statuses, s.Status))|flag(s.Paused, spellPaused))
		if s.Until > 0 && (i+1 == len(spells) || spells[i+1].From > s.Until) {
			add(s.Until, 0, "", over)
		}
	}
}

// bound notes between which instants anything of the chunk lies.
func (c *chunk) bound() {
	c.first = math.MaxUint32
	for i, sent := range c.c32[cSent] {
		c.first = min(c.first, sent)
		c.last = max(c.last, sent, c.c32[cDelivered][i], c.c32[cClosed][i], c.c32[cDue][i])
		c.open = c.open || c.c32[cClosed][i] == 0
	}
	for _, ended := range c.task[tEnded] {
		c.last = max(c.last, ended)
	}
	for _, ended := range c.rung[gEnded] {
		c.last = max(c.last, ended)
	}
}

// wide is a sum of two columns.
func (c *chunk) wide(low, row int) int64 {
	return int64(uint64(c.c32[low][row]) | uint64(c.c32[low+1][row])<<32)
}
