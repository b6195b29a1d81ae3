package load

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"time"

	"heptad/internal/demo"
)

// call is a question that somebody asks again and again.
type call struct {
	name string
	who  string // login
	path string // {1} and {2} are the parts of what the list before ; leads to first
	kind kind
}

// kind says which floor a call is held against, and how many times it may be.
type kind int

const (
	list     kind = iota // fifty lines; at most 12 times them
	constant             // what each load asks for; at most 25 times a constant answer
	other                // no list: only its time and growth count
)

// most is how many times the floor a call of a kind may cost; 0 for any.
func (k kind) most() float64 { return map[kind]float64{list: 12, constant: 25}[k] }

// What every call may cost at the largest, in server time, and by how much its cost may
// grow from 10,000 requests to a million.
const (
	mostTime   = 50 * time.Millisecond
	mostGrowth = 2
)

var calls = []call{
	{"session", "sarmento", "/api/session", constant},
	{"session of an administrator", "lindskaug", "/api/session", constant},
	{"session of who may see much", "falkenau", "/api/session", constant},
	{"picks on Ask", "sarmento", "/api/picks", other},
	{"the catalog", "sarmento", "/api/offerings", other},
	{"search", "sarmento", "/api/search?words=parking", other},
	{"my requests", "sarmento", "/api/requests", list},
	{"my requests, by likely", "sarmento", "/api/requests?sort=likely", list},
	{"my decisions", "quist", "/api/decisions", list},
	{"decided", "quist", "/api/decisions?state=decided", list},
	{"tasks of my teams", "marrec", "/api/tasks", list},
	{"tasks of a lead", "okonjo", "/api/tasks", list},
	{"tasks by due", "marrec", "/api/tasks?sort=due", list},
	{"tasks by words", "marrec", "/api/tasks?words=badge", list},
	{"overview", "falkenau", "/api/overview", other},
	{"overview of a team", "marrec", "/api/overview", other},
	{"find by words, many", "falkenau", "/api/find?words=parking", list},
	{"find by words, few", "falkenau", "/api/find?words=sarmento+parking", list},
	{"find by words, none", "falkenau", "/api/find?words=zzyzx", list},
	{"find by reference", "falkenau", "/api/find?words=QS-10414-U", list},
	{"find by standing", "falkenau", "/api/find?standing=working", list},
	{"find late", "falkenau", "/api/find?late=true", list},
	{"find stuck", "falkenau", "/api/find?stuck=true", list},
	{"find, of a team", "marrec", "/api/find?words=badge", list},
	{"sheet of a request", "sarmento", "/api/requests;/api/requests/{1}", other},
	{"sheet of a decision", "quist", "/api/decisions;/api/decisions/{1}/{2}", other},
	{"sheet of a task", "marrec", "/api/tasks;/api/tasks/{1}/{2}", other},
	{"messages", "quist", "/api/messages", list},
	{"belongings", "sarmento", "/api/belongings", other},
	{"desk", "marrec", "/api/desk", other},
	{"Manage", "lindskaug", "/api/background", other},
	{"people", "sarmento", "/api/people?words=horv", other},
	{"people, on Manage", "lindskaug", "/api/company/people", other},
	{"portfolio", "falkenau", "/api/portfolio", other},
	{"offerings in it", "falkenau", "/api/portfolio/offerings", list},
	{"materials of Design", "falkenau", "/api/design", other},
	{"cost centres", "sarmento", "/api/cost-centres?words=cc-1", list},
	{"measure", "falkenau", "/api/measure", other},
}

// person asks as somebody who has signed in.
type person struct {
	url    string
	cookie string
	client *http.Client
}

// clientFor keeps so many connections open.
func clientFor(n int) *http.Client {
	return &http.Client{Timeout: 20 * time.Second, Transport: &http.Transport{MaxIdleConns: n, MaxIdleConnsPerHost: n, DisableCompression: true}}
}

// signIn signs somebody in at the door, by ID.
func signIn(ctx context.Context, client *http.Client, url, id string) (*person, error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, url+"/api/session", strings.NewReader(fmt.Sprintf("{%q:%q}", "person", id)))
	if err != nil {
		return nil, err
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := client.Do(r)
	if err != nil {
		return nil, err
	}
	defer answer.Body.Close()
	if _, err := io.Copy(io.Discard, answer.Body); err != nil {
		return nil, err
	}
	for _, c := range answer.Cookies() {
		return &person{url, c.Name + "=" + c.Value, client}, nil
	}
	return nil, fmt.Errorf("%s cannot sign in: %s", id, answer.Status)
}

// ask sends one request and reads the answer.
func (p *person) ask(ctx context.Context, method, path, body string) ([]byte, error) {
	r, err := http.NewRequestWithContext(ctx, method, p.url+path, strings.NewReader(body))
	if err != nil {
		return nil, err
	}
	if p.cookie != "" {
		r.Header.Set("Cookie", p.cookie)
	}
	if body != "" {
		r.Header.Set("Content-Type", "application/json")
	}
	answer, err := p.client.Do(r)
	if err != nil {
		return nil, err
	}
	defer answer.Body.Close()
	data, err := io.ReadAll(answer.Body)
	if err == nil && answer.StatusCode >= 300 {
		err = fmt.Errorf("%s %s: %s: %s", method, path, answer.Status, data)
	}
	return data, err
}

// leads is where a path leads that may begin with a list, whose first entry it is then about.
func (p *person) leads(ctx context.Context, path string) (string, error) {
	of, rest, about := strings.Cut(path, ";")
	if !about {
		return path, nil
	}
	answer, err := p.ask(ctx, http.MethodGet, of, "")
	if err != nil {
		return "", err
	}
	one, two, _ := strings.Cut(field(answer, "first"), "/")
	return strings.NewReplacer("{1}", one, "{2}", two).Replace(rest), nil
}

// cost is what one call takes of the server's processor: the median of rounds of several
// calls, after some that nobody counts.
func cost(ctx context.Context, c *child, ask func() error) (time.Duration, error) {
	if err := ask(); err != nil {
		return 0, err
	}
	const rounds, fewest = 7, 10 // a round of few is mostly what the collector of garbage happens to do
	began := c.cpu()
	if err := ask(); err != nil {
		return 0, err
	}
	each := max(fewest, min(100, int(20*time.Millisecond/max(c.cpu()-began, time.Microsecond))))
	var all []time.Duration
	for range rounds {
		began := c.cpu()
		for range each {
			if err := ask(); err != nil {
				return 0, err
			}
		}
		all = append(all, (c.cpu()-began)/time.Duration(each))
	}
	return median(all), ctx.Err()
}

func median(all []time.Duration) time.Duration {
	slices.Sort(all)
	return all[len(all)/2]
}

// Reading is what the calls cost on one folder.
type Reading struct {
	Requests int
	Floor    map[kind]time.Duration
	Calls    map[string]time.Duration
	Sizes    map[string]int // of the answers, in bytes
	Start    time.Duration
	Stop     time.Duration
	Memory   int64
	Disk     int64 // of the file
}

// Read measures calls on a folder of so many requests: all, or those with a word in their
// name. Profile, unless empty, is the file that the profile of the server is written to.
func Read(ctx context.Context, dir string, requests int, only, profile string) (Reading, error) {
	r := Reading{Requests: requests, Floor: map[kind]time.Duration{}, Calls: map[string]time.Duration{}, Sizes: map[string]int{}}
	floor, err := start(ctx, "floor", "--data", dir)
	if err != nil {
		return r, err
	}
	client := clientFor(8)
	bare := &person{floor.url, "", client}
	for k, path := range map[kind]string{list: "/lines", constant: "/constant"} {
		if r.Floor[k], err = cost(ctx, floor, func() error { _, err := bare.ask(ctx, http.MethodGet, path, ""); return err }); err != nil {
			return r, err
		}
	}
	if _, err := floor.stop(); err != nil {
		return r, err
	}
	args := []string{"serve", "--data", dir}
	if profile != "" {
		args = append(args, "--profile", profile)
	}
	c, err := start(ctx, args...)
	if err != nil {
		return r, err
	}
	r.Start = c.started
	if err := c.settle(ctx); err != nil {
		return r, err
	}
	if profile != "" {
		if _, err := (&person{c.url, "", client}).ask(ctx, http.MethodGet, "/profile", ""); err != nil {
			return r, err
		}
	}
	people := map[string]*person{}
	var failed []error
	for _, one := range calls {
		if only != "" && !strings.Contains(one.name, only) {
			continue
		}
		p := people[one.who]
		if p == nil {
			if p, err = signIn(ctx, client, c.url, demo.ID(one.who)); err != nil {
				return r, err
			}
			people[one.who] = p
		}
		path, err := p.leads(ctx, one.path)
		if err != nil {
			return r, err
		}
		took, err := cost(ctx, c, func() error {
			body, err := p.ask(ctx, http.MethodGet, path, "")
			r.Sizes[one.name] = len(body)
			return err
		})
		failed = append(failed, err)
		r.Calls[one.name] = took
	}
	r.Memory = c.memory()
	stopped, err := c.stop()
	r.Stop = stopped
	return r, errors.Join(append(failed, err)...)
}
