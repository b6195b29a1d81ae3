// Package plan checks the tasks of an offering and their order, and tells
// which tasks come next (rules.md 6). It does no task.
package plan
