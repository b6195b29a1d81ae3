package demo

import (
	"context"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"net/http"
	"path/filepath"
	"slices"
	"time"

	"heptad/internal/connect"
	"heptad/internal/connect/systems"
	"heptad/internal/simulate"
	"heptad/internal/simulate/provider"
	"heptad/internal/store"
	"heptad/internal/work"
)

// open are the systems that anybody may call, and sensitive what of a system an
// administrator wants to be asked about, by key of the connector.
var (
	open      = map[string]bool{"web": true}
	sensitive = map[string]string{"directory": "bridge"}
)

// Systems are the simulated systems of the company, each on a port of its own.
type Systems struct {
	All    map[string]simulate.Simulator // by key of the connector
	Keys   []string                      // of the connectors, in their order
	Mail   *simulate.Mail
	SMTP   connect.SMTP      // how mail reaches the mail server
	URLs   map[string]string // of their pages, by key of the connector; "mail" is the mailbox, "sign-in" the sign-in service
	secret string
	stops  []func() error
}

// seeds are what systems have done before Heptad, by key of the connector, in the
// shape that each says.
//
//go:embed seeds
var seeds embed.FS

// seedOf is the seed of a system; nil for none. The directory knows the people.
func seedOf(key string) ([]byte, error) {
	seed, err := seeds.ReadFile("seeds/" + key + ".json")
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil || key != "directory" {
		return seed, err
	}
	company, err := Company()
	if err != nil {
		return nil, err
	}
	whole := map[string]any{}
	if err := json.Unmarshal(seed, &whole); err != nil {
		return nil, err
	}
	accounts := make([]map[string]string, len(company.Persons))
	for i, p := range company.Persons {
		accounts[i] = map[string]string{"userName": p.Login, "name": p.Name, "title": p.Title, "department": p.Department, "email": p.Email}
	}
	whole["accounts"] = accounts
	return json.Marshal(whole)
}

// StartSystems starts all simulators; they keep what they do in files below a
// folder. Broken is told when one of them stops by itself.
func StartSystems(folder string, secret []byte, broken func(name string, err error)) (*Systems, error) {
	file := func(name string) string { return filepath.Join(folder, "simulators", name+".json") }
	sum := sha256.Sum256(append([]byte("simulators "), secret...))
	s := &Systems{All: map[string]simulate.Simulator{}, URLs: map[string]string{}, secret: hex.EncodeToString(sum[:16])}
	failed := func(err error) (*Systems, error) {
		s.Stop()
		return nil, err
	}
	for _, m := range systems.All {
		if m.Simulate == nil {
			continue
		}
		seed, err := seedOf(m.Key)
		if err != nil {
			return failed(err)
		}
		simulator, err := m.Simulate(simulate.Setup{Path: file(m.Key), Seed: seed, Secret: s.secret})
		if err != nil {
			return failed(fmt.Errorf("%s: %w", m.Key, err))
		}
		if !open[m.Key] {
			simulator.Guard(s.secret)
		}
		s.All[m.Key], s.Keys = simulator, append(s.Keys, m.Key)
		if err := s.serve(m.Key, simulator.Handler(), broken); err != nil {
			return failed(err)
		}
	}
	var err error
	if s.Mail, err = simulate.OpenMail(file("mail")); err != nil {
		return failed(err)
	}
	if err := s.serve("mail", s.Mail.Handler(), broken); err != nil {
		return failed(err)
	}
	receiving, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return failed(err)
	}
	s.stops = append(s.stops, receiving.Close)
	go func() {
		if err := s.Mail.Serve(receiving); err != nil {
			broken("mail", err)
		}
	}()
	s.SMTP = connect.SMTP{Addr: receiving.Addr().String(), From: "heptad@quillonstraits.example", Name: "Heptad"}
	signIn, err := signInService()
	if err == nil {
		err = s.serve("sign-in", signIn.Handler(), broken)
	}
	if err != nil {
		return failed(err)
	}
	return s, nil
}

// SignInClient is what an installation is known by at the simulated sign-in service: the
// demo itself lets one choose a person, and uses it not.
var SignInClient = provider.Client{ID: "heptad", Secret: "heptad"}

// signInService is a sign-in service that knows the people of the door; a role of theirs
// is a group there.
func signInService() (*provider.Provider, error) {
	company, err := Company()
	if err != nil {
		return nil, err
	}
	door, err := Door()
	if err != nil {
		return nil, err
	}
	var accounts []provider.Account
	for _, p := range company.Persons {
		if slices.ContainsFunc(door, func(e Entry) bool { return e.Person == p.ID }) {
			accounts = append(accounts, provider.Account{Subject: p.ID, Login: p.Login, Name: p.Name, Email: p.Email, Verified: true, Groups: p.Roles})
		}
	}
	return provider.New(SignInClient, accounts)
}

func (s *Systems) serve(name string, handler http.Handler, broken func(name string, err error)) error {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second}
	go func() {
		if err := server.Serve(listener); !errors.Is(err, http.ErrServerClosed) {
			broken(name, err)
		}
	}()
	s.URLs[name] = "http://" + listener.Addr().String()
	s.stops = append(s.stops, server.Close)
	return nil
}

// Secret is what Heptad and the systems know each other by.
func (s *Systems) Secret() string { return s.secret }

// Stop ends all of them.
func (s *Systems) Stop() {
	for _, stop := range s.stops {
		_ = stop() // the program ends anyway
	}
}

// Connectors are how Heptad, whose page is at a base URL, calls the systems.
// Links are signed with the secret of the mailing.
func Connectors(kept *store.Store, sealed []byte, base string, mailing *work.Mailing) []connect.Connector {
	host := connect.Host{Base: base, Reach: func(key string) connect.Reach { return work.Reach(kept, sealed, key) }, Link: func(string) string { return "" }}
	if mailing != nil {
		host.Poster, host.Link = mailing.Poster, work.SupplierLink(base, mailing.Secret)
	}
	return systems.Connectors(host)
}

// Wire tells an office where the systems are.
func (s *Systems) Wire(ctx context.Context, office *work.Office) error {
	for _, key := range s.Keys {
		c := work.Connection{Key: key, URL: s.URLs[key], Secret: s.secret, AtOnce: 4, Sensitive: sensitive[key]}
		if err := office.Connecting.SetConnection(ctx, c); err != nil {
			return fmt.Errorf("%s: %w", key, err)
		}
	}
	return office.Connecting.SetConnection(ctx, work.Connection{Key: "mail", AtOnce: 2})
}
