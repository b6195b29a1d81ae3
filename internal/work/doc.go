// Package work is the shell round the core: it takes a command, loads what the
// core needs, lets it decide, and saves events and effects in one transaction.
// It runs the effects that fall due and tells live listeners what changed. It
// knows nothing of HTTP.
package work
