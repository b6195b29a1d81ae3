package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"sync"

	"github.com/klauspost/compress/s2"
	"modernc.org/sqlite"
)

// packing says with which phrases a text is packed: JSON of a few hundred bytes repeats
// what all others say, so that against their phrases little of it is left. What is packed
// begins with the number of its packing; one that texts were kept with never changes.
type packing byte

const (
	plain  packing = iota // the text itself
	states                // states of requests, and their briefs
	events                // events of histories
	words                 // of messages
)

// packings are those that texts are packed with now, by the names that SQL has for them.
var packings = map[string]packing{"states": states, "events": events, "words": words}

// The phrases of each packing, made by `load phrases` of what the demo keeps.
//
//go:embed phrases/*
var phrases embed.FS

var dictionaries = sync.OnceValue(func() map[packing]*s2.Dict {
	out := map[packing]*s2.Dict{}
	for name, p := range packings {
		text, err := phrases.ReadFile("phrases/" + name + "-1")
		if err != nil {
			panic(err) // it is built in
		}
		out[p] = s2.MakeDict(text, nil)
	}
	return out
})

// longest is how long a text is at most that is unpacked, in bytes.
const longest = 64 << 20

// pack packs a text.
func pack(p packing, text string) []byte {
	packed := dictionaries()[p].Encode(nil, []byte(text))
	if len(packed) >= len(text) {
		return append([]byte{byte(plain)}, text...)
	}
	return append([]byte{byte(p)}, packed...)
}

// textOf gives the text again. What is damaged gives a text that is no JSON, and why, so
// that one such row stops no other.
func textOf(packed []byte) string {
	if len(packed) == 0 {
		return ""
	}
	p, rest := packing(packed[0]), packed[1:]
	if p == plain {
		return string(rest)
	}
	d := dictionaries()[p]
	if d == nil {
		return fmt.Sprintf("damaged: there is no packing %d", p)
	}
	if n, err := s2.DecodedLen(rest); err != nil || n > longest {
		return "damaged: its length"
	}
	text, err := d.Decode(nil, rest)
	if err != nil {
		return "damaged: " + err.Error()
	}
	return string(text)
}

// unpacked is a packed column as it is read.
type unpacked string

// Scan reads it.
func (u *unpacked) Scan(v any) error {
	switch v := v.(type) {
	case []byte:
		*u = unpacked(textOf(v))
	case nil:
		*u = ""
	default:
		return fmt.Errorf("%T is not packed", v)
	}
	return nil
}

// SQL can pack, and read what is packed: packed('states', text) and unpacked(column).
func init() {
	sqlite.MustRegisterDeterministicScalarFunction("packed", 2, func(_ *sqlite.FunctionContext, args []driver.Value) (driver.Value, error) {
		name, _ := args[0].(string)
		p, ok := packings[name]
		if !ok {
			return nil, fmt.Errorf("packed: there is no packing %v", args[0])
		}
		switch text := args[1].(type) {
		case string:
			return pack(p, text), nil
		case []byte: // text that may have a zero in it, where SQLite would end it
			return pack(p, string(text)), nil
		default:
			return nil, fmt.Errorf("packed: %T is no text", text)
		}
	})
	sqlite.MustRegisterDeterministicScalarFunction("unpacked", 1, func(_ *sqlite.FunctionContext, args []driver.Value) (driver.Value, error) {
		var u unpacked
		err := u.Scan(args[0])
		return string(u), err
	})
}

// briefAll makes the briefs of what was kept before there were any.
func briefAll(ctx context.Context, tx *sql.Tx) error {
	write, err := tx.PrepareContext(ctx, "UPDATE requests SET brief = ? WHERE id = ?")
	if err != nil {
		return err
	}
	defer func() { _ = write.Close() }() // it ends with its transaction, too
	for after := ""; ; {
		var id string
		var state unpacked
		err := tx.QueryRowContext(ctx, "SELECT id, state FROM requests WHERE length(brief) = 0 AND id > ? ORDER BY id LIMIT 1", after).Scan(&id, &state)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		} else if err != nil {
			return err
		}
		text := []byte(state) // lists leave out what cannot be read
		if s, err := decodeState(state); err == nil {
			brief := s.Brief()
			if text, err = json.Marshal(&brief); err != nil {
				return err
			}
		}
		if _, err := write.ExecContext(ctx, pack(states, string(text)), id); err != nil {
			return err
		}
		after = id
	}
}
