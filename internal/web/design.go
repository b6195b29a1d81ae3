package web

import (
	"bytes"
	"context"
	"maps"
	"net/http"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/lines"
	"heptad/internal/core/message"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/core/request"
	"heptad/internal/core/rule"
	"heptad/internal/starter"
	"heptad/internal/work"
)

// portfolioBody is what a catalog owner has, and what offerings are made of.
type portfolioBody struct {
	Services     []serviceView    `json:"services" nullable:"false" doc:"Those the reader owns"`
	Offerings    []offeringLine   `json:"offerings" nullable:"false"`
	Teams        []Named          `json:"teams" nullable:"false"`
	Calendars    []Named          `json:"calendars" nullable:"false"`
	Pools        []Named          `json:"pools" nullable:"false" doc:"What there is only so much of"`
	Messages     []usualMessage   `json:"messages" nullable:"false" doc:"Kinds of message, with the general texts"`
	Placeholders []string         `json:"placeholders" nullable:"false" doc:"What texts of messages can read"`
	Connectors   []plan.Connector `json:"connectors" nullable:"false"`
	Starters     []starterView    `json:"starters" nullable:"false" doc:"What a new offering can begin as"`
	Facts        companyFacts     `json:"facts" doc:"Values that rules about people compare with"`
	Kinds        []form.KindInfo  `json:"kinds" nullable:"false" doc:"Of questions"`
	Sorts        []rule.Sort      `json:"sorts" nullable:"false" doc:"How conditions compare facts"`
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
	CostCentres []Named  `json:"costCentres" nullable:"false"`
	Employments []string `json:"employments" nullable:"false"`
	Grades      []string `json:"grades" nullable:"false"`
}

type starterView struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	Text string `json:"text"`
}

type serviceView struct {
	Named
	Area  string       `json:"area"`
	Text  string       `json:"text"`
	Owner string       `json:"owner"`
	Home  string       `json:"home" doc:"Name of its home team"`
	Place people.Place `json:"place" enum:"intended,offered,ended"`
}

type Named struct {
	Key  string `json:"key"`
	Name string `json:"name"`
	ID   string `json:"id,omitempty" doc:"Of a person"`
}

// centres lists the cost centres of the company by name.
func (s *Server) centres() []Named {
	out := []Named{}
	for _, c := range s.Office.Company().CostCentres() {
		out = append(out, Named{Key: c.Key, Name: s.Office.Company().CentreName(c.Key)})
	}
	return out
}

type offeringLine struct {
	Key       string     `json:"key"`
	Name      string     `json:"name"`
	Service   string     `json:"service" doc:"Key"`
	Draft     int        `json:"draft,omitempty" doc:"Number of the version being written"`
	Current   int        `json:"current,omitempty" doc:"Number of the version people can ask for"`
	Ended     bool       `json:"ended,omitempty" doc:"Nobody can ask for it any more"`
	PublishAt *time.Time `json:"publishAt,omitempty" doc:"When the draft publishes itself"`
	ChangedAt time.Time  `json:"changedAt"`
}

func (s *Server) portfolio(ctx context.Context, _ *none) (*body[portfolioBody], error) {
	out := portfolioBody{Services: []serviceView{}, Offerings: []offeringLine{}, Teams: []Named{}, Calendars: []Named{}, Pools: []Named{}, Connectors: s.Office.Connectors(), Starters: []starterView{}, Kinds: form.Kinds(), Sorts: rule.Sorts()}
	company := s.Office.Company()
	for _, service := range s.Office.Owned(me(ctx)) {
		out.Services = append(out.Services, serviceView{
			Named{Key: service.Key, Name: service.Name}, service.Area, service.Text, company.Name(service.Owner), company.TeamName(service.Home), service.Place,
		})
	}
	if len(out.Services) == 0 {
		return nil, work.ErrNotFound
	}
	calendars, err := s.Office.CalendarDocuments(ctx)
	if err != nil {
		return nil, err
	}
	for _, key := range slices.Sorted(maps.Keys(calendars)) {
		out.Calendars = append(out.Calendars, Named{Key: key, Name: calendars[key].Name})
	}
	texts, err := s.Office.Texts(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out.Placeholders = message.Names()
	for _, t := range texts {
		out.Messages = append(out.Messages, usualMessage{t.Kind, t.Kind.Words(), t.Subject, t.Body})
	}
	for _, team := range company.Teams() {
		out.Teams = append(out.Teams, Named{Key: team.Key, Name: team.Name})
	}
	for _, p := range company.Pools() {
		out.Pools = append(out.Pools, Named{Key: p.Key, Name: p.Name})
	}
	for _, d := range starter.All() {
		out.Starters = append(out.Starters, starterView{d.Key, d.Purpose.Name, d.Purpose.Text})
	}
	out.Facts = companyFacts{
		Departments: company.Values(func(p people.Person) string { return p.Department }), Places: company.Locations(),
		Employments: company.Values(func(p people.Person) string { return p.Employment }), Grades: company.Values(func(p people.Person) string { return p.Grade }),
	}
	out.Facts.CostCentres = s.centres()
	offerings, err := s.Office.OfferingsOf(ctx, me(ctx))
	for _, o := range offerings {
		line := offeringLine{Key: o.Key, Name: o.Name, Service: o.Service, Draft: o.Draft, Current: o.Current, Ended: o.Ended, ChangedAt: time.UnixMilli(o.ChangedAt).UTC()}
		if o.Due != nil {
			due := time.UnixMilli(*o.Due).UTC()
			line.PublishAt = &due
		}
		out.Offerings = append(out.Offerings, line)
	}
	return answer(out, err)
}

func (s *Server) setPlace(ctx context.Context, in *struct {
	Service string `path:"service" maxLength:"60"`
	Body    struct {
		Place people.Place `json:"place" enum:"intended,offered,ended"`
	}
}) (*body[none], error) {
	return answer(none{}, s.Office.SetPlace(ctx, me(ctx), in.Service, in.Body.Place))
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
	ChangedAt time.Time                    `json:"changedAt"`
	ChangedBy string                       `json:"changedBy"`
	Findings  finding.List                 `json:"findings" nullable:"false"`
	Sentences map[string]offering.ReadRule `json:"sentences" doc:"By JSON Pointer: the rules that read as a sentence"`
	People    []Named                      `json:"people" nullable:"false" doc:"Whom it names; keys are logins"`
}

func (s *Server) opened(o work.Opened, err error) (*body[openedOffering], error) {
	out := openedOffering{
		Document: o.Document, Number: o.Number, State: o.State, Revision: o.Revision, Current: o.Current, Ended: o.Ended, Successor: o.Successor,
		Trouble: o.Trouble, ChangedAt: o.ChangedAt, ChangedBy: s.Office.Company().Name(o.ChangedBy), Findings: list(o.Findings), Sentences: offering.Sentences(o.Document), People: []Named{},
	}
	for _, login := range o.Document.Persons() {
		if p, ok := s.Office.Company().ByLogin(login); ok {
			out.People = append(out.People, Named{Key: p.Login, Name: p.Name, ID: p.ID})
		}
	}
	if !o.PublishAt.IsZero() {
		out.PublishAt = &o.PublishAt
	}
	return answer(out, err)
}

func (s *Server) createOffering(ctx context.Context, in *struct {
	Body struct {
		Name    string `json:"name" minLength:"1" maxLength:"120"`
		Service string `json:"service" maxLength:"60" doc:"Key"`
		Copy    string `json:"copy,omitempty" maxLength:"60" doc:"Key of an offering to begin as a copy of"`
		Starter string `json:"starter,omitempty" maxLength:"60" doc:"Key of one of the starter set"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.Create(ctx, me(ctx), work.Beginning{Service: in.Body.Service, Name: in.Body.Name, Copy: in.Body.Copy, Starter: in.Body.Starter}))
}

func (s *Server) openOffering(ctx context.Context, in *OfferingInput) (*body[openedOffering], error) {
	return s.opened(s.Office.OpenDraft(ctx, me(ctx), in.Offering))
}

func (s *Server) saveOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Document offering.Document `json:"document"`
		Revision int               `json:"revision"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.SaveOffering(ctx, me(ctx), in.Offering, in.Body.Document, in.Body.Revision))
}

type revisionInput struct {
	OfferingInput
	Revision int `query:"revision" doc:"That the reader has seen"`
}

func (s *Server) dropDraft(ctx context.Context, in *revisionInput) (*body[none], error) {
	return answer(none{}, s.Office.DropDraft(ctx, me(ctx), in.Offering, in.Revision))
}

// mergedBody is a draft brought together with what somebody else saved.
type mergedBody struct {
	Document  offering.Document `json:"document"`
	Revision  int               `json:"revision" doc:"Of what somebody else saved: to save on top of it"`
	By        string            `json:"by" doc:"Name of who saved it"`
	Theirs    []offering.Change `json:"theirs" nullable:"false" doc:"What they changed"`
	Conflicts []string          `json:"conflicts" nullable:"false" doc:"Places where both changed the same; the reader's counts"`
}

func (s *Server) mergeOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Base offering.Document `json:"base" doc:"As it was when the reader last loaded or saved it"`
		Mine offering.Document `json:"mine"`
	}
}) (*body[mergedBody], error) {
	m, err := s.Office.MergeOffering(ctx, me(ctx), in.Offering, in.Body.Base, in.Body.Mine)
	return answer(mergedBody{m.Document, m.Revision, s.Office.Company().Name(m.By), list(m.Theirs), list(m.Conflicts)}, err)
}

func (s *Server) publish(ctx context.Context, in *struct {
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
	return s.opened(s.Office.Publish(ctx, me(ctx), in.Offering, p))
}

func (s *Server) unschedule(ctx context.Context, in *revisionInput) (*body[openedOffering], error) {
	return s.opened(s.Office.Unschedule(ctx, me(ctx), in.Offering, in.Revision))
}

func (s *Server) endOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		Successor string `json:"successor,omitempty" maxLength:"60" doc:"Key of what takes its place"`
	}
}) (*body[openedOffering], error) {
	return s.opened(s.Office.End(ctx, me(ctx), in.Offering, in.Body.Successor))
}

func (s *Server) reviveOffering(ctx context.Context, in *OfferingInput) (*body[openedOffering], error) {
	return s.opened(s.Office.Revive(ctx, me(ctx), in.Offering))
}

// VersionLine is a version in a list.
type VersionLine struct {
	Number    int       `json:"number"`
	State     string    `json:"state" enum:"draft,current,past"`
	ChangedAt time.Time `json:"changedAt"`
	ChangedBy string    `json:"changedBy"`
}

func (s *Server) versions(ctx context.Context, in *OfferingInput) (*body[listOf[VersionLine]], error) {
	all, err := s.Office.Versions(ctx, me(ctx), in.Offering)
	out := listOf[VersionLine]{Entries: make([]VersionLine, len(all))}
	for i, v := range all {
		out.Entries[i] = VersionLine{v.Number, v.State, v.ChangedAt, s.Office.Company().Name(v.ChangedBy)}
	}
	return answer(out, err)
}

func (s *Server) compare(ctx context.Context, in *struct {
	OfferingInput
	From int `query:"from" minimum:"1"`
	To   int `query:"to" minimum:"1"`
}) (*body[listOf[offering.Change]], error) {
	changes, err := s.Office.Compare(ctx, me(ctx), in.Offering, in.From, in.To)
	return answer(listOf[offering.Change]{Entries: list(changes)}, err)
}

// triedForm is what a draft would be like, for the asker and for those who
// decide and work.
type triedForm struct {
	OpenedForm
	As    PersonView  `json:"as" doc:"As whom it was tried"`
	Title string      `json:"title" doc:"Of the request"`
	Rungs []triedRung `json:"rungs" nullable:"false" doc:"What approvers would see"`
	Work  []triedTask `json:"work" nullable:"false" doc:"What the teams would see"`
	Chart *chartView  `json:"chart,omitempty" doc:"The plan as it would go, if it can be computed"`

	Findings finding.List `json:"findings" nullable:"false" doc:"Of what is tried, beside those of the offering"`
}

type triedRung struct {
	Name    string     `json:"name"`
	Say     string     `json:"say,omitempty"`
	Answers []answered `json:"answers" nullable:"false"`
}

type triedTask struct {
	Key          string     `json:"key"`
	Name         string     `json:"name"`
	Team         string     `json:"team"`
	Wanted       bool       `json:"wanted" doc:"Not skipped by its rule"`
	Automatic    bool       `json:"automatic"`
	Instructions string     `json:"instructions,omitempty"`
	Answers      []answered `json:"answers" nullable:"false" doc:"Its slice"`
}

func (s *Server) tryOffering(ctx context.Context, in *struct {
	OfferingInput
	Body struct {
		As      string               `json:"as" maxLength:"60" doc:"ID of the person to try it as; empty: somebody who may ask for it"`
		For     offering.Beneficiary `json:"for,omitempty"`
		At      *time.Time           `json:"at,omitempty" doc:"Now when left out"`
		Answers form.Answers         `json:"answers" maxProperties:"500"`
	}
}) (*body[triedForm], error) {
	trial := work.Trial{As: in.Body.As, For: in.Body.For, Answers: in.Body.Answers}
	if in.Body.At != nil {
		trial.At = *in.Body.At
	}
	t, err := s.Office.Try(ctx, me(ctx), in.Offering, trial)
	if err != nil {
		return nil, err
	}
	out := triedForm{OpenedForm: s.formBody(t.Form), As: personView(t.As), Title: t.Title, Rungs: []triedRung{}, Work: []triedTask{}, Findings: t.Findings}
	out.Chart = s.chart(t.Evaluated.Forecast, t.Offering.Promise.Calendar(), t.At)
	open, private := t.Offering.Form.Apart(t.Evaluated.Kept())
	state := request.State{Answers: open, Private: slices.Sorted(maps.Keys(private)), Present: t.Evaluated.Presents(), Held: t.Belongings}
	for _, r := range t.Rungs {
		rung := request.Rung{Facts: r.Facts}
		out.Rungs = append(out.Rungs, triedRung{r.Name, r.Say, s.inWords(t.Offering, state, rung.Sight())})
	}
	for _, task := range t.Tasks {
		out.Work = append(out.Work, triedTask{
			Key: task.Key, Name: task.Name, Team: s.Office.Company().TeamName(task.Team), Wanted: task.Wanted, Automatic: task.Kind == plan.Automatic,
			Instructions: task.Instructions, Answers: s.inWords(t.Offering, state, (&request.Task{Slice: task.Slice}).Sight()),
		})
	}
	return answer(out, nil)
}

// verdict says whether one person is in an audience.
type verdict struct {
	Person string `json:"person" doc:"ID"`
	Name   string `json:"name"`
	Where  string `json:"where" doc:"Department and place"`
	In     bool   `json:"in"`
	Reason string `json:"reason"`
}

func (s *Server) survey(ctx context.Context, in *struct {
	OfferingInput
	Which string `query:"which" enum:"see,ask,for"`
	Asker string `query:"asker" maxLength:"60" doc:"ID of who asks, for 'for'"`
}) (*body[listOf[verdict]], error) {
	all, err := s.Office.Survey(ctx, me(ctx), in.Offering, in.Which, in.Asker)
	out := listOf[verdict]{Entries: make([]verdict, len(all))}
	for i, v := range all {
		p, _ := s.Office.Company().Person(v.Person)
		out.Entries[i] = verdict{v.Person, p.Name, p.Department + ", " + p.Location, v.In, v.Reason}
	}
	return answer(out, err)
}

func (s *Server) sharedQuestions(ctx context.Context, _ *none) (*body[listOf[form.Question]], error) {
	all, err := s.Office.SharedQuestions(ctx, me(ctx))
	out := listOf[form.Question]{Entries: make([]form.Question, len(all))}
	for i, q := range all {
		out.Entries[i] = q.Question
	}
	return answer(out, err)
}

func (s *Server) shareQuestion(ctx context.Context, in *struct{ Body form.Question }) (*body[none], error) {
	return answer(none{}, s.Office.ShareQuestion(ctx, me(ctx), in.Body))
}

type ruleBody struct {
	Rule string `json:"rule" doc:"CEL"`
}

func (s *Server) writeRule(_ context.Context, in *struct{ Body rule.Sentence }) (*body[ruleBody], error) {
	source, err := in.Body.CEL()
	if err != nil {
		return nil, newProblem(http.StatusUnprocessableEntity, sentence(err.Error()))
	}
	return answer(ruleBody{source}, nil)
}

func (s *Server) checkRule(_ context.Context, in *struct {
	Body struct {
		Document offering.Document `json:"document"`
		Place    string            `json:"place" maxLength:"200" doc:"JSON Pointer of the rule, or of the text with placeholders"`
		Source   string            `json:"source" maxLength:"8000"`
	}
}) (*body[offering.RuleCheck], error) {
	return answer(offering.CheckRule(in.Body.Document, in.Body.Place, in.Body.Source, s.Office.Connectors()), nil)
}

func (s *Server) readLines(_ context.Context, in *struct {
	Body struct {
		Document offering.Document `json:"document" doc:"The lines are added to it"`
		Side     lines.Side        `json:"side" enum:"questions,items,ladder,plan"`
		Text     string            `json:"text" maxLength:"20000"`
	}
}) (*body[listOf[lines.Line]], error) {
	around := lines.Around{Document: in.Body.Document, Company: s.Office.Company(), Connectors: s.Office.Connectors()}
	return answer(listOf[lines.Line]{Entries: lines.Read(in.Body.Side, in.Body.Text, around)}, nil)
}

func (s *Server) importItems(_ context.Context, in *struct {
	Currency string `query:"currency" maxLength:"3"`
	RawBody  []byte `contentType:"text/csv"`
}) (*body[price.Imported], error) {
	return answer(price.ImportItems(bytes.NewReader(in.RawBody), in.Currency), nil)
}

func (s *Server) exportCatalog(ctx context.Context, _ *none) (*attachment[offering.Catalog], error) {
	c, err := s.Office.Export(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	return attached("catalog.json", c), nil
}

// incoming is what an import would do, or has done, with one offering.
type incoming struct {
	Key      string            `json:"key"`
	Name     string            `json:"name"`
	Does     string            `json:"does" enum:"new,changed,same,refused"`
	Why      string            `json:"why,omitempty" doc:"It is refused"`
	Ends     bool              `json:"ends,omitempty" doc:"It ends here, as it has where it comes from"`
	Draft    bool              `json:"draft,omitempty" doc:"It has ended where it comes from, and stays a draft"`
	Changes  []offering.Change `json:"changes" nullable:"false"`
	Errors   int               `json:"errors"`
	Warnings int               `json:"warnings"`
}

func (s *Server) importCatalog(ctx context.Context, in *struct {
	Preview bool     `query:"preview" doc:"Only tell what would happen"`
	Publish bool     `query:"publish" doc:"Publish what has neither errors nor warnings"`
	Home    []string `query:"home" maxItems:"100" doc:"Of services that are new here: key, colon, key of the team that is home to it"`
	Owner   []string `query:"owner" maxItems:"100" doc:"Of services that are new here: key, colon, login; the reader when left out"`
	RawBody []byte   `contentType:"application/octet-stream"`
}) (*body[importedBody], error) {
	c, err := parseCatalog(in.RawBody)
	if err != nil {
		return nil, err
	}
	news := s.Office.NewServices(c)
	all, err := s.Office.Import(ctx, me(ctx), c, work.Importing{Preview: in.Preview, Publish: in.Publish, Homes: pairs(in.Home), Owners: pairs(in.Owner)})
	out := importedBody{Entries: make([]incoming, len(all)), Services: make([]newService, len(news))}
	for i, n := range news {
		owner, _ := s.Office.Company().ByLogin(n.Owner)
		out.Services[i] = newService{n.Key, n.Name, n.Area, n.Home, n.Owner, owner.Name}
	}
	for i, o := range all {
		out.Entries[i] = incoming{Key: o.Key, Name: o.Name, Does: o.Does, Why: o.Why, Ends: o.Ends, Draft: o.Draft, Changes: list(o.Changes)}
		for _, f := range o.Findings {
			switch f.Severity {
			case finding.Error:
				out.Entries[i].Errors++
			case finding.Warning:
				out.Entries[i].Warnings++
			}
		}
	}
	return answer(out, err)
}

// importedBody is what an import would do, or has done.
type importedBody struct {
	Entries  []incoming   `json:"entries" nullable:"false"`
	Services []newService `json:"services" nullable:"false" doc:"Services of the file that were not here"`
}

// newService is a service that is new here, with the owner and the home team of
// the file where they are known here.
type newService struct {
	Key       string `json:"key"`
	Name      string `json:"name"`
	Area      string `json:"area"`
	Home      string `json:"home,omitempty" doc:"Key of a team"`
	Owner     string `json:"owner,omitempty" doc:"Login"`
	OwnerName string `json:"ownerName,omitempty"`
}

// pairs reads values such as access:keys-badges.
func pairs(values []string) map[string]string {
	out := map[string]string{}
	for _, v := range values {
		if key, value, ok := strings.Cut(v, ":"); ok {
			out[key] = value
		}
	}
	return out
}

// parseCatalog reads a catalog, or a single offering as a catalog of one.
func parseCatalog(data []byte) (offering.Catalog, error) {
	c, err := offering.ParseCatalog(data)
	if err == nil {
		return c, nil
	}
	if d, single := offering.Parse(data); single == nil {
		return offering.Catalog{Format: offering.CatalogFormat, Offerings: []offering.Document{d}}, nil
	}
	bad := err.(*offering.ParseError) // ParseCatalog promises it
	p := newProblem(http.StatusUnprocessableEntity, "This file is no catalog. "+bad.Sentence)
	p.Code, p.Errors = "noCatalog", []Detail{{bad.Place, bad.Sentence, "noCatalog"}}
	return c, p
}
