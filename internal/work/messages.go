package work

import (
	"cmp"
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"slices"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/message"
	"heptad/internal/core/notice"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Mailing is how messages go out by mail.
type Mailing struct {
	Poster connect.Poster
	Base   string // URL of the page, without a slash at its end
	Secret []byte // that links are signed with
}

// dueForm is how texts tell an instant, on the reader's wall clock.
const dueForm = "Monday 2 January 2006, 15:04 MST"

// dayForm is how texts tell a date.
const dayForm = "Monday 2 January 2006"

// linkLife is how long the links of a mail can decide at most.
const linkLife = 14 * 24 * time.Hour

// notify writes the messages that events lead to, in their transaction.
func (o *Office) notify(ctx context.Context, tx *store.Tx, after request.State, events []request.Event, facts request.Facts) error {
	notices := notice.Of(after, events, facts.Company, facts.Service)
	if len(notices) == 0 {
		return nil
	}
	silent, err := tx.Silenced(ctx, after.ID)
	if err != nil {
		return err
	}
	var persons []string
	for _, n := range notices {
		persons = append(persons, n.Person)
	}
	ways, err := tx.Ways(ctx, persons)
	if err != nil {
		return err
	}
	general, err := o.generalTexts(ctx, tx)
	if err != nil {
		return err
	}
	for _, n := range notices {
		if n.Kind.News() && slices.Contains(silent, n.Person) {
			continue
		}
		m := store.Message{Person: n.Person, Request: after.ID, Seq: n.Seq, Kind: n.Kind, Rung: n.Rung, Task: n.Task, At: facts.Now}
		if n.Kind == message.Decide || n.Kind == message.Remind {
			m.DecideBy = decideBy(after, n.Rung, facts.Now)
		}
		m.Subject, m.Body, m.Text = message.Write(n.Kind, o.messageFacts(after, n, facts), facts.Offering.Messages, general)
		if n.Kind == message.Written {
			m.Subject, m.Body = n.Subject, n.Text
		}
		if err := o.post(tx, m, wayOf(ways, n.Person, n.Kind)); err != nil {
			return err
		}
	}
	return nil
}

// Silence lets a person hear no more news of a request, or again.
func (o *Office) Silence(ctx context.Context, person, id string, silent bool) (request.State, error) {
	state, err := o.Store.Request(ctx, id)
	if err != nil || !o.Viewer(person, state).Any() {
		return state, cmp.Or(err, ErrNotFound)
	}
	return state, o.Store.Write(ctx, func(tx *store.Tx) error { return tx.Silence(person, id, silent) })
}

// wayOf is how a person gets messages of a kind: as they chose, or as is usual.
func wayOf(chosen map[string]map[message.Kind]message.Way, person string, kind message.Kind) message.Way {
	if way, ok := chosen[person][kind]; ok {
		return way
	}
	return message.UsualWay(kind)
}

// post keeps a message, for the list and the mail as its reader wants it.
func (o *Office) post(tx *store.Tx, m store.Message, way message.Way) error {
	m.ID, m.Listed, m.Mail, m.Due = rand.Text(), way.List, "off", m.At
	p, _ := o.Company().Person(m.Person)
	if o.Mailing != nil && p.Email != "" && way.Mail != message.Never {
		m.Mail, m.Daily = "waiting", way.Mail == message.Daily
		if m.Daily {
			m.Due = message.NextDaily(m.At, o.Company().HoursOf(m.Person))
		}
	}
	if !m.Listed && m.Mail == "off" {
		return nil
	}
	return tx.AddMessage(m)
}

// postKind writes a message that is about no request, in the general text of its
// kind.
func (o *Office) postKind(ctx context.Context, tx *store.Tx, m store.Message, facts message.Facts) error {
	ways, err := tx.Ways(ctx, []string{m.Person})
	if err != nil {
		return err
	}
	general, err := o.generalTexts(ctx, tx)
	if err != nil {
		return err
	}
	m.Subject, m.Body, m.Text = message.Write(m.Kind, facts, general)
	return o.post(tx, m, wayOf(ways, m.Person, m.Kind))
}

// decideBy is until when the links of a mail decide on a rung.
func decideBy(s request.State, rung string, now time.Time) time.Time {
	by := now.Add(linkLife)
	if r, open := s.OpenRung(); open && r.Key == rung && r.Times.Expire.Before(by) {
		by = r.Times.Expire
	}
	return by
}

// generalTexts compiles the texts that took the place of the usual ones.
func (o *Office) generalTexts(ctx context.Context, tx *store.Tx) (*message.Texts, error) {
	if texts := o.texts.Load(); texts != nil {
		return texts, nil
	}
	texts, err := tx.Texts(ctx)
	if err != nil {
		return nil, err
	}
	compiled := message.Compile(texts, "", &finding.List{})
	o.texts.Store(compiled)
	return compiled, nil
}

// messageFacts are what a text can read.
func (o *Office) messageFacts(s request.State, n notice.Notice, facts request.Facts) message.Facts {
	company := facts.Company
	person, _ := company.Person(n.Person)
	zone := company.HoursOf(n.Person).Zone()
	when := func(at time.Time) string {
		if at.IsZero() {
			return ""
		}
		return at.In(zone).Format(dueForm)
	}
	f := message.Facts{
		Reference: s.Reference, Title: s.Title, Offering: facts.Offering.Document.Purpose.Name, Asker: company.Name(s.Asker),
		For: offering.Parties{Beneficiary: s.For, Company: company}.Name(), Said: n.Said, Person: person.Name, Price: priceWords(s.Price), By: "Heptad",
		Holder: o.heldBy(s, facts.Service),
	}
	if s.For.Person == "" && s.For.Newcomer == nil {
		f.For = f.Asker
	}
	if n.By != request.Program {
		f.By = company.Name(n.By)
	}
	if s.Outcome != "" {
		f.Outcome = map[request.Outcome]string{request.Declined: "declined", request.Withdrawn: "taken back", request.Expired: "expired", request.Fulfilled: "fulfilled", request.Cancelled: "cancelled"}[s.Outcome]
	}
	for i := range s.Rungs {
		if r := &s.Rungs[i]; r.Key == n.Rung {
			f.Decision, f.Due = r.Name, when(r.DueAt())
			f.Price = priceWords(r.PriceFor(n.Person, s.Price))
			if r.NoPrice {
				f.Price = ""
			}
			if r.Say != "" && n.Kind == message.Decide {
				f.Decision += ": " + r.Say
			}
		}
	}
	if t, ok := s.Task(n.Task); ok {
		f.Task = t.Name
		if n.Kind == message.Due {
			f.Due = when(t.Due)
		}
		if t.Question != nil && n.Kind == message.Asked {
			f.Due = when(t.Question.Until)
		}
	}
	switch {
	case n.Kind == message.Asked && s.Question != nil:
		f.Due = when(s.Question.Until)
	case n.Kind == message.Delivered:
		f.Due = when(s.ConfirmBy)
	case n.Kind == message.Slipped:
		f.Due = when(n.Likely)
	case n.Kind == message.Dated:
		if day, err := calendar.ParseDate(n.Day); err == nil {
			f.Said = day.In(zone).Format(dayForm)
		}
	}
	return f
}

func priceWords(p price.Price) string {
	if p.FirstYear.Minor() <= 0 {
		return "nothing"
	}
	return p.FirstYear.String() + " in the first year"
}

// heldBy names with whom a request lies.
func (o *Office) heldBy(s request.State, service people.Service) string {
	var names []string
	for _, h := range s.Holders(service.Home) {
		name := o.Company().TeamName(h.Team)
		if h.Person != "" {
			name = o.Company().Name(h.Person)
		}
		if h.System != "" {
			name = "a system that does it by itself"
		}
		if name != "" && !strings.Contains(strings.Join(names, "\n"), name) {
			names = append(names, name)
		}
	}
	return strings.Join(names, " and ")
}

// link signs the ID of a message: who holds the link decides in its reader's
// place, once, until it expires.
func (o *Office) link(id string) string {
	return id + "." + base64.RawURLEncoding.EncodeToString(o.sign(id))
}

func (o *Office) sign(id string) []byte {
	return signed(o.Mailing.Secret, "decide", id)
}

// signed signs a text for one purpose, so that what is signed for another does
// not pass.
func signed(secret []byte, purpose, text string) []byte {
	mac := hmac.New(sha256.New, secret)
	mac.Write([]byte(purpose + "\x00" + text))
	return mac.Sum(nil)
}

// opened finds the message of a link. A link that is altered is not there.
func (o *Office) opened(ctx context.Context, from interface {
	Message(ctx context.Context, id string) (store.Message, error)
}, token string) (store.Message, error) {
	id, signature, _ := strings.Cut(token, ".")
	given, err := base64.RawURLEncoding.DecodeString(signature)
	if o.Mailing == nil || err != nil || !hmac.Equal(given, o.sign(id)) {
		return store.Message{}, ErrNotFound
	}
	m, err := from.Message(ctx, id)
	if err == nil && m.DecideBy.IsZero() {
		return m, ErrNotFound
	}
	return m, err
}

// Linked is what a link of a mail leads to.
type Linked struct {
	Message store.Message
	State   request.State
	Trouble string // why nothing can be decided by it any more; empty when it can
}

// OpenLink shows what a link of a mail leads to. It changes nothing, however
// often it is followed.
func (o *Office) OpenLink(ctx context.Context, token string) (Linked, error) {
	m, err := o.opened(ctx, o.Store, token)
	if err != nil {
		return Linked{}, err
	}
	state, err := o.Store.Request(ctx, m.Request)
	return Linked{m, state, o.stale(m, state)}, err
}

// stale says why a link does not decide any more.
func (o *Office) stale(m store.Message, s request.State) string {
	p, ok := o.Company().Person(m.Person)
	r, open := s.OpenRung()
	switch {
	case m.Used:
		return "This link has been used already. Sign in to see what became of it, or to change your mind."
	case !o.Clock().Before(m.DecideBy):
		return "This link has expired. Sign in to decide."
	case !ok || p.Former:
		return "Who this link was for is not with the company any more."
	case s.Status == request.Closed && s.Outcome == request.Withdrawn:
		return "The request was taken back. There is nothing to decide any more."
	case s.Status == request.Returned:
		return "The request waits for an answer of " + o.Company().Name(s.Asker) + "."
	case !open || r.Key != m.Rung:
		return "This is decided already. There is nothing left to do."
	}
	if len(r.SeatsFor(m.Person)) == 0 {
		return "This decision is not with you any more."
	}
	if len(r.OpenSeatsFor(m.Person)) == 0 {
		return "You have decided on this already. Sign in to change your mind."
	}
	return ""
}

// DecideByLink decides by a link of a mail, once.
func (o *Office) DecideByLink(ctx context.Context, token string, decision request.Decision, reason string) (Linked, error) {
	m, err := o.opened(ctx, o.Store, token)
	if err != nil {
		return Linked{}, err
	}
	state, err := o.run(ctx, turn{actor: m.Person, id: m.Request, command: func(tx *store.Tx) (request.Command, error) {
		fresh, err := o.opened(ctx, tx, token)
		if err != nil {
			return nil, err
		}
		state, err := tx.Request(ctx, m.Request)
		if err != nil {
			return nil, err
		}
		if trouble := o.stale(fresh, state); trouble != "" {
			return nil, &request.Refusal{Kind: request.Conflict, Code: "staleLink", Sentence: trouble}
		}
		return request.Decide{Rung: m.Rung, Decision: decision, Reason: reason}, tx.UseLink(m.ID, o.Clock())
	}})
	if errors.Is(err, store.ErrExists) {
		err = &request.Refusal{Kind: request.Conflict, Code: "staleLink", Sentence: "This link has been used already."}
	}
	return Linked{Message: m, State: state}, err
}

// Messages lists what a person was told.
func (o *Office) Messages(ctx context.Context, person string, unread bool, p store.Page) ([]store.Message, error) {
	return o.Store.MessagesOf(ctx, person, unread, p)
}

// ReadMessages marks messages of a person as read: one, those on a request, or
// all when both are empty.
func (o *Office) ReadMessages(ctx context.Context, person, id, request string) error {
	err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.MarkRead(person, id, request, o.Clock()) })
	if err == nil {
		o.Live.tell(Change{"message", ""}, map[string]bool{person: true})
	}
	return err
}

// WaysOf lists how a person gets their messages, one for each kind.
func (o *Office) WaysOf(ctx context.Context, person string) ([]message.Way, error) {
	chosen, err := o.Store.Ways(ctx, []string{person})
	if err != nil {
		return nil, err
	}
	ways := make([]message.Way, len(message.Kinds))
	for i, kind := range message.Kinds {
		ways[i] = wayOf(chosen, person, kind)
	}
	return ways, nil
}

// SetWay keeps how a person gets messages of a kind.
func (o *Office) SetWay(ctx context.Context, person string, way message.Way) error {
	return o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetWay(person, way) })
}

// Texts lists the general texts, one for each kind, to owners of services and
// administrators.
func (o *Office) Texts(ctx context.Context, person string) ([]message.Text, error) {
	if !o.Writes(person) {
		return nil, ErrNotFound
	}
	own, err := o.Store.Texts(ctx)
	if err != nil {
		return nil, err
	}
	texts := message.Usual()
	for i := range texts {
		for _, t := range own {
			if t.Kind == texts[i].Kind {
				texts[i] = t
			}
		}
	}
	return texts, nil
}

// SetText keeps a general text, by administrators; an empty one makes the usual
// one hold again.
func (o *Office) SetText(ctx context.Context, person string, text message.Text) error {
	if !o.administers(person) {
		return ErrNotFound
	}
	if text.Subject != "" || text.Body != "" {
		findings := finding.List{}
		message.Compile([]message.Text{text}, "", &findings)
		for _, f := range findings {
			return &request.Refusal{Kind: request.Invalid, Code: f.Code, Sentence: f.Sentence, Place: strings.TrimPrefix(f.Place, "/0")}
		}
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error { return tx.SetText(text, person, o.Clock()) })
	o.texts.Store(nil)
	return err
}

// Example is a reference as those of the organisation look.
func (o *Office) Example() string { return request.Reference(o.Prefix, firstReference+32) }

// Sample fills in a text with made-up facts, for those who write it.
func (o *Office) Sample(text message.Text) (subject, body string, findings finding.List) {
	findings = finding.List{}
	texts := message.Compile([]message.Text{text}, "", &findings)
	if len(findings) > 0 {
		return "", "", findings
	}
	due := o.Clock().UTC().AddDate(0, 0, 2).Format(dueForm)
	subject, body, _ = message.Write(text.Kind, message.Facts{
		Reference: o.Example(), Title: "Desk lamp", Offering: "Desk lamp", Asker: "Who asks", For: "Who it is for", By: "Who wrote", Said: "What they wrote",
		Decision: "Line manager", Task: "Bring the lamp", Price: o.Currency + " 12.50 in the first year", Due: due, Holder: "With whom it lies", Outcome: "declined", Person: "Who reads this",
	}, texts)
	return subject, body, findings
}

// MailsOf lists the mails on a request with what became of them, for those who
// own its service.
func (o *Office) MailsOf(ctx context.Context, person string, s request.State) ([]store.Message, error) {
	if v := o.Viewer(person, s); !v.Owner && !v.HomeLead {
		return nil, nil
	}
	return o.Store.MailsOf(ctx, s.ID)
}
