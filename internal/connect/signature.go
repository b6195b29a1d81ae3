package connect

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"strconv"
	"time"
)

// SignatureHeader and TimeHeader carry the signature of a report, and the Unix
// second it was made at.
const (
	SignatureHeader = "X-Signature-SHA256"
	TimeHeader      = "X-Signature-Time"
)

// staleAfter is how old, or how far ahead, the time of a signature may be.
const staleAfter = 5 * time.Minute

// Sign signs the body of a report: HMAC-SHA256 over the time, a dot and the
// body, in hexadecimal.
func Sign(secret string, at time.Time, body []byte) (signature, stamp string) {
	stamp = strconv.FormatInt(at.Unix(), 10)
	mac := hmac.New(sha256.New, []byte(secret))
	_, _ = fmt.Fprintf(mac, "%s.%s", stamp, body) // a hash never fails
	return hex.EncodeToString(mac.Sum(nil)), stamp
}

// Verify checks the signature of a report.
func Verify(secret, signature, stamp string, body []byte, now time.Time) bool {
	seconds, err := strconv.ParseInt(stamp, 10, 64)
	if err != nil || secret == "" {
		return false
	}
	at := time.Unix(seconds, 0)
	if now.Sub(at).Abs() > staleAfter {
		return false
	}
	right, _ := Sign(secret, at, body)
	return hmac.Equal([]byte(right), []byte(signature))
}
