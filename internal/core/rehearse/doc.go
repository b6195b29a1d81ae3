// Package rehearse lives through a request of an offering on a clock of its own: with the
// same request.Handle as live, in memory, and with no effect in the world (rehearsal.md).
// It says what happened as one document, compares that with what was expected, tells what
// of an offering its cases reach, and searches for cases that reach the rest.
package rehearse
