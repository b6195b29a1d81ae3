package web

import (
	"context"
	"slices"

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
	wanted := search.Parts(in.Words)
	for _, c := range company.CostCentres() {
		if len(out.Entries) == centresShown {
			break
		}
		if len(in.Keys) > 0 && slices.Contains(in.Keys, c.Key) || len(in.Keys) == 0 && wanted(c.Key+" "+c.Name) {
			out.Entries = append(out.Entries, Named{Key: c.Key, Name: company.CentreName(c.Key)})
		}
	}
	return answer(out, nil)
}
