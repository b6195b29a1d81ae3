package webcall

import (
	"context"
	"encoding/json"
	"net"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/core/plan"
)

// Connector calls any HTTP JSON interface on the hosts an administrator has
// allowed.
type Connector struct{ connect.API }

// New calls what is allowed.
func New(reach connect.Reach) *Connector {
	w := &Connector{connect.NewAPI("The other side", reach)}
	dialer := &net.Dialer{Timeout: 10 * time.Second}
	w.Client.Transport = &http.Transport{
		Proxy: nil, MaxIdleConnsPerHost: 4, IdleConnTimeout: time.Minute,
		DialContext: func(ctx context.Context, network, address string) (net.Conn, error) {
			system, err := w.Reach(ctx)
			if err != nil {
				return nil, err
			}
			guarded := *dialer
			if !slices.Contains(hostsOf(system), address) { // a private address must be allowed with its port
				guarded.Control = publicOnly
			}
			return guarded.DialContext(ctx, network, address)
		},
	}
	return w
}

// Describe tells what a web call can do.
func (w *Connector) Describe() plan.Connector {
	inputs := []plan.Field{
		connect.Text("method", "Method, such as POST"), {Key: "url", Name: "Address, or what follows that of the connector", Form: plan.URL}, {Key: "body", Name: "Body, JSON", Free: true, Form: plan.JSON},
	}
	return plan.Connector{Key: "web", Name: "Web call", Actions: []plan.ActionType{
		{Key: "call", Name: "Call an address", Inputs: inputs, Outputs: []plan.Field{}, Free: true},
	}}
}

// hostsOf are those that may be called: the system's own, and those that were
// allowed.
func hostsOf(s connect.System) []string {
	hosts := s.Hosts
	if own, err := url.Parse(s.URL); err == nil && own.Host != "" {
		hosts = append(slices.Clip(hosts), own.Host)
	}
	return hosts
}

// allowed reports whether a URL may be called.
func allowed(u *url.URL, hosts []string) bool {
	return (u.Scheme == "https" || u.Scheme == "http") && u.User == nil && (slices.Contains(hosts, u.Host) || slices.Contains(hosts, u.Hostname()))
}

// Do makes one call, with its Idempotency-Key.
func (w *Connector) Do(ctx context.Context, c connect.Call) (connect.Reply, error) {
	if c.Do != "call" {
		return connect.Reply{}, connect.Refused("A web call cannot do %q.", c.Do)
	}
	system, err := w.Reach(ctx)
	if err != nil {
		return connect.Reply{}, err
	}
	address := c.Input("url")
	if strings.HasPrefix(address, "/") {
		address = system.URL + address
	}
	target, err := url.Parse(address)
	if err != nil || !allowed(target, hostsOf(system)) {
		return connect.Reply{}, connect.Refused("The address %q may not be called: an administrator has to allow its host.", c.Input("url"))
	}
	if connect.Climbs(target) {
		return connect.Reply{}, connect.Refused("The address %q may not be called: a step of its path leads upward.", c.Input("url"))
	}
	method := strings.ToUpper(c.Input("method"))
	if !slices.Contains([]string{http.MethodGet, http.MethodPost, http.MethodPut, http.MethodPatch, http.MethodDelete}, method) {
		return connect.Reply{}, connect.Refused("%q is no method that can be called.", c.Input("method"))
	}
	var body *strings.Reader
	if text := c.Input("body"); text != "" {
		if !json.Valid([]byte(text)) {
			return connect.Reply{}, connect.Refused("What would be sent is no JSON.")
		}
		body = strings.NewReader(text)
	} else {
		body = strings.NewReader("")
	}
	request, err := http.NewRequestWithContext(ctx, method, target.String(), body)
	if err != nil {
		return connect.Reply{}, connect.Refused("The address %q cannot be called.", c.Input("url"))
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Accept", "application/json")
	request.Header.Set("Idempotency-Key", c.Key)
	var out any
	if err := w.Send(request, &out); err != nil {
		return connect.Reply{}, w.Gone(err, "There is nothing at %q.", c.Input("url"))
	}
	outputs := map[string]string{}
	for _, wanted := range c.Wanted {
		if wanted.From == "" {
			continue
		}
		value, there := pointed(out, wanted.From)
		if trouble := wanted.Check(value, c.Currency); !there && !wanted.Free || trouble != "" {
			return connect.Reply{}, connect.Trouble{Sentence: "The reply lacks what is wanted from it: " + wanted.Name + " at " + wanted.From + ".", Final: true}
		}
		if value != "" {
			outputs[wanted.Key] = value
		}
	}
	return connect.Reply{Outputs: outputs}, nil
}

// pointed reads the value at a JSON Pointer (RFC 6901), as text.
func pointed(value any, pointer string) (string, bool) {
	for _, step := range strings.Split(strings.TrimPrefix(pointer, "/"), "/") {
		step = strings.NewReplacer("~1", "/", "~0", "~").Replace(step)
		switch x := value.(type) {
		case map[string]any:
			next, ok := x[step]
			if !ok {
				return "", false
			}
			value = next
		case []any:
			i, err := strconv.Atoi(step)
			if err != nil || i < 0 || i >= len(x) {
				return "", false
			}
			value = x[i]
		default:
			return "", false
		}
	}
	switch x := value.(type) {
	case string:
		return x, true
	case float64:
		return strconv.FormatFloat(x, 'f', -1, 64), true
	case bool:
		return strconv.FormatBool(x), true
	}
	return "", false
}
