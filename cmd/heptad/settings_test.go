package main

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"log/slog"
	"math/big"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/alecthomas/kong"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// parsed reads a command line, as the program does.
func parsed(t *testing.T, args ...string) (*commands, *kong.Context, error) {
	t.Helper()
	var c commands
	cli, err := kong.New(&c, kong.Name("heptad"), kong.Exit(func(int) { t.Error("it ends") }))
	require.NoError(t, err)
	ctx, err := cli.Parse(args)
	return &c, ctx, err
}

func settingsFile(t *testing.T, text string) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "heptad.yaml")
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	return path
}

// The command line goes before the environment, and that before the file.
func TestWhereSettingsComeFrom(t *testing.T) {
	path := settingsFile(t, "addr: 127.0.0.1:1\ndata: there\nmail:\n  addr: mail.example:587\n  from: heptad@halvorsenito.example\ntrusted-proxies: [10.0.0.7, 10.1.0.0/16]\noidc:\n  roles:\n    checkers: auditor\n    keepers: administrator\nlimit-streams: 3\n")
	t.Setenv("HEPTAD_MAIL_ADDR", "mail.example:25")
	t.Setenv("HEPTAD_ADDR", "127.0.0.1:2")
	c, _, err := parsed(t, "serve", "--config", path, "--addr", "127.0.0.1:3")
	require.NoError(t, err)
	s := c.Serve.settings
	assert.Equal(t, "127.0.0.1:3", s.Addr)
	assert.Equal(t, "mail.example:25", s.Mail.Addr)
	assert.Equal(t, "heptad@halvorsenito.example", s.Mail.From)
	assert.Equal(t, filepath.Join(filepath.Dir(path), "there"), s.Data, "meant from where the file is")
	assert.Equal(t, []string{"10.0.0.7", "10.1.0.0/16"}, s.Proxies)
	assert.Equal(t, map[string]string{"checkers": "auditor", "keepers": "administrator"}, s.OIDC.Roles)
	assert.Equal(t, 3, s.Limits.Streams)
	assert.NoError(t, s.check())
	c, _, err = parsed(t, "serve", "--config", path)
	require.NoError(t, err)
	assert.Equal(t, "127.0.0.1:2", c.Serve.Addr)
}

// What is misspelt or impossible ends the start, with its line.
func TestSettingsThatCannotBe(t *testing.T) {
	for text, want := range map[string]string{
		"adr: x\n":                            `line 1: there is no setting "adr"`,
		"addr: 127.0.0.1:1\nmail:\n  to: x\n": `line 3: there is no setting "mail.to"`,
		"log: xml\n":                          "line 1: log cannot be xml: write one of text,json",
		"limit-streams: many\n":               "line 1: limit-streams cannot be many",
		"limit-stalled: soon\n":               "line 1: limit-stalled cannot be soon",
		"addr: a\naddr: b\n":                  "line 2: addr stands there twice",
		"mail-addr: a\nmail:\n  addr: b\n":    "line 3: mail-addr stands there twice",
		"- addr\n":                            "line 1: write settings as name: value",
		"addr: [\n":                           "yaml",
	} {
		_, _, err := parsed(t, "serve", "--config", settingsFile(t, text))
		assert.ErrorContains(t, err, want, text)
	}
	_, _, err := parsed(t, "serve", "--config", filepath.Join(t.TempDir(), "none.yaml"))
	assert.ErrorContains(t, err, "the settings cannot be read")
	_, _, err = parsed(t, "serve", "--config", settingsFile(t, "# nothing\n"))
	assert.NoError(t, err)
}

// What contradicts itself is told in a sentence that says what to write.
func TestSettingsThatContradict(t *testing.T) {
	mail := []string{"--mail-addr=m:25", "--mail-from=h@x.example"}
	for _, c := range []struct {
		args []string
		want string
	}{
		{[]string{"--addr=nowhere"}, "addr:"}, {[]string{"--addr=0.0.0.0:7171"}, "public: others can reach"},
		{[]string{"--public=heptad.example"}, "is no address people can open"}, {[]string{"--public=https://heptad.example/there"}, "is no address people can open"},
		{[]string{"--public=http://heptad.example"}, "passwords would travel"}, {[]string{"--cert=c.pem"}, "cert and key belong together"},
		{[]string{"--cert=c.pem", "--key=k.pem", "--public=http://127.0.0.1:1"}, "there is a certificate"},
		{[]string{"--mail-addr=m:25"}, "mail.from"}, {[]string{"--mail-from=h@x.example"}, "mail.addr"}, {append(mail, "--mail-user=u"), "belong together"},
		{append(mail, "--mail-user=u", "--mail-password=p", "--mail-tls=none"), "the password would travel"},
		{[]string{"--trusted-proxies=proxy.example"}, "neither an address nor a network"},
		{[]string{"--oidc-client-id=h"}, "oidc.issuer"}, {[]string{"--oidc-issuer=accounts.example"}, "is no address"}, {[]string{"--oidc-issuer=http://accounts.example"}, "begin it with https"},
		{[]string{"--oidc-issuer=https://accounts.example"}, "oidc.client-id"}, {[]string{"--oidc-issuer=https://accounts.example", "--oidc-client-id=h", "--oidc-client-secret=s", "--oidc-roles=a=king"}, "no role"},
	} {
		parsed, _, err := parsed(t, append([]string{"serve"}, c.args...)...)
		require.NoError(t, err, c.args)
		assert.ErrorContains(t, parsed.Serve.check(), c.want, c.args)
	}
	for _, args := range [][]string{nil, {"--public=https://heptad.example", "--addr=0.0.0.0:7171"}, mail, {"--trusted-proxies=10.0.0.7,fd00::/8,::1"}, {"--oidc-issuer=http://127.0.0.1:1", "--oidc-client-id=h", "--oidc-client-secret=s"}} {
		parsed, _, err := parsed(t, append([]string{"serve"}, args...)...)
		require.NoError(t, err)
		assert.NoError(t, parsed.Serve.check(), args)
	}
}

// made writes a certificate of a name that ends at a time, with its key.
func made(t *testing.T, dir, name string, until time.Time) (cert, key string) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{SerialNumber: big.NewInt(time.Now().UnixNano()), Subject: pkix.Name{CommonName: name}, DNSNames: []string{name}, NotBefore: time.Now().Add(-48 * time.Hour), NotAfter: until}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &private.PublicKey, private)
	require.NoError(t, err)
	secret, err := x509.MarshalECPrivateKey(private)
	require.NoError(t, err)
	cert, key = filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	require.NoError(t, os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: secret}), 0o600))
	return cert, key
}

func TestCertificates(t *testing.T) {
	log := slog.New(slog.DiscardHandler)
	read := func(public, name string, until time.Time) (*certificate, error) {
		s := &serveCommand{}
		s.Public = public
		s.Cert, s.Key = made(t, t.TempDir(), name, until)
		return s.certificate(log)
	}
	tomorrow := time.Now().Add(24 * time.Hour)
	_, err := read("https://heptad.example", "heptad.example", time.Now().Add(-time.Hour))
	assert.ErrorContains(t, err, "expired on")
	_, err = read("https://heptad.example", "other.example", tomorrow)
	assert.ErrorContains(t, err, "is not of heptad.example")
	c, err := read("https://heptad.example:8443/", "heptad.example", tomorrow)
	require.NoError(t, err)
	first, err := c.get(nil)
	require.NoError(t, err)

	// One that comes in its place is taken; one that cannot be read leaves it.
	dir := filepath.Dir(c.cert)
	require.NoError(t, os.WriteFile(c.cert, []byte("nonsense"), 0o600))
	later := time.Now().Add(time.Minute)
	require.NoError(t, os.Chtimes(c.cert, later, later))
	c.looked = time.Time{}
	still, err := c.get(nil)
	require.NoError(t, err)
	assert.Equal(t, first.Leaf.SerialNumber, still.Leaf.SerialNumber)
	made(t, dir, "heptad.example", tomorrow)
	require.NoError(t, os.Chtimes(c.cert, later.Add(time.Minute), later.Add(time.Minute)))
	c.looked = time.Time{}
	next, err := c.get(nil)
	require.NoError(t, err)
	assert.NotEqual(t, first.Leaf.SerialNumber, next.Leaf.SerialNumber)

	s := &serveCommand{}
	s.Cert, s.Key = filepath.Join(dir, "none.pem"), c.key
	_, err = s.certificate(log)
	assert.ErrorContains(t, err, "cannot be read")
	s = &serveCommand{}
	none, err := s.certificate(log)
	require.NoError(t, err)
	assert.Nil(t, none)
}
