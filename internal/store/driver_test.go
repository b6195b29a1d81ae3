package store_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A statement that was parsed before gives what a new one would: while its rows are read
// by another, after it failed, after its table has changed, and after it made room.
func TestParsedStatements(t *testing.T) {
	s := open(t, t.TempDir())
	db := s.Writer() // one connection
	do := func(query string, args ...any) error {
		_, err := db.ExecContext(ctx, query, args...)
		return err
	}
	require.NoError(t, do("CREATE TABLE t (n INTEGER PRIMARY KEY) STRICT"))
	for i := range 3 {
		require.NoError(t, do("INSERT INTO t (n) VALUES (?)", i))
	}
	tx, err := db.BeginTx(ctx, nil)
	require.NoError(t, err)
	const all = "SELECT n FROM t ORDER BY n"
	read := func(each func(n int)) {
		rows, err := tx.QueryContext(ctx, all)
		require.NoError(t, err)
		defer rows.Close()
		for rows.Next() {
			var n int
			require.NoError(t, rows.Scan(&n))
			each(n)
		}
		require.NoError(t, rows.Err())
	}
	var seen []string
	read(func(outer int) { read(func(inner int) { seen = append(seen, fmt.Sprint(outer, inner)) }) })
	assert.Equal(t, []string{"0 0", "0 1", "0 2", "1 0", "1 1", "1 2", "2 0", "2 1", "2 2"}, seen)
	require.NoError(t, tx.Commit())

	require.Error(t, do("INSERT INTO t (n) VALUES (?)", 1), "it is there")
	require.Error(t, do("INSERT INTO t (n) VALUES (?)"), "a value is missing")
	require.NoError(t, do("INSERT INTO t (n) VALUES (?)", 3))
	require.NoError(t, do("ALTER TABLE t ADD COLUMN more TEXT NOT NULL DEFAULT 'x'"))
	for i := range 700 {
		var n int
		require.NoError(t, db.QueryRowContext(ctx, fmt.Sprintf("SELECT count(*) + %d FROM t", i)).Scan(&n))
		require.Equal(t, 4+i, n)
	}
	var more string
	require.NoError(t, db.QueryRowContext(ctx, "SELECT * FROM t WHERE n = ?", 3).Scan(new(int), &more))
	require.NoError(t, do("ALTER TABLE t DROP COLUMN more"))
	require.NoError(t, db.QueryRowContext(ctx, "SELECT * FROM t WHERE n = ?", 3).Scan(new(int)), "the same words, another table")
}
