package store

import (
	"database/sql/driver"
	"reflect"
	"sync/atomic"

	"modernc.org/libc"
	sqlite3 "modernc.org/sqlite/lib"
)

// watching is who is told how much work statements are; nil for nobody.
var watching atomic.Pointer[func(query string, steps int64)]

// Watch tells, until end is called, how many steps of SQLite's own machine each statement
// took, as SQLite counts them. Unlike time they are the same at each run, so that a
// statement that visits more rows than it has to is found in a small file.
func Watch(tell func(query string, steps int64)) (end func()) {
	watching.Store(&tell)
	return func() { watching.Store(nil) }
}

// told tells the watcher of a statement that has just been done.
func (p *parsed) told() {
	if tell := watching.Load(); tell != nil {
		(*tell)(p.query, stepsOf(p.Stmt))
	}
}

// stepsOf counts the steps of a statement since it was asked last. The driver keeps
// SQLite's own handles to itself.
func stepsOf(s driver.Stmt) int64 {
	kept := reflect.ValueOf(s).Elem()
	tls := (*libc.TLS)(kept.FieldByName("c").Elem().FieldByName("tls").UnsafePointer())
	return int64(sqlite3.Xsqlite3_stmt_status(tls, uintptr(kept.FieldByName("pstmt").Uint()), sqlite3.SQLITE_STMTSTATUS_VM_STEP, 1))
}
