// Package foresee simulates a season: past requests come again, as many times as is asked,
// and the people of the teams do their tasks one at a time, in the order of the queue and in
// their hours. Only the time that work takes is drawn, of times that were measured; waiting
// comes from the queue. All instants are seconds since 1970 in UTC; the same input gives the
// same result, on every run.
package foresee
