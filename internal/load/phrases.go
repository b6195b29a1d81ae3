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
		"events-1": `SELECT text FROM (SELECT text, row_number() OVER (PARTITION BY kind ORDER BY length(text)) AS n, count(*) OVER (PARTITION BY kind) AS c
			FROM (SELECT e.text, substr(e.text, 1, instr(e.text, char(10))) AS kind FROM (SELECT unpacked(event) AS text FROM events) e)) WHERE n IN (c / 8, c / 4, c / 2, 3 * c / 4, 7 * c / 8, c - c / 16) ORDER BY c, n`,
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
