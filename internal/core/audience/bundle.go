package audience

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/rule"
)

// Part names a bundle: an audience that is kept once and used by many offerings. What
// travels carries its name and rule; a bundle of the company with this key goes before.
type Part struct {
	Key  string `json:"key" maxLength:"60"`
	Name string `json:"name,omitempty" maxLength:"120" doc:"Of an exported one"`
	Rule string `json:"rule,omitempty" maxLength:"4000" doc:"Of an exported one: CEL over asker"`
}

// Known reports whether it can be told who is in it: it is a bundle of the company, or
// carries its rule.
func (p Part) Known(d *people.Directory) bool {
	_, here := d.Bundle(p.Key)
	return here || p.Rule != ""
}

func compileBundle(b Part, place string, findings *finding.List) {
	if b.Key == "" {
		findings.Error(finding.UnknownBundle, place, "A bundle without a key is none.", "Choose one.")
	}
	if b.Rule != "" {
		askerEnv.Condition(b.Rule, place+"/rule", findings)
	}
}

// Bundle is a bundle that can be asked who is in it.
type Bundle struct {
	people.Bundle
	who audienceRule
}

// CompileBundle compiles a bundle; places are those of its fields.
func CompileBundle(b people.Bundle, findings *finding.List) Bundle {
	return Bundle{b, audienceRule{askerEnv.Condition(b.Rule, "/rule", findings), b.Rule, Words(b.Rule)}}
}

// Has reports whether somebody is in a bundle, with the reason in words. One without a
// rule has nobody in it.
func (b Bundle) Has(p Person) (bool, string) {
	if b.who.blank() {
		return false, "Nobody is in " + b.Name + " yet."
	}
	return fits(p, b.who, rule.Values{Roots: map[string]rule.Record{"asker": p.record}}, "")
}

// compiled is the key under which a bundle is kept with the directory.
type compiled string

// in reports whether somebody is in a bundle of the company, or in one that a document
// carries, with the reason in words.
func (p Person) in(part Part) (bool, string) {
	b, ok := p.of.Bundle(part.Key)
	switch {
	case ok:
	case part.Rule == "":
		return false, fmt.Sprintf("The bundle %q is not there any more.", part.Key)
	default:
		b = people.Bundle{Key: part.Key, Name: part.Name, Rule: part.Rule}
	}
	made := p.of.Once(compiled(b.Rule), func() any { return CompileBundle(b, &finding.List{}) }).(Bundle)
	made.Bundle = b
	in, why := made.Has(p)
	if !in {
		return false, why
	}
	return true, fmt.Sprintf("%s is in %s: %s.", p.Name, b.Name, made.who.words)
}

// inAny reports whether somebody is in one of several bundles, with the reason.
func (p Person) inAny(parts []Part) (bool, string) {
	var names []string
	for _, part := range parts {
		in, why := p.in(part)
		if in || len(parts) == 1 {
			return in, why
		}
		names = append(names, cmp.Or(part.Name, p.of.BundleName(part.Key)))
	}
	return false, p.Name + " is in none of " + strings.Join(names, ", ") + "."
}

// Carried gives bundles as they travel: with the name and the rule they have in a
// company.
func Carried(parts []Part, d *people.Directory) []Part {
	out := slices.Clone(parts)
	for i, part := range out {
		if b, ok := d.Bundle(part.Key); ok {
			out[i].Name, out[i].Rule = b.Name, b.Rule
		}
	}
	return out
}

// Settled is an audience as it is kept in a company: bundles that are there by their key
// alone, and in place of one that is not there its rule. It never lets in more people
// than before: one that is neither there nor has a rule stays, and has nobody in it.
func (a Audience) Settled(d *people.Directory) Audience {
	var kept []Part
	var rules []string
	for _, part := range a.Bundles {
		if _, here := d.Bundle(part.Key); here || part.Rule == "" {
			kept = append(kept, Part{Key: part.Key})
		} else {
			rules = append(rules, part.Rule)
		}
	}
	a.Bundles = kept
	if len(rules) == 0 {
		return a
	}
	for _, part := range kept { // a rule and a bundle both narrow: what is either is a rule
		if b, _ := d.Bundle(part.Key); b.Rule != "" {
			rules = append(rules, b.Rule)
		}
	}
	who := either(rules)
	if strings.TrimSpace(a.Ask) != "" {
		who = "(" + who + ") && (" + a.Ask + ")"
	}
	a.Bundles, a.Ask = nil, who
	return a
}

// either holds when one of several rules does.
func either(rules []string) string {
	if len(rules) == 1 {
		return rules[0]
	}
	return "(" + strings.Join(rules, ") || (") + ")"
}
