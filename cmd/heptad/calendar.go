package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"strings"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
)

type calendarCommands struct {
	Add     addCommand     `cmd:"" help:"Print the instant that lies some working time after another."`
	Between betweenCommand `cmd:"" help:"Print the working time between two instants, as JSON."`
	Import  takeInCommand  `cmd:"" help:"Print a calendar with the exceptions of an iCalendar file added."`
	Export  giveOutCommand `cmd:"" help:"Print the exceptions of a calendar as iCalendar."`
}

// onCalendar is what both commands compute with.
type onCalendar struct {
	Calendar string `required:"" help:"Calendar, a JSON file of the format heptad/calendar/1."`
	From     string `required:"" help:"Instant to begin at, RFC 3339; - reads lines of an instant, a tab and the other value."`
}

// takeInCommand brings exceptions in. One of a date that has another already
// takes its place.
type takeInCommand struct {
	Calendar string `required:"" help:"Calendar, a JSON file of the format heptad/calendar/1."`
	File     string `arg:"" help:"iCalendar file; - is the standard input."`
}

func (c *takeInCommand) Run() error {
	d, _, err := readCalendar(c.Calendar)
	if err != nil {
		return err
	}
	data, err := readAll(c.File)
	if err != nil {
		return err
	}
	zone, err := time.LoadLocation(d.Zone)
	if err != nil {
		return err
	}
	more, err := calendar.ReadICalendar(bytes.NewReader(data), zone)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	return printJSON(d.With(more))
}

type giveOutCommand struct {
	Calendar string `required:"" help:"Calendar, a JSON file of the format heptad/calendar/1."`
}

func (c *giveOutCommand) Run() error {
	d, _, err := readCalendar(c.Calendar)
	if err != nil {
		return err
	}
	return calendar.WriteICalendar(os.Stdout, d, time.Now())
}

// readCalendar reads and compiles a calendar; its findings stand in the error.
func readCalendar(path string) (calendar.Document, *calendar.Calendar, error) {
	data, err := os.ReadFile(path)
	if err != nil {
		return calendar.Document{}, nil, err
	}
	d, err := calendar.Parse(data)
	if err != nil {
		return d, nil, fmt.Errorf("%s: %w", path, err)
	}
	findings := finding.List{}
	c := calendar.Compile(d, &findings)
	if c == nil {
		var all []error
		for _, f := range findings {
			all = append(all, fmt.Errorf("%s: at %s: %s %s", path, f.Place, f.Sentence, f.Mend))
		}
		return d, nil, errors.Join(all...)
	}
	return d, c, nil
}

// answer works out one pair, or all lines of the standard input. A line that
// cannot be read gets its error as its answer, and the command ends with 1.
func (o onCalendar) answer(other, name string, in io.Reader, out io.Writer, compute func(c *calendar.Calendar, from time.Time, other string) (string, error)) error {
	_, c, err := readCalendar(o.Calendar)
	if err != nil {
		return err
	}
	one := func(from, other string) (string, error) {
		at, err := time.Parse(time.RFC3339, from)
		if err != nil {
			return "", fmt.Errorf("%q is no instant: write it like 2027-03-26T10:00:00Z", from)
		}
		return compute(c, at, other)
	}
	if o.From != "-" {
		if other == "" {
			return fmt.Errorf("--%s is missing", name)
		}
		text, err := one(o.From, other)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintln(out, text)
		return err
	}
	lines, wrong := bufio.NewScanner(in), false
	buffered := bufio.NewWriter(out)
	for lines.Scan() {
		line := strings.TrimSuffix(lines.Text(), "\r")
		from, other, _ := strings.Cut(line, "\t")
		text, err := one(from, other)
		if err != nil {
			text, wrong = "error: "+err.Error(), true
		}
		if _, err := fmt.Fprintln(buffered, text); err != nil {
			return err
		}
	}
	if err := errors.Join(lines.Err(), buffered.Flush()); err != nil {
		return err
	}
	if wrong {
		return errFindings
	}
	return nil
}

type addCommand struct {
	onCalendar
	For string `help:"Working time such as 8h or 90m, or working days such as 10d."`
}

func (c *addCommand) Run() error {
	return c.answer(c.For, "for", os.Stdin, os.Stdout, func(work *calendar.Calendar, from time.Time, length string) (string, error) {
		l, err := calendar.ParseLength(length)
		if err != nil {
			return "", err
		}
		at, err := work.AddLength(from, l)
		if err != nil {
			return "", err
		}
		return at.UTC().Format(time.RFC3339Nano), nil
	})
}

type betweenCommand struct {
	onCalendar
	To string `help:"Instant to end at, RFC 3339."`
}

// elapsed is working time between two instants, in minutes and in working
// days, with their fractions.
type elapsed struct {
	Minutes float64 `json:"minutes"`
	Days    float64 `json:"days"`
}

func (c *betweenCommand) Run() error {
	return c.answer(c.To, "to", os.Stdin, os.Stdout, func(work *calendar.Calendar, from time.Time, text string) (string, error) {
		to, err := time.Parse(time.RFC3339, text)
		if err != nil {
			return "", fmt.Errorf("%q is no instant: write it like 2027-03-26T10:00:00Z", text)
		}
		days, err := work.DaysBetween(from, to)
		if err != nil {
			return "", err
		}
		days = math.Round(days*1e9) / 1e9
		data, err := json.Marshal(elapsed{work.Between(from, to).Minutes(), days})
		return string(data), err
	})
}
