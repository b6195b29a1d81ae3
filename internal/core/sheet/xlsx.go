package sheet

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"
)

// How much of a workbook is unpacked, in bytes, and after how many empty rows it is
// taken to be over.
const (
	maxUnpacked = 256 << 20
	emptyRows   = 10_000
)

// parseXLSX reads the first sheet of a workbook that has anything in it: values as they
// are shown, of formulas what they came to, and merged cells as if each had the value.
func parseXLSX(data []byte) (*Table, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxUnpacked, UnzipXMLSizeLimit: 16 << 20})
	if err != nil {
		return nil, errors.New("the workbook cannot be read: it is damaged, has a password, or is too large. Save it anew, or as CSV")
	}
	defer func() { _ = f.Close() }() // it was only read
	names, merges := f.GetSheetList(), mentionsMerged(data)
	for _, name := range names {
		b := builder{merges: merges}
		if err := b.readSheet(f, name); err != nil {
			return nil, err
		}
		if b.header == nil {
			continue
		}
		if len(names) > 1 {
			b.notes = append(b.notes, fmt.Sprintf("The workbook has %d sheets: only %q was read.", len(names), name))
		}
		return b.table()
	}
	return nil, errors.New("the workbook is empty")
}

func (b *builder) readSheet(f *excelize.File, name string) error {
	var filled map[int]map[int]string
	if b.merges {
		var err error
		if filled, err = mergedCells(f, name); err != nil {
			return fmt.Errorf("the sheet %q cannot be read: %w", name, err)
		}
	}
	rows, err := f.Rows(name)
	if err != nil {
		return fmt.Errorf("the sheet %q cannot be read: %w", name, err)
	}
	defer func() { _ = rows.Close() }() // it was only read
	empty, merged := 0, false
	for line := 1; rows.Next(); line++ {
		cells, err := rows.Columns()
		if err != nil {
			return fmt.Errorf("line %d of the sheet %q cannot be read: %w", line, name, err)
		}
		for column, value := range filled[line] {
			for len(cells) <= column {
				cells = append(cells, "")
			}
			if cells[column] == "" {
				cells[column], merged = value, true
			}
		}
		if strings.TrimSpace(strings.Join(cells, "")) == "" {
			if empty++; empty == emptyRows {
				b.notes = append(b.notes, fmt.Sprintf("After line %d come only empty rows: it was read up to there.", line-emptyRows))
				break
			}
			continue
		}
		empty = 0
		if err := b.add(line, cells); err != nil {
			return err
		}
	}
	if merged {
		b.notes = append(b.notes, "Merged cells were read as if each had the value.")
	}
	return rows.Error()
}

// mentionsMerged reports whether any sheet of a workbook has merged cells. To know them
// a sheet is held in memory whole, and most have none.
func mentionsMerged(data []byte) bool {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return false
	}
	for _, file := range z.File {
		if !strings.HasPrefix(file.Name, "xl/worksheets/") || file.UncompressedSize64 > maxHeld {
			continue
		}
		r, err := file.Open()
		if err != nil {
			continue
		}
		text, err := io.ReadAll(io.LimitReader(r, maxHeld))
		_ = r.Close() // it was only read
		if err == nil && bytes.Contains(text, []byte("<mergeCell ")) {
			return true
		}
	}
	return false
}

// maxHeld is how large a sheet may be that is held in memory whole, in bytes.
const maxHeld = 64 << 20

// mostMerged is how many cells merging may fill.
const mostMerged = 1 << 20

// mergedCells are the values of merged cells, by line and column.
func mergedCells(f *excelize.File, name string) (map[int]map[int]string, error) {
	all, err := f.GetMergeCells(name)
	if err != nil {
		return nil, err
	}
	filled, count := map[int]map[int]string{}, 0
	for _, m := range all {
		left, top, err := excelize.CellNameToCoordinates(m.GetStartAxis())
		if err != nil {
			return nil, err
		}
		right, bottom, err := excelize.CellNameToCoordinates(m.GetEndAxis())
		if err != nil {
			return nil, err
		}
		if count += (right - left + 1) * (bottom - top + 1); count > mostMerged {
			return nil, errors.New("too many cells are merged")
		}
		if m.GetCellValue() == "" {
			continue
		}
		for line := top; line <= bottom; line++ {
			if filled[line] == nil {
				filled[line] = map[int]string{}
			}
			for column := left; column <= min(right, MaxColumns); column++ {
				filled[line][column-1] = m.GetCellValue()
			}
		}
	}
	return filled, nil
}

// XLSX writes a table as a workbook, its header in bold and kept in sight.
func XLSX(name string, header []string, rows [][]string) ([]byte, error) {
	f := excelize.NewFile()
	defer func() { _ = f.Close() }() // it stands in memory
	if err := f.SetSheetName("Sheet1", name); err != nil {
		return nil, err
	}
	w, err := f.NewStreamWriter(name)
	if err != nil {
		return nil, err
	}
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return nil, err
	}
	if err := w.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return nil, err
	}
	for i, row := range append([][]string{header}, rows...) {
		cells := make([]any, len(row))
		for c, cell := range row {
			cells[c] = cell
			if i == 0 {
				cells[c] = excelize.Cell{StyleID: bold, Value: cell}
			}
		}
		if err := w.SetRow(fmt.Sprintf("A%d", i+1), cells); err != nil {
			return nil, err
		}
	}
	if err := w.Flush(); err != nil {
		return nil, err
	}
	out, err := f.WriteToBuffer()
	if err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
