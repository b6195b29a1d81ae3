// Package request is the life of one request (rules.md 8): one function
// decides what a command leads to, one applies an event to the state, and
// everything else follows from the events. It reads no clock and stores
// nothing.
package request
