// Package people describes the persons, teams and services of the company as
// the rules see them. It keeps no records: whoever calls the core hands a
// Directory in.
package people
