package store

import (
	"context"
	"encoding/json"
	"slices"
	"strings"

	"heptad/internal/core/request"
)

// Find lists requests by reference, the names of who asks or whom it is for, or
// words of the title, the last changed first; only those a person may see all
// of, or has a task in.
func (r reads) Find(ctx context.Context, person, words string, services, teams []string, limit int) ([]Entry, error) {
	in := func(list []string) string {
		data, _ := json.Marshal(slices.Concat([]string{}, list)) // strings always marshal
		return string(data)
	}
	query := `SELECT r.state, '' AS key, r.changed_at AS since FROM requests r JOIN people p ON p.id = r.asker LEFT JOIN people b ON b.id = json_extract(r.state, '$.for.person')
		WHERE r.reference IS NOT NULL AND (r.asker = ?1 OR r.beneficiary = ?1 OR r.service IN (SELECT value FROM json_each(?2))
		OR EXISTS (SELECT 1 FROM tasks t WHERE t.request = r.id AND t.team IN (SELECT value FROM json_each(?3))) OR EXISTS (SELECT 1 FROM followers f WHERE f.request = r.id AND f.person = ?1))`
	args := []any{person, in(services), in(teams)}
	for _, word := range strings.Fields(words) {
		query += ` AND (r.title || ' ' || r.reference || ' ' || p.name || ' ' || coalesce(b.name, '') || ' ' || coalesce(json_extract(r.state, '$.for.newcomer.name'), '')) LIKE ? ESCAPE '\'`
		args = append(args, "%"+likeEscape.Replace(word)+"%")
	}
	return r.list(ctx, query+" ORDER BY r.changed_at DESC LIMIT ?", append(args, limit)...)
}

// ByReference finds a request by its reference.
func (r reads) ByReference(ctx context.Context, reference string) (request.State, error) {
	var text string
	if err := r.get(ctx, &text, "SELECT state FROM requests WHERE reference = ?", reference); err != nil {
		return request.State{}, err
	}
	return decodeState(text)
}
