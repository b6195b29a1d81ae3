package lines

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"heptad/internal/core/money"
	"heptad/internal/core/price"
)

var (
	amount   = regexp.MustCompile(`(?i)^(?:([A-Z]{3}) )?(\d[\d .]*?)(?: ([A-Z]{3}))?(?: (once|a month|monthly|per month|a year|yearly|per year))?$`)
	quantity = regexp.MustCompile(`(?i)^(at least|at most) (\d{1,4})$`)
	adds     = regexp.MustCompile(`^(.*\S)\s*\+ ?(\d+(?:\.\d+)?)$`)
)

var periods = map[string]price.Period{"": price.Once, "once": price.Once, "a month": price.Month, "monthly": price.Month, "per month": price.Month, "a year": price.Year, "yearly": price.Year, "per year": price.Year}

// item reads "Key fob, 2.00 a month, at most 3", "Uniform, 145, Size: S | M | L"
// or, as an extra of the item before, "+ Mount, 15.00".
func (r *reader) item(line string) {
	rest, when, words := r.when(line)
	rest, extra := strings.CutPrefix(rest, "+")
	parts := pieces(rest)
	if len(parts) == 0 {
		r.wrong(line, "An item needs a name.")
		return
	}
	i := price.Item{Name: r.short(parts[0], 200), Price: price.Charge{Amount: "0", Per: price.Once}, When: when}
	said := []string{"costs nothing"}
	for _, part := range parts[1:] {
		switch {
		case strings.EqualFold(part, "free"):
		case amount.MatchString(part):
			said[0] = r.charge(&i.Price, part)
		case quantity.MatchString(part):
			m := quantity.FindStringSubmatch(part)
			n, _ := strconv.Atoi(m[2]) // four digits
			if strings.EqualFold(m[1], "at least") {
				i.Min = n
			} else {
				i.Max = n
			}
			said = append(said, strings.ToLower(part))
		case strings.EqualFold(part, "by itself") && !extra:
			i.Default, said = true, append(said, "picked by itself")
		case strings.Contains(part, ":") && !extra:
			said = append(said, r.options(&i, part))
		default:
			if heading, ok := after(part, "under"); ok && !extra {
				i.Group, said = r.short(heading, 100), append(said, "under “"+heading+"”")
				continue
			}
			r.wrong(part, fmt.Sprintf("%q is neither a price such as 12.50 a month, nor “at most 3”, “under Heading” or “Size: S | M | L”.", part))
		}
	}
	if extra {
		r.extra(i, sentence(said...), words)
		return
	}
	i.Key = key(i.Name, texts(r.Document.Items.List, func(i price.Item) string { return i.Key }), "item")
	r.line.Item, r.line.Words = &i, sentence("Item", sentence(said...), words)
}

func (r *reader) extra(i price.Item, said, when string) {
	x := price.Extra{Key: key(i.Name, texts(r.Document.Items.Extras, func(x price.Extra) string { return x.Key }), "extra"), Name: i.Name, Price: i.Price, Max: i.Max, When: i.When}
	if i.Min > 0 {
		r.wrong("at least", "An extra has no least quantity.")
	}
	n := len(r.Document.Items.List)
	if n == 0 {
		r.wrong(i.Name, "Write the item it goes with before it.")
		return
	}
	of := r.Document.Items.List[n-1]
	x.Fits = []string{of.Key}
	r.line.Extra, r.line.Words = &x, sentence("Extra that fits "+of.Name, said, when)
}

// charge reads a price, and says it.
func (r *reader) charge(c *price.Charge, text string) string {
	m := amount.FindStringSubmatch(text)
	if c.Per = periods[strings.ToLower(m[4])]; m[4] == "" && r.Period != "" {
		c.Per = r.Period
	}
	c.Unit = r.Unit
	c.Currency = strings.ToUpper(m[1] + m[3])
	list := r.Document.Items.Currency
	if c.Currency == list {
		c.Currency = ""
	}
	code := list
	if c.Currency != "" {
		code = c.Currency
	}
	a, err := money.Parse(strings.ReplaceAll(m[2], " ", ""), code)
	if err != nil {
		r.wrong(text, err.Error()+".")
		return ""
	}
	c.Amount = a.Decimal()
	return strings.TrimSpace(a.String() + map[price.Period]string{price.Month: " a month", price.Year: " a year"}[c.Per])
}

// options reads a choice within an item: "Size: S | M | L +5.00".
func (r *reader) options(i *price.Item, text string) string {
	name, list, _ := strings.Cut(text, ":")
	g := price.OptionGroup{Name: r.short(strings.TrimSpace(name), 100), Require: true}
	if optional, ok := strings.CutSuffix(g.Name, "?"); ok {
		g.Name, g.Require = strings.TrimSpace(optional), false
	}
	g.Key = key(g.Name, texts(i.Options, func(g price.OptionGroup) string { return g.Key }), "option")
	for _, choice := range strings.Split(list, "|") {
		o := price.Option{Name: r.short(strings.TrimSpace(choice), 100)}
		if m := adds.FindStringSubmatch(o.Name); m != nil {
			o.Name, o.Amount = m[1], m[2]
		}
		if o.Name != "" {
			o.Key = key(o.Name, texts(g.Choices, func(o price.Option) string { return o.Key }), "option")
			g.Choices = append(g.Choices, o)
		}
	}
	if g.Name == "" || len(g.Choices) < 2 || len(g.Choices) > 100 {
		r.wrong(text, "Write a choice within an item as “Size: S | M | L”.")
	}
	i.Options = append(i.Options, g)
	return g.Name + ": " + strings.Join(texts(g.Choices, func(o price.Option) string { return o.Name }), " | ")
}
