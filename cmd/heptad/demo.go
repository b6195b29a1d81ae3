package main

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"sync"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/alexedwards/scs/sqlite3store"

	"heptad/internal/demo"
	"heptad/internal/store"
	"heptad/internal/web"
	"heptad/internal/work"
	page "heptad/web"
)

type demoCommand struct {
	Addr  string `default:"127.0.0.1:7070" help:"Address to serve at; of this computer only."`
	Data  string `default:"data" type:"path" help:"Folder of the data; made when it is missing."`
	Fresh bool   `help:"Throw the data away and begin anew."`
	Quiet bool   `help:"Begin with the few requests of a quiet week, not with those of a whole season."`
	Young bool   `help:"Without the two years that the company has lived before."`

	Limits web.Limits `embed:"" prefix:"limit-" group:"Limits"`
}

// Run serves the demo until it is told to stop.
func (c *demoCommand) Run(e *env) error {
	listener, err := listenLocally(c.Addr)
	if err != nil {
		return err
	}
	defer listener.Close()
	folder := demoFolder(c.Data)
	if err := folder.prepare(c.Fresh); err != nil {
		return err
	}
	mark, err := folder.mark()
	if err != nil {
		return err
	}
	kept, err := store.Open(e.ctx, c.Data)
	if err != nil {
		return err
	}
	defer kept.Close()
	loaded := mark == isLoaded
	links, err := store.Secret(c.Data, "links", !loaded)
	if err != nil {
		return err
	}
	sealed, err := store.Secret(c.Data, "connectors", !loaded)
	if err != nil {
		return err
	}
	systems, err := demo.StartSystems(c.Data, sealed, func(name string, err error) { e.log.Error("a simulator has stopped", "name", name, "error", err) })
	if err != nil {
		return err
	}
	defer systems.Stop()
	base := "http://" + listener.Addr().String()
	mailing := &work.Mailing{Poster: systems.SMTP, Base: base, Secret: links}
	settings := work.Settings{Store: kept, Clock: time.Now, Sealed: sealed, Log: e.log}
	if !loaded { // of what happened before today, no mail goes out
		settings.Connectors = demo.Connectors(kept, sealed, base, nil)
		if err := c.load(e, settings, systems); err != nil {
			return err
		}
		if err := folder.setMark(isLoaded); err != nil {
			return err
		}
	}
	settings.Mailing, settings.Connectors = mailing, demo.Connectors(kept, sealed, base, mailing)
	office, err := work.New(e.ctx, settings)
	if err != nil {
		return err
	}
	if err := systems.Wire(e.ctx, office); err != nil {
		return err
	}
	if err := office.Keeping.Settle(e.ctx, demo.Organisation); err != nil { // of a folder from before it was kept
		return err
	}
	handler, stopSessions, err := c.handler(e, office)
	if err != nil {
		return err
	}
	defer stopSessions()
	ctx, stop := context.WithCancel(e.ctx)
	var running sync.WaitGroup
	defer running.Wait()
	defer stop()
	running.Go(func() { office.Running.Run(ctx) })
	running.Go(func() {
		if err := c.live(ctx, folder, office); err != nil && ctx.Err() == nil {
			e.log.Error("the two years behind the demo could not be written", "error", err)
		}
	})
	fmt.Printf("Heptad is at http://%s\n", listener.Addr())
	fmt.Printf("Mail is simulated: its mailbox is at %s\n", systems.URLs["mail"])
	for _, key := range systems.Keys {
		fmt.Printf("%s is simulated: its page is at %s\n", systems.All[key].Called(), systems.URLs[key])
	}
	fmt.Printf("A sign-in service is simulated at %s; a Heptad of yours can try it with --oidc-issuer %[1]s --oidc-client-id %s --oidc-client-secret %s\n", systems.URLs["sign-in"], demo.SignInClient.ID, demo.SignInClient.Secret)
	return serve(ctx, listener, handler)
}

// listenLocally refuses every address that others could reach, as anybody can
// sign in to the demo.
func listenLocally(addr string) (net.Listener, error) {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return nil, fmt.Errorf("%q is no address: write it like 127.0.0.1:7070", addr)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return nil, fmt.Errorf("the demo lets anybody sign in, so it listens on this computer only, not at %q", host)
	}
	return net.Listen("tcp", addr)
}

// load makes the company.
func (c *demoCommand) load(e *env, settings work.Settings, systems *demo.Systems) error {
	clock := &demo.Clock{}
	settings.Clock = clock.Now
	office, err := work.New(e.ctx, settings)
	if err != nil {
		return err
	}
	if err := systems.Wire(e.ctx, office); err != nil {
		return err
	}
	return demo.Load(e.ctx, office, clock, time.Now(), !c.Quiet)
}

// live writes the two years that the company has behind it, while the demo is used already.
// What was cut off is gone on with at the next start.
func (c *demoCommand) live(ctx context.Context, folder demoFolder, office *work.Office) error {
	until, whole, err := folder.history(time.Now())
	if err != nil || whole || c.Quiet || c.Young {
		return err
	}
	history, err := demo.NewHistory(ctx, office, until)
	if err != nil {
		return err
	}
	if err := history.Write(); err != nil {
		return err
	}
	fmt.Printf("The two years behind the company are there: %d requests more, to be measured\n", history.Done.Load())
	return folder.historyIsWhole(until)
}

func (c *demoCommand) handler(e *env, office *work.Office) (*web.Server, func(), error) {
	files, err := page.Files()
	if err != nil {
		return nil, nil, err
	}
	entries, err := demo.Door()
	if err != nil {
		return nil, nil, err
	}
	door := make([]web.DoorEntry, len(entries))
	for i, entry := range entries {
		p, _ := office.Company().Person(entry.Person)
		door[i] = web.DoorEntry{Person: p.ID, Name: p.Name, Title: p.Title, Why: entry.Why}
	}
	sessions := sqlite3store.New(office.Store.Sessions())
	server, err := web.New(web.Settings{Office: office, Sessions: sessions, Page: files, Door: door, Limits: c.Limits, Log: e.log})
	return server, sessions.StopCleanup, err
}

// serve answers until the context ends, then lets what is under way finish.
func serve(ctx context.Context, listener net.Listener, handler *web.Server) error {
	server := &http.Server{
		Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute, IdleTimeout: 2 * time.Minute,
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	server.RegisterOnShutdown(handler.EndStreams)
	ending, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return server.Shutdown(ending)
}
