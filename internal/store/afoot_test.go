package store_test

import (
	"slices"
	"strings"
	"testing"
	"unicode"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/request"
	"heptad/internal/core/search"
	"heptad/internal/store"
)

// What is under way is found in memory, and what is closed by SQLite's index: it keeps words
// that are taken apart already as they are.
func TestWordsStayAsTheyWereTakenApart(t *testing.T) {
	db, err := sqlx.Connect("sqlite", ":memory:")
	require.NoError(t, err)
	defer func() { require.NoError(t, db.Close()) }()
	db.SetMaxOpenConns(1)
	_, err = db.Exec(`CREATE VIRTUAL TABLE f USING fts5(words, tokenize='unicode61 remove_diacritics 2'); CREATE VIRTUAL TABLE v USING fts5vocab(f, 'instance')`)
	require.NoError(t, err)
	tx := db.MustBegin()
	texts := map[rune]string{}
	for r := rune(' '); r < 0x2100; r++ {
		if unicode.Is(unicode.Other, r) || r >= 0x1900 && r < 0x1e00 { // vowels of Tai Lue are letters to Unicode only since
			continue
		}
		texts[r] = strings.Join(search.Words("Be"+string(r)+"fore "+string(r)+" x"), " ")
		tx.MustExec("INSERT INTO f (rowid, words) VALUES (?, ?)", r, texts[r])
	}
	require.NoError(t, tx.Commit())
	var rows []struct {
		Doc  rune
		Term string
	}
	require.NoError(t, db.Select(&rows, "SELECT doc, term FROM v ORDER BY doc, offset"))
	kept := map[rune][]string{}
	for _, row := range rows {
		kept[row.Doc] = append(kept[row.Doc], row.Term)
	}
	for r, text := range texts {
		assert.Equal(t, text, strings.Join(kept[r], " "), "%U %c", r, r)
	}
}

// What is under way has a standing, by which it is counted; nothing else has one.
func TestEveryStatusUnderWayHasAStanding(t *testing.T) {
	for _, status := range request.Which(func(request.Status) bool { return true }) {
		standing, has := store.Standings[status]
		assert.Equal(t, status.UnderWay(), has, status)
		assert.Equal(t, has, slices.Contains(standing.All(), standing), status)
	}
}
