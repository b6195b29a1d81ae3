package web

import (
	"testing"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSessionsAreReadAsTheyWereKept(t *testing.T) {
	until := time.Date(2026, 9, 14, 8, 0, 0, 123, time.UTC)
	values := map[string]any{"person": "sarmento", "roles": "", "used": int64(1<<60 + 1), "bound": true}
	for name, codec := range map[string]scs.Codec{"as now": inJSON{}, "as before": scs.GobCodec{}} {
		t.Run(name, func(t *testing.T) {
			data, err := codec.Encode(until, values)
			require.NoError(t, err)
			deadline, got, err := inJSON{}.Decode(data)
			require.NoError(t, err)
			assert.True(t, until.Equal(deadline))
			assert.Equal(t, values, got)
		})
	}
	for _, damaged := range []string{"", "{", `{"values":{"used":1.5}}`, "x"} {
		_, _, err := inJSON{}.Decode([]byte(damaged))
		assert.Error(t, err, damaged)
	}
}

func BenchmarkASessionIsRead(b *testing.B) {
	for name, codec := range map[string]scs.Codec{"JSON": inJSON{}, "gob": scs.GobCodec{}} {
		data, err := codec.Encode(time.Now(), map[string]any{"person": "3PRFQ3Q5QKJ7", "roles": "administrator", "used": int64(1790000000), "proved": int64(1790000000), "id": "ABCDEFGHIJKLMNOPQRSTUVWXYZ", "bound": false})
		require.NoError(b, err)
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				_, _, _ = codec.Decode(data)
			}
		})
	}
}
