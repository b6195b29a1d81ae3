package people

import (
	"fmt"
	"net/mail"
	"regexp"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/language"

	"heptad/internal/core/refusal"
)

// Problem is what is wrong with a field of a record.
type Problem struct{ Code, Field, Sentence string }

// How long texts of a record may be, in letters.
const (
	longKey  = 60
	longName = 120
	longMail = 200
	longText = 2000
)

var logins = regexp.MustCompile(`^[\pL\pN][\pL\pN._@+-]*$`)

// problems gathers what is wrong with a record.
type problems []Problem

func (p *problems) wrong(code, field, format string, args ...any) {
	*p = append(*p, Problem{code, field, fmt.Sprintf(format, args...)})
}

func (p *problems) short(field, value string, most int) {
	if utf8.RuneCountInString(value) > most {
		p.wrong(refusal.TooLong, field, "This has more than %d letters.", most)
	}
}

func (p *problems) needed(field, value, what string) {
	if value == "" {
		p.wrong(refusal.Needed, field, "%s is missing.", what)
	}
}

// CheckPerson finds what is wrong with somebody by themselves: whether those they name
// are there is for the caller to know.
func CheckPerson(p Person) []Problem {
	var found problems
	found.needed("login", p.Login, "The login")
	found.short("login", p.Login, longKey)
	if p.Login != "" && !logins.MatchString(p.Login) {
		found.wrong(refusal.BadLogin, "login", "%q cannot be a login: use letters, digits, dots, hyphens and @, without spaces.", p.Login)
	}
	found.needed("name", p.Name, "The name")
	found.short("name", p.Name, longName)
	found.short("email", p.Email, longMail)
	if address, err := mail.ParseAddress(p.Email); p.Email != "" && (err != nil || address.Address != p.Email) {
		found.wrong(refusal.BadMail, "email", "%q is no mail address.", p.Email)
	}
	if _, err := language.Parse(p.Language); p.Language != "" && err != nil {
		found.wrong(refusal.BadLanguage, "language", "%q is no language: write it such as pt or en-GB (BCP 47).", p.Language)
	}
	for field, value := range map[string]string{"title": p.Title, "department": p.Department, "location": p.Location, "employment": p.Employment} {
		found.short(field, value, longName)
	}
	found.short("cost_centre", p.CostCentre, longKey)
	found.short("grade", p.Grade, longKey)
	return found
}

var keys = regexp.MustCompile(`^[\pL\pN][\pL\pN._-]*$`)

func (p *problems) key(value, of string) {
	p.needed("key", value, "The key")
	p.short("key", value, longKey)
	if value != "" && !keys.MatchString(value) {
		p.wrong(refusal.BadKey, "key", "%q cannot be the key of a %s: use letters, digits and hyphens, without spaces.", value, of)
	}
}

// CheckTeam finds what is wrong with a team by itself.
func CheckTeam(t Team) []Problem {
	var found problems
	found.key(t.Key, "team")
	found.needed("name", t.Name, "The name")
	found.short("name", t.Name, longName)
	return found
}

// CheckLocation finds what is wrong with a location by itself.
func CheckLocation(l Location) []Problem {
	var found problems
	found.needed("name", l.Name, "The name")
	found.short("name", l.Name, longName)
	return found
}

// CheckCostCentre finds what is wrong with a cost centre by itself.
func CheckCostCentre(c CostCentre) []Problem {
	var found problems
	found.key(c.Key, "cost centre")
	found.short("name", c.Name, longName)
	return found
}

// CheckService finds what is wrong with a service by itself.
func CheckService(s Service) []Problem {
	var found problems
	found.key(s.Key, "service")
	found.needed("name", s.Name, "The name")
	found.short("name", s.Name, longName)
	found.needed("area", s.Area, "The area")
	found.short("area", s.Area, longName)
	found.short("text", s.Text, longText)
	found.place(s.Place)
	return found
}

func (p *problems) place(place Place) {
	switch place {
	case Intended, Offered, Ended:
	default:
		p.wrong(refusal.BadPlace, "place", "%q is no place in the portfolio: write intended, offered or ended.", string(place))
	}
}

// CheckArea finds what is wrong with an area by itself.
func CheckArea(a Area) []Problem {
	var found problems
	found.needed("name", a.Name, "The name")
	found.short("name", a.Name, longName)
	found.short("text", a.Text, longText)
	found.place(a.Place)
	return found
}

// CheckBundle finds what is wrong with a bundle by itself, but its rule.
func CheckBundle(b Bundle) []Problem {
	var found problems
	found.key(b.Key, "bundle")
	found.needed("name", b.Name, "The name")
	found.short("name", b.Name, longName)
	found.short("text", b.Text, longText)
	return found
}

// KeyOf makes a key of a name: small letters, digits and hyphens.
func KeyOf(name string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9' || r > 127:
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "-"):
			b.WriteByte('-')
		}
	}
	return strings.TrimSuffix(b.String(), "-")
}
