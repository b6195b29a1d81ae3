package work

import (
	"crypto/hmac"
	"encoding/base64"
	"strings"
)

// purpose is what a link of a mail is for: one for one thing does nothing else.
type purpose string

// The purposes. Who holds the link does it in the place of the mail's reader.
const (
	toDecide      purpose = "decide"
	toRate        purpose = "rate"
	toSetPassword purpose = "password"
)

// token signs the ID of a message for a purpose.
func (m *Mailing) token(to purpose, id string) string {
	return id + "." + base64.RawURLEncoding.EncodeToString(signed(m.Secret, string(to), id))
}

// idOf is the ID of the message of a token; false for one that is altered, is for another
// purpose, or comes where no mail goes out.
func (m *Mailing) idOf(to purpose, token string) (string, bool) {
	end := max(0, strings.LastIndexByte(token, '.'))
	id := token[:end]
	given, err := base64.RawURLEncoding.DecodeString(strings.TrimPrefix(token[end:], "."))
	return id, m != nil && err == nil && hmac.Equal(given, signed(m.Secret, string(to), id))
}
