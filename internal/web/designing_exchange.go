package web

import (
	"bytes"
	"context"
	"net/http"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
	"heptad/internal/work"
)

func (h designing) importItems(_ context.Context, in *struct {
	Currency string `query:"currency" maxLength:"3"`
	RawBody  []byte `contentType:"text/csv"`
}) (*body[price.Imported], error) {
	return answer(price.ImportItems(bytes.NewReader(in.RawBody), in.Currency), nil)
}

func (h designing) exportCatalog(ctx context.Context, _ *none) (*attachment[offering.Catalog], error) {
	c, err := h.Office.Designing.Export(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	return attached("catalog.json", c), nil
}

// incoming is what an import would do, or has done, with one offering.
type incoming struct {
	Key      string            `json:"key"`
	Name     string            `json:"name"`
	Does     string            `json:"does" enum:"new,changed,same,refused"`
	Why      string            `json:"why,omitempty" doc:"It is refused"`
	Ends     bool              `json:"ends,omitempty" doc:"It ends here, as it has where it comes from"`
	Draft    bool              `json:"draft,omitempty" doc:"It has ended where it comes from, and stays a draft"`
	Changes  []offering.Change `json:"changes" nullable:"false"`
	Errors   int               `json:"errors"`
	Warnings int               `json:"warnings"`
}

func (h designing) importCatalog(ctx context.Context, in *struct {
	Preview bool     `query:"preview" doc:"Only tell what would happen"`
	Publish bool     `query:"publish" doc:"Publish what has neither errors nor warnings"`
	Home    []string `query:"home,explode" maxItems:"100" doc:"Of services that are new here: key, colon, key of the team that is home to it"`
	Owner   []string `query:"owner,explode" maxItems:"100" doc:"Of services that are new here: key, colon, login; the reader when left out"`
	RawBody []byte   `contentType:"application/octet-stream"`
}) (*body[importedBody], error) {
	c, err := parseCatalog(in.RawBody)
	if err != nil {
		return nil, err
	}
	news := h.Office.Designing.NewServices(c)
	all, err := h.Office.Designing.Import(ctx, me(ctx), c, work.Importing{Preview: in.Preview, Publish: in.Publish, Homes: pairs(in.Home), Owners: pairs(in.Owner)})
	out := importedBody{Entries: make([]incoming, len(all)), Services: make([]newService, len(news))}
	for i, n := range news {
		owner, _ := h.Office.Company().ByLogin(n.Owner)
		out.Services[i] = newService{n.Key, n.Name, n.Area, n.Home, n.Owner, owner.Name}
	}
	for i, o := range all {
		out.Entries[i] = incoming{Key: o.Key, Name: o.Name, Does: o.Does, Why: o.Why, Ends: o.Ends, Draft: o.Draft, Changes: list(o.Changes)}
		for _, f := range o.Findings {
			switch f.Severity {
			case finding.Error:
				out.Entries[i].Errors++
			case finding.Warning:
				out.Entries[i].Warnings++
			}
		}
	}
	return answer(out, err)
}

// importedBody is what an import would do, or has done.
type importedBody struct {
	Entries  []incoming   `json:"entries" nullable:"false"`
	Services []newService `json:"services" nullable:"false" doc:"Services of the file that were not here"`
}

// newService is a service that is new here, with the owner and the home team of
// the file where they are known here.
type newService struct {
	Key       string `json:"key"`
	Name      string `json:"name"`
	Area      string `json:"area"`
	Home      string `json:"home,omitempty" doc:"Key of a team"`
	Owner     string `json:"owner,omitempty" doc:"Login"`
	OwnerName string `json:"ownerName,omitempty"`
}

// pairs reads values such as access:keys-badges.
func pairs(values []string) map[string]string {
	out := map[string]string{}
	for _, v := range values {
		if key, value, ok := strings.Cut(v, ":"); ok {
			out[key] = value
		}
	}
	return out
}

// parseCatalog reads a catalog, or a single offering as a catalog of one.
func parseCatalog(data []byte) (offering.Catalog, error) {
	c, err := offering.ParseCatalog(data)
	if err == nil {
		return c, nil
	}
	if d, single := offering.Parse(data); single == nil {
		return offering.Catalog{Format: offering.CatalogFormat, Offerings: []offering.Document{d}}, nil
	}
	bad := err.(*offering.ParseError) // ParseCatalog promises it
	p := newProblem(http.StatusUnprocessableEntity, "This file is no catalog. "+bad.Sentence)
	p.Code, p.Errors = refusal.NoCatalog, []Detail{{bad.Place, bad.Sentence, refusal.NoCatalog}}
	return c, p
}
