// Package money counts amounts in whole minor units of an ISO 4217 currency
// (rules.md 3). It never uses floating point and knows no exchange rates.
package money
