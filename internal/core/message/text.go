package message

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/rule"
)

// Text is a prepared message of a kind, with {{ CEL }} placeholders that read
// the fields of `request` and `person`.
type Text struct {
	Kind    Kind   `json:"kind"`
	Subject string `json:"subject" maxLength:"200"`
	Body    string `json:"body" maxLength:"4000"`
}

// Facts are what a text can read of the request, in words. What is unknown is
// empty, and reads as —.
type Facts struct {
	Reference string `json:"reference" doc:"Such as QS-10432-P"`
	Title     string `json:"title"`
	Offering  string `json:"offering" doc:"Its name"`
	Asker     string `json:"asker" doc:"Name"`
	For       string `json:"for" doc:"Name of who it is for"`
	By        string `json:"by" doc:"Name of who did what is told"`
	Said      string `json:"said" doc:"What they wrote"`
	Decision  string `json:"decision" doc:"Name of the rung"`
	Task      string `json:"task" doc:"Name of the task"`
	Price     string `json:"price" doc:"Such as EUR 404.67 in the first year"`
	Due       string `json:"due" doc:"Until when it is to be done"`
	Holder    string `json:"holder" doc:"With whom it now lies"`
	Outcome   string `json:"outcome" doc:"How it ended"`
	Person    string `json:"person" doc:"Name of who reads it"`
}

func (f Facts) record() rule.Record {
	out := rule.Record{}
	for name, text := range f.fields() {
		if text != "" {
			out[name] = rule.OfText(text)
		}
	}
	return out
}

func (f Facts) fields() map[string]string {
	return map[string]string{
		"reference": f.Reference, "title": f.Title, "offering": f.Offering, "asker": f.Asker, "for": f.For, "by": f.By, "said": f.Said,
		"decision": f.Decision, "task": f.Task, "price": f.Price, "due": f.Due, "holder": f.Holder, "outcome": f.Outcome,
	}
}

// Names lists what a text can read, such as request.title. Those of people, the
// offering and the task are the ones that offerings and replies use, too; older
// texts read them as request.asker, request.for, request.offering and request.task.
func Names() []string {
	names := []string{"person.name", "asker.name", "beneficiary.name", "offering.name", "task.name"}
	for name := range (Facts{}).fields() {
		if !slices.Contains([]string{"asker", "for", "offering", "task"}, name) {
			names = append(names, "request."+name)
		}
	}
	slices.Sort(names)
	return names
}

func env() *rule.Env {
	fields := rule.Fields{}
	for name := range (Facts{}).fields() {
		fields[name] = rule.Text
	}
	named := rule.Fields{"name": rule.Text}
	e, err := rule.NewEnv(rule.Scope{Roots: map[string]rule.Fields{
		"request": fields, "person": named, "asker": named, "beneficiary": named, "offering": named, "task": named,
	}})
	if err != nil {
		panic(err) // the scope is always the same
	}
	return e
}

// Texts are compiled texts by kind.
type Texts struct{ texts map[Kind]compiled }

type compiled struct {
	subject, body *rule.Placeholder
	source        Text
}

// Version tells texts apart: the same words have the same, 16 hexadecimal digits.
func (t Text) Version() string {
	sum := sha256.Sum256([]byte(string(t.Kind) + "\x00" + t.Subject + "\x00" + t.Body))
	return hex.EncodeToString(sum[:8])
}

// Compile checks texts; findings are placed below a place such as /messages.
func Compile(texts []Text, place string, findings *finding.List) *Texts {
	e, out := env(), &Texts{map[Kind]compiled{}}
	for i, t := range texts {
		at := place + finding.At(i)
		if !slices.Contains(Kinds, t.Kind) {
			findings.Error(finding.Kind, at+"/kind", fmt.Sprintf("%q is no kind of message.", t.Kind), "")
			continue
		}
		if _, twice := out.texts[t.Kind]; twice {
			findings.Error(finding.DuplicateKind, at+"/kind", fmt.Sprintf("There are two texts for %q.", t.Kind.Words()), "Take one out.")
		}
		if strings.TrimSpace(t.Subject) == "" || strings.TrimSpace(t.Body) == "" {
			findings.Error(finding.NoText, at, "A message has no subject or no text.", "Write it, or take it out.")
		}
		c := compiled{source: t}
		var err error
		if c.subject, err = e.CompileText(t.Subject); err != nil {
			findings.Error(finding.Placeholder, at+"/subject", "A placeholder cannot be read: "+err.Error()+".", "")
		}
		if c.body, err = e.CompileText(t.Body); err != nil {
			findings.Error(finding.Placeholder, at+"/body", "A placeholder cannot be read: "+err.Error()+".", "")
		}
		out.texts[t.Kind] = c
	}
	return out
}

// Write fills in the text of a kind; the first of several that has one counts,
// the usual text otherwise. A faulty text must not stop a message: the usual
// one takes its place. It gives the text that was filled in, too.
func Write(kind Kind, f Facts, from ...*Texts) (subject, body string, source Text) {
	return (&Writer{from: from}).Write(kind, f)
}

// Writer is Write for many who are told of the same: what does not name its reader is
// written once.
type Writer struct {
	from []*Texts
	done map[toWrite]written
}

type toWrite struct {
	kind  Kind
	facts Facts
}

type written struct {
	subject, body string
	source        Text
}

// NewWriter writes by the first of several texts that has one of a kind.
func NewWriter(from ...*Texts) *Writer { return &Writer{from, map[toWrite]written{}} }

// Write is as Write without a writer.
func (w *Writer) Write(kind Kind, f Facts) (subject, body string, source Text) {
	nobody := f
	nobody.Person = ""
	of := toWrite{kind, nobody}
	if done, ok := w.done[of]; ok {
		return done.subject, done.body, done.source
	}
	for _, texts := range append(slices.Clone(w.from), usual) {
		if texts == nil {
			continue
		}
		c, ok := texts.texts[kind]
		if !ok || c.subject == nil || c.body == nil {
			continue
		}
		values := f.values()
		subject, err := c.subject.Render(values, nothing)
		body, err2 := c.body.Render(values, nothing)
		if err != nil || err2 != nil {
			continue
		}
		out := written{strings.Join(strings.Fields(subject), " "), strings.TrimSpace(body), c.source}
		if w.done != nil && len(c.subject.Reads("person")) == 0 && len(c.body.Reads("person")) == 0 {
			w.done[of] = out
		}
		return out.subject, out.body, out.source
	}
	return kind.Words(), kind.Words(), Text{Kind: kind, Subject: kind.Words(), Body: kind.Words()}
}

// values are the facts as rules read them.
func (f Facts) values() rule.Values {
	named := func(name string) rule.Record {
		if name == "" {
			return rule.Record{}
		}
		return rule.Record{"name": rule.OfText(name)}
	}
	return rule.Values{Now: time.Time{}, Roots: map[string]rule.Record{
		"request": f.record(), "person": named(f.Person), "asker": named(f.Asker), "beneficiary": named(f.For), "offering": named(f.Offering), "task": named(f.Task),
	}}
}

func nothing(string, string) (string, bool) { return "", false }

// Usual are the texts that hold where nobody wrote others.
func Usual() []Text {
	return []Text{
		{Sent, "{{ request.title }} has come in", "{{ request.asker }} has asked for {{ request.title }}{{ request.for == request.asker ? \"\" : \", for \" + request.for }}. Its number is {{ request.reference }}.\n\nIt is now with {{ request.holder }}."},
		{Decide, "Your decision: {{ request.title }}", "{{ request.asker }} asks for {{ request.title }}{{ request.for == request.asker ? \"\" : \", for \" + request.for }}.\n\nDecision: {{ request.decision }}\nPrice: {{ request.price }}\nPlease decide until: {{ request.due }}"},
		{Remind, "Still waits for your decision: {{ request.title }}", "{{ request.asker }} waits for your decision on {{ request.title }}.\n\nDecision: {{ request.decision }}\nPrice: {{ request.price }}\nPlease decide until: {{ request.due }}"},
		{Over, "No longer with you: {{ request.title }}", "The decision {{ request.decision }} on {{ request.title }} is no longer with you.\n\n{{ request.said }}"},
		{AskedBack, "{{ request.by }} asks you about {{ request.title }}", "{{ request.by }} asks:\n\n{{ request.said }}\n\nPlease answer until {{ request.due }}. Until then nothing goes on."},
		{Answered, "{{ request.by }} has answered: {{ request.title }}", "{{ request.by }} has answered on {{ request.title }}:\n\n{{ request.said }}"},
		{Passed, "{{ request.title }}: one decision was a yes", "{{ request.decision }}, on {{ request.title }}, was a yes. It is now with {{ request.holder }}."},
		{Decided, "{{ request.title }} is approved", "Every decision on {{ request.title }} was a yes. The work begins.\n\nIt is now with {{ request.holder }}."},
		{Progress, "{{ request.task }}: {{ request.said }}", "{{ request.task }} of {{ request.title }} ({{ request.reference }}): {{ request.said }}"},
		{HeldUp, "{{ request.title }} is held up", "{{ request.task }} of {{ request.title }} is stuck. {{ request.holder }} sees to it; until it goes on, nobody knows when all will be done."},
		{Dated, "{{ request.title }}: a day for {{ request.task }}", "{{ request.task }} of {{ request.title }} ({{ request.reference }}) is foreseen for {{ request.said }}."},
		{Slipped, "{{ request.title }} will likely be later", "{{ request.title }} ({{ request.reference }}) will likely be done on {{ request.due }}, later than foreseen.\n\nIt is now with {{ request.holder }}."},
		{Delivered, "{{ request.title }} is done: is it right?", "All work on {{ request.title }} is done. Please say whether it is right.\n\nIf you say nothing until {{ request.due }}, it closes by itself."},
		{Finished, "{{ request.title }} is done", "All work on {{ request.title }} ({{ request.reference }}) is done, and it is closed.\n\n{{ request.said }}"},
		{SentBack, "{{ request.title }} was sent back", "{{ request.by }} says that {{ request.title }} ({{ request.reference }}) is not right:\n\n{{ request.said }}"},
		{Rated, "{{ request.title }}: not content", "{{ request.by }} was not content with {{ request.title }} ({{ request.reference }}).\n\n{{ request.said }}"},
		{Ended, "{{ request.title }}: {{ request.outcome }}", "{{ request.title }} ({{ request.reference }}) has ended: {{ request.outcome }}.\n\n{{ request.said }}"},
		{Said, "{{ request.by }} wrote on {{ request.title }}", "{{ request.by }}:\n\n{{ request.said }}"},
		{Following, "You are to hear of {{ request.title }}", "{{ request.by }} wants you to hear of {{ request.title }} ({{ request.reference }}), which {{ request.asker }} asked for."},
		{Task, "For your team: {{ request.task }}", "{{ request.task }} is ready to be done, for {{ request.title }} ({{ request.reference }})."},
		{Stuck, "Stuck: {{ request.task }}", "{{ request.task }} of {{ request.title }} ({{ request.reference }}) is stuck:\n\n{{ request.said }}"},
		{Due, "Due: {{ request.task }}", "{{ request.task }} of {{ request.title }} ({{ request.reference }}) is to be done until {{ request.due }}."},
		{Nearing, "The time is nearly used: {{ request.title }}", "{{ request.title }} ({{ request.reference }}): {{ request.said }}\n\nIt lies with {{ request.holder }}. It is due {{ request.due }}."},
		{Missed, "Late: {{ request.title }}", "{{ request.title }} ({{ request.reference }}): {{ request.said }}\n\nIt lies with {{ request.holder }}. It was due {{ request.due }}."},
		{Joined, "It has ended: {{ request.title }}", "You said that you have this, too: {{ request.title }}\n\n{{ request.said }}"},
		{Written, "{{ request.title }}", "{{ request.said }}"},
		{Expiring, "{{ request.title }} ends on {{ request.due }}", "You have {{ request.title }} until {{ request.due }}. If you still need it, ask for more time before that day."},
		{Absent, "{{ request.by }} has changed when you are absent", "{{ request.by }} has set that you are absent until {{ request.due }}. Until then {{ request.holder }} decides for you. If that is not right, end the absence, or ask {{ request.by }}."},
		{StandsIn, "You stand in for {{ request.asker }}", "{{ request.by }} has set that you decide for {{ request.asker }} until {{ request.due }}. Decisions of theirs will come to you."},
		{Duty, "{{ request.by }} has changed what you answer for", "{{ request.said }}\n\nIf that is not right, ask {{ request.by }}."},
		{Care, "{{ request.title }}", "{{ request.said }}"},
		{Second, "{{ offering.name }} waits for your yes", "{{ request.by }} wants to publish {{ offering.name }}. Look at what changes, on Design, and say yes or send it back."},
		{Board, "{{ request.title }}", "{{ request.said }}"},
		{Alarm, "{{ request.title }}", "{{ request.said }}"},
		{Entry, "Your link for a new password", "Somebody, likely you, wants to set a new password for you. Follow the link within an hour; it opens once.\n\nIf it was not you, do nothing: your password stays as it is."},
	}
}

var usual = func() *Texts {
	findings := finding.List{}
	texts := Compile(Usual(), "", &findings)
	if len(findings) > 0 {
		panic(fmt.Sprintf("message: %v", findings))
	}
	return texts
}()
