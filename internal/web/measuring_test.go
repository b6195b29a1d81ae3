package web_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/measure"
	"heptad/internal/demo"
)

// looked is a sentence as the page sends it.
func looked(figure string, change func(*measure.Sentence)) string {
	s := measure.Usual()
	s.Figure = figure
	if change != nil {
		change(&s)
	}
	return jsonText(s)
}

// What cannot be looked at is refused at its place, and nothing is lost with it.
func TestSentencesThatCannotBeRead(t *testing.T) {
	boss := serve(t).as("vidigal")
	for name, c := range map[string]struct {
		figure string
		change func(*measure.Sentence)
		place  string
		says   string
	}{
		"no such figure":       {"luck", nil, "/figure", `There is no figure "luck".`},
		"no such time":         {"kept", func(s *measure.Sentence) { s.Period = "soon" }, "/period", `"soon" is no period`},
		"a month there is not": {"kept", func(s *measure.Sentence) { s.Period = "2026-13" }, "/period", `"2026-13" is no period`},
		"days the wrong way":   {"kept", func(s *measure.Sentence) { s.Period = "2026-03-02/2026-03-01" }, "/period", "no stretch of time"},
		"a century":            {"kept", func(s *measure.Sentence) { s.Period = "1980-01-01/2079-12-31" }, "/period", "thirty years"},
		"no such side":         {"kept", func(s *measure.Sentence) { s.Only = []measure.Narrowed{{Side: "mood", Keys: []string{"good"}}} }, "/only/0/side", "Expected value to be one of"},
		"a time among what counts": {"kept", func(s *measure.Sentence) {
			s.Only = []measure.Narrowed{{Side: measure.ByMonth, Keys: []string{"2026-01"}}}
		}, "/only/0", "Of time a period is chosen."},
	} {
		p := boss.problem("POST", "/api/measure/screen", looked(c.figure, c.change))
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, name)
		require.NotEmpty(t, p.Errors, name)
		assert.Equal(t, c.place, p.Errors[0].Place, name)
		assert.Contains(t, p.Errors[0].Sentence, c.says, name)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, boss.problem("POST", "/api/measure/records?after=somewhere", looked("kept", nil)).Status)
	status, _ := boss.send("POST", "/api/measure/screen", looked("kept", func(s *measure.Sentence) { s.Along = "team" }))
	assert.Equal(t, http.StatusOK, status, "a side that does not fit is set to one that does")
	assert.Equal(t, http.StatusUnprocessableEntity, boss.problem("POST", "/api/measure/screen", `{"figure": 7}`).Status)
}

// What is taken out can be opened in a spreadsheet, and tells nobody what they may not see.
func TestWhatIsMeasuredIsTakenOut(t *testing.T) {
	s := serve(t)
	title := `=HYPERLINK("http://evil.example")`
	_, err := s.Store.Writer().Exec("UPDATE requests SET title = ? WHERE asker = ?", title, demo.ID("sarmento"))
	require.NoError(t, err)
	sheet := func(c *client, query string) [][]string {
		status, text := c.send("GET", "/api/measure/export?format=csv&"+query, "")
		require.Equal(t, http.StatusOK, status, text)
		rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
		require.NoError(t, err, "each line has as many cells")
		for _, row := range rows {
			for _, cell := range row {
				assert.False(t, cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])), cell)
			}
		}
		return rows
	}
	const usual = "figure=asked&period=last12&along=month&side=service&second=month"
	boss, owner := s.as("vidigal"), s.as("falkenau")
	assert.NotContains(t, fmt.Sprint(sheet(boss, usual+"&what=records")), "HYPERLINK", "what they may not open stands there by the offering's name")
	assert.Contains(t, fmt.Sprint(sheet(owner, usual+"&what=records")), "'"+title, "whose it is reads it, as words")
	for _, what := range []string{"row", "along", "side", "grid"} {
		assert.Greater(t, len(sheet(boss, usual+"&what="+what)), 2, what)
	}
	some := sheet(owner, usual+"&what=records")
	status, text := owner.send("GET", "/api/measure/export?format=json&"+usual+"&what=records", "")
	require.Equal(t, http.StatusOK, status)
	var lines []map[string]string
	require.NoError(t, json.Unmarshal([]byte(text), &lines))
	assert.Len(t, lines, len(some)-1)
	assert.Equal(t, http.StatusUnprocessableEntity, boss.problem("GET", "/api/measure/export?format=csv&what=row&figure=luck", "").Status)
	status, _ = s.as("castelo").send("GET", "/api/measure/export?format=csv&what=row&"+usual, "")
	assert.Equal(t, http.StatusNotFound, status)
	narrowed := sheet(boss, usual+"&what=records&only=service:access&only=service:parking")
	for _, row := range narrowed[1:] {
		assert.Contains(t, []string{"Access to the quays", "Parking at the berths"}, row[3])
	}
}

// Boards and targets that cannot be kept are refused at their place.
func TestBoardsAndTargetsThatCannotBeKept(t *testing.T) {
	boss := serve(t).as("vidigal")
	luck := measure.Usual()
	luck.Figure = "luck"
	good := measure.Board{Title: "For the boss", Parts: []measure.Part{{Show: measure.ShowAlong, Sentence: measure.Usual()}}}
	for name, c := range map[string]struct {
		change func(*measure.Board)
		place  string
	}{
		"without a title":   {func(b *measure.Board) { b.Title = "  " }, "/board/title"},
		"without a page":    {func(b *measure.Board) { b.Parts = []measure.Part{} }, "/board/parts"},
		"an hourly mail":    {func(b *measure.Board) { b.Mail = measure.Rhythm{Rule: "FREQ=HOURLY", At: "08:00"} }, "/board/mail"},
		"a mail at no time": {func(b *measure.Board) { b.Mail = measure.Rhythm{Rule: "FREQ=DAILY", At: "25:00"} }, "/board/mail"},
		"no rule at all":    {func(b *measure.Board) { b.Mail = measure.Rhythm{Rule: "now and then", At: "08:00"} }, "/board/mail"},
		"a figure there isn't": {func(b *measure.Board) {
			b.Parts = []measure.Part{{Show: measure.ShowAlong, Sentence: luck}}
		}, "/board/parts/0/sentence"},
	} {
		b := good
		c.change(&b)
		p := boss.problem("POST", "/api/boards", jsonText(map[string]any{"revision": 0, "board": b}))
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, name)
		require.NotEmpty(t, p.Errors, name)
		assert.Equal(t, strings.TrimPrefix(c.place, "/board"), strings.TrimPrefix(p.Errors[0].Place, "/board"), name)
	}
	early := 0.5
	for name, target := range map[string]measure.Target{
		"no such figure":      {Figure: "luck", Period: "month"},
		"a time that is over": {Figure: "kept", Period: "lastMonth", AtLeast: true, Goal: 0.9},
		"more than all":       {Figure: "kept", Period: "month", AtLeast: true, Goal: 1.2},
		"below nothing":       {Figure: "asked", Period: "month", Goal: -1},
		"an alarm too late":   {Figure: "kept", Period: "month", AtLeast: true, Goal: 0.9, Early: &early},
	} {
		p := boss.problem("POST", "/api/targets", jsonText(target))
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, name)
		assert.NotEmpty(t, p.Errors, name)
	}
	status, _ := boss.send("POST", "/api/targets", jsonText(measure.Target{Figure: "overdue", Period: "month", Goal: 0}))
	assert.Equal(t, http.StatusOK, status, "none at all can be a goal")
}

// A wall is shown to whoever has its link, with nobody's name and nothing that opens, until
// it is taken off.
func TestAWallIsForStrangers(t *testing.T) {
	s := serve(t)
	boss := s.as("vidigal")
	var board struct{ ID string }
	_, text := boss.send("POST", "/api/boards", jsonText(map[string]any{"revision": 0, "board": measure.Board{Title: "Open", Parts: []measure.Part{
		{Show: measure.ShowStages, Sentence: measure.Sentence{Figure: "open", Period: "month", Along: measure.ByMonth, Side: measure.ByService, Second: measure.ByMonth}},
		{Show: measure.ShowSide, Sentence: measure.Sentence{Figure: "asked", Period: "last12", Along: measure.ByMonth, Side: measure.ByDepartment, Second: measure.ByMonth}}}}}))
	require.NoError(t, json.Unmarshal([]byte(text), &board))
	var wall struct{ Path string }
	_, text = boss.send("POST", "/api/boards/"+board.ID+"/wall", "")
	require.NoError(t, json.Unmarshal([]byte(text), &wall))
	token := strings.TrimPrefix(wall.Path, "/wall/")
	stranger := s.as("")
	status, text := stranger.send("GET", "/api/wall/"+token, "")
	require.Equal(t, http.StatusOK, status, text)
	for _, p := range s.Company().Persons() {
		assert.NotContains(t, text, p.Name)
		assert.NotContains(t, text, p.ID)
	}
	for _, guess := range []string{"A", strings.Repeat("A", len(token)), board.ID} {
		status, _ := stranger.send("GET", "/api/wall/"+guess, "")
		assert.Equal(t, http.StatusNotFound, status)
	}
	status, _ = boss.send("DELETE", "/api/boards/"+board.ID+"/wall", "")
	require.Equal(t, http.StatusOK, status)
	status, _ = stranger.send("GET", "/api/wall/"+token, "")
	assert.Equal(t, http.StatusNotFound, status)
}
