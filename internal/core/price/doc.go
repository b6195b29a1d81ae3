// Package price adds up what is picked in a form (rules.md 3): items with
// options and extras, discounts, surcharges, tax, parts of months, and who
// pays. All sums are whole minor units of one currency.
package price
