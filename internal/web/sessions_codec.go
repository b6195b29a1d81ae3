package web

import (
	"bytes"
	"encoding/json"
	"time"

	"github.com/alexedwards/scs/v2"
)

// inJSON keeps sessions as JSON: every call reads one, and the package's own format takes
// twice as long. What sessions hold are strings, whole numbers and booleans.
type inJSON struct{}

type keptSession struct {
	Deadline time.Time      `json:"deadline"`
	Values   map[string]any `json:"values"`
}

// Encode writes a session.
func (inJSON) Encode(deadline time.Time, values map[string]any) ([]byte, error) {
	return json.Marshal(keptSession{deadline, values})
}

// Decode reads a session, also one that was kept in the package's own format.
func (inJSON) Decode(data []byte) (time.Time, map[string]any, error) {
	if len(data) == 0 || data[0] != '{' {
		return scs.GobCodec{}.Decode(data)
	}
	var kept keptSession
	d := json.NewDecoder(bytes.NewReader(data))
	d.UseNumber()
	if err := d.Decode(&kept); err != nil {
		return time.Time{}, nil, err
	}
	for key, value := range kept.Values {
		number, ok := value.(json.Number)
		if !ok {
			continue
		}
		n, err := number.Int64()
		if err != nil {
			return time.Time{}, nil, err
		}
		kept.Values[key] = n
	}
	return kept.Deadline, kept.Values, nil
}
