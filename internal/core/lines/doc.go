// Package lines reads parts of an offering from lines of plain words, as people
// type or paste them: questions, items, rungs and tasks, one a line. What is not
// understood is told with its words; the rest stands as it would be.
package lines
