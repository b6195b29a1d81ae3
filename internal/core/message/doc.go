// Package message holds the prepared texts of messages and the ways people get
// them. Package notice says who hears of what.
package message
