// Package script holds the open format heptad/rehearsal/1: who asks for what and when, how
// people and systems behave, what happens in which order, and cases, which say what is
// expected of it. It runs nothing: package rehearse does.
package script
