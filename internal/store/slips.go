package store

import "context"

// onSlip marks a draft that is on the slip of its asker.
const onSlip = "on"

// Drafted is a draft on the slip of its asker.
type Drafted struct{ ID, Offering, Title string }

// SlipOf lists the drafts on the slip of a person, the first put there first.
func (r ofRequests) SlipOf(ctx context.Context, person string) (all []Drafted, err error) {
	err = r.all(ctx, &all, "SELECT id, offering, title FROM requests WHERE asker = ? AND slip = ? AND status = "+draft+" ORDER BY rowid", person, onSlip)
	return all, err
}

// OnSlip counts the drafts on the slip of a person.
func (r ofRequests) OnSlip(ctx context.Context, person string) (n int, err error) {
	err = r.get(ctx, &n, "SELECT count(*) FROM requests INDEXED BY requests_asker_open WHERE asker = ? AND status <> "+closed+" AND slip = ? AND status = "+draft, person, onSlip)
	return n, err
}

// PutOnSlip puts a draft on the slip of its asker.
func (t ownTx) PutOnSlip(id string) error {
	return t.exec("UPDATE requests SET slip = ? WHERE id = ? AND status = "+draft, onSlip, id)
}

// TakeOffSlip makes a draft on a slip one of its own again.
func (t ownTx) TakeOffSlip(id string) error {
	return t.exec("UPDATE requests SET slip = '' WHERE id = ? AND status = "+draft, id)
}

// SentTogether lists the requests that were sent on one slip by a person, by ID.
func (r ofRequests) SentTogether(ctx context.Context, person, slip string) (ids []string, err error) {
	err = r.all(ctx, &ids, "SELECT id FROM requests WHERE asker = ? AND slip = ? AND status <> "+draft+" ORDER BY number", person, slip)
	return ids, err
}
