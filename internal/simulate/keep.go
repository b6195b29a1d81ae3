package simulate

import (
	"encoding/json"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"sync"
)

// Kept is the state of a system, in a file that a restart reads again.
type Kept[S any] struct {
	path  string
	mu    sync.Mutex
	state S
}

// Open reads what the system did before, or begins with a state.
func (k *Kept[S]) Open(path string, begin S) error {
	k.path, k.state = path, begin
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	return json.Unmarshal(data, &k.state)
}

// Change changes a copy of the state, and keeps it when that went well.
func (k *Kept[S]) Change(f func(*S) error) error {
	k.mu.Lock()
	defer k.mu.Unlock()
	next, err := copied(k.state)
	if err != nil {
		return err
	}
	if err := f(&next); err != nil {
		return err
	}
	if err := keep(k.path, next); err != nil {
		return err
	}
	k.state = next
	return nil
}

// Read gives a copy of the state.
func (k *Kept[S]) Read() S {
	k.mu.Lock()
	defer k.mu.Unlock()
	out, err := copied(k.state)
	if err != nil {
		panic(err) // it was read from JSON, or is kept as such
	}
	return out
}

func copied[S any](state S) (out S, err error) {
	data, err := json.Marshal(state)
	if err == nil {
		err = json.Unmarshal(data, &out)
	}
	return out, err
}

// keep writes a value as JSON into a file anew, whole or not at all.
func keep(path string, value any) error {
	data, err := json.MarshalIndent(value, "", " ")
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return err
	}
	if err := os.WriteFile(path+".new", data, 0o600); err != nil {
		return err
	}
	return os.Rename(path+".new", path)
}
