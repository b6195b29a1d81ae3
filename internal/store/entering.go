package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/json"
	"errors"
	"strings"
	"time"
)

// Credentials are how a person signs in.
type Credentials struct {
	Person    string
	Password  string // argon2id; empty for none
	Factor    []byte // encrypted; nil for none
	Step      int64  `db:"factor_step"` // the last one used
	Recovery  []string
	ChangedAt time.Time
}

// Credentials reads how a person signs in; ErrNotFound when nothing is kept.
func (r ofCompany) Credentials(ctx context.Context, person string) (Credentials, error) {
	var row struct {
		Person, Password, Recovery string
		Factor                     []byte
		Step                       int64 `db:"factor_step"`
		ChangedAt                  int64 `db:"changed_at"`
	}
	if err := r.get(ctx, &row, "SELECT person, password, factor, factor_step, recovery, changed_at FROM credentials WHERE person = ?", person); err != nil {
		return Credentials{}, err
	}
	c := Credentials{Person: row.Person, Password: row.Password, Factor: row.Factor, Step: row.Step, ChangedAt: instant(row.ChangedAt)}
	return c, json.Unmarshal([]byte(row.Recovery), &c.Recovery)
}

// SaveCredentials keeps how a person signs in.
func (t companyTx) SaveCredentials(c Credentials) error {
	recovery, err := json.Marshal(append([]string{}, c.Recovery...))
	if err != nil {
		return err
	}
	return t.exec(`INSERT INTO credentials (person, password, factor, factor_step, recovery, changed_at) VALUES (?,?,?,?,?,?)
		ON CONFLICT (person) DO UPDATE SET password = excluded.password, factor = excluded.factor, factor_step = excluded.factor_step, recovery = excluded.recovery, changed_at = excluded.changed_at`,
		c.Person, c.Password, c.Factor, c.Step, string(recovery), millis(c.ChangedAt))
}

// Factors are the second factors that are kept, encrypted, by person.
func (r ofCompany) Factors(ctx context.Context) (map[string][]byte, error) {
	var rows []struct {
		Person string
		Factor []byte
	}
	err := r.all(ctx, &rows, "SELECT person, factor FROM credentials WHERE factor IS NOT NULL")
	all := map[string][]byte{}
	for _, row := range rows {
		all[row.Person] = row.Factor
	}
	return all, err
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// AddEntryLink keeps the one link by which somebody moves in, in place of an earlier
// one; only its hash is kept.
func (t companyTx) AddEntryLink(token string, until time.Time) error {
	if err := t.exec("DELETE FROM entry_links WHERE person IS NULL"); err != nil {
		return err
	}
	return t.exec("INSERT INTO entry_links (hash, until) VALUES (?,?)", tokenHash(token), millis(until))
}

// EntryLink is until when a link to move in counts; ErrNotFound when there is none.
func (r ofCompany) EntryLink(ctx context.Context, token string) (until time.Time, err error) {
	var ms int64
	err = r.get(ctx, &ms, "SELECT until FROM entry_links WHERE hash = ?", tokenHash(token))
	return instant(ms), err
}

// DropEntryLinks takes the link to move in away.
func (t companyTx) DropEntryLinks() error { return t.exec("DELETE FROM entry_links") }

// Held is a session as its holder sees it.
type Held struct {
	ID     string // known to its holder; opens nothing
	Person string
	Device string // what the browser says of itself
	Begun  time.Time
	Used   time.Time
}

const heldTable = `CREATE TABLE IF NOT EXISTS held (id TEXT PRIMARY KEY, person TEXT NOT NULL, device TEXT NOT NULL, begun INTEGER NOT NULL, used INTEGER NOT NULL) STRICT, WITHOUT ROWID;
	CREATE INDEX IF NOT EXISTS held_person ON held(person, used)`

// HoldSession notes a session that begins, and forgets those that ended by themselves.
func (s *Store) HoldSession(ctx context.Context, h Held, over time.Time) error {
	if _, err := s.sessions.ExecContext(ctx, "DELETE FROM held WHERE begun < ?", millis(over)); err != nil {
		return full(err)
	}
	_, err := s.sessions.ExecContext(ctx, "INSERT INTO held (id, person, device, begun, used) VALUES (?,?,?,?,?)", h.ID, h.Person, h.Device, millis(h.Begun), millis(h.Used))
	return full(err)
}

// UseSession notes that a session was used.
func (s *Store) UseSession(ctx context.Context, id string, at time.Time) error {
	_, err := s.sessions.ExecContext(ctx, "UPDATE held SET used = ? WHERE id = ?", millis(at), id)
	return full(err)
}

// SessionHeld reports whether a session has not been ended.
func (s *Store) SessionHeld(ctx context.Context, id string) (bool, error) {
	var held bool
	err := s.sessions.GetContext(ctx, &held, "SELECT EXISTS (SELECT 1 FROM held WHERE id = ?)", id)
	return held, err
}

// SessionsOf lists the sessions of a person, the last used first.
func (s *Store) SessionsOf(ctx context.Context, person string) ([]Held, error) {
	var rows []struct {
		ID, Device  string
		Begun, Used int64
	}
	err := s.sessions.SelectContext(ctx, &rows, "SELECT id, device, begun, used FROM held WHERE person = ? ORDER BY used DESC, id LIMIT 100", person)
	all := make([]Held, len(rows))
	for i, r := range rows {
		all[i] = Held{r.ID, person, r.Device, instant(r.Begun), instant(r.Used)}
	}
	return all, err
}

// EndSessions ends the sessions of a person but one, and tells how many those were.
func (s *Store) EndSessions(ctx context.Context, person, but string) (int64, error) {
	return s.ended(s.sessions.ExecContext(ctx, "DELETE FROM held WHERE person = ? AND id <> ?", person, but))
}

// EndSession ends one session of a person.
func (s *Store) EndSession(ctx context.Context, person, id string) (int64, error) {
	return s.ended(s.sessions.ExecContext(ctx, "DELETE FROM held WHERE person = ? AND id = ?", person, id))
}

func (s *Store) ended(result sql.Result, err error) (int64, error) {
	if err != nil {
		return 0, full(err)
	}
	return result.RowsAffected()
}

// RoleAsked is a role that waits for another administrator's yes.
type RoleAsked struct {
	Person, Role string
	AskedBy      string `db:"asked_by"`
}

// RolesAsked lists the roles that wait for a yes, the first asked first.
func (r ofCompany) RolesAsked(ctx context.Context) ([]RoleAsked, error) {
	var all []RoleAsked
	err := r.all(ctx, &all, "SELECT person, role, asked_by FROM roles_asked ORDER BY asked_at, person, role")
	return all, err
}

// AskRole has a role wait for a yes; one that waits already goes on waiting.
func (t companyTx) AskRole(a RoleAsked, at time.Time) error {
	return t.exec("INSERT INTO roles_asked (person, role, asked_by, asked_at) VALUES (?,?,?,?) ON CONFLICT DO NOTHING", a.Person, a.Role, a.AskedBy, millis(at))
}

// DropRoleAsked has a role wait no more.
func (t companyTx) DropRoleAsked(person, role string) error {
	return t.exec("DELETE FROM roles_asked WHERE person = ? AND role = ?", person, role)
}

// SetRoles keeps the roles of a person.
func (t companyTx) SetRoles(person string, roles []string) error {
	return t.exec("UPDATE people SET roles = ? WHERE id = ?", strings.Join(roles, " "), person)
}

// ForgetEntry takes away all ways in which somebody could sign in.
func (t companyTx) ForgetEntry(person string) error {
	if err := t.exec("DELETE FROM credentials WHERE person = ?", person); err != nil {
		return err
	}
	return t.exec("DELETE FROM subjects WHERE person = ?", person)
}

// Subject is who is known by a subject of a sign-in service; ErrNotFound for nobody.
func (r ofCompany) Subject(ctx context.Context, issuer, subject string) (string, error) {
	var person string
	err := r.get(ctx, &person, "SELECT person FROM subjects WHERE issuer = ? AND subject = ?", issuer, subject)
	return person, err
}

// TieSubject has somebody be known by a subject of a sign-in service.
func (t companyTx) TieSubject(issuer, subject, person string, at time.Time) error {
	return t.exec("INSERT INTO subjects (issuer, subject, person, tied_at) VALUES (?,?,?,?)", issuer, subject, person, millis(at))
}

// Profile is what somebody wants those to know who have a task for them.
type Profile struct {
	Address, Reach, Help string
	Language             string // BCP 47; empty for that of the directory
	Zone                 string // IANA; empty for where they are
}

// Profile reads what somebody wants known; empty when they have said nothing.
func (r ofCompany) Profile(ctx context.Context, person string) (Profile, error) {
	var p Profile
	err := r.get(ctx, &p, "SELECT address, reach, help, language, zone FROM profiles WHERE person = ?", person)
	if errors.Is(err, ErrNotFound) {
		err = nil
	}
	return p, err
}

// SaveProfile keeps what somebody wants known; nothing takes it away.
func (t companyTx) SaveProfile(person string, p Profile, at time.Time) error {
	if p == (Profile{}) {
		return t.exec("DELETE FROM profiles WHERE person = ?", person)
	}
	return t.exec("INSERT INTO profiles (person, address, reach, help, language, zone, changed_at) VALUES (?,?,?,?,?,?,?) ON CONFLICT (person) DO UPDATE SET address = excluded.address, reach = excluded.reach, help = excluded.help, language = excluded.language, zone = excluded.zone, changed_at = excluded.changed_at",
		person, p.Address, p.Reach, p.Help, p.Language, p.Zone, millis(at))
}
