// Package offering puts the seven sides of an offering together: it reads the
// open format heptad/offering/1, examines it, and compiles it once so that
// requests can run on it. It keeps no versions.
package offering
