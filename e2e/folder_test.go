package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// demoIn starts a demo that is to be refused, and gives what it says.
func demoIn(t *testing.T, dir string, flags ...string) string {
	t.Helper()
	out, err := exec.Command(program, append([]string{"demo", "--quiet", "--addr", "127.0.0.1:0", "--data", dir}, flags...)...).CombinedOutput()
	assert.Error(t, err)
	return string(out)
}

// tree reads every file below a folder.
func tree(t *testing.T, dir string) map[string]string {
	t.Helper()
	all := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || d.Name() == "lock" {
			return err
		}
		data, err := os.ReadFile(path)
		all[path] = string(data)
		return err
	}))
	return all
}

// The demo throws nothing away that it did not make, and replaces no key.
func TestTheDemoTouchesNoFolderOfOthers(t *testing.T) {
	t.Parallel()
	for name, files := range map[string]map[string]string{
		"an empty database": {"heptad.db": ""},
		"attachments":       {"uploads/ABC": "a photo"},
		"a key":             {"connectors.secret": "a key of somebody else, 32 bytes"},
		"a letter":          {"letter.txt": "Dear Davi"},
		"a foreign mark":    {"heptad-demo": "something else"},
	} {
		dir := t.TempDir()
		for file, content := range files {
			require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, file)), 0o700))
			require.NoError(t, os.WriteFile(filepath.Join(dir, file), []byte(content), 0o600))
		}
		before := tree(t, dir)
		for _, flags := range [][]string{nil, {"--fresh"}} {
			assert.Contains(t, demoIn(t, dir, flags...), "nothing of it was touched", "%s %v", name, flags)
			assert.Equal(t, before, tree(t, dir), "%s %v", name, flags)
		}
	}
}

// A folder is looked through while it is in use, and after.
func TestDoctorCommand(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	for range 2 {
		out, code := command(t, "doctor", "--data", s.dir)
		assert.Zero(t, code, out)
		assert.Contains(t, out, "good   file")
		assert.NotContains(t, out, "WRONG")
		s.restart()
	}
	out, code := command(t, "doctor", "--json", "--data", s.dir)
	assert.Zero(t, code, out)
	assert.Contains(t, out, `"check": "requests"`)
	out, code = command(t, "doctor", "--data", t.TempDir())
	assert.NotZero(t, code)
	assert.Contains(t, out, "there is no data file in")
}

func TestADamagedDemoIsRefusedInWords(t *testing.T) {
	t.Parallel()
	s := &server{t: t, dir: t.TempDir()}
	s.start("127.0.0.1:0")
	require.NoError(t, s.stop(syscall.SIGTERM))
	path := func(name string) string { return filepath.Join(s.dir, name) }
	for _, c := range []struct {
		file, content, says string
	}{
		{"connectors.secret", "short", "is damaged: it has 5 bytes and not 32"},
		{"connectors.secret", "", "is damaged"},
		{"links.secret", "gone", "is missing"},
		{"heptad.db", "", "is missing or empty"},
	} {
		whole, err := os.ReadFile(path(c.file))
		require.NoError(t, err)
		if c.content == "gone" {
			require.NoError(t, os.Remove(path(c.file)))
		} else {
			require.NoError(t, os.WriteFile(path(c.file), []byte(c.content), 0o600))
		}
		before := tree(t, s.dir)
		assert.Contains(t, demoIn(t, s.dir), c.says)
		for file, content := range before { // the write-ahead log comes and goes
			if filepath.Ext(file) == ".secret" || filepath.Base(filepath.Dir(file)) == "uploads" {
				assert.Equal(t, content, tree(t, s.dir)[file], file)
			}
		}
		require.NoError(t, os.WriteFile(path(c.file), whole, 0o600))
	}
	s.start("127.0.0.1:0")
	assert.Equal(t, 200, s.get("/readyz").StatusCode, "with everything put back it goes on")
	require.NoError(t, s.stop(syscall.SIGTERM))
}
