package simulate

import (
	"strings"
	"testing"

	"heptad/internal/core/coretest"
)

// A letter is read or refused, however its parts are nested.
func FuzzReadMail(f *testing.F) {
	f.Add("Subject: =?utf-8?q?A?=\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nwords\r\n--b--\r\n")
	f.Add("Content-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\n")
	f.Fuzz(func(t *testing.T, letter string) {
		coretest.Bounded(t, 100, func() { _, _ = read(strings.NewReader(letter)) })
	})
}
