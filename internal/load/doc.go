// Package load makes large installations and measures them through HTTP, each beside a
// floor: a bare router and database in a program of their own, which read the same file.
// It calls 127.0.0.1 only, so many times as is said and no longer than is said. It tests
// nothing: what it finds is printed.
package load
