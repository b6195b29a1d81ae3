package form

import (
	"fmt"
	"math/big"
	"mime"
	"regexp"
	"strconv"
	"strings"

	"heptad/internal/core/calendar"
	"heptad/internal/core/finding"
	"heptad/internal/core/money"
)

// bounds are the limits of numbers, sums and dates; nil and zero are none.
type bounds struct {
	min, max, step    *big.Rat
	least, most       money.Amount
	earliest, latest  *day
	hasLeast, hasMost bool
}

// day is a day that is a limit: one of the calendar, or so many days from
// today.
type day struct {
	date  calendar.Date
	today bool
	days  int
}

var fromToday = regexp.MustCompile(`^today(?: ?([+-]) ?(\d{1,4}))?$`)

// readDay reads 2027-03-08, today, today+14 or today-30.
func readDay(text string) (*day, error) {
	m := fromToday.FindStringSubmatch(text)
	if m == nil {
		d, err := calendar.ParseDate(text)
		return &day{date: d}, err
	}
	days, _ := strconv.Atoi(m[1] + m[2]) // four digits, or none
	return &day{today: true, days: days}, nil
}

func (d day) on(today calendar.Date) calendar.Date {
	if d.today {
		return today.AddDays(d.days)
	}
	return d.date
}

func (q *question) compileLimits(at, currency string, findings *finding.List) {
	wrong := func(place, sentence string) {
		findings.Error(finding.Limit, at+place, sentence, "Mend the limit or take it away.")
	}
	if q.Pattern != "" {
		var err error
		if q.pattern, err = regexp.Compile(`^(?:` + q.Pattern + `)$`); err != nil {
			wrong("/pattern", fmt.Sprintf("The pattern cannot be read: %v.", err))
		} else if q.Example != "" && !q.pattern.MatchString(q.Example) {
			wrong("/example", fmt.Sprintf("The example %q does not meet the pattern.", q.Example))
		}
	}
	if q.MaxLength > 0 && q.MinLength > q.MaxLength {
		wrong("/minLength", "The smallest length is above the largest.")
	}
	if q.MaxCount > 0 && q.MinCount > q.MaxCount {
		wrong("/minCount", "The fewest are more than the most.")
	}
	if q.Kind == File && q.MaxSize*1000 > MaxFileSize {
		wrong("/maxSize", fmt.Sprintf("A file can be %d MB at most.", MaxFileSize>>20))
	}
	for j, t := range q.FileTypes {
		if media, _, err := mime.ParseMediaType(t); err != nil || media != t || !strings.Contains(t, "/") {
			wrong(finding.At("fileTypes", j), fmt.Sprintf("%q is no media type, such as image/png.", t))
		}
	}
	if err := q.bounds.read(q.Question, currency); err != nil {
		wrong("/"+err.field, err.sentence)
	}
}

type boundsError struct{ field, sentence string }

// read reads the limits of numbers, sums and dates.
func (b *bounds) read(q Question, currency string) *boundsError {
	for field, text := range map[string]string{"min": q.Min, "max": q.Max, "step": q.Step} {
		if text == "" {
			continue
		}
		var err error
		switch q.Kind {
		case Number:
			r, ok := new(big.Rat).SetString(text)
			if !ok || strings.ContainsAny(text, "/eExX_") || (field == "step" && r.Sign() <= 0) {
				return &boundsError{field, fmt.Sprintf("%q is no number.", text)}
			}
			*map[string]**big.Rat{"min": &b.min, "max": &b.max, "step": &b.step}[field] = r
		case Money:
			var a money.Amount
			if a, err = money.Parse(text, currency); field == "min" {
				b.least, b.hasLeast = a, true
			} else {
				b.most, b.hasMost = a, true
			}
		case Date:
			var d *day
			if d, err = readDay(text); field == "min" {
				b.earliest = d
			} else {
				b.latest = d
			}
		default:
			return &boundsError{field, "This kind of question has no smallest and largest."}
		}
		if err != nil {
			return &boundsError{field, err.Error() + "."}
		}
	}
	if q.Step != "" && q.Kind != Number {
		return &boundsError{"step", "Only numbers go in steps."}
	}
	return nil
}
