package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"modernc.org/sqlite" // also the driver "sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNotFound says that there is no such thing.
var ErrNotFound = errors.New("not found")

// ErrFull says that the disk has no room left: nothing was kept.
var ErrFull = errors.New("the disk is full")

// full tells a full disk from other failures.
func full(err error) error {
	var failed *sqlite.Error
	if errors.As(err, &failed) && failed.Code()&0xff == sqlite3.SQLITE_FULL || errors.Is(err, syscall.ENOSPC) {
		return ErrFull
	}
	return err
}

// Explain is full for those who write by a connection of the store, such as the
// sessions.
func Explain(err error) error { return full(err) }

// leastRoom is how much room the disk must have so that work can be taken, in
// bytes.
const leastRoom = 8 << 20

// Full reports whether the disk has no room left to take work.
func (s *Store) Full() bool { return s.lacks(leastRoom) }

// lacks reports whether the disk has less room left than so many bytes.
func (s *Store) lacks(room uint64) bool {
	var fs syscall.Statfs_t
	if err := syscall.Statfs(s.dir, &fs); err != nil {
		return false // nobody can tell
	}
	return fs.Bavail*uint64(fs.Bsize) < room
}

// ErrExists says that such a thing is there already.
var ErrExists = errors.New("exists already")

// reads are the questions that can be asked of the store, and inside a
// transaction, by what they are about.
type reads struct {
	queries
	ofRequests
	ofTasks
	ofOfferings
	ofCompany
	ofSystems
}

type (
	ofRequests  struct{ queries } // and the files, secrets and forecasts of requests
	ofTasks     struct{ queries } // and the desk of teams, pools, and what people have
	ofOfferings struct{ queries } // and how they are found
	ofCompany   struct{ queries } // people, calendars, grants, and what people are told
	ofSystems   struct{ queries } // connectors, effects, and the work that goes on by itself
)

func readsOf(db sqlx.QueryerContext) reads {
	q := queries{db}
	return reads{q, ofRequests{q}, ofTasks{q}, ofOfferings{q}, ofCompany{q}, ofSystems{q}}
}

// queries are what all reads are made of.
type queries struct{ db sqlx.QueryerContext }

func (r queries) get(ctx context.Context, into any, query string, args ...any) error {
	return found(sqlx.GetContext(ctx, r.db, into, query, args...))
}

func (r queries) all(ctx context.Context, into any, query string, args ...any) error {
	return sqlx.SelectContext(ctx, r.db, into, query, args...)
}

// Store is the open data folder. It is safe for concurrent use.
type Store struct {
	reads
	writer   *sqlx.DB
	reader   *sqlx.DB
	keeper   *sqlx.DB // takes what is written ahead into the file
	sessions *sqlx.DB // of a file of their own, so that looking one up never waits for a write
	tending  sync.WaitGroup
	over     chan struct{} // closed once it is not tended any more
	lock     *os.File
	dir      string
	newest   atomic.Int64 // number of the newest event
	afoot    afoot
	turns    turns
	durable  durability
	texts    sync.Map // numbers of the versions of texts that messages are made of, by message.Text
}

// Pragmas of every connection. Pages are kept in memory by each connection, 16 MB of them.
// What is written ahead is taken in by tend; the writer does it only where that comes to
// nothing, at 64 MB. Commits of the writer outlast a loss of power by durability, those of
// the sessions by SQLite.
const pragmas = "_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)&_pragma=journal_mode(WAL)&_pragma=cache_size(-16000)" +
	"&_pragma=wal_autocheckpoint(16000)&_pragma=journal_size_limit(67108864)&_pragma=analysis_limit(400)"

// What undoes a turn stands in memory, not in a file; and so would all that a migration or
// VACUUM puts aside, which is too much.
const (
	undoInMemory = "PRAGMA temp_store = MEMORY"
	undoInFile   = "PRAGMA temp_store = FILE"
)

const (
	durableLater  = "&_pragma=synchronous(NORMAL)"
	durableAtOnce = "&_pragma=synchronous(FULL)"
)

// Open opens or makes the data file in a folder, and brings it up to date. The
// folder is locked against a second process.
func Open(ctx context.Context, dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	lock, err := lockFolder(dir)
	if err != nil {
		return nil, err
	}
	s := &Store{lock: lock, dir: dir, over: make(chan struct{})}
	if err := s.open(ctx, filepath.Join(dir, "heptad.db")); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

func (s *Store) open(ctx context.Context, path string) error {
	var err error
	if s.writer, err = sqlx.ConnectContext(ctx, parsing, "file:"+path+"?_txlock=immediate&"+pragmas+durableLater); err != nil {
		return fmt.Errorf("the data file %s cannot be opened: %w", path, err)
	}
	s.writer.SetMaxOpenConns(1)
	s.durable.ahead, s.durable.sync, s.turns.longest = path+"-wal", (*os.File).Sync, longestTurns
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	files, err := goose.NewProvider(goose.DialectSQLite3, s.writer.DB, sub, goose.WithGoMigrations(inGo...))
	if err != nil {
		return err
	}
	if err := s.knows(ctx, files); err != nil {
		return err
	}
	if _, err := files.Up(ctx); err != nil {
		return fmt.Errorf("the data file cannot be brought up to date: %w", err)
	}
	if _, err := s.writer.ExecContext(ctx, undoInMemory); err != nil {
		return err
	}
	s.reader, err = sqlx.ConnectContext(ctx, parsing, "file:"+path+"?mode=ro&_pragma=query_only(1)&"+pragmas+"&_pragma=cache_size(-8000)") // there are eight
	if err != nil {
		return err
	}
	s.reader.SetMaxOpenConns(8)
	s.reads = readsOf(s.reader)
	var newest int64
	if err := s.get(ctx, &newest, "SELECT coalesce(max(id), 0) FROM events"); err != nil {
		return err
	}
	s.newest.Store(newest)
	if s.keeper, err = sqlx.ConnectContext(ctx, "sqlite", "file:"+path+"?"+pragmas); err != nil {
		return err
	}
	s.keeper.SetMaxOpenConns(1)
	s.tending.Go(s.tend)
	return s.openSessions(ctx)
}

// knows refuses a data file that a newer program has written.
func (s *Store) knows(ctx context.Context, files *goose.Provider) error {
	file, err := files.GetDBVersion(ctx)
	if err != nil {
		return err
	}
	all := files.ListSources()
	if newest := all[len(all)-1].Version; file > newest {
		return fmt.Errorf("the data is of version %d, written by a newer Heptad; this one knows %d. Nothing was touched: use the newer program, or restore the backup it made before", file, newest)
	}
	return nil
}

// openSessions opens or makes the file of the sessions.
func (s *Store) openSessions(ctx context.Context) error {
	var err error
	if s.sessions, err = sqlx.ConnectContext(ctx, parsing, "file:"+filepath.Join(s.dir, sessionsFile)+"?_txlock=immediate&"+pragmas+durableAtOnce); err != nil {
		return fmt.Errorf("the file of the sessions cannot be opened: %w", err)
	}
	s.sessions.SetMaxOpenConns(4)
	_, err = s.sessions.ExecContext(ctx, `CREATE TABLE IF NOT EXISTS sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL) STRICT;
		CREATE INDEX IF NOT EXISTS sessions_expiry ON sessions(expiry); `+heldTable)
	return err
}

const sessionsFile = "sessions.db"

func lockFolder(dir string) (*os.File, error) {
	file, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return nil, errors.Join(fmt.Errorf("the folder %s is in use by another Heptad", dir), file.Close())
	}
	return file, nil
}

// Close ends all connections and releases the folder.
func (s *Store) Close() error {
	close(s.over)
	s.tending.Wait()
	all := []error{s.durable.close()}
	if s.keeper != nil {
		all = append(all, s.keeper.Close())
	}
	if s.reader != nil {
		all = append(all, s.reader.Close())
	}
	if s.sessions != nil {
		all = append(all, s.sessions.Close())
	}
	if s.writer != nil {
		all = append(all, s.writer.Close())
	}
	return errors.Join(append(all, s.lock.Close())...)
}

// Ping reports whether the database answers, and keeps what is written.
func (s *Store) Ping(ctx context.Context) error {
	var one int
	return errors.Join(s.durable.broken(), s.get(ctx, &one, "SELECT 1"))
}

// Sessions is the file that the session store keeps its own in.
func (s *Store) Sessions() *sql.DB { return s.sessions.DB }

// Writer is the one connection that writes, for who examines the file.
func (s *Store) Writer() *sql.DB { return s.writer.DB }

// secretSize is how long a secret is, in bytes.
const secretSize = 32

// Secret reads a secret from a folder of keys. Where there is no data yet it makes
// it; else one that is missing or damaged is an error, as what was sealed and
// signed with it would be lost without a word.
func Secret(dir, name string, fresh bool) ([]byte, error) {
	path := filepath.Join(dir, name+".secret")
	secret, err := os.ReadFile(path)
	missing := errors.Is(err, fs.ErrNotExist)
	switch {
	case err == nil && len(secret) == secretSize:
		return secret, nil
	case err == nil:
		return nil, fmt.Errorf("the key %s is damaged: it has %d bytes and not %d. Nothing was touched; put the right one back", path, len(secret), secretSize)
	case !missing:
		return nil, err
	case !fresh:
		return nil, fmt.Errorf("the key %s is missing. What was kept with it cannot be read without it, and nothing was touched; put it back", path)
	}
	secret = make([]byte, secretSize)
	if _, err := rand.Read(secret); err != nil {
		return nil, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	return secret, os.WriteFile(path, secret, 0o600)
}

func found(err error) error {
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

func millis(t time.Time) int64 { return t.UnixMilli() }

func instant(ms int64) time.Time { return time.UnixMilli(ms).UTC() }

// Remove throws the data of a folder away, unless a Heptad is using it. Files
// of other names stay.
func Remove(dir string) error {
	if _, err := os.Stat(dir); errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	lock, err := lockFolder(dir)
	if err != nil {
		return err
	}
	all := []error{os.RemoveAll(filepath.Join(dir, "simulators")), os.RemoveAll(filepath.Join(dir, uploadsFolder)), os.RemoveAll(filepath.Join(dir, sheetsFolder))}
	for _, name := range []string{"heptad.db", "heptad.db-wal", "heptad.db-shm", sessionsFile, sessionsFile + "-wal", sessionsFile + "-shm", "links.secret", "connectors.secret"} {
		all = append(all, os.RemoveAll(filepath.Join(dir, name)))
	}
	return errors.Join(append(all, lock.Close())...)
}
