package systems_test

import (
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/connect"
	"heptad/internal/connect/badges"
	"heptad/internal/connect/directory"
	"heptad/internal/connect/licences"
	"heptad/internal/connect/purchasing"
	"heptad/internal/connect/webcall"
	"heptad/internal/simulate"
)

// stands are all simulators, kept in one folder.
type stands struct {
	t          *testing.T
	badges     *badges.System
	licences   *licences.System
	directory  *directory.System
	purchasing *purchasing.System
	berths     *webcall.System
}

const sign = "a secret to sign with"

func open(t *testing.T, dir string) *stands {
	t.Helper()
	file := func(name string) string { return filepath.Join(dir, name+".json") }
	s := &stands{t: t}
	var err error
	s.badges, err = badges.Open(file("badges"), map[string]badges.Badge{"own": {Number: "QB-1", Holder: "Davi Sarmento", Opens: "offices"}})
	require.NoError(t, err)
	s.licences, err = licences.Open(file("licences"), map[string]int{"planner": 2}, nil)
	require.NoError(t, err)
	s.directory, err = directory.Open(file("directory"), []directory.Account{{UserName: "sarmento", Name: "Davi Sarmento"}}, []string{"crew"})
	require.NoError(t, err)
	s.purchasing, err = purchasing.Open(file("purchasing"), sign)
	require.NoError(t, err)
	s.berths, err = webcall.Open(file("berths"))
	require.NoError(t, err)
	return s
}

// answer is what a system answers.
type answer struct {
	status int
	body   string
}

// ask asks a system with a key, over HTTP.
func ask(t *testing.T, handler http.Handler, method, path, key, body string) answer {
	t.Helper()
	r := httptest.NewRequest(method, path, strings.NewReader(body))
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("Idempotency-Key", key)
	w := httptest.NewRecorder()
	handler.ServeHTTP(w, r)
	return answer{w.Code, w.Body.String()}
}

const aBadge = `{"holder": "Noor Halvorsen", "opens": "Gate"}`

// What is wrong with a call is refused with its reason, and changes nothing.
func TestWhatTheSystemsRefuse(t *testing.T) {
	s := open(t, t.TempDir())
	for name, c := range map[string]struct {
		handler            http.Handler
		method, path, body string
		status             int
		says               string
	}{
		"no JSON":                     {s.badges.Handler(), "POST", "/badges", "{", 400, "needed"},
		"a badge for nobody":          {s.badges.Handler(), "POST", "/badges", `{"opens": "Gate"}`, 400, "holder"},
		"a badge that is not":         {s.badges.Handler(), "PATCH", "/badges/QB-9", aBadge, 404, "no such badge"},
		"ending one that is not":      {s.badges.Handler(), "DELETE", "/badges/QB-9", "", 404, "no such badge"},
		"a path that is not":          {s.badges.Handler(), "GET", "/keys", "", 404, ""},
		"a product that is not":       {s.licences.Handler(), "POST", "/licences", `{"product": "radar", "holder": "Noor"}`, 404, "no such product"},
		"a licence for nobody":        {s.licences.Handler(), "POST", "/licences", `{"product": "planner"}`, 400, "holder"},
		"counting what is not":        {s.licences.Handler(), "GET", "/products/radar", "", 404, "no such product"},
		"buying what is not":          {s.licences.Handler(), "POST", "/products/radar/more", `{"count": 1}`, 404, "no such product"},
		"extending what is not":       {s.licences.Handler(), "PATCH", "/licences/QL-9", `{"until": "2028-01-01"}`, 404, "no such licence"},
		"releasing what is not":       {s.licences.Handler(), "DELETE", "/licences/QL-9", "", 404, "no such licence"},
		"a filter of another sort":    {s.directory.Handler(), "GET", `/Users?filter=` + url.QueryEscape(`userName co "sar"`), "", 400, "filters"},
		"no filter":                   {s.directory.Handler(), "GET", "/Users", "", 400, "filters"},
		"an account without a name":   {s.directory.Handler(), "POST", "/Users", `{"userName": "x"}`, 400, "name"},
		"a login that is taken":       {s.directory.Handler(), "POST", "/Users", `{"userName": "Sarmento", "displayName": "D"}`, 409, "taken"},
		"an account that is not":      {s.directory.Handler(), "PATCH", "/Users/u-9", `{"Operations": []}`, 404, "no such account"},
		"a path of an account":        {s.directory.Handler(), "PATCH", "/Users/u-1", `{"Operations": [{"op": "replace", "path": "shoeSize", "value": 44}]}`, 400, "shoeSize"},
		"a value of another sort":     {s.directory.Handler(), "PATCH", "/Users/u-1", `{"Operations": [{"op": "replace", "path": "active", "value": "yes"}]}`, 400, "active"},
		"a factor of no kind":         {s.directory.Handler(), "PATCH", "/Users/u-1", `{"Operations": [{"op": "replace", "path": "urn:heptad:scim:factor:1.0:User", "value": {}}]}`, 400, "kind"},
		"a group that is not":         {s.directory.Handler(), "PATCH", "/Groups/captains", `{"Operations": []}`, 404, "no such group"},
		"something else with a group": {s.directory.Handler(), "PATCH", "/Groups/crew", `{"Operations": [{"op": "replace", "path": "members", "value": []}]}`, 400, "cannot be done"},
		"an order of nothing":         {s.purchasing.Handler(), "POST", "/orders", `{"key": "k", "item": "Uniform"}`, 400, "quantity"},
		"cancelling what is not":      {s.purchasing.Handler(), "DELETE", "/orders/PO-9", "", 404, "no such order"},
		"reporting what is not":       {s.purchasing.Handler(), "POST", "/orders/PO-9/report", `{"state": "delivered"}`, 404, "no such order"},
		"a report that is none":       {s.purchasing.Handler(), "POST", "/orders/PO-9/report", "x", 400, "JSON"},
		"a booking of nothing":        {s.berths.Handler(), "POST", "/bookings", `{"place": "Berth 1"}`, 400, "booked"},
		"ending what is not booked":   {s.berths.Handler(), "DELETE", "/bookings/BK-9", "", 404, "no such booking"},
		"faults that are none":        {s.berths.Handler(), "POST", "/faults", "x", 400, "faults"},
	} {
		t.Run(name, func(t *testing.T) {
			got := ask(t, c.handler, c.method, c.path, "k", c.body)
			assert.Equal(t, c.status, got.status, got.body)
			assert.Contains(t, got.body, c.says)
		})
	}
	assert.Len(t, s.badges.List(), 1)
	assert.Empty(t, s.licences.List())
	assert.Len(t, s.directory.Accounts(), 1)
	assert.Empty(t, s.purchasing.Orders())
	assert.Empty(t, s.berths.Bookings())
}

// Each fault does to the caller what it says, and to the work: some calls that
// fail have done it.
func TestFaultsOfASystem(t *testing.T) {
	for name, c := range map[string]struct {
		faults simulate.Faults
		status int // 0 when the connection is cut
		done   int
	}{
		"well":                         {simulate.Faults{}, 201, 1},
		"slow":                         {simulate.Faults{Slow: true, SlowFor: 50}, 201, 1},
		"refusing":                     {simulate.Faults{Refuse: true}, 500, 0},
		"failing after doing it":       {simulate.Faults{Late: true}, 500, 1},
		"doing it twice":               {simulate.Faults{Twice: true}, 201, 1},
		"down":                         {simulate.Faults{Down: true}, 0, 0},
		"down and slow":                {simulate.Faults{Down: true, Slow: true, SlowFor: 5000}, 0, 0},
		"never, at a chance of so few": {simulate.Faults{Refuse: true, Down: true, Chance: 1e-12}, 201, 1},
	} {
		t.Run(name, func(t *testing.T) {
			s := open(t, t.TempDir())
			s.berths.SetFaults(c.faults)
			server := httptest.NewServer(s.berths.Handler())
			defer server.Close()
			r, err := http.NewRequestWithContext(t.Context(), "POST", server.URL+"/bookings", strings.NewReader(`{"what": "Berth 4"}`))
			require.NoError(t, err)
			r.Header.Set("Idempotency-Key", "k")
			began := time.Now()
			response, err := http.DefaultClient.Do(r)
			if c.status == 0 {
				require.Error(t, err)
			} else {
				require.NoError(t, err)
				require.NoError(t, response.Body.Close())
				assert.Equal(t, c.status, response.StatusCode)
			}
			if c.faults.Slow && !c.faults.Down {
				assert.GreaterOrEqual(t, time.Since(began), 50*time.Millisecond)
			}
			assert.Len(t, s.berths.Bookings(), c.done)
		})
	}
}

// The page shows what was done and what is wrong, and switches it.
func TestThePageOfASystem(t *testing.T) {
	s := open(t, t.TempDir())
	page := func() string {
		got := ask(t, s.badges.Handler(), "GET", "/", "", "")
		require.Equal(t, http.StatusOK, got.status)
		return got.body
	}
	assert.Contains(t, page(), "<td>QB-1</td>")
	assert.NotContains(t, page(), "checked")
	r := httptest.NewRequest("POST", "/faults", strings.NewReader("refuse=on&slow=on"))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	w := httptest.NewRecorder()
	s.badges.Handler().ServeHTTP(w, r)
	assert.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, page(), `name="refuse" checked`)
	assert.Contains(t, page(), `name="slow" checked`)
	assert.Equal(t, 500, ask(t, s.badges.Handler(), "POST", "/badges", "k", aBadge).status)
	assert.Equal(t, 200, ask(t, s.badges.Handler(), "POST", "/faults", "", `{}`).status)
	ask(t, s.badges.Handler(), "POST", "/badges", "k", aBadge) // the first try of each key is refused
	assert.Equal(t, 201, ask(t, s.badges.Handler(), "POST", "/badges", "k", `{"holder": "<b>Noor</b>", "opens": "Gate"}`).status)
	assert.Contains(t, page(), "&lt;b&gt;Noor", "what comes from outside is no markup")
}

// A system lets in only who knows its secret; its page is open to who runs it.
func TestASystemWithASecret(t *testing.T) {
	s := open(t, t.TempDir())
	s.licences.Guard("pier")
	assert.Equal(t, 401, ask(t, s.licences.Handler(), "GET", "/products/planner", "", "").status)
	r := httptest.NewRequest("GET", "/products/planner", nil)
	r.Header.Set("Authorization", "Bearer pier")
	w := httptest.NewRecorder()
	s.licences.Handler().ServeHTTP(w, r)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.JSONEq(t, `{"total": 2, "free": 2}`, w.Body.String())
	assert.Equal(t, 200, ask(t, s.licences.Handler(), "GET", "/", "", "").status)
}

// What a system has done under a key it does not do again, not even after a
// restart, and what was undone before it was done is never done.
func TestOnceForEachKey(t *testing.T) {
	dir := t.TempDir()
	for range 2 { // the second time over the files of the first
		s := open(t, dir)
		for range 2 {
			ask(t, s.badges.Handler(), "POST", "/badges", "b", aBadge)
			assert.Equal(t, 201, ask(t, s.licences.Handler(), "POST", "/licences", "l", `{"product": "planner", "holder": "Noor"}`).status)
			assert.Equal(t, 200, ask(t, s.licences.Handler(), "POST", "/products/planner/more", "m", `{"count": 3}`).status)
			assert.Equal(t, 201, ask(t, s.directory.Handler(), "POST", "/Users", "d", `{"externalId": "d", "userName": "noor", "displayName": "Noor Halvorsen"}`).status)
			assert.Equal(t, 201, ask(t, s.purchasing.Handler(), "POST", "/orders", "o", `{"key": "o", "item": "Uniform", "quantity": 2}`).status)
			assert.Equal(t, 201, ask(t, s.berths.Handler(), "POST", "/bookings", "k", `{"what": "Berth 4"}`).status)
			for _, undo := range []struct {
				handler http.Handler
				path    string
			}{{s.badges.Handler(), "/badges?key=gone"}, {s.licences.Handler(), "/licences?key=gone"}, {s.purchasing.Handler(), "/orders?key=gone"}} {
				assert.Equal(t, 204, ask(t, undo.handler, "DELETE", undo.path, "", "").status)
			}
			assert.Equal(t, 410, ask(t, s.badges.Handler(), "POST", "/badges", "gone", aBadge).status)
			assert.Equal(t, 410, ask(t, s.licences.Handler(), "POST", "/licences", "gone", `{"product": "planner", "holder": "Noor"}`).status)
			assert.Equal(t, 410, ask(t, s.purchasing.Handler(), "POST", "/orders", "gone", `{"key": "gone", "item": "Uniform", "quantity": 2}`).status)
		}
		assert.Len(t, s.badges.List(), 2)
		assert.Len(t, s.licences.List(), 1)
		assert.JSONEq(t, `{"total": 5, "free": 4}`, ask(t, s.licences.Handler(), "GET", "/products/planner", "", "").body)
		assert.Len(t, s.directory.Accounts(), 2)
		assert.Len(t, s.purchasing.Orders(), 1)
		assert.Len(t, s.berths.Bookings(), 1)
	}
}

// The last licence goes to one of many who ask in the same instant.
func TestTheLastLicence(t *testing.T) {
	s := open(t, t.TempDir())
	var all sync.WaitGroup
	statuses := make([]int, 12)
	for i := range statuses {
		all.Go(func() {
			statuses[i] = ask(t, s.licences.Handler(), "POST", "/licences", string(rune('a'+i)), `{"product": "planner", "holder": "Noor"}`).status
		})
	}
	all.Wait()
	count := map[int]int{}
	for _, status := range statuses {
		count[status]++
	}
	assert.Equal(t, map[int]int{201: 2, 409: 10}, count)
}

// heptad takes the reports of the purchasing system.
type heptad struct {
	mu      sync.Mutex
	reports []purchasing.Delivery
}

func (h *heptad) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	body, err := io.ReadAll(r.Body)
	var d purchasing.Delivery
	if err != nil || json.Unmarshal(body, &d) != nil || !connect.Verify(sign, r.Header.Get(connect.SignatureHeader), r.Header.Get(connect.TimeHeader), body, time.Now()) {
		w.WriteHeader(http.StatusUnauthorized)
		return
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	h.reports = append(h.reports, d)
}

// The page of the purchasing system sends signed reports, each with a step of
// its own, in parts and to the end; with the fault each goes out twice.
func TestReportsOfThePurchasingSystem(t *testing.T) {
	s, h := open(t, t.TempDir()), &heptad{}
	server := httptest.NewServer(h)
	order := `{"key": "r/uniform", "item": "Uniform", "quantity": 2, "reports": "` + server.URL + `"}`
	require.JSONEq(t, `{"order": "PO-3001"}`, ask(t, s.purchasing.Handler(), "POST", "/orders", "r/uniform", order).body)
	press := func(state string) int {
		r := httptest.NewRequest("POST", "/deeds/PO-3001", strings.NewReader("state="+state))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		s.purchasing.Handler().ServeHTTP(w, r)
		return w.Code
	}
	for _, state := range []string{"confirmed", "partial", "partial", "partial", "delivered"} {
		assert.Equal(t, http.StatusSeeOther, press(state))
	}
	came, steps := []int{}, map[string]bool{}
	for _, d := range h.reports {
		came = append(came, d.Delivered)
		steps[d.Step] = true
		assert.Equal(t, "r/uniform", d.Key)
		assert.Equal(t, "S-3001", d.Supplier)
	}
	assert.Equal(t, []int{0, 1, 2, 2, 2}, came, "never more than was ordered")
	assert.Len(t, steps, 5)
	assert.Contains(t, ask(t, s.purchasing.Handler(), "GET", "/", "", "").body, "delivered: 200")

	s.purchasing.SetFaults(simulate.Faults{Twice: true})
	assert.Equal(t, http.StatusSeeOther, press("refused"))
	assert.Len(t, h.reports, 7)
	assert.Equal(t, h.reports[5], h.reports[6], "the same step twice")
	assert.NotEmpty(t, h.reports[6].Words)
	server.Close()
	assert.Equal(t, http.StatusBadGateway, press("delivered"), "nobody is there to hear it")
	assert.Equal(t, 204, ask(t, s.purchasing.Handler(), "DELETE", "/orders?key=r/uniform", "", "").status)
	assert.True(t, s.purchasing.Orders()[0].Cancelled)
}
