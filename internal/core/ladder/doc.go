// Package ladder finds who decides on a request and tells when a rung is
// passed (rules.md 5). It keeps no votes: requests do.
package ladder
