package work

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"heptad/internal/core/finding"
	"heptad/internal/core/form"
	"heptad/internal/core/offering"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/store"
)

// Opened is an offering on the Design desk with what its examination found.
type Opened struct {
	store.Version
	Current  int // number of the version people can ask for now, or 0
	Findings finding.List
}

// Owned lists the services a person owns.
func (o *Office) Owned(person string) []people.Service {
	return slices.DeleteFunc(o.Company().Services(), func(s people.Service) bool { return s.Owner != person })
}

func (o *Office) owns(person, service string) bool {
	s, ok := o.Company().Service(service)
	return ok && s.Owner == person
}

// Create makes an empty draft of an offering in a service that the person
// owns. Its key comes from the name.
func (o *Office) Create(ctx context.Context, person, service, name string) (Opened, error) {
	if !o.owns(person, service) {
		return Opened{}, ErrNotFound
	}
	stem := slug(name)
	if stem == "" {
		return Opened{}, &request.Refusal{Kind: request.Invalid, Code: "noName", Sentence: "Name the offering with letters or digits.", Place: "/name"}
	}
	key := stem
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		for n := 2; ; n++ {
			if _, err := tx.VersionNumber(ctx, key, 1); errors.Is(err, ErrNotFound) {
				break
			} else if err != nil {
				return err
			}
			key = fmt.Sprintf("%s-%d", stem, n)
		}
		return tx.AddDraft(offering.New(key, strings.TrimSpace(name), service, homeCurrency, homeZone), person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return o.OpenDraft(ctx, person, key)
}

// What new offerings begin with.
const (
	homeCurrency = "EUR"
	homeZone     = "Europe/Lisbon"
)

var notKey = regexp.MustCompile(`[^a-z0-9]+`)

// slug makes a key from a name: letters without their accents, and digits.
func slug(name string) string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), name)
	if err != nil {
		plain = name
	}
	key := strings.Trim(notKey.ReplaceAllString(strings.ToLower(plain), "-"), "-")
	return strings.Trim(key[:min(len(key), 50)], "-")
}

// OpenDraft opens the draft of an offering, or its current version when there
// is none.
func (o *Office) OpenDraft(ctx context.Context, person, key string) (Opened, error) {
	opened, err := o.latest(ctx, o.Store, person, key)
	if err != nil {
		return Opened{}, err
	}
	_, opened.Findings = offering.Compile(opened.Document, opened.Number, o.checked())
	return opened, nil
}

func (o *Office) latest(ctx context.Context, from versions, person, key string) (Opened, error) {
	current, err := from.VersionIn(ctx, key, store.Current)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Opened{}, err
	}
	draft, err := from.VersionIn(ctx, key, store.Draft)
	if errors.Is(err, ErrNotFound) {
		draft, err = current, nil
	}
	if err != nil {
		return Opened{}, err
	}
	if draft.Number == 0 || !o.owns(person, draft.Document.Purpose.Service) {
		return Opened{}, ErrNotFound
	}
	return Opened{Version: draft, Current: current.Number}, nil
}

// SaveOffering keeps a changed draft. The revision is the one the person has
// seen; when somebody saved in between it is refused.
func (o *Office) SaveOffering(ctx context.Context, person, key string, d offering.Document, revision int) (Opened, error) {
	if d.Key != key {
		return Opened{}, &request.Refusal{Kind: request.Invalid, Code: "keyChanged", Sentence: "The key of an offering cannot change.", Place: "/document/key"}
	}
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		seen, err := o.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if !o.owns(person, d.Purpose.Service) {
			return &request.Refusal{Kind: request.Invalid, Code: "notYourService", Sentence: "Choose a service that you own.", Place: "/document/purpose/service"}
		}
		if seen.State == store.Current {
			return tx.AddDraft(d, person, o.Clock())
		}
		return tx.SaveDraft(d, person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	return o.OpenDraft(ctx, person, key)
}

// seen gives what is kept of an offering, if it still is what the person saw.
func (o *Office) seen(ctx context.Context, tx *store.Tx, person, key string, revision int) (Opened, error) {
	kept, err := o.latest(ctx, tx, person, key)
	if err != nil {
		return Opened{}, err
	}
	if kept.Revision != revision {
		return Opened{}, &request.Refusal{Kind: request.Conflict, Code: "draftChanged", Sentence: fmt.Sprintf("%s has changed this draft in the meantime. Yours is kept on this page: copy what you need and load the other.", o.Company().Name(kept.ChangedBy))}
	}
	return kept, nil
}

// Publish makes a draft what people can ask for. Errors among its findings
// stop it.
func (o *Office) Publish(ctx context.Context, person, key string, revision int) (Opened, error) {
	err := o.Store.Write(ctx, func(tx *store.Tx) error {
		draft, err := o.seen(ctx, tx, person, key, revision)
		if err != nil {
			return err
		}
		if draft.State != store.Draft {
			return &request.Refusal{Kind: request.Conflict, Code: "noDraft", Sentence: "There is nothing new to publish."}
		}
		if _, findings := offering.Compile(draft.Document, draft.Number, o.checked()); findings.HasErrors() {
			return unready(findings)
		}
		return tx.Publish(draft.Document, person, o.Clock())
	})
	if err != nil {
		return Opened{}, err
	}
	o.Live.tell(Change{Kind: "catalog"}, nil)
	return o.OpenDraft(ctx, person, key)
}

func unready(findings finding.List) error {
	r := &request.Refusal{Kind: request.Invalid, Code: "unready", Sentence: "This cannot be published yet."}
	for _, f := range findings {
		if f.Severity == finding.Error {
			r.Details = append(r.Details, request.Refusal{Kind: request.Invalid, Code: f.Code, Sentence: f.Sentence, Place: "/document" + f.Place})
		}
	}
	return r
}

// Try works out a draft as it would be for a person, without keeping anything.
func (o *Office) Try(ctx context.Context, person, key, as string, answers form.Answers) (Form, error) {
	opened, err := o.OpenDraft(ctx, person, key)
	if err != nil {
		return Form{}, err
	}
	asker, ok := o.Company().Person(as)
	if !ok {
		return Form{}, &request.Refusal{Kind: request.Invalid, Code: "unknownPerson", Sentence: "There is no such person.", Place: "/as"}
	}
	c, _ := offering.Compile(opened.Document, opened.Number, o.checked())
	if c.Form == nil || !c.Form.Usable() {
		return Form{}, &request.Refusal{Kind: request.Invalid, Code: "unusable", Sentence: "The form cannot be shown before its errors are mended."}
	}
	return Form{Offering: c, Answers: answers, Evaluated: o.evaluate(c, asker, answers)}, nil
}
