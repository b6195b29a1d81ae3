// Package form evaluates the questions of an offering (rules.md 2): what is
// shown, required, wrong and missing, in the order in which the questions read
// each other. It knows nothing of decisions and tasks.
package form
