package rehearse

import (
	"fmt"

	"heptad/internal/core/form"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/script"
)

// attaching adds a file to a task, where one comes out of it.
func (d *driver) attaching(key string) request.Command {
	return request.Attach{Task: key, File: form.Upload{ID: "file-" + key, Name: key + ".pdf", Type: "application/pdf", Size: 1}}
}

// call lets a system answer a call, as the cast says.
func (d *driver) call(e request.Effect) {
	undo := e.Undoes != ""
	made := Call{At: d.now, Task: e.Task, Of: plan.Action{Connector: e.Connector, Do: e.Do}, Key: e.Key, Inputs: e.Inputs, Undoes: e.Undoes}
	outcome, report := d.answered(e)
	if ok, is := report.(request.Succeed); is {
		made.Outputs = ok.Outputs
	}
	made.Outcome, made.Reply = outcome, report
	d.Calls = append(d.Calls, made)
	if d.do(request.Program, report) != nil || undo {
		return // it comes too late, as live
	}
	if ok, is := report.(request.Succeed); is && ok.Later {
		d.reports(e)
	}
}

// answered is what a call comes to.
func (d *driver) answered(e request.Effect) (string, request.Command) {
	undo := e.Undoes != ""
	fail := func(words string, final bool) (string, request.Command) {
		return words, request.Fail{Task: e.Task, Undo: undo, Trouble: words, Final: final}
	}
	action, known := plan.FindAction(d.ground.Connectors, plan.Action{Connector: e.Connector, Do: e.Do})
	if !known {
		return fail("There is no connector "+e.Connector+".", true)
	}
	if d.ground.Grants != nil && !undo {
		if _, granted := d.ground.Grants(d.State.Service).Of(e.Connector, e.Do); !granted {
			return fail(fmt.Sprintf("%s may not use this action any more: an administrator has to grant it.", d.Service.Name), true)
		}
	}
	if wrong := action.Wrong(func(key string) string { return plan.Input(key, e.Inputs, e.Outputs) }, undo); wrong != "" {
		return fail(wrong, true)
	}
	system := d.Script.Cast.Systems[e.Connector]
	if len(system.Down) == 2 && !d.now.Before(system.Down[0]) && d.now.Before(system.Down[1]) {
		return fail("Nobody answers there.", false)
	}
	if d.refusals[e.Connector] < system.Refuse {
		d.refusals[e.Connector]++
		return fail("The system refused it.", false)
	}
	var outputs map[string]string
	if t, _ := d.State.Task(e.Task); !undo && t != nil && t.Of != "" {
		outputs = d.outputs(e.Task, d.Offering.Plan.Outputs(t.Of), system.Outputs)
	}
	if action.Later && !undo {
		return "taken; it will report", request.Succeed{Task: e.Task, Later: true}
	}
	return "done", request.Succeed{Task: e.Task, Undo: undo, Outputs: outputs}
}

// reports lets a system report later on a call it has taken.
func (d *driver) reports(e request.Effect) {
	task, _ := d.State.Task(e.Task)
	system := d.Script.Cast.Systems[e.Connector]
	all := system.Report
	if len(all) == 0 {
		all = []script.Report{{Step: "done", State: script.Done, Outputs: d.outputs(e.Task, d.Offering.Plan.Outputs(task.Of), system.Outputs)}}
	}
	taken := d.now
	for _, r := range all {
		at := r.At.UTC()
		if r.At.IsZero() {
			at = taken
			if !r.After.IsZero() {
				at = d.Offering.Promise.Calendar().After(taken, r.After.Length)
			}
		}
		d.at(at, func() { d.report(e.Task, r) })
	}
}

// report brings one report.
func (d *driver) report(key string, r script.Report) {
	command := request.Report{Task: key, Step: r.Step, Words: r.Words, Outputs: r.Outputs, Final: r.State == script.Done, Failed: r.State == script.Failed}
	if t, there := d.State.Task(key); there && len(t.Lines) == 1 {
		switch {
		case r.Delivered != nil:
			command.Lines = map[int]int{0: min(*r.Delivered, t.Lines[0].Of)}
		case command.Final:
			command.Lines = map[int]int{0: t.Lines[0].Of}
		}
	}
	if err := d.do(request.Program, command); err != nil {
		d.refuse(-1, err)
	}
}
