package e2e

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const towerQuay = `{"format":"heptad/calendar/1","zone":"Europe/Lisbon",
	"week":{"mon":["08:30-12:30","13:30-17:30"],"tue":["08:30-12:30","13:30-17:30"],"wed":["08:30-12:30","13:30-17:30"],"thu":["08:30-12:30","13:30-17:30"],"fri":["08:30-12:30","13:30-17:30"]},
	"exceptions":[{"date":"2027-12-24","open":["08:30-12:30"]},{"date":"2027-12-25","open":[]},{"date":"2027-12-27","open":[]}]}`

// Worked by hand: 26 March 2027 is a Friday, and clocks go forward on the
// 28th.
func TestCalendarCommand(t *testing.T) {
	t.Parallel()
	file := write(t, "calendar.json", towerQuay)
	for _, c := range []struct {
		args string
		want string
	}{
		{"add --from 2027-03-26T10:00:00Z --for 8h", "2027-03-29T09:00:00Z"},  // 6.5 h on Friday, then from 07:30Z
		{"add --from 2027-03-26T10:00:00Z --for 90m", "2027-03-26T11:30:00Z"}, //
		{"add --from 2027-03-26T17:30:00Z --for 1m", "2027-03-29T07:31:00Z"},
		{"add --from 2027-03-26T10:00:00Z --for 10d", "2027-04-09T09:00:00Z"},
		{"add --from 2027-12-23T10:00:00+00:00 --for 1d", "2027-12-24T09:15:00Z"}, // 1.5 of 8 hours is 45 minutes of 4
		{"add --from 2027-03-26T10:00:00Z --for 0m", "2027-03-26T10:00:00Z"},
		{"between --from 2027-03-26T10:00:00Z --to 2027-03-29T09:00:00Z", `{"minutes":480,"days":1}`},
		{"between --from 2027-03-29T09:00:00Z --to 2027-03-26T10:00:00Z", `{"minutes":-480,"days":-1}`},
	} {
		args := append([]string{"calendar"}, strings.Fields(c.args)...)
		out, code := command(t, append(args, "--calendar", file)...)
		assert.Zero(t, code, c.args)
		assert.Equal(t, c.want+"\n", out, c.args)
	}
	for args, want := range map[string]string{
		"add --from yesterday --for 8h":           `"yesterday" is no instant`,
		"add --from 2027-03-26T10:00:00Z --for 3": `"3" is no length of working time`,
		"add --from 2027-03-26T10:00:00Z":         "--for is missing",
		"between --from 2027-03-26T10:00:00Z":     "--to is missing",
	} {
		out, code := command(t, append(append([]string{"calendar"}, strings.Fields(args)...), "--calendar", file)...)
		assert.NotZero(t, code, args)
		assert.Contains(t, out, want, args)
	}
	out, code := command(t, "calendar", "add", "--calendar", write(t, "never.json", `{"format":"heptad/calendar/1","zone":"UTC","week":{}}`), "--from", "2027-03-26T10:00:00Z", "--for", "8h")
	assert.NotZero(t, code)
	assert.Contains(t, out, "This calendar is never open.")
}

// Every line gets one line of answer, and a wrong one does not stop the rest.
func TestCalendarCommandByLines(t *testing.T) {
	t.Parallel()
	file := write(t, "calendar.json", towerQuay)
	lines := func(in string, args ...string) (string, int) {
		run := exec.Command(program, append([]string{"calendar"}, append(args, "--calendar", file, "--from", "-")...)...)
		run.Stdin = strings.NewReader(in)
		out, err := run.Output()
		if _, ended := err.(*exec.ExitError); err != nil && !ended {
			require.NoError(t, err)
		}
		return string(out), run.ProcessState.ExitCode()
	}
	out, code := lines("2027-03-26T10:00:00Z\t8h\n2027-03-26T10:00:00Z\t10d\r\n", "add")
	assert.Zero(t, code)
	assert.Equal(t, "2027-03-29T09:00:00Z\n2027-04-09T09:00:00Z\n", out)
	out, code = lines("2027-03-26T10:00:00Z\t2027-03-26T10:30:00Z\nnonsense\n2027-03-26T10:00:00Z\t2027-03-26T11:00:00Z\n", "between")
	assert.Equal(t, 1, code)
	got := strings.Split(strings.TrimSpace(out), "\n")
	require.Len(t, got, 3)
	assert.JSONEq(t, `{"minutes":30,"days":0.0625}`, got[0])
	assert.Equal(t, `error: "nonsense" is no instant: write it like 2027-03-26T10:00:00Z`, got[1])
	assert.JSONEq(t, `{"minutes":60,"days":0.125}`, got[2])
}

// The company's holidays brought into a calendar and out again are the same.
func TestCalendarCommandHolidays(t *testing.T) {
	t.Parallel()
	bare, holidays := "../internal/demo/calendars/maravel.json", "../internal/demo/company/holidays.ics"
	out, code := command(t, "calendar", "import", "--calendar", bare, holidays)
	require.Zero(t, code, out)
	with := write(t, "with.json", out)
	moved, code := command(t, "calendar", "add", "--calendar", with, "--from", "2026-12-24T08:00:00Z", "--for", "8h")
	assert.Zero(t, code, moved)
	assert.Equal(t, "2026-12-28T12:30:00Z\n", moved, "four hours of the 24th, a Thursday; Friday off; four hours of Monday")
	exported, code := command(t, "calendar", "export", "--calendar", with)
	require.Zero(t, code, exported)
	again, code := command(t, "calendar", "import", "--calendar", bare, write(t, "again.ics", exported))
	require.Zero(t, code, again)
	assert.JSONEq(t, out, again)
	_, code = command(t, "calendar", "import", "--calendar", bare, write(t, "none.ics", "no calendar"))
	assert.NotZero(t, code)
}
