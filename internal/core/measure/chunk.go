package measure

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/core/plan"
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
	cUsed
	cDeciding
	cAsking
	cWaiting
	cResponse
	cCost // with the next one 64 bits, of the organisation's currency
	cCostHigh
	cReal
	cRealHigh
	columns32
)

// Traits of a request.
const (
	isFulfilled = 1 << iota
	isDeclined
	isWithdrawn
	isKept
	isPromised // and its clock has ended with what it measures
	isSentBack
	isAsked
	isTouchless
	isRated
	hasLikely
	byLikely
	bySure
	hasResponse
	respondedInTime
	hasReal
	isOpen
	isLed          // another came from it; not of a chunk by itself
	outcomeAt = 24 // from here on the place of the outcome in All, from 1; 0 for none
)

// Columns of tasks, of 32 bits.
const (
	tJob = iota
	tPerson
	tEnded
	tWaited
	tWorked
	tHand
	tColumns
)

// Traits of a task.
const (
	wasDone = 1 << iota // and it was work
	byPerson
	bySystem
	wasStuck
	wasHanded
	hadDue
	wasInTime
)

// Columns of spells, of 32 bits.
const (
	sFrom = iota
	sLate
	sColumns
)

// spellPaused is added to the status of a spell whose clock stands still.
const spellPaused = 16

// Columns of ratings and of rungs, of 32 bits.
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

	wasPassed = 1 // trait of a rung
)

// chunk holds the facts of the requests of some numbers, by number. It never changes.
type chunk struct {
	number []uint16 // less the first of the chunk
	c32    [columns32][]uint32
	traits []uint32

	taskRow    []uint16 // place of its request in the chunk
	task       [tColumns][]uint32
	taskTeam   []uint16
	taskTraits []uint8

	spellAt     []uint32 // where the spells of each row begin, and where the last ends
	spell       [sColumns][]uint32
	spellTeams  []uint16
	spellStatus []uint8

	ratingRow []uint16
	rating    [rColumns][]uint32

	rungRow []uint16
	rung    [gColumns][]uint32

	first, last uint32  // instants of the first sending, and of the last that anything happened
	open        []int32 // places of the requests that are not closed
}

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
	rows, tasks, spells, ratings, rungs := len(old.number)+len(facts), len(old.taskRow), len(old.spellTeams), len(old.ratingRow), len(old.rungRow)
	for i := range facts {
		f := &facts[i]
		tasks, spells, ratings, rungs = tasks+len(f.Tasks), spells+len(f.Spells)+1, ratings+len(f.Ratings), rungs+len(f.Rungs)
	}
	c.number = make([]uint16, 0, rows)
	for i := range c.c32 {
		c.c32[i] = make([]uint32, 0, rows)
	}
	c.traits = make([]uint32, 0, rows)
	c.taskRow, c.taskTeam, c.taskTraits = make([]uint16, 0, tasks), make([]uint16, 0, tasks), make([]uint8, 0, tasks)
	for i := range c.task {
		c.task[i] = make([]uint32, 0, tasks)
	}
	c.spellAt = append(make([]uint32, 0, rows+1), 0)
	c.spellTeams, c.spellStatus = make([]uint16, 0, spells), make([]uint8, 0, spells)
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
	tasks, ratings, rungs int
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
	c.traits = append(c.traits, r.traits[row])
	from, until := upTo(r.taskRow, &r.tasks, row)
	c.taskRow = append(c.taskRow, repeated(to, until-from)...)
	c.taskTeam = append(c.taskTeam, r.taskTeam[from:until]...)
	c.taskTraits = append(c.taskTraits, r.taskTraits[from:until]...)
	for i := range c.task {
		c.task[i] = append(c.task[i], r.task[i][from:until]...)
	}
	begin, end := r.spellAt[row], r.spellAt[row+1]
	c.spellTeams = append(c.spellTeams, r.spellTeams[begin:end]...)
	c.spellStatus = append(c.spellStatus, r.spellStatus[begin:end]...)
	for i := range c.spell {
		c.spell[i] = append(c.spell[i], r.spell[i][begin:end]...)
	}
	c.spellAt = append(c.spellAt, uint32(len(c.spellTeams)))
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

// with is the chunk with the requests of some numbers marked as those that others came from.
func (c *chunk) with(led []int64) *chunk {
	if len(led) == 0 {
		return c
	}
	marked := *c
	marked.traits = slices.Clone(c.traits)
	for _, number := range led {
		if row, there := slices.BinarySearch(c.number, offsetOf(number)); there {
			marked.traits[row] |= isLed
		}
	}
	return &marked
}

// from are the numbers of the requests that a request came from.
func (g *Going) from() (numbers []int64) {
	for _, text := range strings.Fields(g.Came) {
		if number, err := strconv.ParseInt(text, 10, 64); err == nil {
			numbers = append(numbers, number)
		}
	}
	return numbers
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

// trait is a trait where something is so.
func trait[T uint8 | uint32](is bool, t T) T {
	if is {
		return t
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
		cHow: d.how.code(how{r.Channel, r.Door, r.Speed, r.Impact, r.Urgency}), cWork: d.workOf(done),
		cUsed: small(r.Used), cDeciding: small(r.Deciding), cAsking: small(r.Asking), cWaiting: small(r.Waiting), cResponse: small(r.ResponseUsed),
		cCost: uint32(cost), cCostHigh: uint32(cost >> 32), cReal: uint32(real), cRealHigh: uint32(real >> 32),
	} {
		c.c32[i] = append(c.c32[i], value)
	}
	promised := r.Kept == KeptInTime || r.Kept == KeptLate
	c.traits = append(c.traits, trait[uint32](r.Outcome == request.Fulfilled, isFulfilled)|trait[uint32](r.Outcome == request.Declined, isDeclined)|trait[uint32](r.Outcome == request.Withdrawn, isWithdrawn)|
		trait[uint32](r.Kept == KeptInTime, isKept)|trait[uint32](promised, isPromised)|trait[uint32](r.Backs > 0, isSentBack)|trait[uint32](r.Asked > 0, isAsked)|
		trait[uint32](r.ByPeople == 0, isTouchless)|trait[uint32](len(f.Ratings) > 0, isRated)|
		trait[uint32](r.Likely > 0 && r.Delivered > 0, hasLikely)|trait[uint32](r.Delivered <= r.Likely, byLikely)|trait[uint32](r.Delivered <= r.Sure, bySure)|
		trait[uint32](r.ResponseTarget > 0, hasResponse)|trait[uint32](r.ResponseUsed <= r.ResponseTarget, respondedInTime)|
		trait[uint32](r.RealKnown && !other, hasReal)|trait[uint32](r.Closed == 0, isOpen)|uint32(slices.Index(r.Outcome.All(), r.Outcome)+1)<<outcomeAt)
	c.addSpells(d, f.Spells)
	for _, x := range f.Ratings {
		c.ratingRow = append(c.ratingRow, row)
		for i, value := range [rColumns]uint32{rPerson: d.person.code(x.Person), rStars: small(int64(x.Stars))} {
			c.rating[i] = append(c.rating[i], value)
		}
	}
	for _, x := range f.Rungs {
		c.rungRow = append(c.rungRow, row)
		for i, value := range [gColumns]uint32{gRung: d.rung.code(rungOf{r.Offering, x.Rung}), gEnded: small(x.Ended), gOpen: small(x.Open), gPassed: trait[uint32](x.Outcome == "passed", wasPassed)} {
			c.rung[i] = append(c.rung[i], value)
		}
	}
}

func (c *chunk) addTask(d *dicts, row uint16, of taskOfTeam, t Task) {
	c.taskRow = append(c.taskRow, row)
	for i, value := range [tColumns]uint32{
		tJob: of.Job, tPerson: d.person.code(t.Person), tEnded: small(t.Ended), tWaited: small(t.Waited), tWorked: small(t.Worked), tHand: small(t.Hand),
	} {
		c.task[i] = append(c.task[i], value)
	}
	c.taskTeam = append(c.taskTeam, uint16(of.Team))
	system := t.Kind == automatic && t.Person == ""
	done := (t.How == "done" || t.How == "undone") && (t.Kind == manual || t.Kind == automatic)
	c.taskTraits = append(c.taskTraits, trait[uint8](done, wasDone)|trait[uint8](!system, byPerson)|trait[uint8](system, bySystem)|trait[uint8](t.Stuck, wasStuck)|
		trait[uint8](t.Handed > 0, wasHanded)|trait[uint8](t.Due > 0, hadDue)|trait[uint8](t.Due > 0 && t.Late == 0, wasInTime))
}

// Kinds of tasks that are work.
const (
	manual    = string(plan.Manual)
	automatic = string(plan.Automatic)
)

// addSpells adds the spells of a request. Each lasts until the next begins: where it does
// not, as the request was closed, one that is closed stands for that.
func (c *chunk) addSpells(d *dicts, spells []Spell) {
	add := func(from, late int64, teams string, status uint8) {
		c.spell[sFrom] = append(c.spell[sFrom], small(from))
		c.spell[sLate] = append(c.spell[sLate], small(late))
		c.spellTeams = append(c.spellTeams, uint16(d.set.code(teams)))
		c.spellStatus = append(c.spellStatus, status)
	}
	statuses := request.Draft.All()
	over := uint8(slices.Index(statuses, request.Closed))
	for i, s := range spells {
		add(s.From, s.Late, s.Teams, uint8(slices.Index(statuses, s.Status))|trait[uint8](s.Paused, spellPaused))
		if s.Until > 0 && (i+1 == len(spells) || spells[i+1].From > s.Until) {
			add(s.Until, 0, "", over)
		}
	}
	c.spellAt = append(c.spellAt, uint32(len(c.spellTeams)))
}

// bound notes between which instants anything of the chunk lies.
func (c *chunk) bound() {
	c.first = math.MaxUint32
	for i, sent := range c.c32[cSent] {
		c.first = min(c.first, sent)
		c.last = max(c.last, sent, c.c32[cDelivered][i], c.c32[cClosed][i], c.c32[cDue][i])
		if c.c32[cClosed][i] == 0 {
			c.open = append(c.open, int32(i))
		}
	}
	for _, ended := range c.task[tEnded] {
		c.last = max(c.last, ended)
	}
	for _, ended := range c.rung[gEnded] {
		c.last = max(c.last, ended)
	}
}
