package work

import (
	"context"

	"heptad/internal/core/people"
	"heptad/internal/store"
)

// remindReviews tells owners that the day has come to look at their area or service again,
// once for each day that is set.
func (w *Running) remindReviews(ctx context.Context) error {
	now := reviewed{w.Company(), w.today()}
	if w.reviewed == now {
		return nil
	}
	told, err := w.Store.ReviewsTold(ctx)
	if err != nil {
		return err
	}
	type due struct{ thing, day, owner, words string }
	var all []due
	add := func(thing, day, owner, words string, place people.Place) {
		if day != "" && day <= now.day && told[thing] != day && place != people.Ended && owner != "" {
			all = append(all, due{thing, day, owner, words})
		}
	}
	for _, a := range now.company.Areas() {
		add("area "+a.Name, a.Review, a.Owner, "the area "+a.Name, a.Place)
	}
	for _, s := range now.company.Services() {
		add("service "+s.Key, s.Review, s.Owner, "the service "+s.Name, s.Place)
	}
	if len(all) > 0 {
		err = w.Store.Write(ctx, func(tx *store.Tx) error {
			var d duties
			for _, r := range all {
				d.add(r.owner, "The day has come to look at %s again: %s. When you have, set another day.", r.words, r.day)
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
}
