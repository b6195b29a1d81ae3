// Package starter holds the set of offerings that a new one can begin as. They
// are whole and plain, for any company.
package starter

import (
	"embed"
	"io/fs"
	"path"
	"sync"

	"heptad/internal/core/offering"
)

// The one that is sent for somebody who leaves, and its question for the day they do.
const (
	SignOff = "leaving-colleague"
	LastDay = "last"
)

//go:embed offerings/*.yaml
var files embed.FS

// all reads the set once, in the order of the file names.
var all = sync.OnceValue(func() []offering.Document {
	entries, err := fs.ReadDir(files, "offerings")
	if err != nil {
		panic(err) // they are part of the program
	}
	documents := make([]offering.Document, len(entries))
	for i, entry := range entries {
		data, err := files.ReadFile(path.Join("offerings", entry.Name()))
		if err == nil {
			documents[i], err = offering.Parse(data)
		}
		if err != nil {
			panic(entry.Name() + ": " + err.Error()) // as above; a test reads them all
		}
	}
	return documents
})

// areas say where each is usual.
var areas = map[string]string{
	"access": "IT", "equipment": "IT", "mailbox": "IT", "something-broken": "IT", "loan": "IT",
	"new-colleague": "HR", "leaving-colleague": "HR", "letter": "HR", "training": "HR",
	"badge": "Facilities", "move": "Facilities", "purchase": "Facilities",
}

// All lists the set.
func All() []offering.Document { return all() }

// Area is where a starter is usual: IT, HR or Facilities.
func Area(key string) string { return areas[key] }

// Find gives one of the set by its key.
func Find(key string) (offering.Document, bool) {
	for _, d := range all() {
		if d.Key == key {
			return d, true
		}
	}
	return offering.Document{}, false
}
