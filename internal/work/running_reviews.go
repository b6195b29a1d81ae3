package work

import (
	"context"

	"heptad/internal/core/calendar"
	"heptad/internal/core/people"
	"heptad/internal/core/promise"
	"heptad/internal/store"
)

// remindReviews tells owners that the day has come to look at their area or service again,
// once for each day that is set, and that the last promise of an offering ends soon.
func (w *Running) remindReviews(ctx context.Context) error {
	now := reviewed{w.Company(), w.today(), w.age.catalog.Load()}
	if w.reviewed == now {
		return nil
	}
	told, err := w.Store.ReviewsTold(ctx)
	if err != nil {
		return err
	}
	type due struct {
		thing, day, owner, words string
		ends                     bool // no promise holds after the day
	}
	var all []due
	add := func(thing, day, owner, words string, place people.Place) {
		if day != "" && day <= now.day && told[thing] != day && place != people.Ended && owner != "" {
			all = append(all, due{thing: thing, day: day, owner: owner, words: words})
		}
	}
	for _, a := range now.company.Areas() {
		add("area "+a.Name, a.Review, a.Owner, "the area "+a.Name, a.Place)
	}
	for _, s := range now.company.Services() {
		add("service "+s.Key, s.Review, s.Owner, "the service "+s.Name, s.Place)
	}
	dated, err := w.dated.get(w.age.catalog.Load, struct{}{}, func() ([]store.Dated, error) { return w.Store.DatedPromises(ctx) })
	if err != nil {
		return err
	}
	today := calendar.DateOf(w.Clock().In(w.Organisation().Location()))
	for _, d := range dated {
		service, _ := now.company.Service(d.Service)
		for _, t := range d.Promise.Targets {
			owner := service.Owner
			if p, known := now.company.ByLogin(t.Owner); known && !p.Former {
				owner = p.ID
			}
			add("promise "+d.Offering+" "+t.Name, t.Review, owner, "the promise "+t.Name+" of "+d.Name, people.Offered)
		}
		if end, ends := d.Promise.Ends(today); ends && end.Since(today) <= promise.EndsSoon && told["promises "+d.Offering] != end.String() {
			all = append(all, due{thing: "promises " + d.Offering, day: end.String(), owner: service.Owner, words: d.Name, ends: true})
		}
	}
	if len(all) > 0 {
		err = w.Store.Write(ctx, func(tx *store.Tx) error {
			var d duties
			for _, r := range all {
				if r.ends {
					d.add(r.owner, "Nothing is promised of %s any more after %s: no promise is valid then. Give one another day, or write a new one.", r.words, r.day)
				} else {
					d.add(r.owner, "The day has come to look at %s again: %s. When you have, set another day.", r.words, r.day)
				}
				if err := tx.ReviewTold(r.thing, r.day); err != nil {
					return err
				}
			}
			return d.tell(ctx, w.kernel, tx, "")
		})
		w.rouseMail()
	}
	if err == nil {
		w.reviewed = now
	}
	return err
}

// reviewed is with what company, and on which day, reviews were looked at last.
type reviewed struct {
	company *people.Directory
	day     string
	catalog uint64 // how often the catalog has changed
}
