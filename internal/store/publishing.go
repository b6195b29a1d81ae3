package store

import (
	"context"
	"encoding/json"
	"time"
)

// PublishingAsked is a draft that waits for another's yes to be published, in one
// revision.
type PublishingAsked struct {
	Offering  string
	Revision  int
	Accepted  []string  // names of warnings
	PublishAt time.Time // zero for at once
	AskedBy   string    // ID
	AskedAt   time.Time
}

// PublishingAsked finds the draft of an offering that waits; ErrNotFound when none does.
func (r ofOfferings) PublishingAsked(ctx context.Context, offering string) (PublishingAsked, error) {
	var row struct {
		Offering, Accepted string
		Revision           int
		PublishAt          int64  `db:"publish_at"`
		AskedBy            string `db:"asked_by"`
		AskedAt            int64  `db:"asked_at"`
	}
	if err := r.get(ctx, &row, "SELECT offering, revision, accepted, publish_at, asked_by, asked_at FROM publishing_asked WHERE offering = ?", offering); err != nil {
		return PublishingAsked{}, err
	}
	a := PublishingAsked{Offering: row.Offering, Revision: row.Revision, AskedBy: row.AskedBy, AskedAt: instant(row.AskedAt)}
	if row.PublishAt > 0 {
		a.PublishAt = instant(row.PublishAt)
	}
	return a, json.Unmarshal([]byte(row.Accepted), &a.Accepted)
}

// AskPublishing has a draft wait, in place of an earlier revision of it.
func (t companyTx) AskPublishing(a PublishingAsked) error {
	accepted, err := json.Marshal(append([]string{}, a.Accepted...))
	if err != nil {
		return err
	}
	at := int64(0)
	if !a.PublishAt.IsZero() {
		at = millis(a.PublishAt)
	}
	return t.exec(`INSERT INTO publishing_asked (offering, revision, accepted, publish_at, asked_by, asked_at) VALUES (?,?,?,?,?,?)
		ON CONFLICT (offering) DO UPDATE SET revision = excluded.revision, accepted = excluded.accepted, publish_at = excluded.publish_at, asked_by = excluded.asked_by, asked_at = excluded.asked_at`,
		a.Offering, a.Revision, string(accepted), at, a.AskedBy, millis(a.AskedAt))
}

// DropPublishingAsked has a draft wait no more.
func (t companyTx) DropPublishingAsked(offering string) error {
	return t.exec("DELETE FROM publishing_asked WHERE offering = ?", offering)
}
