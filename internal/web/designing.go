package web

import (
	"context"
	"maps"
	"slices"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// materialsBody is what offerings are made of.
type materialsBody struct {
	Services     []serviceView    `json:"services" nullable:"false" doc:"Those the reader designs in"`
	Teams        []Named          `json:"teams" nullable:"false"`
	Calendars    []Named          `json:"calendars" nullable:"false"`
	Pools        []Named          `json:"pools" nullable:"false" doc:"What there is only so much of"`
	Messages     []usualMessage   `json:"messages" nullable:"false" doc:"Kinds of message, with the general texts"`
	Placeholders []string         `json:"placeholders" nullable:"false" doc:"What texts of messages can read"`
	Connectors   []plan.Connector `json:"connectors" nullable:"false"`
	Bundles      []bundleLine     `json:"bundles" nullable:"false" doc:"Audiences that offerings can name"`
	Facts        companyFacts     `json:"facts" doc:"Values that rules about people compare with"`
	Kinds        []form.KindInfo  `json:"kinds" nullable:"false" doc:"Of questions"`
	Sorts        []rule.Sort      `json:"sorts" nullable:"false" doc:"How conditions compare facts"`
	Usual        offering.Usual   `json:"usual" doc:"What holds where an offering says nothing"`
	Tax          price.Tax        `json:"tax" doc:"The usual one of the organisation"`
}

type usualMessage struct {
	Key     message.Kind `json:"key"`
	Name    string       `json:"name" doc:"What its messages tell"`
	Subject string       `json:"subject"`
	Body    string       `json:"body"`
}

type companyFacts struct {
	Departments []string `json:"departments" nullable:"false"`
	Places      []string `json:"places" nullable:"false"`
	Employments []string `json:"employments" nullable:"false"`
	Grades      []string `json:"grades" nullable:"false"`
}

func (h *handlers) facts() companyFacts {
	company := h.Office.Company()
	return companyFacts{
		Departments: company.Departments(), Places: company.Locations(),
		Employments: company.Employments(), Grades: company.Grades(),
	}
}

func (h designing) materials(ctx context.Context, _ *none) (*body[materialsBody], error) {
	out := materialsBody{
		Services: h.servicesOf(ctx), Teams: []Named{}, Calendars: []Named{}, Pools: []Named{}, Placeholders: message.Names(), Connectors: h.Office.Connectors(), Facts: h.facts(),
		Kinds: form.Kinds(), Sorts: rule.Sorts(), Usual: offering.Usually(), Tax: h.Office.Organisation().Tax,
	}
	company := h.Office.Company()
	calendars, err := h.Office.Designing.CalendarDocuments(ctx)
	if err != nil {
		return nil, err
	}
	for _, key := range slices.Sorted(maps.Keys(calendars)) {
		out.Calendars = append(out.Calendars, Named{Key: key, Name: calendars[key].Name})
	}
	texts, err := h.Office.Messaging.Texts(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	for _, t := range texts {
		out.Messages = append(out.Messages, usualMessage{t.Kind, t.Kind.Words(), t.Subject, t.Body})
	}
	for _, team := range company.Teams() {
		out.Teams = append(out.Teams, Named{Key: team.Key, Name: team.Name})
	}
	for _, p := range company.Pools() {
		out.Pools = append(out.Pools, Named{Key: p.Key, Name: p.Name})
	}
	out.Bundles, err = h.bundlesListed(ctx)
	return answer(out, err)
}

// openedOffering is an offering on the desk.
type openedOffering struct {
	Document  offering.Document            `json:"document"`
	Number    int                          `json:"number"`
	State     string                       `json:"state" enum:"draft,current"`
	Revision  int                          `json:"revision" doc:"To be sent back when saving"`
	Current   int                          `json:"current,omitempty" doc:"Number of the version people can ask for"`
	Ended     bool                         `json:"ended,omitempty"`
	Successor string                       `json:"successor,omitempty" doc:"Key of what takes its place"`
	PublishAt *time.Time                   `json:"publishAt,omitempty" doc:"When the draft publishes itself"`
	Trouble   string                       `json:"trouble,omitempty" doc:"Why it did not publish itself"`
	Second    bool                         `json:"second,omitempty" doc:"Publishing needs another's yes"`
	Asked     *askedView                   `json:"asked,omitempty" doc:"It waits for that yes, as it stands"`
	ChangedAt time.Time                    `json:"changedAt"`
	ChangedBy string                       `json:"changedBy"`
	Findings  finding.List                 `json:"findings" nullable:"false"`
	Sentences map[string]offering.ReadRule `json:"sentences" doc:"By JSON Pointer: the rules that read as a sentence"`
	People    []Named                      `json:"people" nullable:"false" doc:"Whom it names; keys are logins"`

	Origin  work.Origin       `json:"origin" doc:"Whether it came with the program"`
	Renewed []offering.Change `json:"renewed" nullable:"false" doc:"What the program brings otherwise since, of one that was changed here"`
}

type askedView struct {
	By   string     `json:"by" doc:"Name of who asked"`
	Mine bool       `json:"mine" doc:"The reader asked, and does not say yes"`
	At   time.Time  `json:"at"`
	Due  *time.Time `json:"due,omitempty" doc:"When it is to be published; at once when left out"`
}

func (h designing) opened(ctx context.Context, o work.Opened, err error) (*body[openedOffering], error) {
	out := openedOffering{
		Document: o.Document, Number: o.Number, State: o.State, Revision: o.Revision, Current: o.Current, Ended: o.Ended, Successor: o.Successor,
		Trouble: o.Trouble, ChangedAt: o.ChangedAt, ChangedBy: h.Office.Company().Name(o.ChangedBy), Findings: list(o.Findings), Sentences: offering.Sentences(o.Document), People: []Named{},
	}
	for _, login := range o.Document.Persons() {
		if p, ok := h.Office.Company().ByLogin(login); ok {
			out.People = append(out.People, Named{Key: p.Login, Name: p.Name, ID: p.ID})
		}
	}
	if !o.PublishAt.IsZero() {
		out.PublishAt = &o.PublishAt
	}
	service, _ := h.Office.Company().Service(o.Document.Purpose.Service)
	out.Second = h.Office.Company().NeedsSecond(service)
	out.Origin, out.Renewed = o.News.Origin, list(o.News.Changes)
	if a := o.Asked; a != nil {
		out.Asked = &askedView{By: h.Office.Company().Name(a.AskedBy), Mine: a.AskedBy == me(ctx), At: a.AskedAt}
		if !a.PublishAt.IsZero() {
			out.Asked.Due = &a.PublishAt
		}
	}
	return answer(out, err)
}

func (h designing) createOffering(ctx context.Context, in *struct {
	Body struct {
		Name    string `json:"name" minLength:"1" maxLength:"120"`
		Service string `json:"service" maxLength:"60" doc:"Key"`
		Copy    string `json:"copy,omitempty" maxLength:"60" doc:"Key of an offering to begin as a copy of"`
		Starter string `json:"starter,omitempty" maxLength:"60" doc:"Key of one of the starter set"`
	}
}) (*body[openedOffering], error) {
	o, err := h.Office.Designing.Create(ctx, me(ctx), work.Beginning{Service: in.Body.Service, Name: in.Body.Name, Copy: in.Body.Copy, Starter: in.Body.Starter})
	return h.opened(ctx, o, err)
}

func (h designing) openOffering(ctx context.Context, in *OfferingInput) (*body[openedOffering], error) {
	o, err := h.Office.Designing.OpenDraft(ctx, me(ctx), in.Offering)
	return h.opened(ctx, o, err)
}

func (h designing) saveOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Document offering.Document `json:"document"`
		Revision int               `json:"revision"`
	}
}) (*body[openedOffering], error) {
	o, err := h.Office.Designing.SaveOffering(ctx, me(ctx), in.Offering, in.Body.Document, in.Body.Revision)
	return h.opened(ctx, o, err)
}

type revisionInput struct {
	OfferingInput
	Revision int `query:"revision" doc:"That the reader has seen"`
}

func (h designing) dropDraft(ctx context.Context, in *revisionInput) (*body[none], error) {
	return answer(none{}, h.Office.Designing.DropDraft(ctx, me(ctx), in.Offering, in.Revision))
}

// mergedBody is a draft brought together with what somebody else saved.
type mergedBody struct {
	Document  offering.Document `json:"document"`
	Revision  int               `json:"revision" doc:"Of what somebody else saved: to save on top of it"`
	By        string            `json:"by" doc:"Name of who saved it"`
	Theirs    []offering.Change `json:"theirs" nullable:"false" doc:"What they changed"`
	Conflicts []string          `json:"conflicts" nullable:"false" doc:"Places where both changed the same; the reader's counts"`
}

func (h designing) mergeOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Base offering.Document `json:"base" doc:"As it was when the reader last loaded or saved it"`
		Mine offering.Document `json:"mine"`
	}
}) (*body[mergedBody], error) {
	m, err := h.Office.Designing.MergeOffering(ctx, me(ctx), in.Offering, in.Body.Base, in.Body.Mine)
	return answer(mergedBody{m.Document, m.Revision, h.Office.Company().Name(m.By), list(m.Theirs), list(m.Conflicts)}, err)
}

func (h designing) publish(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Revision int        `json:"revision"`
		Accepted []string   `json:"accepted" maxItems:"500" nullable:"false" doc:"Names of the warnings that are accepted: code, space, place"`
		At       *time.Time `json:"at,omitempty" doc:"Now when left out"`
	}
}) (*body[openedOffering], error) {
	p := work.Publishing{Revision: in.Body.Revision, Accepted: in.Body.Accepted}
	if in.Body.At != nil {
		p.At = *in.Body.At
	}
	o, err := h.Office.Designing.Publish(ctx, me(ctx), in.Offering, p)
	return h.opened(ctx, o, err)
}

func (h designing) secondYes(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Revision int  `json:"revision"`
		Yes      bool `json:"yes"`
	}
}) (*body[openedOffering], error) {
	o, err := h.Office.Designing.SecondYes(ctx, me(ctx), in.Offering, in.Body.Revision, in.Body.Yes)
	return h.opened(ctx, o, err)
}

func (h designing) unschedule(ctx context.Context, in *revisionInput) (*body[openedOffering], error) {
	o, err := h.Office.Designing.Unschedule(ctx, me(ctx), in.Offering, in.Revision)
	return h.opened(ctx, o, err)
}

func (h designing) endOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Successor string `json:"successor,omitempty" maxLength:"60" doc:"Key of what takes its place"`
	}
}) (*body[openedOffering], error) {
	o, err := h.Office.Designing.End(ctx, me(ctx), in.Offering, in.Body.Successor)
	return h.opened(ctx, o, err)
}

func (h designing) reviveOffering(ctx context.Context, in *OfferingInput) (*body[openedOffering], error) {
	o, err := h.Office.Designing.Revive(ctx, me(ctx), in.Offering)
	return h.opened(ctx, o, err)
}

// VersionLine is a version in a list.
type VersionLine struct {
	Number    int       `json:"number"`
	State     string    `json:"state" enum:"draft,current,past"`
	ChangedAt time.Time `json:"changedAt"`
	ChangedBy string    `json:"changedBy"`
}

func (h designing) versions(ctx context.Context, in *OfferingInput) (*body[listOf[VersionLine]], error) {
	all, err := h.Office.Designing.Versions(ctx, me(ctx), in.Offering)
	out := listOf[VersionLine]{Entries: make([]VersionLine, len(all))}
	for i, v := range all {
		out.Entries[i] = VersionLine{v.Number, v.State, v.ChangedAt, h.Office.Company().Name(v.ChangedBy)}
	}
	return answer(out, err)
}

func (h designing) compare(ctx context.Context, in *struct {
	OfferingInput
	From int `query:"from" minimum:"1"`
	To   int `query:"to" minimum:"1"`
}) (*body[listOf[offering.Change]], error) {
	changes, err := h.Office.Designing.Compare(ctx, me(ctx), in.Offering, in.From, in.To)
	return answer(listOf[offering.Change]{Entries: list(changes)}, err)
}
