// Package measure says what happened, how fast and how well: facts that are made from the
// events of requests, the figures that are counted from them, and the columns in memory that
// answer a question about all of them in one pass.
//
// It knows no database and no clock. Instants of facts are whole seconds since 1970 in UTC,
// lengths are whole seconds, and sums of money are whole minor units.
package measure
