package measure

// Side is what requests and their tasks can be told apart by.
type Side string

// The sides.
const (
	ByMonth      Side = "month"
	ByWeek       Side = "week"
	ByDay        Side = "day"
	ByWeekday    Side = "weekday"
	ByHour       Side = "hour"
	ByArea       Side = "area"
	ByService    Side = "service"
	ByOffering   Side = "offering"
	ByVersion    Side = "version"
	ByTeam       Side = "team"
	ByTask       Side = "task"
	ByConnector  Side = "connector"
	ByRung       Side = "rung"
	ByDepartment Side = "department"
	ByLocation   Side = "location"
	ByCostCentre Side = "costCentre"
	ByEmployment Side = "employment"
	ByChannel    Side = "channel"
	ByDoor       Side = "door"
	BySpeed      Side = "speed"
	ByImpact     Side = "impact"
	ByUrgency    Side = "urgency"
	ByOutcome    Side = "outcome"
	ByStatus     Side = "status"
)

// All lists the sides in the order in which people are given them.
func (Side) All() []Side {
	return []Side{ByMonth, ByWeek, ByDay, ByWeekday, ByHour, ByArea, ByService, ByOffering, ByVersion, ByTeam, ByTask, ByConnector, ByRung,
		ByDepartment, ByLocation, ByCostCentre, ByEmployment, ByChannel, ByDoor, BySpeed, ByImpact, ByUrgency, ByOutcome, ByStatus}
}

// Name is what a side is called after "by".
func (s Side) Name() string {
	return map[Side]string{
		ByMonth: "month", ByWeek: "week", ByDay: "day", ByWeekday: "day of the week", ByHour: "hour of the day", ByArea: "area", ByService: "service",
		ByOffering: "offering", ByVersion: "version of the offering", ByTeam: "team", ByTask: "task", ByConnector: "connector", ByRung: "decision", ByDepartment: "asker's department",
		ByLocation: "asker's place", ByCostCentre: "cost centre", ByEmployment: "employment", ByChannel: "channel", ByDoor: "wanted or broken", BySpeed: "promised speed",
		ByImpact: "impact", ByUrgency: "urgency", ByOutcome: "outcome", ByStatus: "status",
	}[s]
}

// Timely reports whether a side is a stretch of the calendar: those follow each other, and
// are told on a line.
func (s Side) Timely() bool { return s == ByMonth || s == ByWeek || s == ByDay }

// Recurring reports whether a side comes again and again.
func (s Side) Recurring() bool { return s == ByWeekday || s == ByHour }
