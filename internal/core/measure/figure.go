package measure

import "slices"

// Unit is what the number of a figure is of.
type Unit string

// The units.
const (
	Count Unit = "count"
	Share Unit = "share" // from 0 to 1
	Clock Unit = "clock" // seconds of the clock, nights and weekends in
	Open  Unit = "open"  // open seconds of a working calendar
	Money Unit = "money" // minor units of the organisation's currency
	Stars Unit = "stars" // from 1 to 5
)

// All lists them.
func (Unit) All() []Unit { return []Unit{Count, Share, Clock, Open, Money, Stars} }

// Date is the instant of a thing by which a figure counts it.
type Date string

// The dates.
const (
	Sent      Date = "sent"
	Delivered Date = "delivered"
	Closed    Date = "closed"
	DueOn     Date = "due"
	Ended     Date = "ended"  // of a task, or of a decision
	AtEnd     Date = "atEnd"  // how it stands when the period ends, or now
	LookedFor Date = "looked" // of a search
	Begun     Date = "begun"  // of a form
)

// All lists them.
func (Date) All() []Date {
	return []Date{Sent, Delivered, Closed, DueOn, Ended, AtEnd, LookedFor, Begun}
}

// Good says which way a figure is better.
type Good string

// The ways.
const (
	High    Good = "high"
	Low     Good = "low"
	Neither Good = "neither"
)

// All lists them.
func (Good) All() []Good { return []Good{High, Low, Neither} }

// Subject is what a figure counts.
type Subject string

// The subjects.
const (
	OfRequests Subject = "requests"
	OfTasks    Subject = "tasks"
	OfRungs    Subject = "decisions"
	OfRatings  Subject = "ratings"
	OfStanding Subject = "standing" // requests as they stand at an instant
	OfSearches Subject = "searches"
	OfForms    Subject = "forms"
)

// All lists them.
func (Subject) All() []Subject {
	return []Subject{OfRequests, OfTasks, OfRungs, OfRatings, OfStanding, OfSearches, OfForms}
}

// form says how the number of a figure comes about.
type form int

const (
	counts form = iota // how many there are
	shares             // how many of them have something
	sums               // a value of each, added up
	means              // their mean
	times              // their middle and spread
	oldest             // the largest age
)

// Figure is a number that is measured: what it counts, by which date, and what of it.
type Figure struct {
	Key     string
	Name    string
	Unit    Unit
	Date    Date
	Good    Good
	Subject Subject
	Asks    string // what it tells, in a sentence that a manager reads
	Part    string // of a share: what is in the part
	Whole   string // of a share, what it is a part of; else what is counted
	Few     bool   // it tells of persons: not shown of one to four of them

	form  form
	whole uint32 // traits that what is counted has
	part  uint32 // of a share: traits that the part has
	late  bool   // only what is late; of requests also what is under way and late, whatever its traits
	value int    // column, of sums, means and times
	minus bool   // another column is taken from it
	plus  bool   // the other column is added to it
	less  int    // column that is taken from it
	wide  bool   // the value has 64 bits
	saved bool   // the value is what people would have needed
}

// Figures are all there are, in the order in which people are given them.
var Figures = []Figure{
	{Key: "asked", Name: "asked", Unit: Count, Date: Sent, Good: Neither, Subject: OfRequests, Whole: "requests that were sent",
		Asks: "How many requests were sent.", form: counts},
	{Key: "ended", Name: "ended", Unit: Count, Date: Closed, Good: Neither, Subject: OfRequests, Whole: "requests that were closed",
		Asks: "How many requests came to an end, whatever it was.", form: counts},
	{Key: "open", Name: "open", Unit: Count, Date: AtEnd, Good: Low, Subject: OfStanding, Whole: "requests that were under way",
		Asks: "How many requests were under way when the time ended, or are now. Asked again later, it is the same number.", form: counts},
	{Key: "overdue", Name: "overdue", Unit: Count, Date: AtEnd, Good: Low, Subject: OfStanding, Whole: "requests that were under way and late",
		Asks: "How many of those under way were past their promised time. While a clock stands still, nothing falls due.", form: counts, late: true},
	{Key: "oldest", Name: "oldest open", Unit: Clock, Date: AtEnd, Good: Low, Subject: OfStanding, Whole: "requests that were under way",
		Asks: "How long ago the oldest of those under way was sent.", form: oldest},
	{Key: "kept", Name: "promise kept", Unit: Share, Date: Delivered, Good: High, Subject: OfRequests, Part: "delivered in the promised time", Whole: "requests fulfilled with a promise",
		Asks: "Of the requests that were fulfilled and had a promised time, how many were delivered within it. Those declined, taken back, expired or cancelled are in neither number.", form: shares, whole: isFulfilled | isPromised, part: isKept},
	{Key: "keptOfDue", Name: "kept of what was due", Unit: Share, Date: DueOn, Good: High, Subject: OfRequests, Part: "delivered in the promised time", Whole: "requests fulfilled with a promise, or open and overdue now",
		Asks: "As promise kept, by when they were due; those that are still open and overdue count as not kept. A backlog cannot flatter it.", form: shares, whole: isFulfilled | isPromised, part: isFulfilled | isKept, late: true},
	{Key: "well", Name: "done well", Unit: Share, Date: Closed, Good: High, Subject: OfRequests, Part: "fulfilled", Whole: "requests that ended",
		Asks: "How many of all that ended were fulfilled.", form: shares, part: isFulfilled},
	{Key: "done", Name: "time to done", Unit: Clock, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests that were delivered",
		Asks: "From sending until all was done, by the clock on the wall: nights, weekends and every pause are in it. It is what the asker lived through.", form: times, value: cDelivered, minus: true, less: cSent},
	{Key: "used", Name: "time used", Unit: Open, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests delivered with a promise",
		Asks: "Open time by the clock of the promise, without its pauses.", form: times, whole: isPromised, value: cUsed},
	{Key: "response", Name: "time to a first word", Unit: Open, Date: Sent, Good: Low, Subject: OfRequests, Whole: "requests with a promised first word that they have had",
		Asks: "Open time until somebody of staff took it, decided, asked or said something.", form: times, whole: hasResponse, value: cResponse},
	{Key: "answered", Name: "first word in time", Unit: Share, Date: Sent, Good: High, Subject: OfRequests, Part: "with a first word in the promised time", Whole: "requests with a promised first word that they have had",
		Asks: "How many had their first word within the promised time.", form: shares, whole: hasResponse, part: respondedInTime},
	{Key: "deciding", Name: "time deciding", Unit: Open, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests delivered with a promise",
		Asks: "How much of the time used went by until all had decided.", form: times, whole: isPromised, value: cDeciding},
	{Key: "working", Name: "time at work", Unit: Open, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests delivered with a promise",
		Asks: "How much of the time used went by after the decision: tasks waiting and tasks being done.", form: times, whole: isPromised, value: cUsed, minus: true, less: cDeciding},
	{Key: "asking", Name: "waited for the asker", Unit: Open, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests delivered with a promise",
		Asks: "Open time in which the clock stood still, as a question waited for an answer of the asker.", form: times, whole: isPromised, value: cAsking},
	{Key: "waiting", Name: "waited for a time or a place", Unit: Open, Date: Delivered, Good: Low, Subject: OfRequests, Whole: "requests delivered with a promise",
		Asks: "Open time in which the clock stood still in a task that the promise names: a date, a delivery, a free place.", form: times, whole: isPromised, value: cWaiting},
	{Key: "declined", Name: "declined", Unit: Share, Date: Closed, Good: Low, Subject: OfRequests, Part: "declined", Whole: "requests that ended",
		Asks: "How many ended with a no.", form: shares, part: isDeclined},
	{Key: "withdrawn", Name: "taken back", Unit: Share, Date: Closed, Good: Low, Subject: OfRequests, Part: "taken back by who asked", Whole: "requests that ended",
		Asks: "How many their askers took back.", form: shares, part: isWithdrawn},
	{Key: "sentBack", Name: "sent back", Unit: Share, Date: Delivered, Good: Low, Subject: OfRequests, Part: "sent back at least once", Whole: "requests that were delivered",
		Asks: "How many came back, as what was delivered was not right.", form: shares, part: isSentBack},
	{Key: "askedBack", Name: "asked something", Unit: Share, Date: Sent, Good: Low, Subject: OfRequests, Part: "whose asker was asked something", Whole: "requests that were sent",
		Asks: "For how many the form had not said enough, and somebody had to ask.", form: shares, part: isAsked},
	{Key: "led", Name: "led to another", Unit: Share, Date: Sent, Good: Neither, Subject: OfRequests, Part: "that another came from", Whole: "requests that were sent",
		Asks: "How many led to another request, such as a change, by the ties that staff made: those of which another says that it came from them.", form: shares, part: isLed},
	{Key: "rating", Name: "rating", Unit: Stars, Date: Closed, Good: High, Subject: OfRatings, Whole: "ratings of requests that ended", Few: true,
		Asks: "What askers thought of how it went, from one star to five, on the average. It is shown from five people on.", form: means, value: rStars},
	{Key: "rated", Name: "rated at all", Unit: Share, Date: Closed, Good: High, Subject: OfRequests, Part: "rated by somebody", Whole: "requests that were fulfilled",
		Asks: "How many of those that could be rated were: what a rating is worth.", form: shares, whole: isFulfilled, part: isRated},
	{Key: "touchless", Name: "without a person", Unit: Share, Date: Closed, Good: High, Subject: OfRequests, Part: "for which no person did a task", Whole: "requests that were fulfilled",
		Asks: "How many were fulfilled by systems alone.", form: shares, whole: isFulfilled, part: isTouchless},
	{Key: "likely", Name: "done by the likely time", Unit: Share, Date: Delivered, Good: Neither, Subject: OfRequests, Part: "done by the time that was foreseen for half of them", Whole: "delivered requests with a forecast",
		Asks: "Whether forecasts are true: about 50 % should be done by the likely time that was told on sending. Far more, and we promise too late; far less, and too early.", form: shares, whole: hasLikely, part: byLikely},
	{Key: "sure", Name: "done by the sure time", Unit: Share, Date: Delivered, Good: Neither, Subject: OfRequests, Part: "done by the time that was foreseen for four of five", Whole: "delivered requests with a forecast",
		Asks: "Whether forecasts are true: about 80 % should be done by the sure time that was told on sending.", form: shares, whole: hasLikely, part: bySure},
	{Key: "cost", Name: "cost asked for", Unit: Money, Date: Sent, Good: Low, Subject: OfRequests, Whole: "requests that were sent",
		Asks: "What was asked for costs so much in its first year, by the prices of the catalog.", form: sums, value: cCost, wide: true},
	{Key: "real", Name: "real cost", Unit: Money, Date: Closed, Good: Low, Subject: OfRequests, Whole: "requests that ended and say what they really cost",
		Asks: "What it really cost, as those said who bought it.", form: sums, whole: hasReal, value: cReal, wide: true},
	{Key: "askedOfReal", Name: "asked for, of these", Unit: Money, Date: Closed, Good: Low, Subject: OfRequests, Whole: "requests that ended and say what they really cost",
		Asks: "What the same requests had cost by the catalog: beside the real cost it tells how true the prices are.", form: sums, whole: hasReal, value: cCost, wide: true},
	{Key: "costEach", Name: "cost of a request", Unit: Money, Date: Sent, Good: Low, Subject: OfRequests, Whole: "requests that were sent",
		Asks: "What was asked for, on the average of all requests.", form: means, value: cCost, wide: true},
	{Key: "tasks", Name: "tasks done", Unit: Count, Date: Ended, Good: Neither, Subject: OfTasks, Whole: "tasks that were done",
		Asks: "How many tasks people and systems did.", form: counts, whole: wasDone},
	{Key: "taskInTime", Name: "tasks in time", Unit: Share, Date: Ended, Good: High, Subject: OfTasks, Part: "done by the time they were due", Whole: "tasks done that had a due time",
		Asks: "How many of the tasks that had a due time of their own were done by then.", form: shares, whole: wasDone | hadDue, part: wasInTime},
	{Key: "taskWaited", Name: "tasks waiting", Unit: Open, Date: Ended, Good: Low, Subject: OfTasks, Whole: "tasks of people that were done",
		Asks: "Open time of the team from when a task was ready until somebody took it.", form: times, whole: wasDone | byPerson, value: tWaited},
	{Key: "taskWorked", Name: "tasks in hand", Unit: Open, Date: Ended, Good: Low, Subject: OfTasks, Whole: "tasks of people that were done",
		Asks: "Open time of the team from when somebody took a task until it was done, without the time in which it was stuck or waited for an answer.", form: times, whole: wasDone | byPerson, value: tWorked},
	{Key: "taskTook", Name: "tasks from ready to done", Unit: Open, Date: Ended, Good: Low, Subject: OfTasks, Whole: "tasks of people that were done",
		Asks: "Open time of the team from when a task was ready until it was done, without the time in which it was stuck or waited for an answer.", form: times, whole: wasDone | byPerson, value: tWaited, plus: true, less: tWorked},
	{Key: "taskStuck", Name: "tasks stuck", Unit: Share, Date: Ended, Good: Low, Subject: OfTasks, Part: "stuck at least once", Whole: "tasks that were done",
		Asks: "How many tasks could not go on at some time.", form: shares, whole: wasDone, part: wasStuck},
	{Key: "taskHanded", Name: "tasks handed over", Unit: Share, Date: Ended, Good: Low, Subject: OfTasks, Part: "handed to another person or team", Whole: "tasks of people that were done",
		Asks: "How many tasks had to find the right one first.", form: shares, whole: wasDone | byPerson, part: wasHanded},
	{Key: "automatic", Name: "done by systems", Unit: Share, Date: Ended, Good: High, Subject: OfTasks, Part: "done by a system", Whole: "tasks that were done",
		Asks: "How many tasks no person had to do.", form: shares, whole: wasDone, part: bySystem},
	{Key: "hours", Name: "people's hours", Unit: Open, Date: Ended, Good: Low, Subject: OfTasks, Whole: "tasks of people that were done", Few: true,
		Asks: "Open time between taking a task and its end, without its pauses, shared equally among all tasks that a person had in hand at once. It is shown from five people on.", form: sums, whole: wasDone | byPerson, value: tHand},
	{Key: "saved", Name: "hours saved", Unit: Open, Date: Ended, Good: High, Subject: OfTasks, Whole: "tasks that systems did",
		Asks: "What people would have needed for the tasks that systems did: what they needed before those were automatic, else the effort that is planned for them.", form: sums, whole: wasDone | bySystem, saved: true},
	{Key: "decisions", Name: "decisions", Unit: Count, Date: Ended, Good: Neither, Subject: OfRungs, Whole: "decisions that were taken",
		Asks: "How many decisions were taken.", form: counts},
	{Key: "decisionTime", Name: "time of a decision", Unit: Open, Date: Ended, Good: Low, Subject: OfRungs, Whole: "decisions that were taken",
		Asks: "Open time from asking until it was decided.", form: times, value: gOpen},
	{Key: "passed", Name: "decided with yes", Unit: Share, Date: Ended, Good: Neither, Subject: OfRungs, Part: "decided with yes", Whole: "decisions that were taken",
		Asks: "How many decisions were a yes. Where nearly all are, one may not be needed.", form: shares, part: wasPassed},
	{Key: "foundNothing", Name: "searches that found nothing", Unit: Share, Date: LookedFor, Good: Low, Subject: OfSearches, Part: "that found nothing", Whole: "searches on Ask",
		Asks: "How many wishes, as people typed them, met no offering.", form: shares},
	{Key: "givenUp", Name: "forms given up", Unit: Share, Date: Begun, Good: Low, Subject: OfForms, Part: "given up", Whole: "forms that were begun",
		Asks: "How many forms were begun and thrown away, or not touched for two weeks.", form: shares},
}

// FigureOf finds a figure by its key.
func FigureOf(key string) (*Figure, bool) {
	i := slices.IndexFunc(Figures, func(f Figure) bool { return f.Key == key })
	if i < 0 {
		return nil, false
	}
	return &Figures[i], true
}

// Takes reports whether a figure can be told apart by a side.
func (f *Figure) Takes(side Side) bool {
	switch f.Subject {
	case OfSearches, OfForms:
		return side.Timely() || side == ByDepartment || f.Subject == OfForms && (side == ByOffering || side == ByService || side == ByArea)
	case OfStanding:
		return side.Timely() || !side.Recurring() && side != ByOutcome && side != ByRung
	}
	return side != ByStatus && (side != ByRung || f.Subject == OfRungs)
}
