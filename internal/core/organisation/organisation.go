// Package organisation holds what an installation is told of the company it serves.
package organisation

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"heptad/internal/core/picture"
	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
)

// Organisation is what an installation is told of the company it serves.
type Organisation struct {
	Name     string       `json:"name" maxLength:"120"`
	Prefix   string       `json:"prefix" maxLength:"6" doc:"Of references, such as QS"`
	Currency string       `json:"currency" maxLength:"3" doc:"Of the prices that a new offering begins with, ISO 4217"`
	Period   price.Period `json:"period" doc:"How often the prices that a new item begins with fall due"`
	Unit     string       `json:"unit,omitempty" maxLength:"30" doc:"What the price of a new item is of, such as metre; the piece when left out"`
	Calendar string       `json:"calendar,omitempty" maxLength:"60" doc:"Key of the home calendar: of promises and teams that name none"`
	Zone     string       `json:"zone" maxLength:"60" doc:"Of the promises that a new offering begins with, IANA; that of the home calendar"`
	Tax      price.Tax    `json:"tax" doc:"The usual one"`
	Accent   string       `json:"accent,omitempty" maxLength:"7" doc:"Colour of what can be pressed, such as #17576B; that of Heptad when left out"`
	Emblem   string       `json:"emblem,omitempty" maxLength:"80000" doc:"data: URI of a picture; the heptagon when left out"`

	YearStart int `json:"yearStart,omitempty" minimum:"1" maximum:"12" doc:"Month in which its year of accounts begins; January when left out"`

	SignOff string `json:"signOff,omitempty" maxLength:"60" doc:"Key of the offering that is sent for somebody who leaves and has something still"`
	LastDay string `json:"lastDay,omitempty" maxLength:"60" doc:"Key of the question of the sign-off that is answered with the day they leave"`

	DecideByMail bool `json:"decideByMail,omitempty" doc:"A link in a mail decides without sign-in, except where something sensitive is done"`

	FactorRoles []string `json:"factorRoles,omitempty" nullable:"false" maxItems:"20" doc:"Roles that need a second factor to sign in by password"`
}

// Location is the zone of the organisation; UTC while none is said.
func (o Organisation) Location() *time.Location {
	if zone, err := time.LoadLocation(o.Zone); err == nil {
		return zone
	}
	return time.UTC
}

// Problem is what is wrong with a field.
type Problem struct{ Code, Place, Sentence string }

var (
	prefixes   = regexp.MustCompile(`^[A-Z][A-Z0-9]{0,5}$`)
	currencies = regexp.MustCompile(`^[A-Z]{3}$`)
)

// Check finds what is wrong. Calendar and zone are for the caller to look up.
func (o Organisation) Check() (problems []Problem) {
	wrong := func(code, place, format string, args ...any) {
		problems = append(problems, Problem{code, place, fmt.Sprintf(format, args...)})
	}
	if name := strings.TrimSpace(o.Name); name == "" || utf8.RuneCountInString(name) > 120 {
		wrong(refusal.Name, "/name", "Say what your organisation is called, in at most 120 letters.")
	}
	if !prefixes.MatchString(o.Prefix) {
		wrong(refusal.Prefix, "/prefix", "%q cannot begin a reference: use one to six capital letters and digits, a letter first, such as QS.", o.Prefix)
	}
	if !currencies.MatchString(o.Currency) {
		wrong(refusal.Currency, "/currency", "%q is no currency: use the three letters of ISO 4217, such as EUR.", o.Currency)
	}
	if o.YearStart < 0 || o.YearStart > 12 {
		wrong(refusal.YearStart, "/yearStart", "The year of accounts begins with one of the twelve months.")
	}
	if !slices.Contains(price.Periods, o.Period) {
		wrong(refusal.Period, "/period", "Choose once, month or year.")
	}
	if accent, ok := ParseColour(o.Accent); o.Accent != "" && !ok {
		wrong(refusal.Colour, "/accent", "%q is no colour: write it like #17576B.", o.Accent)
	} else if good, shade := accent.ReadOnPaper(); o.Accent != "" && !good {
		wrong(refusal.Colour, "/accent", "%s is too pale to be read on paper: its contrast is %.1f to 1, and 4.5 is needed. %s would do.", o.Accent, Contrast(accent, paper), shade)
	}
	if !picture.Good(o.Emblem) {
		wrong(refusal.Emblem, "/emblem", "Choose a picture of at most 60 kB: PNG, JPEG, WebP, or an SVG of plain shapes.")
	}
	return problems
}
