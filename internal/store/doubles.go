package store

import "context"

// HeldByOne counts what a person has that goes over to another with them.
type HeldByOne struct {
	Belongings int // open
	UnderWay   int // requests that they asked for, or that are for them
	Drafts     int // requests that were begun and not sent
}

// HeldBy counts what a person has.
func (r ofRequests) HeldBy(ctx context.Context, person string) (h HeldByOne, err error) {
	if err = r.get(ctx, &h.Belongings, "SELECT count(*) FROM belongings WHERE person = ? AND ended_at IS NULL", person); err != nil {
		return h, err
	}
	if err = r.get(ctx, &h.Drafts, "SELECT count(*) FROM requests WHERE asker = ? AND status = "+draft, person); err != nil {
		return h, err
	}
	ids, err := r.UnderWayOf(ctx, person)
	h.UnderWay = len(ids)
	return h, err
}

// UnderWayOf lists the requests under way that a person asked for, or that are for them.
func (r ofRequests) UnderWayOf(ctx context.Context, person string) (ids []string, err error) {
	err = r.all(ctx, &ids, "SELECT id FROM requests WHERE asker = ? AND status NOT IN ('draft', 'closed') UNION SELECT id FROM requests WHERE whom = ? AND status NOT IN ('draft', 'closed') ORDER BY id", person, person)
	return ids, err
}

// MoveTo gives what one person has, and the accounts they sign in with elsewhere, to
// another person.
func (t companyTx) MoveTo(from, into string) error {
	for _, query := range []string{
		"UPDATE belongings SET person = ? WHERE person = ? AND ended_at IS NULL",
		"UPDATE subjects SET person = ? WHERE person = ?",
		"UPDATE OR IGNORE joined SET person = ? WHERE person = ?",
	} {
		if err := t.exec(query, into, from); err != nil {
			return err
		}
	}
	return nil
}
