package main

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
	"heptad/internal/starter"
	"heptad/internal/store"
	"heptad/internal/work"
)

type offeringCommands struct {
	New      newCommand      `cmd:"" help:"Print an offering to begin with, as JSON."`
	Check    checkCommand    `cmd:"" help:"List the findings of an offering; exits 1 when there are errors."`
	Evaluate evaluateCommand `cmd:"" help:"Work out the form of an offering with some answers, as JSON."`
	Diff     diffCommand     `cmd:"" help:"Tell what is different in a newer version, in words."`
	Export   exportCommand   `cmd:"" help:"Write the whole catalog of a data folder, while no Heptad runs on it."`
	Import   importCommand   `cmd:"" help:"Bring a catalog into a data folder, while no Heptad runs on it."`
}

// newCommand prints an offering to begin with.
type newCommand struct {
	Name     string `arg:"" help:"What people can ask for."`
	Service  string `required:"" help:"Key of the service it belongs to."`
	From     string `help:"Key of the starter it begins as; empty without."`
	Currency string `default:"EUR" help:"Of its prices, ISO 4217."`
	Zone     string `default:"UTC" help:"Time zone of its promise, IANA."`
}

// Run prints it.
func (c *newCommand) Run(*env) error {
	key := offering.KeyOf(c.Name)
	if key == "" {
		return errors.New("name the offering with letters or digits")
	}
	d := offering.New(key, c.Name, c.Service, c.Currency, c.Zone)
	if c.From != "" {
		from, ok := starter.Find(c.From)
		if !ok {
			var keys []string
			for _, s := range starter.All() {
				keys = append(keys, s.Key)
			}
			return fmt.Errorf("there is no starter %q; there are %s", c.From, strings.Join(keys, ", "))
		}
		from.Key, from.Purpose.Name, from.Purpose.Service = key, c.Name, c.Service
		from.Items.Currency, from.Promise.Zone = c.Currency, c.Zone
		d = from
	}
	return printJSON(d)
}

// readOffering reads an offering from a file, JSON or YAML; - is the standard
// input.
func readOffering(path string) (offering.Document, error) {
	data, err := readAll(path)
	if err != nil {
		return offering.Document{}, err
	}
	d, err := offering.Parse(data)
	var bad *offering.ParseError
	if errors.As(err, &bad) && bad.Place != "" {
		return d, fmt.Errorf("%s: at %s: %w", path, bad.Place, err)
	}
	if err != nil {
		return d, fmt.Errorf("%s: %w", path, err)
	}
	return d, nil
}

func readAll(path string) ([]byte, error) {
	if path == "-" {
		return io.ReadAll(os.Stdin)
	}
	return os.ReadFile(path)
}

// companyOf reads a people file; without one, people and teams are not checked.
func companyOf(path string) (offering.Company, error) {
	if path == "" {
		return offering.Company{Connectors: connect.Described()}, nil
	}
	data, err := readAll(path)
	if err != nil {
		return offering.Company{}, err
	}
	persons, err := people.ParseCSV(csv.NewReader(strings.NewReader(string(data))))
	if err != nil {
		return offering.Company{}, fmt.Errorf("%s: %w", path, err)
	}
	return offering.Company{Directory: people.DirectoryOf(persons), Connectors: connect.Described()}, nil
}

type checkCommand struct {
	File   string `arg:"" help:"The offering, JSON or YAML."`
	People string `help:"CSV of the people, to check people, teams and connectors."`
	JSON   bool   `help:"Print JSON."`
}

// errFindings makes the program exit 1 without a word.
var errFindings = errors.New("")

func (c *checkCommand) Run() error {
	findings, err := c.findings()
	if err != nil {
		return err
	}
	if c.JSON {
		if err := printJSON(findings); err != nil {
			return err
		}
	} else {
		for _, f := range findings {
			fmt.Printf("%-7s  %s  %s  %s", f.Severity, f.Code, f.Place, f.Sentence)
			if f.Mend != "" {
				fmt.Printf("  → %s", f.Mend)
			}
			fmt.Println()
		}
		if len(findings) == 0 {
			fmt.Println("Nothing is wrong with it.")
		}
	}
	if findings.HasErrors() {
		return errFindings
	}
	return nil
}

// findings of the file; one that cannot be read is one finding.
func (c *checkCommand) findings() (finding.List, error) {
	company, err := companyOf(c.People)
	if err != nil {
		return nil, err
	}
	data, err := readAll(c.File)
	if err != nil {
		return nil, err
	}
	d, err := offering.Parse(data)
	var bad *offering.ParseError
	if errors.As(err, &bad) {
		findings := finding.List{}
		findings.Error("unreadable", bad.Place, bad.Sentence, "Mend the file.")
		return findings, nil
	}
	_, findings := offering.Examine(d, 1, company)
	return findings, err
}

func printJSON(v any) error {
	out := json.NewEncoder(os.Stdout)
	out.SetIndent("", "  ")
	out.SetEscapeHTML(false)
	return out.Encode(v)
}

type evaluateCommand struct {
	File    string    `arg:"" help:"The offering, JSON or YAML."`
	People  string    `required:"" help:"CSV of the people."`
	As      string    `required:"" help:"Login of the asker."`
	For     string    `help:"Login of the person it is for; the asker when left out."`
	Answers string    `required:"" help:"JSON object with the answers by question."`
	At      time.Time `help:"When it is sent (RFC 3339); now when left out."`
}

// evaluated is what evaluate prints. Money is decimal strings.
type evaluated struct {
	Questions []evaluatedQuestion `json:"questions"`
	Complete  bool                `json:"complete"`
	Missing   []string            `json:"missing"`
	Price     evaluatedPrice      `json:"price"`
	Ladder    []evaluatedRung     `json:"ladder"`
	Plan      []evaluatedTask     `json:"plan"`
	Title     string              `json:"title"`
	Allowed   bool                `json:"allowed"`
	Why       string              `json:"why"`
}

type evaluatedQuestion struct {
	Key      string               `json:"key"`
	Shown    bool                 `json:"shown"`
	Required bool                 `json:"required"`
	Locked   bool                 `json:"locked"`
	Value    any                  `json:"value"`
	Choices  []string             `json:"choices"`
	Problems []form.Problem       `json:"problems"`
	Reason   string               `json:"reason"`
	Rows     [][]form.FieldResult `json:"rows,omitempty"`
}

type evaluatedPrice struct {
	Currency  string           `json:"currency"`
	Lines     []evaluatedLine  `json:"lines"`
	Once      string           `json:"once"`
	Monthly   string           `json:"monthly"`
	Yearly    string           `json:"yearly"`
	FirstYear string           `json:"firstYear"`
	Term      *string          `json:"term"`
	Shares    []evaluatedShare `json:"shares"`
}

type evaluatedLine struct {
	Kind     string       `json:"kind"`
	Item     string       `json:"item,omitempty"`
	Name     string       `json:"name"`
	Note     string       `json:"note,omitempty"`
	Quantity int          `json:"quantity,omitempty"`
	Each     string       `json:"each,omitempty"`
	Per      price.Period `json:"per"`
	Sum      string       `json:"sum"`
}

type evaluatedShare struct {
	Payer   string `json:"payer"`
	Name    string `json:"name,omitempty"`
	Percent string `json:"percent,omitempty"`
	Once    string `json:"once"`
	Monthly string `json:"monthly"`
	Yearly  string `json:"yearly"`
}

type evaluatedRung struct {
	Key       string              `json:"key"`
	Name      string              `json:"name"`
	Quorum    string              `json:"quorum"`
	Needs     int                 `json:"needs"`
	Why       string              `json:"why,omitempty"`
	Approvers []evaluatedApprover `json:"approvers"`
	Trouble   string              `json:"trouble,omitempty"`
}

type evaluatedApprover struct {
	Login  string `json:"login"`
	Reason string `json:"reason"`
	Part   string `json:"part,omitempty"`
}

type evaluatedTask struct {
	Key          string    `json:"key"`
	Name         string    `json:"name"`
	Kind         plan.Kind `json:"kind"`
	Team         string    `json:"team"`
	After        []string  `json:"after"`
	Wanted       bool      `json:"wanted"`
	Instructions string    `json:"instructions,omitempty"`
}

func (c *evaluateCommand) Run() error {
	d, err := readOffering(c.File)
	if err != nil {
		return err
	}
	company, err := companyOf(c.People)
	if err != nil {
		return err
	}
	compiled, findings := offering.Compile(d, 1, company)
	for _, f := range findings {
		if f.Severity == finding.Error {
			fmt.Fprintf(os.Stderr, "error  %s  %s\n", f.Place, f.Sentence)
		}
	}
	if compiled.Form == nil || !compiled.Form.Usable() {
		return errors.New("the form cannot be worked out before its errors are mended")
	}
	parties, err := c.parties(company.Directory)
	if err != nil {
		return err
	}
	data, err := readAll(c.Answers)
	if err != nil {
		return err
	}
	var answers form.Answers
	if err := json.Unmarshal(data, &answers); err != nil {
		return fmt.Errorf("%s: the answers are no JSON object: %w", c.Answers, err)
	}
	if c.At.IsZero() {
		c.At = time.Now()
	}
	return printJSON(c.evaluate(compiled, parties, answers))
}

func (c *evaluateCommand) parties(d *people.Directory) (offering.Parties, error) {
	asker, ok := d.ByLogin(c.As)
	if !ok {
		return offering.Parties{}, fmt.Errorf("there is nobody with the login %q", c.As)
	}
	parties := offering.Self(asker, d)
	if c.For != "" {
		whom, ok := d.ByLogin(c.For)
		if !ok {
			return parties, fmt.Errorf("there is nobody with the login %q", c.For)
		}
		parties.Beneficiary.Person = whom.ID
	}
	return parties, nil
}

func (c *evaluateCommand) evaluate(compiled *offering.Compiled, parties offering.Parties, answers form.Answers) evaluated {
	result := compiled.Form.Evaluate(answers, compiled.Values(parties, c.At), parties.Facts())
	show := compiled.Show(result.Kept(), parties.Facts())
	out := evaluated{
		Questions: []evaluatedQuestion{}, Complete: result.Complete, Missing: result.Missing, Price: priced(result.Price),
		Ladder: []evaluatedRung{}, Plan: []evaluatedTask{}, Title: compiled.Title(result.Values, show),
	}
	out.Allowed, out.Why = compiled.MayAsk(parties)
	for _, q := range result.Questions {
		choices := q.Choices
		if choices == nil {
			choices = []string{}
		}
		out.Questions = append(out.Questions, evaluatedQuestion{q.Key, q.Shown, q.Required, q.Locked, q.Value, choices, q.Problems, q.Reason, q.Rows})
	}
	ladderFacts := compiled.LadderFacts(parties, result.Kept(), result.Price, people.Service{}, c.At)
	for _, r := range compiled.Ladder.Needed(result.Values) {
		rung := evaluatedRung{Key: r.Key, Name: r.Name, Quorum: r.Quorum, Why: compiled.Form.Words(r.When), Approvers: []evaluatedApprover{}}
		seats, err := ladder.Seats(r, ladderFacts)
		if err != nil {
			rung.Trouble = err.Error()
		}
		rung.Needs = ladder.Needs(r.Quorum, len(seats))
		for _, s := range seats {
			p, _ := parties.Company.Person(s.Person)
			rung.Approvers = append(rung.Approvers, evaluatedApprover{p.Login, s.Reason, s.Part})
		}
		out.Ladder = append(out.Ladder, rung)
	}
	for _, t := range compiled.Plan.Tasks() {
		task := evaluatedTask{Key: t.Key, Name: t.Name, Kind: t.Kind, Team: t.Team, After: append([]string{}, t.After...)}
		wanted, err := compiled.Plan.Wanted(t.Key, result.Values)
		task.Wanted = wanted && err == nil
		if task.Instructions, err = compiled.Plan.Instructions(t.Key, result.Values, show); err != nil {
			task.Instructions = t.Instructions
		}
		out.Plan = append(out.Plan, task)
	}
	return out
}

func priced(p price.Price) evaluatedPrice {
	out := evaluatedPrice{
		Currency: p.Once.Currency(), Lines: []evaluatedLine{}, Once: p.Once.Decimal(), Monthly: p.Monthly.Decimal(), Yearly: p.Yearly.Decimal(),
		FirstYear: p.FirstYear.Decimal(), Shares: []evaluatedShare{},
	}
	for _, l := range p.Lines {
		line := evaluatedLine{Kind: l.Kind, Item: l.Item, Name: l.Name, Note: l.Note, Quantity: l.Quantity, Per: l.Per, Sum: l.Sum.Decimal()}
		if l.Each != (money.Amount{}) {
			line.Each = l.Each.Decimal()
		}
		out.Lines = append(out.Lines, line)
	}
	for _, s := range p.Shares {
		out.Shares = append(out.Shares, evaluatedShare{s.Payer, s.Name, s.Percent, s.Once.Decimal(), s.Monthly.Decimal(), s.Yearly.Decimal()})
	}
	if p.Term != nil {
		term := p.Term.Decimal()
		out.Term = &term
	}
	return out
}

type diffCommand struct {
	Old  string `arg:"" help:"The older version."`
	New  string `arg:"" help:"The newer version."`
	JSON bool   `help:"Print JSON."`
}

func (c *diffCommand) Run() error {
	old, err := readOffering(c.Old)
	if err != nil {
		return err
	}
	next, err := readOffering(c.New)
	if err != nil {
		return err
	}
	changes := offering.Compare(old, next)
	if c.JSON {
		return printJSON(changes)
	}
	for _, ch := range changes {
		fmt.Printf("%-9s  %s\n", ch.Side, ch.Sentence)
	}
	if len(changes) == 0 {
		fmt.Println("They are the same.")
	}
	return nil
}

type exportCommand struct {
	Data string `default:"data" help:"Folder of the data."`
	File string `arg:"" optional:"" default:"-" help:"Where to write; standard output when left out."`
}

// office opens a data folder that no Heptad runs on.
func office(e *env, dir string) (*work.Office, error) {
	kept, err := store.Open(e.ctx, dir)
	if err != nil {
		return nil, err
	}
	o, err := work.New(e.ctx, work.Settings{Store: kept, Clock: time.Now, Connectors: connect.Nowhere(), Log: e.log})
	if err != nil {
		return nil, errors.Join(err, kept.Close())
	}
	return o, nil
}

func (c *exportCommand) Run(e *env) error {
	o, err := office(e, c.Data)
	if err != nil {
		return err
	}
	catalog, err := o.Designing.ExportAll(e.ctx)
	if err = errors.Join(err, o.Store.Close()); err != nil {
		return err
	}
	if c.File == "-" {
		return printJSON(catalog)
	}
	data, err := json.MarshalIndent(catalog, "", "  ")
	if err != nil {
		return err
	}
	return os.WriteFile(c.File, append(data, '\n'), 0o644)
}

type importCommand struct {
	File    string `arg:"" help:"The catalog."`
	Data    string `default:"data" help:"Folder of the data."`
	As      string `required:"" help:"Login of the owner of the services."`
	Preview bool   `help:"Only tell what would change."`
	Publish bool   `help:"Publish what has neither errors nor warnings."`
}

func (c *importCommand) Run(e *env) error {
	data, err := readAll(c.File)
	if err != nil {
		return err
	}
	catalog, err := offering.ParseCatalog(data)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	o, err := office(e, c.Data)
	if err != nil {
		return err
	}
	incoming, err := c.bring(e, o, catalog)
	if err = errors.Join(err, o.Store.Close()); err != nil {
		return err
	}
	for _, in := range incoming {
		fmt.Printf("%-8s  %s  %s\n", in.Does, in.Key, in.Why)
		for _, ch := range in.Changes {
			fmt.Printf("          %s\n", ch.Sentence)
		}
	}
	return nil
}

func (c *importCommand) bring(e *env, o *work.Office, catalog offering.Catalog) ([]work.Incoming, error) {
	p, ok := o.Company().ByLogin(c.As)
	if !ok {
		return nil, fmt.Errorf("there is nobody with the login %q", c.As)
	}
	homes, owners := map[string]string{}, map[string]string{} // as in the file, where they are known here
	for _, s := range o.Designing.NewServices(catalog) {
		homes[s.Key], owners[s.Key] = s.Home, s.Owner
	}
	return o.Designing.Import(e.ctx, p.ID, catalog, work.Importing{Preview: c.Preview, Publish: c.Publish, Homes: homes, Owners: owners})
}
