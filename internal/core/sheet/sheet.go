// Package sheet reads and writes tables as people keep them in spreadsheets: CSV in the
// encodings and with the separators that programs write, and XLSX.
package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// Limits of a table.
const (
	MaxBytes   = 25 << 20 // of its file
	MaxRows    = 50_000   // below the header
	MaxColumns = 60
	MaxCell    = 4000 // letters
)

// Table is a sheet with a header. Every row has as many cells as the header.
type Table struct {
	Header []string
	Rows   []Row
	Notes  []string // what was odd about the file and how it was taken
}

// Row is one line below the header.
type Row struct {
	Line  int // in the file, from 1
	Cells []string
}

// Parse reads a file, CSV or XLSX as its content says. An error is a sentence for whoever
// sent it.
func Parse(data []byte) (*Table, error) {
	switch {
	case len(data) > MaxBytes:
		return nil, fmt.Errorf("the file is larger than %d MB", MaxBytes>>20)
	case len(bytes.TrimSpace(data)) == 0:
		return nil, errors.New("the file is empty")
	case bytes.HasPrefix(data, []byte("PK\x03\x04")):
		return parseXLSX(data)
	case bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")):
		return nil, errors.New("this is a workbook of the old kind, or one with a password: save it as XLSX or CSV without one")
	}
	return parseCSV(data)
}

// text decodes what a program has written, and says what was odd about it.
func text(data []byte) (string, []string, error) {
	decoded := func(name string, d interface {
		Bytes([]byte) ([]byte, error)
	}) (string, []string, error) {
		out, err := d.Bytes(data)
		if err != nil {
			return "", nil, fmt.Errorf("the file cannot be read as %s", name)
		}
		return strings.TrimPrefix(string(out), "\uFEFF"), []string{"The file is written in " + name + ", not in UTF-8: look whether names are spelt as they should be."}, nil
	}
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")) || bytes.HasPrefix(data, []byte("\xfe\xff")):
		out, _, err := decoded("UTF-16", unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder())
		return out, nil, err
	case utf8.Valid(data):
		return strings.TrimPrefix(string(data), "\uFEFF"), nil, nil
	}
	return decoded("Windows-1252", charmap.Windows1252.NewDecoder())
}

func parseCSV(data []byte) (*Table, error) {
	content, notes, err := text(data)
	if err != nil {
		return nil, err
	}
	if strings.ContainsRune(content, 0) {
		return nil, errors.New("this is no table: it is neither CSV nor XLSX")
	}
	r := csv.NewReader(strings.NewReader(content))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace = separator(content), -1, true, true
	b := builder{notes: notes}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			return b.table()
		}
		if err != nil {
			return nil, fmt.Errorf("the file cannot be read: %w", err)
		}
		line, _ := r.FieldPos(0)
		if err := b.add(line, cells); err != nil {
			return nil, err
		}
	}
}

// separator is what the first line with anything in it separates its cells by.
func separator(content string) rune {
	for line := range strings.Lines(content) {
		if strings.TrimSpace(line) == "" {
			continue
		}
		best, most := ',', 0
		for _, r := range []rune{',', ';', '\t', '|'} {
			if n := strings.Count(line, string(r)); n > most {
				best, most = r, n
			}
		}
		return best
	}
	return ','
}

// builder puts a table together row by row.
type builder struct {
	header []string
	rows   []Row
	notes  []string
	merges bool // some cells may be merged
	wide   int  // line of the first row with more cells than the header; 0 for none
}

func (b *builder) add(line int, cells []string) error {
	for i, cell := range cells {
		cells[i] = clean(cell)
		if utf8.RuneCountInString(cells[i]) > MaxCell {
			return fmt.Errorf("line %d has a cell with more than %d letters", line, MaxCell)
		}
	}
	for len(cells) > 0 && cells[len(cells)-1] == "" {
		cells = cells[:len(cells)-1]
	}
	switch {
	case len(cells) == 0:
		return nil
	case len(cells) > MaxColumns:
		return fmt.Errorf("line %d has more than %d columns", line, MaxColumns)
	case b.header == nil:
		b.header = cells
		return nil
	case len(b.rows) == MaxRows:
		return fmt.Errorf("the file has more than %d rows: send it in parts", MaxRows)
	case len(cells) > len(b.header) && b.wide == 0:
		b.wide = line
	}
	row := make([]string, len(b.header))
	copy(row, cells)
	b.rows = append(b.rows, Row{line, row})
	return nil
}

func (b *builder) table() (*Table, error) {
	switch {
	case b.header == nil:
		return nil, errors.New("the file is empty")
	case len(b.rows) == 0:
		return nil, errors.New("the file has a header and nothing below it")
	}
	if b.wide > 0 {
		b.notes = append(b.notes, fmt.Sprintf("From line %d on there are cells without a heading: they are not read.", b.wide))
	}
	return &Table{b.header, b.rows, b.notes}, nil
}

// clean is a cell as it is meant: no spaces around it, of any kind, and nothing that
// cannot be seen.
func clean(cell string) string {
	cell = strings.Map(func(r rune) rune {
		switch {
		case r == '\u00a0' || r == '\u202f' || r == '\t':
			return ' '
		case r == '\u200b' || r == '\ufeff' || r == '\u00ad' || r < ' ' && r != '\n':
			return -1
		}
		return r
	}, cell)
	return strings.TrimSpace(strings.ToValidUTF8(cell, "\uFFFD"))
}

// CSV writes a table: UTF-8 with a byte order mark, which spreadsheet programs need to
// tell it from older encodings. A cell that such a program would compute is kept from it.
func CSV(header []string, rows [][]string) []byte {
	var b bytes.Buffer
	b.WriteString("\uFEFF")
	w := csv.NewWriter(&b)
	for _, row := range append([][]string{header}, rows...) {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = Inert(cell)
		}
		_ = w.Write(safe) // into memory
	}
	w.Flush()
	return b.Bytes()
}

// Inert is a cell that no spreadsheet program computes.
func Inert(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}
