// Package search finds texts by the words of a sentence: by their stems, by what
// means nearly the same, and in spite of a typing mistake.
package search
