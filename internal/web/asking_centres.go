package web

import (
	"context"
	"slices"
	"strings"

	"heptad/internal/core/search"
)

// centresShown is how many cost centres are listed at once.
const centresShown = 50

// costCentres finds cost centres of the company, of which there can be thousands.
func (h asking) costCentres(_ context.Context, in *struct {
	Words string   `query:"words" maxLength:"100" doc:"Parts of the key or the name"`
	Keys  []string `query:"keys,explode" maxItems:"50" doc:"Only these"`
}) (*body[listOf[Named]], error) {
	company, out := h.Office.Company(), listOf[Named]{Entries: []Named{}}
	if len(in.Keys) > 0 {
		for _, key := range in.Keys {
			if c, ok := company.CostCentre(key); ok {
				out.Entries = append(out.Entries, Named{Key: c.Key, Name: company.CentreName(c.Key)})
			}
		}
		return answer(out, nil)
	}
	words := strings.Fields(search.Plain(in.Words))
	for _, c := range company.CostCentres() {
		plain := search.Plain(c.Key + " " + c.Name)
		if len(out.Entries) < centresShown && !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(plain, word) }) {
			out.Entries = append(out.Entries, Named{Key: c.Key, Name: company.CentreName(c.Key)})
		}
	}
	return answer(out, nil)
}
