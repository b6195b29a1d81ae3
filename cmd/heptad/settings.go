package main

import (
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"time"

	"github.com/alecthomas/kong"
	"go.yaml.in/yaml/v3"

	"heptad/internal/connect"
	"heptad/internal/core/people"
	"heptad/internal/signin"
	"heptad/internal/web"
	"heptad/internal/work"
)

// settings are what an installation is run with. Each is a flag, a variable of the
// environment and an entry of the file, in that order.
type settings struct {
	Config  configFile `placeholder:"FILE" help:"File of settings: YAML, with the names of these flags."`
	Addr    string     `default:"127.0.0.1:7171" env:"HEPTAD_ADDR" help:"Address to serve at."`
	Data    string     `default:"heptad-data" type:"path" env:"HEPTAD_DATA" help:"Folder of the data; made when it is missing."`
	Keys    string     `type:"path" env:"HEPTAD_KEYS" help:"Folder of the keys, apart from the data; that of the data when left out."`
	Public  string     `env:"HEPTAD_PUBLIC" help:"Address under which people reach it, such as https://heptad.example; that it serves at when left out."`
	Cert    string     `type:"path" env:"HEPTAD_CERT" help:"File of the certificate, PEM; read again when it changes."`
	Key     string     `type:"path" env:"HEPTAD_KEY" help:"File of the certificate's key, PEM."`
	Proxies []string   `name:"trusted-proxies" env:"HEPTAD_TRUSTED_PROXIES" help:"Addresses or networks of proxies whose word is believed on who asks."`
	Log     string     `enum:"text,json" default:"text" env:"HEPTAD_LOG" help:"Form of the log: text or json."`

	Mail   mailSettings   `embed:"" prefix:"mail-" group:"Mail"`
	Backup backupSettings `embed:"" prefix:"backup-" group:"Backup"`
	OIDC   oidcSettings   `embed:"" prefix:"oidc-" group:"Sign-in service (OpenID Connect)"`
	Limits web.Limits     `embed:"" prefix:"limit-" group:"Limits"`
}

type mailSettings struct {
	Addr     string `env:"HEPTAD_MAIL_ADDR" help:"Address of the mail server, such as mail.example:587; none when left out."`
	From     string `env:"HEPTAD_MAIL_FROM" help:"Address that mails come from."`
	Name     string `default:"Heptad" env:"HEPTAD_MAIL_NAME" help:"Name that mails come from."`
	TLS      string `name:"tls" enum:"required,implicit,none" default:"required" env:"HEPTAD_MAIL_TLS" help:"How the connection is kept secret: required (STARTTLS), implicit, or none."`
	User     string `env:"HEPTAD_MAIL_USER" help:"Name to sign in with at the mail server."`
	Password string `env:"HEPTAD_MAIL_PASSWORD" help:"Password to sign in with at the mail server." secret:""`
}

type backupSettings struct {
	Dir  string   `type:"path" env:"HEPTAD_BACKUP_DIR" help:"Folder that backups are made in at set times; none are made when left out."`
	At   []string `default:"02:30" env:"HEPTAD_BACKUP_AT" help:"Times of the day they are made at, in the zone of the organisation, such as 02:30."`
	Keep int      `default:"14" env:"HEPTAD_BACKUP_KEEP" help:"How many of them are kept."`
}

// backups is when backups are made; nil when none are.
func (s *settings) backups() (*work.Backups, error) {
	b := s.Backup
	if b.Dir == "" {
		return nil, nil
	}
	if inside, err := filepath.Rel(s.Data, b.Dir); err == nil && inside != ".." && !strings.HasPrefix(inside, ".."+string(filepath.Separator)) {
		return nil, fmt.Errorf("backup.dir: %s is in the folder of the data, and would be lost with it: name another, on another disk", b.Dir)
	}
	if b.Keep < 1 {
		return nil, errors.New("backup.keep: keep one at least")
	}
	out := &work.Backups{Dir: b.Dir, Keep: b.Keep}
	for _, text := range b.At {
		at, err := time.Parse("15:04", text)
		if err != nil {
			return nil, fmt.Errorf("backup.at: %q is no time of the day: write it like 02:30", text)
		}
		out.At = append(out.At, time.Duration(at.Hour())*time.Hour+time.Duration(at.Minute())*time.Minute)
	}
	if len(out.At) == 0 {
		return nil, errors.New("backup.at: say when backups are made, such as 02:30")
	}
	return out, nil
}

type oidcSettings struct {
	Issuer  string            `env:"HEPTAD_OIDC_ISSUER" help:"Address of the sign-in service of the company; none when left out."`
	ID      string            `name:"client-id" env:"HEPTAD_OIDC_CLIENT_ID" help:"What it knows Heptad by."`
	Secret  string            `name:"client-secret" env:"HEPTAD_OIDC_CLIENT_SECRET" help:"Secret it knows Heptad by." secret:""`
	Name    string            `default:"the company account" env:"HEPTAD_OIDC_NAME" help:"Name it has at the door."`
	Unknown string            `enum:"refuse,make" default:"refuse" env:"HEPTAD_OIDC_UNKNOWN" help:"What becomes of somebody it knows and Heptad does not: refuse or make."`
	Claim   string            `name:"groups-claim" default:"groups" env:"HEPTAD_OIDC_GROUPS_CLAIM" help:"Claim that holds the groups of a person."`
	Roles   map[string]string `env:"HEPTAD_OIDC_ROLES" help:"Roles that its groups give, as group=role."`
}

// check finds what contradicts itself.
func (o oidcSettings) check() error {
	if o.Issuer == "" {
		if o.ID != "" || o.Secret != "" {
			return errors.New("oidc.issuer: say where the sign-in service is, or leave out what else is said of it")
		}
		return nil
	}
	u, err := url.Parse(o.Issuer)
	if err != nil || u.Host == "" || u.Scheme != "https" && u.Scheme != "http" {
		return fmt.Errorf("oidc.issuer: %q is no address: write it like https://accounts.example", o.Issuer)
	}
	if ip := net.ParseIP(u.Hostname()); u.Scheme == "http" && u.Hostname() != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return errors.New("oidc.issuer: what it says could be altered on the way: begin it with https://")
	}
	if o.ID == "" || o.Secret == "" {
		return errors.New("oidc.client-id and oidc.client-secret: say what the sign-in service knows Heptad by")
	}
	for group, role := range o.Roles {
		if !slices.Contains(people.Roles, role) {
			return fmt.Errorf("oidc.roles: the group %q gives %q, which is no role. Roles are %s", group, role, strings.Join(people.Roles, ", "))
		}
	}
	return nil
}

// service is the sign-in service; nil when there is none.
func (o oidcSettings) service(public string) *work.Service {
	if o.Issuer == "" {
		return nil
	}
	provider := signin.New(signin.Settings{Issuer: o.Issuer, ClientID: o.ID, ClientSecret: o.Secret, Back: public + "/api/service/back", Leave: public + "/", Groups: o.Claim, Clock: time.Now})
	return &work.Service{Provider: provider, Name: o.Name, Make: o.Unknown == "make", Roles: o.Roles}
}

// smtp is the mail server; false when there is none.
func (m mailSettings) smtp() (connect.SMTP, bool) {
	return connect.SMTP{Addr: m.Addr, From: m.From, Name: m.Name, TLS: connect.SMTPTLS(m.TLS), User: m.User, Password: m.Password}, m.Addr != ""
}

// check finds what contradicts itself, before anything is touched.
func (s *settings) check() error {
	host, _, err := net.SplitHostPort(s.Addr)
	if err != nil {
		return fmt.Errorf("addr: %q is no address: write it like 127.0.0.1:7171", s.Addr)
	}
	if (s.Cert == "") != (s.Key == "") {
		return errors.New("cert and key belong together: name both files, or neither")
	}
	if s.Public == "" {
		if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
			return fmt.Errorf("public: others can reach %s: say under which address, such as https://heptad.example", s.Addr)
		}
	} else if u, err := url.Parse(s.Public); err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || strings.Trim(u.Path, "/") != "" {
		return fmt.Errorf("public: %q is no address people can open: write it like https://heptad.example", s.Public)
	} else if u.Scheme == "http" && s.Cert != "" {
		return errors.New("public begins with http://, and there is a certificate: people reach it by https://")
	} else if ip := net.ParseIP(u.Hostname()); u.Scheme == "http" && u.Hostname() != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return errors.New("public: passwords would travel where others can read them: begin it with https://, with cert and key or behind a proxy that has them")
	}
	switch {
	case s.Mail.Addr != "" && s.Mail.From == "":
		return errors.New("mail.from: say which address mails come from")
	case s.Mail.Addr == "" && (s.Mail.From != "" || s.Mail.User != ""):
		return errors.New("mail.addr: say where the mail server is, or leave out what else is said of mail")
	case (s.Mail.User == "") != (s.Mail.Password == ""):
		return errors.New("mail.user and mail.password belong together")
	case s.Mail.User != "" && s.Mail.TLS == string(connect.TLSNone):
		return errors.New("mail.tls: the password would travel where others can read it: set it to required or implicit")
	}
	_, err = s.proxies()
	_, wrong := s.backups()
	return errors.Join(err, wrong, s.OIDC.check())
}

// proxies are the networks whose word is believed on who asks.
func (s *settings) proxies() ([]*net.IPNet, error) {
	var all []*net.IPNet
	for _, text := range s.Proxies {
		if ip := net.ParseIP(text); ip != nil {
			text = fmt.Sprintf("%s/%d", text, 8*len(ip.To16()))
			if ip.To4() != nil {
				text = ip.String() + "/32"
			}
		}
		_, network, err := net.ParseCIDR(text)
		if err != nil {
			return nil, fmt.Errorf("trusted-proxies: %q is neither an address nor a network: write it like 10.0.0.7 or 10.0.0.0/8", text)
		}
		all = append(all, network)
	}
	return all, nil
}

// configFile is a file of settings.
type configFile string

// entry is one setting of a file.
type entry struct {
	value any
	line  int
}

// BeforeResolve reads the file; kong asks it before the flags have their values. What
// the file says that no flag is, or that a flag cannot be, ends the start.
func (configFile) BeforeResolve(ctx *kong.Context, trace *kong.Path) error {
	path := string(ctx.FlagValue(trace.Flag).(configFile))
	data, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("the settings cannot be read: %w", err)
	}
	entries, err := readEntries(data)
	if err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	flags := map[string]*kong.Flag{}
	for _, flag := range ctx.Selected().Flags {
		if flag.Name != "config" && flag.Name != "help" {
			flags[flag.Name] = flag
		}
	}
	for name, e := range entries {
		if flags[name] == nil {
			return fmt.Errorf("%s, line %d: there is no setting %q. There are: %s", path, e.line, strings.ReplaceAll(name, "-", "."), strings.Join(namesOf(flags), ", "))
		}
		if err := fits(flags[name], e.value); err != nil {
			return fmt.Errorf("%s, line %d: %s cannot be %v: %w", path, e.line, name, e.value, err)
		}
	}
	ctx.AddResolver(fileOf(entries, filepath.Dir(path)))
	return nil
}

func namesOf(flags map[string]*kong.Flag) []string {
	var names []string
	for name := range flags {
		names = append(names, name)
	}
	slices.Sort(names)
	return names
}

// fits reports whether a flag can have a value.
func fits(flag *kong.Flag, value any) error {
	if flag.Enum != "" && !flag.EnumMap()[fmt.Sprint(value)] {
		return fmt.Errorf("write one of %s", flag.Enum)
	}
	into := reflect.New(flag.Target.Type()).Elem()
	return flag.Mapper.Decode(&kong.DecodeContext{Value: flag.Value, Scan: kong.Scan().PushTyped(value, kong.FlagValueToken)}, into)
}

// fileOf gives flags the values of a file, unless the environment has one. Paths in it
// are meant from where the file is.
func fileOf(entries map[string]entry, dir string) kong.Resolver {
	return kong.ResolverFunc(func(_ *kong.Context, _ *kong.Path, flag *kong.Flag) (any, error) {
		e, ok := entries[flag.Name]
		if !ok || slices.ContainsFunc(flag.Envs, func(name string) bool { _, set := os.LookupEnv(name); return set }) {
			return nil, nil
		}
		if path, isText := e.value.(string); isText && flag.Tag.Type == "path" && path != "" && !filepath.IsAbs(path) {
			return filepath.Join(dir, path), nil
		}
		return e.value, nil
	})
}

// readEntries reads YAML: values by name, those of a block after the block's name.
func readEntries(data []byte) (map[string]entry, error) {
	var document yaml.Node
	if err := yaml.Unmarshal(data, &document); err != nil {
		return nil, err
	}
	entries := map[string]entry{}
	if len(document.Content) == 0 {
		return entries, nil
	}
	return entries, addEntries(entries, "", document.Content[0])
}

func addEntries(entries map[string]entry, prefix string, block *yaml.Node) error {
	if block.Kind != yaml.MappingNode {
		return fmt.Errorf("line %d: write settings as name: value", block.Line)
	}
	for i := 0; i+1 < len(block.Content); i += 2 {
		key, value := block.Content[i], block.Content[i+1]
		name := prefix + key.Value
		if _, twice := entries[name]; twice {
			return fmt.Errorf("line %d: %s stands there twice", key.Line, name)
		}
		switch value.Kind {
		case yaml.MappingNode:
			if name == "oidc-roles" { // the one setting that is a list of pairs
				var pairs []string
				for n := 0; n+1 < len(value.Content); n += 2 {
					pairs = append(pairs, value.Content[n].Value+"="+value.Content[n+1].Value)
				}
				entries[name] = entry{strings.Join(pairs, ";"), key.Line}
				continue
			}
			if err := addEntries(entries, name+"-", value); err != nil {
				return err
			}
		case yaml.SequenceNode:
			parts := make([]string, len(value.Content))
			for n, part := range value.Content {
				parts[n] = part.Value
			}
			entries[name] = entry{strings.Join(parts, ","), key.Line}
		default:
			entries[name] = entry{value.Value, key.Line}
		}
	}
	return nil
}

// configCommand prints what is in force.
type configCommand struct {
	settings `embed:""`
}

// Run prints each setting with where it comes from; secrets are not shown.
func (c *configCommand) Run(ctx *kong.Context) error {
	if err := c.check(); err != nil {
		return err
	}
	given, resolved := map[*kong.Flag]bool{}, map[*kong.Flag]bool{}
	for _, path := range ctx.Path {
		if path.Flag != nil && path.Resolved {
			resolved[path.Flag] = true
		} else if path.Flag != nil {
			given[path.Flag] = true
		}
	}
	for _, flag := range ctx.Selected().Flags {
		if flag.Name == "help" {
			continue
		}
		value, from := fmt.Sprint(flag.Target.Interface()), "as is usual"
		switch {
		case given[flag]:
			from = "on the command line"
		case resolved[flag]:
			from = "in " + string(c.Config)
		default:
			for _, name := range flag.Envs {
				if _, set := os.LookupEnv(name); set {
					from = "in the environment, " + name
				}
			}
		}
		if flag.Tag.Has("secret") && value != "" {
			value = "(not shown)"
		}
		fmt.Printf("%-24s %-32s %s\n", flag.Name, value, from)
	}
	return nil
}
