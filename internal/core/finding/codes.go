package finding

// The codes of findings. Each stands with the sentences it is told in, where %q and
// %s stand for what is there, and with one of them as somebody reads it. The list
// in docs/codes.md is made from here.
const (
	// Action: The task %q is not automatic, yet has an action.
	// Such as: The task "Take photo" is not automatic, yet has an action.
	Action = "action"
	// Alike: Two promises are called %q: nobody can tell them apart.
	// Such as: Two promises are called "Usual": nobody can tell them apart.
	Alike = "alike"
	// Amount: %q is not a sum of money in %s: write it like 45.00.
	// Or: %q is less than nothing.
	Amount = "amount"
	// AnswerWithin: The time to answer is from 1 to 250 working days.
	AnswerWithin = "answerWithin"
	// ApprovesItself: The rung %q says yes by itself when nobody decides in time.
	// Such as: The rung "Yes" says yes by itself when nobody decides in time.
	ApprovesItself = "approvesItself"
	// AudienceTwice: Everyone may ask, and yet it names who.
	AudienceTwice = "audienceTwice"
	// AudienceUnsaid: Nobody has said yet who may ask.
	AudienceUnsaid = "audienceUnsaid"
	// BackWithin: The time to send it back is from 0 to 250 working days.
	BackWithin = "backWithin"
	// BadKey: %q cannot be the key of a task.
	// Or: %q cannot be the key of a question.
	// Or: %q cannot be the key of an offering.
	// Such as: "quay badge" cannot be the key of an offering.
	BadKey = "badKey"
	// BadKind: %q is no kind of task.
	// Or: Nothing says what kind of answer is computed.
	// Or: %q is no kind of question.
	// Or: A column cannot be a table, an item pick or a statement.
	// Such as: A column cannot be a table, an item pick or a statement.
	BadKind = "badKind"
	// BadOutput: What comes out of %q needs a name, a kind, and a key of its own.
	// Or: %s is no sum of money, and so no real cost.
	// Or: %s: a file is added by people, and open to whom the task shows it.
	// Or: %q is no place in a reply.
	// Such as: What comes out of "a" needs a name, a kind, and a key of its own.
	BadOutput = "badOutput"
	// Before: Nobody knows beforehand when a task will end.
	Before = "before"
	// BreaksDrafts: %q is taken out, but %s an answer to it.
	// Or: %q is now of another kind, but %s an answer to it.
	// Or: A choice of %q is taken out that %s.
	// Such as: A choice of "At which port?" is taken out that one draft holds.
	BreaksDrafts = "breaksDrafts"
	// ByDays: Only monthly prices are charged by days.
	// Or: Nothing says from which day parts of a month are charged.
	// Or: Only items and extras are charged by days.
	ByDays = "byDays"
	// Circle: These tasks wait for each other in a circle:
	// Or: These columns wait for each other in a circle:
	// Or: These questions wait for each other in a circle:
	Circle = "circle"
	// Clock: There is no clock %q.
	// Such as: There is no clock "end".
	Clock = "clock"
	// ClockTime: %q is no clock time.
	// Such as: "25:00" is no clock time.
	ClockTime = "clockTime"
	// ClosedDay: When the date that %q waits for is a closed day, it ends with the next opening.
	// Such as: When the date that "Wait" waits for is a closed day, it ends with the next opening.
	ClosedDay = "closedDay"
	// Compute: Only a computed question computes.
	Compute = "compute"
	// ConfirmWithin: The time to confirm is from 0 to 250 working days.
	ConfirmWithin = "confirmWithin"
	// CostCentres: Who pays is said by a question for a cost centre, or by a table with a column for the cost
	// centre and one for the share, but these are not there.
	CostCentres = "costCentres"
	// CostOfCost: What can be picked cannot hang on what it costs.
	// Or: How many there are cannot hang on what they cost.
	CostOfCost = "costOfCost"
	// Currency: %s is money, but the offering has no currency.
	// Such as: "KRONE" is not a currency code of ISO 4217, such as EUR.
	Currency = "currency"
	// Date: Calendars know the years %s.
	// Such as: "8.3.2027" is not a date: write it like 2027-03-12.
	Date = "date"
	// Days: From 250 working days before to 250 after can be said.
	Days = "days"
	// DecisionsTooLong: The decisions alone may take longer than %q promises.
	// Such as: The decisions alone may take longer than "Usual" promises.
	DecisionsTooLong = "decisionsTooLong"
	// Door: %q is no door.
	// Such as: "broke" is no door.
	Door = "door"
	// DuplicateDate: %s stands twice among the exceptions.
	// Such as: 2027-03-08 stands twice among the exceptions.
	DuplicateDate = "duplicateDate"
	// DuplicateKey: The key %q is empty or stands twice among the rungs.
	// Or: The key %q is empty or stands twice among the tasks.
	// Or: The key %q is empty or stands twice among the items.
	// Or: %s: the key %q is empty or stands twice.
	// Or: The key %q is empty or stands twice among the extras.
	// Or: Two questions have the key %q.
	// Or: The key %q is empty or stands twice among the sections.
	// Or: Two columns have the key %q.
	// Or: The key %q is empty or stands twice among the choices.
	// Such as: The key "manager" is empty or stands twice among the rungs.
	DuplicateKey = "duplicateKey"
	// DuplicateKind: There are two texts for %q.
	// Such as: There are two texts for "Somebody wrote on a request".
	DuplicateKind = "duplicateKind"
	// EmptyArticle: An article has no title or no text.
	EmptyArticle = "emptyArticle"
	// EmptyBundle: Nobody is in the bundle %q yet.
	// Such as: Nobody is in the bundle "Crew" yet.
	EmptyBundle = "emptyBundle"
	// EmptyPoint: A point to tick says nothing.
	EmptyPoint = "emptyPoint"
	// EmptyTeam: %s has no members, so nobody of it can decide.
	// Such as: Empty has no members, so nobody of it can decide.
	EmptyTeam = "emptyTeam"
	// EndsSoon: After %s no promise is valid: nothing is promised then.
	// Such as: After 2027-12-31 no promise is valid: nothing is promised then.
	EndsSoon = "endsSoon"
	// Enough: %q says not how many are enough.
	// Such as: "most" says not how many are enough.
	Enough = "enough"
	// Fit: %q is nothing an offering does to a belonging.
	// Such as: "lends" is nothing an offering does to a belonging.
	Fit = "fit"
	// ForNobody: It can be asked for nobody: not for oneself, and for no one else.
	ForNobody = "forNobody"
	// ForStaff: %q would show the asker's side the answer to %q, which is for staff.
	// Such as: "Tell" would show the asker's side the answer to "class", which is for staff.
	ForStaff = "forStaff"
	// FreeTextSteers: %q steers the work, but is free text: no two people write the same.
	// Such as: "Note" steers the work, but is free text: no two people write the same.
	FreeTextSteers = "freeTextSteers"
	// InputUse: %s of %q %s.
	// Or: %s of %q is typed by who starts it, which is not granted.
	// Such as: Login of "Do change" must be of whom the request is for.
	InputUse = "inputUse"
	// Interval: "13:00-09" is no opening time: write it like 08:30-12:30.
	Interval = "interval"
	// Kind: %q is no kind of message.
	// Such as: "shout" is no kind of message.
	Kind = "kind"
	// Length: %q is no working time to decide in.
	// Or: %q is no working time.
	// Or: %q is no working time to promise.
	// Such as: "soon" is no working time to promise.
	Length = "length"
	// Level: Say how many managers up, from 1 to 20.
	Level = "level"
	// LikelyTooLate: Sent by %s as in the preview, it would likely be done later than it is promised.
	// Such as: Sent by Ilse Brandt as in the preview, it would likely be done later than it is promised.
	LikelyTooLate = "likelyTooLate"
	// Limit: %q is no time that a call may take.
	// Such as: "today+1.5" is not a date: write it like 2027-03-12.
	Limit = "limit"
	// MayBeAbsent: This rule reads %q, which may have no answer: %s.
	// Such as: This rule reads "Note", which may have no answer: the decision is needed then.
	MayBeAbsent = "mayBeAbsent"
	// NeverAvailable: This can never be picked: no answers make its rule hold.
	NeverAvailable = "neverAvailable"
	// NeverOffered: No question offers the item %q.
	// Such as: No question offers the item "Port *: Maravel | Sankt Orm".
	NeverOffered = "neverOffered"
	// NeverOpen: This calendar is never open.
	NeverOpen = "neverOpen"
	// NeverReached: %q fits everybody, so no promise below it ever holds.
	// Or: %q holds for the same as %q above it, so it never counts.
	// Such as: "A" fits everybody, so no promise below it ever holds.
	NeverReached = "neverReached"
	// NeverShown: %q can never show: no answers make its rule hold.
	// Such as: "Reason" can never show: no answers make its rule hold.
	NeverShown = "neverShown"
	// NeverValid: %q ends before it begins, so it never holds.
	// Such as: "Usual" ends before it begins, so it never holds.
	NeverValid = "neverValid"
	// NoAction: The task %q is automatic, but nothing says what it does.
	// Such as: The task "a" is automatic, but nothing says what it does.
	NoAction = "noAction"
	// NoApprovers: This rung names nobody who decides.
	NoApprovers = "noApprovers"
	// NoBelonging: Nothing says what somebody has after %q.
	// Or: Nothing says which of the belongings %q is about.
	// Or: %q is nothing that can happen to a belonging.
	// Such as: Nothing says which of the belongings "a" is about.
	NoBelonging = "noBelonging"
	// Nobody: %q asks nobody to confirm.
	// Such as: "a" asks nobody to confirm.
	Nobody = "nobody"
	// NobodyAnswers: Nobody can answer %q: the asker does not see it, and nothing computes or presets it.
	// Such as: Nobody can answer "Reason": the asker does not see it, and nothing computes or presets it.
	NobodyAnswers = "nobodyAnswers"
	// NobodyAsks: Nobody of the company may ask for it.
	NobodyAsks = "nobodyAsks"
	// NobodySees: Nobody of the company finds it.
	NobodySees = "nobodySees"
	// NoChoiceLeft: %q is required, but nothing is left to choose when %s.
	// Such as: "Zones" is required, but nothing is left to choose when Port is Maravel.
	NoChoiceLeft = "noChoiceLeft"
	// NoChoices: %s, %s: there is nothing to choose from.
	// Or: There is nothing to choose from.
	// Or: There is no item to pick.
	// Such as: Tablet, Size: there is nothing to choose from.
	NoChoices = "noChoices"
	// NoColumns: A table has no columns.
	NoColumns = "noColumns"
	// NoDate: %q does not say by which date it is to be ready.
	// Such as: "Ready for the day" does not say by which date it is to be ready.
	NoDate = "noDate"
	// NoDecision: %s costs %s in the first year, and nobody decides on it.
	// Such as: Fob costs EUR 500.04 in the first year, and nobody decides on it.
	NoDecision = "noDecision"
	// NoDefault: Whom none of these promises fits is promised nothing.
	NoDefault = "noDefault"
	// NoDue: Nothing says when %q is due.
	// Such as: Nothing says when "a" is due.
	NoDue = "noDue"
	// NoInput: The action of %q needs %s.
	// Such as: The action of "Write badge" needs Name on the badge.
	NoInput = "noInput"
	// NoItems: %s: nothing says of which items together.
	// Such as: X: nothing says of which items together.
	NoItems = "noItems"
	// NoKeywords: People find it by its name and text only.
	NoKeywords = "noKeywords"
	// NoKind: Nothing says what sort of thing it fits.
	NoKind = "noKind"
	// NoLabel: A question does not say what it asks.
	// Or: A choice has no words.
	NoLabel = "noLabel"
	// NoLimit: The rung %q says what happens at its limit, but has none.
	// Such as: The rung "Line manager" says what happens at its limit, but has none.
	NoLimit = "noLimit"
	// NoLines: %q cannot be done line by line: %q is neither an item pick nor a table.
	// Such as: "a" cannot be done line by line: "ports" is neither an item pick nor a table.
	NoLines = "noLines"
	// NoMember: %q is no member of that team.
	// Such as: "kira" is no member of that team.
	NoMember = "noMember"
	// NoMessage: A check does not say what is wrong.
	NoMessage = "noMessage"
	// NoName: A rung has no name.
	// Or: A task has no name.
	// Or: An item has no name.
	// Or: A choice of %s has no name.
	// Or: An extra has no name.
	// Or: A discount has no name.
	// Or: A surcharge has no name.
	// Or: A section has no heading.
	// Or: A promised time has no name.
	// Or: The offering has no name.
	// Such as: A promised time has no name.
	NoName = "noName"
	// NoPersonQuestion: It is not said yet which answer names who decides.
	// Or: %q is no question that asks for a person.
	// Such as: "port" is no question that asks for a person.
	NoPersonQuestion = "noPersonQuestion"
	// NoRate: Nothing says what %s is worth in %s.
	// Such as: Nothing says what NOK is worth in EUR.
	NoRate = "noRate"
	// NoReader: Nobody is there to read %q.
	// Or: %q is nobody who can be told.
	// Such as: Nobody is there to read "a".
	NoReader = "noReader"
	// NoRule: Nothing says when %q goes to another team.
	// Or: Nothing says how this is computed.
	// Or: A check has no rule.
	// Such as: Nothing says when "a" goes to another team.
	NoRule = "noRule"
	// NoTasks: There is no task, so a request would be delivered with nothing done.
	NoTasks = "noTasks"
	// NoTeam: The task %q would land nowhere: it has no team.
	// Or: The message %q goes to a team, but to none in particular.
	// Or: Nobody would take %q back, or help when that fails.
	// Such as: The task "Check safety record" would land nowhere: it has no team.
	NoTeam = "noTeam"
	// NoText: A message has no subject or no text.
	// Or: Nothing says what the offering is for.
	NoText = "noText"
	// NotGranted: The service may not use %q, as %q does.
	// Such as: The service may not use "Disable", as "Do change" does.
	NotGranted = "notGranted"
	// NotYetKnown: %q reads what comes out of %q, which need not be done by then.
	// Such as: "B" reads what comes out of "A", which need not be done by then.
	NotYetKnown = "notYetKnown"
	// NoUndo: Nothing says how %q is taken back.
	// Such as: Nothing says how "a" is taken back.
	NoUndo = "noUndo"
	// NoWait: Nothing says when %q ends.
	// Such as: Nothing says when "a" ends.
	NoWait = "noWait"
	// NoWords: Nothing says what %q writes.
	// Such as: Nothing says what "a" writes.
	NoWords = "noWords"
	// Offer: This kind of question has no choices.
	Offer = "offer"
	// OnDemand: %q is started by hand: it is automatic, waits for nothing, and is made once.
	// Or: %q is started by hand: nothing waits for it.
	// Such as: "Reset" is started by hand: nothing waits for it.
	OnDemand = "onDemand"
	// OneLine: This has a line break or a control character in it, where one line is needed.
	OneLine = "oneLine"
	// OutsideSlice: The text of the rung %q shows the answer to %q, which its approvers do not see.
	// Or: The instructions of %q show the answer to %q, which its team does not see.
	// Such as: The instructions of "a" show the answer to "port", which its team does not see.
	OutsideSlice = "outsideSlice"
	// Overlap: Two opening times of this date overlap.
	Overlap = "overlap"
	// People: Only a task done by people can ask many: %q is none.
	// Such as: Only a task done by people can ask many: "Block the badge" is none.
	People = "people"
	// Percent: %q is no number: write a number such as 12.5.
	// Or: %q is more than 100.
	Percent = "percent"
	// Period: %q is no period of a price.
	// Such as: "week" is no period of a price.
	Period = "period"
	// Picture: %s: this is no picture.
	// Or: This is no picture.
	// Such as: Tablet: this is no picture.
	Picture = "picture"
	// Placeholder: A placeholder cannot be read:
	Placeholder = "placeholder"
	// Preset: This kind of question cannot have a preset.
	Preset = "preset"
	// PrivateKind: The answer to %q cannot be private: it is a file, a table, has a price, is a belonging or
	// is computed.
	// Such as: The answer to "Badge" cannot be private: it is a file, a table, has a price, is a belonging or
	// is computed.
	PrivateKind = "privateKind"
	// PromisesNothing: Every promise is switched off: nothing is promised.
	// Or: No promise is valid any more: nothing is promised.
	PromisesNothing = "promisesNothing"
	// Quantity: %s: the smallest quantity is larger than the largest.
	// Such as: Charts: the smallest quantity is larger than the largest.
	Quantity = "quantity"
	// Quorum: %q is no quorum.
	Quorum = "quorum"
	// Rate: %q is no rate of exchange.
	// Such as: "0" is no rate of exchange.
	Rate = "rate"
	// Rating: %q is no time to rate it.
	// Such as: "later" is no time to rate it.
	Rating = "rating"
	// Readers: %q says not who reads an answer.
	// Or: A column is read by who reads its table.
	// Such as: "all" says not who reads an answer.
	Readers = "readers"
	// Repeat: "each year" is no recurrence.
	Repeat = "repeat"
	// ReplacesItself: The offering cannot replace itself.
	ReplacesItself = "replacesItself"
	// Rescue: %q is a wait, which is never stuck.
	// Such as: "Wait for the day" is a wait, which is never stuck.
	Rescue = "rescue"
	// Rule: The rule cannot be read:
	Rule = "rule"
	// SameName: Another offering of this service has the same name (%s): people cannot tell them apart.
	// Such as: Another offering of this service has the same name (berth-side-parking): people cannot tell
	// them apart.
	SameName = "sameName"
	// Scope: The questions cannot be read together:
	Scope = "scope"
	// SensitiveRung: "Do join" is sensitive: somebody must always decide before it is done.
	SensitiveRung = "sensitiveRung"
	// ServiceNotOffered: Nothing leads a person to it: the service %q is %s.
	// Such as: Nothing leads a person to it: the service "Access to the quays" is intended.
	ServiceNotOffered = "serviceNotOffered"
	// Share: A reminder stands between 1 and 99 per cent of the limit.
	// Or: A mark stands between 1 and 500 per cent of the promised time.
	Share = "share"
	// Source: %q is no way to find an approver.
	// Such as: "dice" is no way to find an approver.
	Source = "source"
	// Starts: %q never starts the clock.
	// Such as: "never" never starts the clock.
	Starts = "starts"
	// TellsNobody: At %d per cent nobody is told.
	// Such as: At 80 per cent nobody is told.
	TellsNobody = "tellsNobody"
	// Then: %q cannot happen at the limit.
	// Such as: "shrug" cannot happen at the limit.
	Then = "then"
	// TooMany: A date has at most %d opening times.
	// Or: A calendar has at most %d exceptions.
	// Or: At most %d exceptions of a calendar repeat.
	// Such as: At most 100 exceptions of a calendar repeat.
	TooMany = "tooMany"
	// TooManyChoices: There are %d choices; %d are the most.
	// Such as: There are 10001 choices; 10000 are the most.
	TooManyChoices = "tooManyChoices"
	// TooManyQuestions: There are %d questions; %d are the most.
	// Such as: There are 501 questions; 500 are the most.
	TooManyQuestions = "tooManyQuestions"
	// Tries: %q is no time to wait before another try.
	// Such as: "soon" is no time to wait before another try.
	Tries = "tries"
	// TwoMarks: There are two marks at %d per cent.
	// Such as: There are two marks at 80 per cent.
	TwoMarks = "twoMarks"
	// TwoPrices: %s has a percentage and a fixed amount.
	// Such as: X has a percentage and a fixed amount.
	TwoPrices = "twoPrices"
	// TwoTimes: %q is to be ready by a date, and within a time as well.
	// Such as: "Ready for the day" is to be ready by a date, and within a time as well.
	TwoTimes = "twoTimes"
	// UnknownAction: No connector %q can do %q.
	// Such as: No connector "badges" can do "burn".
	UnknownAction = "unknownAction"
	// UnknownBundle: There is no bundle %q.
	// Or: A bundle without a key is none.
	// Such as: There is no bundle "crew".
	UnknownBundle = "unknownBundle"
	// UnknownCalendar: There is no working calendar %q.
	// Such as: There is no working calendar "moon".
	UnknownCalendar = "unknownCalendar"
	// UnknownInput: The action of %q takes no %q.
	// Such as: The action of "Write badge" takes no "colour".
	UnknownInput = "unknownInput"
	// UnknownItem: %s can be replaced by the item %q, which is not there.
	// Or: %s fits the item %q, which is not there.
	// Or: %s is for the item %q, which is not there.
	// Or: There is no item %q.
	// Such as: Mount fits the item "moon", which is not there.
	UnknownItem = "unknownItem"
	// UnknownPerson: It is not said yet who decides.
	// Or: There is nobody with the login %q.
	// Such as: There is nobody with the login "gone".
	UnknownPerson = "unknownPerson"
	// UnknownPool: There is no pool %q.
	// Such as: There is no pool "berths".
	UnknownPool = "unknownPool"
	// UnknownQuestion: The rung %q shows the answer to %q, which is no question.
	// Or: %q asks for no person.
	// Or: %q is made for each of %q, which is no list.
	// Or: The task %q shows the answer to %q, which is no question.
	// Or: %q is not %s of this form.
	// Or: %q is no question for a belonging.
	// Or: There is no choice %q in the form.
	// Or: %q is no choice of it.
	// Such as: The task "a" shows the answer to "missing", which is no question.
	UnknownQuestion = "unknownQuestion"
	// UnknownSection: There is no section %q.
	// Such as: There is no section "x".
	UnknownSection = "unknownSection"
	// UnknownService: There is no service %q.
	// Such as: There is no service "boats".
	UnknownService = "unknownService"
	// UnknownTask: There is no task %q.
	// Or: The task %q waits for %q, which is not there.
	// Such as: The task "Write badge" waits for "x", which is not there.
	UnknownTask = "unknownTask"
	// UnknownTeam: It is not said yet which team decides.
	// Or: There is no team %q.
	// Or: The task %q would land nowhere: there is no team %q.
	// Such as: The task "a" would land nowhere: there is no team "cooks".
	UnknownTeam = "unknownTeam"
	// Unreachable: The rung %q is never needed: no answers make its rule hold.
	// Or: The task %q is never done: no answers make its rule hold.
	// Or: The promise %q never holds: no answers make its rule hold.
	// Such as: The task "Take photo" is never done: no answers make its rule hold.
	Unreachable = "unreachable"
	// Unreadable: what is written cannot be read at all; the sentence says where.
	Unreadable = "unreadable"
	// Weekday: %q is no day of the week.
	// Such as: "monday" is no day of the week.
	Weekday = "weekday"
	// Zone: %q is no time zone.
	// Such as: "Europe/Maravel" is no time zone.
	Zone = "zone"
)
