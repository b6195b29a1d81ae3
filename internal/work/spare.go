package work

import (
	"os"
	"runtime/debug"
)

// Spare has a program that serves an office take less memory: garbage is collected once there
// is half as much of it as of what is kept, and not as much. GOGC of the environment counts
// before it.
func Spare() {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(50)
	}
}
