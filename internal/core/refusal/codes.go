// Package refusal holds the codes of what people are told when something they
// want is not done: by the rules of a request, by a form, by the office. It refuses
// nothing itself.
package refusal

// The codes of refusals and of problems of answers. Each stands with the sentences
// it is told in, where %q and %s stand for what is there, and with one of them as
// somebody reads it. The list in docs/codes.md is made from here.
const (
	// Absence: Choose a person of the company.
	Absence = "absence"
	// AlreadySent: This has been sent already, as %s.
	// Such as: This has been sent already, as QS-10432-P.
	AlreadySent = "alreadySent"
	// AreaUsed: The service %s is in it: move it to another area first, or end the area.
	// Such as: The service Crew on and off is in it: move it to another area first, or end the area.
	AreaUsed = "areaUsed"
	// Asking: %q waits for an answer of %s.
	// Such as: "T0: Offices" waits for an answer of Ilse Brandvik.
	Asking = "asking"
	// AsksMany: %q is done when enough have confirmed.
	// Such as: "Many" is done when enough have confirmed.
	AsksMany = "asksMany"
	// AtOnce: From 1 to 50 calls can run at the same time.
	AtOnce = "atOnce"
	// Automatic: %q is being taken back by itself.
	// Or: %q is done by itself.
	// Such as: "Write" is being taken back by itself.
	Automatic = "automatic"
	// Awaits: It waits for %s, and cannot end before.
	// Such as: It waits for QS-10432-P, and cannot end before.
	Awaits = "awaits"
	// BackOver: It is closed for too long to be sent back: ask anew.
	// Or: It was sent back %d times: ask anew.
	BackOver = "backOver"
	// BadDate: %q is no date.
	// Or: Choose a day.
	// Or: Choose when, and how long.
	// Such as: "soon" is no date.
	BadDate = "badDate"
	// BadInput: This is not asked for, or too long.
	BadInput = "badInput"
	// BadKey: %q cannot be the key of a %s: use letters, digits and hyphens, without spaces.
	// Or: %q cannot be the key of a calendar: use small letters, digits and hyphens.
	// Such as: "North Port" cannot be the key of a calendar: use small letters, digits and hyphens.
	BadKey = "badKey"
	// BadLanguage: %q is no language: write it such as pt or en-GB (BCP 47).
	// Such as: "portuguese" is no language: write it such as pt or en-GB (BCP 47).
	BadLanguage = "badLanguage"
	// BadLogin: %q cannot be a login: use letters, digits, dots, hyphens and @, without spaces.
	// Such as: "Ilse B" cannot be a login: use letters, digits, dots, hyphens and @, without spaces.
	BadLogin = "badLogin"
	// BadMail: %q is no mail address.
	// Such as: "ilse(at)quillonstraits" is no mail address.
	BadMail = "badMail"
	// BadPlace: %q is no place in the portfolio: write intended, offered or ended.
	// Such as: "live" is no place in the portfolio: write intended, offered or ended.
	BadPlace = "badPlace"
	// BadRecord: %s
	// Such as: There is no team "Grow".
	BadRecord = "badRecord"
	// BadSheet: This cannot be read: %s.
	// Such as: This cannot be read: the file is empty.
	BadSheet = "badSheet"
	// BadTask: Choose a team.
	BadTask = "badTask"
	// Begun: This draft is there already.
	Begun = "begun"
	// Blocked: %q still waits for other tasks.
	// Such as: "T5: Badge own-1" still waits for other tasks.
	Blocked = "blocked"
	// Board: Say what the board is called, in at most 120 letters.
	// Or: A board has one page at least.
	// Or: Choose today, or a day that is over.
	Board = "board"
	// BoardChanged: You have changed this board elsewhere meanwhile. Open it anew.
	BoardChanged = "boardChanged"
	// BundleChanged: Somebody has changed this bundle in the meantime. Nothing of yours is kept: look at it again.
	BundleChanged = "bundleChanged"
	// BundleUsed: %s uses this bundle: name another audience there first.
	// Such as: Bridge tablet uses this bundle: name another audience there first.
	BundleUsed = "bundleUsed"
	// Calling: %q is being taken back by itself.
	// Or: %q is being done by itself. Wait for its end.
	// Such as: "Write" is being done by itself. Wait for its end.
	Calling = "calling"
	// CannotMerge: The two cannot be brought together: %s
	// Such as: The two cannot be brought together: one of them is no offering.
	CannotMerge = "cannotMerge"
	// CaseFails: A case fails: this cannot be published.
	// Such as: The case "Permanent" fails: It now ends as declined, not as fulfilled.
	CaseFails = "caseFails"
	// Check: This day is over.
	Check = "check"
	// Closed: This request is closed already.
	// Or: This request is closed.
	Closed = "closed"
	// CodeNeeded: Now the six digits of your second factor, or one of your recovery codes.
	CodeNeeded = "codeNeeded"
	// Colour: %q is no colour: write it like #17576B.
	// Or: %s is too pale to be read on paper: its contrast is %.1f to 1, and 4.5 is needed. %s would do.
	// Such as: #ffcc00 is too pale to be read on paper: its contrast is 1.4 to 1, and 4.5 is needed. #7a6200 would do.
	Colour = "colour"
	// CommonPassword: This is among the passwords that are guessed first. Take another.
	// Or: This is what others know of you. Take another.
	CommonPassword = "commonPassword"
	// Confirmed: You have confirmed this already.
	Confirmed = "confirmed"
	// Currency: %q is no currency: use the three letters of ISO 4217, such as EUR.
	// Such as: "euro" is no currency: use the three letters of ISO 4217, such as EUR.
	Currency = "currency"
	// Decided: There is nothing to decide on this request any more.
	Decided = "decided"
	// DraftChanged: %s has changed this draft in the meantime. Nothing of yours is lost.
	// Or: %q was changed meanwhile. Nothing was imported.
	// Such as: Henrike Falkenau has changed this draft in the meantime. Nothing of yours is lost.
	DraftChanged = "draftChanged"
	// Emblem: Choose a picture of at most 60 kB: PNG, JPEG, WebP, or an SVG of plain shapes.
	Emblem = "emblem"
	// EmptyFile: %s is empty.
	// Such as: empty.png is empty.
	EmptyFile = "emptyFile"
	// Ended: %q is not being taken back.
	// Or: %q does not wait for a report.
	// Or: %q is already %s.
	// Or: %q is over.
	// Such as: "Order the uniform" does not wait for a report.
	Ended = "ended"
	// Expired: This link has expired. Ask whoever sent it for a new one.
	Expired = "expired"
	// FactorNeeded: Your role needs a second factor: set another in its place.
	// Or: Your role needs a second factor: set one before you go on.
	FactorNeeded = "factorNeeded"
	// Fault: This offering has a fault, and its owner has to mend it:
	Fault = "fault"
	// FileTooLarge: %s is larger than %d MB, the most this question takes.
	// Such as: large.png is larger than 10 MB, the most this question takes.
	FileTooLarge = "fileTooLarge"
	// FileType: %s is %s, whatever its name says. Taken here are %s.
	// Such as: harmless.png is text/x-shellscript, whatever its name says. Taken here are a PNG picture, a
	// JPEG picture, a WebP picture.
	FileType = "fileType"
	// Filled: %s has decided this already.
	// Such as: Ilse Brandt has decided this already.
	Filled = "filled"
	// FixedKey: This never changes: others are kept under it.
	FixedKey = "fixedKey"
	// Follows: %s hears of it already.
	// Such as: Ilse Brandt hears of it already.
	Follows = "follows"
	// FollowsNot: They do not follow this.
	FollowsNot = "followsNot"
	// Full: The disk of the server is full, so nothing new can be taken just now.
	Full = "full"
	// Grant: what an action may be granted for; the sentence says what is wrong.
	// Such as: There is no action "open" of the badge system.
	Grant = "grant"
	// HandTo: It is there already.
	HandTo = "handTo"
	// HasRole: %s has this role already.
	// Such as: Ilse Brandvik has this role already.
	HasRole = "hasRole"
	// Host: %q is no host: write it like planner.example or planner.example:8443.
	// Such as: "me@planner.example" is no host: write it like planner.example or planner.example:8443.
	Host = "host"
	// Incomplete: Something is still missing.
	// Or: Some answers are missing or not right.
	Incomplete = "incomplete"
	// Invalid: a list of rows is needed.
	// Or: at most %d rows; there are %d.
	// Such as: At which port? This choice is not offered, or no longer.
	Invalid = "invalid"
	// Joined: You have this already.
	Joined = "joined"
	// KeyChanged: The key of an offering cannot change.
	KeyChanged = "keyChanged"
	// LastAdministrator: Nobody would be an administrator any more: make somebody else one first.
	LastAdministrator = "lastAdministrator"
	// Late: This is over: nothing is waited for any more.
	Late = "late"
	// Line: %s: %d of %d are done. Say in your word why the rest is left.
	// Such as: Card: 0 of 1 are done. Say in your word why the rest is left.
	Line = "line"
	// Link: There is no such request.
	// Or: Choose how they belong together.
	// Or: A request is not tied to itself.
	// Or: %s has ended already.
	// Such as: QS-10432-P has ended already.
	Link = "link"
	// LinkCircle: %s waits for this one: both would wait for ever.
	// Or: %s ends with this one: both would wait for ever.
	// Such as: QS-10432-P waits for this one: both would wait for ever.
	LinkCircle = "linkCircle"
	// Linked: They are tied so already.
	// Or: It is the same as %s already.
	// Such as: It is the same as QS-10432-P already.
	Linked = "linked"
	// LongPassword: Take at most %d letters.
	// Such as: Take at most 256 letters.
	LongPassword = "longPassword"
	// Malformed: what was sent is not of the shape that the operation takes; each detail says what is wrong.
	Malformed = "malformed"
	// MissingColumns: No column is read as %s: choose which it is.
	// Such as: No column is read as login: choose which it is.
	MissingColumns = "missingColumns"
	// Mistyped: %s
	// Such as: QS-10420-A is no reference: its letter does not fit its number. One of them is mistyped.
	Mistyped = "mistyped"
	// MovedIn: Moving in has ended: the owner of the service takes it, on Design.
	MovedIn = "movedIn"
	// MustDo: Still to be ticked:
	MustDo = "mustDo"
	// Name: Say what your organisation is called, in at most 120 letters.
	Name = "name"
	// NameTaken: There is an offering %q already: name this one otherwise.
	// Or: There is a service %q already: name this one otherwise.
	// Or: There is an area %q already: name this one otherwise.
	// Or: There is a bundle %q already: name this one otherwise.
	// Such as: There is an offering "Letter" already: name this one otherwise.
	NameTaken = "nameTaken"
	// Needed: %s is missing.
	// Such as: The login is missing.
	Needed = "needed"
	// Nobody: Choose a person of the company.
	Nobody = "nobody"
	// NobodyDecides: This cannot be sent yet:
	NobodyDecides = "nobodyDecides"
	// NobodyWaits: Nobody waits any more: another administrator has answered.
	NobodyWaits = "nobodyWaits"
	// NoCatalog: the file is no catalog; the sentence says why.
	NoCatalog = "noCatalog"
	// NoDraft: There is no draft to throw away.
	// Or: There is nothing new to publish.
	NoDraft = "noDraft"
	// NoFactor: There is no second factor.
	NoFactor = "noFactor"
	// NoInstant: There is no time to put into a calendar.
	NoInstant = "noInstant"
	// NoLabel: A shared question needs a key and a label.
	NoLabel = "noLabel"
	// NoLine: %q has no such line.
	// Such as: "Check the badge" has no such line.
	NoLine = "noLine"
	// NoMail: No mail server is set: it stands in the settings, as mail.
	// Or: Nobody knows your mail address: set it among the people.
	// Or: The mail server did not take it: %s.
	NoMail = "noMail"
	// NoName: Give it a name, on one line.
	// Or: Name the offering with letters or digits.
	// Or: Name the bundle with letters or digits.
	NoName = "noName"
	// NoPlace: There is no free place to go on with.
	NoPlace = "noPlace"
	// NoPoint: %q has no such point.
	// Such as: "Check the badge" has no such point.
	NoPoint = "noPoint"
	// NoSecond: Nobody could say the second yes: name an editor beside the owner.
	NoSecond = "noSecond"
	// NoStarter: There is no such beginning.
	NoStarter = "noStarter"
	// NoSuccessor: Choose an offering that people can ask for now.
	NoSuccessor = "noSuccessor"
	// NotAfter: %q does not wait for that task.
	// Such as: "Later" does not wait for that task.
	NotAfter = "notAfter"
	// NoTask: This request has no such task.
	NoTask = "noTask"
	// NotAsked: Nobody asks for this to be published any more.
	// Or: It was changed since %s asked: it has to be asked for anew.
	// Such as: It was changed since Ilse Brandvik asked: it has to be asked for anew.
	NotAsked = "notAsked"
	// NotBlocked: %q does not wait for other tasks.
	// Such as: "T1: Badge own-2" does not wait for other tasks.
	NotBlocked = "notBlocked"
	// NotDelivered: There is still work to be done before you can confirm.
	// Or: This request does not wait for a confirmation.
	NotDelivered = "notDelivered"
	// NotDraft: This is no draft any more.
	NotDraft = "notDraft"
	// NotDue: Nothing is due.
	NotDue = "notDue"
	// NotEnded: This has not ended.
	NotEnded = "notEnded"
	// NoText: Write the text.
	NoText = "noText"
	// NotFor: You cannot ask for this:
	NotFor = "notFor"
	// NotHere: You are not with the company any more.
	// Or: Nobody here has the mail address %s. Tell an administrator.
	// Or: Somebody else here has the login %q. Tell an administrator.
	// Such as: Nobody here has the mail address new@halvorsenito.example. Tell an administrator.
	NotHere = "notHere"
	// NothingHeld: Nothing is held back any more.
	NothingHeld = "nothingHeld"
	// NotLinked: They are not tied so.
	NotLinked = "notLinked"
	// NotMain: %s is itself the same as %s: tie it to that one.
	// Or: It is the same as %s: open that one.
	// Such as: It is the same as QS-10432-P: open that one.
	NotMain = "notMain"
	// NotMovedIn: Say first what the organisation is called.
	NotMovedIn = "notMovedIn"
	// NotNeeded: Who has %q is there.
	// Or: Everybody who is asked can decide.
	// Such as: Who has "T4: Badge own-1" is there.
	NotNeeded = "notNeeded"
	// NotNow: Nobody can be added now.
	// Or: %q cannot be handed over now.
	// Or: This is over.
	// Or: %q cannot get stuck now.
	// Or: No task can be added now.
	// Or: This cannot be taken back any more.
	// Or: This cannot be cancelled any more.
	// Or: No file can be added now.
	// Such as: "T4: Badge own-2" cannot be handed over now.
	NotNow = "notNow"
	// NotOffered: This is not offered now.
	NotOffered = "notOffered"
	// NotOpen: Nobody can join this any more.
	NotOpen = "notOpen"
	// NotPassed: You have passed nothing on here, or it is decided.
	NotPassed = "notPassed"
	// NotReturned: No question waits for an answer.
	// Or: Nobody waits for an answer of yours.
	NotReturned = "notReturned"
	// NotSlipped: It does not slip.
	NotSlipped = "notSlipped"
	// NotSooner: It is due by then already: this would not bring it sooner.
	NotSooner = "notSooner"
	// NotStuck: %q is not stuck on a call.
	// Or: %q is not stuck.
	// Such as: "T4: Badge own-2" is not stuck.
	NotStuck = "notStuck"
	// NotTaken: Take %q before you end it.
	// Or: Take %q first.
	// Such as: Take "T4: Badge own-2" before you end it.
	NotTaken = "notTaken"
	// NotYourArea: New services in this area are made by its owner.
	NotYourArea = "notYourArea"
	// NotYours: Only its lead can make something for a team.
	// Or: %q is shared already, and only %s can change it. Share yours under another key.
	// Or: This link is for
	// Such as: Only those who see the files of this request can add one.
	NotYours = "notYours"
	// NotYourService: Choose a service that you own.
	NotYourService = "notYourService"
	// NoUpward: There is no team above %s.
	// Such as: There is no team above Keys & Badges.
	NoUpward = "noUpward"
	// NoWords: Nobody can say anything on this now.
	NoWords = "noWords"
	// Off: Heptad is off.
	Off = "off"
	// OneLine: What is said of a newcomer stands on one line each, without line breaks and control characters.
	// Or: A number stands on one line.
	OneLine = "oneLine"
	// OtherDraft: You have begun another of these: send it, discard it, or put it on the slip first.
	OtherDraft = "otherDraft"
	// OtherRung: The decision now open is %q.
	// Such as: The decision now open is "Line manager".
	OtherRung = "otherRung"
	// Output: Code is needed.
	Output = "output"
	// Overtaken: A later step was reported already.
	Overtaken = "overtaken"
	// OwnDouble: You are one of the two: another administrator brings them together.
	OwnDouble = "ownDouble"
	// OwnRole: Nobody gives themself a role: another administrator can.
	// Or: Who asked for a role, or is to have it, does not say yes to it: another administrator does.
	OwnRole = "ownRole"
	// OwnYes: Who asks for it does not say the second yes: another of you does.
	OwnYes = "ownYes"
	// PassTo: Hal decides on this already.
	PassTo = "passTo"
	// Period: Choose once, month or year.
	Period = "period"
	// Prefix: %q cannot begin a reference: use one to six capital letters and digits, a letter first, such as QS.
	// Or: References begin with %s since the first request was sent, and go on so.
	// Such as: "hg" cannot begin a reference: use one to six capital letters and digits, a letter first, such as QS.
	Prefix = "prefix"
	// Preparing: What there is to measure is being prepared: %d of %d requests are read. It takes a moment.
	// Such as: What there is to measure is being prepared: 4000 of 6000 requests are read. It takes a moment.
	Preparing = "preparing"
	// ProveAgain: This needs more care: prove again that it is you.
	ProveAgain = "proveAgain"
	// Queued: %q waits for a free place.
	// Such as: "Give a seat" waits for a free place.
	Queued = "queued"
	// Range: There is no such line, or not so much of it.
	// Or: From 0 to %d can be done of this line.
	// Such as: There is no such line, or not so much of it.
	Range = "range"
	// Rated: You have rated this on %s: after fourteen days it stays.
	// Or: You have said so already.
	Rated = "rated"
	// Rating: Choose from 1 to %d.
	Rating = "rating"
	// ReasonNeeded: Say why it cannot be done.
	ReasonNeeded = "reasonNeeded"
	// RecordThere: There is one with this already.
	RecordThere = "recordThere"
	// Report: This is no report.
	Report = "report"
	// Required: an answer is needed.
	Required = "required"
	// Returned: This waits for an answer of %s.
	// Such as: This waits for an answer of Ann.
	Returned = "returned"
	// SecretAnew: A new address needs the secret anew: the one that is kept goes nowhere else.
	SecretAnew = "secretAnew"
	// Script: Nobody has the login %q.
	// Or: The plan has no task %q.
	Script = "script"
	// Seen: %q was accepted already.
	// Or: This step was reported already.
	// Such as: This step was reported already.
	Seen = "seen"
	// Sentence: What is looked at cannot be measured so.
	// Such as: a figure that there is not
	Sentence = "sentence"
	// Settled: Nothing is to be said of its clocks.
	Settled = "settled"
	// Shares: the shares must make 100 %.
	// Such as: The cost centres: the shares must make 100 %.
	Shares = "shares"
	// SheetDone: This sheet was done already.
	// Or: This sheet is being done just now.
	SheetDone = "sheetDone"
	// ShortPassword: Take at least %d letters; this has %d. Several words are good: nothing else is asked for.
	// Such as: Take at least 12 letters; this has 8. Several words are good: nothing else is asked for.
	ShortPassword = "shortPassword"
	// SignOff: Nobody can ask for this for others: choose another offering.
	// Or: It asks for no such day.
	// Or: It needs an answer to “%s”, and nobody is there to give it: have its owner give it a preset, or not need it.
	SignOff = "signOff"
	// SlipChanged: What this asks for has changed while you were writing. Look through it and send again.
	SlipChanged = "slipChanged"
	// SlipEmpty: There is nothing on your slip: it was sent already.
	SlipEmpty = "slipEmpty"
	// SlipFull: At most %d wishes are sent at once: send these first.
	// Such as: At most 20 wishes are sent at once: send these first.
	SlipFull = "slipFull"
	// Speed: Choose another speed.
	Speed = "speed"
	// StaleLink: This link has been used already.
	StaleLink = "staleLink"
	// Stuck: %q is stuck. Go on with it first.
	// Such as: "T3: Badge own-2" is stuck. Go on with it first.
	Stuck = "stuck"
	// Taken: %s has taken %q already.
	// Such as: Sunniva Abelsen has taken "Mark the place" already.
	Taken = "taken"
	// Target: Choose a period that goes on, such as this month.
	// Or: A share is between 0 and 100 %%.
	// Or: A goal is not below nothing.
	// Or: At most %d targets can be set by one person.
	// Such as: At most 100 targets can be set by one person.
	Target = "target"
	// TooLong: This has more than %d letters.
	// Such as: This has more than 120 letters.
	TooLong = "tooLong"
	// TooMany: At most %d people can follow one request.
	// Or: At most %d files can be added to one request.
	// Or: There are %d things on your list: take some off first.
	// Such as: At most 50 people can follow one request.
	TooMany = "tooMany"
	// TooManyEdits: More than %d things were mended here: mend the rest in the file, and send it anew.
	// Such as: More than 5000 things were mended here: mend the rest in the file, and send it anew.
	TooManyEdits = "tooManyEdits"
	// TooManyFiles: At most %d files can be on one request.
	// Such as: At most 200 files can be on one request.
	TooManyFiles = "tooManyFiles"
	// TooManyLinks: A request is tied to %d others at most.
	// Such as: A request is tied to 50 others at most.
	TooManyLinks = "tooManyLinks"
	// Season: The last day is before the first, or it is too long, over, or too far ahead.
	Season = "season"
	// TooManyStudies: Others are being worked out: wait for one to end, or stop it.
	TooManyStudies = "tooManyStudies"
	// Undoing: This request has been taken back.
	// Or: %q is being taken back.
	// Such as: "T1: Badge own-2" is being taken back.
	Undoing = "undoing"
	// UnknownCalendar: There is no working calendar %q.
	// Such as: There is no working calendar "moon".
	UnknownCalendar = "unknownCalendar"
	// UnknownField: There is no field %q.
	// Such as: There is no field "shoe".
	UnknownField = "unknownField"
	// UnknownPerson: There is nobody with the login %q.
	// Or: There is no such person.
	// Such as: There is nobody with the login "moon".
	UnknownPerson = "unknownPerson"
	// UnknownRole: There is no role %q.
	// Such as: There is no role "king".
	UnknownRole = "unknownRole"
	// UnknownService: There is no service %q.
	// Such as: There is no service "boats".
	UnknownService = "unknownService"
	// UnknownTeam: There is no team %q.
	// Such as: There is no team "moon".
	UnknownTeam = "unknownTeam"
	// Unready: This cannot be published yet.
	// Or: This cannot be published yet. %s
	// Such as: This cannot be published yet.
	Unready = "unready"
	// Unusable: The form cannot be shown before its errors are mended.
	// Or: %s
	// Such as: The form cannot be shown before its errors are mended.
	Unusable = "unusable"
	// Urged: More urgency was asked for already, and waits to be decided.
	// Or: Say yes or no to more urgency: the work goes on meanwhile.
	Urged = "urged"
	// Url: %q is no address: it begins with https:// or http://.
	// Such as: "licences.example" is no address: it begins with https:// or http://.
	Url = "url"
	// VotedAlready: You have decided so already.
	// Or: You have decided on this already.
	VotedAlready = "votedAlready"
	// WhenSaid: Say when it was answered: after it was sent, and not later than now.
	WhenSaid = "whenSaid"
	// WhoSaid: Say who answered: who asks, or who it is for.
	WhoSaid = "whoSaid"
	// Withdrawn: This request was taken back by %s.
	// Such as: This request was taken back by Ilse Brandvik.
	Withdrawn = "withdrawn"
	// WrongCode: This code does not fit, or was used. Take the next one.
	// Or: This code does not fit. Look whether the clock of your device is right.
	WrongCode = "wrongCode"
	// WrongLines: %d lines are wrong: mend them, or say that they are left out.
	// Such as: 12 lines are wrong: mend them, or say that they are left out.
	WrongLines = "wrongLines"
	// WrongPassword: Name and password do not fit together.
	// Or: This is not your password.
	WrongPassword = "wrongPassword"
	// YearStart: The year of accounts begins with one of the twelve months.
	// Such as: a month of thirteen
	YearStart = "yearStart"
	// Zone: %q is no time zone: write it such as Europe/Copenhagen.
	// Such as: "CET+1" is no time zone: write it such as Europe/Copenhagen.
	Zone = "zone"
)
