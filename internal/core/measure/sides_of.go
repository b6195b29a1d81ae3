package measure

import (
	"strconv"
	"strings"

	"heptad/internal/core/request"
)

// ofWhat gives the value of a side of what is asked for; nil for other sides.
func (a *asking) ofWhat(side Side) func(what) string {
	switch side {
	case ByArea:
		return func(w what) string { return a.c.Area(w.Service) }
	case ByService:
		return func(w what) string { return w.Service }
	case ByOffering:
		return func(w what) string { return w.Offering }
	case ByVersion:
		return func(w what) string { return w.Offering + "/" + strconv.Itoa(w.Version) }
	}
	return nil
}

// ofWho gives the value of a side of who asked; nil for other sides.
func ofWho(side Side) func(who) string {
	switch side {
	case ByDepartment:
		return func(w who) string { return w.Department }
	case ByLocation:
		return func(w who) string { return w.Location }
	case ByCostCentre:
		return func(w who) string { return w.CostCentre }
	case ByEmployment:
		return func(w who) string { return w.Employment }
	}
	return nil
}

// ofHow gives the value of a side of how it was asked; nil for other sides.
func ofHow(side Side) func(how) string {
	switch side {
	case ByChannel:
		return func(h how) string { return string(h.Channel) }
	case ByDoor:
		return func(h how) string { return string(h.Door) }
	case BySpeed:
		return func(h how) string { return h.Speed }
	case ByImpact:
		return func(h how) string { return h.Impact }
	case ByUrgency:
		return func(h how) string { return h.Urgency }
	}
	return nil
}

// ofJob gives the value of a side of a task: which one it is, or what it calls.
func ofJob(side Side) func(job) string {
	if side == ByConnector {
		return func(j job) string { return j.Connector }
	}
	return func(j job) string { return j.Offering + "/" + j.Of }
}

// outcomes and statuses are keys by the codes of the columns; of no outcome it is empty.
var outcomes, statuses = func() (ends, stands []string) {
	ends = append(ends, "")
	for _, o := range request.Fulfilled.All() {
		ends = append(ends, string(o))
	}
	for _, s := range request.Draft.All() {
		stands = append(stands, string(s))
	}
	return ends, stands
}()

// over marks the statuses in which a request is not under way.
var over = func() (is [spellPaused]bool) {
	for i, s := range request.Draft.All() {
		is[i] = !s.UnderWay()
	}
	return is
}()

// teamsOf are the keys of a set of teams.
func teamsOf(set string) []string { return strings.Fields(set) }
