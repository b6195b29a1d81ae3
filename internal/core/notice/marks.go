package notice

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/message"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/core/request"
)

// marked tells whom a mark of a promise names, each once.
func (n *noticing) marked(e request.Event, b request.MarkReached) {
	if b.Silent {
		return
	}
	kind := message.Nearing
	if b.Share >= promise.Whole {
		kind = message.Missed
	}
	used := fmt.Sprintf("%s used, %s left.", openTime(b.Used), openTime(b.Left))
	switch late := max(0, -b.Left); {
	case late >= time.Minute.Milliseconds():
		used = fmt.Sprintf("%s used, %s late.", openTime(b.Used), openTime(late))
	case kind == message.Missed:
		used = openTime(b.Used) + " used."
	}
	var persons []string
	for _, told := range b.Tell {
		persons = append(persons, n.at(told)...)
	}
	persons = append(persons, b.People...)
	slices.Sort(persons)
	base := Notice{Kind: kind, Said: strings.TrimSpace(b.Words() + ": " + used + "\n\n" + b.Text), Due: b.Due}
	for _, person := range slices.Compact(persons) {
		base.Task = n.inHand(person)
		n.tell(e, base, person)
	}
}

// inHand is the key of a task that lies with a person or a team of theirs; empty for none.
func (n *noticing) inHand(person string) string {
	for _, h := range n.state.Holders(n.service.Home) {
		if h.Task != "" && (h.Person == person || h.Person == "" && n.company.InTeam(person, n.teamOf(h).Key)) {
			return h.Task
		}
	}
	return ""
}

// at are those whom a mark tells.
func (n *noticing) at(told promise.Told) []string {
	var persons []string
	switch told {
	case promise.TellOwner:
		return []string{n.service.Owner}
	case promise.TellAsker:
		return n.side()
	case promise.TellKeeper:
		return nil // the event names them
	case promise.TellHolder, promise.TellTeam, promise.TellLead, promise.TellUpward:
	}
	for _, h := range n.state.Holders(n.service.Home) {
		team := n.teamOf(h)
		switch told {
		case promise.TellHolder:
			if h.Person != "" {
				persons = append(persons, h.Person)
			} else {
				persons = append(persons, n.company.Members(team.Key)...)
			}
		case promise.TellTeam:
			persons = append(persons, n.company.Members(team.Key)...)
		case promise.TellLead:
			persons = append(persons, team.Lead)
		default:
			persons = append(persons, n.company.Members(team.Upward)...)
		}
	}
	return persons
}

// teamOf is the team with which a request lies; that its service is home to, when it lies
// with somebody outside of teams.
func (n *noticing) teamOf(h request.Holder) people.Team {
	if task, ok := n.state.Task(h.Task); ok && h.Team == "" {
		h.Team = task.Team
	}
	team, ok := n.company.Team(h.Team)
	if !ok {
		team, _ = n.company.Team(n.service.Home)
	}
	return team
}

// openTime is a stretch of open time in words, such as 6 h 24 min, from milliseconds.
func openTime(ms int64) string {
	all := time.Duration(ms) * time.Millisecond
	hours, minutes := int(all.Hours()), int(all.Minutes())%60
	switch {
	case hours == 0:
		return fmt.Sprintf("%d min", minutes)
	case minutes == 0:
		return fmt.Sprintf("%d h", hours)
	}
	return fmt.Sprintf("%d h %d min", hours, minutes)
}
