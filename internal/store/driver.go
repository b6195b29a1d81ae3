package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"strings"

	_ "modernc.org/sqlite" // the driver "sqlite"
)

// parsing is the name of SQLite as a driver each of whose connections keeps the
// statements it has parsed: most are the same few hundred, over and over, and parsing
// one takes longer than doing it.
const parsing = "sqlite-parsing"

func init() {
	of, err := sql.Open("sqlite", "") // opens nothing yet
	if err != nil {
		panic(err) // it is built in
	}
	sql.Register(parsing, parsingDriver{of.Driver()})
}

type parsingDriver struct{ driver.Driver }

func (d parsingDriver) Open(name string) (driver.Conn, error) {
	c, err := d.Driver.Open(name)
	if err != nil {
		return nil, err
	}
	return &parsingConn{c.(sqliteConn), map[string]*parsed{}}, nil
}

// sqliteConn is what a connection of SQLite can do.
type sqliteConn interface {
	driver.Conn
	driver.ConnBeginTx
	driver.ConnPrepareContext
	driver.ExecerContext
	driver.QueryerContext
	driver.Pinger
	driver.SessionResetter
	driver.Validator
}

// parsedKept is how many statements a connection keeps; most of them are used all the
// time, so that it hardly matters which one makes room.
const parsedKept = 500

// parsingConn is one connection. Like every connection it is used by one at a time.
type parsingConn struct {
	sqliteConn

	kept map[string]*parsed
}

// parsed is a statement that was parsed before.
type parsed struct {
	driver.Stmt

	query string
	busy  bool // its rows are being read
}

// statement gives a statement that was parsed before, or parses it; nil for one that is
// not kept, or is being used.
func (c *parsingConn) statement(ctx context.Context, query string) (*parsed, error) {
	if p := c.kept[query]; p != nil {
		if p.busy {
			return nil, nil
		}
		return p, nil
	}
	verb, _, _ := strings.Cut(query, " ")
	switch verb {
	case "SELECT", "INSERT", "UPDATE", "DELETE", "WITH", "SAVEPOINT", "RELEASE":
	default:
		return nil, nil
	}
	if len(c.kept) >= parsedKept {
		for old, p := range c.kept {
			if !p.busy {
				delete(c.kept, old)
				if err := p.Close(); err != nil {
					return nil, err
				}
				break
			}
		}
	}
	s, err := c.PrepareContext(ctx, query)
	if err != nil {
		return nil, err
	}
	p := &parsed{Stmt: s, query: query}
	c.kept[query] = p
	return p, nil
}

// ExecContext does a statement.
func (c *parsingConn) ExecContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Result, error) {
	p, err := c.statement(ctx, query)
	if err != nil {
		return nil, err
	}
	if p == nil {
		return c.sqliteConn.ExecContext(ctx, query, args)
	}
	defer p.told()
	return p.Stmt.(driver.StmtExecContext).ExecContext(ctx, args)
}

// QueryContext asks a question. Its statement is used until its rows are closed.
func (c *parsingConn) QueryContext(ctx context.Context, query string, args []driver.NamedValue) (driver.Rows, error) {
	p, err := c.statement(ctx, query)
	if err != nil {
		return nil, err
	}
	if p == nil {
		return c.sqliteConn.QueryContext(ctx, query, args)
	}
	rows, err := p.Stmt.(driver.StmtQueryContext).QueryContext(ctx, args)
	if err != nil {
		return nil, err
	}
	p.busy = true
	return &parsedRows{rows, p}, nil
}

// parsedRows are rows of a statement that is free again when they are closed.
type parsedRows struct {
	driver.Rows

	of *parsed
}

func (r *parsedRows) Close() error {
	r.of.busy = false
	err := r.Rows.Close()
	r.of.told()
	return err
}

// Close ends the connection with all that it keeps.
func (c *parsingConn) Close() error {
	for _, p := range c.kept {
		_ = p.Close() // the connection ends with it
	}
	return c.sqliteConn.Close()
}
