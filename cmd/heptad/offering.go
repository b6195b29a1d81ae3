package main

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	_ "time/tzdata" // time zones, where the system has none

	"heptad/internal/connect/systems"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/starter"
)

type offeringCommands struct {
	New      newCommand      `cmd:"" help:"Print an offering to begin with, as JSON."`
	Check    checkCommand    `cmd:"" help:"Print the findings of an offering; exits with 1 when there are errors."`
	Evaluate evaluateCommand `cmd:"" help:"Print the form of an offering as some answers make it, as JSON."`
	Diff     diffCommand     `cmd:"" help:"Print what is different in a newer version, in words."`
	Rehearse rehearseCommand `cmd:"" help:"Live through a request of an offering by a script, and print what happened as JSON; exits with 2 when the script is not understood."`
	Test     testCommand     `cmd:"" help:"Run the cases of an offering, or of a folder of them; exits with 1 when one fails."`
	Export   exportCommand   `cmd:"" help:"Write the whole catalog of a data folder, while no Heptad runs on it."`
	Import   importCommand   `cmd:"" help:"Read a catalog into a data folder, while no Heptad runs on it."`
}

// newCommand prints an offering to begin with.
type newCommand struct {
	Name     string `arg:"" help:"Name of what people can ask for."`
	Service  string `required:"" help:"Key of the service it belongs to."`
	From     string `help:"Key of the starter it begins as; an empty one when left out."`
	Currency string `default:"EUR" help:"Currency of its prices, ISO 4217."`
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
		from.Cases = nil // they are for once its tasks have a team
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

// companyFiles are the files that tell of a company.
type companyFiles struct {
	People  string `help:"CSV of the people, to check people, teams and connectors."`
	Bundles string `help:"CSV of the bundles (key,name,text,rule), to check who may ask."`
}

// company reads the files; without one of people, people and teams are not checked.
func (c companyFiles) company() (offering.Company, error) {
	company := offering.Company{Connectors: systems.Described()}
	if c.People == "" {
		return company, nil
	}
	persons, err := readRows(c.People, people.ParseCSV)
	if err != nil {
		return company, err
	}
	company.Directory = people.DirectoryOf(persons)
	if c.Bundles == "" {
		return company, nil
	}
	bundles, err := readRows(c.Bundles, people.ParseBundles)
	for _, b := range bundles {
		company.Directory = company.Directory.WithBundle(b)
	}
	return company, err
}

func readRows[T any](path string, parse func(*csv.Reader) ([]T, error)) ([]T, error) {
	data, err := readAll(path)
	if err != nil {
		return nil, err
	}
	rows, err := parse(csv.NewReader(strings.NewReader(string(data))))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	return rows, nil
}

type checkCommand struct {
	File string `arg:"" help:"Offering, JSON or YAML."`
	companyFiles
	JSON bool `help:"Print as JSON."`
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
	company, err := c.company()
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
		findings.Error(finding.Unreadable, bad.Place, bad.Sentence, "Mend the file.")
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

type diffCommand struct {
	Old  string `arg:"" help:"Older version, JSON or YAML."`
	New  string `arg:"" help:"Newer version, JSON or YAML."`
	JSON bool   `help:"Print as JSON."`
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
