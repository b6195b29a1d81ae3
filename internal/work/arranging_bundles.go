package work

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/audience"
	"heptad/internal/core/audit"
	"heptad/internal/core/finding"
	"heptad/internal/core/people"
	"heptad/internal/core/refusal"
	"heptad/internal/store"
)

// BundleListed is a bundle with how many offerings name it that can be asked for.
type BundleListed struct {
	people.Bundle
	Words  string // its rule as a sentence
	Offers int
}

// Bundles lists the bundles to those who have a say in what offerings share.
func (w *Arranging) Bundles(ctx context.Context, person string) ([]BundleListed, error) {
	if !w.Writes(person) {
		return nil, ErrNotFound
	}
	entries, err := w.published(ctx)
	if err != nil {
		return nil, err
	}
	offers := map[string]int{}
	for _, e := range entries {
		for _, part := range e.Audience.Bundles {
			offers[part.Key]++
		}
	}
	list := []BundleListed{}
	for _, b := range w.Company().Bundles() {
		list = append(list, BundleListed{b, audience.Words(b.Rule), offers[b.Key]})
	}
	return list, nil
}

// BundleUses lists what names a bundle, as draft or as what can be asked for.
func (w *Arranging) BundleUses(ctx context.Context, person, key string) ([]store.Using, error) {
	if _, ok := w.Company().Bundle(key); !ok || !w.Writes(person) {
		return nil, ErrNotFound
	}
	return w.Store.BundleUses(ctx, key)
}

// BundleSurvey tells who is in a bundle, and why.
func (w *Arranging) BundleSurvey(_ context.Context, person, key string, wanted audience.Wanted) (audience.Surveyed, error) {
	b, ok := w.Company().Bundle(key)
	if !ok || !w.Writes(person) {
		return audience.Surveyed{}, ErrNotFound
	}
	return audience.Survey(w.Company(), wanted, audience.CompileBundle(b, &finding.List{}).Has), nil
}

// Turning is what a change of a bundle does to one offering, or to the bundle itself.
type Turning struct {
	Offering string // key; empty for the bundle
	Name     string
	Service  string
	audience.Turned
}

// TurnBundle works out who comes into a bundle and who goes out of it by another rule, and
// who gains and loses which offerings. Nothing is changed.
func (w *Arranging) TurnBundle(ctx context.Context, person, key, rule string) (all []Turning, words string, err error) {
	before, ok := w.Company().Bundle(key)
	if key != "" && !ok || !w.Administers(person) {
		return nil, "", ErrNotFound
	}
	after := before
	after.Rule = rule
	if err := goodRule(after); err != nil {
		return nil, "", err
	}
	all, err = w.turn(ctx, before, after)
	return all, audience.Words(rule), err
}

// turn gives the bundle first, then the offerings for whose askers something changes.
func (w *Arranging) turn(ctx context.Context, before, after people.Bundle) ([]Turning, error) {
	company := w.Company()
	whole := audience.Turn(company, audience.CompileBundle(before, &finding.List{}).Has, audience.CompileBundle(after, &finding.List{}).Has)
	all := []Turning{{Name: after.Name, Turned: whole}}
	if len(whole.In)+len(whole.Out) == 0 || before.Key == "" {
		return all, nil
	}
	entries, err := w.published(ctx)
	if err != nil {
		return nil, err
	}
	then := company.WithBundle(after)
	for _, e := range entries {
		if !slices.ContainsFunc(e.Audience.Bundles, func(p audience.Part) bool { return p.Key == before.Key }) {
			continue
		}
		t := Turning{Offering: e.Offering, Name: e.Name, Service: e.Service}
		for _, p := range slices.Concat(whole.In, whole.Out) {
			was, _ := e.audience.MayAsk(audience.Of(p, company))
			is, _ := e.audience.MayAsk(audience.Of(p, then))
			switch {
			case is && !was:
				t.In = append(t.In, p)
			case was && !is:
				t.Out = append(t.Out, p)
			}
		}
		if len(t.In)+len(t.Out) > 0 {
			all = append(all, t)
		}
	}
	return all, nil
}

func goodRule(b people.Bundle) error {
	var findings finding.List
	audience.CompileBundle(b, &findings)
	for _, f := range findings {
		return invalid(refusal.Unusable, "/rule", "%s", f.Sentence)
	}
	return nil
}

// SaveBundle keeps a bundle, by an administrator; one without a key is new. It counts at
// once: the owners of what it changes are told. Seen is the rule that they saw: when
// somebody changed it since, it is refused.
func (w *Arranging) SaveBundle(ctx context.Context, person string, b people.Bundle, seen string) (people.Bundle, error) {
	if !w.Administers(person) {
		return b, ErrNotFound
	}
	before, known := w.Company().Bundle(b.Key)
	switch {
	case b.Key == "":
		if b.Key = people.KeyOf(b.Name); b.Key == "" {
			return b, invalid(refusal.NoName, "/name", "Name the bundle with letters or digits.")
		}
		if other, taken := w.Company().Bundle(b.Key); taken {
			return b, invalid(refusal.NameTaken, "/name", "There is a bundle %q already: name this one otherwise.", other.Name)
		}
	case !known:
		return b, ErrNotFound
	case before.Rule != seen:
		return b, conflict(refusal.BundleChanged, "Somebody has changed this bundle in the meantime. Nothing of yours is kept: look at it again.")
	}
	b.Name, b.Text, b.Rule = strings.TrimSpace(b.Name), strings.TrimSpace(b.Text), strings.TrimSpace(b.Rule)
	for _, p := range people.CheckBundle(b) {
		return b, invalid(p.Code, "/"+p.Field, "%s", p.Sentence)
	}
	if err := goodRule(b); err != nil {
		return b, err
	}
	var changes []audit.Change
	for _, f := range []struct{ field, before, after string }{{"name", before.Name, b.Name}, {"text", before.Text, b.Text}, {"rule", before.Rule, b.Rule}} {
		changes = audit.Changed(changes, f.field, f.before, f.after)
	}
	if len(changes) == 0 {
		return b, nil
	}
	before.Key = cmp.Or(before.Key, b.Key)
	turned, err := w.turn(ctx, before, b)
	if err != nil {
		return b, err
	}
	for _, c := range []struct {
		field string
		n     int
	}{{"come in", len(turned[0].In)}, {"go out", len(turned[0].Out)}, {"offerings", len(turned) - 1}} {
		if c.n > 0 {
			changes = append(changes, audit.Change{Field: c.field, After: itoa(c.n)})
		}
	}
	err = w.Store.Write(ctx, func(tx *store.Tx) error {
		if err := tx.AddCompany(people.Records{Bundles: []people.Bundle{b}}); err != nil {
			return err
		}
		if err := w.note(ctx, tx, person, audit.BundleSaved, b.Key, b.Name, changes...); err != nil {
			return err
		}
		var d duties
		for _, t := range turned[1:] {
			s, _ := w.Company().Service(t.Service)
			d.add(s.Owner, "%s: the bundle %s was changed. %s", t.Name, b.Name, gainsAndLosses(len(t.In), len(t.Out)))
		}
		return d.tell(ctx, w.kernel, tx, person)
	})
	if err != nil {
		return b, err
	}
	return b, w.companyChanged(ctx)
}

// gainsAndLosses says how many more and fewer may ask.
func gainsAndLosses(in, out int) string {
	persons := func(n int) string {
		if n == 1 {
			return "one person"
		}
		return fmt.Sprintf("%d people", n)
	}
	switch {
	case out == 0:
		return fmt.Sprintf("From now on %s more may ask for it.", persons(in))
	case in == 0:
		return fmt.Sprintf("From now on %s fewer may ask for it.", persons(out))
	}
	return fmt.Sprintf("From now on %s more may ask for it, and %s no longer.", persons(in), persons(out))
}

// DropBundle takes a bundle away that no offering names any more, by an administrator.
func (w *Arranging) DropBundle(ctx context.Context, person, key string) error {
	b, ok := w.Company().Bundle(key)
	if !ok || !w.Administers(person) {
		return ErrNotFound
	}
	err := w.Store.Write(ctx, func(tx *store.Tx) error {
		uses, err := tx.BundleUses(ctx, key)
		if err != nil {
			return err
		}
		if len(uses) > 0 {
			return conflict(refusal.BundleUsed, "%s uses this bundle: name another audience there first.", uses[0].Name)
		}
		if err := tx.DropBundle(key); err != nil {
			return err
		}
		return w.note(ctx, tx, person, audit.BundleDropped, key, b.Name, audit.Change{Field: "rule", Before: b.Rule})
	})
	if err != nil {
		return err
	}
	return w.companyChanged(ctx)
}

// Reachable is an offering with what somebody may do with it.
type Reachable struct {
	Offering, Name, Service string
	Sees, Asks              bool
	Reason                  string // why they may ask, or not
}

// ReachedBy tells an administrator which of all that is offered somebody finds and may ask
// for, and why.
func (w *Arranging) ReachedBy(ctx context.Context, person, whom string) ([]Reachable, error) {
	if p, ok := w.Company().Person(whom); !ok || p.Former || !w.Administers(person) {
		return nil, ErrNotFound
	}
	entries, err := w.catalog(ctx)
	if err != nil {
		return nil, err
	}
	they := w.audiencePerson(whom)
	list := []Reachable{}
	for _, e := range entries {
		if e.audience.Inner {
			continue
		}
		r := Reachable{Offering: e.Offering, Name: e.Name, Service: w.serviceName(e.Service)}
		r.Sees, _ = e.audience.Sees(they)
		r.Asks, r.Reason = e.audience.MayAsk(they)
		list = append(list, r)
	}
	return list, nil
}
