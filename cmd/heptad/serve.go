package main

import (
	"context"
	"crypto/tls"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/sqlite3store"

	"heptad/internal/connect"
	"heptad/internal/connect/systems"
	"heptad/internal/store"
	"heptad/internal/web"
	"heptad/internal/work"
	page "heptad/web"
)

// serveCommand runs a real company.
type serveCommand struct {
	settings `embed:""`
	Trial    bool `help:"Serve a copy that was made for trying: every screen says so, and nothing leaves it."`
}

// Run serves until it is told to stop.
func (c *serveCommand) Run(e *env) error {
	if err := c.check(); err != nil {
		return err
	}
	if c.Log == "json" {
		e.log = slog.New(slog.NewJSONHandler(os.Stderr, nil))
	}
	if _, err := os.Stat(filepath.Join(c.Data, markFile)); err == nil {
		return fmt.Errorf("the folder %s is that of a demo: name another with --data", c.Data)
	}
	if err := c.asItIs(); err != nil {
		return err
	}
	certificate, err := c.certificate(e.log)
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", c.Addr)
	if err != nil {
		return fmt.Errorf("nobody can be served at %s: %w", c.Addr, err)
	}
	defer listener.Close()
	if _, err := c.secrets(); err != nil { // before anything is touched
		return err
	}
	if err := c.beforeUpgrade(e); err != nil {
		return err
	}
	kept, err := store.Open(e.ctx, c.Data)
	if err != nil {
		return err
	}
	defer kept.Close()
	if err := kept.SettleKey(e.ctx, c.keys(), "connectors"); err != nil {
		return err
	}
	secrets, err := c.secrets()
	if err != nil {
		return err
	}
	if c.Public == "" {
		c.Public = scheme(certificate) + "://" + listener.Addr().String()
	}
	c.Public = strings.TrimRight(c.Public, "/")
	office, err := c.office(e, kept, secrets)
	if err != nil {
		return err
	}
	handler, stopSessions, err := c.handler(e, office)
	if err != nil {
		return err
	}
	defer stopSessions()
	link, err := office.Entering.EntryLink(e.ctx)
	if err != nil {
		return err
	}
	ctx, stop := context.WithCancel(e.ctx)
	var running sync.WaitGroup
	defer running.Wait()
	defer stop()
	if err := office.Designing.Renew(ctx); err != nil {
		e.log.Error("what came with the program was not brought up to date", "error", err)
	}
	running.Go(func() { office.Running.Run(ctx) })
	if link != "" {
		fmt.Printf("Move in: %s/move-in/%s\n", c.Public, link)
	}
	fmt.Printf("Heptad is at %s\n", c.Public)
	if certificate != nil {
		listener = tls.NewListener(listener, &tls.Config{MinVersion: tls.VersionTLS12, GetCertificate: certificate.get, NextProtos: []string{"h2", "http/1.1"}})
	}
	return serve(ctx, listener, handler)
}

func scheme(c *certificate) string {
	if c != nil {
		return "https"
	}
	return "http"
}

// asItIs refuses to serve a copy for trying as if it were real, and what is real as such a
// copy.
func (c *serveCommand) asItIs() error {
	switch trial := store.IsTrial(c.Data); {
	case trial && !c.Trial:
		return fmt.Errorf("the folder %s is a copy for trying: serve it with --trial", c.Data)
	case c.Trial && !trial:
		return fmt.Errorf("the folder %s is no copy for trying: make one with heptad copy --trial, and nothing of it was touched", c.Data)
	}
	return nil
}

// keys is the folder of the keys. A copy for trying has its own.
func (c *serveCommand) keys() string {
	if c.Keys == "" || c.Trial {
		return c.Data
	}
	return c.Keys
}

// secrets are the keys by name. They are made before there is any data, and never after.
func (c *serveCommand) secrets() (map[string][]byte, error) {
	_, err := os.Stat(filepath.Join(c.Data, "heptad.db"))
	fresh, all := errors.Is(err, fs.ErrNotExist), map[string][]byte{}
	for _, name := range store.KeyNames {
		if all[name], err = store.Secret(c.keys(), name, fresh); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// office makes the office of the company.
func (c *serveCommand) office(e *env, kept *store.Store, secrets map[string][]byte) (*work.Office, error) {
	links, sealed := secrets["links"], secrets["connectors"]
	for name, key := range secrets {
		if err := kept.KnowKey(e.ctx, name, key); err != nil {
			return nil, err
		}
	}
	settings := work.Settings{Store: kept, Service: c.OIDC.service(c.Public), Clock: time.Now, Sealed: sealed, Log: e.log, Trial: c.Trial}
	if c.Trial {
		settings.Mailing = &work.Mailing{Poster: work.TrialPoster{Store: kept, Clock: time.Now}, Base: c.Public, Secret: links}
		settings.Connectors = systems.ForTrial(time.Now)
		return work.New(e.ctx, settings)
	}
	host := connect.Host{Base: c.Public, Reach: func(key string) connect.Reach { return work.Reach(kept, sealed, key) }, Link: func(string) string { return "" }}
	var err error
	if settings.Backups, err = c.backups(); err != nil {
		return nil, err
	}
	if smtp, ok := c.Mail.smtp(); ok {
		settings.Mailing = &work.Mailing{Poster: smtp, Base: c.Public, Secret: links}
		host.Poster, host.Link = smtp, work.SupplierLink(c.Public, links)
	}
	settings.Connectors = systems.Connectors(host)
	return work.New(e.ctx, settings)
}

func (c *serveCommand) handler(e *env, office *work.Office) (*web.Server, func(), error) {
	files, err := page.Files()
	if err != nil {
		return nil, nil, err
	}
	proxies, err := c.proxies()
	if err != nil {
		return nil, nil, err
	}
	sessions := sqlite3store.New(office.Store.Sessions())
	server, err := web.New(web.Settings{Office: office, Sessions: sessions, Page: files, Public: c.Public, Proxies: proxies, Limits: c.Limits, Log: e.log})
	return server, sessions.StopCleanup, err
}

// certificate is what people know the server by; it is read again when its file changes.
type certificate struct {
	cert, key string
	log       *slog.Logger

	mu     sync.Mutex
	pair   *tls.Certificate
	read   time.Time // of the file, as it was read
	looked time.Time
}

// lookAgain is how often the file of a certificate is looked at, at most.
const lookAgain = 5 * time.Second

// certificate reads the certificate; nil when there is none.
func (c *serveCommand) certificate(log *slog.Logger) (*certificate, error) {
	if c.Cert == "" {
		return nil, nil
	}
	out := &certificate{cert: c.Cert, key: c.Key, log: log}
	if err := out.load(); err != nil {
		return nil, err
	}
	if err := out.fits(c.Public, time.Now()); err != nil {
		return nil, err
	}
	return out, nil
}

func (c *certificate) load() error {
	info, err := os.Stat(c.cert)
	if err != nil {
		return fmt.Errorf("the certificate cannot be read: %w", err)
	}
	pair, err := tls.LoadX509KeyPair(c.cert, c.key)
	if err != nil {
		return fmt.Errorf("the certificate %s and the key %s do not fit together: %w", c.cert, c.key, err)
	}
	c.pair, c.read = &pair, info.ModTime()
	return nil
}

// fits reports a certificate that is over, or of another name than people use.
func (c *certificate) fits(public string, now time.Time) error {
	leaf := c.pair.Leaf
	if now.After(leaf.NotAfter) {
		return fmt.Errorf("the certificate %s expired on %s: nobody's browser would open Heptad. Put a new one in its place", c.cert, leaf.NotAfter.Format(time.DateOnly))
	}
	host := strings.TrimPrefix(public, "https://")
	if name, _, err := net.SplitHostPort(host); err == nil {
		host = name
	}
	if host != "" && leaf.VerifyHostname(strings.TrimRight(host, "/")) != nil {
		return fmt.Errorf("the certificate %s is not of %s: nobody's browser would open Heptad", c.cert, host)
	}
	return nil
}

// get gives the certificate, read anew when its file has changed. One that cannot be
// read leaves the one before in force.
func (c *certificate) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	if now := time.Now(); now.Sub(c.looked) > lookAgain {
		c.looked = now
		if info, err := os.Stat(c.cert); err == nil && !info.ModTime().Equal(c.read) {
			if err := c.load(); err != nil {
				c.log.Error("the new certificate cannot be used; the one before stays", "error", err)
			} else {
				c.log.Info("the certificate was read again", "until", c.pair.Leaf.NotAfter)
			}
		}
	}
	return c.pair, nil
}

// beforeUpgrade keeps a backup of data that this program is going to bring up to date.
func (c *serveCommand) beforeUpgrade(e *env) error {
	in, err := store.Inspect(e.ctx, c.Data)
	if err != nil {
		if _, missing := os.Stat(filepath.Join(c.Data, "heptad.db")); errors.Is(missing, fs.ErrNotExist) {
			return nil // a new folder
		}
		return err
	}
	file, program, err := in.Version(e.ctx)
	if err := errors.Join(err, in.Close()); err != nil {
		return err
	}
	if file >= program {
		return nil // or newer, which the store refuses
	}
	name := fmt.Sprintf("%s-before-%d-%s.heptad", strings.TrimRight(c.Data, "/"), program, time.Now().UTC().Format("20060102-150405"))
	if err := store.Backup(e.ctx, c.Data, name, ""); err != nil {
		return fmt.Errorf("the data is of version %d and is to be brought to %d, but no backup could be made of it, so nothing was touched: %w", file, program, err)
	}
	fmt.Printf("The data is brought from version %d to %d. As it was, it is kept in %s\n", file, program, name)
	return nil
}
