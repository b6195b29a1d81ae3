package main

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"heptad/internal/connect/systems"
	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/rehearse"
	"heptad/internal/core/script"
)

// notUnderstood makes the program exit with 2.
type notUnderstood struct{ error }

// rehearseCommand lives through one script.
type rehearseCommand struct {
	File   string `arg:"" help:"Offering, JSON or YAML."`
	Script string `required:"" help:"Script, JSON or YAML; - is the standard input."`
	companyFiles
	Prefix string `default:"R" help:"Prefix of the reference."`
}

// Run prints what happened.
func (c *rehearseCommand) Run() error {
	d, company, err := c.read(c.File)
	if err != nil {
		return notUnderstood{err}
	}
	data, err := readAll(c.Script)
	if err != nil {
		return notUnderstood{err}
	}
	s, lines, err := script.Parse(data)
	if err != nil {
		return notUnderstood{fmt.Errorf("%s: %w", c.Script, err)}
	}
	ground := rehearse.Carried(d, company, systems.Described())
	ground.Prefix = c.Prefix
	life, err := rehearse.Run(ground, s)
	var wrong *script.Wrong
	if errors.As(err, &wrong) && wrong.Line >= 0 {
		err = &script.ParseError{Line: lines[wrong.Line], Sentence: wrong.Sentence}
	}
	if err != nil {
		return notUnderstood{fmt.Errorf("%s: %w", c.Script, err)}
	}
	return printJSON(life.Result())
}

// read reads an offering, and the company beside it.
func (c companyFiles) read(file string) (offering.Document, *people.Directory, error) {
	company, err := c.company()
	if err != nil {
		return offering.Document{}, nil, err
	}
	d, err := readOffering(file)
	return d, company.Directory, err
}

// testCommand runs the cases of offerings.
type testCommand struct {
	Path string `arg:"" help:"Offering, JSON or YAML, or a folder of them."`
	companyFiles
	JUnit string `name:"junit" help:"Write a report in JUnit's XML to this file; - is the standard output."`
}

// suite and testcase are JUnit's XML.
type suites struct {
	XMLName  xml.Name `xml:"testsuites"`
	Tests    int      `xml:"tests,attr"`
	Failures int      `xml:"failures,attr"`
	Suites   []suite  `xml:"testsuite"`
}

type suite struct {
	Name     string     `xml:"name,attr"`
	Tests    int        `xml:"tests,attr"`
	Failures int        `xml:"failures,attr"`
	Time     string     `xml:"time,attr"`
	Cases    []testcase `xml:"testcase"`
}

type testcase struct {
	Name    string   `xml:"name,attr"`
	Class   string   `xml:"classname,attr"`
	Time    string   `xml:"time,attr"`
	Failure *failure `xml:"failure,omitempty"`
}

type failure struct {
	Message string `xml:"message,attr"`
	Text    string `xml:",chardata"`
}

// Run tells how the cases went; a case that fails makes it exit with 1.
func (c *testCommand) Run() error {
	company, err := c.company()
	if err != nil {
		return notUnderstood{err}
	}
	files, err := offeringFiles(c.Path)
	if err != nil {
		return notUnderstood{err}
	}
	report := suites{}
	for _, file := range files {
		d, err := readOffering(file)
		if err != nil {
			return notUnderstood{err}
		}
		report.add(c.suite(d, company))
	}
	if c.JUnit == "" {
		fmt.Printf("%d of %d cases passed.\n", report.Tests-report.Failures, report.Tests)
	} else if err := report.write(c.JUnit); err != nil {
		return err
	}
	if report.Failures > 0 {
		return errFindings
	}
	return nil
}

// suite runs the cases of one offering. One that has errors fails as a case of that name.
func (c *testCommand) suite(d offering.Document, company offering.Company) suite {
	out := suite{Name: d.Key}
	began := time.Now()
	_, findings := offering.Compile(d, 1, company)
	for _, f := range findings {
		if f.Severity == finding.Error {
			out.add(testcase{Name: "The offering has no errors", Class: d.Key, Time: seconds(time.Since(began)), Failure: &failure{f.Sentence, f.Place}})
			break
		}
	}
	for _, one := range d.Cases {
		from := time.Now()
		tried := rehearse.Try(d, one, company.Directory, company.Connectors)
		told := testcase{Name: one.Name, Class: d.Key, Time: seconds(time.Since(from))}
		if !tried.Passed {
			told.Failure = &failure{Message: tried.Words(), Text: differences(tried)}
		}
		out.add(told)
		if c.JUnit == "" && !tried.Passed {
			fmt.Printf("%s: %s\n%s", d.Key, one.Name, differences(tried))
		}
	}
	out.Time = seconds(time.Since(began))
	return out
}

func (s *suite) add(c testcase) {
	s.Cases = append(s.Cases, c)
	s.Tests++
	if c.Failure != nil {
		s.Failures++
	}
}

func (s *suites) add(one suite) {
	s.Suites = append(s.Suites, one)
	s.Tests, s.Failures = s.Tests+one.Tests, s.Failures+one.Failures
}

// write writes the report.
func (s suites) write(path string) error {
	data, err := xml.MarshalIndent(s, "", "  ")
	if err != nil {
		return err
	}
	data = append([]byte(xml.Header), append(data, '\n')...)
	if path == "-" {
		_, err = os.Stdout.Write(data)
		return err
	}
	return os.WriteFile(path, data, 0o600)
}

func seconds(d time.Duration) string { return fmt.Sprintf("%.3f", d.Seconds()) }

// differences are what is other in a case, a line each.
func differences(t rehearse.Tried) string {
	if t.Trouble != "" {
		return "  " + t.Trouble + "\n"
	}
	text := ""
	for _, d := range t.Different {
		text += "  " + d.Sentence + "\n"
	}
	return text
}

// offeringFiles are the file that is named, or those of a folder and the folders in it.
func offeringFiles(path string) ([]string, error) {
	info, err := os.Stat(path)
	if err != nil || !info.IsDir() {
		return []string{path}, err
	}
	var files []string
	err = filepath.WalkDir(path, func(file string, entry fs.DirEntry, err error) error {
		if err == nil && !entry.IsDir() && slices.Contains([]string{".json", ".yaml", ".yml"}, strings.ToLower(filepath.Ext(file))) {
			files = append(files, file)
		}
		return err
	})
	if err == nil && len(files) == 0 {
		err = fmt.Errorf("%s: there is no offering in it", path)
	}
	return files, err
}
