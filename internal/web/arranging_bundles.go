package web

import (
	"context"

	"heptad/internal/core/people"
	"heptad/internal/core/rule"
	"heptad/internal/work"
)

// bundleLine is a bundle in the list.
type bundleLine struct {
	Named
	Text   string `json:"text,omitempty" doc:"Whom it is meant for"`
	Rule   string `json:"rule" doc:"CEL over asker"`
	Words  string `json:"words" doc:"The rule as a sentence"`
	Offers int    `json:"offers" doc:"How many offerings name it that can be asked for"`
}

type bundlesBody struct {
	Entries []bundleLine `json:"entries" nullable:"false"`
	Facts   companyFacts `json:"facts" doc:"Values that rules about people compare with"`
	Sorts   []rule.Sort  `json:"sorts" nullable:"false" doc:"How conditions compare facts"`
	Yours   bool         `json:"yours,omitempty" doc:"The reader changes them"`
}

func (h *handlers) bundlesListed(ctx context.Context) ([]bundleLine, error) {
	all, err := h.Office.Arranging.Bundles(ctx, me(ctx))
	lines := make([]bundleLine, len(all))
	for i, b := range all {
		lines[i] = bundleLine{Named{Key: b.Key, Name: b.Name}, b.Text, b.Rule, b.Words, b.Offers}
	}
	return lines, err
}

func (h arranging) bundles(ctx context.Context, _ *none) (*body[bundlesBody], error) {
	lines, err := h.bundlesListed(ctx)
	return answer(bundlesBody{lines, h.facts(), rule.Sorts(), h.Office.Administers(me(ctx))}, err)
}

// BundlePath names a bundle.
type BundlePath struct {
	Bundle string `path:"bundle" maxLength:"60"`
}

// bundleUse is an offering that names a bundle.
type bundleUse struct {
	Named
	Service string `json:"service"`
	Draft   bool   `json:"draft,omitempty" doc:"Its draft does, not what can be asked for"`
}

type bundleBody struct {
	Survey   surveyBody     `json:"survey"`
	Uses     []bundleUse    `json:"uses" nullable:"false"`
	Sentence *rule.Sentence `json:"sentence,omitempty" doc:"Its rule, when it reads as one"`
}

func (h arranging) bundle(ctx context.Context, in *struct {
	BundlePath
	SurveyInput
}) (*body[bundleBody], error) {
	s, err := h.Office.Arranging.BundleSurvey(ctx, me(ctx), in.Bundle, in.wanted())
	if err != nil {
		return nil, err
	}
	uses, err := h.Office.Arranging.BundleUses(ctx, me(ctx), in.Bundle)
	out := bundleBody{Survey: h.surveyed(s), Uses: make([]bundleUse, len(uses))}
	for i, u := range uses {
		service, _ := h.Office.Company().Service(u.Service)
		out.Uses[i] = bundleUse{Named{Key: u.Offering, Name: u.Name}, service.Name, u.Draft}
	}
	b, _ := h.Office.Company().Bundle(in.Bundle)
	if s, ok := rule.ParseSentence(b.Rule); ok {
		out.Sentence = &s
	}
	return answer(out, err)
}

// turning is who gains and loses by a change.
type turning struct {
	Offering string   `json:"offering,omitempty" doc:"Key; nothing for the bundle itself"`
	Name     string   `json:"name"`
	Ins      int      `json:"ins" doc:"How many come in"`
	Outs     int      `json:"outs"`
	In       []string `json:"in" nullable:"false" doc:"Names of some of them"`
	Out      []string `json:"out" nullable:"false"`
}

type turnedBody struct {
	Words   string    `json:"words" doc:"The rule as a sentence"`
	Entries []turning `json:"entries" nullable:"false" doc:"The bundle first, then the offerings for which something changes"`
}

// turnedNamed is how many of those who come in or go out are named.
const turnedNamed = 40

func turnings(all []work.Turning) []turning {
	names := func(persons []people.Person) []string {
		out := []string{}
		for _, p := range persons[:min(len(persons), turnedNamed)] {
			out = append(out, p.Name)
		}
		return out
	}
	out := make([]turning, len(all))
	for i, t := range all {
		out[i] = turning{t.Offering, t.Name, len(t.In), len(t.Out), names(t.In), names(t.Out)}
	}
	return out
}

func (h arranging) turnBundle(ctx context.Context, in *struct {
	Body struct {
		Bundle string `json:"bundle,omitempty" maxLength:"60" doc:"Key; nothing for a new one"`
		Rule   string `json:"rule" maxLength:"4000"`
	}
}) (*body[turnedBody], error) {
	all, words, err := h.Office.Arranging.TurnBundle(ctx, me(ctx), in.Body.Bundle, in.Body.Rule)
	return answer(turnedBody{words, turnings(all)}, err)
}

// BundleInput is what a bundle is.
type BundleInput struct {
	Name string `json:"name" maxLength:"120"`
	Text string `json:"text,omitempty" maxLength:"2000"`
	Rule string `json:"rule" maxLength:"4000" doc:"CEL over asker; nobody is in it when it is empty"`
	Seen string `json:"seen,omitempty" maxLength:"4000" doc:"The rule as the reader saw it before"`
}

func (h arranging) makeBundle(ctx context.Context, in *struct{ Body BundleInput }) (*body[Named], error) {
	b, err := h.Office.Arranging.SaveBundle(ctx, me(ctx), people.Bundle{Name: in.Body.Name, Text: in.Body.Text, Rule: in.Body.Rule}, "")
	return answer(Named{Key: b.Key, Name: b.Name}, err)
}

func (h arranging) saveBundle(ctx context.Context, in *struct {
	BundlePath
	Body BundleInput
}) (*body[Named], error) {
	b, err := h.Office.Arranging.SaveBundle(ctx, me(ctx), people.Bundle{Key: in.Bundle, Name: in.Body.Name, Text: in.Body.Text, Rule: in.Body.Rule}, in.Body.Seen)
	return answer(Named{Key: b.Key, Name: b.Name}, err)
}

func (h arranging) dropBundle(ctx context.Context, in *BundlePath) (*body[none], error) {
	return answer(none{}, h.Office.Arranging.DropBundle(ctx, me(ctx), in.Bundle))
}

// reachable is an offering with what a person may do with it.
type reachable struct {
	Named
	Service string `json:"service"`
	Sees    bool   `json:"sees,omitempty" doc:"They find it"`
	Asks    bool   `json:"asks,omitempty" doc:"They may ask for it"`
	Reason  string `json:"reason" doc:"Why they may ask, or not"`
}

func (h arranging) reachedBy(ctx context.Context, in *struct {
	Person string `path:"person" maxLength:"60"`
}) (*body[listOf[reachable]], error) {
	all, err := h.Office.Arranging.ReachedBy(ctx, me(ctx), in.Person)
	out := listOf[reachable]{Entries: make([]reachable, len(all))}
	for i, r := range all {
		out.Entries[i] = reachable{Named{Key: r.Offering, Name: r.Name}, r.Service, r.Sees, r.Asks, r.Reason}
	}
	return answer(out, err)
}
