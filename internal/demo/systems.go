package demo

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net"
	"net/http"
	"path/filepath"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/people"
	"heptad/internal/simulate"
	"heptad/internal/store"
	"heptad/internal/work"
)

// Systems are the simulated systems of the company, each on a port of its own.
type Systems struct {
	Directory  *simulate.Directory
	Licences   *simulate.Licences
	Badges     *simulate.Badges
	Purchasing *simulate.Purchasing
	Berths     *simulate.Berths
	Mail       *simulate.Mail
	SMTP       connect.SMTP      // how mail reaches the mail server
	URLs       map[string]string // of their pages, by key of the connector; "mail" is the mailbox
	secret     string
	stops      []func() error
}

// groups of the directory, products of the licence server, and what was given
// out before Heptad.
var (
	groups   = []string{"crew", "bridge", "shared-mailboxes", "terminals", "gone"}
	products = map[string]int{"planner": 8, "simulator": 6}
	assigned = map[string]simulate.Licence{
		"own-1004": {Licence: "QL-6901", Product: "planner", Holder: "Inês Castelo", Until: "2027-06-30"},
		"own-1006": {Licence: "QL-6902", Product: "planner", Holder: "Einar Bjarnason", Until: "2027-12-31"},
	}
	written = map[string]simulate.Badge{
		"own-1001": {Number: "QB-20011", Holder: "Davi Sarmento", Opens: "offices"},
		"own-1002": {Number: "QB-20012", Holder: "Inês Castelo", Opens: "offices and workshop"},
		"own-1008": {Number: "QB-20013", Holder: "Ragnhild Quist", Opens: "all of North Pier"},
		"own-1009": {Number: "QB-20014", Holder: "Tymon Wrobel", Opens: "workshop", Ended: true},
		"own-1010": {Number: "QB-20015", Holder: "Folu Adebayor", Opens: "offices"},
	}
)

// StartSystems starts all simulators; they keep what they do in files below a
// folder. Broken is told when one of them stops by itself.
func StartSystems(folder string, secret []byte, broken func(name string, err error)) (*Systems, error) {
	file := func(name string) string { return filepath.Join(folder, "simulators", name+".json") }
	sum := sha256.Sum256(append([]byte("simulators "), secret...))
	s := &Systems{URLs: map[string]string{}, secret: hex.EncodeToString(sum[:16])}
	company, err := Company()
	if err != nil {
		return nil, err
	}
	var all []error
	keep := func(err error) { all = append(all, err) }
	s.Directory, err = simulate.OpenDirectory(file("directory"), accounts(company.Persons), groups)
	keep(err)
	s.Licences, err = simulate.OpenLicences(file("licences"), products, assigned)
	keep(err)
	s.Badges, err = simulate.OpenBadges(file("badges"), written)
	keep(err)
	s.Purchasing, err = simulate.OpenPurchasing(file("purchasing"), s.secret)
	keep(err)
	s.Berths, err = simulate.OpenBerths(file("berths"))
	keep(err)
	s.Mail, err = simulate.OpenMail(file("mail"))
	keep(err)
	if err := errors.Join(all...); err != nil {
		return nil, err
	}
	s.Directory.Guard(s.secret)
	s.Licences.Guard(s.secret)
	s.Badges.Guard(s.secret)
	s.Purchasing.Guard(s.secret)
	for name, handler := range map[string]http.Handler{
		"directory": s.Directory.Handler(), "licences": s.Licences.Handler(), "badges": s.Badges.Handler(), "purchasing": s.Purchasing.Handler(), "web": s.Berths.Handler(), "mail": s.Mail.Handler(),
	} {
		keep(s.serve(name, handler, broken))
	}
	receiving, err := net.Listen("tcp", "127.0.0.1:0")
	keep(err)
	if err := errors.Join(all...); err != nil {
		s.Stop()
		return nil, err
	}
	s.stops = append(s.stops, receiving.Close)
	go func() {
		if err := s.Mail.Serve(receiving); err != nil {
			broken("mail", err)
		}
	}()
	s.SMTP = connect.SMTP{Addr: receiving.Addr().String(), From: "heptad@quillonstraits.example", Name: "Heptad", List: "quillonstraits.example"}
	return s, nil
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

func accounts(persons []people.Person) []simulate.Account {
	all := make([]simulate.Account, len(persons))
	for i, p := range persons {
		all[i] = simulate.Account{UserName: p.Login, Name: p.Name, Title: p.Title, Department: p.Department, Email: p.Email}
	}
	return all
}

// Connectors are how Heptad, whose page is at a base URL, calls the systems.
// Links are signed with the secret of the mailing.
func Connectors(kept *store.Store, sealed []byte, base string, mailing *work.Mailing) []connect.Connector {
	reach := func(key string) connect.Reach { return work.Reach(kept, sealed, key) }
	var poster connect.Poster
	link := func(string) string { return "" }
	if mailing != nil {
		poster, link = mailing.Poster, work.SupplierLink(base, mailing.Secret)
	}
	return []connect.Connector{
		connect.NewDirectory(reach("directory")), connect.NewLicences(reach("licences")), connect.NewBadges(reach("badges")),
		connect.NewPurchasing(reach("purchasing"), base+"/api/reports/purchasing"), connect.NewSupplier(poster, link), connect.NewWebCall(reach("web")),
	}
}

// Wire tells an office where the systems are.
func (s *Systems) Wire(ctx context.Context, office *work.Office) error {
	for _, key := range []string{"directory", "licences", "badges", "purchasing", "web"} {
		c := work.Connection{Key: key, URL: s.URLs[key], Secret: s.secret, AtOnce: 4}
		if key == "directory" {
			c.Sensitive = "bridge"
		}
		if err := office.Connecting.SetConnection(ctx, c); err != nil {
			return fmt.Errorf("%s: %w", key, err)
		}
	}
	return office.Connecting.SetConnection(ctx, work.Connection{Key: "mail", AtOnce: 2})
}
