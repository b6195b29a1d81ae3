// Package store keeps everything in one SQLite file: one writer connection
// with immediate transactions, and a pool of readers that cannot write. It
// knows how things are kept, not what they mean.
package store
