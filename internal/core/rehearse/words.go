package rehearse

import (
	"fmt"
	"slices"
	"strings"
)

// labels are what fields of a result are called in sentences.
var labels = map[string]string{
	"request/price/once": "It costs once", "request/price/monthly": "It costs each month", "request/price/yearly": "It costs each year", "request/price/term": "Over its term it costs",
	"request/title": "Its title", "request/status": "It stands as", "promise/kept": "The promise is kept", "promise/due": "It is due on", "promise/target": "The promised time",
	"promise/used": "Of the promised time is used", "promise/left": "Of the promised time is left", "counts/tasks": "The number of tasks", "counts/rungs": "The number of decisions",
	"counts/messages": "The number of messages", "counts/calls": "The number of calls", "end": "The rehearsal ends as",
}

// sentence says that something is other than expected.
func (c *comparing) sentence(at []step, want, is any) string {
	path := path(at)
	what, known := labels[path]
	switch {
	case path == "request/outcome":
		return fmt.Sprintf("It now ends as %s, not as %s.", written(is), written(want))
	case known:
		return fmt.Sprintf("%s: %s now, not %s.", what, written(is), written(want))
	}
	last := at[len(at)-1].field
	if name, kind := c.subject(at); name != "" {
		switch last {
		case "team", "holder":
			return fmt.Sprintf("%s is now with %s, not with %s.", name, c.name(is), c.name(want))
		case "state":
			return fmt.Sprintf("%s is now %s, not %s.", name, written(is), written(want))
		case "outcome":
			return fmt.Sprintf("%s is now %s, not %s.", name, written(is), written(want))
		case "due", "latestStart", "ready", "taken", "ended", "opened", "closed":
			word := map[string]string{"due": "is due", "latestStart": "must begin at the latest", "ready": "can begin", "taken": "is taken", "ended": "ends", "opened": "opens", "closed": "ends"}[last]
			return fmt.Sprintf("%s now %s on %s, not on %s.", name, word, written(is), written(want))
		case "vote":
			return fmt.Sprintf("%s: the vote is now %s, not %s.", name, written(is), written(want))
		}
		return fmt.Sprintf("%s%s: %s is now %s, not %s.", kind, name, last, written(is), written(want))
	}
	return fmt.Sprintf("%s is now %s, not %s.", strings.ReplaceAll(path, "/", " "), written(is), written(want))
}

// missed says that something that was expected is not there.
func (c *comparing) missed(at []step, want any) string {
	list := ""
	for _, s := range at {
		if s.field != "" {
			list = s.field
		}
	}
	wanted, _ := want.(map[string]any)
	text := func(key string) string { t, _ := wanted[key].(string); return t }
	name, _ := c.subject(at)
	switch list {
	case "shown":
		return fmt.Sprintf("The question %q is not shown now.", written(want))
	case "hidden":
		return fmt.Sprintf("The question %q is shown now, or there no more.", written(want))
	case "rungs":
		return fmt.Sprintf("The decision %q is not asked for now.", text("key"))
	case "tasks":
		return fmt.Sprintf("The task %q is not there now.", text("key"))
	case "seats":
		return fmt.Sprintf("%s no longer asks %s.", name, c.name(wanted["person"]))
	case "messages":
		return fmt.Sprintf("%s is no longer told: %s%s.", c.name(wanted["to"]), text("kind"), about(text("task")+text("rung")))
	case "calls":
		return fmt.Sprintf("%s is no longer asked to %s%s.", text("connector"), text("action"), about(text("task")))
	case "slice":
		return fmt.Sprintf("%s no longer shows %q.", name, text("key"))
	case "marks":
		return fmt.Sprintf("The mark at %s %% is no longer reached.", written(wanted["share"]))
	}
	return fmt.Sprintf("%s is no longer there: %s.", strings.ReplaceAll(path(at), "/", " "), written(want))
}

func about(what string) string {
	if what == "" {
		return ""
	}
	return " (" + what + ")"
}

// name is a person's or team's name, as far as the result knows it.
func (c *comparing) name(v any) string {
	key, _ := v.(string)
	if key == "" {
		return "nobody"
	}
	if name, known := c.result.Names[key]; known {
		return name
	}
	if p, known := c.company.ByLogin(key); known {
		return p.Name
	}
	return c.company.TeamName(key)
}

// subject names the rung or task that a place is in.
func (c *comparing) subject(at []step) (name, kind string) {
	for i, s := range at {
		if i+1 >= len(at) || s.field != "rungs" && s.field != "tasks" {
			continue
		}
		key := c.keyAt(at[:i+2])
		if j := slices.IndexFunc(c.result.Rungs, func(r Rung) bool { return s.field == "rungs" && r.Key == key }); j >= 0 {
			return c.result.Rungs[j].Name, ""
		}
		if t, there := c.task(key); there && s.field == "tasks" {
			return t.Name, ""
		}
		return key, ""
	}
	return "", ""
}

// keyAt is the key of the element of what is expected that steps lead to.
func (c *comparing) keyAt(at []step) string {
	var here any = c.want
	for _, s := range at {
		switch in := here.(type) {
		case map[string]any:
			here = in[s.field]
		case []any:
			if s.index >= len(in) {
				return ""
			}
			here = in[s.index]
		}
	}
	of, _ := here.(map[string]any)
	key, _ := of["key"].(string)
	return key
}

// path are the fields of a place, without the numbers of elements.
func path(at []step) string {
	var fields []string
	for _, s := range at {
		if s.field != "" {
			fields = append(fields, s.field)
		}
	}
	return strings.Join(fields, "/")
}
