package simulate

import (
	"encoding/json"
	"os"
	"path/filepath"
)

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
