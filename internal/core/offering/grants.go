package offering

import (
	"fmt"
	"slices"
	"strings"

	"heptad/internal/core/finding"
	"heptad/internal/core/ladder"
)

// checkGrants finds what the service may not use, and sensitive actions that
// nobody need decide on. Who designs an offering never decides on what is
// sensitive in it.
func (c *Compiled) checkGrants(company Company, findings *finding.List) {
	if company.Grants == nil || c.Plan == nil {
		return
	}
	d := c.Document
	sensitive := c.Plan.CheckGrants(company.Grants(d.Purpose.Service), company.Connectors, findings)
	if len(sensitive) == 0 {
		return
	}
	service := ""
	if company.Directory != nil {
		s, _ := company.Directory.Service(d.Purpose.Service)
		service, company.Editors = s.Owner, append(slices.Clip(company.Editors), s.Editors...)
	}
	c.Careful, c.Barred = true, company.Editors
	why := ""
	for _, r := range d.Ladder {
		if why = c.unfit(r, company, service); why == "" {
			return
		}
	}
	at := sensitive[0]
	sentence := fmt.Sprintf("%q is sensitive: somebody must always decide before it is done.", d.Plan[at].Name)
	if why != "" {
		sentence += " " + why
	}
	findings.Error(finding.SensitiveRung, finding.At("plan", at, "action"), sentence, "Add a rung that is always needed, never passes by time, and names nobody who designs this offering.")
}

// unfit says why a rung does not guard what is sensitive; empty when it does.
func (c *Compiled) unfit(r ladder.Rung, company Company, owner string) string {
	switch {
	case strings.TrimSpace(r.When) != "":
		return fmt.Sprintf("The rung %q is not always needed.", r.Name)
	case r.Then == ladder.Approve:
		return fmt.Sprintf("The rung %q passes by time.", r.Name)
	}
	for _, s := range slices.Concat(r.Approvers, r.Fallback) {
		for _, person := range append([]string{owner}, company.Editors...) {
			if person != "" && company.Directory != nil && s.Names(person, company.Directory, owner) {
				return fmt.Sprintf("On the rung %q sits %s, who designs this offering.", r.Name, company.Directory.Name(person))
			}
		}
	}
	return ""
}
