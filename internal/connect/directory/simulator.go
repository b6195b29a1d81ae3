package directory

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"heptad/internal/simulate"
)

// Account is one account of the directory.
type Account struct {
	ID         string `json:"id"`
	ExternalID string `json:"externalId,omitempty"`
	UserName   string `json:"userName"`
	Name       string `json:"name"`
	Title      string `json:"title,omitempty"`
	Department string `json:"department,omitempty"`
	Place      string `json:"place,omitempty"`
	Email      string `json:"email,omitempty"`
	Active     bool   `json:"active"`
	Factor     string `json:"factor,omitempty"`
	Code       string `json:"code,omitempty"` // of the second factor
	Factors    int    `json:"factors,omitempty"`
	FactorKey  string `json:"factorKey,omitempty"` // under which it was set
}

// System speaks SCIM 2.0 (RFC 7643, RFC 7644), as far as accounts and groups
// need it: create, read by one equality, patch, delete.
type System struct {
	simulate.System
	simulate.Kept[directoryFile]
}

type directoryFile struct {
	Accounts []Account           `json:"accounts"`
	Groups   map[string][]string `json:"groups"` // IDs of accounts, by display name
}

// Open reads what the directory did before from a file, or begins with
// accounts and groups.
func Open(path string, accounts []Account, groups []string) (*System, error) {
	d := &System{System: simulate.System{Name: "The directory"}}
	begin := directoryFile{accounts, map[string][]string{}}
	for i := range begin.Accounts {
		begin.Accounts[i].ID, begin.Accounts[i].Active = "u-"+strconv.Itoa(i+1), true
	}
	for _, group := range groups {
		begin.Groups[group] = []string{}
	}
	return d, d.Open(path, begin)
}

// Accounts lists all accounts.
func (d *System) Accounts() []Account { return d.Read().Accounts }

// Members lists the logins in a group.
func (d *System) Members(group string) []string {
	s := d.Read()
	var logins []string
	for _, id := range s.Groups[group] {
		for _, a := range s.Accounts {
			if a.ID == id {
				logins = append(logins, a.UserName)
			}
		}
	}
	return logins
}

// Handler serves /Users and /Groups.
func (d *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /Users", d.findUsers)
	mux.HandleFunc("POST /Users", d.makeUser)
	mux.HandleFunc("PATCH /Users/{id}", d.patchUser)
	mux.HandleFunc("GET /Groups", d.findGroups)
	mux.HandleFunc("PATCH /Groups/{id}", d.patchGroup)
	return d.Serve(mux, func() [][]string {
		s := d.Read()
		rows := [][]string{{"Login", "Name", "Title", "Department", "Groups", "Now"}}
		for _, a := range slices.Backward(s.Accounts) {
			var groups []string
			for name, members := range s.Groups {
				if slices.Contains(members, a.ID) {
					groups = append(groups, name)
				}
			}
			slices.Sort(groups)
			now := "active"
			if !a.Active {
				now = "disabled"
			}
			if a.Factor != "" {
				now += ", second factor: " + a.Factor
			}
			if rows = append(rows, []string{a.UserName, a.Name, a.Title, a.Department, strings.Join(groups, ", "), now}); len(rows) > 60 {
				break
			}
		}
		return rows
	})
}

func (a Account) scim() map[string]any {
	out := map[string]any{
		"schemas": []string{"urn:ietf:params:scim:schemas:core:2.0:User"}, "id": a.ID, "externalId": a.ExternalID, "userName": a.UserName,
		"displayName": a.Name, "title": a.Title, "active": a.Active,
	}
	if a.Department != "" {
		out["urn:ietf:params:scim:schemas:extension:enterprise:2.0:User"] = map[string]string{"department": a.Department}
	}
	if a.Factor != "" {
		out["urn:heptad:scim:factor:1.0:User"] = map[string]string{"kind": a.Factor, "code": a.Code}
	}
	return out
}

func listed(resources []map[string]any) map[string]any {
	return map[string]any{"schemas": []string{"urn:ietf:params:scim:api:messages:2.0:ListResponse"}, "totalResults": len(resources), "Resources": resources}
}

// equality is the only filter understood: attribute eq "value".
var equality = regexp.MustCompile(`^(\w+) eq (".*")$`)

func filtered(r *http.Request) (attribute, value string, err error) {
	m := equality.FindStringSubmatch(r.URL.Query().Get("filter"))
	if m == nil || json.Unmarshal([]byte(m[2]), &value) != nil {
		return "", "", simulate.Refusal{Status: http.StatusBadRequest, Detail: "Only filters such as userName eq \"x\" are understood."}
	}
	return m[1], value, nil
}

func (d *System) findUsers(w http.ResponseWriter, r *http.Request) {
	attribute, value, err := filtered(r)
	found := []map[string]any{}
	for _, a := range d.Read().Accounts {
		if attribute == "userName" && strings.EqualFold(a.UserName, value) || attribute == "externalId" && a.ExternalID == value {
			found = append(found, a.scim())
		}
	}
	simulate.Answer(w, http.StatusOK, listed(found), err)
}

func (d *System) makeUser(w http.ResponseWriter, r *http.Request) {
	in, err := simulate.Decoded[struct {
		ExternalID, UserName, DisplayName, Title string
		Emails                                   []struct{ Value string }
		Enterprise                               struct{ Department string } `json:"urn:ietf:params:scim:schemas:extension:enterprise:2.0:User"`
	}](r)
	var made Account
	if err == nil {
		err = d.Change(func(s *directoryFile) error {
			for _, a := range s.Accounts {
				if a.ExternalID != "" && a.ExternalID == in.ExternalID {
					made = a
					return nil
				}
				if strings.EqualFold(a.UserName, in.UserName) {
					return simulate.Refusal{Status: http.StatusConflict, Detail: "The login " + in.UserName + " is taken."}
				}
			}
			if in.UserName == "" || in.DisplayName == "" {
				return simulate.Refusal{Status: http.StatusBadRequest, Detail: "A login and a name are needed."}
			}
			made = Account{
				ID: "u-" + strconv.Itoa(len(s.Accounts)+1), ExternalID: in.ExternalID, UserName: in.UserName, Name: in.DisplayName,
				Title: in.Title, Department: in.Enterprise.Department, Active: true,
			}
			if len(in.Emails) > 0 {
				made.Email = in.Emails[0].Value
			}
			s.Accounts = append(s.Accounts, made)
			return nil
		})
	}
	simulate.Answer(w, http.StatusCreated, made.scim(), err)
}

// patch is the body of a PATCH (RFC 7644, 3.5.2).
type patch struct {
	Operations []struct {
		Op, Path string
		Value    json.RawMessage
	}
}

func (d *System) patchUser(w http.ResponseWriter, r *http.Request) {
	in, err := simulate.Decoded[patch](r)
	var changed Account
	if err == nil {
		err = d.Change(func(s *directoryFile) error {
			i := slices.IndexFunc(s.Accounts, func(a Account) bool { return a.ID == r.PathValue("id") })
			if i < 0 {
				return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such account."}
			}
			a := &s.Accounts[i]
			for _, o := range in.Operations {
				if err := a.replace(o.Path, o.Value, r.Header.Get("Idempotency-Key")); err != nil {
					return err
				}
			}
			changed = *a
			return nil
		})
	}
	simulate.Answer(w, http.StatusOK, changed.scim(), err)
}

// replace puts a value in a place. A second factor is set once for each key, as
// each time gives another code.
func (a *Account) replace(path string, value json.RawMessage, key string) error {
	into := map[string]any{
		"active": &a.Active, "title": &a.Title, "displayName": &a.Name,
		"urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department": &a.Department, `addresses[type eq "work"].locality`: &a.Place,
	}
	if path == "urn:heptad:scim:factor:1.0:User" {
		var factor struct{ Kind string }
		if json.Unmarshal(value, &factor) != nil || factor.Kind == "" {
			return simulate.Refusal{Status: http.StatusBadRequest, Detail: "A second factor needs a kind."}
		}
		if key != "" && key == a.FactorKey {
			return nil
		}
		a.Factors++
		a.Factor, a.FactorKey = factor.Kind, key
		sum := sha256.Sum256(fmt.Appendf(nil, "%s %d", a.ID, a.Factors))
		a.Code = fmt.Sprintf("%06d", (int(sum[0])<<16|int(sum[1])<<8|int(sum[2]))%1_000_000)
		return nil
	}
	target, ok := into[path]
	if !ok || json.Unmarshal(value, target) != nil {
		return simulate.Refusal{Status: http.StatusBadRequest, Detail: "The path " + path + " cannot be replaced with this."}
	}
	return nil
}

func (d *System) findGroups(w http.ResponseWriter, r *http.Request) {
	attribute, value, err := filtered(r)
	found := []map[string]any{}
	if _, ok := d.Read().Groups[value]; ok && attribute == "displayName" {
		found = append(found, map[string]any{"id": value, "displayName": value})
	}
	simulate.Answer(w, http.StatusOK, listed(found), err)
}

var memberPath = regexp.MustCompile(`^members\[value eq "(.+)"\]$`)

func (d *System) patchGroup(w http.ResponseWriter, r *http.Request) {
	in, err := simulate.Decoded[patch](r)
	if err == nil {
		err = d.Change(func(s *directoryFile) error {
			members, ok := s.Groups[r.PathValue("id")]
			if !ok {
				return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such group."}
			}
			for _, o := range in.Operations {
				var added []struct{ Value string }
				if m := memberPath.FindStringSubmatch(o.Path); m != nil && o.Op == "remove" {
					members = slices.DeleteFunc(members, func(id string) bool { return id == m[1] })
				} else if o.Op == "add" && o.Path == "members" && json.Unmarshal(o.Value, &added) == nil {
					for _, one := range added {
						if !slices.Contains(members, one.Value) {
							members = append(members, one.Value)
						}
					}
				} else {
					return simulate.Refusal{Status: http.StatusBadRequest, Detail: "This cannot be done to a group."}
				}
			}
			s.Groups[r.PathValue("id")] = members
			return nil
		})
	}
	simulate.Answer(w, http.StatusNoContent, nil, err)
}
