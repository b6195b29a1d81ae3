package e2e

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"sigs.k8s.io/yaml"
)

const (
	offerings  = "../internal/demo/offerings/"
	peopleFile = "../internal/demo/company/people.csv"
	bundleFile = "../internal/demo/company/bundles.csv"
)

// command runs the program and gives what it prints and how it ends.
func command(t *testing.T, args ...string) (string, int) {
	t.Helper()
	var out, trouble bytes.Buffer
	run := exec.Command(program, args...)
	run.Stdout, run.Stderr = &out, &trouble
	err := run.Run()
	if _, ended := err.(*exec.ExitError); err != nil && !ended {
		require.NoError(t, err)
	}
	return out.String() + trouble.String(), run.ProcessState.ExitCode()
}

func write(t *testing.T, name, text string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	return path
}

// A new offering, empty or from a starter, is one that the others take.
func TestNewCommand(t *testing.T) {
	t.Parallel()
	for _, more := range [][]string{nil, {"--from", "letter", "--currency", "NOK", "--zone", "Europe/Oslo"}} {
		out, code := command(t, append([]string{"offering", "new", "Ice course, 2 days", "--service", "training"}, more...)...)
		require.Zero(t, code, out)
		assert.Contains(t, out, `"key": "ice-course-2-days"`)
		out, _ = command(t, "offering", "check", write(t, "new.json", out))
		assert.NotContains(t, out, "cannot be read")
	}
	out, code := command(t, "offering", "new", "?!", "--service", "training")
	assert.NotZero(t, code, out)
	out, code = command(t, "offering", "new", "Course", "--service", "training", "--from", "moon")
	assert.NotZero(t, code)
	assert.Contains(t, out, "there is no starter")
	out, code = command(t, "version")
	assert.Zero(t, code)
	assert.Contains(t, out, "heptad ")
}

func TestCheckCommand(t *testing.T) {
	t.Parallel()
	files, err := filepath.Glob(offerings + "*")
	require.NoError(t, err)
	require.Len(t, files, 17)
	for _, file := range files {
		out, code := command(t, "offering", "check", file, "--people", peopleFile, "--bundles", bundleFile)
		assert.Zero(t, code, "%s: %s", file, out)
	}
	data, err := os.ReadFile(offerings + "quay-access-badge.yaml")
	require.NoError(t, err)
	spoiled := write(t, "spoiled.yaml", strings.Replace(string(data), "team: crewing", "team: moon", 1))
	_, code := command(t, "offering", "check", spoiled)
	assert.Zero(t, code, "without people, teams are not checked")
	out, code := command(t, "offering", "check", spoiled, "--people", peopleFile, "--json")
	assert.Equal(t, 1, code)
	var findings []struct{ Code, Severity, Place, Sentence, Mend string }
	require.NoError(t, json.Unmarshal([]byte(out), &findings))
	assert.Equal(t, "unknownTeam", findings[0].Code)
	assert.Equal(t, "error", findings[0].Severity)
	out, code = command(t, "offering", "check", write(t, "bad.json", `{"format":"heptad/offering/1","shoe":1}`))
	assert.Equal(t, 1, code)
	assert.Contains(t, out, `unknown field "shoe"`)
	_, code = command(t, "offering", "check", "nowhere.json")
	assert.NotZero(t, code)
}

// Worked by hand: a tablet with a mount for a second officer, fast.
func TestEvaluateCommand(t *testing.T) {
	t.Parallel()
	answers := write(t, "answers.json", `{
		"tablet": [{"item":"t10","quantity":1,"options":{"memory":"m256"},"extras":[{"extra":"mount","quantity":1},{"extra":"charger","quantity":1}]},{"item":"plan-coast","quantity":1}],
		"speed": "fast", "from": "2027-03-15", "months": 24,
		"split": [{"centre":"CC-4100","percent":33},{"centre":"CC-7300","percent":67}]}`)
	out, code := command(t, "offering", "evaluate", offerings+"bridge-tablet.yaml", "--people", peopleFile, "--bundles", bundleFile, "--as", "castelo", "--answers", answers, "--at", "2027-03-12T09:00:00Z")
	require.Zero(t, code, out)
	var got struct {
		Questions []struct {
			Key                     string
			Shown, Required, Locked bool
			Value                   any
			Choices                 []string
			Problems                []any
			Reason                  string
		}
		Complete bool
		Missing  []string
		Price    struct {
			Lines                            []struct{ Kind, Name, Sum, Per string }
			Once, Monthly, Yearly, FirstYear string
			Term                             *string
			Shares                           []struct{ Name, Percent, Once, Monthly string }
		}
		Ladder []struct {
			Key       string
			Approvers []struct{ Login, Reason string }
		}
		Plan []struct {
			Key    string
			Wanted bool
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	assert.True(t, got.Complete, out)
	assert.Empty(t, got.Missing)
	assert.Equal(t, "vessel", got.Questions[0].Key)
	assert.Equal(t, "MV Grey Heron", got.Questions[0].Value, "known of the beneficiary")
	var lines []string
	for _, l := range got.Price.Lines {
		lines = append(lines, l.Kind+" "+l.Sum+" "+l.Per)
	}
	// 389.00 + 35.00 + 36.16 (420 NOK at 0.0861) + 5.21 (17 of 31 days of 9.50) = 465.37; a tenth of it is 46.54.
	// VAT 23 % of 389.00 + 35.00 + 36.16 + 46.54 = 506.70 is 116.54, of 0.95 is 0.22; 6 % of 5.21 is 0.31, of 9.50 is 0.57.
	assert.Equal(t, []string{
		"item 389.00 once", "extra 35.00 once", "extra 36.16 once", "item 9.50 month", "part 5.21 once",
		"surcharge 46.54 once", "surcharge 0.95 month", "tax 116.54 once", "tax 0.22 month", "tax 0.31 once", "tax 0.57 month",
	}, lines)
	assert.Equal(t, []string{"628.76", "11.24", "0.00", "763.64"}, []string{got.Price.Once, got.Price.Monthly, got.Price.Yearly, got.Price.FirstYear})
	require.NotNil(t, got.Price.Term)
	assert.Equal(t, "898.52", *got.Price.Term)
	assert.Equal(t, "207.49", got.Price.Shares[0].Once)
	assert.Equal(t, "421.27", got.Price.Shares[1].Once)
	require.Len(t, got.Ladder, 1)
	assert.Equal(t, "bjarnason", got.Ladder[0].Approvers[0].Login)
	for _, task := range got.Plan {
		assert.Equal(t, task.Key != "collect", task.Wanted, task.Key)
	}
	out, code = command(t, "offering", "evaluate", offerings+"bridge-tablet.yaml", "--people", peopleFile, "--as", "nobody", "--answers", answers)
	assert.NotZero(t, code)
	assert.Contains(t, out, `nobody with the login "nobody"`)
}

func TestDiffCommand(t *testing.T) {
	t.Parallel()
	data, err := os.ReadFile(offerings + "quay-access-badge.yaml")
	require.NoError(t, err)
	next := write(t, "next.yaml", strings.Replace(string(data), `amount: "12.50"`, `amount: "13.00"`, 1))
	out, code := command(t, "offering", "diff", offerings+"quay-access-badge.yaml", next)
	assert.Zero(t, code)
	assert.Equal(t, "items      Item “Card”: the amount changes from “12.50” to “13.00”.\n", out)
}

// The catalog of a folder goes out and comes back the same, once nothing runs
// on it.
func TestExportAndImportCommands(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	out, code := command(t, "offering", "export", "--data", s.dir)
	assert.NotZero(t, code)
	assert.Contains(t, out, "in use by another Heptad")
	require.NoError(t, s.stop(syscall.SIGTERM))
	file := filepath.Join(t.TempDir(), "catalog.json")
	out, code = command(t, "offering", "export", "--data", s.dir, file)
	require.Zero(t, code, out)
	out, code = command(t, "offering", "import", "--data", s.dir, "--as", "falkenau", "--preview", file)
	require.Zero(t, code, out)
	assert.Contains(t, out, "same      quay-access-badge")
	assert.Contains(t, out, "refused   shared-mailbox")
}

// The schema is that of the program, and every offering of the demo keeps to
// it.
func TestTheSchema(t *testing.T) {
	t.Parallel()
	keptCalendar, err := os.ReadFile("../schema/calendar-1.json")
	require.NoError(t, err)
	freshCalendar, _ := command(t, "schema", "calendar")
	assert.Equal(t, string(keptCalendar), freshCalendar)
	kept, err := os.ReadFile("../schema/offering-1.json")
	require.NoError(t, err)
	fresh, _ := command(t, "schema")
	require.Equal(t, fresh, string(kept), "make client writes it anew")
	schema, err := jsonschema.NewCompiler().Compile("../schema/offering-1.json")
	require.NoError(t, err)
	files, err := filepath.Glob(offerings + "*")
	require.NoError(t, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		text, err := yaml.YAMLToJSON(data)
		require.NoError(t, err)
		value, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		require.NoError(t, err)
		assert.NoError(t, schema.Validate(value), file)
	}
}
