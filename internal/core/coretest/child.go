package coretest

import (
	"os"
	"os/exec"
	"runtime/metrics"
	"syscall"
	"testing"

	"github.com/stretchr/testify/require"
)

const childOf = "HEPTAD_CHILD_OF"

// mostAddresses is what a child may reserve at all, in bytes; the runtime
// reserves far more than it uses.
const mostAddresses = 8 << 30

// Child runs a test in a process of its own, whose memory is read when it has
// ended: it fails when more than so many megabytes were ever in use, as of a
// parser that a few bytes make fill the memory.
func Child(t *testing.T, megabytes int, f func(t *testing.T)) {
	t.Helper()
	if IsChild(t) {
		require.NoError(t, syscall.Setrlimit(syscall.RLIMIT_AS, &syscall.Rlimit{Cur: mostAddresses, Max: mostAddresses}))
		f(t)
		return
	}
	child := exec.Command(os.Args[0], "-test.run=^"+t.Name()+"$", "-test.timeout=2m", "-test.count=1")
	child.Env = append(os.Environ(), childOf+"="+t.Name())
	out, err := child.CombinedOutput()
	require.NoError(t, err, "%s", out)
	used := child.ProcessState.SysUsage().(*syscall.Rusage).Maxrss >> 10 // Linux tells kilobytes
	t.Logf("%d MB were in use at most", used)
	require.LessOrEqual(t, int(used), megabytes, "megabytes in use")
}

// IsChild reports whether this is the process of its own of a test.
func IsChild(t *testing.T) bool { return os.Getenv(childOf) == t.Name() }

// Bounded runs f, and fails when it allocates more than so many megabytes. Fuzz
// targets run what they try in it, in the processes that fuzzing starts.
func Bounded(t testing.TB, megabytes int, f func()) {
	t.Helper()
	before := allocated()
	f()
	if used := int((allocated() - before) >> 20); used > megabytes {
		t.Fatalf("%d MB were allocated, and %d are the most", used, megabytes)
	}
}

func allocated() uint64 {
	sample := []metrics.Sample{{Name: "/gc/heap/allocs:bytes"}}
	metrics.Read(sample)
	return sample[0].Value.Uint64()
}
