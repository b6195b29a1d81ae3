package connect_test

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"io"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/emersion/go-sasl"
	"github.com/emersion/go-smtp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
)

// postOffice is a mail server that lets in who knows the password, and counts what it
// was given.
type postOffice struct {
	signedIn, taken int
	open            bool // it takes mails from who has not signed in
}

type talk struct {
	*postOffice
	in bool
}

func (*talk) AuthMechanisms() []string { return []string{sasl.Plain} }
func (s *talk) Auth(string) (sasl.Server, error) {
	return sasl.NewPlainServer(func(_, user, password string) error {
		if user != "heptad" || password != "right" {
			return errors.New("wrong")
		}
		s.in = true
		s.signedIn++
		return nil
	}), nil
}
func (*talk) Reset()        {}
func (*talk) Logout() error { return nil }
func (s *talk) Mail(string, *smtp.MailOptions) error {
	if !s.in && !s.open {
		return smtp.ErrAuthRequired
	}
	return nil
}
func (*talk) Rcpt(string, *smtp.RcptOptions) error { return nil }
func (s *talk) Data(r io.Reader) error {
	s.taken++
	_, err := io.Copy(io.Discard, r)
	return err
}

// certificateOf makes a certificate for a name that those trust who read the file.
func certificateOf(t *testing.T, name, file string) tls.Certificate {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	c := &x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: name}, NotAfter: time.Now().Add(time.Hour), IsCA: true, BasicConstraintsValid: true}
	if ip := net.ParseIP(name); ip != nil {
		c.IPAddresses = []net.IP{ip}
	} else {
		c.DNSNames = []string{name}
	}
	der, err := x509.CreateCertificate(rand.Reader, c, c, &key.PublicKey, key)
	require.NoError(t, err)
	out, err := os.OpenFile(file, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600)
	require.NoError(t, err)
	require.NoError(t, pem.Encode(out, &pem.Block{Type: "CERTIFICATE", Bytes: der}))
	require.NoError(t, out.Close())
	return tls.Certificate{Certificate: [][]byte{der}, PrivateKey: key}
}

// Mail goes out over TLS, to a server that is who it says, by who knows the password; else
// nothing goes out.
func TestMailServers(t *testing.T) {
	trusted := filepath.Join(t.TempDir(), "roots.pem")
	t.Setenv("SSL_CERT_FILE", trusted)
	good, other := certificateOf(t, "127.0.0.1", trusted), certificateOf(t, "mail.example", trusted)
	for name, c := range map[string]struct {
		tls        connect.SMTPTLS
		has        *tls.Certificate
		implicit   bool
		password   string
		goes, open bool
	}{
		"STARTTLS, signed in":         {tls: connect.TLSRequired, has: &good, password: "right", goes: true},
		"STARTTLS, wrong password":    {tls: connect.TLSRequired, has: &good, password: "wrong"},
		"STARTTLS, not signed in":     {tls: connect.TLSRequired, has: &good},
		"the server has no STARTTLS":  {tls: connect.TLSRequired, open: true},
		"certificate of another name": {tls: connect.TLSRequired, has: &other, password: "right"},
		"TLS from the first byte":     {tls: connect.TLSImplicit, has: &good, implicit: true, password: "right", goes: true},
		"TLS where there is none":     {tls: connect.TLSImplicit, open: true},
		"none, as was asked for":      {tls: connect.TLSNone, open: true, goes: true},
	} {
		t.Run(name, func(t *testing.T) {
			office := &postOffice{open: c.open}
			server := smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &talk{postOffice: office}, nil }))
			server.Domain = "127.0.0.1"
			l, err := net.Listen("tcp", "127.0.0.1:0")
			require.NoError(t, err)
			addr := l.Addr().String()
			if c.has != nil {
				server.TLSConfig = &tls.Config{Certificates: []tls.Certificate{*c.has}, MinVersion: tls.VersionTLS12}
				if c.implicit {
					l = tls.NewListener(l, server.TLSConfig)
				}
			}
			go func() { _ = server.Serve(l) }()
			t.Cleanup(func() { _ = server.Close() })
			s := connect.SMTP{Addr: addr, From: "heptad@halvorsenito.example", Name: "Heptad", TLS: c.tls}
			if c.password != "" {
				s.User, s.Password = "heptad", c.password
			}
			err = s.Post(t.Context(), connect.Mail{ID: "1", To: "a@halvorsenito.example", Subject: "Hello", Parts: []connect.Part{{Text: "Hello."}}})
			reached := s.Try(t.Context())
			if c.goes {
				require.NoError(t, err)
				require.NoError(t, reached)
				assert.Equal(t, 1, office.taken, "and trying sends nothing")
				return
			}
			require.Error(t, err)
			assert.Zero(t, office.taken)
			if name != "STARTTLS, not signed in" { // whether one may send shows only by sending
				assert.Error(t, reached)
			}
		})
	}
}
