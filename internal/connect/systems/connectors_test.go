package systems_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/directory"
	"heptad/internal/connect/licences"
	"heptad/internal/connect/purchasing"
	"heptad/internal/connect/webcall"
	"heptad/internal/core/plan"
	"heptad/internal/simulate"
)

// system serves the handler of a simulator, and gives its URL.
func system(t *testing.T, handler http.Handler) string {
	t.Helper()
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	return server.URL
}

// step is one call and what comes of it.
type step struct {
	call  connect.Call
	out   map[string]string // nil when it is refused
	fails string            // part of the sentence
}

func in(pairs ...string) map[string]string {
	inputs := map[string]string{}
	for i := 0; i < len(pairs); i += 2 {
		inputs[pairs[i]] = pairs[i+1]
	}
	return inputs
}

// run makes calls one after the other.
func run(t *testing.T, c connect.Connector, steps ...step) {
	t.Helper()
	for _, s := range steps {
		reply, err := c.Do(t.Context(), s.call)
		if s.fails != "" {
			var trouble connect.Trouble
			require.ErrorAs(t, err, &trouble, "%s %s", s.call.Do, s.call.Key)
			assert.Contains(t, trouble.Sentence, s.fails)
			continue
		}
		require.NoError(t, err, "%s %s", s.call.Do, s.call.Key)
		if s.out == nil {
			assert.Empty(t, reply.Outputs)
		} else {
			assert.Equal(t, s.out, reply.Outputs, "%s %s", s.call.Do, s.call.Key)
		}
	}
}

// Over SCIM an account is made once for each key, under a login that is free;
// it is disabled by its login, or by the key of the call that made it.
func TestDirectory(t *testing.T) {
	d, err := directory.Open(filepath.Join(t.TempDir(), "directory.json"), []directory.Account{{UserName: "halvorsen", Name: "Odd Halvorsen"}}, []string{"crew"})
	require.NoError(t, err)
	c := directory.New(connect.At(system(t, d.Handler()), ""))
	noor := in("name", "Noor Halvorsen", "title", "Second officer", "department", "Fleet", "email", "noor@quillonstraits.example")
	made := map[string]string{"login": "halvorsen2", "account": "u-2"}
	run(t, c,
		step{call: connect.Call{Key: "a", Do: "make", Inputs: noor}, out: made},
		step{call: connect.Call{Key: "a", Do: "make", Inputs: noor}, out: made},
		step{call: connect.Call{Key: "b", Do: "make", Inputs: in("name", "Noor Halvorsen")}, out: map[string]string{"login": "halvorsen3", "account": "u-3"}},
		step{call: connect.Call{Key: "c", Do: "make", Inputs: in("name", "Somebody", "login", "HALVORSEN")}, fails: "The login HALVORSEN is taken."},
		step{call: connect.Call{Key: "d", Do: "make", Inputs: in("name", "—")}, fails: "The directory needs a name."},
		step{call: connect.Call{Key: "e", Do: "join", Inputs: in("login", "halvorsen2", "group", "crew")}, out: map[string]string{"login": "halvorsen2", "group": "crew"}},
		step{call: connect.Call{Key: "e", Do: "join", Inputs: in("login", "halvorsen2", "group", "crew")}, out: map[string]string{"login": "halvorsen2", "group": "crew"}},
		step{call: connect.Call{Key: "f", Do: "join", Inputs: in("login", "halvorsen2", "group", "captains")}, fails: `The directory knows no group "captains".`},
		step{call: connect.Call{Key: "g", Do: "join", Inputs: in("login", "nobody", "group", "crew")}, fails: `The directory knows no account "nobody".`},
		step{call: connect.Call{Key: "h", Do: "change", Inputs: in("login", "halvorsen2", "department", "Engineering", "title", "Motor mechanic", "location", "MV Grey Heron")}, out: map[string]string{"login": "halvorsen2"}},
	)
	assert.Equal(t, []string{"halvorsen2"}, d.Members("crew"), "joining twice is joining once")
	account := d.Accounts()[1]
	assert.Equal(t, []string{"Engineering", "Motor mechanic", "MV Grey Heron", "noor@quillonstraits.example"}, []string{account.Department, account.Title, account.Place, account.Email})

	run(t, c,
		step{call: connect.Call{Key: "a/undo", Do: "disable", Undoes: "a"}, out: map[string]string{"login": "halvorsen2"}},
		step{call: connect.Call{Key: "b/undo", Do: "disable", Undoes: "b", Outputs: map[string]string{"login": "halvorsen3"}}, out: map[string]string{"login": "halvorsen3"}},
		step{call: connect.Call{Key: "z/undo", Do: "disable", Undoes: "z"}}, // it was never made
		step{call: connect.Call{Key: "i", Do: "disable", Inputs: in("login", "nobody")}, fails: "knows no account"},
		step{call: connect.Call{Key: "j", Do: "disable"}, fails: "needs a login"},
		step{call: connect.Call{Key: "k", Do: "leave", Inputs: in("login", "halvorsen2", "group", "crew")}, out: map[string]string{"login": "halvorsen2", "group": "crew"}},
		step{call: connect.Call{Key: "l", Do: "fly", Inputs: in("login", "halvorsen2")}, fails: `cannot do "fly"`},
	)
	assert.False(t, d.Accounts()[1].Active)
	assert.False(t, d.Accounts()[2].Active)
	assert.True(t, d.Accounts()[0].Active)
	assert.Empty(t, d.Members("crew"))
	code := func(key string) string {
		reply, err := c.Do(t.Context(), connect.Call{Key: key, Do: "factor", Inputs: in("login", "halvorsen", "kind", "phone")})
		require.NoError(t, err)
		assert.Regexp(t, `^\d{6}$`, reply.Outputs["code"])
		return reply.Outputs["code"]
	}
	first := code("m")
	assert.Equal(t, first, code("m"), "tried again it is the same one")
	assert.NotEqual(t, first, code("n"))
}

// Of a product there are only so many; one is assigned for each key, and none
// for a key that was released before its call arrived.
func TestLicences(t *testing.T) {
	path := filepath.Join(t.TempDir(), "licences.json")
	l, err := licences.Open(path, map[string]int{"planner": 1}, nil)
	require.NoError(t, err)
	c := licences.New(connect.At(system(t, l.Handler()), ""))
	noor, davi := in("product", "planner", "holder", "Noor Halvorsen", "until", "2027-09-30"), in("product", "planner", "holder", "Davi Sarmento")
	run(t, c,
		step{call: connect.Call{Key: "a", Do: "assign", Inputs: noor}, out: map[string]string{"licence": "QL-7001"}},
		step{call: connect.Call{Key: "a", Do: "assign", Inputs: noor}, out: map[string]string{"licence": "QL-7001"}},
		step{call: connect.Call{Key: "b", Do: "assign", Inputs: davi}, fails: "None is free."},
		step{call: connect.Call{Key: "c", Do: "count", Inputs: in("product", "planner")}, out: map[string]string{"free": "0", "total": "1"}},
		step{call: connect.Call{Key: "d", Do: "buy", Inputs: in("product", "planner", "count", "1")}, out: map[string]string{"total": "2"}},
		step{call: connect.Call{Key: "d", Do: "buy", Inputs: in("product", "planner", "count", "1")}, out: map[string]string{"total": "2"}},
		step{call: connect.Call{Key: "b", Do: "assign", Inputs: davi}, out: map[string]string{"licence": "QL-7002"}},
		step{call: connect.Call{Key: "e", Do: "extend", Inputs: in("licence", "QL-7002", "until", "2028-01-31")}, out: map[string]string{"licence": "QL-7002"}},
		step{call: connect.Call{Key: "f", Do: "release", Inputs: in("licence", "QL-7001")}},
		step{call: connect.Call{Key: "f", Do: "release", Inputs: in("licence", "QL-7001")}},
		step{call: connect.Call{Key: "g", Do: "extend", Inputs: in("licence", "QL-7001", "until", "2028-01-31")}, fails: "knows nothing of that name"},
		step{call: connect.Call{Key: "h/undo", Do: "release", Undoes: "h"}},
		step{call: connect.Call{Key: "h", Do: "assign", Inputs: noor}, fails: "released before it was assigned"},
		step{call: connect.Call{Key: "i", Do: "count", Inputs: in("product", "compass")}, fails: `knows no product "compass"`},
		step{call: connect.Call{Key: "j", Do: "buy", Inputs: in("product", "planner", "count", "some")}, fails: `"some" is no number`},
		step{call: connect.Call{Key: "k", Do: "lend"}, fails: `cannot do "lend"`},
	)
	again, err := licences.Open(path, map[string]int{"planner": 99}, nil)
	require.NoError(t, err)
	assert.Equal(t, l.List(), again.List(), "a restart changes nothing")
	assert.True(t, again.List()["a"].Released)
	assert.Equal(t, "2028-01-31", again.List()["b"].Until)
}

// A signature holds for the body and the time it was made for, and for five
// minutes.
func TestSignatures(t *testing.T) {
	now := time.Date(2027, 3, 12, 9, 0, 0, 0, time.UTC)
	body := []byte(`{"key":"r/order"}`)
	signature, stamp := connect.Sign("sesame", now, body)
	for name, c := range map[string]struct {
		secret, signature, stamp, body string
		now                            time.Time
		want                           bool
	}{
		"good":            {"sesame", signature, stamp, string(body), now, true},
		"five minutes on": {"sesame", signature, stamp, string(body), now.Add(5 * time.Minute), true},
		"a second later":  {"sesame", signature, stamp, string(body), now.Add(5*time.Minute + time.Second), false},
		"from the future": {"sesame", signature, stamp, string(body), now.Add(-6 * time.Minute), false},
		"another secret":  {"simsim", signature, stamp, string(body), now, false},
		"no secret":       {"", signature, stamp, string(body), now, false},
		"another body":    {"sesame", signature, stamp, `{"key":"s/order"}`, now, false},
		"another time":    {"sesame", signature, "1805014801", string(body), now, false},
		"no time":         {"sesame", signature, "noon", string(body), now, false},
		"no signature":    {"sesame", "", stamp, string(body), now, false},
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, c.want, connect.Verify(c.secret, c.signature, c.stamp, []byte(c.body), c.now))
		})
	}
}

// An order is taken once for each key, and reports go out signed.
func TestPurchasing(t *testing.T) {
	p, err := purchasing.Open(filepath.Join(t.TempDir(), "purchasing.json"), "sesame")
	require.NoError(t, err)
	var told []bool
	heptad := system(t, http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		body := make([]byte, r.ContentLength)
		_, _ = r.Body.Read(body)
		told = append(told, connect.Verify("sesame", r.Header.Get(connect.SignatureHeader), r.Header.Get(connect.TimeHeader), body, time.Now()))
	}))
	c := purchasing.New(connect.At(system(t, p.Handler()), ""), heptad)
	order := in("item", "Bridge uniform", "quantity", "3", "costCentre", "CC-2200")
	run(t, c,
		step{call: connect.Call{Key: "a", Do: "order", Inputs: order}, out: map[string]string{"order": "PO-3001"}},
		step{call: connect.Call{Key: "a", Do: "order", Inputs: order}, out: map[string]string{"order": "PO-3001"}},
		step{call: connect.Call{Key: "b", Do: "order", Inputs: in("item", "Vest", "quantity", "1.5")}, fails: `"1.5" is no number to order`},
		step{call: connect.Call{Key: "c/undo", Do: "cancel", Undoes: "c"}},
		step{call: connect.Call{Key: "c", Do: "order", Inputs: order}, fails: "cancelled before it was ordered"},
		step{call: connect.Call{Key: "d", Do: "cancel", Inputs: in("order", "PO-9999")}}, // nothing to cancel
		step{call: connect.Call{Key: "e", Do: "barter"}, fails: `cannot do "barter"`},
	)
	status, err := p.Report(t.Context(), "PO-3001", purchasing.Told{State: "partial", Delivered: 2})
	require.NoError(t, err)
	assert.Equal(t, 200, status)
	p.SetFaults(simulate.Faults{Twice: true})
	_, err = p.Report(t.Context(), "PO-3001", purchasing.Told{State: "delivered"})
	require.NoError(t, err)
	assert.Equal(t, []bool{true, true, true}, told, "signed, and with the fault told twice")
	assert.Equal(t, 3, p.Orders()[0].Delivered)
	_, err = p.Report(t.Context(), "PO-9999", purchasing.Told{State: "delivered"})
	assert.ErrorContains(t, err, "no such order")
	run(t, c, step{call: connect.Call{Key: "a/undo", Do: "cancel", Undoes: "a"}})
	assert.True(t, p.Orders()[0].Cancelled)
}

// A web call reaches only hosts that were allowed: loopback and private
// addresses not even through a public name, unless they are allowed themselves.
func TestWebCallGuard(t *testing.T) {
	hits := 0
	inside := system(t, http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		hits++
		if r.URL.Path == "/away" {
			http.Redirect(w, r, "/here", http.StatusFound)
			return
		}
		_, _ = w.Write([]byte(`{"booking": {"number": "BK-7", "days": [3, 4.5]}, "a/b": {"~": "deep"}, "empty": ""}`))
	}))
	host := strings.TrimPrefix(inside, "http://")
	_, port, _ := strings.Cut(host, ":")
	do := func(s connect.System, method, address, body string, wanted ...plan.Output) (connect.Reply, error) {
		reach := func(context.Context) (connect.System, error) { return s, nil }
		return webcall.New(reach).Do(t.Context(), connect.Call{Key: "k", Do: "call", Inputs: in("method", method, "url", address, "body", body), Wanted: wanted})
	}
	own := connect.System{URL: inside}
	for name, c := range map[string]struct {
		system  connect.System
		address string
		fails   string
	}{
		"its own host":                {own, "/bookings", ""},
		"allowed by name":             {connect.System{Hosts: []string{host}}, inside + "/x", ""},
		"not allowed":                 {connect.System{Hosts: []string{"berths.example"}}, inside + "/x", "may not be called"},
		"another port":                {own, "http://127.0.0.1:1/x", "may not be called"},
		"loopback allowed by no port": {connect.System{Hosts: []string{"127.0.0.1"}}, inside + "/x", "does not answer"},
		"a name that leads inside":    {connect.System{Hosts: []string{"localhost"}}, "http://localhost:" + port + "/x", "does not answer"},
		"private":                     {connect.System{Hosts: []string{"10.1.2.3"}}, "http://10.1.2.3/x", "does not answer"},
		"link-local":                  {connect.System{Hosts: []string{"169.254.169.254"}}, "http://169.254.169.254/latest", "does not answer"},
		"shared":                      {connect.System{Hosts: []string{"100.64.0.1"}}, "http://100.64.0.1/", "does not answer"},
		"loopback of IPv6":            {connect.System{Hosts: []string{"::1"}}, "http://[::1]:" + port + "/", "does not answer"},
		"with a password":             {own, "http://me:secret@" + host + "/", "may not be called"},
		"a file":                      {own, "file:///etc/passwd", "may not be called"},
		"nonsense":                    {own, "http://%zz", "may not be called"},
		"a redirect is not followed":  {own, "/away", "sends the call elsewhere (status 302)"},
	} {
		t.Run(name, func(t *testing.T) {
			before := hits
			_, err := do(c.system, "GET", c.address, "")
			if c.fails == "" {
				require.NoError(t, err)
				assert.Equal(t, before+1, hits)
				return
			}
			assert.ErrorContains(t, err, c.fails)
			if !strings.Contains(c.fails, "302") {
				assert.Equal(t, before, hits, "nothing was called")
			}
		})
	}

	want := func(key, from string, kind plan.Type) plan.Output {
		return plan.Output{Key: key, Name: key, From: from, Kind: kind}
	}
	reply, err := do(own, "post", "/bookings", `{"what": "Berth"}`, want("number", "/booking/number", plan.Text), want("days", "/booking/days/1", plan.Number), want("deep", "/a~1b/~0", plan.Text))
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"number": "BK-7", "days": "4.5", "deep": "deep"}, reply.Outputs)
	for _, pointer := range []string{"/booking", "/booking/days/2", "/booking/days/x", "/booking/number/0", "/none"} {
		_, err = do(own, "GET", "/", "", want("it", pointer, plan.Text))
		assert.ErrorContains(t, err, "The reply lacks what is wanted from it", pointer)
	}
	_, err = do(own, "GET", "/", "", want("it", "/booking/number", plan.Number))
	assert.ErrorContains(t, err, "The reply lacks", "it is no number")
	_, err = do(own, "BREW", "/", "")
	assert.ErrorContains(t, err, `"BREW" is no method`)
	_, err = do(own, "POST", "/", "{half")
	assert.ErrorContains(t, err, "no JSON")
}

// Faults: what a system does when it is slow, refuses, breaks down after the
// work, works twice or is away.
func TestFaults(t *testing.T) {
	l, err := licences.Open(filepath.Join(t.TempDir(), "licences.json"), map[string]int{"planner": 9}, nil)
	require.NoError(t, err)
	l.Guard("sesame")
	address := system(t, l.Handler())
	c := licences.New(connect.At(address, "sesame"))
	assign := func(key string) step {
		return step{call: connect.Call{Key: key, Do: "assign", Inputs: in("product", "planner", "holder", "Davi Sarmento")}}
	}
	fails := func(s step, words string) step { s.fails = words; return s }
	gives := func(s step, licence string) step { s.out = map[string]string{"licence": licence}; return s }

	l.SetFaults(simulate.Faults{Refuse: true})
	run(t, c, fails(assign("a"), "refuses everything just now"))
	assert.Empty(t, l.List())
	l.SetFaults(simulate.Faults{Down: true})
	run(t, c, fails(assign("a"), "does not answer"))
	l.SetFaults(simulate.Faults{Late: true})
	run(t, c, fails(assign("a"), "broke down after doing the work"))
	assert.Len(t, l.List(), 1)
	l.SetFaults(simulate.Faults{Twice: true})
	run(t, c, gives(assign("a"), "QL-7001"), gives(assign("b"), "QL-7002"))
	assert.Len(t, l.List(), 2, "one for each key, however often it is done")

	response, err := http.PostForm(address+"/faults", url.Values{"slow": {"on"}})
	require.NoError(t, err)
	defer response.Body.Close()
	assert.Equal(t, http.StatusOK, response.StatusCode, "the page comes back")
	l.SetFaults(simulate.Faults{Slow: true, SlowFor: 60})
	began := time.Now()
	run(t, c, gives(assign("a"), "QL-7001"))
	assert.GreaterOrEqual(t, time.Since(began), 60*time.Millisecond)
	l.SetFaults(simulate.Faults{})
	run(t, licences.New(connect.At(address, "simsim")), fails(assign("c"), "The secret is wrong."))
	run(t, licences.New(connect.At("", "")), fails(assign("c"), "is not connected"))
}

// What is handed over is checked before a system is called.
func TestInputsAreChecked(t *testing.T) {
	action, ok := plan.FindAction([]plan.Connector{licences.New(connect.At("", "")).Describe()}, plan.Action{Connector: "licences", Do: "assign"})
	require.True(t, ok)
	for want, c := range map[string]connect.Call{
		"":                          {Inputs: in("product", "planner", "holder", "Davi")},
		"For whom is missing.":      {Inputs: in("product", "planner", "holder", " ")},
		"Product is missing.":       {Inputs: in("product", "—", "holder", "Davi")},
		`Until: "soon" is no date.`: {Inputs: in("product", "planner", "holder", "Davi", "until", "soon")},
	} {
		assert.Equal(t, want, action.Wrong(c.Input, c.Undoes != ""))
	}
	assert.Empty(t, action.Wrong(connect.Call{Undoes: "a"}.Input, true), "an undo reads what came out")
}
