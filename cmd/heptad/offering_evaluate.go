package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/ladder"
	"heptad/internal/core/money"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/plan"
	"heptad/internal/core/price"
)

type evaluateCommand struct {
	File string `arg:"" help:"Offering, JSON or YAML."`
	companyFiles
	As      string    `required:"" help:"Login of the asker."`
	For     string    `help:"Login of the person it is for; the asker when left out."`
	Answers string    `required:"" help:"Answers by question, a JSON object."`
	At      time.Time `help:"Instant at which it is sent, RFC 3339; now when left out."`
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
	company, err := c.company()
	if err == nil && company.Directory == nil {
		err = errors.New("say who asks: --people FILE")
	}
	if err != nil {
		return err
	}
	compiled, findings := offering.Compile(d, 1, company)
	for _, f := range findings {
		if f.Severity == finding.Error {
			fmt.Fprintf(os.Stderr, "error  %s  %s\n", f.Place, f.Sentence)
		}
	}
	if compiled == nil {
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
