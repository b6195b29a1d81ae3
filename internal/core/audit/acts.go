package audit

// Act says what was done.
type Act string

// The acts.
const (
	SignedIn       Act = "signedIn"
	SignInFailed   Act = "signInFailed"
	SignedOut      Act = "signedOut"
	ProvedAgain    Act = "provedAgain"
	LinkSent       Act = "linkSent"
	PasswordSet    Act = "passwordSet"
	FactorSet      Act = "factorSet"
	FactorRemoved  Act = "factorRemoved"
	CodesMade      Act = "codesMade"
	SessionEnded   Act = "sessionEnded"
	AddressTied    Act = "addressTied"
	MovedIn        Act = "movedIn"
	Organised      Act = "organised"
	PersonAdded    Act = "personAdded"
	PersonChanged  Act = "personChanged"
	PersonLeft     Act = "personLeft"
	PersonBack     Act = "personBack"
	SignedOff      Act = "signedOff"
	PersonMerged   Act = "personMerged"
	LeavingWaits   Act = "leavingWaits"
	LeavingAllowed Act = "leavingAllowed"
	LeavingRefused Act = "leavingRefused"
	TeamSaved      Act = "teamSaved"
	PlaceSaved     Act = "placeSaved"
	CentreSaved    Act = "centreSaved"
	ServiceSaved   Act = "serviceSaved"
	AreaSaved      Act = "areaSaved"
	AreaDropped    Act = "areaDropped"
	BelongingSaved Act = "belongingSaved"
	HeadRead       Act = "headRead"
	BundleSaved    Act = "bundleSaved"
	BundleDropped  Act = "bundleDropped"
	SheetRead      Act = "sheetRead"
	RoleAsked      Act = "roleAsked"
	RoleGiven      Act = "roleGiven"
	RoleRefused    Act = "roleRefused"
	RoleTaken      Act = "roleTaken"
	ConnectorSet   Act = "connectorSet"
	GrantGiven     Act = "grantGiven"
	GrantTaken     Act = "grantTaken"
	CalendarSaved  Act = "calendarSaved"
	TextSet        Act = "textSet"
	Published      Act = "published"
	PublishingSet  Act = "publishingSet"

	PublishingAsked   Act = "publishingAsked"
	PublishingRefused Act = "publishingRefused"

	Unscheduled   Act = "unscheduled"
	OfferingEnded Act = "offeringEnded"
	OfferingBack  Act = "offeringBack"
	StarterTaken  Act = "starterTaken"
	PortfolioSet  Act = "portfolioSet"
	CatalogRead   Act = "catalogRead"
	CatalogGiven  Act = "catalogGiven"
	RequestGiven  Act = "requestGiven"
	AuditGiven    Act = "auditGiven"
	CompanyGiven  Act = "companyGiven"
	MailTried     Act = "mailTried"
	BackedUp      Act = "backedUp"
	Restored      Act = "restored"

	CopiedForTrial Act = "copiedForTrial"
	ActsAs         Act = "actsAs"

	KeyRotated Act = "keyRotated"
	LetGo      Act = "letGo"
)

// rows are the acts in the order they are listed in, each with the kind of thing it is
// done to and what it reads as after the name of who did it.
var rows = []struct {
	act         Act
	kind, words string
}{
	{SignedIn, Person, "signed in"}, {SignInFailed, Person, "was not let in"}, {SignedOut, Person, "signed out"}, {ProvedAgain, Person, "proved again who they are"},
	{LinkSent, Person, "was sent a link for a new password"}, {PasswordSet, Person, "set a password"}, {FactorSet, Person, "set a second factor"}, {FactorRemoved, Person, "took a second factor away"},
	{CodesMade, Person, "made recovery codes"}, {SessionEnded, Person, "ended sessions"}, {AddressTied, Person, "was tied to an account of the sign-in service"},
	{MovedIn, Installation, "ended moving in"}, {Organised, Installation, "changed the organisation"},
	{PersonAdded, Person, "added a person"}, {PersonChanged, Person, "changed a person"}, {PersonLeft, Person, "made a person inactive"}, {PersonBack, Person, "made a person active again"}, {PersonMerged, Person, "brought two records of a person together"}, {SignedOff, Person, "had what somebody has taken back"},
	{LeavingWaits, Person, "had people wait to become inactive"}, {LeavingAllowed, Person, "let people become inactive"}, {LeavingRefused, Person, "kept people active"},
	{TeamSaved, Team, "saved a team"}, {PlaceSaved, Location, "saved a location"}, {CentreSaved, Centre, "saved a cost centre"}, {ServiceSaved, Service, "saved a service"}, {AreaSaved, Area, "saved an area"}, {AreaDropped, Area, "took an area away"}, {BelongingSaved, Belonging, "saved what somebody has"}, {HeadRead, Offering, "read in the head of an offering"}, {BundleSaved, Bundle, "saved a bundle"}, {BundleDropped, Bundle, "took a bundle away"}, {SheetRead, Sheet, "read a sheet"},
	{RoleAsked, Person, "asked for a role to be given"}, {RoleGiven, Person, "gave a role"}, {RoleRefused, Person, "refused a role"}, {RoleTaken, Person, "took a role away"},
	{ConnectorSet, Connector, "changed how a system is reached"}, {GrantGiven, Service, "let a service use an action"}, {GrantTaken, Service, "took an action from a service"},
	{CalendarSaved, Calendar, "saved a calendar"}, {TextSet, Text, "changed a text"},
	{Published, Offering, "published an offering"}, {PublishingAsked, Offering, "asked for an offering to be published"}, {PublishingRefused, Offering, "sent an offering back that was to be published"}, {PublishingSet, Offering, "set when an offering publishes itself"}, {Unscheduled, Offering, "kept an offering from publishing itself"},
	{OfferingEnded, Offering, "ended an offering"}, {OfferingBack, Offering, "brought an offering back"}, {StarterTaken, Offering, "took a starter offering"}, {PortfolioSet, Service, "moved a service in the portfolio"},
	{CatalogRead, Offering, "read in a catalog"}, {CatalogGiven, Offering, "took the catalog out"}, {RequestGiven, Request, "took a request out"}, {AuditGiven, Installation, "took the audit out"}, {CompanyGiven, Sheet, "took a list of the company out"},
	{MailTried, Installation, "tried the mail"}, {BackedUp, Installation, "made a backup"}, {Restored, Installation, "restored a backup"}, {CopiedForTrial, Installation, "copied it for trying"}, {ActsAs, Person, "acts as them, in a trial"}, {KeyRotated, Installation, "sealed all secrets anew with another key"}, {LetGo, Installation, "let what waits go out"},
}

// The kinds of thing an act is done to.
const (
	Installation = "installation"
	Person       = "person"
	Team         = "team"
	Location     = "location"
	Centre       = "cost centre"
	Service      = "service"
	Area         = "area"
	Bundle       = "bundle"
	Belonging    = "belonging"
	Sheet        = "sheet"
	Connector    = "system"
	Calendar     = "calendar"
	Text         = "text"
	Offering     = "offering"
	Request      = "request"
)

// All lists the acts in their order.
func (Act) All() []Act {
	all := make([]Act, len(rows))
	for i, r := range rows {
		all[i] = r.act
	}
	return all
}

// Words say what was done, after the name of who did it.
func (a Act) Words() string { _, words := a.row(); return words }

// Kind is that of the thing it is done to.
func (a Act) Kind() string { kind, _ := a.row(); return kind }

func (a Act) row() (kind, words string) {
	for _, r := range rows {
		if r.act == a {
			return r.kind, r.words
		}
	}
	return Installation, string(a) // of a newer program
}
