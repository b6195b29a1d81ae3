package load

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"time"

	"heptad/internal/core/request"
)

// longestPhrases is how many bytes of phrases a packing can use.
const longestPhrases = 64 << 10

// Phrases writes what the demo's season says most often, one file for each packing of the
// store, into a folder. Texts that were packed with other phrases cannot be read with them:
// new ones need new numbers.
func Phrases(ctx context.Context, into string, now time.Time) error {
	dir, err := os.MkdirTemp("", "phrases-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	if err := begin(ctx, dir, now); err != nil {
		return err
	}
	db, err := file(dir)
	if err != nil {
		return err
	}
	defer db.Close()
	for name, query := range map[string]string{
		"states-1": `SELECT unpacked(CASE WHEN n = 2 THEN brief ELSE state END) FROM (SELECT state, brief, offering, row_number() OVER (PARTITION BY offering, status ORDER BY length(state) DESC) AS n
			FROM requests WHERE number IS NOT NULL AND status = '` + string(request.Closed) + `' OR status = '` + string(request.Delivering) + `') WHERE n <= 2 ORDER BY n, offering`,
		// of what is long and of its offering one each; of the others some, from short to long
		"events-1": `WITH said AS (SELECT r.offering, unpacked(e.event) AS text FROM events e JOIN requests r ON r.id = e.request),
			kinds AS (SELECT text, offering, substr(text, 1, instr(text, char(10)) - 1) AS kind FROM said),
			of AS (SELECT text, kind, CASE WHEN kind IN ('submitted', 'planned') THEN offering ELSE '' END AS offering FROM kinds),
			placed AS (SELECT text, offering, row_number() OVER (PARTITION BY kind, offering ORDER BY length(text)) AS n, count(*) OVER (PARTITION BY kind, offering) AS c FROM of)
			SELECT text FROM placed WHERE CASE offering WHEN '' THEN n IN (c / 4, c / 2, 3 * c / 4, c - c / 16) ELSE n = (c + 1) / 2 END ORDER BY offering DESC, c, n`,
		"words-1": `SELECT text FROM (SELECT kind, unpacked(words) AS text, row_number() OVER (PARTITION BY kind, text ORDER BY id) AS n FROM message_words) WHERE n % 5 = 1 AND n < 40 ORDER BY kind, n`,
	} {
		var all []string
		if err := db.SelectContext(ctx, &all, query); err != nil {
			return err
		}
		text := strings.Join(all, "")
		if err := os.WriteFile(filepath.Join(into, name), []byte(text[max(0, len(text)-longestPhrases):]), 0o600); err != nil {
			return err
		}
	}
	return nil
}
