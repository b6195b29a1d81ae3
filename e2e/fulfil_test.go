package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// The second factor needs nobody: it is done within five seconds of sending, and
// what came of it is among what one has.
func TestDoneWithinSecondsByNobody(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Davi Sarmento")
	b.open("/ask/new-second-sign-in-factor")
	b.click("Code on the phone")
	b.click("No")
	b.see("Likely")
	sent := time.Now()
	b.click("Send")
	b.see("Your turn: is it right?")
	assert.Less(t, time.Since(sent), 5*time.Second)
	b.see("Code for the first use")
	b.open("/follow/have")
	b.see("Second factor: Code on the phone")
	b.open("/messages")
	b.see("Your new second factor")
}

// A seat in the planner is assigned by itself, can be extended, and is taken back
// with the request.
func TestASeatAndItsExtension(t *testing.T) {
	t.Parallel()
	b := startServer(t).openBrowser()
	b.signIn("Ragnhild Quist")
	b.open("/ask/voyage-planner-seat")
	b.click("Full seat")
	b.click("Send")
	b.see("Your turn: is it right?")
	b.open("/follow/have")
	b.see("Voyage planner seat")
	b.click("Extend it")
	b.see("Do you extend one you have?")
	b.see("Now:")
	b.click("Full seat")
	b.click("Send")
	b.see("Your turn: is it right?")
}
