package e2e

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A fault of one is opened to all: two others join it from Ask, and one has sent the same;
// ended once, it is ended for all, and each hears.
func TestMeToo(t *testing.T) {
	t.Parallel()
	s := startServer(t)
	henrike, davi, ysolde := s.openBrowser(), s.openBrowser(), s.openBrowser()
	henrike.signIn("Henrike Falkenau")
	s.publishQuick()
	main, same := s.asksQuick("sarmento"), s.asksQuick("quist")
	var sheet struct{ Reference string }
	require.NoError(t, s.as("falkenau").send("GET", "/api/requests/"+main, nil, &sheet))

	henrike.open("/follow/" + same)
	henrike.press(`[data-suggest] summary`)
	henrike.there(`[data-suggested="` + sheet.Reference + `"]`)
	henrike.set(`[data-field=tie-kind]`, "sameAs")
	henrike.write(`[data-field=tie-reference]`, sheet.Reference)
	henrike.press(`[data-do=tie]`)
	henrike.there(`[data-tie=sameAs]`)
	henrike.open("/follow/" + main)
	henrike.press(`[data-others] summary`)
	henrike.write(`[data-field=fault]`, "The badge printer is dark.")
	henrike.press(`[data-do=open-fault]`)
	henrike.there(`[data-fault]`)

	for login, b := range map[string]*browser{"Davi Sarmento": davi, "Ysolde Marrec": ysolde} {
		b.signIn(login)
		b.open("/ask/quick-badge")
		b.see("The badge printer is dark.")
	}
	davi.see("You have joined")
	ysolde.write(`[data-field=line]`, "Since noon.")
	ysolde.press(`[data-do=join]`)
	ysolde.there(`[data-joined]`)
	ysolde.see("3 people have it")
	okonjo := s.openBrowser()
	okonjo.signIn("Bertil Okonjo")
	okonjo.open("/ask/quick-badge")
	okonjo.press(`[data-do=join]`)
	okonjo.there(`[data-joined]`)
	ysolde.open("/follow/have")
	ysolde.see("“Since noon.”")
	ysolde.see("being worked on")

	henrike.reload()
	henrike.there(`[data-touches="4"]`)
	henrike.press(`[data-do=close]`)
	henrike.there(`[data-ends]`)
	henrike.write(`[data-field=closing-word]`, "It prints again.")
	henrike.press(`[data-do=close-now]`)
	henrike.see("This request is closed.")
	for _, b := range []*browser{ysolde, okonjo} {
		b.open("/messages")
		b.see("It has ended: The badge printer is dark.")
		b.see("It is mended.")
	}
	quist := s.openBrowser()
	quist.signIn("Ragnhild Quist")
	quist.open("/follow/" + same)
	quist.see("It prints again.")
	quist.see("This request is closed.")
	ysolde.open("/follow/have")
	ysolde.there(`[data-joined=mended]`)
	ysolde.open("/ask/quick-badge")
	ysolde.see("Quick badge")
	ysolde.gone("The badge printer is dark.")
}
