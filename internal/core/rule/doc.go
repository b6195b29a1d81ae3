// Package rule compiles and runs the rules of offerings: CEL expressions over
// answers, the asker, the cost and today (rules.md 2), and texts with
// placeholders. It knows types and absence, not questions or tasks.
//
// A name that has no value is absent. Reading it stops a rule unless CEL's own
// logic gets by without it: `true || absent` is true, `has(answers.x)` asks.
package rule
