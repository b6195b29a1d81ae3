package sheet_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"heptad/internal/core/sheet"
)

func TestParseCSV(t *testing.T) {
	latin, err := charmap.Windows1252.NewEncoder().String("login;name\nnb;Nkechi Brandão\n")
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String("login\tname\nnb\tBrandão\n")
	require.NoError(t, err)
	for name, c := range map[string]struct {
		file  string
		want  []sheet.Row
		notes int
	}{
		"plain":                            {"login,name\nnb,Brandão\n", []sheet.Row{{2, []string{"nb", "Brandão"}}}, 0},
		"with a mark, semicolons":          {"\uFEFFlogin;name\r\nnb;\"Brandão; Nkechi\"\r\n", []sheet.Row{{2, []string{"nb", "Brandão; Nkechi"}}}, 0},
		"empty lines and a late header":    {"\n\nlogin,name\n\nnb,B\n,\nx,Y\n", []sheet.Row{{5, []string{"nb", "B"}}, {7, []string{"x", "Y"}}}, 0},
		"Windows-1252":                     {latin, []sheet.Row{{2, []string{"nb", "Nkechi Brandão"}}}, 1},
		"UTF-16, tabs":                     {wide, []sheet.Row{{2, []string{"nb", "Brandão"}}}, 0},
		"spaces that cannot be seen":       {"login,name\n\u00a0nb\u200b , B \n", []sheet.Row{{2, []string{"nb", "B"}}}, 0},
		"fewer cells, and more":            {"login,name\nnb\nx,Y,late\n", []sheet.Row{{2, []string{"nb", ""}}, {3, []string{"x", "Y"}}}, 1},
		"a line within a cell":             {"login,name\nnb,\"B\nC\"\nx,Y\n", []sheet.Row{{2, []string{"nb", "B\nC"}}, {4, []string{"x", "Y"}}}, 0},
		"formulas stay text":               {"login,name\nnb,=1+1\n", []sheet.Row{{2, []string{"nb", "=1+1"}}}, 0},
		"bytes that are no letters at all": {"login,name\nnb,B\xffC\n", []sheet.Row{{2, []string{"nb", "BÿC"}}}, 1},
	} {
		got, err := sheet.Parse([]byte(c.file))
		require.NoError(t, err, name)
		assert.Equal(t, []string{"login", "name"}, got.Header, name)
		assert.Equal(t, c.want, got.Rows, name)
		assert.Len(t, got.Notes, c.notes, name)
	}
}

func TestParseRefuses(t *testing.T) {
	for want, file := range map[string]string{
		"the file is empty":      " \n\n",
		"nothing below it":       "login,name\n\n",
		"an old workbook":        "",
		"more than 50000 rows":   "login\n" + strings.Repeat("a\n", sheet.MaxRows+1),
		"more than 60 columns":   "login" + strings.Repeat(",x", sheet.MaxColumns) + "\n",
		"more than 4000 letters": "login\n" + strings.Repeat("é", sheet.MaxCell+1),
		"of the old kind":        "\xd0\xcf\x11\xe0 and so on",
		"the workbook cannot be": "PK\x03\x04 and so on",
		"neither CSV nor XLSX":   "\x89PNG\x00\x00",
		"larger than 25 MB":      strings.Repeat("a", sheet.MaxBytes+1),
	} {
		if file == "" {
			continue
		}
		_, err := sheet.Parse([]byte(file))
		assert.ErrorContains(t, err, want)
	}
}

// workbook makes one with the given cells, and lets more be done to it.
func workbook(t *testing.T, cells map[string]any, more func(f *excelize.File)) []byte {
	t.Helper()
	f := excelize.NewFile()
	for at, value := range cells {
		require.NoError(t, f.SetCellValue("Sheet1", at, value))
	}
	if more != nil {
		more(f)
	}
	b, err := f.WriteToBuffer()
	require.NoError(t, err)
	return b.Bytes()
}

func TestParseXLSX(t *testing.T) {
	got, err := sheet.Parse(workbook(t, map[string]any{"A2": "login", "B2": "department", "C2": "grade", "A3": "a", "B3": "Fleet", "A4": "b", "C4": 7, "A6": "c", "B6": "Finance"}, func(f *excelize.File) {
		require.NoError(t, f.MergeCell("Sheet1", "B3", "B4"))
		require.NoError(t, f.SetCellFormula("Sheet1", "C3", "3+4")) // never computed, so nothing is known of it
		_, err := f.NewSheet("Second")
		require.NoError(t, err)
	}))
	require.NoError(t, err)
	assert.Equal(t, []string{"login", "department", "grade"}, got.Header)
	assert.Equal(t, []sheet.Row{{3, []string{"a", "Fleet", ""}}, {4, []string{"b", "Fleet", "7"}}, {6, []string{"c", "Finance", ""}}}, got.Rows)
	assert.Equal(t, []string{"Merged cells were read as if each had the value.", `The workbook has 2 sheets: only "Sheet1" was read.`}, got.Notes)
}

// A sheet that was styled down to its last row has a million rows and nothing in them.
func TestManyEmptyRows(t *testing.T) {
	f := excelize.NewFile()
	w, err := f.NewStreamWriter("Sheet1")
	require.NoError(t, err)
	style, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	require.NoError(t, err)
	require.NoError(t, w.SetRow("A1", []any{"login"}))
	require.NoError(t, w.SetRow("A2", []any{"a"}))
	for line := 3; line < 1_000_000; line++ {
		require.NoError(t, w.SetRow(fmt.Sprintf("A%d", line), []any{excelize.Cell{StyleID: style}}))
	}
	require.NoError(t, w.Flush())
	b, err := f.WriteToBuffer()
	require.NoError(t, err)
	got, err := sheet.Parse(b.Bytes())
	require.NoError(t, err)
	assert.Equal(t, []sheet.Row{{2, []string{"a"}}}, got.Rows)
	assert.Contains(t, got.Notes[0], "only empty rows")
}

// What is written is read as it was; and what a spreadsheet program would compute is
// text.
func TestWriteAndReadBack(t *testing.T) {
	header, rows := []string{"login", "name"}, [][]string{{"nb", "Brandão, \"N\""}, {"x", "two\nlines"}}
	book, err := sheet.XLSX("people", header, rows)
	require.NoError(t, err)
	for name, file := range map[string][]byte{"csv": sheet.CSV(header, rows), "xlsx": book} {
		got, err := sheet.Parse(file)
		require.NoError(t, err, name)
		assert.Equal(t, header, got.Header, name)
		for i, row := range rows {
			assert.Equal(t, row, got.Rows[i].Cells, name)
		}
	}
	assert.Contains(t, string(sheet.CSV(header, [][]string{{"=HYPERLINK(1)", "-1"}})), "'=HYPERLINK(1),'-1")
}

func FuzzParse(f *testing.F) {
	f.Add([]byte("login;name\nnb;\"B\n\""))
	f.Add([]byte("\xff\xfel\x00o\x00"))
	book, err := sheet.XLSX("people", []string{"login"}, [][]string{{"a"}})
	if err != nil {
		f.Fatal(err)
	}
	f.Add(book)
	f.Add(bytes.Repeat([]byte("PK\x03\x04"), 10))
	f.Fuzz(func(t *testing.T, data []byte) {
		table, err := sheet.Parse(data)
		if err != nil {
			return
		}
		for _, row := range table.Rows {
			if len(row.Cells) != len(table.Header) || row.Line < 1 {
				t.Fatalf("line %d has %d cells for %d headings", row.Line, len(row.Cells), len(table.Header))
			}
		}
	})
}
