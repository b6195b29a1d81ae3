package directory

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector makes, changes and disables accounts, and puts them into groups
// and takes them out, through SCIM 2.0 (RFC 7643, RFC 7644).
type Connector struct{ connect.API }

// New speaks to the directory; the URL is the base of its SCIM
// endpoints.
func New(reach connect.Reach) *Connector { return &Connector{connect.NewAPI("The directory", reach)} }

// Describe tells what the directory can do.
func (d *Connector) Describe() plan.Connector {
	account := []plan.Field{{Key: "login", Name: "Login", Person: true}}
	group := append(account, plan.Field{Key: "group", Name: "Group", Group: true})
	return plan.Connector{Key: "directory", Name: "Directory", Actions: []plan.ActionType{
		{
			Key: "make", Name: "Make an account", Undo: "disable", Makes: true,
			Inputs:  []plan.Field{connect.Text("name", "Name"), connect.Free("login", "Login, made from the name when empty"), connect.Free("email", "Mail address"), connect.Free("title", "Title"), connect.Free("department", "Department")},
			Outputs: []plan.Field{connect.Text("login", "Login"), connect.Text("account", "Account number")},
		},
		{
			Key: "change", Name: "Change an account",
			Inputs: append(account, connect.Free("title", "Title"), connect.Free("department", "Department"), connect.Free("location", "Place")), Outputs: []plan.Field{connect.Text("login", "Login")},
		},
		{Key: "disable", Name: "Disable an account", Undo: "enable", Sensitive: true, Inputs: account, Outputs: []plan.Field{connect.Text("login", "Login")}},
		{Key: "enable", Name: "Enable an account", Undo: "disable", Inputs: account, Outputs: []plan.Field{connect.Text("login", "Login")}},
		{Key: "join", Name: "Add to a group", Undo: "leave", Inputs: group, Outputs: []plan.Field{connect.Text("login", "Login"), connect.Text("group", "Group")}},
		{Key: "leave", Name: "Take from a group", Undo: "join", Inputs: group, Outputs: []plan.Field{connect.Text("login", "Login"), connect.Text("group", "Group")}},
		{
			Key: "factor", Name: "Set a second sign-in factor", Sensitive: true, Inputs: append(account, connect.Text("kind", "Kind")),
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
	scimPatchSchema = "urn:ietf:params:scim:connect.API:messages:2.0:PatchOp"
	scimDepartment  = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department"
	scimFactorPath  = "urn:heptad:scim:factor:1.0:User"
)

// Do makes one call. An account carries the key of its call as its external
// ID, so that it is made once.
func (d *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	switch c.Do {
	case "make":
		return d.make(ctx, c)
	case "change", "disable", "enable", "factor":
		return d.change(ctx, c)
	case "join", "leave":
		return d.group(ctx, c)
	}
	return connect.Reply{}, connect.Refused("The directory cannot do %q.", c.Do)
}

func (d *Connector) find(ctx context.Context, attribute, value string) (scimUser, bool, error) {
	var list scimList[scimUser]
	filter := fmt.Sprintf("%s eq %q", attribute, value)
	if err := d.Ask(ctx, http.MethodGet, "/Users?filter="+url.QueryEscape(filter), "", nil, &list); err != nil {
		return scimUser{}, false, d.Gone(err, "The directory keeps no accounts.")
	}
	if len(list.Resources) == 0 {
		return scimUser{}, false, nil
	}
	return list.Resources[0], true, nil
}

func (d *Connector) make(ctx context.Context, c connect.Call) (connect.Reply, error) {
	user, there, err := d.find(ctx, "externalId", c.Key)
	if err != nil {
		return connect.Reply{}, err
	}
	if !there {
		user = scimUser{
			Schemas: []string{scimUserSchema}, ExternalID: c.Key, UserName: c.Input("login"), Display: c.Input("name"), Title: c.Input("title"), Active: true,
		}
		if mail := c.Input("email"); mail != "" {
			user.Emails = []scimValue{{mail}}
		}
		if department := c.Input("department"); department != "" {
			user.Enterprise = &scimEnterprise{department}
		}
		if user.UserName == "" {
			if user.UserName, err = d.freeLogin(ctx, user.Display); err != nil {
				return connect.Reply{}, err
			}
		}
		if err := d.Ask(ctx, http.MethodPost, "/Users", c.Key, user, &user); err != nil {
			return connect.Reply{}, d.Gone(err, "The directory takes no accounts.")
		}
	}
	if user.ID == "" {
		return connect.Reply{}, connect.Trouble{Sentence: "The directory gave an answer without an account."}
	}
	return connect.Reply{Outputs: map[string]string{"login": user.UserName, "account": user.ID}}, nil
}

// freeLogin is the last word of a name, with a number when that is taken.
func (d *Connector) freeLogin(ctx context.Context, name string) (string, error) {
	words := strings.Fields(strings.ToLower(name))
	if len(words) == 0 {
		return "", connect.Refused("The directory needs a name.")
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
	return "", connect.Refused("No login is free for %s.", name)
}

// account finds the account that a call is about; of an undo by the key of the
// call that made it, when nobody knows its login. It may not be there then.
func (d *Connector) account(ctx context.Context, c connect.Call) (scimUser, bool, error) {
	if login := c.Input("login"); login != "" {
		user, there, err := d.find(ctx, "userName", login)
		if err == nil && !there && c.Undoes == "" {
			err = connect.Refused("The directory knows no account %q.", login)
		}
		return user, there, err
	}
	if c.Undoes == "" {
		return scimUser{}, false, connect.Refused("The directory needs a login.")
	}
	return d.find(ctx, "externalId", c.Undoes)
}

func (d *Connector) patch(ctx context.Context, path, key string, out any, operations ...scimOperation) error {
	return d.Ask(ctx, http.MethodPatch, path, key, map[string]any{"schemas": []string{scimPatchSchema}, "Operations": operations}, out)
}

func (d *Connector) change(ctx context.Context, c connect.Call) (connect.Reply, error) {
	user, there, err := d.account(ctx, c)
	if err != nil || !there {
		return connect.Reply{}, err
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
		operations = []scimOperation{{"replace", scimFactorPath, map[string]string{"kind": c.Input("kind")}}}
	default:
		set("title", c.Input("title"))
		set(scimDepartment, c.Input("department"))
		set("addresses[type eq \"work\"].locality", c.Input("location"))
	}
	if err := d.patch(ctx, "/Users/"+url.PathEscape(user.ID), c.Key, &user, operations...); err != nil {
		return connect.Reply{}, d.Gone(err, "The directory knows no account %q.", user.UserName)
	}
	if c.Do == "factor" {
		if user.Factor == nil || user.Factor.Code == "" {
			return connect.Reply{}, connect.Trouble{Sentence: "The directory gave an answer without a code."}
		}
		return connect.Reply{Outputs: map[string]string{"code": user.Factor.Code}}, nil
	}
	return connect.Reply{Outputs: map[string]string{"login": user.UserName}}, nil
}

func (d *Connector) group(ctx context.Context, c connect.Call) (connect.Reply, error) {
	user, there, err := d.account(ctx, c)
	if err != nil || !there {
		return connect.Reply{}, err
	}
	var list scimList[scimGroup]
	if err := d.Ask(ctx, http.MethodGet, "/Groups?filter="+url.QueryEscape(fmt.Sprintf("displayName eq %q", c.Input("group"))), "", nil, &list); err != nil && !errors.Is(err, connect.ErrGone) {
		return connect.Reply{}, err
	}
	if len(list.Resources) == 0 {
		return connect.Reply{}, connect.Refused("The directory knows no group %q.", c.Input("group"))
	}
	operation := scimOperation{"add", "members", []scimValue{{user.ID}}}
	if c.Do == "leave" {
		operation = scimOperation{Op: "remove", Path: fmt.Sprintf("members[value eq %q]", user.ID)}
	}
	if err := d.patch(ctx, "/Groups/"+url.PathEscape(list.Resources[0].ID), c.Key, nil, operation); err != nil {
		return connect.Reply{}, d.Gone(err, "The directory knows no group %q.", c.Input("group"))
	}
	return connect.Reply{Outputs: map[string]string{"login": user.UserName, "group": list.Resources[0].Display}}, nil
}
