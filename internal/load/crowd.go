package load

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"heptad/internal/demo"
)

// How many listen, how many of them a change concerns, and what each change of the aims may
// cost.
const (
	tabs        = 1000
	concerned   = 20
	mostChange  = 100 * time.Millisecond
	mostAbsence = 50 * time.Millisecond
	mostStale   = time.Second // for 95 of 100 of those it concerns
	measures    = 11          // how often each is measured; the median counts
)

// Crowd is what a change costs while a thousand tabs listen.
type Crowd struct {
	Listening int
	Told      int           // of the change: tabs
	Change    time.Duration // of the server's processor, with all that the tabs read
	Fresh     time.Duration // after which 95 of 100 of those told have read it
	Absence   time.Duration // of the server's processor
}

// tab is a page that listens, and reads its list anew when it hears of a change.
type tab struct {
	*person
	fresh chan time.Time
}

// Listen has a thousand people listen, and measures what one change costs that concerns
// some of them, and the absence of one, on a copy of a folder.
func Listen(ctx context.Context, dir string) (out Crowd, err error) {
	dir, done, err := apart(dir)
	if err != nil {
		return out, err
	}
	defer func() { err = errors.Join(err, done()) }()
	const asked = "new-second-sign-in-factor"
	team, err := workOn(dir, asked)
	if err != nil {
		return out, err
	}
	c, err := start(ctx, "serve", "--data", dir, "--door", fmt.Sprint(2*Whole.People))
	if err != nil {
		return out, err
	}
	defer func() { _, _ = c.stop() }() // it was measured elsewhere
	if err := c.settle(ctx); err != nil {
		return out, err
	}
	client := clientFor(32)
	people, err := peopleAt(ctx, client, c.url)
	if err != nil {
		return out, err
	}
	listening, end := context.WithCancel(ctx)
	var running sync.WaitGroup
	defer running.Wait()
	defer end()
	streams := &http.Client{Transport: &http.Transport{}}
	var all []*tab
	people = slices.DeleteFunc(people, func(id string) bool { return slices.Contains(team, id) })[:min(len(people)-len(team), tabs-concerned)]
	for i := range concerned {
		people = append(people, team[i%len(team)])
	}
	for _, id := range people {
		p, err := signIn(ctx, client, c.url, id)
		if err != nil {
			return out, err
		}
		t := &tab{p, make(chan time.Time, 100)}
		ready := make(chan error, 1)
		running.Go(func() { t.listen(listening, streams, ready) })
		if err := <-ready; err != nil {
			return out, err
		}
		all = append(all, t)
	}
	out.Listening = len(all)
	asker, err := signIn(ctx, client, c.url, demo.ID("sarmento"))
	if err != nil {
		return out, err
	}
	// What a thousand open streams cost while nothing happens is no part of a change.
	const looked = 15 * time.Second
	idle := c.cpu()
	time.Sleep(looked)
	idle = c.cpu() - idle
	spent := func(before time.Duration, since time.Time) time.Duration {
		return c.cpu() - before - time.Duration(float64(idle)*float64(time.Since(since))/float64(looked))
	}
	var changes, absences, stale []time.Duration
	for range measures {
		if err := c.settle(ctx); err != nil {
			return out, err
		}
		began, at := c.cpu(), time.Now()
		if err := asker.send(ctx, asked); err != nil {
			return out, err
		}
		if err := c.settle(ctx); err != nil {
			return out, err
		}
		changes = append(changes, spent(began, at))
		out.Told = 0
		for _, t := range all {
			if len(t.fresh) > 0 {
				out.Told++
				stale = append(stale, (<-t.fresh).Sub(at))
			}
			for len(t.fresh) > 0 {
				<-t.fresh
			}
		}
		until := time.Now().Add(time.Hour)
		began, at = c.cpu(), time.Now()
		body := fmt.Sprintf(`{"from":%q,"until":%q}`, time.Now().Add(time.Minute).UTC().Format(time.RFC3339), until.UTC().Format(time.RFC3339))
		answer, err := asker.ask(ctx, http.MethodPost, "/api/absences", body)
		if err != nil {
			return out, err
		}
		if err := c.settle(ctx); err != nil {
			return out, err
		}
		absences = append(absences, spent(began, at))
		if _, err := asker.ask(ctx, http.MethodDelete, "/api/absences/"+field(answer, "id"), ""); err != nil {
			return out, err
		}
		for _, t := range all {
			for len(t.fresh) > 0 {
				<-t.fresh
			}
		}
	}
	slices.Sort(stale)
	out.Change, out.Absence = median(changes), median(absences)
	if len(stale) > 0 {
		out.Fresh = stale[len(stale)*95/100]
	}
	return out, nil
}

// listen holds a stream and reads as the page does: what waits comes with the change, so
// that only the list is read.
func (t *tab) listen(ctx context.Context, streams *http.Client, ready chan<- error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, t.url+"/api/live", nil)
	if err != nil {
		ready <- err
		return
	}
	r.Header.Set("Cookie", t.cookie)
	answer, err := streams.Do(r)
	if err == nil && answer.StatusCode != http.StatusOK {
		err = errors.New(answer.Status)
	}
	ready <- err
	if err != nil {
		return
	}
	defer answer.Body.Close()
	heard := make(chan struct{}, 1)
	defer close(heard)
	go t.read(ctx, heard)
	lines := bufio.NewScanner(answer.Body)
	for lines.Scan() {
		if lines.Text() == "event: change" || lines.Text() == "event: refresh" {
			select {
			case heard <- struct{}{}:
			default: // it is going to read
			}
		}
	}
}

// read reads the list soon after something was heard, and not more often than the page does.
func (t *tab) read(ctx context.Context, heard <-chan struct{}) {
	last := time.Time{}
	for range heard {
		soon := time.Now().Add(40*time.Millisecond + rand.N(300*time.Millisecond))
		if next := last.Add(time.Second); next.After(soon) {
			soon = next
		}
		time.Sleep(time.Until(soon))
		select {
		case <-heard:
		default:
		}
		last = time.Now()
		if _, err := t.ask(ctx, http.MethodGet, "/api/tasks", ""); err == nil {
			t.fresh <- time.Now()
		}
	}
}

// workOn are the IDs of those whose teams work on what is asked for with an offering.
func workOn(dir, offering string) (people []string, err error) {
	db, err := file(dir)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	err = db.Select(&people, "SELECT DISTINCT m.person FROM catalog c, json_each(c.teams) t JOIN team_members m ON m.team = t.value WHERE c.offering = ? ORDER BY 1", offering)
	if err == nil && len(people) == 0 {
		err = fmt.Errorf("nobody works on %s", offering)
	}
	return people, err
}

// peopleAt are the IDs of those who can sign in, the demo's own last.
func peopleAt(ctx context.Context, client *http.Client, url string) ([]string, error) {
	body, err := (&person{url, "", client}).ask(ctx, http.MethodGet, "/api/door", "")
	if err != nil {
		return nil, err
	}
	var ids []string
	for _, part := range strings.Split(string(body), `"person":"`)[1:] {
		id, _, _ := strings.Cut(part, `"`)
		ids = append(ids, id)
	}
	slices.Reverse(ids)
	return ids, nil
}

// field reads a text of a JSON object.
func field(object []byte, name string) string {
	var all map[string]any
	_ = json.Unmarshal(object, &all) // of what is no object nothing is read
	text, _ := all[name].(string)
	return text
}
