package work

import (
	"context"
	"crypto/rand"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/request"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// TeamsOf lists the teams that a person is in, whose tasks they may see.
func (o *Office) TeamsOf(person string) []string {
	p, _ := o.Company().Person(person)
	return p.Teams
}

// Tasks lists the tasks of a person's teams, or of one of them.
func (o *Office) Tasks(ctx context.Context, person string, q store.Tasks) ([]store.TaskEntry, error) {
	teams := o.TeamsOf(person)
	if len(q.Teams) > 0 {
		teams = slices.DeleteFunc(slices.Clone(q.Teams), func(team string) bool { return !slices.Contains(teams, team) })
	}
	q.Teams, q.Person, q.Now = teams, person, o.Clock()
	return o.Store.TasksOf(ctx, q)
}

// Loads tells a member of a team how much everybody of it has in hand: first
// what nobody has.
func (o *Office) Loads(ctx context.Context, person, team string) ([]store.Load, error) {
	if !o.Company().InTeam(person, team) {
		return nil, ErrNotFound
	}
	counted, err := o.Store.LoadOf(ctx, team, o.Clock())
	if err != nil {
		return nil, err
	}
	of := func(id string) store.Load {
		for _, l := range counted {
			if l.Person == id {
				return l
			}
		}
		return store.Load{Person: id}
	}
	all := []store.Load{of("")}
	for _, id := range o.Company().Members(team) {
		all = append(all, of(id))
	}
	return all, nil
}

// Views lists the ways to look at tasks that a person has, of their own and of
// their teams.
func (o *Office) Views(ctx context.Context, person string) ([]store.View, error) {
	return o.Store.ViewsOf(ctx, person)
}

// Worked lists the published offerings whose plan gives tasks to a person's
// teams, by name.
func (o *Office) Worked(ctx context.Context, person string) ([]Listed, error) {
	entries, err := o.catalog(ctx)
	if err != nil {
		return nil, err
	}
	teams, list := o.TeamsOf(person), []Listed{}
	for _, e := range entries {
		c, err := o.numbered(ctx, o.Store, e.Offering, e.Number)
		if err != nil {
			return nil, err
		}
		if slices.ContainsFunc(c.Plan.Tasks(), func(t plan.Task) bool {
			return slices.Contains(teams, t.Team) || slices.ContainsFunc(t.Routes, func(r plan.Route) bool { return slices.Contains(teams, r.Team) })
		}) {
			list = append(list, Listed{CatalogEntry: e.CatalogEntry})
		}
	}
	slices.SortFunc(list, func(a, b Listed) int { return strings.Compare(a.Name, b.Name) })
	return list, nil
}

// mayKeep reports whether a person may keep something for a team: its lead may.
func (o *Office) mayKeep(person, team string) bool {
	return team == "" || o.leads(person, team)
}

// leads reports whether a person is the lead of a team.
func (o *Office) leads(person, team string) bool {
	t, ok := o.Company().Team(team)
	return ok && t.Lead == person
}

// MayChange reports whether a person may change or throw away what somebody made,
// perhaps for a team: who made it may, and the lead of the team.
func (o *Office) MayChange(person, maker, team string) bool {
	return person == maker || o.leads(person, team)
}

// SaveView keeps a way to look at tasks, for oneself or, by its lead, for a
// team; an empty ID makes a new one.
func (o *Office) SaveView(ctx context.Context, v store.View) (store.View, error) {
	v.Name = strings.TrimSpace(v.Name)
	switch {
	case v.Name == "" || !form.OneLine(v.Name):
		return v, invalid("noName", "/name", "Give it a name, on one line.")
	case !o.mayKeep(v.Person, v.Team):
		return v, &request.Refusal{Kind: request.NotYours, Code: "notYours", Sentence: "Only its lead can make something for a team.", Place: "/team"}
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		if v.ID == "" {
			v.ID = rand.Text()
			return tx.SaveView(v)
		}
		old, err := tx.View(ctx, v.ID)
		if err != nil {
			return err
		}
		if !o.MayChange(v.Person, old.Person, old.Team) {
			return ErrNotFound
		}
		v.Person = old.Person
		return tx.SaveView(v)
	})
	return v, err
}

// DropView takes a view away, by who made it or the lead of its team.
func (o *Office) DropView(ctx context.Context, person, id string) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		v, err := tx.View(ctx, id)
		if err == nil && !o.MayChange(person, v.Person, v.Team) {
			err = ErrNotFound
		}
		if err != nil {
			return err
		}
		return tx.DropView(id)
	})
}

// Replies lists the prepared texts that a person has, of their own and of their
// teams; for a request those that fit it, filled in.
func (o *Office) Replies(ctx context.Context, person string, s *request.State, task string) ([]store.Reply, error) {
	if s == nil {
		return o.Store.RepliesOf(ctx, person, "")
	}
	replies, err := o.Store.RepliesOf(ctx, person, s.Offering)
	if err != nil {
		return nil, err
	}
	c, err := o.Version(ctx, s.Offering, s.Version)
	if err != nil {
		return nil, err
	}
	facts := o.replyFacts(*s, c, person, task)
	for i, r := range replies {
		texts := message.Compile([]message.Text{{Kind: message.Said, Subject: r.Name, Body: r.Text}}, "", &finding.List{})
		_, replies[i].Text, _ = message.Write(message.Said, facts, texts)
	}
	return replies, nil
}

// replyFacts are what a prepared text reads of a request.
func (o *Office) replyFacts(s request.State, c *offering.Compiled, person, task string) message.Facts {
	p, _ := o.Company().Person(s.Asker)
	f := message.Facts{
		Reference: s.Reference, Title: s.Title, Offering: c.Document.Purpose.Name, Asker: p.Name, For: p.Name, By: o.Company().Name(person), Person: p.Name,
	}
	if s.For.Newcomer != nil || s.For.Person != "" {
		f.For = (offering.Parties{Beneficiary: s.For, Company: o.Company()}).Name()
	}
	if t, ok := s.Task(task); ok {
		f.Task = t.Name
	}
	return f
}

// SaveReply keeps a prepared text, for oneself or, by its lead, for a team; an
// empty ID makes a new one.
func (o *Office) SaveReply(ctx context.Context, r store.Reply) (store.Reply, error) {
	r.Name, r.Text = strings.TrimSpace(r.Name), strings.TrimSpace(r.Text)
	findings := finding.List{}
	message.Compile([]message.Text{{Kind: message.Said, Subject: r.Name, Body: r.Text}}, "", &findings)
	switch {
	case r.Name == "" || !form.OneLine(r.Name):
		return r, invalid("noName", "/name", "Give it a name, on one line.")
	case r.Text == "":
		return r, invalid("noText", "/text", "Write the text.")
	case len(findings) > 0:
		return r, invalid(findings[0].Code, "/text", "%s", findings[0].Sentence)
	case !o.mayKeep(r.Person, r.Team):
		return r, &request.Refusal{Kind: request.NotYours, Code: "notYours", Sentence: "Only its lead can make something for a team.", Place: "/team"}
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		if r.ID == "" {
			r.ID = rand.Text()
			return tx.SaveReply(r)
		}
		old, err := tx.Reply(ctx, r.ID)
		if err != nil {
			return err
		}
		if !o.MayChange(r.Person, old.Person, old.Team) {
			return ErrNotFound
		}
		r.Person = old.Person
		return tx.SaveReply(r)
	})
	return r, err
}

// DropReply takes a prepared text away, by who made it or the lead of its team.
func (o *Office) DropReply(ctx context.Context, person, id string) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error {
		r, err := tx.Reply(ctx, id)
		if err == nil && !o.MayChange(person, r.Person, r.Team) {
			err = ErrNotFound
		}
		if err != nil {
			return err
		}
		return tx.DropReply(id)
	})
}

// found is how many requests a page of a search gives.
const found = 30

// Find finds requests by their reference or its number, by who asks or whom they
// are for, by words of the title, or by where they stand: those that a person may
// see, or works on. A reference with a wrong check letter is refused, as it was
// mistyped; a typing mistake in a word is forgiven when nothing is written so.
func (o *Office) Find(ctx context.Context, person string, w store.Wanted) (store.Found, error) {
	w.Words, w.Limit = strings.TrimSpace(w.Words), found
	if w.Words == "" && w.Service == "" && w.Standing == "" && !w.Late && !w.Stuck {
		return store.Found{Entries: []store.Entry{}}, nil
	}
	if upper := strings.ToUpper(w.Words); looksLikeReference(upper, o.Prefix) {
		if !request.ValidReference(upper) {
			return store.Found{}, invalid("mistyped", "/words", "%s", notAReference(upper))
		}
		state, err := o.Store.ByReference(ctx, upper)
		if err != nil || !o.Viewer(person, state).Any() {
			return store.Found{Entries: []store.Entry{}}, nil // nobody can tell which
		}
		return store.Found{Entries: []store.Entry{{State: state}}}, nil
	}
	if number := numberOf(w.Words, o.Prefix); number > 0 {
		if entries, err := o.Store.Numbered(ctx, o.sight(person), number); err != nil || len(entries) > 0 {
			return store.Found{Entries: entries}, err
		}
	}
	terms, err := o.terms(ctx, w.Words)
	if err != nil || w.Words != "" && len(terms) == 0 {
		return store.Found{Entries: []store.Entry{}}, err
	}
	w.Terms = terms
	return o.Store.Find(ctx, o.sight(person), w)
}

// numberOf reads the number of a reference that is not written to its end, such
// as QS-10432 or 10432; 0 when it is none.
func numberOf(words, prefix string) int64 {
	n, _ := strconv.ParseInt(strings.TrimSuffix(strings.TrimPrefix(strings.ToUpper(words), prefix+"-"), "-"), 10, 64)
	return n
}

// mostTerms is how many words of a search count, and how many a mistyped one may
// stand for.
const mostTerms = 12

// terms takes words apart as requests are found by them. What nobody has written
// stands for what is one typing mistake away.
func (o *Office) terms(ctx context.Context, words string) ([][]string, error) {
	all := [][]string{}
	for _, word := range strings.FieldsFunc(search.Plain(words), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		if len(all) == mostTerms {
			break
		}
		written, err := o.Store.Written(ctx, word)
		if err != nil {
			return nil, err
		}
		near := []string{word}
		if !written {
			if near, err = o.near(ctx, word); err != nil {
				return nil, err
			}
		}
		all = append(all, near)
	}
	return all, nil
}

func (o *Office) near(ctx context.Context, word string) ([]string, error) {
	letters := []rune(word)
	words, err := o.Store.WordsOf(ctx, len(letters)-1, len(letters)+1)
	near := []string{word}
	for _, w := range words {
		if len(near) < mostTerms && search.Mistyped(letters, []rune(w)) {
			near = append(near, w)
		}
	}
	return near, err
}

func notAReference(text string) string {
	return text + " is no reference: its letter does not fit its number. One of them is mistyped."
}

// Overview counts what is under way of what a person may see, or works on.
func (o *Office) Overview(ctx context.Context, person string) ([]store.UnderWay, error) {
	return o.Store.Overview(ctx, o.sight(person))
}

// sight is what a person may see requests by: they own the service or lead its
// home team, or are in a team with a task.
func (o *Office) sight(person string) store.Sight {
	s := store.Sight{Person: person, Teams: o.TeamsOf(person), Now: o.Clock()}
	for _, service := range o.Company().Services() {
		if service.Owner == person || o.leads(person, service.Home) {
			s.Services = append(s.Services, service.Key)
		}
	}
	return s
}

func looksLikeReference(words, prefix string) bool {
	parts := strings.Split(words, "-")
	return len(parts) == 3 && parts[0] == prefix && parts[1] != "" && strings.Trim(parts[1], "0123456789") == "" && len(parts[2]) == 1
}

// Fit is an offering that fits something that somebody has.
type Fit struct {
	Offering, Name string
	Does           string
	Question       string // that names it
}

// Have is something that a person has, with what can be asked for it.
type Have struct {
	store.Belonging
	Fits []Fit
}

// HaveOf lists what a person has, with the offerings that fit each.
func (o *Office) HaveOf(ctx context.Context, person string) ([]Have, error) {
	held, err := o.Store.HoldingsOf(ctx, person)
	if err != nil {
		return nil, err
	}
	entries, err := o.catalog(ctx)
	if err != nil {
		return nil, err
	}
	me := o.audiencePerson(person)
	all := make([]Have, len(held))
	for i, b := range held {
		all[i] = Have{b, []Fit{}}
	}
	for _, e := range entries {
		if may, _ := e.audience.MayAsk(me); !may {
			continue
		}
		c, err := o.numbered(ctx, o.Store, e.Offering, e.Number)
		if err != nil {
			return nil, err
		}
		for _, fit := range c.Document.Purpose.Fits {
			for i := range all {
				if all[i].Kind == fit.Kind {
					all[i].Fits = append(all[i].Fits, Fit{e.Offering, e.Name, fit.Does, fit.Question})
				}
			}
		}
	}
	return all, nil
}

// anyFile is what files added after sending may be.
var anyFile = form.Question{Kind: form.File}

// Addressed says what something is about and for whom: the key of a task, if
// any, and who may read it.
type Addressed struct {
	Task string
	To   request.To
}

// Attach adds a file to a request that was sent.
func (o *Office) Attach(ctx context.Context, person, id string, a Addressed, file IncomingFile) (form.Upload, error) {
	if err := o.Concerns(ctx, person, id); err != nil {
		return form.Upload{}, err
	}
	upload, err := o.keep(anyFile, file)
	if err != nil {
		return upload, err
	}
	_, err = o.run(ctx, turn{actor: person, id: id, command: func(tx *store.Tx) (request.Command, error) {
		return request.Attach{File: upload, Task: a.Task, To: a.To}, tx.AddUpload(store.Upload{Upload: upload, Request: id, Question: attached}, person, o.Clock())
	}})
	if err != nil {
		return form.Upload{}, errors.Join(err, o.Store.ForgetContent(upload.ID))
	}
	return upload, nil
}

// attached stands in place of a question with files added after sending.
const attached = "+"

// Colleagues lists the members of a team who can be handed a task, with whether
// they are absent now.
func (o *Office) Colleagues(team string) []Colleague {
	all := []Colleague{}
	for _, id := range o.Company().Members(team) {
		p, _ := o.Company().Person(id)
		if p.Former {
			continue
		}
		_, absent := o.Company().Absence(id, o.Clock())
		all = append(all, Colleague{p, absent})
	}
	return all
}

// Colleague is a member of a team.
type Colleague struct {
	people.Person
	Absent bool
}

// Slack is the working time until a task must begin, or end, at the latest, in
// the calendar of its team; negative when that is over.
func (o *Office) Slack(team string, latest time.Time) time.Duration {
	now := o.Clock()
	if work := o.Company().TeamHours(team, nil); work != nil {
		return work.Between(now, latest)
	}
	return latest.Sub(now)
}
