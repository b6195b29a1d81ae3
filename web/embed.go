// Package page holds the built page, so that it travels inside the program.
package page

import (
	"embed"
	"io/fs"
)

//go:embed all:build
var build embed.FS

// Files gives the built page.
func Files() (fs.FS, error) { return fs.Sub(build, "build") }
