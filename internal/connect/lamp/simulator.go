package lamp

import (
	"net/http"

	"heptad/internal/simulate"
)

// System is the lamp. It keeps nothing: a lamp is lit or it is not.
type System struct{ simulate.System }

// Handler serves the lamp: PUT /lamp lights it.
func (l *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("PUT /lamp", func(w http.ResponseWriter, _ *http.Request) { simulate.Reply(w, http.StatusOK, struct{}{}) })
	return l.Serve(mux, func() [][]string { return [][]string{{"Lamp"}} })
}
