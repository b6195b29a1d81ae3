package main

import (
	"fmt"
	"runtime/debug"
	_ "time/tzdata" // time zones, where the system has none
)

// versionCommand prints what this program was built from.
type versionCommand struct{}

// Run prints one line: the module's version, and the commit with its time, as far as
// the build knows them.
func (versionCommand) Run(*env) error {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return fmt.Errorf("this program was built without its version")
	}
	line := "heptad " + info.Main.Version
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			line += ", commit " + s.Value[:min(len(s.Value), 12)]
		case "vcs.time":
			line += " of " + s.Value
		case "vcs.modified":
			if s.Value == "true" {
				line += ", with changes"
			}
		}
	}
	fmt.Println(line + ", " + info.GoVersion)
	return nil
}
