package main

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"heptad/internal/store"
)

// markFile tells a demo's folder from any other, and whether the company in it
// is there in whole. It is written before anything else.
const markFile = "heptad-demo"

// What the mark says.
const (
	beingLoaded = "loading\n"
	isLoaded    = "loaded\n"
)

// demoFolder is the folder of a demo.
type demoFolder string

func (f demoFolder) file(name string) string { return filepath.Join(string(f), name) }

// mark reads what the folder is marked as; empty when it is not marked.
func (f demoFolder) mark() (string, error) {
	data, err := os.ReadFile(f.file(markFile))
	if errors.Is(err, fs.ErrNotExist) {
		return "", nil
	}
	return string(data), err
}

func (f demoFolder) setMark(mark string) error {
	return os.WriteFile(f.file(markFile), []byte(mark), 0o600)
}

// foreign names what stands in a folder that no demo has marked.
func (f demoFolder) foreign() ([]string, error) {
	entries, err := os.ReadDir(string(f))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	var names []string
	for _, entry := range entries {
		if entry.Name() != "lock" {
			names = append(names, entry.Name())
		}
	}
	return names, err
}

// prepare makes the folder ready to be opened. It throws nothing away that no
// demo made, and of a demo only with fresh, or what a start that was cut off
// had begun to load.
func (f demoFolder) prepare(fresh bool) error {
	mark, err := f.mark()
	if err != nil {
		return err
	}
	if mark == "" {
		names, err := f.foreign()
		if err != nil {
			return err
		}
		if len(names) > 0 {
			return fmt.Errorf("the folder %s holds what no demo has made (%s): nothing of it was touched. Name another folder with --data", f, strings.Join(names[:min(len(names), 5)], ", "))
		}
		if err := os.MkdirAll(string(f), 0o700); err != nil {
			return err
		}
		return f.setMark(beingLoaded)
	}
	if mark != beingLoaded && mark != isLoaded {
		return fmt.Errorf("the mark of the folder %s cannot be read: nothing of it was touched. Name another folder with --data", f)
	}
	if fresh || mark == beingLoaded {
		if err := errors.Join(store.Remove(string(f)), os.RemoveAll(f.file(historyFile))); err != nil {
			return err
		}
		return f.setMark(beingLoaded)
	}
	if info, err := os.Stat(f.file("heptad.db")); err != nil || info.Size() == 0 {
		return fmt.Errorf("the data file of the demo in %s is missing or empty: nothing of it was touched. Put it back, or begin anew with --fresh, which throws away the rest", f)
	}
	return nil
}

// historyFile says until when the two years behind the company go, and whether they are
// there in whole.
const historyFile = "heptad-demo-history"

const wholeHistory = " whole"

// history gives until when the history goes: until now when none was begun.
func (f demoFolder) history(now time.Time) (until time.Time, whole bool, err error) {
	data, err := os.ReadFile(f.file(historyFile))
	if errors.Is(err, fs.ErrNotExist) {
		until = now.UTC().Truncate(time.Second)
		return until, false, os.WriteFile(f.file(historyFile), []byte(until.Format(time.RFC3339)), 0o600)
	}
	if err != nil {
		return until, false, err
	}
	text, whole := strings.CutSuffix(string(data), wholeHistory)
	until, err = time.Parse(time.RFC3339, text)
	return until, whole, err
}

func (f demoFolder) historyIsWhole(until time.Time) error {
	return os.WriteFile(f.file(historyFile), []byte(until.Format(time.RFC3339)+wholeHistory), 0o600)
}
