package e2e

import (
	"slices"

	"github.com/stretchr/testify/require"

	"heptad/internal/core/offering"
)

// publish makes an offering of the access service and publishes it. Of what is found in it
// only some codes are accepted.
func (s *server) publish(name, key string, write func(*offering.Document), codes ...string) {
	s.t.Helper()
	owner := s.as("falkenau")
	var opened struct {
		Document offering.Document
		Revision int
	}
	require.NoError(s.t, owner.send("POST", "/api/design", map[string]string{"name": name, "service": "access"}, &opened))
	write(&opened.Document)
	var saved struct {
		Revision int
		Findings []struct{ Code, Place string }
	}
	require.NoError(s.t, owner.send("PUT", "/api/design/"+key, map[string]any{"document": opened.Document, "revision": opened.Revision}, &saved))
	accepted := []string{}
	for _, f := range saved.Findings {
		if slices.Contains(codes, f.Code) {
			accepted = append(accepted, f.Code+" "+f.Place)
		}
	}
	require.NoError(s.t, owner.send("POST", "/api/design/"+key+"/publish", map[string]any{"revision": saved.Revision, "accepted": accepted}, nil))
}
