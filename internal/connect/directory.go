package connect

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"heptad/internal/core/plan"
)

// Directory makes, changes and disables accounts, and puts them into groups
// and takes them out, through SCIM 2.0 (RFC 7643, RFC 7644).
type Directory struct{ api }

// NewDirectory speaks to the directory; the URL is the base of its SCIM
// endpoints.
func NewDirectory(reach Reach) *Directory { return &Directory{newAPI("The directory", reach)} }

// Describe tells what the directory can do.
func (d *Directory) Describe() plan.Connector {
	account := []plan.Field{{Key: "login", Name: "Login", Person: true}}
	group := append(account, plan.Field{Key: "group", Name: "Group", Group: true})
	return plan.Connector{Key: "directory", Name: "Directory", Actions: []plan.ActionType{
		{
			Key: "make", Name: "Make an account", Undo: "disable", Makes: true,
			Inputs:  []plan.Field{text("name", "Name"), free("login", "Login, made from the name when empty"), free("email", "Mail address"), free("title", "Title"), free("department", "Department")},
			Outputs: []plan.Field{text("login", "Login"), text("account", "Account number")},
		},
		{
			Key: "change", Name: "Change an account",
			Inputs: append(account, free("title", "Title"), free("department", "Department"), free("location", "Place")), Outputs: []plan.Field{text("login", "Login")},
		},
		{Key: "disable", Name: "Disable an account", Undo: "enable", Sensitive: true, Inputs: account, Outputs: []plan.Field{text("login", "Login")}},
		{Key: "enable", Name: "Enable an account", Undo: "disable", Inputs: account, Outputs: []plan.Field{text("login", "Login")}},
		{Key: "join", Name: "Add to a group", Undo: "leave", Inputs: group, Outputs: []plan.Field{text("login", "Login"), text("group", "Group")}},
		{Key: "leave", Name: "Take from a group", Undo: "join", Inputs: group, Outputs: []plan.Field{text("login", "Login"), text("group", "Group")}},
		{
			Key: "factor", Name: "Set a second sign-in factor", Sensitive: true, Inputs: append(account, text("kind", "Kind")),
			Outputs: []plan.Field{{Key: "code", Name: "Code for the first use", Secret: true}},
		},
	}}
}

// scimUser is what is read and written of an account. The enterprise extension
// carries the department, ours the second factor.
type scimUser struct {
	Schemas    []string        `json:"schemas,omitempty"`
	ID         string          `json:"id,omitempty"`
	ExternalID string          `json:"externalId,omitempty"`
	UserName   string          `json:"userName,omitempty"`
	Display    string          `json:"displayName,omitempty"`
	Title      string          `json:"title,omitempty"`
	Emails     []scimValue     `json:"emails,omitempty"`
	Active     bool            `json:"active"`
	Enterprise *scimEnterprise `json:"urn:ietf:params:scim:schemas:extension:enterprise:2.0:User,omitempty"`
	Factor     *scimFactor     `json:"urn:heptad:scim:factor:1.0:User,omitempty"`
}

type scimValue struct {
	Value string `json:"value"`
}

type scimEnterprise struct {
	Department string `json:"department,omitempty"`
}

type scimFactor struct {
	Kind string `json:"kind"`
	Code string `json:"code"`
}

type scimList[T any] struct {
	Total     int `json:"totalResults"`
	Resources []T `json:"Resources"`
}

type scimGroup struct {
	ID      string      `json:"id"`
	Display string      `json:"displayName"`
	Members []scimValue `json:"members"`
}

type scimOperation struct {
	Op    string `json:"op"`
	Path  string `json:"path"`
	Value any    `json:"value,omitempty"`
}

const (
	scimUserSchema  = "urn:ietf:params:scim:schemas:core:2.0:User"
	scimPatchSchema = "urn:ietf:params:scim:api:messages:2.0:PatchOp"
	scimDepartment  = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department"
	scimFactorPath  = "urn:heptad:scim:factor:1.0:User"
)

// Do makes one call. An account carries the key of its call as its external
// ID, so that it is made once.
func (d *Directory) Do(ctx context.Context, c Call) (Reply, error) {
	switch c.Do {
	case "make":
		return d.make(ctx, c)
	case "change", "disable", "enable", "factor":
		return d.change(ctx, c)
	case "join", "leave":
		return d.group(ctx, c)
	}
	return Reply{}, refused("The directory cannot do %q.", c.Do)
}

func (d *Directory) find(ctx context.Context, attribute, value string) (scimUser, bool, error) {
	var list scimList[scimUser]
	filter := fmt.Sprintf("%s eq %q", attribute, value)
	if err := d.ask(ctx, http.MethodGet, "/Users?filter="+url.QueryEscape(filter), "", nil, &list); err != nil {
		return scimUser{}, false, d.gone(err, "The directory keeps no accounts.")
	}
	if len(list.Resources) == 0 {
		return scimUser{}, false, nil
	}
	return list.Resources[0], true, nil
}

func (d *Directory) make(ctx context.Context, c Call) (Reply, error) {
	user, there, err := d.find(ctx, "externalId", c.Key)
	if err != nil {
		return Reply{}, err
	}
	if !there {
		user = scimUser{
			Schemas: []string{scimUserSchema}, ExternalID: c.Key, UserName: c.input("login"), Display: c.input("name"), Title: c.input("title"), Active: true,
		}
		if mail := c.input("email"); mail != "" {
			user.Emails = []scimValue{{mail}}
		}
		if department := c.input("department"); department != "" {
			user.Enterprise = &scimEnterprise{department}
		}
		if user.UserName == "" {
			if user.UserName, err = d.freeLogin(ctx, user.Display); err != nil {
				return Reply{}, err
			}
		}
		if err := d.ask(ctx, http.MethodPost, "/Users", c.Key, user, &user); err != nil {
			return Reply{}, d.gone(err, "The directory takes no accounts.")
		}
	}
	if user.ID == "" {
		return Reply{}, Trouble{Sentence: "The directory gave an answer without an account."}
	}
	return Reply{Outputs: map[string]string{"login": user.UserName, "account": user.ID}}, nil
}

// freeLogin is the last word of a name, with a number when that is taken.
func (d *Directory) freeLogin(ctx context.Context, name string) (string, error) {
	words := strings.Fields(strings.ToLower(name))
	if len(words) == 0 {
		return "", refused("The directory needs a name.")
	}
	base := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r == '-' {
			return r
		}
		return -1
	}, words[len(words)-1])
	if base == "" {
		base = "account"
	}
	for n := 1; n <= 50; n++ {
		login := base
		if n > 1 {
			login = fmt.Sprintf("%s%d", base, n)
		}
		if _, taken, err := d.find(ctx, "userName", login); err != nil || !taken {
			return login, err
		}
	}
	return "", refused("No login is free for %s.", name)
}

// account finds the account that a call is about; of an undo by the key of the
// call that made it, when nobody knows its login. It may not be there then.
func (d *Directory) account(ctx context.Context, c Call) (scimUser, bool, error) {
	if login := c.input("login"); login != "" {
		user, there, err := d.find(ctx, "userName", login)
		if err == nil && !there && c.Undoes == "" {
			err = refused("The directory knows no account %q.", login)
		}
		return user, there, err
	}
	if c.Undoes == "" {
		return scimUser{}, false, refused("The directory needs a login.")
	}
	return d.find(ctx, "externalId", c.Undoes)
}

func (d *Directory) patch(ctx context.Context, path, key string, out any, operations ...scimOperation) error {
	return d.ask(ctx, http.MethodPatch, path, key, map[string]any{"schemas": []string{scimPatchSchema}, "Operations": operations}, out)
}

func (d *Directory) change(ctx context.Context, c Call) (Reply, error) {
	user, there, err := d.account(ctx, c)
	if err != nil || !there {
		return Reply{}, err
	}
	var operations []scimOperation
	set := func(path, value string) {
		if value != "" {
			operations = append(operations, scimOperation{"replace", path, value})
		}
	}
	switch c.Do {
	case "disable", "enable":
		operations = []scimOperation{{"replace", "active", c.Do == "enable"}}
	case "factor":
		operations = []scimOperation{{"replace", scimFactorPath, map[string]string{"kind": c.input("kind")}}}
	default:
		set("title", c.input("title"))
		set(scimDepartment, c.input("department"))
		set("addresses[type eq \"work\"].locality", c.input("location"))
	}
	if err := d.patch(ctx, "/Users/"+url.PathEscape(user.ID), c.Key, &user, operations...); err != nil {
		return Reply{}, d.gone(err, "The directory knows no account %q.", user.UserName)
	}
	if c.Do == "factor" {
		if user.Factor == nil || user.Factor.Code == "" {
			return Reply{}, Trouble{Sentence: "The directory gave an answer without a code."}
		}
		return Reply{Outputs: map[string]string{"code": user.Factor.Code}}, nil
	}
	return Reply{Outputs: map[string]string{"login": user.UserName}}, nil
}

func (d *Directory) group(ctx context.Context, c Call) (Reply, error) {
	user, there, err := d.account(ctx, c)
	if err != nil || !there {
		return Reply{}, err
	}
	var list scimList[scimGroup]
	if err := d.ask(ctx, http.MethodGet, "/Groups?filter="+url.QueryEscape(fmt.Sprintf("displayName eq %q", c.input("group"))), "", nil, &list); err != nil && !errors.Is(err, errGone) {
		return Reply{}, err
	}
	if len(list.Resources) == 0 {
		return Reply{}, refused("The directory knows no group %q.", c.input("group"))
	}
	operation := scimOperation{"add", "members", []scimValue{{user.ID}}}
	if c.Do == "leave" {
		operation = scimOperation{Op: "remove", Path: fmt.Sprintf("members[value eq %q]", user.ID)}
	}
	if err := d.patch(ctx, "/Groups/"+url.PathEscape(list.Resources[0].ID), c.Key, nil, operation); err != nil {
		return Reply{}, d.gone(err, "The directory knows no group %q.", c.input("group"))
	}
	return Reply{Outputs: map[string]string{"login": user.UserName, "group": list.Resources[0].Display}}, nil
}
